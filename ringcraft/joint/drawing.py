"""The five views of a joint and the ring at it, drawn from what was said of them, everything in mm.

A gap is drawn as wide as it is against the piece, but never so narrow that it cannot be seen: what is drawn wider
than it is, is drawn so for the eye and its figure stands beside it.
"""

from __future__ import annotations

import math
from dataclasses import replace

from ringcraft.drawing.paths import Path, line
from ringcraft.drawing.rings import opened, reach
from ringcraft.drawing.shapes import Drawing, Line, Shape, drawing
from ringcraft.joint.actions import JointCase
from ringcraft.joint.asking import SIDES, VIEWS

LEG = 1.25  # how long each side of a joint is drawn, in heights of the view
SHOWN = 0.06  # of the height: the narrowest gap, and the lowest step, that can be seen
HAIR = 0.012  # of the height: a hair of light


def view_drawings(case: JointCase) -> dict[str, Drawing]:
    """One drawing for each view, by its key."""
    order = case.order
    said = {
        "side": order.views.side,
        "top": order.views.top,
        "other-side": order.views.other_side,
        "under": order.views.under,
        "inside": order.views.inside,
    }
    return {key: _view(case, key, said[key]) for key in VIEWS}


def _view(case: JointCase, key: str, word: str) -> Drawing:
    """A view: the two ends with what lies between them, the outside or the left edge above."""
    high = case.section.thickness_mm if key in SIDES else case.section.width_mm
    leg = LEG * high
    gap = max(case.order.gap_mm, SHOWN * high)
    above, below = {
        "none": (0.0, 0.0),
        "light": (HAIR * high, HAIR * high),
        "parallel": (gap, gap),
        "wedge-out": (gap, 0.0),
        "wedge-in": (0.0, gap),
        "wedge-left": (gap, 0.0),
        "wedge-right": (0.0, gap),
    }[word]
    step = _step_mm(case, high) if key in SIDES else 0.0
    turn = math.radians(min(abs(case.order.twist_deg), 12.0)) if key not in SIDES else 0.0
    left = line((-leg, 0.0), (-below / 2, 0.0), (-above / 2, high), (-leg, high))
    right = _moved(line((below / 2, 0.0), (leg, 0.0), (leg, high), (above / 2, high)), step, turn)
    return drawing([Shape("left", "metal", (left,)), Shape("right", "metal", (right,))])


def _step_mm(case: JointCase, high: float) -> float:
    step = case.order.step_mm
    return 0.0 if step == 0 else math.copysign(max(abs(step), SHOWN * high), -step)


def _moved(path: Path, up: float, turn: float) -> Path:
    """A path moved up [mm] and turned about the joint's foot [rad]."""
    cos, sin = math.cos(turn), math.sin(turn)
    return tuple((x * cos + y * sin, y * cos - x * sin + up, bulge) for x, y, bulge in path)


def ring_drawing(case: JointCase, where: str) -> Drawing:
    """The ring as one looks through it, its joint at the top, with where the hand goes."""
    inner = case.closes_mm / 2
    outer = inner + case.section.thickness_mm
    half = max(case.order.gap_mm, 0.0) / 2 / inner
    band = opened(inner, outer, half) if half > 0 else opened(inner, outer, 1e-4)
    lines = [Line("joint", "saw", line((0.0, inner - 0.6), (0.0, outer + 0.9)))]
    if where == "opposite":
        away = outer + 0.8
        for sign in (-1.0, 1.0):
            start, end = math.pi / 2 * sign, math.pi * 0.68 * sign
            lines.append(Line(f"hand-{'left' if sign < 0 else 'right'}", "scribe", _arc_line(away, start, end)))
    made = drawing([band], lines)
    reach_mm = outer + 1.4
    return replace(made, box=(-reach_mm, -reach_mm, reach_mm, reach_mm))


def _arc_line(radius: float, start: float, end: float) -> Path:
    """An open arc: the outer edge of a reach of the ring."""
    low, high = min(start, end), max(start, end)
    return reach(radius, radius + 0.01, low, high)[:2]
