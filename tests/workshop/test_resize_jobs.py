"""A resize is a job like any other: kept, followed, taken out, and closed only once it was read from both sides."""

from __future__ import annotations

import io
from typing import Any

import pdfplumber
import pytest
from pypdf import PdfReader

from tests.orders import order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.jobs.models import Job

TOPPED: dict[str, Any] = {"stones": [{"kind": "emerald"}], "head": {"span_mm": 6}}


def taken_in(shop: Shop, title: str = "to size", **changes: Any) -> Any:
    sent = {"work": "resize", "title": title, "customer_name": "Ilse Bram", "order": came_in(**changes)}
    answer = shop.send("post", "/jobs", sent)
    assert answer.status_code == 201, answer.json()
    return answer.json()


def measure(shop: Shop, job: Any, key: str, text: str) -> Any:
    return shop.send("put", f"/jobs/{job['id']}/measures/{key}", {"text": text}).json()


def test_it_stands_on_the_same_bench(ours: Shop) -> None:
    job = taken_in(ours)
    assert (job["work"], job["plan"]["work"], job["plan"]["method"]) == ("resize", "resize", "stretch")
    ring = next(one for one in ours.send("get", "/bench").json()["rings"] if one["id"] == job["id"])
    assert ring["standing"]["shape"] == "closed"
    assert ring["metal_family"] == "yellow-gold"
    ours.send("put", f"/jobs/{job['id']}/steps/look-over", {"done": True})
    assert ours.send("get", f"/jobs/{job['id']}").json()["standing"]["next_key"] == "true-now"
    assert ours.send("get", f"/jobs/by-number/{job['number']}").json()["id"] == job["id"]


def test_it_is_saved_again_as_what_it_is_only(ours: Shop) -> None:
    job = taken_in(ours)
    body = {"work": "resize", "title": "larger", "order": came_in(to="US 7 1/4"), "version": job["version"]}
    again = ours.send("put", f"/jobs/{job['id']}", body).json()
    assert (again["plan"]["method"], again["version"]) == ("add-stock", 2)
    assert Job.objects.get(pk=job["id"]).route_key == "resize/add-stock"
    stale = ours.send("put", f"/jobs/{job['id']}", body)
    assert stale.status_code == 409
    wrong = ours.send("put", f"/jobs/{job['id']}", {"title": "x", "order": order(), "version": 2})
    assert (wrong.status_code, wrong.json()["errors"][0]["field"]) == (422, "work")
    band = ours.job()
    for work in ("resize", "a chain", "make"):
        wrong = ours.send("put", f"/jobs/{band.pk}", {**body, "work": work, "version": 1})
        assert wrong.status_code == 422
    assert {error["field"].split(".")[0] for error in wrong.json()["errors"]} == {"order"}


def test_what_it_really_reads_moves_the_figure_and_not_the_way(ours: Shop) -> None:
    job = taken_in(ours, to="US 7 1/4")
    before = job["plan"]["lead"]["figure"]
    read = measure(ours, job, "size-now", "5 3/4")
    assert read["plan"]["lead"]["figure"] == before
    assert float(read["now"]["lead"]["figure"]) == pytest.approx(float(before) + 0.638, abs=0.01)
    assert read["now"]["method"] == "add-stock"
    said = next(one for one in read["verdicts"] if one["key"] == "size-now")
    assert said["tone"] == "act"
    assert f"not {before}" in said["says"]
    step = next(one for one in read["now"]["route"] if one["key"] == "true-now")
    assert step["figure"] == "US 6"
    light = measure(ours, job, "daylight-now", "yes")
    assert light["now"] is None  # the plan itself
    assert {one["tone"] for one in light["verdicts"]} == {"act"}


def test_a_thinnest_place_that_is_too_thin_is_said(ours: Shop) -> None:
    job = taken_in(ours, to="US 7 1/4")
    read = measure(ours, job, "thinnest", "0.98")
    assert "replaced, not sized" in read["verdicts"][0]["says"]
    assert read["now"]["method"] == "add-stock"
    assert "thicker" in measure(ours, job, "thinnest", "1.7")["verdicts"][0]["says"]


