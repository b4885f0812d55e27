"""A step in somebody's hands: the others see it at once, and one of two who want it gets it."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError
from workshop.core.history import Actor
from workshop.core.models import Event
from workshop.day.leaving import is_here
from workshop.day.models import Took
from workshop.jobs.locking import locked
from workshop.jobs.models import Job

LEAST = timedelta(minutes=10)


def now_taken(workshop_id: int, now: datetime) -> list[Took]:
    """What is in somebody's hands now."""
    rows = Took.objects.filter(workshop_id=workshop_id, given_back_at=None, until__gt=now)
    return list(rows.select_related("by").order_by("at", "id")[:200])


@transaction.atomic
def take(actor: Actor, job_id: int, key: str) -> Took:
    """Take a step in hand; what the same person held before is given back. Raises BadRequest where another has it.

    The job is held while that is looked at: of two who take it at once, one gets it.
    """
    if actor.user_id is None:
        raise BadRequest([UnknownNameError("key", "Nobody is there to take it.", "Sign in first.")])
    job = locked(actor, job_id)
    if job.closed_at is not None or job.place:
        raise BadRequest([UnknownNameError("key", "That job is not at the bench.", "Say first that it is back.")])
    steps = {row[0]: row for row in job.left.get("steps", ())}
    if key not in steps:
        raise BadRequest(
            [UnknownNameError("key", "That step is not left to be done.", "See what is next on its card.")]
        )
    now = timezone.now()
    held = Took.objects.filter(job=job, route_key=job.route_key, key=key, given_back_at=None, until__gt=now)
    mine = None
    for row in held.select_related("by"):
        if row.by_id != actor.user_id:
            raise BadRequest([OutOfRangeError("key", f"{row.by} has it in hand.", "Ask, or take another.")])
        mine = row
    if mine is not None:
        return mine
    Took.objects.filter(by_id=actor.user_id, workshop_id=actor.workshop_id, given_back_at=None).update(
        given_back_at=now
    )
    span = max(LEAST, timedelta(minutes=2 * float(steps[key][4])))
    took = Took.objects.create(
        workshop_id=actor.workshop_id,
        job=job,
        route_key=job.route_key,
        key=key,
        by_id=actor.user_id,
        at=now,
        until=now + span,
    )
    is_here(actor.user_id)
    tell(actor, job, "took", key)
    return took


@transaction.atomic
def give_back(actor: Actor, job_id: int, key: str) -> None:
    """Give a step back that one has in hand; what another holds stays theirs."""
    job = locked(actor, job_id)
    mine = Took.objects.filter(job=job, key=key, by_id=actor.user_id, given_back_at=None)
    if mine.update(given_back_at=timezone.now()):
        tell(actor, job, "gave-back", key)


def let_go(job: Job, key: str) -> None:
    """A step that was ticked is in nobody's hands any more."""
    Took.objects.filter(job=job, route_key=job.route_key, key=key, given_back_at=None).update(
        given_back_at=timezone.now()
    )


def tell(actor: Actor, job: Job, what: str, key: str) -> None:
    """Keep what happened to a day, so that every screen of the workshop hears of it; the job's history does not."""
    Event.objects.create(
        workshop_id=actor.workshop_id,
        by_id=actor.user_id,
        kind="day",
        thing_id=job.pk,
        what=what,
        after={"step": key[:60]},
    )
