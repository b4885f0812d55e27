"""Planning without saving: the same objects as the command line."""

from __future__ import annotations

from functools import reduce
from operator import or_

from django.http import HttpRequest
from ninja import Body, Router
from pydantic import SerializeAsAny

from ringcraft.comparing import CompareRequest, Comparison, compare
from ringcraft.day.answer import DayAnswer, answer_day
from ringcraft.day.asking import DayRequest
from ringcraft.following.answers import SizeAnswers
from ringcraft.heat.answer import AnyHeat, HeatAnswer, answer_heat
from ringcraft.joint.answer import AnyJoint, JointAnswer, answer_joint
from ringcraft.measure.asking import SizeRequest, size_of
from ringcraft.measure.charts import AChart, CheckedChart, check_chart
from ringcraft.measure.gauges import AGauge, GaugeFit, fit_gauge
from ringcraft.measure.sizes import FingerSize
from ringcraft.own_routes import OwnRoute, RouteRequest, try_route
from ringcraft.parts.answer import PartPlan, PartRequest, answer_part
from ringcraft.planning.own import OwnFigures
from ringcraft.practice.plan import AnyPractice, PracticePlan, plan_practice
from ringcraft.resize.plan import AnyResize, ResizePlan, plan_resize
from ringcraft.shorthand import Shorthand, ShorthandRequest, read_shorthand
from ringcraft.sizes_read import AnyJudge, answer_judge
from ringcraft.stock.cutting.answer import answer_cut
from ringcraft.stock.cutting.asking import AnyCut
from ringcraft.stock.cutting.shapes import CutPlan
from ringcraft.stock.melt.alloying import AlloyPlan, AlloyRequest, answer_alloy
from ringcraft.stock.melt.melting import AnyMelt, MeltPlan, answer_melt
from ringcraft.stock.mill.asking import AnyMill, AnyThin
from ringcraft.stock.mill.passes import MillPlan, answer_mill
from ringcraft.stock.mill.thinning import ThinPlan, answer_thin
from ringcraft.styles import AnyRing, plan_ring
from ringcraft.styles.base import RingPlan
from ringcraft.works import WORKS
from workshop.api.signed_in import person, shop
from workshop.api.ways import WaysOf
from workshop.people.preferences import preferences_of

router = Router(by_alias=True)  # a deed of a step has a field called "with"
#: A plan as every style answers it; what a style has beside is answered too, the schema says what all have.
AnyRingPlan = SerializeAsAny[RingPlan]
#: The plan of a job of any kind of work.
AnyWorkPlan = SerializeAsAny[reduce(or_, [work.shape for work in WORKS.values()])]  # type: ignore[misc]


@router.post("/size", response=FingerSize, operation_id="plan_size")
def plan_size(request: HttpRequest, asked: Body[SizeRequest]) -> FingerSize:
    """Read a finger size."""
    return size_of(asked)


@router.post("/ring", response=AnyRingPlan, operation_id="plan_ring")
def plan_a_ring(request: HttpRequest, order: Body[AnyRing], ways_of: WaysOf = "") -> RingPlan:
    """Plan a ring."""
    return plan_ring(order)


@router.post("/resize", response=ResizePlan, operation_id="plan_resize")
def plan_a_resize(request: HttpRequest, order: Body[AnyResize], ways_of: WaysOf = "") -> ResizePlan:
    """Plan the resizing of a ring."""
    return plan_resize(order)


@router.post("/practice", response=PracticePlan, operation_id="plan_practice")
def plan_a_practice(request: HttpRequest, order: Body[AnyPractice], ways_of: WaysOf = "") -> PracticePlan:
    """Plan a practice."""
    return plan_practice(order)


@router.post("/part", response=PartPlan, operation_id="plan_part")
def plan_a_part(request: HttpRequest, order: Body[PartRequest]) -> PartPlan:
    """Plan a part for a top by itself."""
    return answer_part(order)


@router.post("/joint", response=JointAnswer, operation_id="plan_joint")
def plan_a_joint(request: HttpRequest, order: Body[AnyJoint]) -> JointAnswer:
    """What to do at a joint as it is seen."""
    return answer_joint(order)


@router.post("/judge", response=SizeAnswers, operation_id="plan_judge")
def plan_a_judgement(request: HttpRequest, asked: Body[AnyJudge], ways_of: WaysOf = "") -> SizeAnswers:
    """What follows from a size that was read."""
    return answer_judge(asked)


@router.post("/heat", response=HeatAnswer, operation_id="plan_heat")
def plan_a_heat(request: HttpRequest, order: Body[AnyHeat]) -> HeatAnswer:
    """What a ring in the flame takes and reaches."""
    return answer_heat(order)


@router.post("/cut", response=CutPlan, operation_id="plan_cut")
def plan_a_cut(request: HttpRequest, asked: Body[AnyCut]) -> CutPlan:
    """Which blanks from which pieces of stock."""
    return answer_cut(asked)


@router.post("/mill", response=MillPlan, operation_id="plan_mill")
def plan_a_mill(request: HttpRequest, asked: Body[AnyMill]) -> MillPlan:
    """Roll a bar down, pass by pass."""
    return answer_mill(asked)


@router.post("/thin", response=ThinPlan, operation_id="plan_thin")
def plan_a_thin(request: HttpRequest, asked: Body[AnyThin]) -> ThinPlan:
    """Thin a bar in one place; where to stop."""
    return answer_thin(asked)


@router.post("/melt", response=MeltPlan, operation_id="plan_melt")
def plan_a_melt(request: HttpRequest, asked: Body[AnyMelt]) -> MeltPlan:
    """How much scrap some blanks take."""
    return answer_melt(asked)


@router.post("/alloy", response=AlloyPlan, operation_id="plan_alloy")
def plan_an_alloy(request: HttpRequest, asked: Body[AlloyRequest]) -> AlloyPlan:
    """What to add to some metal for a fineness."""
    return answer_alloy(asked)


@router.post("/day", response=DayAnswer, operation_id="plan_day")
def plan_day(request: HttpRequest, asked: Body[DayRequest]) -> DayAnswer:
    """What to do when, of a bench that is told whole."""
    return answer_day(asked)


@router.post("/gauge", response=GaugeFit, operation_id="plan_gauge")
def plan_gauge(request: HttpRequest, asked: Body[AGauge]) -> GaugeFit:
    """Fit a gauge."""
    return fit_gauge(asked)


@router.post("/chart", response=CheckedChart, operation_id="plan_chart")
def plan_chart(request: HttpRequest, asked: Body[AChart]) -> CheckedChart:
    """Check a printed chart."""
    return check_chart(asked)


@router.post("/compare", response=Comparison, operation_id="plan_compare")
def plan_compare(request: HttpRequest, asked: Body[CompareRequest], ways_of: WaysOf = "") -> Comparison:
    """Two orders side by side."""
    return compare(asked)


@router.post("/route", response=OwnRoute, operation_id="plan_route")
def plan_a_route(request: HttpRequest, asked: Body[RouteRequest]) -> OwnRoute:
    """A style's steps with a shop's changes and its own minutes, and what they break."""
    minutes = OwnFigures(minutes=preferences_of(person(request), shop(request)).step_minutes)
    return try_route(asked, minutes.minutes_of())


@router.post("/shorthand", response=Shorthand, operation_id="plan_shorthand")
def plan_shorthand(request: HttpRequest, asked: Body[ShorthandRequest]) -> Shorthand:
    """Read a shorthand line, with completions and what is wrong where."""
    return read_shorthand(asked)
