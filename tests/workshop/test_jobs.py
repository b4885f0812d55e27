from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from ringcraft import __version__
from ringcraft.styles import read_ring
from tests.orders import order, style_order
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.jobs.actions import create_job
from workshop.jobs.details import JobDetails
from workshop.jobs.models import Job


def body(**changes: Any) -> dict[str, Any]:
    return {"title": "band", "customer_name": "Pym", "order": order(), **changes}


def test_a_job_keeps_its_order_plan_and_engine(ours: Shop) -> None:
    answer = ours.send("post", "/jobs", body(due="2026-05-04T16:00:00Z"))
    assert answer.status_code == 201
    job = Job.objects.get(pk=answer.json()["id"])
    assert job.workshop == ours.workshop
    assert job.engine == __version__
    assert job.order["size"] == "US 7 1/2"
    assert job.plan["blanks"][0]["cut_text"] == answer.json()["plan"]["blanks"][0]["cut_text"]
    assert list(Event.objects.filter(kind="job", thing_id=job.pk).values_list("what", flat=True)) == ["created"]


def test_numbers_count_up_in_each_workshop(ours: Shop, theirs: Shop) -> None:
    assert [ours.job().number, ours.job().number, theirs.job().number] == [1, 2, 1]


def test_an_old_plan_is_shown_as_it_was(ours: Shop) -> None:
    job = ours.job()
    job.plan["blanks"][0]["cut_text"] = "59.9"
    job.save()
    assert ours.send("get", f"/jobs/{job.pk}").json()["plan"]["blanks"][0]["cut_text"] == "59.9"


def test_steps_and_measures_are_kept_and_followed(ours: Shop) -> None:
    job = ours.job()
    ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True})
    answer = ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", {"text": "1,9"}).json()
    assert [step["key"] for step in answer["done"]] == ["measure-stock"]
    assert answer["standing"]["next_key"] == "square-end"
    assert answer["measures"][0] | {"at": ""} == {
        "key": "stock-thickness",
        "text": "1,9",
        "value": 1.9,
        "zero_mm": 0.0,
        "gauge_id": None,
        "gauge_name": "",
        "at": "",
        "by": "ours",
        "readings": 1,
    }
    assert answer["now"]["blanks"][0]["cut_length_mm"] > answer["plan"]["blanks"][0]["cut_length_mm"]
    assert "thicker" in answer["verdicts"][0]["says"]
    again = ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", {"text": ""}).json()
    assert again["measures"] == []
    back = ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": False}).json()
    assert back["done"] == []


def test_stock_as_measured_that_cannot_be_planned_is_said(ours: Shop) -> None:
    job = create_job(ours.actor, JobDetails("stack"), read_ring(style_order("stack")))
    answer = ours.send("put", f"/jobs/{job.pk}/measures/outside", {"text": "60"}).json()
    assert answer["wrong"]
    assert answer["now"] is None


@pytest.mark.parametrize(
    ("path", "sent", "field"),
    [
        ("measures/stock-thickness", {"text": "💍"}, "text"),
        ("measures/stock-thickness", {"text": "NaN"}, "text"),
        ("measures/size-rounded", {"text": "US 99"}, "text"),
        ("measures/karma", {"text": "1"}, "key"),
        ("measures/stock-thickness", {"text": "1.8", "gauge_name": "x" * 200}, "gauge_name"),
        ("steps/fly", {"done": True}, "key"),
        ("steps/cut", {"done": "perhaps"}, "done"),
        ("steps/cut", {}, "done"),
    ],
)
def test_ugly_steps_and_measures_are_refused(ours: Shop, path: str, sent: dict[str, Any], field: str) -> None:
    answer = ours.send("put", f"/jobs/{ours.job().pk}/{path}", sent)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"title": "  "}, "title"),
        ({"title": "x" * 200}, "title"),
        ({"customer_name": "x" * 200}, "customer_name"),
        ({"due": "soon"}, "due"),
        ({"due": "9999-01-01T00:00:00Z"}, "due"),
        ({"order": {}}, "order.size"),
        ({"order": order(size="")}, "size"),
        ({"order": order(metal="tin")}, "order.metal"),
        ({"title": None}, "title"),
        ({"note": "x" * 5000}, "note"),
    ],
)
def test_ugly_jobs_are_refused_at_their_field(ours: Shop, changes: dict[str, Any], field: str) -> None:
    answer = ours.send("post", "/jobs", body(**changes))
    assert answer.status_code == 422
    assert field in [error["field"] for error in answer.json()["errors"]]
    assert not Job.objects.exists()


