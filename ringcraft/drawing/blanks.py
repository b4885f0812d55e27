"""Blanks as they are marked out: the square end left at x = 0, one long edge along y = 0."""

from __future__ import annotations

import math

from ringcraft.drawing.paths import QUARTER, Path, box, line
from ringcraft.drawing.shapes import Drawing, Label, Line, Shape, drawing


def strip(
    length_mm: float, width_mm: float, lines: list[Line] | None = None, labels: list[Label] | None = None
) -> Drawing:
    """A strip with square ends."""
    return drawing([Shape("blank", "metal", (box(0, 0, length_mm, width_mm),))], lines, labels)


def across(key: str, kind: str, x_mm: float, width_mm: float) -> Line:
    """A line across the strip."""
    return Line(key, kind, line((x_mm, 0), (x_mm, width_mm)))


def along(key: str, kind: str, y_mm: float, from_mm: float, to_mm: float) -> Line:
    """A line along the strip."""
    return Line(key, kind, line((from_mm, y_mm), (to_mm, y_mm)))


def waisted(length_mm: float, width_mm: float, waist_mm: float, corner_mm: float) -> Path:
    """A strip drawn in to a waist by one arc on either long edge, two opposite corners rounded.

    The ends stay straight for the length of a corner, so the arcs run between them.
    """
    depth = (width_mm - waist_mm) / 2
    left, right = corner_mm, length_mm - corner_mm
    bulge = 2 * depth / (right - left) if right > left else 0.0
    return (
        (0.0, corner_mm, QUARTER),
        (corner_mm, 0.0, -bulge),
        (right, 0.0, 0.0),
        (length_mm, 0.0, 0.0),
        (length_mm, width_mm - corner_mm, QUARTER),
        (right, width_mm, -bulge),
        (left, width_mm, 0.0),
        (0.0, width_mm, 0.0),
    )


def bypass(length_mm: float, width_mm: float, waist_mm: float, overlap_mm: float, corner_mm: float) -> Path:
    """A diagonal strip whose ends pass beside one another on the finger; alike to itself by half a turn.

    Each end is half the width and has one straight edge along the middle line, as long as the ends lie beside one
    another; opposite it a curve of two arcs runs from a rounded corner tangent into the waist.
    """
    half, middle = width_mm / 2, length_mm / 2
    low = half - waist_mm / 2
    up = _ess(middle - overlap_mm, waist_mm / 2)  # from the straight edge to the waist, or back
    curve = _ess(middle - corner_mm, low)  # from the corner to the waist

    def run(x: float, y: float, to: tuple[float, float], bulge: float) -> Path:
        """Two arcs, flat at both ends: the first turns left, the second as far right."""
        return ((x, y, bulge), ((x + to[0]) / 2, (y + to[1]) / 2, -bulge))

    lower = (
        (0.0, corner_mm, QUARTER),
        *run(corner_mm, 0.0, (middle, low), curve),
        *run(middle, low, (length_mm - overlap_mm, half), up),
        (length_mm - overlap_mm, half, 0.0),
        (length_mm, half, 0.0),
    )
    return (*lower, *((length_mm - x, width_mm - y, bulge) for x, y, bulge in lower))


def _ess(run_mm: float, rise_mm: float) -> float:
    """The bulge of each of two equal arcs that climb so far, flat at both ends."""
    return math.tan(math.atan2(rise_mm, run_mm) / 2)
