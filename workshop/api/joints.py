"""The joints and the heats of a job: what a step opens, and what is kept of it."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Body, Router, Schema

from ringcraft.errors import BadRequest, UnknownNameError
from ringcraft.joint.asking import JointSeen
from ringcraft.joint.chips import Amount
from ringcraft.schema import IN_OWN_UNITS, to_json
from ringcraft.work.fields import fields_of
from ringcraft.work.joining import SeamLine
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.sheets import AnnealView, SheetChoice, ViewChoice
from workshop.api.job_shapes import JobOut
from workshop.api.jobs import answered, one_job
from workshop.api.signed_in import actor, done_at, person, shop
from workshop.jobs import joints
from workshop.people.preferences import preferences_of

router = Router(by_alias=True)
AnySeen = Annotated[JointSeen, IN_OWN_UNITS]


class LookIn(Schema):
    """A joint as it is seen; null says that what was kept of it does not hold."""

    seen: AnySeen | None


class KeptLook(Schema):
    """A look that was kept: what was seen as the asker's shop would type it, by dotted paths; when and by whom."""

    fields: dict[str, str]
    at: datetime
    by: str


class SheetOut(Schema):
    """What a step opens. ``joint`` and ``heat`` are requests to plan with, all that is known filled in."""

    step: str
    joint_title: str
    solder: str
    solders: list[SheetChoice]
    joint: dict[str, Any] | None
    heat: dict[str, Any] | None
    seams: list[SeamLine]
    reckoned: str
    fluxes: list[SheetChoice]
    anneal: AnnealView | None
    apart_mm: float
    amounts: list[Amount]
    metal_says: str
    views: list[ViewChoice]
    tried: list[SheetChoice]
    kept: KeptLook | None


@router.get("/{int:job_id}/joints/{key}", response=SheetOut, operation_id="read_joint")
def read_joint(request: HttpRequest, job_id: int, key: str) -> dict[str, Any]:
    """What a step of a job opens: its joint, its heat or its annealing."""
    job = one_job(request, job_id)
    ways = preferences_of(person(request), shop(request))
    try:
        sheet = joints.joint_sheet(job, key, ways.torches)
    except KeptPlanError as problem:
        raise BadRequest([problem.at("key")]) from None
    if sheet is None:
        raise BadRequest([UnknownNameError("key", f"“{key[:60]}” is no joint and no heat of this job.", "")])
    look = joints.newest_look(job, key)
    kept = {"fields": fields_of(look.seen, ways.units), "at": look.at, "by": str(look.by or "")} if look else None
    return {
        **vars(sheet),
        "joint": to_json(sheet.joint) if sheet.joint else None,
        "heat": to_json(sheet.heat) if sheet.heat else None,
        "kept": kept,
    }


@router.put("/{int:job_id}/joints/{key}", response=JobOut, operation_id="keep_joint")
def keep_joint(request: HttpRequest, job_id: int, key: str, body: Body[LookIn]) -> dict[str, Any]:
    """Keep what is seen of a joint; the looks before it stay in the history."""
    return answered(request, joints.keep_look(actor(request), job_id, key, body.seen, done_at(request)))
