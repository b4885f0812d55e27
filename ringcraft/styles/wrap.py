"""The wrap of a hollow signet: a strip that leaves a round tangentially for the corners of its top."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.drawing.paths import Path, arc


@dataclass(frozen=True)
class Wrap:
    """The outer strip: its length [mm], where it leaves the round [rad from the top], its straight flank [mm]."""

    length_mm: float
    leaves_at: float
    flank_mm: float


def wrap_of(neutral_radius_mm: float, top_width_mm: float, corner_height_mm: float) -> Wrap:
    """The strip from one top corner tangentially on to the round, under it, and up to the other corner.

    With Rn the strip's neutral radius and P = (B/2, height) the corner: L = 2 (Rn (pi - d - b) + s),
    s = sqrt(|P|^2 - Rn^2), d = atan2(B/2, height), b = acos(Rn/|P|). Source: plane geometry (the tangents from a
    point to a circle); checked in the tests by measuring the drawn line with shapely.
    """
    away = math.hypot(top_width_mm / 2, corner_height_mm)
    turn = math.atan2(top_width_mm / 2, corner_height_mm) + math.acos(neutral_radius_mm / away)
    flank = math.sqrt(away**2 - neutral_radius_mm**2)
    return Wrap(2 * (neutral_radius_mm * (math.pi - turn) + flank), turn, flank)


def wrapped(radius: float, half_top: float, height: float) -> Path:
    """From the right corner tangentially on to the round, under it, and up to the left corner."""
    away = math.hypot(half_top, height)
    turn = math.atan2(half_top, height) + math.acos(min(1.0, radius / away))
    return ((half_top, height, 0.0), *arc(radius, turn, 2 * math.pi - turn), (-half_top, height, 0.0))


def backwards(path: Path) -> Path:
    """The same path from its end to its start: each bulge goes to the point before it, turned round."""
    bulges = [*(-point[2] for point in path[-2::-1]), 0.0]
    return tuple((x, y, bulge) for (x, y, _), bulge in zip(path[::-1], bulges, strict=True))
