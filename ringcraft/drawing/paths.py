"""Lines of straight pieces and exact arcs, as machines that cut write them.

A path is a row of points (x, y, bulge) [mm, mm, -]. The bulge bends the piece to the next point into an arc:
it is the tangent of a quarter of the arc's angle, positive where the arc turns left (the convention of the
open DXF format's LWPOLYLINE). x runs to the right, y upward.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator

Path = tuple[tuple[float, ...], ...]
QUARTER = math.tan(math.pi / 8)  # the bulge of a quarter turn to the left
STEP_MM = 0.01  # how far a flattened arc may lie from the arc itself


def line(*points: tuple[float, float]) -> Path:
    """A path of straight pieces."""
    return tuple((x, y, 0.0) for x, y in points)


def box(left: float, bottom: float, right: float, top: float) -> Path:
    """A rectangle, from its lower left corner, turning left."""
    return line((left, bottom), (right, bottom), (right, top), (left, top))


def circle(radius: float, x: float = 0.0, y: float = 0.0) -> Path:
    """A whole circle as two half turns."""
    return ((x - radius, y, 1.0), (x + radius, y, 1.0))


def polar(radius: float, angle: float) -> tuple[float, float]:
    """The point at an angle [rad], clockwise from the top, on a circle about the origin."""
    return radius * math.sin(angle), radius * math.cos(angle)


def arc(radius: float, start: float, end: float) -> Path:
    """An arc about the origin between two angles [rad], clockwise from the top; it ends without a bulge."""
    bulge = math.tan((start - end) / 4)
    half = (start + end) / 2
    if abs(end - start) > math.pi:  # in two pieces: a bulge beyond a half turn loses its accuracy
        bulge = math.tan((start - half) / 4)
        return (
            (*polar(radius, start), bulge),
            (*polar(radius, half), bulge),
            (*polar(radius, end), 0.0),
        )
    return ((*polar(radius, start), bulge), (*polar(radius, end), 0.0))


def pieces(path: Path, closed: bool) -> Iterator[tuple[tuple[float, ...], tuple[float, ...]]]:
    """The pieces of a path: each point with the next."""
    yield from itertools.pairwise(path)
    if closed and len(path) > 1:
        yield path[-1], path[0]


def radius_of(start: tuple[float, ...], end: tuple[float, ...]) -> float:
    """The radius [mm] of a bent piece."""
    bulge = abs(start[2])
    return math.dist(start[:2], end[:2]) * (1 + bulge**2) / (4 * bulge)


def length_mm(path: Path, closed: bool = False) -> float:
    """The length [mm] along a path.

    >>> round(length_mm(circle(10), closed=True), 6) == round(2 * math.pi * 10, 6)
    True
    """
    total = 0.0
    for start, end in pieces(path, closed):
        if abs(start[2]) < 1e-12:
            total += math.dist(start[:2], end[:2])
        else:
            total += radius_of(start, end) * 4 * math.atan(abs(start[2]))
    return total


def area_mm2(path: Path) -> float:
    """The area [mm2] inside a closed path: the polygon of its points and the segments of its arcs.

    >>> round(area_mm2(circle(2)), 6) == round(math.pi * 4, 6)
    True
    """
    total = 0.0
    for start, end in pieces(path, closed=True):
        total += (start[0] * end[1] - end[0] * start[1]) / 2
        if abs(start[2]) > 1e-12:
            turn, radius = 4 * math.atan(start[2]), radius_of(start, end)
            total += radius**2 / 2 * (turn - math.sin(turn))
    return abs(total)


def flattened(path: Path, closed: bool = False, step_mm: float = STEP_MM) -> list[tuple[float, float]]:
    """A path as points of straight pieces, no further than ``step_mm`` from its arcs."""
    out = [(path[0][0], path[0][1])] if path else []
    for start, end in pieces(path, closed):
        if abs(start[2]) > 1e-12:
            out += _bent(start, end, step_mm)
        out.append((end[0], end[1]))
    return out


def _bent(start: tuple[float, ...], end: tuple[float, ...], step_mm: float) -> Iterable[tuple[float, float]]:
    bulge, radius = start[2], radius_of(start, end)
    turn = 4 * math.atan(bulge)
    chord = math.dist(start[:2], end[:2])
    away = (1 - bulge**2) / (4 * bulge) * chord  # of the centre from the chord, to its left
    ux, uy = (end[0] - start[0]) / chord, (end[1] - start[1]) / chord
    cx = (start[0] + end[0]) / 2 - uy * away
    cy = (start[1] + end[1]) / 2 + ux * away
    first = math.atan2(start[1] - cy, start[0] - cx)
    most = 2 * math.acos(max(-1.0, 1 - step_mm / radius)) if radius > step_mm else math.pi / 4
    count = max(1, math.ceil(abs(turn) / most))
    return [
        (cx + radius * math.cos(first + turn * i / count), cy + radius * math.sin(first + turn * i / count))
        for i in range(1, count)
    ]


def shifted(path: Path, dx: float, dy: float) -> Path:
    """The same path elsewhere."""
    return tuple((x + dx, y + dy, bulge) for x, y, bulge in path)


def svg(path: Path, closed: bool, down: float = 0.0) -> str:
    """A path as SVG path data; y is turned to run downward from ``down``."""
    if not path:
        return ""
    out = [f"M{path[0][0]:.4f} {down - path[0][1]:.4f}"]
    for start, end in pieces(path, closed):
        if abs(start[2]) > 1e-12:
            radius = radius_of(start, end)
            large, sweep = int(abs(start[2]) > 1), int(start[2] < 0)
            out.append(f"A{radius:.4f} {radius:.4f} 0 {large} {sweep} {end[0]:.4f} {down - end[1]:.4f}")
        else:
            out.append(f"L{end[0]:.4f} {down - end[1]:.4f}")
    return "".join(out) + ("Z" if closed else "")
