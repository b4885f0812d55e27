"""What is seen of a job's joints is a history: each look is a row that is added, and the newest of a step holds."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.heat.torch import Torches
from ringcraft.joint.asking import JointSeen
from ringcraft.metals import SOLDERS
from ringcraft.schema import to_json
from ringcraft.work.joining import look_keys
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.sheets import JoinSheet
from ringcraft.works import sheet_of
from workshop.core.history import Actor, record
from workshop.jobs.details import checked_time
from workshop.jobs.locking import locked
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job, JointLook
from workshop.jobs.plans import followed, kept_plan, looks_of, work_of
from workshop.jobs.progress import stand_as_measured, times_done

MOST_LOOKS = 400  # at one job: more is a script, no eye


@transaction.atomic
def keep_look(actor: Actor, job: Job | int, step_key: str, seen: JointSeen | None, at: datetime | None = None) -> Job:
    """Keep what is seen of a joint, or say with None that what was kept of it does not hold. Answers the job then.

    Raises BadRequest at its field: for a step that is no joint, or a solder that it cannot be made with.
    """
    at = checked_time(at, "at")
    row = locked(actor, job)
    try:
        plan = kept_plan(row)
    except KeptPlanError as problem:
        raise BadRequest([problem.at("key")]) from None
    if step_key not in look_keys(plan):
        raise BadRequest([UnknownNameError("key", f"“{step_key[:60]}” is no joint of this job.", "")])
    if row.looks.count() >= MOST_LOOKS:
        raise BadRequest([OutOfRangeError("key", "Looked at more often than a joint can be.", "")])
    said = to_json(seen) if seen else {}
    before = newest_look(row, step_key)
    if before is None and seen is None:
        return row
    values = values_of(row)
    was = followed(row, values).wrong
    JointLook.objects.create(
        job=row,
        route_key=row.route_key,
        step_key=step_key,
        seen=said,
        at=at,
        turn=row.turns,
        by_id=actor.user_id,
    )
    now = stand_as_measured(row, values)
    wrong = now.wrong if now else ""
    if wrong and wrong != was:
        raise BadRequest([CraftError("solder", wrong, "")])
    title = next(step.title for step in plan.route if step.key == step_key)
    record(
        actor,
        row,
        "joint-seen",
        before.seen if before else {},
        {**said, **_named(seen), "step": step_key, "title": title},
    )
    return row


def _named(seen: JointSeen | None) -> dict[str, str]:
    """The solder that was chosen, as a history tells it."""
    return {"with": SOLDERS[seen.solder].title} if seen and seen.solder else {}


def looks_now(job: Job) -> list[JointLook]:
    """The looks that hold for a job: the newest of each step of its own route, in the order they were taken."""
    newest = {row.step_key: row for row in job.looks.all() if row.route_key == job.route_key}
    return [row for row in newest.values() if row.seen]


def newest_look(job: Job, step_key: str) -> JointLook | None:
    """The look that holds at a step, if one does."""
    return next((row for row in looks_now(job) if row.step_key == step_key), None)


def joint_sheet(job: Job, step_key: str, torches: Torches) -> JoinSheet | None:
    """What a step of a job opens; None for one that is no joint and no heat. Raises KeptPlanError, CraftError."""
    times: dict[str, int] = {}
    for row in times_done(job):
        times[row.key] = times.get(row.key, 0) + 1
    return sheet_of(work_of(job), job.order, kept_plan(job), values_of(job), looks_of(job), step_key, times, torches)
