from typing import Any

import pytest

from tests.workshop.conftest import Shop
from workshop.jobs.actions import Taken, take_measure, tick_step
from workshop.jobs.models import Job


def full_file(shop: Shop) -> dict[str, Any]:
    job = shop.job(size="UK N", metal="gold-9k-rose")
    tick_step(shop.doer, job, "measure-stock", True)
    tick_step(shop.doer, job, "square-end", True)
    take_measure(shop.doer, job, Taken("stock-thickness", "1.9"))
    take_measure(shop.doer, job, Taken("size-rounded", "N", gauge_name="long mandrel"))
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
        ({"measures": [{"key": "stock-thickness", "text": "💍", "at": "2026-01-01T00:00:00Z"}]}, "text"),
        ({"done": [{"key": "cut", "at": "then"}]}, "done.0.at"),
    ],
)
def test_a_spoilt_file_brings_in_nothing(ours: Shop, change: dict[str, Any], field: str) -> None:
    data = full_file(ours) | change
    before = Job.objects.count()
    answer = ours.send("post", "/jobs/import", data)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert Job.objects.count() == before
