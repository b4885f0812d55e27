"""A step put at a time in the plan by hand, and let go again."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError
from workshop.core.history import Actor
from workshop.day.models import Pin
from workshop.day.taking import tell
from workshop.jobs.locking import locked
from workshop.people.models import bench_people

FURTHEST = timedelta(days=30)
MOST_PINS = 200


@transaction.atomic
def pin(actor: Actor, job_id: int, key: str, at: datetime | None, person_id: int | None) -> None:
    """Put a step at a time, for a person; without a time it is let go. Raises BadRequest."""
    job = locked(actor, job_id)
    if key not in {row[0] for row in job.left.get("steps", ())}:
        hint = "See what is next on its card."
        raise BadRequest([UnknownNameError("key", "That step is not left to be done.", hint)])
    rows = Pin.objects.filter(job=job, route_key=job.route_key, key=key)
    if at is None:
        if rows.delete()[0]:
            tell(actor, job, "unpinned", key)
        return
    if at.tzinfo is None:
        raise BadRequest([OutOfRangeError("at", "That time has no time zone.", "End it with Z or +01:00.")])
    now = timezone.now()
    if not now - timedelta(minutes=1) <= at <= now + FURTHEST:
        raise BadRequest([OutOfRangeError("at", "The plan does not reach there.", "From now to thirty days on.")])
    able = bench_people(actor.workshop_id)
    person = able.filter(pk=person_id).first() if person_id is not None else None
    if person_id is not None and person is None:
        raise BadRequest([UnknownNameError("person_id", "That person does not work here.", "")])
    if not rows.exists() and Pin.objects.filter(workshop_id=actor.workshop_id).count() >= MOST_PINS:
        raise BadRequest([OutOfRangeError("key", "So many pins leave nothing to plan.", "Let some go.")])
    Pin.objects.update_or_create(
        job=job,
        route_key=job.route_key,
        key=key,
        defaults={"workshop_id": actor.workshop_id, "at": at, "person": person, "by_id": actor.user_id},
    )
    tell(actor, job, "pinned", key)
