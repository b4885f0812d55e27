"""What a job is going to cost; what several rings share."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.responses import Status

from ringcraft.money.estimate import Estimate, EstimateLine, as_asked
from ringcraft.resize.batch import Batch, BatchRing, batch_of
from ringcraft.resize.plan import ResizePlan
from ringcraft.work.kept import KeptPlanError
from workshop.api.jobs import jobs_of, one_job
from workshop.api.signed_in import actor, person, who_may
from workshop.api.worth import in_force
from workshop.core.pages import page_of
from workshop.jobs.estimates import estimate_for, keep_estimate
from workshop.jobs.models import KeptEstimate
from workshop.jobs.plans import kept_plan
from workshop.people.roles import sees_prices

router = Router()
batch = Router()
MOST_TOGETHER = 60  # rings of one batch: the swap table grows with their square


class EstimateIn(Schema):
    """In which metal, where that is another than the order's."""

    metal: str = ""


class KeptEstimateOut(Schema):
    """An estimate as it was given."""

    nth: int
    metal: str
    currency: str
    lines: list[EstimateLine]
    missing: list[str]
    total: str
    at: datetime
    by: str


class EstimatesOut(Schema):
    """What the job costs by the prices in force, and the estimates that were given, newest first."""

    now: Estimate
    kept: list[KeptEstimateOut]


class BatchOut(Schema):
    """The open rings that came in, by name, what they share, and whose piece could serve which."""

    names: dict[int, str]
    count: int
    left_out: int
    batch: Batch


def lines_seen(request: HttpRequest, row: KeptEstimate) -> list[dict[str, Any]]:
    """The lines of an estimate that was given, without what they were reckoned from where that is not to be seen."""
    priced = sees_prices(person(request))
    return [line if priced else {**line, "why": ""} for line in row.lines]


def _kept(request: HttpRequest, row: KeptEstimate) -> dict[str, Any]:
    plain = {name: getattr(row, name) for name in ("nth", "metal", "currency", "missing", "at")}
    return {**plain, "lines": lines_seen(request, row), "total": row.total_text, "by": str(row.by or "")}


def estimate_seen(request: HttpRequest, estimate: Estimate) -> Estimate:
    """An estimate as who asks may see it."""
    return estimate if sees_prices(person(request)) else as_asked(estimate)


def _answer(request: HttpRequest, job_id: int, metal: str) -> dict[str, Any]:
    job = one_job(request, job_id)
    prices = in_force(request)
    kept = job.estimates.select_related("by").order_by("-nth")
    now = estimate_seen(request, estimate_for(job, prices, metal))
    return {"now": now, "kept": [_kept(request, row) for row in kept]}


@router.get("/{int:job_id}/estimate", auth=who_may("estimate"), response=EstimatesOut, operation_id="read_estimate")
def read_estimate(request: HttpRequest, job_id: int, metal: str = "") -> dict[str, Any]:
    """What a job costs by the prices in force, in its own metal or in another."""
    return _answer(request, job_id, metal)


@router.post(
    "/{int:job_id}/estimate", auth=who_may("estimate"), response={201: EstimatesOut}, operation_id="keep_estimate"
)
def give_estimate(request: HttpRequest, job_id: int, body: EstimateIn) -> Status[object]:
    """Keep an estimate as it is given now."""
    prices = in_force(request)
    keep_estimate(actor(request), one_job(request, job_id), prices, body.metal)
    return Status(201, _answer(request, job_id, body.metal))


@batch.get("", response=BatchOut, operation_id="read_batch")
def read_batch(request: HttpRequest) -> dict[str, Any]:
    """The open rings that came in: what they share, and whose piece could serve whose gap."""
    found = jobs_of(request).filter(work="resize", closed_at__isnull=True)
    page = page_of(found, ("due", "number"), MOST_TOGETHER, 0)
    rings = []
    for job in page.items:
        try:
            plan = kept_plan(job)
        except KeptPlanError:
            continue
        if isinstance(plan, ResizePlan):
            rings.append(BatchRing(job.pk, job.name, plan))
    return {
        "names": {ring.id: ring.name for ring in rings},
        "count": page.count,
        "left_out": page.count - len(rings),
        "batch": batch_of(rings),
    }
