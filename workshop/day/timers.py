"""Waits that run by themselves: pot, cooling, glue, tumbler. They stand in the database, so no reload ends them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from ringcraft.day.kinds import WAITS
from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError
from workshop.core.history import Actor
from workshop.day import minutes
from workshop.day.taking import tell
from workshop.jobs.locking import locked
from workshop.jobs.models import Job, StepDone
from workshop.jobs.progress import place_on_bench

MOST_MORE_MIN = 24 * 60
MOST_TIMERS = 400


@dataclass(frozen=True)
class Timer:
    """A wait of a job: what it is in, and when it ends."""

    id: int
    job_id: int
    name: str
    kind: str
    says: str
    ends_at: datetime


def running(workshop_id: int) -> list[Timer]:
    """The waits that nobody answered yet, the soonest first, of jobs that stand at the bench."""
    jobs = Job.objects.filter(workshop_id=workshop_id, closed_at=None, ready_at__isnull=False, place="")
    rows = jobs.exclude(waiting="").order_by("ready_at", "pk")
    columns = ("pk", "title", "customer_name", "waiting", "ready_at", "left", "route_key")
    found = {job.pk: job for job in rows.only(*columns)[:MOST_TIMERS]}
    done = StepDone.objects.filter(
        job_id__in=list(found), taken_back_at=None, once_more_at=None, answered_at=None, ready_at__isnull=False
    )
    out = []
    for row in done.order_by("ready_at", "pk"):
        job = found[row.job_id]
        if row.key != job.waiting or row.route_key != job.route_key or row.ready_at is None:
            continue
        kind = str(job.left.get("waits") or "work")
        says = WAITS.get(kind, "waiting")
        out.append(Timer(row.pk, job.pk, job.name, kind, says, row.ready_at))
    return out


@transaction.atomic
def answer(actor: Actor, timer_id: int) -> None:
    """Say that a wait is over: it is out of the pot, it is cool. Once is enough."""
    job, row = _held(actor, timer_id)
    if row.answered_at is not None:
        return
    now = timezone.now()
    row.answered_at, row.answered_by_id = now, actor.user_id
    minutes.answered(job, row, now)
    if row.ready_at is not None and row.ready_at > now:
        row.ready_at = now  # out before its time: what comes next can begin
    row.save(update_fields=["answered_at", "answered_by", "ready_at"])
    place_on_bench(job)
    job.save()
    tell(actor, job, "timer-answered", row.key)


@transaction.atomic
def more(actor: Actor, timer_id: int, more_min: float) -> None:
    """Let a wait run on so many minutes from now, or from its end; raises BadRequest."""
    if not 1 <= more_min <= MOST_MORE_MIN:
        raise BadRequest([OutOfRangeError("minutes", "No wait runs on for that long.", "From 1 to 1440 minutes.")])
    job, row = _held(actor, timer_id)
    if row.ready_at is None:
        raise BadRequest([UnknownNameError("minutes", "Nothing waits there.", "")])
    row.ready_at = max(row.ready_at, timezone.now()) + timedelta(minutes=more_min)
    row.answered_at = row.answered_by_id = None
    row.save(update_fields=["answered_at", "answered_by", "ready_at"])
    place_on_bench(job)
    job.save()
    tell(actor, job, "timer-longer", row.key)


def passed(job: Job, done: StepDone) -> None:
    """The waits before a step that was ticked are over, whoever forgot to say so; they teach nothing."""
    StepDone.objects.filter(
        job=job, route_key=job.route_key, answered_at=None, ready_at__isnull=False, at__lt=done.at
    ).update(answered_at=done.at, answered_by_id=done.by_id)


def _held(actor: Actor, timer_id: int) -> tuple[Job, StepDone]:
    row = StepDone.objects.get(pk=timer_id, job__workshop_id=actor.workshop_id)
    job = locked(actor, row.job_id)
    held = StepDone.objects.get(pk=timer_id)
    if held.taken_back_at is not None or held.once_more_at is not None or job.waiting != held.key:
        raise BadRequest([UnknownNameError("timer", "That wait is over already.", "")])
    return job, held
