"""Somebody goes home before closing: what they held is free, the work goes to who is there, and it is said."""

from __future__ import annotations

import threading
from datetime import UTC, datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.db import connection
from django.utils import timezone

from tests.workshop.conftest import Shop
from tests.workshop.daywork import colleague, day, settled
from workshop.core.models import Event
from workshop.day import leaving, taking
from workshop.day.bench import bench_of
from workshop.day.models import GoneHome
from workshop.jobs.models import Job

pytestmark = pytest.mark.usefixtures("a_monday_morning")
LEFT = datetime(2027, 3, 1, 10, 0, tzinfo=UTC)


def hands(found: dict[str, Any]) -> set[int]:
    return {block["person_id"] for block in found["blocks"]}


def go(shop: Shop, person: Shop, gone: bool = True) -> int:
    return int(shop.send("put", "/day/gone", {"person_id": person.user.pk, "gone": gone}).status_code)


def test_who_went_home_leaves_today_s_work_to_who_is_there(ours: Shop, a_monday_morning: Any) -> None:
    linnet = colleague(ours)
    for _ in range(4):
        ours.job()
    a_monday_morning(hours=2)
    assert hands(settled(ours)) == {ours.user.pk, linnet.user.pk}
    assert go(ours, linnet) == 200
    found = day(ours)
    assert hands(found) == {ours.user.pk}
    assert found["says"].startswith("10:00 linnet went home: ")
    row = next(one for one in found["people"] if one["id"] == linnet.user.pk)
    assert (row["gone_at"], row["hours"][-1]["ends"]) == ("2027-03-01T10:00:00Z", "2027-03-01T10:00:00Z")
    assert hands(settled(ours)) == {ours.user.pk}
    assert day(ours, on="2027-03-02")["people"][1]["hours"][0]["begins"] == "2027-03-02T09:00:00Z"


def test_the_next_day_they_are_there_again(ours: Shop, a_monday_morning: Any) -> None:
    linnet = colleague(ours)
    ours.job()
    a_monday_morning(hours=2)
    go(ours, linnet)
    assert leaving.gone_home(ours.workshop.pk, timezone.now()) == {
        linnet.user.pk: (LEFT, datetime(2027, 3, 2, tzinfo=UTC))
    }
    a_monday_morning(hours=22)
    assert leaving.gone_home(ours.workshop.pk, timezone.now()) == {}
    assert all(one["gone_at"] is None for one in day(ours)["people"])


def test_alone_and_gone_home_everything_is_tomorrow(ours: Shop, a_monday_morning: Any) -> None:
    ours.job()
    a_monday_morning(hours=2)
    assert settled(ours)["on"] == "2027-03-01"
    go(ours, ours)
    assert settled(ours)["blocks"][0]["begins"] == "2027-03-02T09:00:00Z"
    assert go(ours, ours, gone=False) == 200
    assert settled(ours)["blocks"][0]["begins"] == "2027-03-01T10:00:00Z"
    said = Event.objects.filter(kind="user").order_by("id").values_list("what", "after__person")
    assert list(said) == [("went-home", "ours"), ("came-back", "ours")]


@pytest.mark.parametrize("who", ["ours", "linnet"])
def test_who_comes_back_takes_part_again_though_nothing_is_late(ours: Shop, a_monday_morning: Any, who: str) -> None:
    leaves, stays = (ours, colleague(ours)) if who == "ours" else (colleague(ours), ours)
    both = {leaves.user.pk, stays.user.pk}
    for _ in range(4):
        ours.job()
    Job.objects.update(due=None)
    a_monday_morning(hours=2)
    assert hands(settled(ours)) == both
    go(ours, leaves)
    alone = settled(ours)
    assert hands(alone) == {stays.user.pk}
    a_monday_morning(minutes=1)
    assert go(ours, leaves, gone=False) == 200
    again = settled(ours)
    assert hands(again) == both
    first = {block["person_id"]: block["begins"] for block in reversed(again["blocks"])}
    assert first[leaves.user.pk] < "2027-03-01T11:00:00Z"
    soon = [one["key"] for one in alone["blocks"] if one["begins"] < "2027-03-01T10:31:00Z"]
    mine = [one["key"] for one in again["blocks"] if one["person_id"] == stays.user.pk]
    assert mine[: len(soon)] == soon


