"""The bench: every open job at its station or where it is instead, and what to do now."""

from __future__ import annotations

import logging
from dataclasses import dataclass, fields
from datetime import date, datetime, timedelta

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router
from pydantic import TypeAdapter

from ringcraft.following.day import DayPlan, OpenJob, plan_day
from ringcraft.following.look_again import WHY
from ringcraft.following.progress import JobProgress
from workshop.api.signed_in import shop
from workshop.jobs.models import Job
from workshop.jobs.progress import BENCH_COLUMNS, open_job, progress_of

log = logging.getLogger(__name__)
router = Router()
UNRECKONED = "Its dates cannot be reckoned with."
LOOK_AHEAD, LOOK_UNTIL = timedelta(days=3), timedelta(days=14)
MOST_LOOKS = 12
MOST_DRAWN = 400  # more rings than that cannot be told apart on a line; how many are left out is said


@dataclass(frozen=True)
class BenchRing:
    """A job on the bench, with what it takes to draw it; ``place`` is where it is instead."""

    id: int
    number: int
    ticket: str
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
    place: str
    place_note: str
    place_until: date | None
    standing: JobProgress


OF_JOB = [field.name for field in fields(BenchRing) if field.name != "standing"]
COLUMNS = {*BENCH_COLUMNS, *OF_JOB} - {"name"}  # a job's name is put together from its title and its customer's


@dataclass(frozen=True)
class LookAgain:
    """A finished ring that is looked at once more on a date; ``due`` once that has come."""

    id: int
    number: int
    name: str
    on: datetime
    due: bool
    why: str


@dataclass(frozen=True)
class Troubled:
    """A job that cannot stand on the bench, and why."""

    id: int
    number: int
    name: str
    says: str


@dataclass(frozen=True)
class BenchOut:
    """The day along the bench. ``open_count`` is of all open jobs; ``not_drawn`` of those left out of ``rings``.

    ``ever`` is false in a workshop that never had a job.
    """

    now: datetime
    day: DayPlan
    rings: tuple[BenchRing, ...]
    open_count: int
    not_drawn: int
    troubled: tuple[Troubled, ...]
    looks: tuple[LookAgain, ...]
    more_looks: int
    ever: bool


_WRITER: TypeAdapter[BenchOut] = TypeAdapter(BenchOut)


def bench_ring(job: Job, stands: JobProgress) -> BenchRing:
    """A job as the bench draws it."""
    return BenchRing(**{name: getattr(job, name) for name in OF_JOB}, standing=stands)


@router.get("", response=BenchOut, operation_id="bench")
def bench(request: HttpRequest) -> HttpResponse:
    """Every open job at its next station, in the order of work. One bad job is named and hurts no other.

    Written straight from its types: a validator between would take longer than the database.
    """
    now = timezone.now()
    jobs = Job.objects.filter(workshop=shop(request), closed_at__isnull=True).only(*COLUMNS).order_by("number")
    troubled = [Troubled(job.pk, job.number, job.name, job.trouble) for job in jobs if job.trouble]
    stands = {job.pk: (job, progress_of(job)) for job in jobs if not job.trouble}
    waiting = [open_job(job, place) for job, place in stands.values() if place.next_key and not job.place]
    try:
        day = plan_day(tuple(waiting), now)
    except (ArithmeticError, ValueError):
        good, bad = _sound(waiting, now)
        troubled += [Troubled(one.id, stands.pop(one.id)[0].number, one.name, UNRECKONED) for one in bad]
        day = plan_day(good, now)
    drawn = _drawn(stands, day)
    looks, more_looks = _looks(request, now)
    out = BenchOut(
        now=now,
        day=day,
        rings=tuple(bench_ring(job, place) for job, place in drawn),
        open_count=len(stands) + len(troubled),
        not_drawn=len(stands) - len(drawn),
        troubled=tuple(troubled),
        looks=looks,
        more_looks=more_looks,
        ever=bool(stands or troubled) or Job.objects.filter(workshop=shop(request)).exists(),
    )
    return HttpResponse(_WRITER.dump_json(out), content_type="application/json; charset=utf-8")


def _looks(request: HttpRequest, now: datetime) -> tuple[tuple[LookAgain, ...], int]:
    """The rings to be looked at again these days, and how many more there are: one that nobody looked at for weeks
    is at its owner's.
    """
    found = Job.objects.filter(
        workshop=shop(request), looked_at=None, look_again__gt=now - LOOK_UNTIL, look_again__lte=now + LOOK_AHEAD
    ).order_by("look_again", "number")
    rows = list(found.only("number", "title", "customer_name", "look_again")[: MOST_LOOKS + 1])
    more = found.count() - MOST_LOOKS if len(rows) > MOST_LOOKS else 0
    return tuple(
        LookAgain(job.pk, job.number, job.name, job.look_again, job.look_again <= now, WHY)
        for job in rows[:MOST_LOOKS]
        if job.look_again is not None
    ), more


def _sound(waiting: list[OpenJob], now: datetime) -> tuple[tuple[OpenJob, ...], list[OpenJob]]:
    """The jobs that can be reckoned with, and those whose dates break the reckoning."""
    good, bad = [], []
    for job in waiting:
        try:
            plan_day((job,), now)
            good.append(job)
        except (ArithmeticError, ValueError):
            log.exception("job %s cannot stand on the bench", job.id)
            bad.append(job)
    return tuple(good), bad


def _drawn(stands: dict[int, tuple[Job, JobProgress]], day: DayPlan) -> list[tuple[Job, JobProgress]]:
    """The jobs to draw: all of them, or the most pressing where there are too many for one line."""
    if len(stands) <= MOST_DRAWN:
        return list(stands.values())
    pressing = [place.id for place in day.order]
    rest = [pk for pk in stands if pk not in set(pressing)]
    return [stands[pk] for pk in [*pressing, *rest][:MOST_DRAWN]]
