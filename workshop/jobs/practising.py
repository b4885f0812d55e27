"""A practice as it has come so far, and one's own scatter from it put in force."""

from __future__ import annotations

from typing import cast

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.practice.judging import Rounds, rounds_of
from ringcraft.practice.plan import PracticePlan
from ringcraft.work.kept import KeptPlanError
from ringcraft.works import PRACTICE
from workshop.core.history import Actor
from workshop.jobs.locking import locked
from workshop.jobs.measures import measures_now
from workshop.jobs.models import Job
from workshop.jobs.plans import kept_plan
from workshop.people.keeping import set_some
from workshop.people.models import User, Workshop
from workshop.people.preferences import preferences_of

SAME_MM = 1e-6  # of a scatter: a figure that was offered is that very figure


def rounds_so_far(job: Job, user: User, workshop: Workshop) -> Rounds:
    """The rounds of a practice as this person sees them; raises BadRequest where a job is none, or cannot be read."""
    if job.work != PRACTICE.key:
        raise BadRequest([UnknownNameError("work", "This job is no practice.", "Open one from the bench.")])
    try:
        plan = cast(PracticePlan, kept_plan(job))
    except KeptPlanError as problem:
        raise BadRequest([problem]) from None
    rows = measures_now(job)
    values = {key: float(row.value) for key, row in rows.items() if row.value is not None}
    mine = [key for key, row in rows.items() if row.by_id == user.pk]
    return rounds_of(plan, values, mine, preferences_of(user, workshop).cutting_spread_mm)


@transaction.atomic
def take_hand(
    actor: Actor, workshop: Workshop, user: User, job_id: int, seen_mm: float, version: int | None, units: str
) -> None:
    """Put one's own scatter in cutting in force, as a practice has shown it.

    Raises BadRequest where the practice says another thing by now, or offers nothing; Stale where the ways were set
    meanwhile.
    """
    job = locked(actor, job_id)
    hand = rounds_so_far(job, user, workshop).hand
    if hand is None or not hand.suggest:
        raise BadRequest([CraftError("sd_mm", "This practice offers nothing.", "See what it says.")])
    if not abs(hand.sd_mm - seen_mm) <= SAME_MM:
        raise BadRequest([CraftError("sd_mm", "The practice says another thing by now.", "Look at it again.")])
    set_some(actor, user, version, {"cutting_spread_mm": round(hand.sd_mm, 3)}, units)
