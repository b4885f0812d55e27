"""The joints of a job: what a step opens, what is kept of it, and what follows for the card."""

from __future__ import annotations

import math
from typing import Any

import pytest

from tests.orders import order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.jobs.models import Job, JointLook

SEEN: dict[str, Any] = {"views": {"side": "light"}, "gap_mm": "0.04", "passes_made": "twice", "units": "mm"}


def made(shop: Shop, **changes: Any) -> dict[str, Any]:
    answer = shop.send("post", "/jobs", {"title": "band", "order": order(**changes)})
    assert answer.status_code == 201, answer.json()
    job: dict[str, Any] = answer.json()
    return job


def sheet(shop: Shop, job: Any, key: str) -> Any:
    return shop.send("get", f"/jobs/{job['id']}/joints/{key}").json()


def keep(shop: Shop, job: Any, key: str, seen: Any) -> Any:
    return shop.send("put", f"/jobs/{job['id']}/joints/{key}", {"seen": seen})


def test_what_a_step_opens_can_be_planned_with(ours: Shop) -> None:
    job = made(ours)
    opened = sheet(ours, job, "inspect")
    answer = ours.send("post", "/plan/joint", opened["joint"]).json()
    assert answer["closes_mm"] == pytest.approx(job["plan"]["closing"]["inside_diameter_mm"])
    assert opened["kept"] is None
    flame = sheet(ours, job, "solder")
    told = ours.send("post", "/plan/heat", flame["heat"])
    assert told.status_code == 200, told.json()
    assert told.json()["lead"]["title"]
    assert [one["key"] for one in flame["seams"]] == ["joint"]
    assert sheet(ours, job, "anneal")["anneal"]["heated"] == "Not in the fire yet."


def test_a_look_is_kept_and_the_size_follows(ours: Shop) -> None:
    job = made(ours)
    before = job["plan"]["closing"]["inside_diameter_mm"]
    after = keep(ours, job, "inspect", SEEN)
    assert after.status_code == 200, after.json()
    planned = job["plan"]["used"]["join"]["saw_passes"]
    closes = after.json()["now"]["closing"]["inside_diameter_mm"]
    assert closes == pytest.approx(before - (2 - planned) * 0.22 / math.pi)
    assert after.json()["plan"] == job["plan"]
    again = sheet(ours, job, "inspect")
    assert again["kept"]["fields"]["views.side"] == "light"
    assert again["kept"]["fields"]["passes_made"] == "2"
    assert again["joint"]["passes_made"] == 2
    assert again["joint"]["ring"]["inside_diameter_mm"] == pytest.approx(before)
    keep(ours, job, "inspect", {**SEEN, "passes_made": "once"})
    assert JointLook.objects.filter(job_id=job["id"]).count() == 2
    line = Event.objects.filter(thing_id=job["id"], what="joint-seen").latest("pk")
    assert line.after["passes_made"] == 1
    gone = keep(ours, job, "inspect", None).json()
    assert gone["now"] is None
    assert sheet(ours, job, "inspect")["kept"] is None
    assert JointLook.objects.filter(job_id=job["id"]).count() == 3  # nothing is taken out of a history


def test_another_solder_is_what_the_steps_say(ours: Shop) -> None:
    job = made(ours)
    other = keep(ours, job, "solder", {"solder": "silver-medium"}).json()
    assert any(step["title"] == "Solder with silver medium" for step in other["now"]["route"])
    assert sheet(ours, job, "solder")["solder"] == "silver-medium"
    wrong = keep(ours, job, "solder", {"solder": "platinum-1700"})
    assert wrong.status_code == 422
    assert wrong.json()["errors"][0]["field"].endswith("solder")
    assert sheet(ours, job, "solder")["solder"] == "silver-medium"