def test_a_way_that_turns_out_never_is_said_where_it_is_followed(ours: Shop) -> None:
    job = taken_in(ours)
    read = measure(ours, job, "size-now", "5 1/4")
    assert read["wrong"] == ""
    assert "does not fit any more" in read["now"]["stopped"]
    assert read["now"]["route"][-1]["key"] == "ask-again"
    verdict = next(one for one in read["verdicts"] if one["key"] == "size-now")
    assert verdict["tone"] == "act"


def test_a_stop_is_obeyed_at_every_door(ours: Shop) -> None:
    job = taken_in(ours, to="US 5")
    later = [step["key"] for step in job["plan"]["route"]]
    steps = f"/jobs/{job['id']}/steps"
    assert ours.send("put", f"{steps}/look-over", {"done": True}).status_code == 200
    assert measure(ours, job, "size-now", "5")["now"]["stopped"]
    for key in later[later.index("true-now") + 1 :]:
        refused = ours.send("put", f"{steps}/{key}", {"done": True})
        assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "key")
        assert "does not go on" in refused.json()["errors"][0]["message"]
    ours.send("put", f"{steps}/true-now", {"done": True})
    stands = next(one for one in ours.send("get", "/bench").json()["rings"] if one["id"] == job["id"])
    title = ours.send("get", f"/jobs/{job['id']}").json()["now"]["route"][-1]["title"]
    assert stands["standing"]["next_title"] == title
    measure(ours, job, "size-now", "6")
    assert ours.send("put", f"{steps}/{later[-1]}", {"done": True}).status_code == 200


def test_it_is_closed_only_once_it_was_read_from_both_sides(ours: Shop) -> None:
    job = taken_in(ours)
    path = f"/jobs/{job['id']}/closed"
    refused = ours.send("put", path, {"closed": True})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "without")
    assert "size from one side and size from the other side" in refused.json()["errors"][0]["message"]
    measure(ours, job, "size-side-a", "6 1/2")
    assert ours.send("put", path, {"closed": True}).status_code == 422
    read = measure(ours, job, "size-side-b", "6 1/2")
    assert {one["tone"] for one in read["verdicts"]} == {"good"}
    assert ours.send("put", path, {"closed": True}).status_code == 200


def test_collected_is_closed_and_a_reason_stays_in_the_history(ours: Shop) -> None:
    job = taken_in(ours)
    place = f"/jobs/{job['id']}/place"
    assert ours.send("put", place, {"place": "collected", "version": 1}).status_code == 422
    assert (
        ours.send("put", place, {"place": "collected", "note": "she was in a hurry", "version": 1}).status_code == 200
    )
    other = taken_in(ours)
    closed = {"closed": True, "without": " went back  unsized "}
    assert ours.send("put", f"/jobs/{other['id']}/closed", closed).status_code == 200
    event = Event.objects.filter(kind="job", thing_id=other["id"], what="closed").get()
    assert event.after == {"without": "went back unsized"}
    band = ours.job()
    assert ours.send("put", f"/jobs/{band.pk}/closed", {"closed": True}).status_code == 200


def test_two_sides_far_apart_are_not_good(ours: Shop) -> None:
    job = taken_in(ours)
    measure(ours, job, "size-side-a", "6 1/2")
    read = measure(ours, job, "size-side-b", "6 7/8")
    assert {one["tone"] for one in read["verdicts"]} == {"act"}


def test_a_heat_that_is_made_once_more_opens_its_steps_and_counts(ours: Shop) -> None:
    job = taken_in(ours, to="US 7 1/4")
    path = f"/jobs/{job['id']}/steps"
    refused = ours.send("put", f"{path}/solder-sizing", {"done": False, "once_more": True})
    assert refused.status_code == 422
    for key in ("solder-sizing", "pickle-sizing", "rinse", "look-between"):
        ours.send("put", f"{path}/{key}", {"done": True})
    after = ours.send("put", f"{path}/solder-sizing", {"done": False, "once_more": True}).json()
    assert after["heats"] == 1
    assert {one["key"] for one in after["done"]} == {"look-between"}
    again = ours.send("put", f"{path}/solder-sizing", {"done": True}).json()
    assert again["heats"] == 2
    assert next(one["nth"] for one in again["done"] if one["key"] == "solder-sizing") == 2
    back = ours.send("put", f"{path}/solder-sizing", {"done": False}).json()
    assert back["heats"] == 1
    assert ours.send("put", f"{path}/look-over", {"done": False, "once_more": True}).status_code == 422
    events = Event.objects.filter(thing_id=job["id"], what="once-more")
    assert [one.after["heats"] for one in events] == [1]


