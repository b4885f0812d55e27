"""Following a job: what was measured against what was planned, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.measure.sizes import SCALES, FingerSize, Scale, read_size
from ringcraft.metals import METALS
from ringcraft.planning.blank import Blank
from ringcraft.planning.ledger import places_for
from ringcraft.planning.request import RingRequest
from ringcraft.reading import read_length, read_number, tidy
from ringcraft.routes.steps import MEASURES, MeasureAsk, Step
from ringcraft.schema import to_json
from ringcraft.sections import PROFILES
from ringcraft.styles import STYLES, plan_ring, read_ring
from ringcraft.styles.base import RingPlan
from ringcraft.styles.orders import overridden, set_path
from ringcraft.units import Length

KINDS: dict[str, str] = {key: row["kind"] for key, row in MEASURES.items()}
OF_STOCK = {key for key, row in MEASURES.items() if row["of"] == "stock"}
CLOSE_ENOUGH_MM = 0.16  # of circumference, a sixteenth of a US size: finer than a mandrel reads
STRETCH_STRAIN_EASY = 0.025  # about half a size on a usual band; common practice, no published source
_PLAUSIBLE = 0.35  # a measure further than this share from the plan is questioned, not refused


Tone = Literal["good", "note", "act"]


@dataclass(frozen=True)
class Reading:
    """A measure as read: its value [mm of length, mm of inside diameter, or g] and how it reads back."""

    key: str
    value: float
    text: str


@dataclass(frozen=True)
class Verdict:
    """What a measure means: ``tone`` is good, note or act; ``says`` one line in the craft's words."""

    key: str
    tone: Tone
    says: str


def read_measure(
    key: str,
    text: str,
    home: str = "us",
    zero_mm: float = 0.0,
    on: Callable[[str], FingerSize] | None = None,
    bare: str = "mm",
) -> Reading:
    """A measure as typed at the bench; raises CraftError at field ``text``.

    ``zero_mm`` is what the caliper reads closed, taken off a length; ``on`` reads a size on a gauge; ``bare`` is the
    caliper's unit, in which a length is that names none.
    """
    kind = KINDS.get(key.partition("@")[0])
    if kind is None:
        raise UnknownNameError("key", f"“{key}” is not measured here.", f"It can be {', '.join(KINDS)}.")
    try:
        if kind == "size":
            size = on(text) if on else read_size(text, home=home, units=bare)
            return Reading(key, size.inside_diameter_mm, size.text)
        if kind == "mass":
            return _mass(key, text)
        value = read_length(text, bare=bare) - zero_mm
    except CraftError as problem:
        raise problem.at("text").in_units(bare) from None
    if not 0.05 <= value <= 400:
        said, hint = "{read:g mm} is no measure of a ring.", "In which unit is it?"
        raise OutOfRangeError("text", said, hint, read=value).in_units(bare)
    return Reading(key, value, f"{Length(value, bare):.2f}")


def is_of_stock(key: str) -> bool:
    """Whether a measure is one of the stock, which holds whatever is made of it."""
    return key.partition("@")[0] in OF_STOCK


def _mass(key: str, text: str) -> Reading:
    grams = read_number(tidy(text).removesuffix("grams").removesuffix("g").strip())
    if not 0.01 <= grams <= 500:
        raise OutOfRangeError("", f"{grams:g} g is no ring.", "Write it in grams.")
    return Reading(key, grams, f"{grams:.2f}")


def as_measured(order: RingRequest, measured: Mapping[str, float]) -> RingRequest:
    """The same order with what was measured [mm] in place of the nominal, by the style's own table.

    Raises BadRequest where what was measured makes no order.
    """
    fields = overridden(STYLES[order.style].overrides_from_measures, measured)
    if not fields:
        return order
    data = to_json(order)
    for path, value in fields.items():
        set_path(data, path, f"{value:.4f} mm ID" if path == "size" else value)
    for path in fields:
        stock = _stock_at(data, path)
        if stock is not None and PROFILES[stock["profile"]].equal_sided:
            stock["width_mm"] = None
    return read_ring(data)