@pytest.mark.parametrize(
    ("key", "seen", "field"),
    [
        ("hand-over", SEEN, "key"),
        ("no such step", SEEN, "key"),
        ("inspect", {**SEEN, "gap_mm": "wide"}, "gap_mm"),
        ("inspect", {**SEEN, "gap_mm": 99}, "gap_mm"),
        ("inspect", {**SEEN, "views": {"side": "ajar"}}, "views.side"),
        ("inspect", {**SEEN, "passes_made": 40}, "passes_made"),
        ("inspect", {**SEEN, "solder": "glue"}, "solder"),
        ("inspect", {**SEEN, "chip": {"length_mm": "\ud800"}}, "length_mm"),
    ],
)
def test_what_cannot_be_seen_is_refused_and_nothing_is_kept(ours: Shop, key: str, seen: Any, field: str) -> None:
    job = made(ours)
    answer = keep(ours, job, key, seen)
    assert answer.status_code in (400, 422)
    assert field in answer.json()["errors"][0]["field"] or answer.status_code == 400
    assert not JointLook.objects.filter(job_id=job["id"]).exists()
    assert ours.send("get", f"/jobs/{job['id']}/joints/hand-over").status_code == 422


def test_inches_are_typed_and_shown_as_inches(ours: Shop) -> None:
    ours.send("put", "/ways/mine", {"units": "in", "version": 1})
    job = made(ours)
    keep(ours, job, "inspect", {**SEEN, "gap_mm": "0.002", "units": "in"})
    assert JointLook.objects.get(job_id=job["id"]).seen["gap_mm"] == pytest.approx(0.0508)
    assert sheet(ours, job, "inspect")["kept"]["fields"]["gap_mm"] == "0.002"


def test_a_look_goes_out_with_the_file_and_comes_in(ours: Shop) -> None:
    job = made(ours)
    keep(ours, job, "inspect", SEEN)
    file = ours.send("get", f"/jobs/{job['id']}/file").json()
    assert file["looks"][0]["seen"]["passes_made"] == 2
    again = ours.send("post", "/jobs/import", file).json()
    assert sheet(ours, again, "inspect")["kept"]["fields"]["passes_made"] == "2"
    assert again["now"]["closing"] == ours.send("get", f"/jobs/{job['id']}").json()["now"]["closing"]
    file["looks"][0]["seen"]["gap_mm"] = 99
    refused = ours.send("post", "/jobs/import", file)
    assert refused.json()["errors"][0]["field"] == "looks.0.seen.gap_mm"
    del file["looks"]
    assert ours.send("post", "/jobs/import", file).status_code == 201  # a file of before has none


def test_torches_of_the_shop_stand_beside_the_need(ours: Shop) -> None:
    ways = ours.send("get", "/ways").json()
    body = {"torches": "pen torch: flowed sterling 1", "version": ways["workshop_version"]}
    assert ours.send("put", "/ways/workshop", body).status_code == 200
    heat = sheet(ours, made(ours), "solder")["heat"]
    answer = ours.send("post", "/plan/heat", heat).json()
    assert answer["torches"][0]["enough"] == "no"
    assert answer["lead"]["key"] == "torch"
    wrong = ours.send("put", "/ways/workshop", {**body, "torches": "a lighter", "version": 2})
    assert wrong.status_code == 422


def test_a_resize_opens_both_its_seams(ours: Shop) -> None:
    sent = {"work": "resize", "title": "up", "order": came_in(to="US 7 1/4", metal="sterling")}
    job = ours.send("post", "/jobs", sent).json()
    first, second = (sheet(ours, job, key) for key in ("solder-sizing", "solder-second"))
    assert first["apart_mm"] > 1 > second["apart_mm"]
    assert second["heat"]["seams"][0]["key"] == "first"


def test_an_edited_order_leaves_the_look_of_its_own_route(ours: Shop) -> None:
    job = made(ours)
    keep(ours, job, "inspect", SEEN)
    body = {"title": "band", "order": order("square"), "version": job["version"]}
    ours.send("put", f"/jobs/{job['id']}", body)
    assert sheet(ours, job, "inspect")["kept"]["fields"]["passes_made"] == "2"  # the same route: it still holds
    wish = {**order(), "style": "wishbone", "v_angle_deg": 80}
    ours.send("put", f"/jobs/{job['id']}", {"title": "vee", "order": wish, "version": 2})
    assert sheet(ours, job, "inspect")["kept"] is None
    vee = ours.send("get", f"/jobs/{job['id']}").json()
    assert vee["now"] is None
    assert Job.objects.get(pk=job["id"]).looks.count() == 1
