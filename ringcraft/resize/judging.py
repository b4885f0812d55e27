"""Following a ring that is resized: what was read at the bench, what follows for the plan, and what it means."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from ringcraft.errors import CraftError
from ringcraft.following.answers import Differs, SizeRead, Stage, in_words, judge_size, sizes_words
from ringcraft.following.inspection import Verdict
from ringcraft.following.judging import PLAUSIBLE, Tone
from ringcraft.measure.sizes import SCALES, Scale
from ringcraft.metals import ALL_METALS, BLADES
from ringcraft.parts.adding import overrides
from ringcraft.parts.base import ROLE
from ringcraft.planning.blank import Blank
from ringcraft.planning.sizing import HAIR_MM
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.case import LEAST_WALL_MM
from ringcraft.resize.inserts import FAR_OFF_MM
from ringcraft.resize.methods import METHODS
from ringcraft.resize.plan import ResizePlan, plan_resize, stopped_plan
from ringcraft.routes.steps import MeasureAsk
from ringcraft.units import Length

MOVES = ("size-now", "thinnest", "gap-inside", "kept-outside")
OF_THE_GAP = ("gap-inside", "kept-outside")
PINNED = ("true-first", "refuse")  # nothing is worked for these: their advice is asked for again
CUT_SLIP_MM = 0.05  # of a length that was cut: less is as marked
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
        how = "large" if round_mm > 0 else "small"
        return f"{sizes_words(round_mm, self.scale)} {how}, {self.told(abs(round_mm))} round"


def moves(order: ResizeRequest, measured: Mapping[str, float]) -> bool:
    """Whether what was measured changes the plan at all."""
    return bool(_believed(order, measured) or _of_parts(order, measured)) and order.method not in PINNED


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
    if "gap-inside" in held:
        order = replace(order, gap_inside_mm=held["gap-inside"])
    if "kept-outside" in held:
        order = replace(order, kept_outside_mm=held["kept-outside"])
    for place, field, value in _of_parts(order, measured):
        part = replace(order.parts[place], **{field: value})
        order = replace(order, parts=(*order.parts[:place], part, *order.parts[place + 1 :]))
    return order


def _of_parts(order: ResizeRequest, measured: Mapping[str, float]) -> list[tuple[int, str, float]]:
    """What was measured of the stock of its parts: the part, its field, the value; what cannot be it is left out."""
    out = []
    for key, path in overrides(order.parts).items():
        _, place, field = path.split(".")
        said = getattr(order.parts[int(place)], field, None)
        if key in measured and (not said or abs(measured[key] - said) <= PLAUSIBLE * said):
            out.append((int(place), field, measured[key]))
    return out


def replan(order: ResizeRequest, plan: ResizePlan, measured: Mapping[str, float]) -> ResizePlan:
    """The plan for the ring as it was read, by the way that was chosen for it; raises CraftError where it cannot be.

    What is measured never changes the way under the saw: where it leaves that way no sense the plan stops, says so
    and offers what fits now. A reading of the opened ring that cannot be is asked about, not worked in.
    """
    way = replace(order, method=plan.method)
    if plan.method in PINNED:
        return plan_resize(way)
    planned = {ask.key: ask.expected for step in plan.route for ask in step.measure}
    read = as_measured(way, {k: v for k, v in measured.items() if k not in OF_THE_GAP or _near(v, planned.get(k))})
    doing = METHODS[plan.method].doing
    try:
        now = plan_resize(read)
        if _as_wanted(plan, now):
            return stopped_plan(replace(read, method=None), doing, "")
        return now
    except CraftError as problem:
        field = problem.field
        if field in ("gap_inside_mm", "kept_outside_mm"):
            return replan(order, plan, {key: value for key, value in measured.items() if key not in OF_THE_GAP})
        if field not in ("method", "override_reason"):
            raise
        why = problem.message.partition(": ")[2].rstrip(".") if field == "override_reason" else ""
        return stopped_plan(replace(read, method=None), doing, f"{why[:1].lower()}{why[1:]}")


def _as_wanted(plan: ResizePlan, now: ResizePlan) -> bool:
    """Whether it reads as it was wanted, as finely as a mandrel reads, where it was to be cut: it is left alone."""
    return METHODS[plan.method].torch and abs(now.change_mm) < HAIR_MM <= abs(plan.change_mm)


def _near(value: float, planned: float | None) -> bool:
    """Whether a reading of the opened ring is one of it at all."""
    return planned is not None and abs(value - planned) <= FAR_OFF_MM


def verdicts(plan: ResizePlan, now: ResizePlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of the job, in the order of its route."""
    asked = {ask.key: ask for step in now.route for ask in step.measure}
    out = []
    for key, ask in asked.items():
        if key in measured:
            judge = _of_part if _part_of(now, key) else JUDGES[key.partition("@")[0]]
            tone, says = judge(Reading(ask, measured[key], plan, now, measured))
            out.append(Verdict(key, tone, says))
    return tuple(out)


def _part_of(plan: ResizePlan, key: str) -> Blank | None:
    """The part for the top that a measure is of."""
    name = key.partition("@")[2]
    return next((one for one in plan.blanks if one.name == name and one.role == ROLE), None)


