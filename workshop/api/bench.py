"""The bench: every open job at its station, and what to do now."""

from __future__ import annotations

from datetime import datetime

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from ringcraft.scheduling import DayPlan, plan_day
from workshop.api.signed_in import doer
from workshop.jobs.models import Job
from workshop.jobs.standing import Standing, done_times, open_job, standing

router = Router()


class BenchRing(Schema):
    """A job on the bench, with what is needed to draw it in its metal and proportions."""

    id: int
    number: int
    name: str
    title: str
    customer_name: str
    due: datetime | None
    metal_family: str
    summary: str
    profile: str
    inside_mm: float
    thickness_mm: float
    width_mm: float
    cut_mm: float
    standing: Standing


class BenchOut(Schema):
    """The day along the bench."""

    now: datetime
    day: DayPlan
    rings: list[BenchRing]


def bench_ring(job: Job, stands: Standing) -> BenchRing:
    """A job as the bench draws it."""
    plan = job.plan
    return BenchRing(
        id=job.pk,
        number=job.number,
        name=job.name,
        title=job.title,
        customer_name=job.customer_name,
        due=job.due,
        metal_family=plan["metal"]["family"],
        summary=plan["summary"],
        profile=plan["section"]["profile"],
        inside_mm=plan["target"]["inside_diameter_mm"],
        thickness_mm=plan["section"]["thickness_mm"],
        width_mm=plan["section"]["width_mm"],
        cut_mm=plan["blanks"][0]["cut_length_mm"],
        standing=stands,
    )


@router.get("", response=BenchOut, operation_id="bench")
def bench(request: HttpRequest) -> BenchOut:
    """Every open job at its next station, in the order of work."""
    now = timezone.now()
    jobs = Job.objects.filter(workshop=doer(request).workshop, closed_at__isnull=True)
    stands = {
        job.pk: (job, standing(job.plan["route"], done_times(job)))
        for job in jobs.prefetch_related("steps_done").order_by("number")[:200]
    }
    open_jobs = tuple(open_job(job, place) for job, place in stands.values() if place.next_key)
    return BenchOut(
        now=now,
        day=plan_day(open_jobs, now),
        rings=[bench_ring(job, place) for job, place in stands.values()],
    )
