"""Where a job is when it is not on the bench, and finding it again."""

from __future__ import annotations

from typing import Any

import pytest

from tests.orders import order
from tests.workshop.conftest import Shop
from workshop.jobs.models import PLACES, Job


def keep(shop: Shop, title: str, customer: str = "", ticket: str = "") -> dict[str, Any]:
    body = {"title": title, "customer_name": customer, "ticket": ticket, "order": order()}
    made: dict[str, Any] = shop.send("post", "/jobs", body).json()
    return made


def put(shop: Shop, job: dict[str, Any], version: int, **place: Any) -> Any:
    return shop.send("put", f"/jobs/{job['id']}/place", {**place, "version": version})


def test_a_job_stands_where_it_is_and_is_not_work_to_do_now(ours: Shop) -> None:
    job = keep(ours, "band")
    assert ours.send("get", "/bench").json()["day"]["now_id"] == job["id"]
    told = put(ours, job, 1, place="setter", note=" two  baguettes ", until="2026-12-01").json()
    assert (told["place"], told["place_note"], told["place_until"]) == ("setter", "two baguettes", "2026-12-01")
    bench = ours.send("get", "/bench").json()
    assert (bench["rings"][0]["place"], bench["day"]["now_id"]) == ("setter", None)
    back = put(ours, job, 2).json()
    assert (back["place"], back["place_note"], back["place_until"]) == ("", "", None)
    assert ours.send("get", "/bench").json()["day"]["now_id"] == job["id"]


def test_collected_takes_it_off_the_bench_and_a_reopened_job_is_not_collected(ours: Shop) -> None:
    job = keep(ours, "band")
    assert put(ours, job, 1, place="collected").json()["closed_at"]
    assert ours.send("get", "/bench").json()["rings"] == []
    back = ours.send("put", f"/jobs/{job['id']}/closed", {"closed": False}).json()
    assert (back["place"], back["closed_at"]) == ("", None)
    again = put(ours, job, back["place_version"], place="collected").json()
    assert put(ours, job, again["place_version"], place="ready").json()["closed_at"] is None


@pytest.mark.parametrize(
    ("place", "field"),
    [
        ({"place": "moon"}, "place"),
        ({"place": "setter", "note": "x" * 201}, "note"),
        ({"place": "setter", "until": "9999-01-01"}, "until"),
        ({"place": "setter", "until": "soon"}, "until"),
    ],
)
def test_a_place_that_cannot_be_is_refused_at_its_field(ours: Shop, place: dict[str, Any], field: str) -> None:
    job = keep(ours, "band")
    answer = put(ours, job, 1, **place)
    assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, field)
    assert Job.objects.get().place == ""


def test_every_place_can_be_chosen(ours: Shop) -> None:
    offered = ours.send("get", "/catalogue").json()["places"]
    assert {one["key"]: one["title"] for one in offered} == {key: place.title for key, place in PLACES.items()}
    job = keep(ours, "band")
    for version, place in enumerate(PLACES, 1):
        assert put(ours, job, version, place=place).status_code == 200


def found(shop: Shop, words: str) -> list[str]:
    return [line["title"] for line in shop.send("get", f"/jobs/find?q={words}").json()["items"]]


def test_a_job_is_found_by_name_number_or_ticket_and_only_in_its_shop(ours: Shop, theirs: Shop) -> None:
    keep(ours, "half-round band", "Rosalind Pym", "T-118")
    keep(ours, "wishbone", "Amadou Sarr", "A/7")
    keep(ours, "D band", "Pymander", "118")
    keep(theirs, "their band", "Pym", "T-118")
    assert found(ours, "pym") == ["D band", "half-round band"]
    assert found(ours, "PYM half") == ["half-round band"]
    assert found(ours, "2") == found(ours, "%232") == found(ours, "no. 2") == found(ours, "job 2") == ["wishbone"]
    assert found(ours, "t-1") == ["half-round band"]
    assert found(ours, "ticket 118") == ["D band", "half-round band"]
    assert found(ours, "A/7") == ["wishbone"]
    keep(ours, "Ärmel", "José Núñez")
    assert found(ours, "armel") == found(ours, "ÄRMEL nunez") == found(ours, "josé") == ["Ärmel"]
    assert found(ours, "band pym 118") == ["D band", "half-round band"]
    assert found(ours, "nobody") == []
    assert found(ours, "%25") == found(ours, "_") == []
    assert found(ours, "9" * 40) == []
    assert len(found(ours, "")) == 4


def test_closed_jobs_are_found_too_and_a_long_list_goes_on(ours: Shop) -> None:
    first = ours.job()
    ours.send("put", f"/jobs/{first.pk}/closed", {"closed": True})
    fields = {f.name: getattr(first, f.name) for f in Job._meta.concrete_fields if f.name not in ("id", "number")}
    Job.objects.bulk_create([Job(**fields, number=n) for n in range(2, 52)])
    page = ours.send("get", "/jobs/find?q=pym").json()
    assert (len(page["items"]), page["count"]) == (20, 51)
    after = ours.send("get", "/jobs/find?q=pym&offset=20").json()
    assert [line["number"] for line in after["items"]] == list(range(31, 11, -1))
    assert page["items"][-1]["closed_at"] is None
    assert found(ours, "1")[0] == "band"
