"""What was kept stays: old plans at every door, a bad job on the bench, another style, the way up from the first release."""

from __future__ import annotations

import importlib
import json
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.utils import timezone

from ringcraft.work.kept import NOT_KNOWN
from tests.orders import order, style_order
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.jobs.actions import tick_step
from workshop.jobs.measures import Taken, take_measure
from workshop.jobs.models import Job, Measure, PastPlan, StepDone

KEPT = Path(__file__).parents[1] / "kept"
FIXTURES = sorted(KEPT.glob("shape-*/*.json"))
PAPERS = ("blank.pdf", "blank.svg", "blank.dxf", "ticket.pdf")


def with_kept(shop: Shop, path: Path) -> Job:
    """A job as an older version left it."""
    data = json.loads(path.read_text())
    job = shop.job()
    came_in = path.stem.startswith("resize-")
    kind = {"work": "resize", "route_key": f"resize/{data['plan']['method']}"} if came_in else {}
    Job.objects.filter(pk=job.pk).update(
        order=data["order"], plan=data["plan"], engine="0.1.0", plan_version=0, **kind
    )
    return Job.objects.get(pk=job.pk)


@pytest.mark.sweep
@pytest.mark.parametrize("path", FIXTURES, ids=lambda path: f"{path.parent.name}-{path.stem}")
def test_an_older_plan_is_served_at_every_door_with_its_own_figures(ours: Shop, path: Path) -> None:
    job = with_kept(ours, path)
    cuts = [blank["cut_text"] for blank in job.plan["blanks"]]
    answer = ours.send("get", f"/jobs/{job.pk}").json()
    assert [blank["cut_text"] for blank in answer["plan"]["blanks"]] == cuts
    assert (answer["engine"], answer["current"], answer["trouble"]) == ("0.1.0", False, "")
    for route in (
        answer["plan"]["route"],
        (answer["now"] or answer["plan"])["route"],
    ):  # its own steps, and nothing known of the pieces
        assert [step["key"] for step in route] == [step["key"] for step in job.plan["route"]]
        if path.parent.name < "shape-4":  # from there on a step said what it does
            assert {(step["comes"], len(step["does"]), len(step["after"])) for step in route} == {(NOT_KNOWN, 0, 0)}
    papers = PAPERS if cuts else PAPERS[-1:]  # a ring of which nothing is cut has no true-size paper
    assert all(ours.send("get", f"/jobs/{job.pk}/{paper}").status_code == 200 for paper in papers)
    assert ours.send("get", f"/jobs/{job.pk}/file").json()["plan"] == job.plan
    assert ours.send("put", f"/jobs/{job.pk}/steps/{job.plan['route'][0]['key']}", {"done": True}).status_code == 200
    assert len(ours.send("get", "/bench").json()["rings"]) == 1
    assert Job.objects.get(pk=job.pk).plan == job.plan


def test_todays_plan_stands_beside_an_older_one_and_takes_its_place_only_when_asked(ours: Shop) -> None:
    job = ours.job()
    job.plan["blanks"][0] |= {"cut_text": "59.9", "cut_length_mm": 59.9}
    job.engine, job.plan["engine"] = "0.1.0", "0.1.0"
    job.save()
    beside = ours.send("get", f"/jobs/{job.pk}/anew").json()
    assert beside["changes"] == ["band: 60.3 mm, kept 59.9"]
    assert ours.send("get", f"/jobs/{job.pk}").json()["plan"]["blanks"][0]["cut_text"] == "59.9"
    measured = ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", {"text": "1.9"}).json()
    assert (measured["now"] or measured["plan"])["blanks"][0]["cut_text"] == "59.9"
    assert "0.1.0" in measured["older"]
    assert ours.send("put", f"/jobs/{job.pk}/anew", {"version": 7}).status_code == 409
    taken = ours.send("put", f"/jobs/{job.pk}/anew", {"version": 1}).json()
    assert (taken["plan"]["blanks"][0]["cut_text"], taken["current"], taken["version"]) == ("60.3", True, 2)
    past = PastPlan.objects.get(job=job)
    assert (past.plan["blanks"][0]["cut_text"], past.engine) == ("59.9", "0.1.0")


