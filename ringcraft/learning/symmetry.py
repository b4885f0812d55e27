"""Symmetry of a shank: caliper readings round it, where and how much to take off so that both sides are alike."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ringcraft.following.answers import LEAST_WALL_MM
from ringcraft.learning.places import PLACES, ROUND
from ringcraft.units import Length, capital

ALIKE_MM = 0.05  # a caliper held by hand tells no less; our own judgement
#: Where each place lies, from the bottom [degrees], to the right.
ANGLES = {
    "left-end": -150.0, "left-90": -90.0, "left-45": -45.0, "bottom": 0.0, "right-45": 45.0, "right-90": 90.0,
    "right-end": 150.0,
}  # fmt: skip
_PAIRS = (("left-45", "right-45"), ("left-90", "right-90"), ("left-end", "right-end"))
_BOTH = dict(zip(_PAIRS, ("45°", "90°", "The ends"), strict=True))


@dataclass(frozen=True)
class PlaceTake:
    """One place of a shank: what it measures, what comes off it and what is left [mm]; its angle from the bottom."""

    place: str
    title: str
    angle_deg: float
    mm: float
    take_mm: float
    left_mm: float
    text: str
    take_text: str


@dataclass(frozen=True)
class Symmetry:
    """What to take off where. ``says`` is each pair in words, ``floor_mm`` what no place is taken under."""

    places: tuple[PlaceTake, ...]
    floor_mm: float
    says: tuple[str, ...]


def symmetry(readings: Mapping[str, float], floor_mm: float = LEAST_WALL_MM, units: str = "mm") -> Symmetry:
    """Where and how much to take off [mm], from readings by place: the thicker of a pair comes down to the thinner,
    never under the floor. The floor is the usual least wall of a worn shank; common practice, no published source.
    """
    take = dict.fromkeys(readings, 0.0)
    says: list[str] = []

    def told(mm: float) -> str:
        return f"{Length(mm, units):.2f}"

    for pair in _PAIRS:
        if not all(place in readings for place in pair):
            continue
        thick, thin = sorted(pair, key=lambda place: -readings[place])
        off = readings[thick] - readings[thin]
        where = PLACES[thick].removeprefix("at ")
        if off < ALIKE_MM:
            says.append(f"{_BOTH[pair]}: alike.")
            continue
        take[thick] = max(0.0, readings[thick] - max(readings[thin], floor_mm))
        if take[thick] < ALIKE_MM / 2:
            take[thick] = 0.0
            says.append(f"{capital(where)}: {told(off)} thicker, but at the floor: leave it.")
        elif take[thick] < off - 1e-9:
            rest = off - take[thick]
            says.append(
                f"{capital(where)}: take {told(take[thick])}, no more: {told(rest)} stays, the floor is there."
            )
        else:
            says.append(f"{capital(where)}: take {told(off)}.")
    worn = [place for place in ROUND if place in readings and readings[place] < floor_mm]
    if worn:
        names = ", ".join(PLACES[place] for place in worn)
        says.append(f"Under {told(floor_mm)} {names}: nothing is taken there, and it is told to its owner.")
    places = tuple(
        PlaceTake(
            place, PLACES[place], ANGLES[place], readings[place], take[place], readings[place] - take[place],
            told(readings[place]), told(take[place]) if take[place] else "",
        )
        for place in ROUND
        if place in readings
    )  # fmt: skip
    return Symmetry(places, floor_mm, tuple(says))