def test_a_stale_save_is_refused_with_what_changed(ours: Shop) -> None:
    job = ours.job()
    first = ours.send("put", f"/jobs/{job.pk}", body(title="court band", version=1))
    assert (first.status_code, first.json()["version"]) == (200, 2)
    stale = ours.send("put", f"/jobs/{job.pk}", body(title="D band", version=1))
    assert stale.status_code == 409
    assert stale.json()["version"] == 2
    assert stale.json()["changed"] == ["title"]
    assert Job.objects.get().title == "court band"
    assert ours.send("put", f"/jobs/{job.pk}", body(title="D band", version=2)).status_code == 200


def test_a_save_that_changes_nothing_changes_nothing(ours: Shop) -> None:
    job = ours.job()
    same = body(title=job.title, version=1)
    assert ours.send("put", f"/jobs/{job.pk}", same).json()["version"] == 1
    assert Event.objects.filter(kind="job", thing_id=job.pk).count() == 1


def test_closed_jobs_leave_the_bench_and_come_back(ours: Shop) -> None:
    job = ours.job()
    ours.send("put", f"/jobs/{job.pk}/closed", {"closed": True})
    assert ours.send("get", "/bench").json()["rings"] == []
    assert [line["id"] for line in ours.send("get", "/jobs?closed=true").json()["items"]] == [job.pk]
    ours.send("put", f"/jobs/{job.pk}/closed", {"closed": False})
    assert len(ours.send("get", "/bench").json()["rings"]) == 1


def test_the_bench_knows_shape_and_wait(ours: Shop) -> None:
    from workshop.jobs.actions import tick_step

    job = ours.job()
    keys = [step["key"] for step in job.plan["route"]]

    def tick_through(last: str, minutes_ago: int) -> dict[str, Any]:
        for key in keys[: keys.index(last) + 1]:
            tick_step(ours.actor, job, key, True, timezone.now() - timedelta(minutes=minutes_ago))
        ring: dict[str, Any] = ours.send("get", "/bench").json()["rings"][0]
        return ring["standing"]

    assert tick_through("scribe", 60)["shape"] == "strip"
    formed = tick_through("form", 50)
    assert (formed["shape"], formed["station"]) == ("open", "form")
    soldered = tick_through("solder", 1)
    assert (soldered["shape"], soldered["waiting"]) == ("closed", "solder")
    in_pot = tick_through("pickle", 1)
    assert (in_pot["station"], in_pot["next_key"], in_pot["waiting"]) == ("pickle", "rinse", "pickle")
    assert ours.send("get", "/bench").json()["day"]["now_id"] is None


def test_a_tick_answers_what_it_changes_and_not_the_whole_plan(ours: Shop) -> None:
    job = ours.job()
    whole = ours.send("get", f"/jobs/{job.pk}")
    ticked = ours.send("put", f"/jobs/{job.pk}/steps/square-end", {"done": True})
    assert set(ticked.json()) == {"done", "standing", "heats", "solder", "told"}
    assert len(ticked.content) * 10 < len(whole.content)
    after = ours.send("get", f"/jobs/{job.pk}").json()
    assert {name: after[name] for name in ("done", "standing", "heats")} | {"solder": "", "told": ""} == ticked.json()


def test_a_job_says_its_order_as_the_shop_would_type_it(ours: Shop) -> None:
    ours.send("put", "/ways/mine", {"units": "in", "caliper_units": "in", "version": 1})
    order = {"style": "plain-band", "size": "US 5", "metal": "sterling", "units": "in",
             "stock": {"profile": "half-round", "width_mm": "0.14", "thickness_mm": "0.063"}}  # fmt: skip
    made = ours.send("post", "/jobs", {"title": "inches", "order": order}).json()
    assert (made["fields"]["stock.width_mm"], made["fields"]["stock.thickness_mm"]) == ("0.14", "0.063")
    read = ours.send("put", f"/jobs/{made['id']}/measures/stock-thickness", {"text": "0.065", "zero_mm": "0.001"})
    assert read.status_code == 200, read.content
    measure = read.json()["measures"][0]
    assert measure["value"] == pytest.approx(0.064 * 25.4, abs=1e-4)
    assert read.json()["verdicts"][0]["says"].startswith("0.001″ thicker: mark ")