@pytest.mark.parametrize("spoilt", [{}, [], "plan", {"blanks": [{"cut_text": "59.9"}]}, {"plan_version": 99}])
def test_one_job_that_cannot_be_read_is_named_and_hurts_no_other(ours: Shop, spoilt: Any) -> None:
    good, bad = ours.job("good"), ours.job("bad")
    Job.objects.filter(pk=bad.pk).update(plan=spoilt)
    assert len(ours.send("get", "/bench").json()["rings"]) == 2
    card = ours.send("get", f"/jobs/{bad.pk}").json()
    assert card["plan"] is None
    assert "kept" in card["trouble"]
    assert card["figures"] == (
        [{"title": "piece", "text": "59.9"}] if isinstance(spoilt, dict) and "blanks" in spoilt else []
    )
    for method, door, body, status in (
        ("get", "file", None, 200),
        ("get", "ticket.pdf", None, 422),
        ("put", "steps/cut", {"done": True}, 422),
        ("put", "measures/stock-thickness", {"text": "1.8"}, 422),
        ("put", "place", {"place": "setter", "version": 1}, 200),
        ("put", "closed", {"closed": True}, 200),
        ("put", "closed", {"closed": False}, 200),
        ("get", "anew", None, 200),
        ("put", "anew", {"version": 1}, 200),
    ):
        assert ours.send(method, f"/jobs/{bad.pk}/{door}", body).status_code == status, door
    assert ours.send("get", f"/jobs/{bad.pk}").json()["trouble"] == ""
    assert ours.send("get", f"/jobs/{good.pk}").status_code == 200


def test_the_bench_names_a_job_in_trouble(ours: Shop) -> None:
    good, bad = ours.job("good"), ours.job("bad")
    Job.objects.filter(pk=bad.pk).update(trouble="Its plan cannot be read.")
    bench = ours.send("get", "/bench").json()
    assert [ring["id"] for ring in bench["rings"]] == [good.pk]
    assert bench["troubled"] == [{"id": bad.pk, "number": 2, "name": "Pym, bad", "says": "Its plan cannot be read."}]


def test_times_at_the_end_of_the_calendar_break_no_bench(ours: Shop) -> None:
    job = ours.job()
    end = datetime(9999, 12, 31, 23, 59, tzinfo=UTC)
    Job.objects.filter(pk=job.pk).update(due=end, ready_at=end)
    StepDone.objects.create(job=job, route_key=job.route_key, key="measure-stock", at=end)
    assert ours.send("get", "/bench").status_code == 200
    assert ours.send("put", f"/jobs/{job.pk}/steps/square-end", {"done": True}).status_code == 200
    assert ours.send("get", f"/jobs/{job.pk}").status_code == 200


def test_steps_of_another_style_do_not_count_and_come_back_with_it(ours: Shop) -> None:
    job = ours.job()
    for key in ("measure-stock", "square-end", "scribe"):
        tick_step(ours.actor, job, key, True)
    take_measure(ours.actor, job, Taken("stock-thickness", "1.82"))
    take_measure(ours.actor, job, Taken("cut-length", "60.2"))
    body = {"title": job.title, "customer_name": "Pym", "order": style_order("wishbone"), "version": 1}
    other = ours.send("put", f"/jobs/{job.pk}", body).json()
    assert other["done"] == []
    assert other["standing"]["next_key"] == other["plan"]["route"][0]["key"]
    assert "cut-length" not in [m["key"] for m in other["measures"]]
    back = ours.send("put", f"/jobs/{job.pk}", body | {"order": order(), "version": 2}).json()
    assert [step["key"] for step in back["done"]] == ["measure-stock", "square-end", "scribe"]
    assert "cut-length" in [m["key"] for m in back["measures"]]
    assert Job.objects.get(pk=job.pk).past_plans.count() == 2


def test_measures_of_another_profile_are_put_aside_and_stay_in_the_history(ours: Shop) -> None:
    job = ours.job()
    take_measure(ours.actor, job, Taken("stock-thickness", "1.82"))
    body = {"title": job.title, "customer_name": "Pym", "order": order("square"), "version": 1}
    assert ours.send("put", f"/jobs/{job.pk}", body).json()["measures"] == []
    assert [row.text for row in Measure.objects.filter(job=job)] == ["1.82", ""]