def _stock_at(data: dict[str, Any], path: str) -> dict[str, Any] | None:
    """The stock that a path lies in, if it does; one not given before is the ring's own."""
    at: Any = data
    for step in path.split(".")[:-1]:
        at = at[int(step)] if isinstance(at, list) else at[step]
    if not isinstance(at, dict) or not path.endswith(("thickness_mm", "width_mm")) or "stock" not in path:
        return None
    for name, value in data["stock"].items():
        at.setdefault(name, value)
    return at


def sets_the_plan(order: RingRequest, measured: Mapping[str, float]) -> bool:
    """Whether any of the measures changes the plan."""
    return bool(overridden(STYLES[order.style].overrides_from_measures, measured))


def replan(order: RingRequest, measured: Mapping[str, float]) -> RingPlan:
    """The plan for the stock as measured; raises CraftError or BadRequest where that stock cannot be.

    A step that asks for a measure goes on saying what was planned before that very reading, not what was read.
    """
    now = plan_ring(as_measured(order, measured))
    return replace(now, route=tuple(_as_asked(order, measured, step) for step in now.route))


def _as_asked(order: RingRequest, measured: Mapping[str, float], step: Step) -> Step:
    own = {ask.key: measured[ask.key] for ask in step.measure if ask.key in measured}
    if not own or not sets_the_plan(order, own):
        return step
    others = {key: value for key, value in measured.items() if key not in own}
    try:
        before = plan_ring(as_measured(order, others))
    except (CraftError, BadRequest):
        return step  # only together do the measures make stock that can be
    return next((one for one in before.route if one.key == step.key), step)


