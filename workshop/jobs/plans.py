"""The one door to a job's plan: as it was kept, whatever its age; or anew beside it, when asked for.

A job is opened once a request: what was read of its plan stays with the row, as long as it is still that plan and
those measures.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ringcraft.errors import BadRequest, CraftError
from ringcraft.routes.steps import Step
from ringcraft.schema import to_json
from ringcraft.work.joining import JointLook
from ringcraft.work.kept import KeptPlanError, compact
from ringcraft.work.plan import WorkPlan
from ringcraft.works import WORKS, Followed, Work, follow
from workshop.jobs.models import Job

_STEP: TypeAdapter[Step] = TypeAdapter(Step)


def work_of(job: Job) -> Work:
    """What kind of work a job is; raises KeptPlanError for one that this version does not know."""
    if job.work not in WORKS:
        raise KeptPlanError("work", f"This version does not know the work “{job.work[:20]}”.", "")
    return WORKS[job.work]


@dataclass
class _Opened:
    """What was read of a job: from which row's data, the plan, and what follows of which measures and looks."""

    data: object
    plan: WorkPlan
    seen: dict[str, Followed] = field(default_factory=dict)


def _opened(job: Job) -> _Opened:
    held: _Opened | None = job.opened
    if held is None or held.data is not job.plan:
        job.opened = held = _Opened(job.plan, work_of(job).kept(job.plan))
    return held


def kept_plan(job: Job) -> WorkPlan:
    """The plan as it was kept, in today's shape and with every figure as it was; raises KeptPlanError."""
    return _opened(job).plan


def followed(job: Job, values: Mapping[str, float]) -> Followed:
    """The plan then, the plan for what was measured, and what each measure says; raises KeptPlanError."""
    held, looks, asked = _opened(job), looks_of(job), _asked(job)
    key = repr((sorted(values.items()), sorted(looks.items()), sorted(asked)))
    if key not in held.seen:
        held.seen[key] = follow(work_of(job), job.order, held.plan, values, looks, asked)
    return held.seen[key]


def _asked(job: Job) -> dict[str, Step]:
    """The steps as they asked for what was read, by the measure's key: of this very plan, and the newest of each."""
    out: dict[str, Step] = {}
    of = _stamp(job)
    for row in job.measures.all():
        if row.route_key not in ("", job.route_key):
            continue
        out.pop(row.key, None)
        if row.asked and row.asked.get("of") == of:
            with contextlib.suppress(ValidationError):
                out[row.key] = _STEP.validate_python(row.asked["step"])
    return out


def asked_now(job: Job, values: Mapping[str, float], key: str, value: float) -> dict[str, Any] | None:
    """How the step of a measure asks for it, before it is kept; None where that reading moves no plan."""
    work = work_of(job)
    try:
        moves = work.moves(work.read(job.order), {key: value})
        step = next(one for one in followed(job, values).now.route for ask in one.measure if ask.key == key)
    except (BadRequest, CraftError, StopIteration):
        return None
    return {"of": _stamp(job), "step": to_json(replace(step, after={}))} if moves else None


def _stamp(job: Job) -> str:
    """What a job's plan follows from: its order and what planned it. Another name of the job changes neither."""
    return hashlib.sha256(f"{job.engine} {json.dumps(job.order, sort_keys=True)}".encode()).hexdigest()[:24]


def moved_titles(seen: Followed) -> dict[str, str]:
    """The titles of steps that read otherwise for what was measured, by key.

    Where the work stops, what it stops with stands in the place of every step beyond, and under no key alone.
    """
    then = {step.key: step.title for step in seen.plan.route}
    stop, on = seen.now.stops(), {step.key for step in seen.now.route}
    if stop:
        return {"": stop, **{key: stop for key in then if key not in on}}
    return {step.key: step.title for step in seen.now.route if then.get(step.key) not in (None, step.title)}


def looks_of(job: Job) -> Mapping[str, JointLook]:
    """What was kept of the joints of the job's own route, by step: the newest of each."""
    newest = {row.step_key: row for row in job.looks.all() if row.route_key == job.route_key}
    return {key: _look(row.seen) for key, row in newest.items() if row.seen}


def _look(seen: Mapping[str, Any]) -> JointLook:
    return JointLook(
        passes=seen.get("passes_made"),
        filed_mm=float(seen.get("filed_mm") or 0.0),
        solder=seen.get("solder") or "",
        gap_mm=float(seen.get("gap_mm") or 0.0),
        chip=seen.get("chip"),
    )


@dataclass(frozen=True)
class Beside:
    """The same order as today's rules plan it, beside the kept plan: the new plan and what became different."""

    plan: WorkPlan
    changes: tuple[str, ...]


def planned_anew(job: Job) -> Beside:
    """Plan a job's order by today's rules, keeping nothing; raises KeptPlanError, BadRequest or CraftError."""
    work = work_of(job)
    fresh = work.plan(work.read(job.order))
    try:
        kept = work.kept(job.plan)
    except KeptPlanError:
        return Beside(fresh, ("The kept plan cannot be read, so nothing can be compared.",))
    return Beside(fresh, tuple(_changes(kept, fresh)))


def _changes(kept: WorkPlan, fresh: WorkPlan) -> list[str]:
    then = {blank.name: blank for blank in kept.blanks}
    now = {blank.name: blank for blank in fresh.blanks}
    out = []
    if kept.main_figure() != fresh.main_figure() and not (then or now):
        out.append(f"{' '.join(fresh.main_figure())}, kept {' '.join(kept.main_figure())}")
    for name, blank in now.items():
        if name not in then:
            out.append(f"{blank.title}: {blank.cut_text} {blank.unit}, a piece that the kept plan does not have")
        elif blank.cut_text != then[name].cut_text:
            out.append(f"{blank.title}: {blank.cut_text} {blank.unit}, kept {then[name].cut_text}")
    out += [f"{then[name].title}: not cut any more" for name in then.keys() - now.keys()]
    return out or ["Every piece is cut to the same length."]


def plan_order(work: Work, order: object) -> WorkPlan:
    """The plan of a typed order; raises BadRequest."""
    try:
        return work.plan(order)
    except CraftError as problem:
        raise BadRequest([problem]) from None


def keep_plan(job: Job, plan: WorkPlan) -> None:
    """Set a fresh plan on a job's row."""
    job.plan = compact(plan)
    job.moved = {}
    job.plan_version = plan.plan_version
    job.route_key = plan.route_key()
    job.engine = plan.engine