def test_an_order_of_another_kind_of_work_is_not_planned_as_a_ring_to_make(ours: Shop) -> None:
    job = ours.job()
    Job.objects.filter(pk=job.pk).update(work="unheard-of")
    body = {"title": job.title, "customer_name": "Pym", "order": order("square"), "version": 1}
    answer = ours.send("put", f"/jobs/{job.pk}", body)
    assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, "work")
    assert not Job.objects.get(pk=job.pk).past_plans.exists()


def test_measures_are_a_history_and_the_newest_holds(ours: Shop) -> None:
    job = ours.job()
    path = f"/jobs/{job.pk}/measures/stock-thickness"
    ours.send("put", path, {"text": "1.81"})
    late = {"Bench-Seconds-Ago": "7200"}
    answer = ours.send("put", path, {"text": "1.70"}, **late).json()  # from the outbox of a device that was away
    assert (answer["measures"][0]["text"], answer["measures"][0]["readings"]) == ("1.81", 2)
    assert ours.send("put", path, {"text": ""}).json()["measures"] == []
    again = ours.send("put", path, {"text": "1.83"}).json()["measures"][0]
    assert (again["text"], again["by"], again["readings"]) == ("1.83", "ours", 3)  # taking it away is no reading
    row = Measure.objects.order_by("id").first()
    assert row is not None
    assert (row.shape, row.next_key, row.route_key) == ("strip", "measure-stock", "")


def test_a_step_is_done_again_and_taken_back_as_rows(ours: Shop) -> None:
    job = ours.job()
    path = f"/jobs/{job.pk}/steps/measure-stock"
    ours.send("put", path, {"done": True, "minutes": 2.5})
    ours.send("put", path, {"done": True})
    assert StepDone.objects.count() == 1
    again = ours.send("put", path, {"done": True, "again": True}).json()
    assert again["done"][0]["nth"] == 2
    assert ours.send("put", path, {"done": False}).json()["done"][0]["nth"] == 1
    assert ours.send("put", path, {"done": False}).json()["done"] == []
    rows = list(StepDone.objects.order_by("nth"))
    assert [(row.nth, row.taken_back_at is not None) for row in rows] == [(1, True), (2, True)]
    assert float(rows[0].minutes or 0) == 2.5
    assert ours.send("put", path, {"done": True}).json()["done"][0]["nth"] == 3
    assert ours.send("put", path, {"done": True, "minutes": 1e9}).json()["errors"][0]["field"] == "minutes"


def test_a_tick_from_a_device_that_was_away_counts_from_when_it_was_done(ours: Shop) -> None:
    job = ours.job()
    ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True}, **{"Bench-Seconds-Ago": "600"})
    at = StepDone.objects.get().at
    assert timedelta(minutes=9) < timezone.now() - at < timedelta(minutes=12)


def test_a_history_calls_a_step_as_its_card_did_when_it_was_done(ours: Shop) -> None:
    job = ours.job()
    planned = {step["key"]: step["title"] for step in job.plan["route"]}["scribe"]
    ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", {"text": "1.9"}, **{"Bench-Seconds-Ago": "600"})
    ours.send("put", f"/jobs/{job.pk}/steps/scribe", {"done": True})
    shown = ours.send("get", f"/jobs/{job.pk}").json()["now"]["route"]
    ours.send("put", f"/jobs/{job.pk}/measures/stock-thickness", {"text": ""})
    ticked, measured = (ours.send("get", f"/jobs/{job.pk}/history").json()["items"][at]["after"] for at in (1, 2))
    assert ticked["title"] == next(step["title"] for step in shown if step["key"] == "scribe")
    assert ticked["title"] != planned
    assert timezone.now() - datetime.fromisoformat(measured["at"]) > timedelta(minutes=9)


def test_everything_that_happens_to_a_job_is_in_its_history(ours: Shop) -> None:
    job = ours.job()
    ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True})
    ours.send("put", f"/jobs/{job.pk}/place", {"place": "setter", "version": 1})
    body = {"title": "other", "customer_name": "Pym", "order": order(), "version": 1}
    ours.send("put", f"/jobs/{job.pk}", body)
    lines = ours.send("get", f"/jobs/{job.pk}/history").json()
    assert [line["what"] for line in lines["items"]] == ["changed", "placed", "ticked", "created"]
    assert (lines["items"][0]["before"], lines["items"][0]["after"]) == ({"title": "band"}, {"title": "other"})
    assert {line["by"] for line in lines["items"]} == {"ours"}


