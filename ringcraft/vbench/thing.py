"""What a piece is beside its length: where its seams, stones and heads sit, how its ends stand, what coats it.

Places [mm] run along the neutral line, nought opposite the middle of the head, of a plain ring at its joint, positive
to the right seen from above. A cut or an insert at nought shifts them, a stretch scales all but the arc of a head.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import ConfigDict, Field
from pydantic.dataclasses import dataclass as with_alias

from ringcraft.metals import ALL_METALS
from ringcraft.tables import rows

#: "in" is no name in Python: a stone's state knows how it is written in JSON.
BY_ALIAS = ConfigDict(serialize_by_alias=True, validate_by_name=True, validate_by_alias=True)
PLAIN_STRAIN = 0.045  # about a size on a usual band, annealed; common practice, no published source
GIVES_LITTLE = 0.9  # families whose metal bears less strain than this are stretched half as far; our own judgement
BLOW_MM = 2.0  # that a blow stays clear of a seat or a head; our own judgement
BOILS_C = 100.0  # water that boils or splashes counts as this
FILM_C = 150.0  # of wet metal, from which a film of steam can keep the water off; craft
#: What is never struck, and why; each is lifted by what its op does to it.
FRAIL = {
    "hollow": "a hollow wall dents under a blow",
    "crack": "a crack runs on under a blow until it is cut out or soldered",
    "tension": "a blow lets a stone that is held by tension go",
    "inlay": "an inlay breaks under a blow",
    "eternity": "stones sit all round, and none is struck",
}


@dataclass(frozen=True)
class Curve:
    """A stretch of a piece [mm] bent to a radius of its neutral line [mm]."""

    from_mm: float
    to_mm: float
    radius_mm: float


@dataclass(frozen=True)
class Gap:
    """How far an open ring gapes [mm]: along its neutral line carried on, and straight across at its inside."""

    neutral_mm: float
    chord_mm: float


@dataclass(frozen=True)
class SeamAt:
    """A seam: its key, its place [mm], None where it runs all round, its solder."""

    key: str
    at_mm: float | None
    solder: str


@dataclass(frozen=True)
class HeadAt:
    """A head: the place of its middle and the arc that it spans [mm]."""

    at_mm: float
    span_mm: float


@dataclass(frozen=True)
class Bears:
    """What a stone bears: heat at its near edge [C] bare, coated and under water; plunge, baths, blows."""

    bare_c: float
    coated_c: float
    wet_c: float
    quench: bool
    pickle: bool
    plate: bool
    ultrasonic: bool
    steam: bool
    struck: bool


@with_alias(frozen=True, kw_only=True, config=BY_ALIAS)
class StoneAt:
    """A stone: its middle and its span [mm] on the ring, whether it is in, under water, glued, what coats it.

    ``loose``: it is handed back loose, as was agreed. ``off``: it was glued and is taken off.
    """

    id: str
    kind: str
    setting: str
    at_mm: float
    span_mm: float
    in_: Annotated[bool, Field(alias="in")] = True
    wet: bool = False
    glued: bool = False
    coats: tuple[str, ...] = ()
    loose: bool = False
    bears: Bears

    @property
    def limit_c(self) -> float:
        """What its near edge may come to [C], as it stands: under water, coated or bare."""
        if self.wet:
            return self.bears.wet_c
        return self.bears.coated_c if self.coats else self.bears.bare_c


@dataclass(frozen=True)
class Seat:
    """A stone in the heat of one joint: its near edge from that seam [mm], the model's high value there [C].

    Of one under water also what the set-up takes against the same ring dry, at most, and whether a torch of the shop
    has done as much: yes, unsure, no or unknown.
    """

    stone: str
    near_mm: float
    high_c: float
    wet: bool = False
    against_dry: float = 1.0
    torch: str = ""


#: What a kind bears in a word (tables/stone-degrees.toml), and what treatment and glue leave of it.
DEGREES = {row["key"]: row["bears_c"] for row in rows("stone-degrees")}
KINDS = {row["key"]: row for row in rows("stones")}


def bears_of(kind: str, degree: str = "", treated: bool = False, glued: bool = False) -> Bears:
    """What a stone bears: by its kind's row, or by the shop's own word for the kind; treatment and glue bear less.

    >>> bears_of("diamond").coated_c, bears_of("diamond", glued=True).coated_c
    (850.0, 60.0)
    """
    row = KINDS[kind]
    figures = [DEGREES[degree] if degree else row["bears_c"]]
    figures += [DEGREES["treated"]] if treated else []
    figures += [DEGREES["glue"]] if glued else []
    least = {name: min(float(one[name]) for one in figures) for name in ("bare", "coated", "wet")}
    weak = treated or glued
    return Bears(
        least["bare"],
        least["coated"],
        least["wet"],
        quench=bool(row["quench"]) and not weak,
        pickle=bool(row["pickle"]) and not weak,
        plate=bool(row["plate"]) and not weak,
        ultrasonic=bool(row["ultrasonic"]) and not weak,
        steam=bool(row["steam"]) and not weak,
        struck=bool(row["struck"]) and not glued,
    )


def near_mm(stone: StoneAt | HeadAt, place_mm: float, round_mm: float) -> float:
    """How far [mm] the near edge of a stone or head is from a place, the shorter way; below nought inside it."""
    apart = abs(stone.at_mm - place_mm) % round_mm
    return min(apart, round_mm - apart) - stone.span_mm / 2


def place_on(at_mm: float, round_mm: float) -> float:
    """A place between minus and plus half the round."""
    half = round_mm / 2
    return (at_mm + half) % round_mm - half if not -half < at_mm <= half else at_mm


def shifted(at_mm: float, by_mm: float) -> float:
    """A place once the joint at nought took (below nought) or gained so much [mm], half of it on either side."""
    return at_mm + math.copysign(1.0, at_mm) * by_mm / 2 if at_mm else at_mm


def moved_stones(stones: Iterable[StoneAt], by_mm: float) -> tuple[StoneAt, ...]:
    """The stones once the joint at nought took or gained so much [mm]; what lies loose is nowhere."""
    return tuple(replace(one, at_mm=shifted(one.at_mm, by_mm)) for one in stones)


def moved_heads(heads: Iterable[HeadAt], by_mm: float) -> tuple[HeadAt, ...]:
    """The heads once the joint at nought took or gained so much [mm]."""
    return tuple(replace(one, at_mm=shifted(one.at_mm, by_mm)) for one in heads)


def scaled(at_mm: float, heads: Sequence[HeadAt], old_mm: float, new_mm: float) -> float:
    """A place once the ring went from one length round to another [mm]: all of it gives but the arc of its head."""
    span = sum(one.span_mm for one in heads)
    half, edge = old_mm / 2, (old_mm - span) / 2
    if abs(at_mm) >= edge:
        return math.copysign(new_mm / 2 - (half - abs(at_mm)), at_mm)
    return at_mm * (new_mm - span) / (old_mm - span)


def clear_arcs(round_mm: float, heads: Iterable[HeadAt], stones: Iterable[StoneAt]) -> Iterator[tuple[float, float]]:
    """The arcs [mm] in which neither a head nor one of these stones lies, each from left to right.

    The middle of an arc lies within half the round of nought; an end may lie beyond the far side.
    """
    both: list[HeadAt | StoneAt] = [*heads, *stones]
    taken = [(place_on(one.at_mm, round_mm), one.span_mm / 2 + BLOW_MM) for one in both]
    if not taken:
        yield -round_mm / 2, round_mm / 2
        return
    blocked = sorted((at - reach, at + reach) for at, reach in taken)
    first = blocked[0][0]
    reached = first
    for low, high in (*blocked, (first + round_mm, first + round_mm)):
        if low > reached:
            middle = (reached + low) / 2
            turn = place_on(middle, round_mm) - middle
            yield reached + turn, low + turn
        reached = max(reached, high)


def lies_in(one: HeadAt | StoneAt, arc: tuple[float, float], round_mm: float) -> bool:
    """Whether any of a stone or head lies in an arc [mm], which may run over the far side."""
    middle, half = (arc[0] + arc[1]) / 2, (arc[1] - arc[0]) / 2
    return near_mm(one, middle, round_mm) < half - 1e-9


def blow_arc(round_mm: float, heads: Sequence[HeadAt], stones: Sequence[StoneAt]) -> tuple[float, float] | None:
    """Where blows may fall [mm]: the longest arc clear of heads and stones; None for none."""
    kept = [one for one in stones if one.in_]
    arcs = list(clear_arcs(round_mm, heads, kept))
    return max(arcs, key=lambda arc: (arc[1] - arc[0], -abs(arc[0] + arc[1])), default=None)


def size_strain_limit(metal: str) -> float:
    """How far a metal's shank is stretched or pressed at most [share]; half as far where it gives little."""
    family = ALL_METALS[metal].of_family
    return PLAIN_STRAIN * (1.0 if family.strain_limit >= GIVES_LITTLE else 0.5)


def straight_end_mm(inside_mm: float, thick_mm: float, deg: float, neutral_mm: float) -> float:
    """How long [mm] a straight piece is along a ring's neutral line once its ends stand ``deg`` off square.

    Of a piece so long on its upper side and so thick, whose ends meet radial faces: its under side is the chord
    2 Ri sin a of the inside, so the neutral line over it is 2 a (Ri + e).
    """
    angle = math.radians(deg)
    if not angle:
        return inside_mm
    chord = inside_mm - 2 * thick_mm * math.tan(angle)
    return 2 * angle * (chord / (2 * math.sin(angle)) + neutral_mm)
