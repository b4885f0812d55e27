"""Where things sit on a ring that is resized: its stones and head as it came in, its new seams, what goes out.

Places [mm] run along the neutral line, nought opposite the middle of the head, positive to the right seen from above.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ringcraft.resize.asking import STONES
from ringcraft.resize.case import SET_BY_FEATURE, Case
from ringcraft.resize.methods.base import Method, Weighed
from ringcraft.vbench.thing import HeadAt, StoneAt, bears_of, near_mm

IN_WORDS: Mapping[int, str] = {1: "first", 2: "second", 3: "third"}


def head_of(case: Case) -> HeadAt | None:
    """The head on the ring as it came in: opposite nought, its arc along the neutral line [mm]."""
    if case.head is None:
        return None
    angle = 2 * math.asin(case.head.span_mm / case.inside[0])
    return HeadAt(case.neutral[0] / 2, angle * case.radius[0])


def stones_of(case: Case) -> tuple[StoneAt, ...]:
    """The stones as they came in, each with its place and what it bears, by the shop's own word or ours."""
    head, half = head_of(case), case.neutral[0] / 2
    out = []
    for place, stone in enumerate(case.order.stones):
        at = stone.at_mm if stone.at_mm is not None else stone.from_joint_mm
        span = stone.span_mm
        if at is None:
            wide = case.neutral[0] if case.has("eternity") else head.span_mm if head else 0.0
            at, span = half, span if span is not None else wide
        at = math.copysign(min(abs(at), half), at)
        out.append(
            StoneAt(
                id=stone_name(case, place),
                kind=stone.kind,
                setting=stone.setting,
                at_mm=at,
                span_mm=span or 0.0,
                glued=stone.glued,
                bears=bears_of(stone.kind, case.order.own.bears(stone.kind), stone.treated, stone.glued),
            )
        )
    return tuple(out)


def unlisted_of(case: Case) -> tuple[StoneAt, ...]:
    """Stones that a feature says it has and nobody listed: all round, or in the head; taken as the most delicate."""
    if case.order.stones:
        return ()
    half, out = case.neutral[0] / 2, []
    for feature, name in SET_BY_FEATURE.items():
        if not case.has(feature):
            continue
        held = feature == "tension-set"
        span = 0.0 if held else case.neutral[0]
        setting, glued = "tension" if held else "channel", feature == "inlay"
        bears = bears_of("unknown", glued=glued)
        out.append(
            StoneAt(id=name, kind="unknown", setting=setting, at_mm=half, span_mm=span, glued=glued, bears=bears)
        )
    return tuple(out)


def stone_name(case: Case, place: int) -> str:
    """How a stone is called: the ruby; the second diamond where there are several."""
    kind = str(case.order.stones[place].kind)
    alike = [n for n, one in enumerate(case.order.stones) if str(one.kind) == kind]
    title = STONES[kind]["title"]
    which = alike.index(place) + 1
    nth = f"{IN_WORDS.get(which, f'{which}th')} " if len(alike) > 1 else ""
    return f"the {nth}{title.removeprefix('a ')}"


@dataclass(frozen=True)
class Cut:
    """What a way cuts, and where its seams come to lie on the new ring [mm].

    ``reach_mm`` is how far to either side of nought metal goes; ``shift_mm`` how far what sits on either side comes
    nearer to nought by the cuts, and goes from it by an insert.
    """

    reach_mm: float
    shift_mm: float
    seams: tuple[float, ...]

    def moved(self, at_mm: float) -> float:
        """A place on the new ring."""
        return math.copysign(abs(at_mm) + self.shift_mm, at_mm)


def cut_of(case: Case, method: Method, weighed: Weighed, beyond_mm: float = 0.0) -> Cut:
    """What a way cuts, with what saw and file took beyond the plan [mm]; of a way without the torch nothing."""
    if not method.torch:
        return Cut(0.0, (case.neutral[1] - case.neutral[0]) / 2, ())
    join, figures = case.order.join, weighed.figures
    insert = weighed.insert.finished_mm if weighed.insert else 0.0
    if method.key == "reshank":
        gone = case.neutral[0] - float(figures.get("keep_mm") or 0.0)
        gone += 2 * case.kerf_mm + 2 * join.faces_mm
    elif method.key == "add-stock":
        gone = (0.0 if case.order.seam_open else case.kerf_mm) + 2 * join.faces_mm
    else:
        gone = case.neutral[0] - math.pi * (weighed.closes_mm + 2 * case.section.neutral_mm)
    seams = (-insert / 2, insert / 2) if insert else (0.0,)
    return Cut(max(gone, 0.0) / 2, (insert - gone - beyond_mm) / 2, seams)


def goes_out(stone: StoneAt, cut: Cut) -> bool:
    """Whether a stone's seat goes out with what is cut."""
    return bool(cut.seams) and abs(stone.at_mm) - stone.span_mm / 2 < cut.reach_mm - 1e-9


def leg_of(case: Case, stone: StoneAt, cut: Cut) -> float:
    """How far a stone's near edge is from the nearest of the new seams [mm]; from nought where none is made."""
    round_mm = case.neutral[1]
    there = StoneAt(**{**vars(stone), "at_mm": cut.moved(stone.at_mm)})
    return max(min(near_mm(there, seam, round_mm) for seam in cut.seams or (0.0,)), 0.0)
