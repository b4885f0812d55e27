"""What a measure means: each judge holds it against the plan and says what follows, in one line."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from ringcraft.following.answers import ANSWERS, Differs, SizeRead, Stage, in_words, judge_size, sizes_words
from ringcraft.measure.sizes import SCALES, Scale
from ringcraft.metals import BLADES, METALS, Metal
from ringcraft.planning.blank import Blank
from ringcraft.planning.ledger import places_for
from ringcraft.planning.sizing import HAIR_MM
from ringcraft.planning.target_size import SAME_MM
from ringcraft.routes.steps import MeasureAsk
from ringcraft.styles.base import FinishedRing, RingPlan
from ringcraft.styles.folded import FoldedPlan
from ringcraft.styles.stack import StackPlan
from ringcraft.units import Length

MASS_GOOD, MASS_NOTE = 0.03, 0.08  # of the planned mass; common practice, no published source
EVEN_MM = 0.02  # of the height of an end: as it was said
PLAUSIBLE = 0.35  # a measure further than this share from the plan is questioned, not refused
#: Which look for daylight goes with which reading of a size.
DAYLIGHT = {"size-rounded": "daylight", "size-soldered": "daylight-soldered"}
Tone = Literal["good", "note", "act"]


@dataclass(frozen=True)
class Case:
    """A measure [mm or g] before its judge: what was asked, the plan before and after it, and its blank in both.

    ``daylight`` says that a size was read through a gap between ring and mandrel, ``slips`` what is known to differ
    from the plan by what was read before: a length cut short.
    """

    ask: MeasureAsk
    value: float
    plan: RingPlan
    now: RingPlan
    before: Blank
    after: Blank
    daylight: bool
    slips: tuple[Differs, ...] = ()

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
    if not moved and case.ask.key.startswith("outside"):
        return "no length is cut from it any more"
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


#: Which readings of a size are taken at which stage.
STAGE_OF: dict[str, Stage] = {"size-rounded": "round", "size-soldered": "soldered", "size-finished": "finished"}


def kind_of(plan: RingPlan) -> str:
    """What kind of ring a plan makes, by the table of answers: some are open."""
    opened = f"{plan.style}-open"
    stands_open = any(joint.key == "ends" for joint in plan.joints)
    return opened if stands_open and opened in ANSWERS else plan.style


def size_read(case: Case) -> SizeRead:
    """A size that was read on the mandrel, for the one judge of sizes."""
    expected = case.now.wanted_mm if case.ask.expected is None else case.ask.expected
    finished, used = case.finished, case.now.used
    stage = STAGE_OF[case.ask.key.partition("@")[0]]
    stays = finished is not None and finished.by == "left"
    to_come = finished.inside_diameter_mm - case.now.closing.inside_diameter_mm if finished else 0.0
    goal = expected + to_come
    if stage != "round":
        goal = finished.inside_diameter_mm if finished else case.now.wanted_mm
    later = (
        case.now.closing.inside_diameter_mm - expected if stage == "round" else 0.0
    )  # by a bend or texture to come
    finger = case.now.wanted_mm - later
    if stays and used.leave == "large" and case.value < finger:
        goal = finger  # it is let out to the finger, not past it to what was left for its buyer
    return SizeRead(
        kind=kind_of(case.now),
        stage=stage,
        metal=used_metal(case.now),
        section=case.now.section,
        reading_mm=case.value,
        expected_mm=expected,
        goal_mm=goal if case.is_main else expected,
        wanted_mm=finger,
        spread_mm=case.now.closing.spread.sd_mm if stage == "round" or stays else 0.0,
        kerf_mm=BLADES[used.join.blade],
        blade=used.join.blade,
        told=case.told,
        units=used.units,
        scale=case.scale,
        left=used.leave,
        stays=stays,
        differs=case.slips,
        daylight=case.daylight,
    )


def used_metal(plan: RingPlan) -> Metal:
    """The metal of a plan."""
    return METALS[plan.metal.key]


def _end(case: Case) -> Judgement:
    """The height of one end of a shank: what it is filed down to follows from both."""
    off = case.value - (case.ask.expected or 0.0)
    if abs(off) < EVEN_MM:
        return "good", "as it was said"
    return (
        "note",
        f"{case.length(abs(off)):.2f} {'higher' if off > 0 else 'lower'} than it was said: both are levelled anew",
    )


def _size(case: Case) -> Judgement:
    read = size_read(case)
    return in_words(read, judge_size(read))


def _finished_ring(case: Case) -> Judgement:
    """The finished ring that bands are made beside: it is never stretched for them, they are cut for it."""
    off = (case.value - (case.ask.expected or case.plan.wanted_mm)) * math.pi
    if abs(off) <= HAIR_MM:
        return "good", "as planned"
    return (
        "note",
        f"{sizes_words(off, case.scale)} {'larger' if off > 0 else 'smaller'} than planned: the bands are cut for it",
    )


def _riding(case: Case) -> Judgement:
    """The finished ring that rides on a step: its step follows its inside."""
    seats = [one.seat for one in (case.plan, case.now) if isinstance(one, StackPlan)]
    deep = [one.deep_mm for one in seats if one is not None]
    if len(deep) < 2 or abs(deep[1] - deep[0]) < 0.005:
        return "good", "as planned"
    return "note", f"the step goes {case.length(deep[1]):.2f} deep, not {case.length(deep[0]):.2f}"


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
    "gap": _of_stock("wider", "narrower"),
    "end": _end,
    "riding-ring": _riding,
}
