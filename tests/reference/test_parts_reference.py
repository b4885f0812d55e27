"""Bezels against shapely's offset curves and scipy's elliptic integral: neither shares a line with ours."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from scipy.special import ellipe
from shapely.geometry import Point, Polygon, box

from ringcraft.drawing.paths import flattened
from ringcraft.parts.answer import part
from ringcraft.parts.outline import ellipse_mm


def outline(shape: str, long: float, wide: float, corner: float) -> Polygon:
    if shape == "round":
        return Point(0, 0).buffer(long / 2, quad_segs=2000)
    if shape == "oval":
        turn = np.linspace(0, 2 * np.pi, 20001)[:-1]
        return Polygon(np.column_stack([long / 2 * np.cos(turn), wide / 2 * np.sin(turn)]))
    inner = box(-long / 2 + corner, -wide / 2 + corner, long / 2 - corner, wide / 2 - corner)
    return inner.buffer(corner, quad_segs=2000) if corner else inner


@pytest.mark.parametrize("shape", ["round", "oval", "cushion", "rectangle"])
def test_a_bezel_s_length_is_the_offset_curve_of_shapely(shape: str) -> None:
    draw = random.Random(2411)
    for _ in range(12):
        long = draw.uniform(3, 14)
        wide = long if shape == "round" else long * draw.uniform(0.5, 0.99)
        corner = wide * draw.uniform(0, 0.45) if shape in ("cushion", "rectangle") else 0.0
        play, thick = draw.uniform(0, 0.3), draw.uniform(0.2, 0.9)
        stone = {"shape": shape, "length_mm": long, "width_mm": wide, "corner_mm": corner}
        made = part({"part": "bezel", "stone": stone, "play_mm": play, "thickness_mm": thick, "height_mm": 3})
        away = outline(shape, long, wide, corner).buffer((play + thick) / 2, quad_segs=2000)
        assert made.blanks[0].formed_length_mm == pytest.approx(away.length, rel=2e-6)
        wall = made.blanks[0].view
        assert wall is not None
        rings = [Polygon(flattened(path, closed=True, step_mm=1e-4)) for path in wall.shapes[0].paths]
        drawn = rings[0].area - rings[1].area  # the wall as it is drawn: girth of its middle times its thickness
        assert drawn == pytest.approx(away.length * thick, rel=1e-3)


def test_an_ellipse_s_girth_is_scipy_s_complete_elliptic_integral() -> None:
    draw = random.Random(7)
    for _ in range(200):
        a = draw.uniform(0.5, 30)
        b = a * draw.uniform(0.02, 1)
        assert ellipse_mm(a, b) == pytest.approx(4 * a * ellipe(1 - (b / a) ** 2), rel=1e-12)
        assert ellipse_mm(b, a) == ellipse_mm(a, b)
    assert ellipse_mm(2, 2) == pytest.approx(4 * math.pi)
