"""One job, held for a change."""

from __future__ import annotations

from workshop.core.history import Actor
from workshop.jobs.models import Job


def locked(actor: Actor, job: Job | int) -> Job:
    """One job of the actor's workshop as it stands now, held until the transaction ends; raises DoesNotExist."""
    pk = job if isinstance(job, int) else job.pk
    return Job.objects.select_for_update().get(pk=pk, workshop_id=actor.workshop_id)
