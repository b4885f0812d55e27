"""Where a job stands: worked out from its plan and its steps done, and kept in columns that the bench reads."""

from __future__ import annotations

import itertools
from collections.abc import Container, Mapping, Sequence
from dataclasses import fields
from datetime import datetime
from typing import Any

from django.dispatch import Signal

from ringcraft.day.kinds import bath_of, kind_of, left_steps
from ringcraft.following.day import OpenJob
from ringcraft.following.look_again import blooms, look_again
from ringcraft.following.progress import JobProgress, progress
from ringcraft.metals import ALL_METALS
from ringcraft.routes.steps import Step
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.plan import WorkPlan
from ringcraft.works import Followed
from workshop.jobs.models import Job, OnTheBench, StepDone
from workshop.jobs.plans import followed, kept_plan, moved_titles

#: Said of a job whose plan, measures or joints have changed, or that is open again, in the same transaction.
job_stands = Signal()
#: Said of a step that was done, and of one that was not done after all, in the same transaction.
step_ticked = Signal()
step_unticked = Signal()
BENCH_COLUMNS = [field.name for field in OnTheBench._meta.get_fields()]


STANDS = [field.name for field in fields(JobProgress)]


def steps_done(job: Job) -> dict[str, StepDone]:
    """The last time of each step of the job's own route; what was taken back, has to be done once more, or was done
    on another route is not in.
    """
    last = {row.key: row for row in sorted(times_done(job), key=lambda row: row.nth)}
    return {key: row for key, row in last.items() if row.once_more_at is None}


def heat_steps(route: Sequence[Step], key: str) -> list[str]:
    """The steps that are done once more with a heat: itself, and the pickling that follows it; empty for no heat."""
    at = next((place for place, step in enumerate(route) if step.key == key and step.is_heat), None)
    if at is None:
        return []
    after = itertools.takewhile(lambda step: step.station == "pickle", route[at + 1 :])
    return [key, *(step.key for step in after)]


def heats_of(job: Job, route: Sequence[Step]) -> int:
    """How many heats with solder the job has had."""
    heats = {step.key for step in route if step.is_heat}
    return sum(row.key in heats for row in times_done(job))


def times_done(job: Job) -> list[StepDone]:
    """Every time that a step of the job's own route was done; what was taken back is not in."""
    return [row for row in job.steps_done.all() if row.route_key == job.route_key and row.taken_back_at is None]


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
    rows = steps_done(job)
    waits = {key: row.ready_at for key, row in rows.items() if row.ready_at is not None}
    for part in (plan.on_bench(), progress(plan.route, done_times(job), plan.begins_as(), waits)):
        for field in fields(part):
            setattr(job, field.name, getattr(part, field.name))
    job.left = left_of(plan, rows)
    job.look_again = look_again(plan, done_times(job))
    job.trouble = ""
    job.summary, job.next_title = plan.summary[:240], job.moved.get(job.next_key, job.next_title)[:200]


def left_of(plan: WorkPlan, done: Container[str]) -> dict[str, Any]:
    """What is left of a route, as plain data for the plan of the day: the steps, and what a running wait is in."""
    steps = left_steps(plan.route, [step.key for step in plan.route if step.key in done], plan.metal.key)
    before = None
    for step in plan.route:
        if steps and step.key == steps[0].key:
            break
        before = step
    waits = kind_of(before) if before is not None and before.wait_min else ""
    bath = bath_of(plan.metal.key) if waits == "pickle" else ""
    metal = ALL_METALS.get(plan.metal.key)
    return {
        "waits": waits,
        "bath": bath,
        "blooms": metal is not None and blooms(metal),
        "steps": [list(vars(step).values()) for step in steps],
    }


def stand_as_measured(job: Job, values: Mapping[str, float]) -> Followed | None:
    """Work out and keep what the bench shows of a job with these measures; None where its plan cannot be read."""
    try:
        seen = followed(job, values)
    except KeptPlanError:
        seen = None
    job.moved = moved_titles(seen) if seen else {}
    place_on_bench(job)
    job.save()
    job_stands.send(Job, job=job)
    return seen


def progress_of(job: Job) -> JobProgress:
    """Where a job stands, from its own columns."""
    return JobProgress(**{name: getattr(job, name) for name in STANDS})


def open_job(job: Job, stands: JobProgress) -> OpenJob:
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
