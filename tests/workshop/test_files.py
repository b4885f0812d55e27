from datetime import datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone

from tests.workshop.conftest import Shop
from workshop.jobs.actions import tick_step
from workshop.jobs.measures import Taken, take_measure
from workshop.jobs.models import Job


def full_file(shop: Shop) -> dict[str, Any]:
    job = shop.job(size="UK N", metal="gold-9k-rose")
    tick_step(shop.actor, job, "measure-stock", True)
    tick_step(shop.actor, job, "square-end", True)
    take_measure(shop.actor, job, Taken("stock-thickness", "1.9"))
    take_measure(shop.actor, job, Taken("size-rounded", "N", gauge_name="long mandrel"))
    data: dict[str, Any] = shop.send("get", f"/jobs/{job.pk}/file").json()
    return data


def test_a_job_goes_out_and_comes_in_whole(ours: Shop, theirs: Shop) -> None:
    data = full_file(ours)
    answer = theirs.send("post", "/jobs/import", data)
    assert answer.status_code == 201
    again = theirs.send("get", f"/jobs/{answer.json()['id']}/file").json()
    assert again == data
    assert Job.objects.get(pk=answer.json()["id"]).workshop == theirs.workshop


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"format": "other"}, "format"),
        ({"version": 9}, "format"),
        ({"order": None}, "order"),
        ({"title": 7}, "title"),
        ({"order": {"style": "plain-band"}}, "order.size"),
        ({"due": "soon"}, "due"),
        ({"due": "2026-01-01T00:00:00"}, "due"),
        ({"done": "all"}, "done"),
        ({"measures": [1]}, "measures"),
        ({"title": ""}, "title"),
        ({"measures": [{"key": "stock-thickness", "text": "💍", "at": "2026-01-01T00:00:00Z"}]}, "measures.0.text"),
        ({"done": [{"key": "cut", "at": "then"}]}, "done.0.at"),
        ({"done": [{"key": "cut", "at": "9999-12-31T23:59:59Z"}]}, "done.0.at"),
        ({"done": [{"key": "cut", "at": "9999-12-31T23:59:59-14:00"}]}, "done.0.at"),
        ({"done": [{"key": "cut", "at": "0001-01-01T00:00:00+14:00"}]}, "done.0.at"),
        ({"done": [{"key": "cut", "at": "2099-01-01T00:00:00Z"}]}, "done.0.at"),
        ({"done": [{"key": ["cut"]}]}, "done.0.key"),
        ({"done": [{"key": "cut", "at": 7}]}, "done.0.at"),
        ({"done": [{"key": "cut"}] * 501}, "done"),
        ({"due": "9999-12-31T23:59:59-14:00"}, "due"),
        ({"measures": [{"key": ["cut-length"], "text": "60"}]}, "measures.0.key"),
        ({"measures": [{"key": "stock-thickness", "text": ""}]}, "measures.0.text"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8" + "0" * 90}]}, "measures.0.text"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8", "zero_mm": 10**400}]}, "measures.0.zero_mm"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8", "zero_mm": [0]}]}, "measures.0.zero_mm"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8", "zero_mm": 3}]}, "measures.0.zero_mm"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8", "at": "9999-12-31T00:00:00Z"}]}, "measures.0.at"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8", "value": 10**400}]}, "measures.0.value"),
        ({"measures": [{"key": "stock-thickness", "text": "1.8", "gauge_name": "x" * 81}]}, "measures.0.gauge_name"),
        ({"title": "half\ud800"}, "title"),
        ({"note": "nought\0"}, "note"),
        ({"work": "moebius"}, "work"),
        ({"ticket": "x" * 21}, "ticket"),
        ({"surprise": 1}, "surprise"),
    ],
)
def test_a_spoilt_file_brings_in_nothing(ours: Shop, change: dict[str, Any], field: str) -> None:
    data = full_file(ours) | change
    before = Job.objects.count()
    answer = ours.send("post", "/jobs/import", data)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert Job.objects.count() == before
    assert ours.send("get", "/bench").status_code == 200


def test_a_clock_that_runs_ahead_elsewhere_is_taken_for_now(ours: Shop) -> None:
    data = full_file(ours)
    ahead = (timezone.now() + timedelta(hours=2)).isoformat()
    data["done"][0]["at"] = data["measures"][0]["at"] = ahead
    made = ours.send("post", "/jobs/import", data).json()
    assert all(datetime.fromisoformat(row["at"]) <= timezone.now() for row in [*made["done"], *made["measures"]])
