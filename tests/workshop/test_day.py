"""The day of a workshop: its plan from columns, pins, promises, the pulse, the calendar."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from icalendar import Calendar

from ringcraft.day.answer import DayAnswer
from ringcraft.day.asking import DayRequest
from tests.workshop.conftest import MONDAY, Shop
from tests.workshop.daywork import STEPS, day, due, fresh, settled, ways
from workshop.day import catching, planning
from workshop.day.bench import bench_of
from workshop.day.models import ShownPlan
from workshop.jobs.actions import put_job, tick_step
from workshop.jobs.details import Place
from workshop.jobs.models import Job

pytestmark = pytest.mark.usefixtures("a_monday_morning")


def test_a_plan_is_drawn_from_columns_and_kept_until_something_changes(ours: Shop) -> None:
    job = ours.job()
    first = day(ours)
    assert (first["settled"], first["wanted"], first["on"]) == (False, True, "2027-03-01")
    assert first["blocks"][0]["begins"] == "2027-03-01T09:00:00Z"
    assert [one["key"] for one in first["blocks"]][:2] == ["measure-stock", "square-end"]
    kept = settled(ours)
    assert kept["settled"]
    assert day(ours) == {**kept, "now": day(ours)["now"]}
    ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True})
    assert not day(ours)["settled"]
    assert "measure-stock" not in [one["key"] for one in day(ours)["blocks"]]
    assert "is done" in day(ours)["says"]


def test_the_day_opens_no_plan_and_asks_as_little_for_many_as_for_one(ours: Shop) -> None:
    ours.job()
    with CaptureQueriesContext(
        connection,
    ) as few:
        day(ours)
    for nth in range(5):
        ours.job(f"band {nth}")
    with CaptureQueriesContext(connection) as many:
        day(ours)
    assert len(many) <= len(few)
    assert not any("`plan`," in one["sql"] and "jobs_job" in one["sql"] for one in many)


def test_a_plan_kept_in_another_form_is_made_anew(ours: Shop) -> None:
    ours.job()
    settled(ours)
    row = ShownPlan.objects.get()
    row.plan = {**row.plan, "form": 1, "view": {"blocks": [{"name": "old"}]}}
    row.save()
    assert not day(ours)["settled"]
    assert settled(ours)["blocks"]


def test_a_plan_whose_row_goes_while_a_better_one_is_made_is_still_answered(
    ours: Shop, monkeypatch: pytest.MonkeyPatch
) -> None:
    ours.job()
    makes = planning.plan_of

    def slowly(asked: DayRequest) -> DayAnswer:
        ShownPlan.objects.all().delete()
        return makes(asked)

    monkeypatch.setattr(planning, "plan_of", slowly)
    assert settled(ours)["blocks"]
    assert not ShownPlan.objects.exists()


def test_a_kept_plan_costs_few_queries(ours: Shop) -> None:
    ours.job()
    settled(ours)
    with CaptureQueriesContext(connection) as seen:
        assert day(ours)["settled"]
    assert len(seen) <= 11


def test_of_two_that_settle_at_once_one_makes_the_plan(ours: Shop) -> None:
    ours.job()
    stamp = planning.version_of(ours.workshop.pk)
    ShownPlan.objects.create(workshop=ours.workshop, claim=stamp, claimed_at=timezone.now())
    other = settled(ours)
    assert (other["working"], other["settled"]) == (True, False)
    assert ShownPlan.objects.get().version == 0
    ShownPlan.objects.update(claimed_at=timezone.now() - timedelta(minutes=1))
    assert settled(ours)["settled"]


def test_where_no_plan_is_wanted_it_says_so(ours: Shop) -> None:
    ours.job()
    ways(ours, plan_day="no")
    assert not day(ours)["wanted"]


def test_the_ways_of_the_day_are_obeyed(ours: Shop) -> None:
    ours.job()
    ways(ours, opening=[{"weekday": "monday", "opens": "13:00", "closes": "15:00"}], time_zone="Europe/Vienna")
    found = day(ours)
    assert found["blocks"][0]["begins"] == "2027-03-01T12:00:00Z"
    assert found["people"][0]["hours"] == [{"begins": "2027-03-01T12:00:00Z", "ends": "2027-03-01T14:00:00Z"}]
    ways(ours, closed_days=[{"day": "2027-03-01", "why": "fair"}])
    assert day(ours)["blocks"][0]["begins"].startswith("2027-03-02")
    wrong = ours.send("put", "/ways/workshop", {"work_days": [{"person": "nobody"}], "version": 99})
    assert wrong.status_code in (409, 422)


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"work_days": [{"person": "nobody"}]}, "work_days.0.person"),
        ({"time_zone": "Mars/Base"}, "time_zone"),
        ({"torch_count": "many"}, "torch_count"),
        ({"opening": [{"weekday": "monday", "opens": "25:00"}]}, "opening.0.opens"),
        ({"pots": [{"name": "", "holds": 4}]}, "pots.0.name"),
    ],
)
def test_ways_that_no_day_has_are_refused_at_their_field(ours: Shop, said: dict[str, Any], field: str) -> None:
    answer = ours.send("put", "/ways/workshop", {**said, "version": 1})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field


def test_what_is_elsewhere_is_not_before_its_day(ours: Shop) -> None:
    one, other = ours.job("away"), ours.job("gone")
    put_job(ours.actor, one.pk, 1, Place("setter", "", (MONDAY + timedelta(days=2)).date()))
    put_job(ours.actor, other.pk, 1, Place("plater", ""))
    found = day(ours, on="2027-03-03")
    assert {block["job_id"] for block in found["blocks"]} == {one.pk}
    assert found["blocks"][0]["begins"] >= "2027-03-03T09:00:00Z"
    assert [(row["job_id"], row["says"]) for row in found["beside"]] == [(other.pk, "at the plater’s, no day said")]


def test_nobody_is_said_to_come_in_time_of_what_is_not_planned(ours: Shop) -> None:
    job = ours.job("away")
    due(job, timezone.now() - timedelta(days=1))
    assert "comes" in day(ours)["late_says"]
    assert day(ours)["late"]
    Job.objects.filter(pk=job.pk).update(place="plater", place_until=None)
    ShownPlan.objects.all().delete()
    assert day(ours)["late_says"] == "Of what is planned nobody comes late."


def test_a_pin_holds_or_says_so_and_goes_with_its_step(ours: Shop) -> None:
    job = ours.job()
    at = MONDAY.replace(hour=14)
    assert (
        ours.send("put", "/day/pins", {"job_id": job.pk, "key": "measure-stock", "at": at.isoformat()}).status_code
        == 200
    )
    block = next(one for one in day(ours)["blocks"] if one["key"] == "measure-stock")
    assert (block["begins"], block["pinned"]) == ("2027-03-01T14:00:00Z", True)
    night = MONDAY.replace(hour=20)
    ours.send("put", "/day/pins", {"job_id": job.pk, "key": "measure-stock", "at": night.isoformat()})
    assert day(ours)["missed"][0]["says"] == "cannot be at 20:00: nobody works through that time"
    ours.send("put", "/day/pins", {"job_id": job.pk, "key": "measure-stock"})
    assert day(ours)["missed"] == []
    for wrong in (
        {"key": "no"},
        {"key": "cut", "at": "2029-01-01T00:00:00Z"},
        {"key": "cut", "at": at.isoformat(), "person_id": 0},
    ):
        assert ours.send("put", "/day/pins", {"job_id": job.pk, **wrong}).status_code == 422


def test_a_promise_is_told_with_how_sure_and_whence(ours: Shop) -> None:
    job = ours.job()
    answer = ours.send("post", "/day/ready", {"work": "make", "order": job.order}).json()
    assert answer["even_at"] <= answer["sure_at"]
    assert "nine in ten" in answer["says"]
    assert not answer["sure"]
    assert answer["whence"].startswith("Unsure")
    own = ours.send("post", "/day/ready", {"job_id": job.pk}).json()
    assert own["sure_at"] < answer["sure_at"]
    ways(ours, opening=[{"weekday": one} for one in ("monday", "tuesday", "wednesday", "thursday", "friday")])
    never = ours.send("post", "/day/ready", {"work": "make", "order": job.order}).json()
    assert (never["sure_at"], never["says"]) == (None, "No honest time: nobody works in these hours.")
    assert ours.send("post", "/day/ready", {"work": "no", "order": {}}).status_code == 422


def test_the_pulse_is_silent_until_something_changes(ours: Shop, theirs: Shop) -> None:
    job = ours.job()
    first = ours.send("get", "/day/pulse")
    with CaptureQueriesContext(connection) as seen:
        again = ours.send("get", "/day/pulse", None, **{"If-None-Match": first["ETag"]})
    assert (again.status_code, again.content) == (304, b"")
    assert len(seen) <= 5
    theirs.job()
    assert ours.send("get", "/day/pulse", None, **{"If-None-Match": first["ETag"]}).status_code == 304
    tick_step(ours.actor, job, STEPS[0], True)
    assert ours.send("get", "/day/pulse", None, **{"If-None-Match": first["ETag"]}).status_code == 200


def test_a_calendar_is_read_at_its_secret_until_that_is_withdrawn(ours: Shop) -> None:
    job = ours.job()
    due(job, MONDAY + timedelta(days=1))
    Job.objects.filter(pk=job.pk).update(note="no nickel near her", ticket="T 9")
    path = ours.send("post", "/day/calendar", {}).json()["path"]
    answer = Client().get(path)
    assert answer["Content-Type"] == "text/calendar; charset=utf-8"
    events = Calendar.from_ical(answer.content).walk("VEVENT")
    assert [str(one["summary"]) for one in events] == ["Pym, band: promised"]
    assert events[0].decoded("dtstart") == MONDAY + timedelta(days=1)
    assert b"nickel" not in answer.content
    assert ours.send("get", "/day/calendar").json()["path"] == ""
    more = ours.send("post", "/day/calendar", {"with_customers": True}).json()["path"]
    assert Client().get(path).status_code == 404
    assert b"no nickel near her" in Client().get(more).content
    ours.send("delete", "/day/calendar")
    assert Client().get(more).status_code == 404
    assert Client().get("/calendar/nothing.ics").status_code == 404


def test_a_second_look_moves_a_promise_only_by_a_way(ours: Shop) -> None:
    job = ours.job()
    due(job, MONDAY + timedelta(days=9))
    _, plain = bench_of(ours.workshop, timezone.now())
    ways(ours, look_again_moves="yes")
    _, moved = bench_of(fresh(ours), timezone.now())
    assert (plain.jobs[0].due_min or 0) - (moved.jobs[0].due_min or 0) == 2 * 1440


def test_a_job_from_before_is_taken_into_the_plan_when_the_server_starts(ours: Shop) -> None:
    job = ours.job()
    Job.objects.filter(pk=job.pk).update(left={})
    assert day(ours)["blocks"] == []
    assert (catching.catch_up(), catching.catch_up()) == (1, 0)
    assert day(ours)["blocks"][0]["job_id"] == job.pk
