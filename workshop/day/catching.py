"""Jobs that were kept before the day knew their steps are worked out anew, beside the requests."""

from __future__ import annotations

from django.db.models import QuerySet

from workshop.jobs import catching_up
from workshop.jobs.models import Job
from workshop.jobs.progress import place_on_bench


def catch_up() -> int:
    """Work out what is left of the open jobs that do not say it yet; how many that were."""
    return catching_up.catch_up(_waiting, _reckon, "what is left")


def _waiting(jobs: QuerySet[Job]) -> QuerySet[Job]:
    return jobs.filter(closed_at=None, left={}, trouble="")


def _reckon(job: Job) -> None:
    place_on_bench(job)
    job.save()
