"""What a job is going to cost, by the prices in force; an estimate that was given is kept as it was."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.db.models import Max

from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.metals import METALS
from ringcraft.money.estimate import Estimate, estimate_of
from ringcraft.money.prices import Prices
from ringcraft.schema import to_json
from ringcraft.work.plan import WorkPlan
from workshop.core.history import Actor, record
from workshop.jobs.locking import locked
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job, KeptEstimate
from workshop.jobs.plans import followed, plan_order, work_of


def estimate_for(job: Job, prices: Prices, metal: str = "") -> Estimate:
    """The estimate of a job, for the stock as measured; in another metal, for the same order in that.

    Raises KeptPlanError, or BadRequest where the order cannot be made of it.
    """
    return estimate_of(_plan(job, metal), prices)


def _plan(job: Job, metal: str) -> WorkPlan:
    if not metal:
        return followed(job, values_of(job)).now
    if metal not in METALS:
        raise BadRequest(
            [UnknownNameError("metal", "That metal is not known here.", f"It can be {', '.join(METALS)}.")]
        )
    work = work_of(job)
    if work.comes_in:
        raise BadRequest([UnknownNameError("metal", "A ring that came in is of its own metal.", "Leave it out.")])
    data: dict[str, Any] = {**job.order, "metal": metal}
    try:
        return plan_order(work, work.read(data))
    except CraftError as problem:
        raise BadRequest([problem]) from None


@transaction.atomic
def keep_estimate(actor: Actor, job: Job | int, prices: Prices, metal: str = "") -> KeptEstimate:
    """Keep an estimate as it is given now; those before it stay."""
    row = locked(actor, job)
    made = estimate_for(row, prices, metal)
    data = to_json(made)
    last = row.estimates.aggregate(last=Max("nth"))["last"] or 0
    kept = KeptEstimate.objects.create(
        job=row,
        nth=last + 1,
        metal=made.metal,
        currency=made.currency,
        lines=data["lines"],
        missing=data["missing"],
        total=made.total,
        total_text=made.total,
        by_id=actor.user_id,
    )
    record(actor, row, "estimated", after={"total": f"{made.total} {made.currency}", "metal": made.metal})
    return kept
