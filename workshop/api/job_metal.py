"""The metal of a job: where its blanks can come from, what was cut for it, how hard it is, what it has lost."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from ringcraft.errors import BadRequest
from ringcraft.metals import BLADES
from ringcraft.units import Length
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.losses import Losses, losses, weighed_by
from workshop.api.jobs import jobs_of, one_job
from workshop.api.signed_in import person, shop
from workshop.jobs.measures import values_of
from workshop.jobs.plans import followed
from workshop.people.preferences import preferences_of
from workshop.stock.demand import cut_for, open_blanks
from workshop.stock.offers import BlankStock, DrawerNow
from workshop.stock.solder import SolderTaken, solder_taken

router = Router()


class CutFrom(Schema):
    """A blank that was booked: from which piece, how long, when, by whom."""

    item_id: int
    called: str
    blank: str
    length_text: str
    mass_g: float
    at: datetime
    by: str
    batch: str


class JobMetal(Schema):
    """The metal of a job."""

    cut: list[CutFrom]
    solder: list[SolderTaken]
    wanted: list[BlankStock]
    losses: Losses | None


@router.get("/{int:job_id}/metal", response=JobMetal, operation_id="job_metal")
def metal_of(request: HttpRequest, job_id: int) -> dict[str, Any]:
    """The metal of a job, from the drawer to the scale."""
    job, ways = one_job(request, job_id), preferences_of(person(request), shop(request))
    values = values_of(job)
    try:
        plan = followed(job, values).now
    except KeptPlanError as problem:
        raise BadRequest([problem.at("plan")]) from None
    drawer = DrawerNow(shop(request).pk, BLADES[ways.blade], ways.units)
    blanks = open_blanks(jobs_of(request).filter(pk=job.pk, closed_at__isnull=True))
    return {
        "cut": [
            {
                "item_id": row.item_id,
                "called": row.item.called,
                "blank": row.blank,
                "length_text": "" if not row.length_mm else f"{Length(-float(row.length_mm), ways.units):.1f}",
                "mass_g": -float(row.mass_g),
                "at": row.at,
                "by": str(row.by or ""),
                "batch": row.batch,
            }
            for row in cut_for(job.pk).select_related("item", "by")
        ],
        "solder": solder_taken(job.pk),
        "wanted": [drawer.stock_for(blank) for blank in blanks if not blank.ticked],
        "losses": losses(plan, values.get(weighed_by(plan))),
    }
