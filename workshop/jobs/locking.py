"""Jobs, held for a change."""

from __future__ import annotations

from collections.abc import Iterable

from workshop.core.history import Actor
from workshop.core.holding import hold, hold_one
from workshop.jobs.models import Job


def locked(actor: Actor, job: Job | int) -> Job:
    """One job of the actor's workshop as it stands now, held until the transaction ends; raises DoesNotExist."""
    pk = job if isinstance(job, int) else job.pk
    return hold_one(Job.objects.filter(pk=pk, workshop_id=actor.workshop_id))


def hold_jobs(actor: Actor, jobs: Iterable[int | None]) -> None:
    """Hold these jobs of the actor's workshop until the transaction ends, in the order of their keys."""
    keys = sorted({pk for pk in jobs if pk is not None})
    if keys:
        hold(Job.objects.filter(pk__in=keys, workshop_id=actor.workshop_id))
