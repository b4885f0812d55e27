"""One judge of a size that was read: what follows from it, for a ring to make and for one that came in.

Verdicts on a card, steps and the command read the same answers. Which of them a ring may have at which stage is one
table (``tables/size-answers.toml``); what is known to differ from the plan is taken into account before anything is
called off.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.measure.sizes import SCALES, Scale
from ringcraft.metals import Metal
from ringcraft.planning.sizing import CAREFUL_STRAIN, HAIR_MM
from ringcraft.sections import Section
from ringcraft.tables import rows
from ringcraft.units import Length
from ringcraft.vbench.thing import PLAIN_STRAIN, size_strain_limit

Stage = Literal["soldered", "round", "fitted", "finished"]
Advice = Literal["do", "possible", "avoid", "never"]
ADVICE: tuple[Advice, ...] = ("do", "possible", "avoid", "never")
STAGES: tuple[Stage, ...] = ("soldered", "round", "fitted", "finished")
SIDES_MM = SCALES["us"].circumference_per_size_mm / 4  # of circumference between two sides: it is not round
FAR_MM = 2 * SCALES["us"].circumference_per_size_mm  # more than two sizes are not pieced in; our own judgement
LEAST_WALL_MM = 1.0  # of a stretched shank; common practice, no published source
SURE = 1.96  # deviations to either side that hold 95 of 100 rings
JOINTS = {"saw-out": 1, "insert": 2, "other-size": 3, "anew": 4}
#: The answers of each kind of ring at each stage.
ANSWERS: dict[str, dict[str, tuple[str, ...]]] = {
    row["key"]: {stage: tuple(row[stage]) for stage in STAGES} for row in rows("size-answers")
}


@dataclass(frozen=True)
class Differs:
    """Something that is known to differ from the plan: how much circumference [mm] it makes, and its words."""

    round_mm: float
    says: str


@dataclass(frozen=True)
class SizeRead:
    """A size that was read [mm inside] on a ring of a kind at a stage.

    ``expected_mm`` is what the plan left there, ``goal_mm`` what it shall be brought to, ``wanted_mm`` the finger's;
    ``spread_mm`` the deviation of the circumference of such rings, nought where it was brought to its size.
    ``differs`` is what is known beside the plan, ``left`` by which policy it was left, ``stays`` that it stays so.
    ``told`` tells an inside diameter, ``scale`` its sizes, ``thinnest_mm`` the wall where it is thinnest, 0 where
    nobody asks.
    """

    kind: str
    stage: Stage
    metal: Metal
    section: Section
    reading_mm: float
    expected_mm: float
    goal_mm: float
    wanted_mm: float
    spread_mm: float
    kerf_mm: float
    blade: str
    told: Callable[[float], str]
    units: str
    left: str = ""
    stays: bool = False
    differs: tuple[Differs, ...] = ()
    daylight: bool = False
    sides_apart_mm: float = 0.0
    thinnest_mm: float = 0.0
    stones: bool = False
    scale: Scale = SCALES["us"]

    @property
    def now_expected_mm(self) -> float:
        """What it should read with what is known to differ taken into account [mm inside]."""
        return self.expected_mm + math.fsum(one.round_mm for one in self.differs) / math.pi

    @property
    def off_mm(self) -> float:
        """How much circumference it is off what it should read [mm]."""
        return math.pi * (self.reading_mm - self.now_expected_mm)

    @property
    def to_goal_mm(self) -> float:
        """How much circumference [mm] it is from what it shall be brought to; above nought where it is small."""
        return math.pi * (self.goal_mm - self.reading_mm)

    @property
    def is_as_planned(self) -> bool:
        """Whether it reads as it was left, within what such rings scatter."""
        return abs(self.off_mm) <= max(HAIR_MM, SURE * self.spread_mm) + 1e-9

    def much(self, round_mm: float) -> str:
        """A length round, as the shop writes it."""
        return f"{Length(abs(round_mm), self.units):.2f}"


@dataclass(frozen=True)
class Answer:
    """One thing that can be done: how much length round [mm], where the ring comes to [mm inside], why."""

    key: str
    advice: Advice
    mm: float
    closes_mm: float
    why: tuple[str, ...]


@dataclass(frozen=True)
class SizeAnswers:
    """What follows from a size: how far off [mm round] what is expected [mm inside]; the answers."""

    off_mm: float
    expected_mm: float
    answers: tuple[Answer, ...]

    def has(self, key: str) -> Answer | None:
        """An answer by its key; None where it is none of them."""
        return next((one for one in self.answers if one.key == key), None)

    @property
    def first(self) -> Answer:
        """The best of them."""
        return self.answers[0]


def judge_size(read: SizeRead) -> SizeAnswers:
    """What follows from a size that was read."""
    may = ANSWERS[read.kind][read.stage]
    if read.daylight or read.sides_apart_mm > SIDES_MM or may == ("true-first",):
        return SizeAnswers(read.off_mm, read.now_expected_mm, (_true_first(read),))
    out: list[Answer] = []
    if read.is_as_planned or _still_large_enough(read):
        out.append(_as_planned(read))
    near = abs(read.to_goal_mm) <= HAIR_MM or (bool(out) and read.stays)
    rest = [] if near else sorted(_others(read, may), key=_place)
    if near and not out:
        out.append(_as_planned(read))
    return SizeAnswers(read.off_mm, read.now_expected_mm, (*out, *rest))


def _place(one: Answer) -> tuple[int, int, float]:
    return ADVICE.index(one.advice), JOINTS.get(one.key, 0), abs(one.mm)


def _still_large_enough(read: SizeRead) -> bool:
    """A ring left large for its buyer that came out nearer to the finger: it is smaller yet by no fault."""
    return read.left == "large" and read.stays and read.wanted_mm <= read.reading_mm <= read.now_expected_mm


def _true_first(read: SizeRead) -> Answer:
    if read.daylight:
        why = "there is daylight under it, and what is not round reads small: nothing follows from this yet"
    elif read.sides_apart_mm > SIDES_MM:
        why = "its two sides are more than a quarter of a US size apart: it is not round"
    else:
        why = "it still stands in its D and is not read before it is round"
    return Answer("true-first", "do", 0.0, read.reading_mm, (why,))


def _as_planned(read: SizeRead) -> Answer:
    why = [f"because {one.says} it closes at {read.told(read.now_expected_mm)}" for one in read.differs]
    to_go = read.to_goal_mm
    if read.left == "large" and read.stays:
        if read.is_as_planned:
            why.append(f"left large as planned: {read.told(read.now_expected_mm)} was expected")
        else:
            over = math.pi * (read.reading_mm - read.wanted_mm)
            why.append(f"less than it was left, and {read.much(over)} round over the finger yet: leave it so")
    elif to_go > HAIR_MM and read.left == "small" and not read.stays:
        why.append(f"left small as planned: {read.much(to_go)} round to go")
    elif abs(to_go) <= HAIR_MM:
        why.append(f"on {read.told(read.goal_mm)}, within a sixteenth of a US size")
    else:
        why.append(f"near {read.told(read.now_expected_mm)}, as planned")
    return Answer("as-planned", "do", 0.0, read.reading_mm, tuple(why))


def _others(read: SizeRead, may: Sequence[str]) -> Iterator[Answer]:
    """The answers that suit the side it is off to and that this ring may have."""
    small = read.to_goal_mm > 0
    made = [ANSWER[key](read) for key in may if key in ANSWER and (key in EITHER or (key in SMALL) == small)]
    cures = [ADVICE.index(one.advice) for one in made if one.key not in ("other-size", "anew")]
    for one in made:
        none_is_good = one.key == "anew" and min(cures, default=3) > 1
        yield replace(one, advice="do") if none_is_good else one


def _strain(read: SizeRead) -> float:
    return abs(read.to_goal_mm) / (math.pi * (read.reading_mm + 2 * read.section.neutral_mm))


def _by_strain(read: SizeRead) -> tuple[Advice, str]:
    """How far a stretch or press of so much is advised, and why."""
    strain, most = _strain(read), size_strain_limit(read.metal.key)
    careful = CAREFUL_STRAIN * most / PLAIN_STRAIN
    if strain <= careful + 1e-9:
        return "do", ""
    if strain <= most + 1e-9:
        return "possible", f"{100 * strain:.1f} % is much; anneal before that"
    return "never", f"{100 * strain:.1f} % is more than the {100 * most:.3g} % that {read.metal.title} bears"


def _stretch(read: SizeRead) -> Answer:
    advice, why = _by_strain(read)
    said = [f"stretch it to {read.told(read.goal_mm)}; the wall thins by about {100 * _strain(read):.1f} %"]
    after = read.thinnest_mm / (1 + _strain(read))
    if read.thinnest_mm and after < LEAST_WALL_MM and advice != "never":
        advice, why = "avoid", f"its thinnest place would come to {Length(after, read.units):.2f}"
    if why:
        said = [why] if advice == "never" else [why, *said]
    return Answer("stretch", advice, read.to_goal_mm, read.goal_mm, tuple(said))


def _press(read: SizeRead) -> Answer:
    advice, why = _by_strain(read)
    said = f"a reducing die, {read.much(read.to_goal_mm)} less round, step by step"
    return Answer("press", advice, read.to_goal_mm, read.goal_mm, (why,) if advice == "never" else tuple(
        filter(None, (why, said))))  # fmt: skip


def _saw_out(read: SizeRead) -> Answer:
    mm, kerf = -read.to_goal_mm, read.kerf_mm
    passes = math.floor(mm / kerf + 1e-9)
    if passes <= 3:
        count = {0: "once", 1: "once", 2: "twice", 3: "three times"}[passes]
        how = f"saw through the joint {count} with {read.blade}"
    else:
        how = f"take a piece of {read.much(mm - kerf)} out at the joint, its kerf beside it"
    advice: Advice = "avoid" if read.stones and read.stage == "finished" else "do"
    also = "its stones are in again and come out first" if advice == "avoid" else ""
    return Answer("saw-out", advice, read.to_goal_mm, read.goal_mm, tuple(filter(None, (also, how))))


def _insert(read: SizeRead) -> Answer:
    mm = read.to_goal_mm + read.kerf_mm
    how = f"cut it and set a piece in, {read.much(mm)} long with the kerf; two joints"
    finished = read.stones and read.stage == "finished"
    also = "its stones are in again and come out first" if finished else ""
    far = read.to_goal_mm > FAR_MM
    also = f"{also}; more than two sizes" if also and far else "more than two sizes" if far else also
    advice: Advice = "avoid" if finished or far else "possible"
    return Answer("insert", advice, read.to_goal_mm, read.goal_mm, tuple(filter(None, (also, how))))


def _gap(read: SizeRead) -> Answer:
    way = "open it" if read.to_goal_mm > 0 else "close it"
    how = f"{way} on the mandrel to {read.told(read.goal_mm)}: its gap or overlap takes it, no metal comes or goes"
    return Answer("gap", "do", read.to_goal_mm, read.goal_mm, (how,))


def _other_size(read: SizeRead) -> Answer:
    why = f"keep it for a finger of {read.told(read.reading_mm)}"
    return Answer("other-size", "possible", 0.0, read.reading_mm, (why,))


def _anew(read: SizeRead) -> Answer:
    why = "made anew, cut by what this one taught"
    return Answer("anew", "avoid", 0.0, read.goal_mm, (why,))


ANSWER: dict[str, Callable[[SizeRead], Answer]] = {
    "stretch": _stretch,
    "press": _press,
    "saw-out": _saw_out,
    "gap": _gap,
    "insert": _insert,
    "other-size": _other_size,
    "anew": _anew,
}
SMALL, EITHER = ("stretch", "insert"), ("gap", "other-size", "anew")


def in_words(read: SizeRead, found: SizeAnswers) -> tuple[Literal["good", "note", "act"], str]:
    """A size as a card tells it: its tone, and one line of what follows."""
    first = found.first
    if first.key == "true-first":
        return "act", f"true it first, {first.why[0]}"
    then = [
        one for one in found.answers if one.key not in ("as-planned", "anew") and one.advice in ("do", "possible")
    ]
    if first.key == "as-planned":
        said = "; ".join(first.why)
        if not then:
            return "good", said
        tone: Literal["good", "note", "act"] = "note" if read.differs else "good"
        stretch = found.has("stretch")
        if then[0] is stretch and read.left == "small":
            return tone if stretch.advice == "do" else "act", f"{said}, {'; '.join(stretch.why)}"
        best = [one for one in then if one.advice == then[0].advice]
        return "note" if then[0].advice == "do" else "act", f"{said}; {_words(best)}"
    how = "small" if read.to_goal_mm > 0 else "large"
    head = f"{sizes_words(read.to_goal_mm, read.scale)} {how}, {read.much(read.to_goal_mm)} round"
    known = "; ".join(one.says for one in read.differs)
    head = f"{head} ({known})" if known else head
    best = [one for one in then if one.advice == then[0].advice]
    best = best or [one for one in found.answers if one.key == "anew"] or [first]
    easy = best[0].key in ("stretch", "gap") and best[0].advice == "do"
    return "note" if easy else "act", f"{head}: {_words(best)}"


def sizes_words(round_mm: float, scale: Scale) -> str:
    """So much circumference [mm] in sizes of a scale: 0.25 US sizes, 1.00 US size."""
    sizes = f"{abs(round_mm) / scale.circumference_per_size_mm:.2f}"
    return f"{sizes} {scale.unit if sizes != '1.00' else scale.unit.removesuffix('s')}"


def _words(answers: Sequence[Answer]) -> str:
    return "; or ".join("; ".join(one.why) for one in answers[:2])
