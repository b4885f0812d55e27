"""The ring before and after, as one looks through it, at one scale: what goes out or in, the cuts, the head."""

from __future__ import annotations

import math

from ringcraft.drawing import rings
from ringcraft.drawing.paths import line, polar
from ringcraft.drawing.shapes import Drawing, Label, Line, Shape, drawing
from ringcraft.resize.advice import Judged
from ringcraft.resize.case import Case

CUT_BEYOND_MM = 0.8  # how far a cut's line is drawn beyond the metal on either side
HEAD_RISE = 0.34  # of its span: how high a head is drawn, which is not measured
STONE_SHARE = 0.055  # of the inside: a stone that is not in a head is drawn so large


def before(case: Case, judged: Judged) -> Drawing:
    """The ring as it came in, with the cuts and what comes out of it."""
    inner, outer = _radii(case, False)
    shapes, lines = [rings.band(inner, outer)], []
    figures, key = judged.weighed.figures, judged.method.key
    half = 0.0
    if key == "take-out" and figures.get("take_out_mm"):
        half = float(figures["take_out_mm"] or 0.0) / case.radius[0] / 2
    elif key == "reshank":
        half = math.pi - float(figures["keep_mm"] or 0.0) / case.radius[0] / 2
    if half > 0:
        shapes.append(Shape("out", "change", (rings.reach(inner, outer, math.pi - half, math.pi + half),)))
        lines += [_cut(inner, outer, math.pi - half, "cut-right"), _cut(inner, outer, math.pi + half, "cut-left")]
    elif judged.method.torch:
        lines.append(_cut(inner, outer, math.pi))
    if case.has("old-seam"):
        lines.append(rings.joint(inner, outer))
    return drawing([*shapes, *_tops(case, inner, outer, False)], lines, _engraving(case, inner))


def after(case: Case, judged: Judged) -> Drawing:
    """The ring as it will be: what was set in, its seams, the head on its new curve."""
    inner, outer = _radii(case, judged.view.key not in ("refuse", "true-first"))
    shapes, lines = [rings.band(inner, outer)], []
    piece = judged.weighed.insert
    if piece is not None:
        half = piece.finished_mm / case.radius[1] / 2
        shapes.append(Shape("in", "change", (rings.reach(inner, outer, math.pi - half, math.pi + half),)))
        lines += [
            rings.joint(inner, outer, math.pi - half, "first"),
            rings.joint(inner, outer, math.pi + half, "second"),
        ]
    elif judged.method.torch:
        lines.append(rings.joint(inner, outer))
    return drawing([*shapes, *_tops(case, inner, outer, True)], lines, _engraving(case, inner))


def _radii(case: Case, after_: bool) -> tuple[float, float]:
    inner = case.inside[after_] / 2
    return inner, inner + case.section.thickness_mm


def _cut(inner: float, outer: float, angle: float, key: str = "cut") -> Line:
    low, high = polar(inner - CUT_BEYOND_MM, angle), polar(outer + CUT_BEYOND_MM, angle)
    return Line(key, "cut", line(low, high))


def _tops(case: Case, inner: float, outer: float, after_: bool) -> list[Shape]:
    """The head on its chord, and the stones that sit elsewhere."""
    shapes = []
    if case.head is not None:
        half = case.head.span_mm / 2
        foot = math.sqrt(inner**2 - half**2) + (outer - inner)
        rise = case.head.span_mm * HEAD_RISE
        top = line((-half, foot), (half, foot), (0.78 * half, foot + rise), (-0.78 * half, foot + rise))
        shapes.append(Shape("head", "stone", (top,)))
    size = STONE_SHARE * 2 * inner
    for place, stone in enumerate(case.order.stones):
        if stone.from_joint_mm is None:
            if case.head is None:
                shapes.append(_gem(f"stone-{place}", outer, 0.0, size))
            continue
        turn = stone.from_joint_mm / case.radius[after_]
        shapes.append(_gem(f"stone-{place}", outer, math.pi - turn, size))
    return shapes


def _gem(key: str, outer: float, angle: float, size: float) -> Shape:
    wide = size / outer / 1.6
    path = line(
        polar(outer - 0.15 * size, angle - 0.6 * wide),
        polar(outer + 0.7 * size, angle - wide),
        polar(outer + size, angle - 0.6 * wide),
        polar(outer + size, angle + 0.6 * wide),
        polar(outer + 0.7 * size, angle + wide),
        polar(outer - 0.15 * size, angle + 0.6 * wide),
    )
    return Shape(key, "stone", (path,))


def _engraving(case: Case, inner: float) -> list[Label]:
    return [Label("engraved", 0.0, inner * 0.72)] if case.has("engraved-inside") else []
