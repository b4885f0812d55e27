"""A job as it is read: with what belongs to it, in a bounded number of queries."""

from __future__ import annotations

from django.db.models import Prefetch, prefetch_related_objects

from ringcraft.works import WORKS
from workshop.jobs.models import Job, JobPhoto, JointLook, Measure, StepDone

MOST_ON_SLIP = 12


def _belongings() -> tuple[Prefetch[str], ...]:
    return (
        Prefetch("steps_done", StepDone.objects.select_related("by")),
        Prefetch("measures", Measure.objects.select_related("by")),
        Prefetch("photos", JobPhoto.objects.select_related("photo__by")),
        Prefetch("looks", JointLook.objects.select_related("by")),
    )


def one_job(workshop_id: int, job_id: int) -> Job:
    """One job of a workshop with what belongs to it; raises DoesNotExist."""
    return Job.objects.filter(workshop_id=workshop_id).prefetch_related(*_belongings()).get(pk=job_id)


def whole(job: Job) -> Job:
    """A job that was just changed with what belongs to it looked at again; its plan is not read anew."""
    prefetch_related_objects([job], *_belongings())
    return job


def steps_of(job: Job) -> Job:
    """A job with its steps done looked at again, and nothing else."""
    prefetch_related_objects([job], _belongings()[0])
    return job


def together(job: Job) -> tuple[int, ...]:
    """The open jobs of the same customer that came in as it did, this one first: one slip for all."""
    if job.work not in WORKS or not WORKS[job.work].comes_in:
        return ()
    others = Job.objects.filter(workshop_id=job.workshop_id, work=job.work, closed_at__isnull=True).exclude(pk=job.pk)
    if job.customer_id:
        others = others.filter(customer_id=job.customer_id)
    elif job.customer_name:
        others = others.filter(customer_name=job.customer_name)
    else:
        return (job.pk,)
    return (job.pk, *others.order_by("number").values_list("pk", flat=True)[: MOST_ON_SLIP - 1])