def _of_part(one: Reading) -> Judgement:
    """A measure of a part: its stock moves what is marked of it, its length is as it was marked or it is not."""
    now = _part_of(one.now, one.ask.key)
    then = _part_of(one.plan, one.ask.key)
    wanted = one.ask.expected or one.value
    off = one.value - wanted
    if abs(off) > PLAUSIBLE * wanted:
        return (
            "act",
            f"{one.told(abs(off))} off what was planned: is that this piece? The plan stands until it is read again",
        )
    if one.ask.key.startswith("cut-length"):
        if abs(off) < CUT_SLIP_MM:
            return "good", "as marked"
        return (
            ("note", f"{one.told(off)} long: file to the line")
            if off > 0
            else ("act", f"{one.told(-off)} short: cut it again")
        )
    if now and then and now.cut_text != then.cut_text:
        return (
            "note",
            f"{one.told(abs(off))} {'more' if off > 0 else 'less'}: mark {now.cut_text}, not {then.cut_text}",
        )
    return "good", "as planned" if abs(off) < 0.005 else f"{one.told(abs(off))} off: what is marked still holds"


def _gap(one: Reading) -> Judgement:
    """What was read of the opened ring: the piece is cut to it."""
    off = one.value - (one.ask.expected or one.value)
    name = "gap-inside" if one.ask.key.startswith("gap") else "kept-outside"
    if one.now.stopped:
        return "act", one.now.stopped
    if abs(off) > FAR_OFF_MM:
        return "act", f"{one.told(abs(off))} off what it should be: read it again; the plan stands until then"
    before, after = one.plan.lead, one.now.lead
    if after == before and abs(off) >= 0.03:
        return "act", "less than the saw alone took: it is not at its size yet. Bend it there, then read it again"
    cut = one.now.main_blank.cut_text if one.now.main_blank else ""
    if abs(off) < 0.03:
        return "good", f"as planned: cut the piece {cut}"
    wide = "wider" if (off > 0) == (name == "gap-inside") else "narrower"
    return "note", f"the gap is {wide} by {one.told(abs(off))}: cut the piece {cut}, {after.figure} {after.unit}"


def _size_now(one: Reading) -> Judgement:
    if one.measured.get("daylight-now"):
        return "act", "read through daylight: true it first, nothing follows from this yet"
    if one.now.stopped:
        return "act", one.now.stopped
    if one.plan.method in PINNED:
        return (
            "note",
            f"it reads {one.plan.sides.from_text if abs(one.off_round_mm) < HAIR_MM else 'so'}: say it on the sheet",
        )
    before, after = one.plan.lead, one.now.lead
    if abs(one.off_round_mm) <= HAIR_MM:
        if after == before:
            return "good", f"as it was said at the counter: {after.figure} {after.unit}"
        return "note", f"within a hair of what was said: {after.figure} {after.unit}, not {before.figure}"
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


def size_read(one: Reading, stage: Stage) -> SizeRead:
    """A size of a ring that was resized, for the one judge of sizes."""
    plan, order_kind = one.now, "resize-set" if one.now.is_set else "resize-plain"
    sides = [one.measured[key] for key in ("size-side-a", "size-side-b") if key in one.measured]
    apart = math.pi * abs(sides[0] - sides[1]) if stage == "finished" and len(sides) == 2 else 0.0
    last = plan.last_size()
    stays = last is not None and last.by == "left"
    metal = ALL_METALS[plan.metal.key]
    expected = one.value if one.ask.expected is None else one.ask.expected
    return SizeRead(
        kind=order_kind,
        stage=stage,
        metal=metal,
        section=plan.section,
        reading_mm=one.value,
        expected_mm=expected,
        goal_mm=expected if stays or stage == "finished" else plan.wanted_mm,
        wanted_mm=plan.wanted_mm,
        spread_mm=0.0,
        kerf_mm=BLADES[plan.used.join.blade if plan.used else "4/0"],
        blade=plan.used.join.blade if plan.used else "4/0",
        told=lambda mm: (
            one.ask.expected_text if abs(mm - expected) < 1e-9 else one.scale.text(mm, one.scale.fine_step)
        ),
        units=plan.units,
        scale=one.scale,
        stays=stays,
        differs=_cut_off(one),
        daylight=bool(one.measured.get("daylight")) and stage == "round",
        sides_apart_mm=apart,
        thinnest_mm=one.measured.get("thinnest", plan.section.thickness_mm),
        stones=bool(plan.stone_advice),
    )


def _cut_off(one: Reading) -> tuple[Differs, ...]:
    """How much longer or shorter the piece set in was cut than asked, known before the ring is read."""
    cut = one.measured.get("cut-length@insert")
    asked = next((a.expected for s in one.now.route for a in s.measure if a.key == "cut-length@insert"), None)
    if cut is None or asked is None or abs(cut - asked) < CUT_SLIP_MM:
        return ()
    how = "long" if cut > asked else "short"
    return (Differs(cut - asked, f"the piece was cut {one.told(abs(cut - asked))} {how}"),)


def _rounded(one: Reading) -> Judgement:
    read = size_read(one, "round")
    tone, says = in_words(read, judge_size(read))
    return tone, f"{says}{_why_off(one, read)}" if tone == "act" and not read.daylight else says


def _why_off(one: Reading, read: SizeRead) -> str:
    """What most likely did it, by the way it was sized."""
    if read.differs or abs(read.off_mm) <= HAIR_MM:
        return ""
    inserted = one.plan.method in ("add-stock", "reshank")
    if read.off_mm > 0:
        return ". The piece was long, or it was driven too far" if inserted else ". Too little went out of it"
    return ". The piece was short" if inserted else ". Too much went out of it"


def _side(one: Reading) -> Judgement:
    read = size_read(one, "finished")
    return in_words(read, judge_size(read))


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
    "gap-inside": _gap,
    "kept-outside": _gap,
}
