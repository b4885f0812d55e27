"""Planning without saving: the same objects as the command line."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Body, Router

from ringcraft.charts import ChartRequest, CheckedChart, check_chart
from ringcraft.commands import SizeRequest, size_of
from ringcraft.gauges import GaugeFit, GaugeRequest, fit_gauge
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


@router.post("/gauge", response={200: GaugeFit, 422: Problem}, operation_id="plan_gauge")
def plan_gauge(request: HttpRequest, asked: Body[GaugeRequest]) -> GaugeFit:
    """Fit a gauge."""
    return fit_gauge(asked)


@router.post("/chart", response={200: CheckedChart, 422: Problem}, operation_id="plan_chart")
def plan_chart(request: HttpRequest, asked: Body[ChartRequest]) -> CheckedChart:
    """Check a printed chart."""
    return check_chart(asked)
