"""Following a ring that is resized: what was read at the bench, what follows for the plan, and what it means."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from ringcraft.following.inspection import Verdict
from ringcraft.following.judging import Tone
from ringcraft.measure.sizes import SCALES, Scale
from ringcraft.planning.sizing import HAIR_MM
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.case import LEAST_WALL_MM, SIDES_MM
from ringcraft.resize.plan import ResizePlan, plan_resize
from ringcraft.routes.steps import MeasureAsk
from ringcraft.units import Length

MOVES = ("size-now", "thinnest", "gap-inside", "kept-outside")
PINNED = ("true-first", "refuse")  # nothing is worked for these: their advice is asked for again
LEAST_WORN_MM = 0.2  # no shank is worn thinner than that: it is asked about, not worked in; our own judgement
Judgement = tuple[Tone, str]


@dataclass(frozen=True)
class Reading:
    """A measure [mm] before its judge: what was asked, the plan before and after it, all that was read."""

    ask: MeasureAsk
    value: float
    plan: ResizePlan
    now: ResizePlan
    measured: Mapping[str, float]

    @property
    def scale(self) -> Scale:
        """The scale that the wanted size is told on."""
        return SCALES.get(self.plan.target.read_as, SCALES["us"])

    @property
    def off_round_mm(self) -> float:
        """How much circumference [mm] a size is off what was expected."""
        return math.pi * (self.value - (self.ask.expected or self.value))

    def told(self, mm: float) -> str:
        """A length [mm] as this shop writes it."""
        return f"{Length(mm, self.plan.units):.2f}"

    def large(self, round_mm: float) -> str:
        """How far a size is off, in sizes and in length round."""
        sizes = abs(round_mm) / self.scale.circumference_per_size_mm
        return (
            f"{sizes:.2f} {self.scale.unit} {'large' if round_mm > 0 else 'small'}, {self.told(abs(round_mm))} round"
        )


def moves(order: ResizeRequest, measured: Mapping[str, float]) -> bool:
    """Whether what was measured changes the plan at all."""
    return bool(_believed(order, measured)) and order.method not in PINNED


def _believed(order: ResizeRequest, measured: Mapping[str, float]) -> dict[str, float]:
    """The measures that are worked in: no size read through daylight, no thinnest place that cannot be one."""
    out = {key: measured[key] for key in MOVES if key in measured}
    if measured.get("daylight-now"):
        out.pop("size-now", None)
    thin = out.get("thinnest")
    if thin is not None and not LEAST_WORN_MM <= thin <= order.shank.thickness_mm:
        out.pop("thinnest")
    return out


def as_measured(order: ResizeRequest, measured: Mapping[str, float]) -> ResizeRequest:
    """The same order with what was read at the bench in place of what was said at the counter."""
    held = _believed(order, measured)
    if "size-now" in held:
        order = replace(order, from_mm=held["size-now"], from_sides=None, daylight=False)
    if "thinnest" in held:
        order = replace(order, shank=replace(order.shank, thinnest_mm=held["thinnest"]))
    return order


def replan(order: ResizeRequest, plan: ResizePlan, measured: Mapping[str, float]) -> ResizePlan:
    """The plan for the ring as it was read, by the way that was chosen for it; raises CraftError where it cannot be.

    What is measured never changes the way under the saw.
    """
    way = replace(order, method=plan.method)
    return plan_resize(way if plan.method in PINNED else as_measured(way, measured))


def verdicts(plan: ResizePlan, now: ResizePlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of the job, in the order of its route."""
    asked = {ask.key: ask for step in now.route for ask in step.measure}
    out = []
    for key, ask in asked.items():
        if key in measured:
            tone, says = JUDGES[key.partition("@")[0]](Reading(ask, measured[key], plan, now, measured))
            out.append(Verdict(key, tone, says))
    return tuple(out)


