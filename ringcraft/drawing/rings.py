"""The finished ring as one looks through it, the finger hole in the middle, the joint at the bottom."""

from __future__ import annotations

import math

from ringcraft.drawing.paths import Path, arc, circle, line, polar
from ringcraft.drawing.shapes import Line, Shape


def band(inner_mm: float, outer_mm: float, key: str = "band", tone: str = "metal") -> Shape:
    """A closed band between two radii [mm]."""
    return Shape(key, tone, (circle(outer_mm), circle(inner_mm)))


def joint(inner_mm: float, outer_mm: float, angle: float = math.pi, key: str = "joint") -> Line:
    """The seam, a line across the band at an angle [rad] clockwise from the top."""
    return Line(key, "joint", line(polar(inner_mm, angle), polar(outer_mm, angle)))


def opened(inner_mm: float, outer_mm: float, half_gap: float, key: str = "band") -> Shape:
    """A band open at the top: ``half_gap`` [rad] to either side of it."""
    return Shape(key, "metal", (reach(inner_mm, outer_mm, half_gap, 2 * math.pi - half_gap),))


def reach(inner_mm: float, outer_mm: float, start: float, end: float) -> Path:
    """The outline of a part of a band, from one angle [rad] clockwise from the top to another."""
    outer, inner = arc(outer_mm, start, end), arc(inner_mm, end, start)
    return outer + inner


def vee(inner_mm: float, outer_mm: float, half_angle: float, at_top: bool = True) -> Shape:
    """A band whose top leaves the round along two tangents to a tip; ``half_angle`` [rad] is half the V's.

    A tangent meets the circle where it has turned pi/2 - half_angle away from the tip, whatever the radius, so
    the inside and the outside are the same V on two circles.
    """
    turn = math.pi / 2 - half_angle
    flip = 1.0 if at_top else -1.0

    def outline(radius: float) -> Path:
        tip = (0.0, flip * radius / math.sin(half_angle), 0.0)
        start = 0.0 if at_top else math.pi
        round_ = arc(radius, start + turn, start + 2 * math.pi - turn)
        return (tip, *round_)

    return Shape("band", "metal", (outline(outer_mm), outline(inner_mm)))


def overlapped(inner_mm: float, thickness_mm: float, overlap: float) -> tuple[Shape, Shape]:
    """An open ring whose one end lies over the other along ``overlap`` [rad], at the bottom.

    The end that lies outside climbs over the other in a straight ramp as long as the metal is thick.
    """
    outer = inner_mm + thickness_mm
    start, end = math.pi - overlap / 2, math.pi + overlap / 2
    climb = thickness_mm / outer * 2
    under = Shape("band", "metal", (reach(inner_mm, outer, end + climb, end + 2 * math.pi),))
    over_in, over_out = outer, outer + thickness_mm
    path = (
        *arc(over_out, start, end)[:-1],
        (*polar(over_out, end), 0.0),
        (*polar(outer, end + climb), 0.0),
        (*polar(inner_mm, end + climb), 0.0),
        (*polar(over_in, end), math.tan(overlap / 4)),
        (*polar(over_in, start), 0.0),
    )
    return under, Shape("over", "metal", (path,))


def two_thick(inner_mm: float, end_thick: float, middle_thick: float, half_end: float, half_gap: float) -> Shape:
    """A shank with thick ends at the top and a thin middle below.

    ``half_end`` [rad] is where, clockwise from the top, the thick end gives over to the thin middle.
    """
    thick, thin = inner_mm + end_thick, inner_mm + middle_thick
    ramp = min(0.12, (math.pi - half_end) / 4)
    right = arc(thick, half_gap, half_end)
    below = arc(thin, half_end + ramp, 2 * math.pi - half_end - ramp)
    left = arc(thick, 2 * math.pi - half_end, 2 * math.pi - half_gap)
    outside = right + below + left
    if half_gap > 0:
        return Shape("band", "metal", (outside + arc(inner_mm, 2 * math.pi - half_gap, half_gap),))
    return Shape("band", "metal", (outside, circle(inner_mm)))


def dished_section(width_mm: float, thickness_mm: float, dish_mm: float, key: str = "section") -> Shape:
    """A cut across a dished strip: its middle inside at nought, its edges standing ``dish_mm`` [mm] further out."""
    radius = (width_mm**2 / 4 + dish_mm**2) / (2 * dish_mm)
    half = math.asin(min(1.0, width_mm / 2 / radius))
    upper, bulge = radius - thickness_mm, math.tan(half / 2)
    x, y = upper * math.sin(half), radius - upper * math.cos(half)
    path = ((-width_mm / 2, dish_mm, bulge), (width_mm / 2, dish_mm, 0.0), (x, y, -bulge), (-x, y, 0.0))
    return Shape(key, "metal", (path,))
