"""What a measure of a practice says, round by round, and what all rounds together teach."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

from ringcraft.following.inspection import Verdict
from ringcraft.following.judging import PLAUSIBLE, Judgement
from ringcraft.learning.hands import Hand, hand_of
from ringcraft.practice.asking import EXERCISES, round_of
from ringcraft.practice.plan import PracticePlan
from ringcraft.units import Length

CUT = "cut-length"
ON_LINE_MM = 0.05  # of a length that was cut: nearer it is on its line
LEAST_ROUNDS = 10  # cuts from which a practice is offered as a setting
LEAST_SCALE_MM = 0.3  # a drawing never makes more of a tenth than this
TOLD_MM = 0.005  # apart by less, both are told as the same figure


@dataclass(frozen=True)
class RoundRead:
    """One round: how far it was off [mm] or whether it came out, by whom; ``says`` in words."""

    round: int
    off_mm: float | None
    good: bool | None
    says: str
    mine: bool


@dataclass(frozen=True)
class Rounds:
    """What a practice has come to so far: its rounds, drawn within ``scale_mm``; its words; one's own hand in it.

    ``offered`` says in words what is offered as one's setting, empty where nothing is.
    """

    exercise: str
    title: str
    learns: str
    rounds: int
    read: int
    dots: tuple[RoundRead, ...]
    scale_mm: float
    hand: Hand | None
    says: tuple[str, ...]
    offered: str


def verdicts(plan: PracticePlan, now: PracticePlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of its round, in the order of the route."""
    asks = {ask.key: ask for step in now.route for ask in step.measure}
    out = []
    for key, ask in asks.items():
        if key in measured:
            tone, says = _judged(plan, key, ask.expected, measured)
            out.append(Verdict(key, tone, says))
    return tuple(out)


def _judged(plan: PracticePlan, key: str, expected: float | None, measured: Mapping[str, float]) -> Judgement:
    base, _, piece = key.partition("@")
    if base == CUT:
        return _cut(plan, measured[key] - (expected or plan.length_mm))
    return YES_NO[base](plan, bool(measured[key]), lambda other: measured.get(f"{other}@{piece}"))


def _cut(plan: PracticePlan, off: float) -> Judgement:
    much = f"{Length(abs(off), plan.units):.2f}"
    if abs(off) > PLAUSIBLE * plan.length_mm:
        return "act", f"{much} {'long' if off > 0 else 'short'}: read it again, and in which unit"
    if abs(off) <= ON_LINE_MM:
        return "good", "on its line" if abs(
            off
        ) < TOLD_MM else f"on its line, {much} {'long' if off > 0 else 'short'}"
    return "note", f"{much} {'long' if off > 0 else 'short'}"


Other = Callable[[str], float | None]


def _light(plan: PracticePlan, yes: bool, other: Other) -> Judgement:
    if yes:
        return "note", "Light shows. At a ring it would be closed again; here see what the solder makes of it."
    return "good", "No light: solder it."


def _closed(plan: PracticePlan, yes: bool, other: Other) -> Judgement:
    light = other("light-seen")
    if yes:
        return "good", "Closed, though light was seen: this time." if light else "Closed all round."
    if light:
        return "note", "Not closed: where light was seen before the solder, look for the gap first."
    if light is None:
        return "note", "Not closed all round."
    return "note", "Not closed, and no light was seen: look to flux, clean faces and an even heat."


def _chip(plan: PracticePlan, yes: bool, other: Other) -> Judgement:
    flows = f"{plan.chip_flows_c:.0f} °C" if plan.chip_flows_c else "where the chip flows"
    if yes:
        return "act", f"It was hotter than {flows}: stop sooner."
    return "good", f"It stayed under {flows}."


def _soft(plan: PracticePlan, yes: bool, other: Other) -> Judgement:
    if yes:
        return "good", "Soft: hot enough, and all of it."
    return "note", "Springy still: not hot enough, or not all of it."


def _flowed(plan: PracticePlan, yes: bool, other: Other) -> Judgement:
    if yes:
        return "good", "It flowed."
    return "note", "It did not flow: a hotter, smaller flame, a cleaner joint, or less of it in water."


def _cool(plan: PracticePlan, yes: bool, other: Other) -> Judgement:
    if yes:
        return "good", "The other side stayed cool: the water never simmered."
    return "act", "The water simmered there: more of it in water, or shorter. No stone is trusted to this yet."


YES_NO: dict[str, Callable[[PracticePlan, bool, Other], Judgement]] = {
    "light-seen": _light,
    "closed-round": _closed,
    "chip-flowed": _chip,
    "bends-soft": _soft,
    "flowed-in-water": _flowed,
    "cool-opposite": _cool,
}
#: What a round of each exercise is judged by, and whether that is to be a yes.
ENDS = {
    "joint": (("closed-round", True),),
    "colours": (("chip-flowed", False), ("bends-soft", True)),
    "water": (("flowed-in-water", True), ("cool-opposite", True)),
}


