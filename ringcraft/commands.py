"""The commands of the contract: plain JSON data in, a typed result out.

Each imports what it works with when it is called, so that a size is read without waiting for twelve styles, and one
that is written plainly without waiting for their schemas.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from ringcraft.errors import BadRequest, CraftError
from ringcraft.measure.sizes import SCALES, FingerSize, read_size

if TYPE_CHECKING:
    from ringcraft.day.answer import DayAnswer
    from ringcraft.following.answers import SizeAnswers
    from ringcraft.heat.answer import HeatAnswer
    from ringcraft.joint.answer import JointAnswer
    from ringcraft.learning.answer import Learnt
    from ringcraft.learning.diagnosing import Diagnosis
    from ringcraft.measure.charts import CheckedChart
    from ringcraft.measure.gauges import GaugeFit
    from ringcraft.parts.answer import PartPlan
    from ringcraft.practice.plan import PracticePlan
    from ringcraft.resize.plan import ResizePlan
    from ringcraft.stock.cutting.shapes import CutPlan
    from ringcraft.stock.melt.alloying import AlloyPlan
    from ringcraft.stock.melt.melting import MeltPlan
    from ringcraft.stock.mill.passes import MillPlan
    from ringcraft.stock.mill.thinning import ThinPlan
    from ringcraft.styles.base import RingPlan


def size(data: object) -> FingerSize:
    """Read a finger size from ``{"text": ..., "scale": ...}``; raises BadRequest."""
    try:
        if isinstance(data, dict) and _is_plain(data):
            try:
                return read_size(data["text"], data.get("scale"))
            except CraftError as problem:
                raise problem.at("text") from None
        return _size_by_schema(data)
    except CraftError as problem:
        raise BadRequest([problem]) from None


def _is_plain(data: dict[str, object]) -> bool:
    """Whether a size is asked for in so many words: text, and a scale by its key."""
    text = data.get("text")
    return set(data) <= {"text", "scale"} and isinstance(text, str) and text.isprintable() and (
        data.get("scale", "us") in SCALES
    )  # fmt: skip


def _size_by_schema(data: object) -> FingerSize:
    from pydantic import TypeAdapter

    from ringcraft.measure.asking import SizeRequest, size_of
    from ringcraft.schema import read_request

    return size_of(read_request(TypeAdapter(SizeRequest), data))


def gauge(data: object) -> GaugeFit:
    """Fit a gauge from ``{"scale": ..., "readings": [...]}``; raises BadRequest."""
    from pydantic import TypeAdapter

    from ringcraft.measure.gauges import AGauge, fit_gauge
    from ringcraft.schema import read_request

    try:
        return fit_gauge(read_request(TypeAdapter(AGauge), data))
    except CraftError as problem:
        raise BadRequest([problem]) from None


def chart(data: object) -> CheckedChart:
    """Check a printed chart from ``{"rows": [...]}``; raises BadRequest with each bad row."""
    from pydantic import TypeAdapter

    from ringcraft.measure.charts import AChart, check_chart
    from ringcraft.schema import read_request

    return check_chart(read_request(TypeAdapter(AChart), data))


def ring(data: object) -> RingPlan:
    """Plan a ring from an order; raises BadRequest."""
    from ringcraft import styles

    return styles.ring(data)


def resize(data: object) -> ResizePlan:
    """Plan the resizing of a ring; raises BadRequest."""
    from ringcraft.resize import plan

    return plan.resize(data)


def practice(data: object) -> PracticePlan:
    """Plan a practice: one thing in rounds, each read; raises BadRequest."""
    from ringcraft.practice import plan

    return plan.practice(data)


def part(data: object) -> PartPlan:
    """Plan a part for a top; raises BadRequest."""
    from ringcraft.parts import answer

    return answer.part(data)


def judge(data: object) -> SizeAnswers:
    """What follows from a size that was read; raises BadRequest."""
    from ringcraft import sizes_read

    return sizes_read.judge(data)


def joint(data: object) -> JointAnswer:
    """What to do at a joint as it is seen; raises BadRequest."""
    from ringcraft.joint import answer

    return answer.joint(data)


def heat(data: object) -> HeatAnswer:
    """What a ring in the flame takes and reaches; raises BadRequest."""
    from ringcraft.heat import answer

    return answer.heat(data)


def cut(data: object) -> CutPlan:
    """Which blanks from which pieces of stock; raises BadRequest."""
    from ringcraft.stock.cutting import answer

    return answer.cut(data)


def mill(data: object) -> MillPlan:
    """Roll a bar down, pass by pass; raises BadRequest."""
    from ringcraft.stock.mill import passes

    return passes.mill(data)


def thin(data: object) -> ThinPlan:
    """Thin a bar in one place; raises BadRequest."""
    from ringcraft.stock.mill import thinning

    return thinning.thin(data)


def melt(data: object) -> MeltPlan:
    """How much scrap some blanks take; raises BadRequest."""
    from ringcraft.stock.melt import melting

    return melting.melt(data)


def alloy(data: object) -> AlloyPlan:
    """What to add to some metal for a fineness; raises BadRequest."""
    from ringcraft.stock.melt import alloying

    return alloying.alloy(data)


def learn(data: object) -> Learnt:
    """What a shop's rings teach of its own neutral line; raises BadRequest."""
    from ringcraft.learning import answer

    return answer.learn(data)


def diagnose(data: object) -> Diagnosis:
    """Why a ring came out wrong; raises BadRequest."""
    from ringcraft.learning import diagnosing

    return diagnosing.diagnose(data)


def day(data: object) -> DayAnswer:
    """What to do when; raises BadRequest."""
    from ringcraft.day import answer

    return answer.day(data)


COMMANDS: dict[str, Callable[[object], object]] = {
    "size": size,
    "gauge": gauge,
    "chart": chart,
    "ring": ring,
    "practice": practice,
    "resize": resize,
    "part": part,
    "judge": judge,
    "joint": joint,
    "heat": heat,
    "cut": cut,
    "mill": mill,
    "thin": thin,
    "melt": melt,
    "alloy": alloy,
    "learn": learn,
    "diagnose": diagnose,
    "day": day,
}
