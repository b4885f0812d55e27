"""The outline of a stone seen from above, and the line that a bezel's neutral fibre runs at a distance outside it.

For every convex outline the line at a distance d outside is longer by 2 pi d (Steiner's formula), so a bezel's length
is the stone's girth + pi x play + pi x thickness, exactly.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from ringcraft.drawing.paths import QUARTER, Path, circle
from ringcraft.errors import CraftError, OutOfRangeError, UnreadableError
from ringcraft.planning.part_orders import StoneOutline

SMALLEST_MM, LARGEST_MM = 1.0, 60.0  # of a stone: smaller is drilled into, larger is no ring's; our own judgement
SHARP_MM = 1e-6  # of a corner: none
STRAIGHT = ("cushion", "rectangle")
_POINTS = 180  # of an oval as it is drawn


def checked(stone: StoneOutline) -> tuple[float, float]:
    """Length and width of a stone [mm]; raises CraftError naming its field below ``stone``."""
    width = stone.length_mm if stone.width_mm is None else stone.width_mm
    for field, mm in (("length_mm", stone.length_mm), ("width_mm", width)):
        if not SMALLEST_MM <= mm <= LARGEST_MM:
            raise OutOfRangeError(
                f"stone.{field}", "No bezel is made round a stone of {mm:g mm}.", "From {low:g} to {high:g mm}.",
                mm=mm, low=SMALLEST_MM, high=LARGEST_MM,
            )  # fmt: skip
    if stone.shape == "round" and abs(width - stone.length_mm) > 1e-9:
        raise UnreadableError("stone.width_mm", "A round stone is as wide as it is long.", "Or is it an oval?")
    if width > stone.length_mm:
        raise UnreadableError("stone.width_mm", "The length is the longer side.", "Write them the other way round.")
    if stone.corner_mm > 0 and stone.shape not in STRAIGHT:
        raise _no_corner(stone)
    if stone.corner_mm > width / 2 + 1e-9:
        raise OutOfRangeError(
            "stone.corner_mm", "A corner of {corner:g} is more than half its width.", "At most {most:g mm}.",
            corner=stone.corner_mm, most=width / 2,
        )  # fmt: skip
    return stone.length_mm, width


def _no_corner(stone: StoneOutline) -> CraftError:
    return UnreadableError("stone.corner_mm", f"A stone that is {stone.shape} has no corners.", "Leave it out.")


def ellipse_mm(a: float, b: float) -> float:
    """The girth of an ellipse [mm] of half axes a and b, by the arithmetic-geometric mean (exact to rounding).

    Source: Gauss's series for the complete elliptic integral of the second kind; its standard AGM form.

    >>> abs(ellipse_mm(3, 3) - 6 * math.pi) < 1e-12
    True
    """
    high, low = max(a, b), min(a, b)
    x, y, power = 1.0, low / high, 0.5
    total = 0.5 * (1 - y * y)
    while abs(x - y) > 1e-15:
        x, y, half = (x + y) / 2, math.sqrt(x * y), (x - y) / 2
        power *= 2
        total += power * half * half
    return 2 * math.pi * high * (1 - total) / (x if x else 1.0)


def girth_mm(stone: StoneOutline) -> float:
    """The girth of a stone [mm]."""
    long, wide = checked(stone)
    if stone.shape == "round":
        return math.pi * long
    if stone.shape == "oval":
        return ellipse_mm(long / 2, wide / 2)
    return 2 * (long + wide) - (8 - 2 * math.pi) * stone.corner_mm


def sharpest_mm(stone: StoneOutline) -> float:
    """The least radius of the outline [mm]; nought at a sharp corner."""
    long, wide = checked(stone)
    if stone.shape == "round":
        return long / 2
    if stone.shape == "oval":
        return (wide / 2) ** 2 / (long / 2)
    return stone.corner_mm


def outside(stone: StoneOutline, away_mm: float) -> Path:
    """The line at a distance outside the stone [mm], its middle at nought: arcs where they are arcs."""
    long, wide = checked(stone)
    if stone.shape == "round":
        return circle(long / 2 + away_mm)
    if stone.shape == "oval":
        return tuple(_oval(long / 2, wide / 2, away_mm))
    x, y, r = long / 2 + away_mm, wide / 2 + away_mm, stone.corner_mm + away_mm
    if r < SHARP_MM:
        return ((x, -y, 0.0), (x, y, 0.0), (-x, y, 0.0), (-x, -y, 0.0))
    return (
        (x - r, -y, QUARTER), (x, -y + r, 0.0), (x, y - r, QUARTER), (x - r, y, 0.0),
        (-x + r, y, QUARTER), (-x, y - r, 0.0), (-x, -y + r, QUARTER), (-x + r, -y, 0.0),
    )  # fmt: skip


def _oval(a: float, b: float, away: float) -> Iterator[tuple[float, float, float]]:
    for i in range(_POINTS):
        turn = math.tau * i / _POINTS
        cos, sin = math.cos(turn), math.sin(turn)
        normal = math.hypot(b * cos, a * sin)
        yield a * cos + away * b * cos / normal, b * sin + away * a * sin / normal, 0.0


def corners_mm(stone: StoneOutline, away_mm: float) -> tuple[float, ...]:
    """Where the middles of the corners lie along the line outside [mm], from the middle of a long side on."""
    if stone.shape not in STRAIGHT:
        return ()
    long, wide = checked(stone)
    arc = math.pi / 2 * (stone.corner_mm + away_mm)
    half_long, short = (long - 2 * stone.corner_mm) / 2, wide - 2 * stone.corner_mm
    first = half_long + arc / 2
    second = first + arc + short
    third = second + arc + 2 * half_long
    return first, second, third, third + arc + short
