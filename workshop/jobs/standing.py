"""Where a job stands: its next step, what waits, what is left, and the shape it has by now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from datetime import datetime, timedelta

from ringcraft.routes import Step
from ringcraft.scheduling import OpenJob
from ringcraft.work.kept import KeptPlanError
from workshop.jobs.models import Job, OnTheBench, StepDone
from workshop.jobs.plans import kept_plan

BENCH_COLUMNS = [field.name for field in OnTheBench._meta.get_fields()]


@dataclass(frozen=True)
class Standing:
    """A job's place on the bench. ``waiting`` is the step that runs by itself until ``ready_at``."""

    next_key: str
    next_title: str
    station: str
    torch: bool
    next_wait_min: float
    hands_left_min: float
    wait_left_min: float
    steps_left: int
    ready_at: datetime | None
    waiting: str
    shape: str


STANDS = [field.name for field in fields(Standing)]


def standing(route: Sequence[Step], done: Mapping[str, datetime]) -> Standing:
    """Where a route stands, from its steps and the times they were done."""
    left = [step for step in route if step.key not in done]
    shape = "strip"
    for step in route:
        if step.key in done and step.becomes:
            shape = step.becomes
    if not left:
        return Standing("", "Done", "hand-over", False, 0, 0, 0, 0, None, "", shape)
    following = left[0]
    ready_at, waiting = _wait_before(route, following.key, done)
    return Standing(
        next_key=following.key,
        next_title=following.title,
        station=following.station,
        torch=following.torch,
        next_wait_min=following.wait_min,
        hands_left_min=sum(step.hands_min for step in left),
        wait_left_min=sum(step.wait_min for step in left),
        steps_left=len(left),
        ready_at=ready_at,
        waiting=waiting,
        shape=shape,
    )


def _wait_before(route: Sequence[Step], next_key: str, done: Mapping[str, datetime]) -> tuple[datetime | None, str]:
    before: Step | None = None
    for step in route:
        if step.key == next_key:
            break
        before = step
    if before is None or not before.wait_min or before.key not in done:
        return None, ""
    try:
        return done[before.key] + timedelta(minutes=before.wait_min), before.key
    except OverflowError:
        return None, ""  # a time at the end of the calendar: no wait can follow it


def steps_done(job: Job) -> dict[str, StepDone]:
    """The last time of each step of the job's own route; what was taken back or done on another is not in."""
    rows = [row for row in job.steps_done.all() if row.route_key == job.route_key and row.taken_back_at is None]
    return {row.key: row for row in sorted(rows, key=lambda row: row.nth)}


def done_times(job: Job) -> dict[str, datetime]:
    """When each of those steps was last done."""
    return {key: row.at for key, row in steps_done(job).items()}


def place_on_bench(job: Job) -> None:
    """Work out what the bench shows of a job and set it on the row; a plan that cannot be read is named there."""
    try:
        plan = kept_plan(job)
    except KeptPlanError as problem:
        job.trouble = problem.message[:240]
        return
    for part in (plan.on_bench(), standing(plan.route, done_times(job))):
        for field in fields(part):
            setattr(job, field.name, getattr(part, field.name))
    job.trouble = ""
    job.summary, job.next_title = plan.summary[:240], job.next_title[:200]


def standing_of(job: Job) -> Standing:
    """Where a job stands, from its own columns."""
    return Standing(**{name: getattr(job, name) for name in STANDS})


def open_job(job: Job, stands: Standing) -> OpenJob:
    """The job as the scheduling knows it."""
    return OpenJob(
        id=job.pk,
        name=job.name,
        due=job.due,
        step=stands.next_key,
        title=stands.next_title,
        station=stands.station,
        torch=stands.torch,
        step_wait_min=stands.next_wait_min,
        hands_left_min=stands.hands_left_min,
        wait_left_min=stands.wait_left_min,
        ready_at=stands.ready_at,
    )