def _size_now(one: Reading) -> Judgement:
    if one.measured.get("daylight-now"):
        return "act", "read through daylight: true it first, nothing follows from this yet"
    if one.plan.method in PINNED:
        return (
            "note",
            f"it reads {one.plan.sides.from_text if abs(one.off_round_mm) < HAIR_MM else 'so'}: say it on the sheet",
        )
    if abs(one.off_round_mm) <= HAIR_MM:
        return "good", f"as it was said at the counter: {one.now.lead.figure} {one.now.lead.unit}"
    before, after = one.plan.lead, one.now.lead
    then = (
        f"{after.figure} {after.unit}, not {before.figure}"
        if after != before
        else f"{after.figure} {after.unit} still"
    )
    return "act" if after != before else "note", f"{one.large(one.off_round_mm)} against the counter: {then}"


def _thinnest(one: Reading) -> Judgement:
    planned = one.ask.expected or one.value
    if one.value > one.plan.section.thickness_mm:
        return "act", "thicker than the shank was said to be: read both again"
    if one.value < LEAST_WORN_MM:
        return "act", "no shank is worn that thin: read it again"
    if one.value < LEAST_WALL_MM and one.plan.method != "reshank":
        return "act", f"under {Length(LEAST_WALL_MM, one.plan.units):.1f}: what is worn thin is replaced, not sized"
    if abs(one.value - planned) < 0.05:
        return "good", "as it was said at the counter"
    return "note", f"{one.told(abs(one.value - planned))} {'thinner' if one.value < planned else 'thicker'} than said"


def _daylight(one: Reading) -> Judgement:
    if one.value:
        return "act", "true it first: no size is read through daylight"
    return "good", "round: read it"


def _claws(one: Reading) -> Judgement:
    if one.value:
        return "good", "nothing moves"
    return "act", "tighten what moves before it goes back"


def _rounded(one: Reading) -> Judgement:
    if one.measured.get("daylight"):
        return "act", "daylight under it: true it first, what is not round reads small"
    off = one.off_round_mm
    if abs(off) <= HAIR_MM:
        return "good", f"as planned: {one.ask.expected_text}"
    inserted = one.plan.method in ("add-stock", "reshank")
    if off > 0:
        joint = "one of its seams" if inserted else "the joint"
        return "act", f"{one.large(off)}: saw {joint} through again, or take a die to it if it is plain"
    why, else_ = (
        ("the piece was short", "a longer one in") if inserted else ("too much went out of it", "a slip of stock in")
    )
    return "act", f"{one.large(off)}: {why}; stretch it if it is plain, else set {else_}"


def _side(one: Reading) -> Judgement:
    sides = [one.measured[key] for key in ("size-side-a", "size-side-b") if key in one.measured]
    if len(sides) == 2 and math.pi * abs(sides[0] - sides[1]) > SIDES_MM:
        return "act", "its two sides are more than a quarter of a US size apart: true it"
    off = one.off_round_mm
    if abs(off) <= HAIR_MM:
        return "good", f"{one.ask.expected_text}, within a sixteenth of a US size"
    return "act", f"{one.large(off)}: not what was asked for"


def _stock(side: str) -> Callable[[Reading], Judgement]:
    def judge(one: Reading) -> Judgement:
        off = one.value - (one.ask.expected or one.value)
        if off < -0.02:
            return "act", f"{one.told(-off)} {side} than the shank: it would stand back at both seams"
        if off > 0.02:
            return "note", f"{one.told(off)} more than the shank: filed down to it after"
        return "good", "as the shank"

    return judge


def _cut(one: Reading) -> Judgement:
    off = one.value - (one.ask.expected or one.value)
    if abs(off) < 0.05:
        return "good", "as marked"
    if off > 0:
        return "note", f"{one.told(off)} long: file to the line"
    inside = one.now.wanted_mm + off / math.pi
    return "act", f"{one.told(-off)} short: the ring would come out at {one.scale.text(inside, one.scale.fine_step)}"


#: Who judges a measure of a ring that is resized, by its key.
JUDGES: dict[str, Callable[[Reading], Judgement]] = {
    "size-now": _size_now,
    "thinnest": _thinnest,
    "daylight-now": _daylight,
    "daylight": _daylight,
    "claws": _claws,
    "size-rounded": _rounded,
    "size-side-a": _side,
    "size-side-b": _side,
    "stock-thickness": _stock("thinner"),
    "stock-width": _stock("narrower"),
    "cut-length": _cut,
}