def rounds_of(plan: PracticePlan, measured: Mapping[str, float], mine: Iterable[str], in_force_mm: float) -> Rounds:
    """What a practice has come to; ``mine`` are the measures that the person who asks has read."""
    own = frozenset(mine)
    dots = _cut_dots(plan, measured, own) if plan.exercise == "cuts" else _yes_dots(plan, measured, own)
    offs = [dot.off_mm for dot in dots if dot.mine and dot.off_mm is not None and _counts(plan, dot.off_mm)]
    hand = hand_of(offs, in_force_mm, LEAST_ROUNDS, TOLD_MM) if plan.exercise == "cuts" and offs else None
    return Rounds(
        exercise=plan.exercise,
        title=EXERCISES[plan.exercise].title,
        learns=plan.learns,
        rounds=plan.rounds,
        read=len(dots),
        dots=dots,
        scale_mm=max([LEAST_SCALE_MM, *(abs(one.off_mm or 0.0) for one in dots if _counts(plan, one.off_mm or 0.0))]),
        hand=hand,
        says=_told(plan, dots, hand, measured),
        offered=_offer(hand, plan.units) if hand and hand.suggest else "",
    )


def _counts(plan: PracticePlan, off_mm: float) -> bool:
    return abs(off_mm) <= PLAUSIBLE * plan.length_mm


def _cut_dots(plan: PracticePlan, measured: Mapping[str, float], mine: frozenset[str]) -> tuple[RoundRead, ...]:
    out = []
    for blank in plan.blanks:
        key = f"{CUT}@{blank.name}"
        if key in measured:
            off = measured[key] - blank.cut_length_mm
            out.append(RoundRead(round_of(blank.name), off, None, _cut(plan, off)[1], key in mine))
    return tuple(out)


def _yes_dots(plan: PracticePlan, measured: Mapping[str, float], mine: frozenset[str]) -> tuple[RoundRead, ...]:
    out = []
    for blank in plan.blanks:
        keys = [(f"{base}@{blank.name}", wanted) for base, wanted in ENDS[plan.exercise]]
        if not all(key in measured for key, _ in keys):
            continue
        good = all(bool(measured[key]) is wanted for key, wanted in keys)
        wrong = next((key for key, wanted in keys if bool(measured[key]) is not wanted), keys[-1][0])
        says = _judged(plan, wrong, None, measured)[1]
        out.append(RoundRead(round_of(blank.name), None, good, says, all(key in mine for key, _ in keys)))
    return tuple(out)


def _told(
    plan: PracticePlan, dots: Sequence[RoundRead], hand: Hand | None, measured: Mapping[str, float]
) -> tuple[str, ...]:
    if not dots:
        return ("Nothing read yet.",)
    if plan.exercise == "cuts":
        return _cuts_told(plan, dots, hand)
    good = sum(1 for dot in dots if dot.good)
    said = [f"{good} of {len(dots)} came out."]
    if plan.exercise == "joint":
        gaps = [f"light-seen@round-{dot.round}" for dot in dots if not dot.good]
        seen = sum(1 for key in gaps if measured.get(key))
        if gaps:
            said.append(f"Of {len(gaps)} not closed, light was seen before the solder at {seen or 'none'}.")
    said.append("It is no setting of the program's: it is kept as what you have seen.")
    return tuple(said)


def _cuts_told(plan: PracticePlan, dots: Sequence[RoundRead], hand: Hand | None) -> tuple[str, ...]:
    offs = [dot.off_mm for dot in dots if dot.off_mm is not None and _counts(plan, dot.off_mm)]
    said = []
    if offs:
        mean = sum(offs) / len(offs)
        side = "on the line" if abs(mean) < TOLD_MM else f"{Length(abs(mean), plan.units):.2f} "
        side += "" if abs(mean) < TOLD_MM else "long" if mean > 0 else "short"
        said.append(f"{len(offs)} of {plan.rounds} cut, {side} on average.")
    left_out = len(dots) - len(offs)
    if left_out:
        said.append(f"{left_out} read so far off that they are not counted.")
    if hand is None:
        said.append("None of them is read by you: it teaches nothing of your hand.")
        return tuple(said)
    told = f"{Length(hand.sd_mm, plan.units):.2f}"
    said.append(
        f"Your hand: {told}, the table counted as ten cuts beside your {hand.n}; "
        f"{Length(hand.in_force_mm, plan.units):.2f} is in force for you."
    )
    if hand.n < LEAST_ROUNDS:
        said.append(f"It is offered as your setting from {LEAST_ROUNDS} cuts on.")
    return tuple(said)


def _offer(hand: Hand, units: str) -> str:
    """What is offered: 0.14 from ten cuts, not 0.15."""
    return (
        f"{Length(hand.sd_mm, units):.2f} from {_COUNTS.get(hand.n, str(hand.n))} cuts, "
        f"not {Length(hand.in_force_mm, units):.2f}"
    )


_COUNTS = {10: "ten", 11: "eleven", 12: "twelve"}
