"""Following a job: what was measured against what was planned, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
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
from ringcraft.styles.base import FinishedRing, RingPlan
from ringcraft.styles.folded import FoldedPlan
from ringcraft.styles.orders import overridden, set_path
from ringcraft.units import Length

KINDS: dict[str, str] = {key: row["kind"] for key, row in MEASURES.items()}
OF_STOCK = {key for key, row in MEASURES.items() if row["of"] == "stock"}
CLOSE_ENOUGH_MM = 0.16  # of circumference, a sixteenth of a US size: finer than a mandrel reads
STRETCH_STRAIN_EASY = 0.025  # about half a size on a usual band; common practice, no published source
MASS_GOOD, MASS_NOTE = 0.03, 0.08  # of the planned mass; common practice, no published source
SAME_MM = 0.002  # of inside diameter: one and the same size
PLAUSIBLE = 0.35  # a measure further than this share from the plan is questioned, not refused


#: Which look for daylight goes with which reading of a size.
DAYLIGHT = {"size-rounded": "daylight", "size-soldered": "daylight-soldered"}
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
        if kind == "yes-no":
            return _yes_no(key, text)
        value = read_length(text, bare=bare) - zero_mm
    except CraftError as problem:
        raise problem.at("text").in_units(bare) from None
    if not 0.05 <= value <= 400:
        said, hint = "{read:g mm} is no measure of a ring.", "In which unit is it?"
        raise OutOfRangeError("text", said, hint, read=value).in_units(bare)
    return Reading(key, value, f"{Length(value, bare):.2f}")


_ANSWERS = {"yes": 1.0, "y": 1.0, "some": 1.0, "no": 0.0, "n": 0.0, "none": 0.0}


def _yes_no(key: str, text: str) -> Reading:
    value = _ANSWERS.get(tidy(text))
    if value is None:
        raise UnreadableError("", "This is a yes or a no.", "Write yes or no.")
    return Reading(key, value, "yes" if value else "no")


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
    fields = {path: value for path, value in fields.items() if _is_believed(data, path, value)}
    for path, value in fields.items():
        set_path(data, path, f"{value:.4f} mm ID" if path == "size" else value)
    for path in fields:
        stock = _stock_at(data, path)
        if stock is not None and PROFILES[stock["profile"]].equal_sided:
            stock["width_mm"] = None
    return read_ring(data)


def _is_believed(data: dict[str, Any], path: str, value: float) -> bool:
    """Whether a measure is one of what was ordered: one that is far from it is asked about, not worked in."""
    at: Any = data
    for step in path.split("."):
        at = at[int(step)] if isinstance(at, list) else (at or {}).get(step)
    return not isinstance(at, (int, float)) or abs(value - at) <= PLAUSIBLE * at


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
    return tuple(_verdict(plan, now, ask, measured) for ask in asked.values() if ask.key in measured)


def _verdict(plan: RingPlan, now: RingPlan, ask: MeasureAsk, measured: Mapping[str, float]) -> Verdict:
    base, _, name = ask.key.partition("@")
    after = next((one for one in now.blanks if one.name == name), now.blanks[0])
    before = next((one for one in plan.blanks if one.name == after.name), plan.blanks[0])
    through = DAYLIGHT.get(base, "")
    daylight = bool(measured.get(f"{through}@{name}" if name else through, 0.0))
    case = Case(ask, measured[ask.key], plan, now, before, after, daylight)
    tone, says = JUDGES[MEASURES[base]["judge"]](case)
    return Verdict(ask.key, tone, says)


@dataclass(frozen=True)
class Case:
    """A measure [mm or g] before its judge: what was asked, the plan before and after it, and its blank in both.

    ``daylight`` says that a size was read through a gap between ring and mandrel.
    """

    ask: MeasureAsk
    value: float
    plan: RingPlan
    now: RingPlan
    before: Blank
    after: Blank
    daylight: bool

    @property
    def is_main(self) -> bool:
        """Whether the blank is the one that sets the size."""
        return self.after.name == self.now.blanks[0].name

    @property
    def scale(self) -> Scale:
        """The scale that the size is told on."""
        return SCALES.get(self.now.target.read_as, SCALES[self.now.used.home_scale])

    @property
    def finished(self) -> FinishedRing | None:
        """The ring that was promised; None for a plan that was kept before that was worked out."""
        return self.now.finished if self.plan.finished is not None else None

    def told(self, inside_mm: float) -> str:
        """An inside diameter [mm] as the plan tells it: the wanted size in its own words."""
        if abs(inside_mm - self.now.wanted_mm) < SAME_MM:
            return self.now.wanted_text
        return self.scale.text(inside_mm, self.scale.fine_step)

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
        if abs(off) > PLAUSIBLE * planned:
            return "act", f"{much} than planned: {_what_is_it(case, planned)} The plan stands until it is read again"
        moved = [
            (old, new)
            for old in case.plan.blanks
            for new in case.now.blanks
            if old.name == new.name and old.cut_text != new.cut_text
        ]
        return ("note" if moved else "good"), f"{much}: {_follows(case, moved)}"

    return judge


def _what_is_it(case: Case, planned: float) -> str:
    folded = case.now.folded.layers if isinstance(case.now, FoldedPlan) else 1
    if folded > 1 and abs(case.value - folded * planned) <= 0.1 * folded * planned:
        return f"that is all {folded} layers, and one is asked."
    return "is that this stock?"


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
        if abs(off) > PLAUSIBLE * wanted:
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
    """A size on the mandrel: against where the ring should close, and against what it is to become."""
    if case.daylight:
        return (
            "act",
            "daylight under it: true it first. What is not round reads small, so nothing follows from this yet",
        )
    expected = case.now.wanted_mm if case.ask.expected is None else case.ask.expected
    finished = case.finished
    to_come = finished.inside_diameter_mm - case.now.closing.inside_diameter_mm if finished else 0.0
    goal = expected + to_come if case.ask.key.startswith("size-rounded") else expected
    off, apart = (case.value - goal) * math.pi, (case.value - expected) * math.pi
    as_left = abs(apart) <= max(CLOSE_ENOUGH_MM, case.now.closing.spread.bias_mm)
    if abs(off) <= CLOSE_ENOUGH_MM or (as_left and finished is not None and finished.by == "left"):
        return "good", _on_it(case, goal, off)
    much = f"{_sizes(case, off)}, {case.length(abs(off)):.2f} round"
    if off > 0:
        plain = finished is None or STYLES[case.now.style].sizing == "plain"
        cure = (
            "a reducing die if it stays plain, or take that out at the joint"
            if plain
            else "take that out at the joint"
        )
        return "act", f"{_sizes(case, off)} large, {case.length(off):.2f} round: {cure}"
    strain = -off / (math.pi * (case.value + 2 * case.now.section.neutral_mm))
    small = much.replace(",", " small,", 1)
    if strain > STRETCH_STRAIN_EASY:
        return "act", f"{small}: {100 * strain:.1f} % is much; anneal before stretching"
    stretch = f"stretch it to {case.told(goal)}; the wall thins by about {100 * strain:.1f} %"
    if as_left and case.now.used.leave == "small":
        return "good", f"left small as planned: {case.length(-off):.2f} round to go, {stretch}"
    return "note", f"{small}: {stretch}"


def _on_it(case: Case, goal: float, off: float) -> str:
    text = case.told(goal)
    if case.finished is not None and case.finished.by == "left" and case.now.used.leave == "large":
        return f"left large as planned: {text} was expected"
    return (
        f"on {text}, within a sixteenth of a US size" if abs(off) <= CLOSE_ENOUGH_MM else f"near {text}, as planned"
    )


def _sizes(case: Case, round_mm: float) -> str:
    sizes, unit = abs(round_mm) / case.scale.circumference_per_size_mm, case.scale.unit
    return f"{sizes:.2f} {unit if f'{sizes:.2f}' != '1.00' else unit.removesuffix('s')}"


def _finished_ring(case: Case) -> Judgement:
    """The finished ring that bands are made beside: it is never stretched for them, they are cut for it."""
    off = (case.value - (case.ask.expected or case.plan.wanted_mm)) * math.pi
    if abs(off) <= CLOSE_ENOUGH_MM:
        return "good", "as planned"
    return "note", f"{_sizes(case, off)} {'larger' if off > 0 else 'smaller'} than planned: the bands are cut for it"


def _daylight(case: Case) -> Judgement:
    if case.value:
        return "act", "true it first: no size is read through daylight"
    return "good", "round: read it"


def _of_mass(case: Case) -> Judgement:
    """A finished band within 3 % is good, to 8 % a note, more is looked for. Common practice, no published source."""
    planned = case.ask.expected or math.fsum(blank.mass_g * blank.count for blank in case.now.blanks)
    off = case.value - planned
    share = abs(off) / planned
    much = (
        f"{abs(off):.2f} g {'heavier' if off > 0 else 'lighter'} than the {planned:.2f} planned, {100 * share:.1f} %"
    )
    if share > PLAUSIBLE:
        return "act", f"{much}: is it {METALS[case.now.metal.key].title}?"
    if share <= MASS_GOOD:
        return (
            "good",
            f"{planned:.2f} g planned: {abs(off):.2f} g {'more' if off > 0 else 'less'}, {100 * share:.1f} %",
        )
    if share <= MASS_NOTE:
        return "note", f"{much}: {'solder, or the scale' if off > 0 else 'the file and the papers'}"
    look = "too much solder, other stock, or the scale" if off > 0 else "look for the missing piece or the filings"
    return "act", f"{much}: {look}"


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
    "finished-ring": _finished_ring,
    "daylight": _daylight,
    "opening": _of_stock("wider", "narrower"),
    "mass": _of_mass,
}
