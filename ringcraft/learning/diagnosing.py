"""A ring came out wrong: the causes whose arithmetic fits, what would tell them apart, the cheapest cure of each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.learning.causes import (
    ALONE,
    KEYS,
    NOTHING_FITS_MM,
    PASS_SD_MM,
    Atom,
    RingCase,
    as_measured,
    atoms_of,
    case_of,
    of_strip,
    pairs,
    priors_with,
    sawn_mm,
)
from ringcraft.learning.telling import LEAST_SHARE, SAME_SUM_MM, NextMeasure, Words, odds_words
from ringcraft.learning.weighing import Seen, readings, shares
from ringcraft.planning.request import RingRequest
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.plan import ResizePlan, plan_resize, read_resize
from ringcraft.schema import IN_OWN_UNITS, Count, PositiveMm, SignedMm, UnitKey, read_request, request, to_json
from ringcraft.sizes_read import LARGEST_MM, SMALLEST_MM, JudgeRequest, Known, StageKey, answer_judge
from ringcraft.styles import plan_ring, read_ring
from ringcraft.styles.base import RingPlan
from ringcraft.units import Length, capital

MOST_CAUSES = 12  # that are told by themselves; the others together
LEAST_SCATTER_MM, LARGEST_SCATTER_MM, FURTHEST_MM = 0.02, 3.0, 40.0


@request
class Observed:
    """What the ring measures: its inside diameter [mm]."""

    inside_diameter_mm: PositiveMm


@request
class DiagnoseRequest:
    """A ring that came out wrong, and what else is known of it; lengths in mm, felt and bias round.

    ``felt_mm`` is how much tighter (less than nothing) than wanted it is worn; ``found`` is how often which cause it
    was in this shop. ``expected_mm`` is the inside that the plan left at that ``stage``, else the size wanted.
    """

    order: Annotated[dict[str, Any], Field(max_length=80)]
    observed: Observed | None = None
    wide_complaint: bool = False
    felt_mm: SignedMm | None = None
    cut_mm: PositiveMm | None = None
    thickness_mm: PositiveMm | None = None
    passes_made: Count | None = None
    expected_mm: PositiveMm | None = None
    stage: StageKey = "round"
    scatter_mm: PositiveMm = 0.3
    bias_mm: SignedMm = 0.0
    found: Annotated[dict[str, Annotated[int, Field(ge=0, le=100_000)]], Field(max_length=60)] = field(
        default_factory=dict
    )
    units: UnitKey = "mm"

    def __post_init__(self) -> None:
        """Refuse what no ring is, and a question without anything seen."""
        read = self.observed.inside_diameter_mm if self.observed else None
        if read is not None and not SMALLEST_MM <= read <= LARGEST_MM:
            at = "observed.inside_diameter_mm"
            raise OutOfRangeError(at, "{read:g mm} is no finger.", "The inside diameter, in mm.", read=read)
        if read is None and self.cut_mm is None and self.felt_mm is None:
            raise OutOfRangeError("observed", "Nothing was seen of it yet.", "What it measures, or how it was cut.")
        if not SMALLEST_MM <= (self.expected_mm or SMALLEST_MM) <= LARGEST_MM:
            raise OutOfRangeError("expected_mm", "That is no finger.", "The inside diameter, in mm.")
        if self.scatter_mm < LEAST_SCATTER_MM:
            said, hint = "No bench is that steady.", "At least {least:g mm}."
            raise OutOfRangeError("scatter_mm", said, hint, least=LEAST_SCATTER_MM)
        for key in self.found:
            if key not in KEYS:
                said = f"“{key[:40]}” is no cause known here."
                raise UnknownNameError("found", said, f"It can be {', '.join(KEYS)}.")
        for name, value, most in (
            ("scatter_mm", self.scatter_mm, LARGEST_SCATTER_MM),
            ("bias_mm", self.bias_mm, FURTHEST_MM),
            ("felt_mm", self.felt_mm or 0.0, FURTHEST_MM),
        ):
            if abs(value) > most:
                raise OutOfRangeError(name, "That is another ring.", "At most {most:g mm}.", most=most)


@dataclass(frozen=True)
class Cure:
    """What is done about it: an answer of the judge of sizes, how much round [mm], and its words."""

    key: str
    mm: float
    says: str


@dataclass(frozen=True)
class WrongCause:
    """One cause, or two together: how likely, what it foretells [mm round] against what was seen, its cure."""

    keys: tuple[str, ...]
    title: str
    share: float
    odds: str
    predicts_mm: float
    says: str
    mend: str
    cure: Cure


@dataclass(frozen=True)
class Diagnosis:
    """Why a ring came out wrong. ``says`` is the finding in one line, ``apart`` what no size tells apart."""

    off_mm: float
    off_text: str
    causes: tuple[WrongCause, ...]
    by_key: dict[str, float]
    ask: NextMeasure | None
    says: str
    apart: str


_READER: TypeAdapter[DiagnoseRequest] = TypeAdapter(Annotated[DiagnoseRequest, IN_OWN_UNITS])


def diagnose(data: object) -> Diagnosis:
    """From plain JSON data to the causes; raises BadRequest."""
    return answer_diagnose(read_request(_READER, data))


def answer_diagnose(asked: DiagnoseRequest) -> Diagnosis:
    """The causes of a ring that came out wrong; raises BadRequest naming the field."""
    try:
        order: RingRequest | ResizeRequest
        plan: RingPlan | ResizePlan
        if "from" in asked.order:
            order = read_resize(asked.order)
            plan = plan_resize(order)
        else:
            order = read_ring(asked.order)
            plan = plan_ring(order)
    except CraftError as problem:
        raise BadRequest([problem.at(f"order.{problem.field}")]) from None
    except BadRequest as problem:
        raise BadRequest([one.at(f"order.{one.field}" if one.field else "order") for one in problem.errors]) from None
    case = case_of(plan, order, asked.wide_complaint)
    seen = _seen(asked, case)
    off = seen.off_mm if seen.off_mm is not None else seen.cut_mm or 0.0
    atoms = atoms_of(case, priors_with(asked.found))
    if seen.sawn is not None and seen.sawn > max(atom.sawn for atom in atoms):
        atoms.append(_sawn_often(atoms, case, seen.sawn))
    if seen.thicker_mm is not None and not case.resized:
        atoms = as_measured(atoms, case, seen.thicker_mm)
    strip = seen.off_mm is None
    if strip:  # what comes after the cut cannot be told before there is a ring
        atoms = [of_strip(atom) for atom in atoms if atom.cut_mm or ALONE.intersection(atom.keys)]
    every = [*atoms, *pairs(atoms)]
    if abs(off) > NOTHING_FITS_MM:
        every = [atom for atom in every if atom.keys == ("something-else",)]
    weighed = shares(every, seen)
    share = [float(part) for part in weighed]
    cures = _Cures(asked, to_json(order), case, seen)
    told = sorted(range(len(every)), key=lambda at: (-share[at], len(every[at].keys), at))
    causes = [_cause(every[at], share[at], seen, asked.units, cures) for at in _shown(told, share)]
    rest = 1 - math.fsum(one.share for one in causes)
    if rest > 1e-9:
        causes.append(_rest(rest, len(every) - len(causes)))
    by_key = {
        key: math.fsum(share[at] for at, atom in enumerate(every) if key in atom.keys)
        for key in KEYS
        if any(key in atom.keys for atom in every)
    }
    words = Words(asked.units, case, strip)
    asks = readings(every, seen, weighed) if len(every) > 1 else []
    if case.cut_mm is None:  # nothing was cut, and its stock is what it came with
        asks = [one for one in asks if one.key == "size"]
    first, second = told[0], told[1] if len(told) > 1 else None
    return Diagnosis(
        off_mm=off,
        off_text=words.off(off),
        causes=tuple(causes),
        by_key=by_key,
        ask=words.ask(asks[0], every, told, share) if asks else None,
        says=words.found(every[first], share[first], by_key, off),
        apart="" if second is None else words.apart(every[first], every[second], share[second]),
    )


def _seen(asked: DiagnoseRequest, case: RingCase) -> Seen:
    """What was seen, as mm round beside the plan."""
    off: float | None = None
    if asked.observed:
        off = math.pi * (asked.observed.inside_diameter_mm - (asked.expected_mm or case.wanted_mm))
    if asked.felt_mm is not None:
        off = asked.felt_mm
    cut = None
    if asked.cut_mm is not None:
        if case.cut_mm is None:
            raise BadRequest([UnknownNameError("cut_mm", "No blank sets the size of this ring.", "Leave it out.")])
        cut = (asked.cut_mm - case.cut_mm) * case.round_per_cut
    sawn = None if asked.passes_made is None else asked.passes_made - case.saw_passes
    bias = asked.bias_mm
    if sawn is not None and sawn < 0:  # fewer than planned: no slip of the list, but known all the same
        bias -= sawn * case.kerf_mm
    thicker = None if asked.thickness_mm is None else asked.thickness_mm - case.sheet_mm
    return Seen(off, cut, thicker, sawn, asked.scatter_mm, bias)


def _sawn_often(atoms: Sequence[Atom], case: RingCase, sawn: int) -> Atom:
    """More passes than the table has: its last row, as often as it was sawn."""
    last = next(atom for atom in reversed(atoms) if atom.sawn)
    title = f"the joint was sawn {sawn} times more"
    return replace(
        last, sawn=sawn, titles=(title,), later_mm=-sawn_mm(case, sawn), later_own_mm=PASS_SD_MM * sawn,
        says=(f"{sawn} passes more than planned",),
    )  # fmt: skip


def _shown(told: Sequence[int], share: Sequence[float]) -> list[int]:
    return [at for at in told[:MOST_CAUSES] if share[at] >= LEAST_SHARE] or list(told[:1])


def _rest(share: float, count: int) -> WrongCause:
    many = f"{count} others" if count > 1 else "one other"
    return WrongCause(
        keys=("others",), title=f"{many}, each less likely", share=share, odds=odds_words(share),
        predicts_mm=0.0, says="Each of them is less likely than those above.", mend="", cure=Cure("", 0.0, ""),
    )  # fmt: skip


def _cause(atom: Atom, share: float, seen: Seen, units: str, cures: _Cures) -> WrongCause:
    predicts = atom.shift_mm + seen.bias_mm
    off = seen.off_mm if seen.off_mm is not None else seen.cut_mm or 0.0
    if seen.off_mm is None:
        predicts = atom.cut_mm
    if atom.keys == ("something-else",):
        says = f"{capital(atom.says[0])}: nothing is foretold."
        predicts = off
    else:
        words = "; and ".join(atom.says)
        says = f"{capital(words)}: {_signed(predicts, units)} round, {_signed(off, units)} seen."
    return WrongCause(
        keys=atom.keys,
        title=" and ".join(atom.titles),
        share=share,
        odds=odds_words(share),
        predicts_mm=predicts,
        says=says,
        mend=" ".join(filter(None, dict.fromkeys(atom.mends))),
        cure=cures.of(atom),
    )


def _signed(mm: float, units: str) -> str:
    return f"{'−' if mm < 0 else '+'}{Length(abs(mm), units):.2f}"


@dataclass
class _Cures:
    """The cheapest cure of a ring for each cause, by the one judge of sizes; asked once for each size it can have."""

    asked: DiagnoseRequest
    order: dict[str, Any]
    case: RingCase
    seen: Seen
    known: dict[float, Cure] = field(default_factory=dict)

    def of(self, atom: Atom) -> Cure:
        """What is done about it, were it this cause."""
        if self.seen.off_mm is None:
            return self._of_strip()
        error = self._error(atom)
        read = self.case.wanted_mm + self.seen.off_mm / math.pi
        if self.asked.observed and self.asked.felt_mm is None:
            read = self.asked.observed.inside_diameter_mm
        true = read - error / math.pi
        if self.asked.expected_mm is None:  # the judge reads it round, before it is bent or textured
            true -= self.case.later_mm
        key = round(true, 2)
        if key not in self.known:
            self.known[key] = self._judged(key, abs(error) > SAME_SUM_MM)
        return self.known[key]

    def _error(self, atom: Atom) -> float:
        """How much of what was seen is the reading alone [mm round]."""
        if not (atom.error_mm or atom.error_own_mm) or self.seen.off_mm is None:
            return 0.0
        own = atom.error_own_mm**2
        rest = self.seen.scatter_mm**2 + atom.own_mm**2 - own
        left = self.seen.off_mm - atom.shift_mm - self.seen.bias_mm
        return atom.error_mm + own / (own + rest) * left

    def _judged(self, inside_mm: float, reads_off: bool) -> Cure:
        if not SMALLEST_MM <= inside_mm <= LARGEST_MM:
            return Cure("anew", 0.0, "Make it anew.")
        size = JudgeRequest(
            order=self.order, stage=self.asked.stage, reading_mm=inside_mm, units=self.asked.units,
            known=Known(passes=self.asked.passes_made),
        )  # fmt: skip
        answers = answer_judge(size).answers
        best = next((one for one in answers if one.advice in ("do", "possible")), answers[0] if answers else None)
        if best is None:
            return Cure("", 0.0, "Nothing is done to it at this stage.")
        first = "Read it anew first; then: " if reads_off else ""
        return Cure(best.key, best.mm, capital(f"{first}{ANSWER_WORDS[best.key]}{self._by(best.key, best.mm)}."))

    def _by(self, key: str, mm: float) -> str:
        return f" {self._much(mm)}" if key in ("stretch", "saw-out", "insert", "press") and mm else ""

    def _much(self, mm: float) -> str:
        return f"{Length(abs(mm), self.asked.units):.2f}"

    def _of_strip(self) -> Cure:
        """A blank that is not soldered yet: what is long is filed, what is short is another finger's."""
        off = self.seen.cut_mm or 0.0
        if abs(off) < 0.05:
            return Cure("as-planned", 0.0, "Nothing: it is as marked.")
        if off > 0:
            return Cure("saw-out", off, f"File it to the line: {self._much(off)} round.")
        closes = self.case.closes_mm - self.case.later_mm + off / math.pi
        bears = self._judged(closes, False)  # as it will read once it is round
        if bears.key in ("as-planned", "stretch"):
            return Cure(
                bears.key, bears.mm, f"Go on with it. Once it is round: {bears.says[0].lower()}{bears.says[1:]}"
            )
        return Cure("anew", -off, f"Cut it anew, or use it for a finger {self._much(off)} round smaller.")


#: How an answer of the judge of sizes is done.
ANSWER_WORDS = {
    "as-planned": "nothing: it is as it was left",
    "true-first": "true it, then read it",
    "stretch": "stretch it by",
    "saw-out": "saw out",
    "gap": "leave the gap",
    "insert": "let in a piece of",
    "press": "press it smaller by",
    "other-size": "keep it for another finger",
    "anew": "make it anew",
}