def test_it_goes_out_and_comes_in_as_a_file(ours: Shop, theirs: Shop) -> None:
    job = taken_in(ours, **TOPPED, to="US 7 1/4")
    measure(ours, job, "size-now", "6 1/8")
    file = ours.send("get", f"/jobs/{job['id']}/file").json()
    brought = theirs.send("post", "/jobs/import", file)
    assert brought.status_code == 201
    assert brought.json()["work"] == "resize"
    assert brought.json()["now"]["lead"] == ours.send("get", f"/jobs/{job['id']}").json()["now"]["lead"]
    bad = theirs.send("post", "/jobs/import", {**file, "order": {**file["order"], "metal": "tin"}})
    assert bad.json()["errors"][0]["field"] == "order.metal"


def text_of(answer: Any) -> str:
    assert answer.status_code == 200
    return " ".join(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages).split())


def test_the_papers_of_a_resize(ours: Shop) -> None:
    down = taken_in(ours, to="US 4 3/4")
    ticket = text_of(ours.send("get", f"/jobs/{down['id']}/ticket.pdf"))
    assert "to take out" in ticket
    assert down["plan"]["lead"]["figure"] in ticket
    refused = ours.send("get", f"/jobs/{down['id']}/blank.pdf")
    assert refused.status_code == 422
    up = taken_in(ours, to="US 7 1/4")
    assert up["plan"]["blanks"][0]["cut_text"] in text_of(ours.send("get", f"/jobs/{up['id']}/blank.pdf"))
    beside = ours.send("get", f"/jobs/{down['id']}/anew").json()
    assert beside["changes"] == ["Every piece is cut to the same length."]


def test_every_ticket_and_slip_has_a_code_of_its_own(ours: Shop) -> None:
    """The code is drawn, not written: its dark squares stand on the paper, other ones for another job."""
    one, two = taken_in(ours, "a"), taken_in(ours, "a")
    for path in ("/slips/{}.pdf", "/jobs/{}/ticket.pdf"):
        drawn = [_squares(ours.send("get", path.format(job["id"]))) for job in (one, two)]
        assert all(len(squares) > 100 for squares in drawn)
        assert drawn[0] != drawn[1]


def _squares(answer: Any) -> list[tuple[float, float]]:
    with pdfplumber.open(io.BytesIO(answer.content)) as paper:
        small = [one for one in paper.pages[0].rects if one["height"] < 3]
        return [(round(one["x0"], 2), round(one["top"], 2)) for one in small]


def test_an_override_prints_on_ticket_and_slip(ours: Shop) -> None:
    job = taken_in(ours, to="US 5", features=["eternity"], method="take-out", override_reason="her late wish")
    assert "her late wish" in text_of(ours.send("get", f"/jobs/{job['id']}/ticket.pdf"))
    slip = text_of(ours.send("get", f"/slips/{job['id']}.pdf"))
    assert "her late wish" in slip
    assert "against our advice" in slip


def test_one_slip_for_several_rings_with_their_own_risks(ours: Shop) -> None:
    one = taken_in(ours, "solitaire", **TOPPED, to="US 7 1/4")
    two = taken_in(ours, "band", to="US 6 1/4")
    slip = text_of(ours.send("get", f"/slips/{one['id']},{two['id']}.pdf"))
    assert "2 rings" in slip
    for said in ("Stones are taken out and set again", "The ring is stretched", "Ilse Bram", "solitaire"):
        assert said in slip
    plain = text_of(ours.send("get", f"/slips/{two['id']}.pdf"))
    assert "Stones are taken out" not in plain
    assert "A joint is made" not in plain
    assert ours.send("get", f"/jobs/{one['id']}").json()["together"] == [one["id"], two["id"]]
    band = ours.job()
    assert ours.send("get", f"/slips/{band.pk}.pdf").status_code == 422
    for bad in ("x", "1,,2", ",".join(["1"] * 13), "9" * 12):
        assert ours.send("get", f"/slips/{bad}.pdf").status_code == 422


def test_a_strangers_ring_is_on_no_slip(ours: Shop, theirs: Shop) -> None:
    mine, other = taken_in(ours), taken_in(theirs)
    assert ours.send("get", f"/slips/{mine['id']},{other['id']}.pdf").status_code == 404
    assert theirs.send("get", f"/jobs/by-number/{mine['number']}").json()["id"] == other["id"]


