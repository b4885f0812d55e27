"""The day of a workshop: its plan from columns, who took what, timers, pins, promises, minutes, the calendar."""

from __future__ import annotations

import threading
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from icalendar import Calendar

from tests.workshop.conftest import PASSWORD, Shop
from workshop.core.history import Actor
from workshop.day import minutes, planning, taking, timers
from workshop.day.bench import bench_of
from workshop.day.models import LearntMinutes, ShownPlan, StepTime, Took
from workshop.jobs.actions import put_job, tick_step
from workshop.jobs.details import Place
from workshop.jobs.models import Job, StepDone
from workshop.people.models import User
from workshop.people.preferences import shop_preferences

MONDAY = datetime(2027, 3, 1, 8, 0, tzinfo=UTC)
STEPS = ("measure-stock", "square-end", "scribe", "cut", "file-to-line", "anneal")


@pytest.fixture(autouse=True)
def a_monday_morning(monkeypatch: pytest.MonkeyPatch) -> Any:
    """The clock stands at eight on a Monday; a test moves it."""
    now = {"at": MONDAY}
    monkeypatch.setattr(timezone, "now", lambda: now["at"])

    def move(**span: float) -> datetime:
        now["at"] += timedelta(**span)
        return now["at"]

    return move


def colleague(ours: Shop, name: str = "linnet") -> Shop:
    user = User.objects.create_user(name, password=PASSWORD, workshop=ours.workshop)
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return Shop(ours.workshop, user, client)


def ways(ours: Shop, **changes: Any) -> None:
    version = ours.send("get", "/ways").json()["workshop_version"]
    answer = ours.send("put", "/ways/workshop", {**changes, "version": version})
    assert answer.status_code == 200, answer.content


def day(ours: Shop, **query: str) -> dict[str, Any]:
    asked = "&".join(f"{key}={value}" for key, value in query.items())
    found: dict[str, Any] = ours.send("get", f"/day?{asked}").json()
    return found


def settled(ours: Shop) -> dict[str, Any]:
    found: dict[str, Any] = ours.send("post", "/day/settle", {}).json()
    return found


def due(job: Job, at: datetime) -> None:
    Job.objects.filter(pk=job.pk).update(due=at)


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


def test_a_step_in_somebody_s_hands_is_seen_by_the_other_and_gone_after_its_minutes_twice(
    ours: Shop, a_monday_morning: Any
) -> None:
    job, linnet = ours.job(), colleague(ours)
    took = ours.send("post", "/day/take", {"job_id": job.pk, "key": "measure-stock"})
    assert took.json()["taken"][0]["person_id"] == ours.user.pk
    refused = linnet.send("post", "/day/take", {"job_id": job.pk, "key": "measure-stock"})
    assert (refused.status_code, refused.json()["errors"][0]["message"]) == (422, "ours has it in hand.")
    assert linnet.send("get", "/day/pulse").json()["taken"][0]["by"] == "ours"
    a_monday_morning(minutes=11)
    assert linnet.send("get", "/day").json()["taken"] == []
    assert linnet.send("post", "/day/take", {"job_id": job.pk, "key": "measure-stock"}).status_code == 200


def test_what_was_given_back_or_ticked_is_in_nobody_s_hands(ours: Shop) -> None:
    job, other = ours.job(), ours.job("other")
    for row in (job, other):
        taking.take(ours.actor, row.pk, "measure-stock")
    assert [row.job_id for row in taking.now_taken(ours.workshop.pk, timezone.now())] == [other.pk]
    taking.give_back(ours.actor, other.pk, "measure-stock")
    assert not taking.now_taken(ours.workshop.pk, timezone.now())
    taking.take(ours.actor, job.pk, "measure-stock")
    tick_step(ours.actor, job, "measure-stock", True)
    assert not taking.now_taken(ours.workshop.pk, timezone.now())


def test_what_is_taken_has_begun_in_the_plan(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    a_monday_morning(hours=2)
    taking.take(ours.actor, job.pk, "measure-stock")
    a_monday_morning(minutes=1)
    block = day(ours)["blocks"][0]
    assert (block["key"], block["begun"], block["begins"]) == ("measure-stock", True, "2027-03-01T10:00:00Z")


@pytest.mark.django_db(transaction=True)
def test_of_two_who_take_a_step_at_once_one_gets_it(ours: Shop) -> None:
    job, linnet = ours.job(), colleague(ours)
    barrier, got = threading.Barrier(2), []

    def grab(one: Shop) -> None:
        barrier.wait()
        got.append(one.send("post", "/day/take", {"job_id": job.pk, "key": "measure-stock"}).status_code)
        connection.close()

    threads = [threading.Thread(target=grab, args=(one,)) for one in (ours, linnet)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(got) == [200, 422]
    assert Took.objects.filter(given_back_at=None).count() == 1


def test_two_who_tick_the_same_step_are_told(ours: Shop) -> None:
    job, linnet = ours.job(), colleague(ours)
    first = ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True})
    second = linnet.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True})
    assert (first.json()["told"], second.json()["told"]) == ("", "ours ticked this already: it counts once.")
    assert StepDone.objects.count() == 1


def to_pickle(ours: Shop, job: Job) -> None:
    keys = [row[0] for row in Job.objects.get(pk=job.pk).left["steps"]]
    for key in keys[: keys.index("pickle-annealed") + 1]:
        tick_step(ours.actor, job, key, True)


