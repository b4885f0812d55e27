"""The command ``judge``: a size that was read on a ring of any kind of work, and what follows from it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.following.answers import STAGES, Differs, SizeAnswers, SizeRead, Stage, judge_size
from ringcraft.following.inspection import US_MM
from ringcraft.following.judging import Case, size_read
from ringcraft.resize import judging as resizing
from ringcraft.resize.plan import ResizePlan, plan_resize, read_resize
from ringcraft.routes.steps import MeasureAsk
from ringcraft.schema import IN_OWN_UNITS, Count, Mm, PositiveMm, UnitKey, name_of, read_request, request
from ringcraft.styles import plan_ring, read_ring
from ringcraft.styles.base import RingPlan
from ringcraft.units import Length

SMALLEST_MM, LARGEST_MM = 8.0, 40.0  # inside diameters that a mandrel reads
StageKey = name_of("stage", dict.fromkeys(STAGES))
#: Which reading of a plan a stage is held against.
ASKED: dict[Stage, tuple[str, ...]] = {
    "soldered": ("size-soldered", "size-rounded"),
    "round": ("size-rounded",),
    "fitted": ("size-finished", "size-soldered", "size-rounded"),
    "finished": ("size-finished", "size-side-b", "size-rounded"),
}


@request
class Known:
    """What is known to differ from the plan: length as cut, passes made, thickness, what the file took."""

    cut_mm: PositiveMm | None = None
    passes: Count | None = None
    thickness_mm: PositiveMm | None = None
    filed_mm: Mm | None = None


@request
class JudgeRequest:
    """A size that was read [mm inside] on a ring of an order, at a stage; ``sides`` are its two readings."""

    order: Annotated[dict[str, Any], Field(max_length=80)]
    stage: StageKey
    reading_mm: PositiveMm
    blank: Annotated[str, Field(max_length=60)] | None = None
    sides: tuple[PositiveMm, PositiveMm] | None = None
    daylight: bool = False
    known: Known = Known()
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what no mandrel reads."""
        for name, value in (
            ("reading_mm", self.reading_mm),
            *((f"sides.{n}", v) for n, v in enumerate(self.sides or ())),
        ):
            if not SMALLEST_MM <= value <= LARGEST_MM:
                raise OutOfRangeError(name, "{read:g mm} is no finger.", "The inside diameter, in mm.", read=value)


AnyJudge = Annotated[JudgeRequest, IN_OWN_UNITS]
_READER: TypeAdapter[JudgeRequest] = TypeAdapter(AnyJudge)


def judge(data: object) -> SizeAnswers:
    """From plain JSON data to what follows; raises BadRequest."""
    return answer_judge(read_request(_READER, data))


def answer_judge(asked: JudgeRequest) -> SizeAnswers:
    """What follows from a size that was read; raises BadRequest naming the field."""
    try:
        read = _of_resize(asked) if "from" in asked.order else _of_ring(asked)
    except CraftError as problem:
        raise BadRequest([problem]) from None
    except BadRequest as problem:
        raise BadRequest([one.at(f"order.{one.field}" if one.field else "order") for one in problem.errors]) from None
    sides = asked.sides
    apart = math.pi * abs(sides[0] - sides[1]) if sides else 0.0
    return judge_size(replace(read, daylight=asked.daylight, sides_apart_mm=apart))


def _as_made(order: Mapping[str, Any], known: Known, piece: str, stock: str) -> dict[str, Any]:
    """An order with what is known of the ring in place of what was planned."""
    out = dict(order)
    if known.passes is not None or known.filed_mm:
        out["made"] = [{"piece": piece, "passes": known.passes, "filed_mm": known.filed_mm or 0.0}]
    inner = out.get(stock)
    if known.thickness_mm is not None and isinstance(inner, Mapping):
        out[stock] = {**inner, "thickness_mm": known.thickness_mm}
    return out


def _asked(plan: RingPlan | ResizePlan, stage: Stage, blank: str | None) -> MeasureAsk | None:
    asks = {one.key: one for step in plan.route for one in step.measure}
    keys = [key for name in ASKED[stage] for key in ([f"{name}@{blank}"] if blank else [name])]
    return next((asks[key] for key in keys if key in asks), None)


def _of_ring(asked: JudgeRequest) -> SizeRead:
    stage: Stage = asked.stage
    made = _as_made(asked.order, asked.known, asked.blank or "", "stock")
    plan, planned = plan_ring(read_ring(made)), plan_ring(read_ring(asked.order))
    name = asked.blank or (plan.main_blank.name if plan.main_blank else "")
    found = next((one for one in plan.blanks if one.name == name), None)
    if found is None:
        can = ", ".join(one.name for one in plan.blanks)
        raise UnknownNameError("blank", f"There is no blank called “{name[:40]}”.", f"It can be {can}.")
    before = next((one for one in planned.blanks if one.name == name), found)
    ask = _asked(plan, stage, asked.blank) or _asked(plan, stage, None)
    expected = ask.expected if ask is not None and ask.expected is not None else plan.closing.inside_diameter_mm
    key: Literal["size-rounded", "size-soldered", "size-finished"] = (
        "size-rounded" if stage == "round" else "size-soldered" if stage == "soldered" else "size-finished"
    )
    at = MeasureAsk(key, "", "size", expected, "")
    cut = asked.known.cut_mm
    slips = (
        (_cut(cut - found.cut_length_mm, plan),) if cut is not None and abs(cut - found.cut_length_mm) > 0.05 else ()
    )
    case = Case(at, asked.reading_mm, planned, plan, before, found, asked.daylight, slips)
    return replace(size_read(case), stage=stage)


def _cut(off: float, plan: RingPlan) -> Differs:
    how = "long" if off > 0 else "short"
    much = f"{Length(abs(off), plan.used.units):.2f}"
    return Differs(off * plan.sensitivity.us_sizes_per_mm_length * US_MM, f"it was cut {much} {how}")


def _of_resize(asked: JudgeRequest) -> SizeRead:
    stage: Stage = asked.stage
    made = _as_made(asked.order, asked.known, "ring", "shank")
    plan = plan_resize(read_resize(made))
    ask = _asked(plan, stage, None)
    expected = plan.wanted_mm if ask is None or ask.expected is None else ask.expected
    at = MeasureAsk("size-rounded", "", "size", expected, plan.target.text)
    measured = {"cut-length@insert": asked.known.cut_mm} if asked.known.cut_mm is not None else {}
    one = resizing.Reading(at, asked.reading_mm, plan, plan, measured)
    return replace(resizing.size_read(one, "round"), stage=stage)
