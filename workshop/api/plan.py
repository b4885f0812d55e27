"""Planning without saving: the same objects as the command line."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Body, Router
from pydantic import SerializeAsAny

from ringcraft.comparing import CompareRequest, Comparison, compare
from ringcraft.heat.answer import AnyHeat, HeatAnswer, answer_heat
from ringcraft.joint.answer import AnyJoint, JointAnswer, answer_joint
from ringcraft.measure.asking import SizeRequest, size_of
from ringcraft.measure.charts import AChart, CheckedChart, check_chart
from ringcraft.measure.gauges import AGauge, GaugeFit, fit_gauge
from ringcraft.measure.sizes import FingerSize
from ringcraft.resize.plan import AnyResize, ResizePlan, plan_resize
from ringcraft.shorthand import Shorthand, ShorthandRequest, read_shorthand
from ringcraft.styles import AnyRing, plan_ring
from ringcraft.styles.base import RingPlan

router = Router(by_alias=True)  # a deed of a step has a field called "with"
#: A plan as every style answers it; what a style has beside is answered too, the schema says what all have.
AnyRingPlan = SerializeAsAny[RingPlan]
#: The plan of a job of any kind of work.
AnyWorkPlan = SerializeAsAny[RingPlan | ResizePlan]


@router.post("/size", response=FingerSize, operation_id="plan_size")
def plan_size(request: HttpRequest, asked: Body[SizeRequest]) -> FingerSize:
    """Read a finger size."""
    return size_of(asked)


@router.post("/ring", response=AnyRingPlan, operation_id="plan_ring")
def plan_a_ring(request: HttpRequest, order: Body[AnyRing]) -> RingPlan:
    """Plan a ring."""
    return plan_ring(order)


@router.post("/resize", response=ResizePlan, operation_id="plan_resize")
def plan_a_resize(request: HttpRequest, order: Body[AnyResize]) -> ResizePlan:
    """Plan the resizing of a ring."""
    return plan_resize(order)


@router.post("/joint", response=JointAnswer, operation_id="plan_joint")
def plan_a_joint(request: HttpRequest, order: Body[AnyJoint]) -> JointAnswer:
    """What to do at a joint as it is seen."""
    return answer_joint(order)


@router.post("/heat", response=HeatAnswer, operation_id="plan_heat")
def plan_a_heat(request: HttpRequest, order: Body[AnyHeat]) -> HeatAnswer:
    """What a ring in the flame takes and reaches."""
    return answer_heat(order)


@router.post("/gauge", response=GaugeFit, operation_id="plan_gauge")
def plan_gauge(request: HttpRequest, asked: Body[AGauge]) -> GaugeFit:
    """Fit a gauge."""
    return fit_gauge(asked)


@router.post("/chart", response=CheckedChart, operation_id="plan_chart")
def plan_chart(request: HttpRequest, asked: Body[AChart]) -> CheckedChart:
    """Check a printed chart."""
    return check_chart(asked)


@router.post("/compare", response=Comparison, operation_id="plan_compare")
def plan_compare(request: HttpRequest, asked: Body[CompareRequest]) -> Comparison:
    """Two orders side by side."""
    return compare(asked)


@router.post("/shorthand", response=Shorthand, operation_id="plan_shorthand")
def plan_shorthand(request: HttpRequest, asked: Body[ShorthandRequest]) -> Shorthand:
    """Read a shorthand line, with completions and what is wrong where."""
    return read_shorthand(asked)