def test_a_timer_outlives_everything_and_is_answered_or_runs_on(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    to_pickle(ours, job)
    timer = ours.send("get", "/day/pulse").json()["timers"][0]
    assert (timer["kind"], timer["ends_at"]) == ("pickle", "2027-03-01T08:10:00Z")
    a_monday_morning(minutes=12)
    assert ours.send("post", f"/day/waits/{timer['id']}", {"minutes": 5}).status_code == 200
    again = ours.send("get", "/day/pulse").json()["timers"][0]
    assert again["ends_at"] == "2027-03-01T08:17:00Z"
    assert Job.objects.get().ready_at == datetime(2027, 3, 1, 8, 17, tzinfo=UTC)
    a_monday_morning(minutes=6)
    assert ours.send("post", f"/day/waits/{timer['id']}", {}).json()["timers"] == []
    assert ours.send("post", f"/day/waits/{timer['id']}", {}).status_code == 200
    taught = StepTime.objects.get(what="wait")
    assert (taught.minutes, taught.key) == (18, "pickle-annealed")


def test_out_before_its_time_what_comes_next_can_begin(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    to_pickle(ours, job)
    a_monday_morning(minutes=4)
    timers.answer(ours.actor, timers.running(ours.workshop.pk)[0].id)
    row = Job.objects.get()
    assert row.ready_at == timezone.now()
    assert not StepTime.objects.filter(what="wait").exists()


def test_a_ring_in_the_pot_holds_its_place_and_waits_no_longer_than_it_must(
    ours: Shop, a_monday_morning: Any
) -> None:
    job = ours.job()
    a_monday_morning(hours=2)
    to_pickle(ours, job)
    a_monday_morning(minutes=3)
    found = day(ours)
    assert found["vessels"][0]["rings"][0]["ends"] == "2027-03-01T10:10:00Z"
    assert found["blocks"][0]["begins"] == "2027-03-01T10:10:00Z"
    request = bench_of(ours.workshop, timezone.now()).request
    assert request is not None
    first = request.jobs[0].steps[0]
    assert (first.kind, first.bath) == ("pickle", "acid")


def tick_all(ours: Shop, move: Any, count: int, gap_min: float) -> None:
    for nth in range(count):
        job = ours.job(f"band {nth}")
        tick_step(ours.actor, job, "measure-stock", True)
        move(minutes=gap_min)
        tick_step(ours.actor, job, "square-end", True)
        move(minutes=30)


def test_minutes_are_learnt_from_the_gaps_between_one_person_s_ticks(ours: Shop, a_monday_morning: Any) -> None:
    tick_all(ours, a_monday_morning, 4, 5)
    assert not LearntMinutes.objects.exists()
    tick_all(ours, a_monday_morning, 1, 5)
    row = LearntMinutes.objects.get(key="square-end")
    assert (row.minutes, row.times, row.family) == (5, 5, "silver")
    assert ours.send("get", "/day/minutes").json()[0]["minutes"] == 5
    usual = next(row for row in ours.job("new").left["steps"] if row[0] == "square-end")[4]
    steps = {
        step.key: step.hands_min for rows in bench_of(ours.workshop, timezone.now()).steps.values() for step in rows
    }
    assert usual != 5
    assert steps["square-end"] == 5
    ways(ours, step_minutes=[{"step": "square-end", "hands_min": "9"}])
    again = {s.key: s.hands_min for rows in bench_of(ours.workshop, timezone.now()).steps.values() for s in rows}
    assert again["square-end"] == usual
    ways(ours, step_minutes=[], learn_minutes="no")
    never = {s.key: s.hands_min for rows in bench_of(ours.workshop, timezone.now()).steps.values() for s in rows}
    assert never["square-end"] == usual
    assert not shop_preferences(ours.workshop.__class__.objects.get(pk=ours.workshop.pk)).learn_minutes


def test_ticks_at_once_or_of_before_teach_nothing(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    tick_step(ours.actor, job, STEPS[0], True)
    a_monday_morning(minutes=4)
    tick_step(ours.actor, job, STEPS[1], True)
    assert StepTime.objects.count() == 1
    a_monday_morning(seconds=15)
    tick_step(ours.actor, job, STEPS[2], True)
    assert StepTime.objects.count() == 0
    a_monday_morning(minutes=4)
    tick_step(ours.actor, job, STEPS[3], True, at=timezone.now() - timedelta(minutes=1))
    a_monday_morning(minutes=4)
    tick_step(ours.actor, job, STEPS[4], True)
    assert StepTime.objects.count() == 0
    a_monday_morning(minutes=5)
    tick_step(Actor(ours.workshop.pk), job, STEPS[5], True)
    assert StepTime.objects.count() == 0


def test_what_was_not_done_after_all_teaches_nothing(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    tick_step(ours.actor, job, STEPS[0], True)
    a_monday_morning(minutes=4)
    tick_step(ours.actor, job, STEPS[1], True)
    tick_step(ours.actor, job, STEPS[1], False)
    assert not StepTime.objects.exists()
    assert minutes.learnt_of(ours.workshop.pk) == {}


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
    plain = bench_of(ours.workshop, timezone.now()).request
    ways(ours, look_again_moves="yes")
    moved = bench_of(ours.workshop.__class__.objects.get(pk=ours.workshop.pk), timezone.now()).request
    assert plain is not None
    assert moved is not None
    assert (plain.jobs[0].due_min or 0) - (moved.jobs[0].due_min or 0) == 2 * 1440


def test_a_torch_is_known_to_be_lit_from_what_was_ticked(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    a_monday_morning(hours=2)
    for key in STEPS:
        tick_step(ours.actor, job, key, True)
    a_monday_morning(minutes=10)
    request = bench_of(ours.workshop, timezone.now()).request
    assert request is not None
    assert [(one.person, one.flame_min) for one in request.sessions] == [(str(ours.user.pk), 600)]
    a_monday_morning(minutes=21)
    later = bench_of(ours.workshop, timezone.now()).request
    assert later is not None
    assert later.sessions == ()