def test_the_history_of_gauges_customers_and_ways_is_the_same_one(ours: Shop) -> None:
    gauge = ours.send("post", "/gauges", {"name": "peg", "kind": "mandrel", "scale": "us"}).json()
    ours.send("put", f"/gauges/{gauge['id']}", {"name": "pin", "kind": "mandrel", "scale": "us", "version": 1})
    ours.send("post", "/customers", {"name": "Pym"})
    ours.send("put", "/ways/mine", {"units": "in", "version": 1})
    events = list(Event.objects.filter(workshop=ours.workshop).order_by("id"))
    said = [(event.kind, event.what) for event in events]
    assert said == [("gauge", "created"), ("gauge", "changed"), ("customer", "created"), ("user", "ways-set")]
    assert (events[1].before, events[1].after) == ({"name": "peg"}, {"name": "pin"})


OLD = [("core", None), ("jobs", "0002_initial"), ("people", "0001_initial")]


BEFORE = {
    "people": ["0001_initial", "0002_ways_version"],
    "core": ["0001_initial"],
    "customers": ["0001_initial", "0002_initial"],
    "gauges": ["0001_initial", "0002_initial"],
    "jobs": [
        "0001_initial", "0002_initial", "0003_steps_measures_places_and_the_benchs_columns", "0004_stand_on_the_bench"
    ],
}  # fmt: skip


SINCE = (
    "photos",
    "stock",
    "logbook",
    "worth",
    "day",
    "otp_totp",
    "otp_static",
    "safekeeping",
)  # apps that there were none of before the release


def loader_of(monkeypatch: pytest.MonkeyPatch, applied: set[tuple[str, str]]) -> MigrationLoader:
    known = MigrationRecorder(connection).applied_migrations()
    others = {key: row for key, row in known.items() if key[0] not in (*BEFORE, *SINCE)}
    monkeypatch.setattr(MigrationRecorder, "applied_migrations", lambda self: {**others, **dict.fromkeys(applied)})
    return MigrationLoader(connection)


@pytest.mark.django_db
def test_a_database_from_before_the_release_goes_on_from_where_it_stood(monkeypatch: pytest.MonkeyPatch) -> None:
    whole = {(app, name) for app, names in BEFORE.items() for name in names}
    loader = loader_of(monkeypatch, whole)
    loader.check_consistent_history(connection)
    left = [key for key in loader.graph.nodes if key[0] in BEFORE and key not in loader.applied_migrations]
    assert set(left) == {
        ("people", "0002_preferences"),
        ("people", "0003_roles"),
        ("people", "0004_came_in"),
        ("people", "0005_held"),
        ("core", "0002_turns"),
        ("core", "0003_answers_by_sight"),
        ("core", "0004_numbers_go_on"),
        ("core", "0005_by_time"),
        ("customers", "0003_held"),
        ("gauges", "0003_held"),
        ("jobs", "0003_after_release_0_1"),
        ("jobs", "0004_plan_version_is_always_said"),
        ("jobs", "0005_photos_heats_estimates"),
        ("jobs", "0006_joint_looks"),
        ("jobs", "0007_as_asked"),
        ("jobs", "0008_takes_solder"),
        ("jobs", "0009_readings_at_places"),
        ("jobs", "0010_looked_at_again"),
        ("jobs", "0011_the_day_reads_columns"),
        ("jobs", "0012_turns_of_a_job"),
    }


@pytest.mark.django_db
def test_a_database_that_stopped_on_the_way_is_refused_not_taken_for_whole(monkeypatch: pytest.MonkeyPatch) -> None:
    last = importlib.import_module("workshop.jobs.migrations.0003_after_release_0_1")
    with connection.schema_editor() as editor:
        last.refuse_a_part(None, editor)
        monkeypatch.setattr(connection.introspection, "table_names", lambda: ["jobs_job", "jobs_measure"])
        with pytest.raises(last.Stopped, match="Bring it up"):
            last.refuse_a_part(None, editor)
