"""A job as the screens and the papers see it: the plan then, the plan for the stock as measured."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ringcraft.errors import BadRequest, CraftError
from ringcraft.following import replan, sets_the_plan, verdicts
from ringcraft.styles import AnyPlan, read_ring
from ringcraft.styles.base import RingPlan
from workshop.jobs.models import Job

_PLAN: TypeAdapter[RingPlan] = TypeAdapter(AnyPlan)


def measured(job: Job) -> dict[str, float]:
    """The measures of a job: key to value [mm or g]."""
    return {measure.key: float(measure.value) for measure in job.measures.all()}


def plan_then(job: Job) -> RingPlan:
    """The plan as it was kept; one from an engine whose shape has changed since is made again."""
    try:
        return _PLAN.validate_python(job.plan)
    except ValidationError:
        return replan(read_ring(job.order), {})


def plan_now(job: Job, values: Mapping[str, float]) -> tuple[RingPlan, str]:
    """The plan for the stock as measured, and what is wrong where that stock cannot be."""
    then = plan_then(job)
    try:
        order = read_ring(job.order)
        return (replan(order, values) if sets_the_plan(order, values) else then), ""
    except (CraftError, BadRequest) as problem:
        error = problem.errors[0] if isinstance(problem, BadRequest) else problem
        return then, f"{error.message} {error.hint}".strip()


def as_followed(job: Job) -> dict[str, Any]:
    """The two plans and what each measure says."""
    values = measured(job)
    then = plan_then(job)
    now, wrong = plan_now(job, values)
    return {
        "plan": then,
        "now": now,
        "wrong": wrong,
        "verdicts": list(verdicts(then, now, values)),
    }
