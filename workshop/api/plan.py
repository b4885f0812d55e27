"""Planning without saving: the same objects as the command line."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Body, Router

from ringcraft.commands import SizeRequest, size_of
from ringcraft.sizes import FingerSize
from ringcraft.styles import AnyRing, plan_ring
from ringcraft.styles.base import RingPlan
from workshop.api.problems import Problem

router = Router()


@router.post("/size", response={200: FingerSize, 422: Problem}, operation_id="plan_size")
def plan_size(request: HttpRequest, asked: Body[SizeRequest]) -> FingerSize:
    """Read a finger size."""
    return size_of(asked)


@router.post("/ring", response={200: RingPlan, 422: Problem}, operation_id="plan_ring")
def plan_a_ring(request: HttpRequest, order: Body[AnyRing]) -> RingPlan:
    """Plan a ring."""
    return plan_ring(order)
