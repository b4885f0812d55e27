"""Sterling is looked at again two days after its last finish: a date on the bench, answered once."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone

from ringcraft.following.look_again import blooms
from ringcraft.metals import METALS
from tests.orders import order
from tests.workshop.conftest import Shop
from workshop.jobs.actions import tick_step
from workshop.jobs.models import Job

pytestmark = pytest.mark.django_db


def test_copper_comes_out_of_sterling_alone_among_what_is_sold() -> None:
    assert {key for key, metal in METALS.items() if blooms(metal)} == {"sterling"}


def finished(shop: Shop, at: datetime, **changes: Any) -> Job:
    sent = {"title": "band", "order": order(**changes)}
    job = Job.objects.get(pk=shop.send("post", "/jobs", sent).json()["id"])
    for step in job.plan["route"]:
        job = tick_step(shop.actor, job, step["key"], True, at)
    return job


def looks(shop: Shop) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = shop.send("get", "/bench").json()["looks"]
    return found


def test_it_is_on_the_bench_by_its_date_until_somebody_looked(ours: Shop, theirs: Shop) -> None:
    now = timezone.now()
    job = finished(ours, now - timedelta(days=2, minutes=5))
    assert job.look_again == pytest.approx(now - timedelta(minutes=5), abs=timedelta(seconds=1))
    assert [(one["id"], one["due"]) for one in looks(ours)] == [(job.pk, True)]
    assert looks(theirs) == []
    ours.send("put", f"/jobs/{job.pk}/closed", {"closed": True})
    assert len(looks(ours)) == 1  # it has gone home, and is asked back in mind
    answer = ours.send("post", f"/jobs/{job.pk}/looked", {"found": "a dark line at the seam"})
    assert answer.status_code == 200
    assert looks(ours) == []
    told = [line["says"] for line in ours.send("get", f"/jobs/{job.pk}/history").json()["items"]]
    assert "looked at again: a dark line at the seam" in told
    first = Job.objects.get(pk=job.pk).looked_at
    ours.send("post", f"/jobs/{job.pk}/looked", {"found": "a pink patch inside"})
    ours.send("post", f"/jobs/{job.pk}/looked", {})
    told = [line["says"] for line in ours.send("get", f"/jobs/{job.pk}/history").json()["items"]]
    assert [says for says in told if says.startswith("looked at again")] == [
        "looked at again: a pink patch inside",
        "looked at again: a dark line at the seam",
    ]
    assert Job.objects.get(pk=job.pk).looked_at == first is not None


def test_it_waits_for_the_last_grit_and_comes_before_its_time(ours: Shop) -> None:
    now = timezone.now()
    job = finished(ours, now - timedelta(hours=1))
    assert [one["due"] for one in looks(ours)] == [False]
    last = next(step["key"] for step in reversed(job.plan["route"]) if step["key"].startswith("finish"))
    job = tick_step(ours.actor, job, last, False)
    assert job.look_again is None
    assert looks(ours) == []
    assert ours.send("post", f"/jobs/{job.pk}/looked", {}).status_code == 422


def test_gold_is_not_and_weeks_later_nobody_is_asked(ours: Shop) -> None:
    now = timezone.now()
    assert finished(ours, now - timedelta(days=2), metal="gold-14k-yellow").look_again is None
    finished(ours, now - timedelta(days=40))
    assert looks(ours) == []


def test_a_dozen_are_listed_and_the_rest_is_counted(ours: Shop) -> None:
    job = finished(ours, timezone.now() - timedelta(days=2))
    for n in range(14):
        job.pk, job.number = None, 500 + n
        job.save(force_insert=True)
    said = ours.send("get", "/bench").json()
    assert (len(said["looks"]), said["more_looks"]) == (12, 3)