def test_whose_day_off_is_over_is_not_told_as_back(ours: Shop, a_monday_morning: Any) -> None:
    linnet = colleague(ours)
    a_monday_morning(hours=2)
    went, zone = timezone.now(), ZoneInfo("UTC")
    go(ours, linnet)
    a_monday_morning(hours=22)
    assert not leaving.is_somebody_back(ours.workshop.pk, went, timezone.now(), zone)
    go(ours, linnet)
    a_monday_morning(hours=1)
    go(ours, linnet, gone=False)
    now = timezone.now()
    assert leaving.is_somebody_back(ours.workshop.pk, went, now, zone)
    assert not leaving.is_somebody_back(ours.workshop.pk, now, now, zone)


def test_what_they_held_is_free_and_their_step_is_not_believed_to_go_on(ours: Shop, a_monday_morning: Any) -> None:
    linnet, job = colleague(ours), ours.job()
    a_monday_morning(hours=2)
    taking.take(linnet.actor, job.pk, "measure-stock")
    settled(ours)
    a_monday_morning(minutes=1)
    go(linnet, linnet)
    assert ours.send("get", "/day/pulse").json()["taken"] == []
    _, asked = bench_of(ours.workshop, timezone.now())
    assert asked.begun == ()


def test_who_takes_or_ticks_a_step_is_there(ours: Shop, a_monday_morning: Any) -> None:
    job = ours.job()
    a_monday_morning(hours=2)
    for act in (
        lambda: ours.send("post", "/day/take", {"job_id": job.pk, "key": "measure-stock"}),
        lambda: ours.send("put", f"/jobs/{job.pk}/steps/measure-stock", {"done": True}),
    ):
        go(ours, ours)
        assert ours.user.pk in leaving.gone_home(ours.workshop.pk, timezone.now())
        assert act().status_code == 200
        assert leaving.gone_home(ours.workshop.pk, timezone.now()) == {}


def test_what_was_said_yesterday_and_came_late_sends_nobody_home_today(ours: Shop, a_monday_morning: Any) -> None:
    a_monday_morning(hours=2)
    for at, gone in (
        ("0001-01-01T00:00:00+23:00", False),
        ("2027-02-28T23:59:00Z", False),
        ("2027-03-01T00:30:00+01:00", False),
        ("2027-03-01T08:00Z", True),
    ):
        answer = ours.send("put", "/day/gone", {"person_id": ours.user.pk, "gone": True, "at": at})
        assert answer.status_code == 200
        assert (ours.user.pk in leaving.gone_home(ours.workshop.pk, timezone.now())) is gone
    refused = ours.send("put", "/day/gone", {"person_id": ours.user.pk, "gone": True, "at": "2027-03-01T08:00"})
    assert refused.status_code == 422


def test_a_stranger_or_nobody_is_refused_at_the_person(ours: Shop, theirs: Shop) -> None:
    for person_id in (theirs.user.pk, 0, 2**62):
        refused = ours.send("put", "/day/gone", {"person_id": person_id, "gone": True})
        assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "person_id")
    assert not GoneHome.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_of_two_who_say_it_at_once_one_is_kept_and_told_once(ours: Shop) -> None:
    linnet = colleague(ours)
    barrier, got = threading.Barrier(2), []

    def say(one: Shop) -> None:
        barrier.wait()
        got.append(go(one, linnet))
        connection.close()

    threads = [threading.Thread(target=say, args=(one,)) for one in (ours, linnet)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert got == [200, 200]
    assert (GoneHome.objects.count(), Event.objects.filter(what="went-home").count()) == (1, 1)
    assert go(ours, linnet, gone=False) == 200
    assert go(ours, linnet, gone=False) == 200
    assert Event.objects.filter(what="came-back").count() == 1
