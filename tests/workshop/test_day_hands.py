"""The hands of a workshop: who took what, timers that end, minutes that teach."""

from __future__ import annotations

import threading
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.db import connection
from django.utils import timezone

from tests.workshop.conftest import Shop
from tests.workshop.daywork import STEPS, colleague, day, fresh, ways
from workshop.core.history import Actor
from workshop.day import minutes, taking, timers
from workshop.day.bench import bench_of
from workshop.day.models import LearntMinutes, StepTime, Took
from workshop.jobs.actions import tick_step
from workshop.jobs.models import Job, StepDone
from workshop.people.preferences import shop_preferences

pytestmark = pytest.mark.usefixtures("a_monday_morning")


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
    assert linnet.send("get", "/day/pulse").json()["taken"] == []
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


def test_what_is_not_at_the_bench_is_in_nobody_s_hands(ours: Shop) -> None:
    job = ours.job()
    Job.objects.filter(pk=job.pk).update(place="setter")
    refused = ours.send("post", "/day/take", {"job_id": job.pk, "key": "measure-stock"})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "key")


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
    _, request = bench_of(fresh(ours), timezone.now())
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
        step.key: step.hands_min for rows in bench_of(fresh(ours), timezone.now())[0].steps.values() for step in rows
    }
    assert usual != 5
    assert steps["square-end"] == 5
    ways(ours, step_minutes=[{"step": "square-end", "hands_min": "9"}])
    again = {s.key: s.hands_min for rows in bench_of(fresh(ours), timezone.now())[0].steps.values() for s in rows}
    assert again["square-end"] == usual
    ways(ours, step_minutes=[], learn_minutes="no")
    never = {s.key: s.hands_min for rows in bench_of(fresh(ours), timezone.now())[0].steps.values() for s in rows}
    assert never["square-end"] == usual
    assert not shop_preferences(fresh(ours)).learn_minutes


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


def test_a_torch_is_known_to_be_lit_from_what_was_ticked(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    a_monday_morning(hours=2)
    for key in STEPS:
        tick_step(ours.actor, job, key, True)
    a_monday_morning(minutes=10)
    _, request = bench_of(fresh(ours), timezone.now())
    assert [(one.person, one.flame_min) for one in request.sessions] == [(str(ours.user.pk), 600)]
    a_monday_morning(minutes=21)
    _, later = bench_of(fresh(ours), timezone.now())
    assert later.sessions == ()