def test_the_api_answers_what_the_command_line_answers(ours: Shop) -> None:
    import json

    from ringcraft.schema import to_json
    from tests.resizes import plan

    answer = ours.send("post", "/plan/resize", came_in(**TOPPED)).json()
    assert answer == json.loads(json.dumps(to_json(plan(**TOPPED))))
    bad = ours.send("post", "/plan/resize", came_in(shank={"thickness_mm": "thick"}))
    assert bad.json()["errors"][0]["field"] == "shank.thickness_mm"


def test_an_estimate_is_given_kept_and_printed_as_it_was(ours: Shop) -> None:
    ways = {"metal_prices": "14k yellow 40", "hour_price": "60", "currency": "EUR", "version": 1}
    assert ours.send("put", "/ways/workshop", ways).status_code == 200
    job = taken_in(ours, to="US 7 1/4")
    path = f"/jobs/{job['id']}/estimate"
    first = ours.send("post", path, {}).json()
    assert first["kept"][0]["total"] == first["now"]["total"]
    assert ours.send("put", "/ways/workshop", {**ways, "hour_price": "90", "version": 2}).status_code == 200
    second = ours.send("post", path, {}).json()
    assert [one["nth"] for one in second["kept"]] == [2, 1]
    assert second["kept"][1]["total"] == first["now"]["total"]
    assert float(second["now"]["total"]) > float(first["now"]["total"])
    printed = text_of(ours.send("get", f"/jobs/{job['id']}/estimate-1.pdf"))
    assert f"{first['now']['total']}" in printed
    assert "EUR in all" in printed
    events = Event.objects.filter(thing_id=job["id"], what="estimated")
    assert [one.after["total"] for one in events] == [f"{one['total']} EUR" for one in reversed(second["kept"])]


def test_a_new_ring_is_estimated_in_another_metal_too(ours: Shop) -> None:
    ours.send("put", "/ways/workshop", {"metal_prices": "sterling 1; 14k yellow 40", "version": 1})
    band = ours.job()
    silver = ours.send("get", f"/jobs/{band.pk}/estimate").json()["now"]
    gold = ours.send("get", f"/jobs/{band.pk}/estimate?metal=gold-14k-yellow").json()["now"]
    assert (silver["metal"], gold["metal"]) == ("sterling", "14k yellow")
    assert float(gold["total"]) > float(silver["total"])
    assert ours.send("get", f"/jobs/{band.pk}/estimate?metal=tin").json()["errors"][0]["field"] == "metal"
    job = taken_in(ours)
    assert ours.send("get", f"/jobs/{job['id']}/estimate?metal=sterling").status_code == 422


def test_ways_refuse_what_is_no_price_and_no_solder_at_its_field(ours: Shop) -> None:
    for field, text in (("metal_prices", "tin 4"), ("hour_price", "much"), ("solders", "silver hard; tin 200 230"),
                        ("cutter_gaps", "2 wide"), ("currency", "5"), ("glued_stones", "sometimes"),
                        ("metal_figures", "sterling 5000"), ("step_minutes", "juggle 3"), ("papers", "silver: sand"),
                        ("stones_bear", "opal tough")):  # fmt: skip
        answer = ours.send("put", "/ways/workshop", {field: text, "version": 1})
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"].split(".")[0] == field


def test_rings_together_and_the_pieces_at_hand(ours: Shop, theirs: Shop) -> None:
    down = taken_in(ours, "smaller", to="US 4 3/4", offcut="credited")
    up = taken_in(ours, "larger", to="US 7 1/4")
    taken_in(theirs, "theirs", to="US 7 1/4")
    ours.job()
    told = ours.send("get", "/batch").json()
    assert set(told["names"]) == {str(down["id"]), str(up["id"])}
    assert [(one["giver"], one["taker"]) for one in told["batch"]["swaps"]] == [(down["id"], up["id"])]
    assert told["batch"]["pieces"][0]["id"] == down["id"]
    assert told["left_out"] == 0


def test_more_rings_than_a_batch_holds_are_said(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("workshop.api.estimates.MOST_TOGETHER", 1)
    taken_in(ours)
    taken_in(ours)
    assert ours.send("get", "/batch").json()["left_out"] == 1