def verdicts(plan: RingPlan, now: RingPlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of the job, in the order of its route. ``now`` is the plan for the stock as measured."""
    asked = {ask.key: ask for step in now.route for ask in step.measure}
    return tuple(_verdict(plan, now, ask, measured[ask.key]) for ask in asked.values() if ask.key in measured)


def _verdict(plan: RingPlan, now: RingPlan, ask: MeasureAsk, value: float) -> Verdict:
    base, _, name = ask.key.partition("@")
    after = next((one for one in now.blanks if one.name == name), now.blanks[0])
    before = next((one for one in plan.blanks if one.name == after.name), plan.blanks[0])
    tone, says = JUDGES[MEASURES[base]["judge"]](Case(ask, value, plan, now, before, after))
    return Verdict(ask.key, tone, says)


@dataclass(frozen=True)
class Case:
    """A measure [mm or g] before its judge: what was asked, the plan before and after it, and its blank in both."""

    ask: MeasureAsk
    value: float
    plan: RingPlan
    now: RingPlan
    before: Blank
    after: Blank

    @property
    def is_main(self) -> bool:
        """Whether the blank is the one that sets the size."""
        return self.after.name == self.now.blanks[0].name

    @property
    def scale(self) -> Scale:
        """The scale that the size is told on."""
        return SCALES.get(self.now.target.read_as, SCALES[self.now.used.home_scale])

    def length(self, mm: float) -> Length:
        """A length [mm] as the order's shop writes it."""
        return Length(mm, self.now.used.units)

    def marks(self, blank: Blank) -> str:
        """Where a blank is marked, as exactly as it is marked."""
        return f"{self.length(blank.cut_length_mm):.{places_for(self.now.used.round_to_mm)}f}"


Judgement = tuple[Tone, str]


def _of_stock(thicker: str, thinner: str) -> Callable[[Case], Judgement]:
    """A judge of a measure that the lengths follow from, with its words for more and for less."""

    def judge(case: Case) -> Judgement:
        planned = case.ask.expected or 0.0
        off = case.value - planned
        if abs(off) < 0.005:
            return "good", "as planned"
        much = f"{case.length(abs(off)):.2f} {thicker if off > 0 else thinner}"
        if abs(off) > _PLAUSIBLE * planned:
            return "act", f"{much} than planned: is that this stock?"
        moved = [
            (old, new)
            for old in case.plan.blanks
            for new in case.now.blanks
            if old.name == new.name and old.cut_text != new.cut_text
        ]
        return ("note" if moved else "good"), f"{much}: {_follows(case, moved)}"

    return judge


def _follows(case: Case, moved: list[tuple[Blank, Blank]]) -> str:
    """What follows for the lengths to mark: of the blank itself, or of those that are cut after it."""
    if not moved:
        return f"{case.marks(case.after)} still holds"
    own = [(old, new) for old, new in moved if new.name == case.after.name]
    if own:
        return f"mark {case.marks(own[0][1])}, not {case.marks(own[0][0])}"
    return "; ".join(f"{new.title}: mark {case.marks(new)}, not {case.marks(old)}" for old, new in moved)


def _of_length(per_mm: Callable[[RingPlan], float]) -> Callable[[Case], Judgement]:
    """A judge of a length that was marked; ``per_mm`` is how much inside diameter a mm too much of it is [-]."""

    def judge(case: Case) -> Judgement:
        wanted = case.ask.expected or case.after.cut_length_mm
        off = case.value - wanted
        if abs(off) < 0.05:
            return "good", f"as marked: it closes at {case.now.closing.text}" if case.is_main else "as marked"
        if abs(off) > _PLAUSIBLE * wanted:
            against = case.length(wanted)
            return "act", f"{case.length(case.value):.1f} against {against:.1f}: is that this piece?"
        closes = case.now.closing.inside_diameter_mm + off * per_mm(case.now)
        where = case.scale.text(closes, case.scale.fine_step)
        much = f"{case.length(abs(off)):.2f}"
        if off > 0:
            then = f"it would close at {where}; file to the line" if case.is_main else "file to the line"
            return "note", f"{much} long: {then}"
        return "act", f"{much} short: it closes at {where}" if case.is_main else f"{much} short: cut it again"

    return judge


def _size(case: Case) -> Judgement:
    wanted = case.ask.expected if case.ask.expected is not None else case.now.wanted_mm
    off = (case.value - wanted) * math.pi
    sizes, unit = abs(off) / case.scale.circumference_per_size_mm, case.scale.unit
    much = f"{sizes:.2f} {unit if sizes != 1 else unit.removesuffix('s')}"
    around = f"{case.length(abs(off)):.2f} round"
    if abs(off) <= CLOSE_ENOUGH_MM:
        return "good", f"on {case.ask.expected_text}, within a sixteenth of a US size"
    if off > 0:
        cure = "a reducing die if it stays plain, or take that out at the joint"
        return "act", f"{much} large, {around}: {cure}"
    strain = -off / (math.pi * (case.value + 2 * case.now.section.neutral_mm))
    if strain > STRETCH_STRAIN_EASY:
        return "act", f"{much} small, {around}: {100 * strain:.1f} % is much; anneal before stretching"
    stretch = f"stretch {around}; the wall thins by about {100 * strain:.1f} %"
    return "note", f"{much} small: {stretch}"


def _of_mass(case: Case) -> Judgement:
    planned = math.fsum(blank.mass_g * blank.count for blank in case.now.blanks)
    off = case.value - planned
    if abs(off) > _PLAUSIBLE * planned:
        return "act", f"{case.value:.2f} g against {planned:.2f} cut: is it {METALS[case.now.metal.key].title}?"
    if off < 0:
        return "good", f"{abs(off):.2f} g lost to the file and the papers"
    return "note", f"{abs(off):.2f} g heavier than it was cut: solder, or the scale"


def _before_forming(now: RingPlan) -> float:
    return now.sensitivity.us_sizes_per_mm_length * SCALES["us"].step_mm


def _run_out(now: RingPlan) -> float:
    return 1 / math.pi  # what is sawn off now counts in full


#: Who judges a measure, by the table's own word.
JUDGES: dict[str, Callable[[Case], Judgement]] = {
    "thickness": _of_stock("thicker", "thinner"),
    "width": _of_stock("wider", "narrower"),
    "outside": _of_stock("larger", "smaller"),
    "cut": _of_length(_before_forming),
    "run-out": _of_length(_run_out),
    "size": _size,
    "mass": _of_mass,
}
