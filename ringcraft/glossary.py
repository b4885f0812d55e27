"""The words of the trade in plain words, some with a drawing; a card finds them in what its steps say."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import bypass
from ringcraft.drawing.paths import arc, box, circle, line
from ringcraft.drawing.shapes import Drawing, Line, Shape, drawing
from ringcraft.sections import Stock, section_of
from ringcraft.tables import rows


@dataclass(frozen=True)
class Word:
    """A word of the trade: what it is, what it is called elsewhere, a drawing of it, the forms a card says it in."""

    key: str
    title: str
    says: str
    also: str
    finds: tuple[str, ...]
    drawing: Drawing | None


@cache
def words() -> tuple[Word, ...]:
    """All words, by the alphabet."""
    found = [
        Word(
            key=row["key"],
            title=row["title"],
            says=row["says"],
            also=row["also"],
            finds=tuple(row["finds"]),
            drawing=DRAWN[row["drawing"]]() if row["drawing"] else None,
        )
        for row in rows("glossary")
    ]
    return tuple(sorted(found, key=lambda word: word.title.lower()))


def _section(
    profile: str, width: float, thick: float, side: float | None = None, *, line_at: bool = False
) -> Drawing:
    found = section_of(Stock(profile=profile, width_mm=width, thickness_mm=thick, side_mm=side))
    shape = Shape("section", "metal", (line(*((x, y) for x, y in found.outline)),))
    reach = width * 0.7
    lines = (
        [Line("neutral", "neutral", line((-reach, found.neutral_mm), (reach, found.neutral_mm)))] if line_at else []
    )
    return drawing([shape], lines)


def _blank() -> Drawing:
    metal = Shape("blank", "metal", (box(0, 0, 40, 4),))
    waste = Shape("waste", "ghost", (box(40, 0, 46, 4),))
    return drawing([metal, waste], [Line("cut", "scribe", line((40, -1), (40, 5)))])


def _kerf() -> Drawing:
    left, right = Shape("left", "metal", (box(0, 0, 14, 5),)), Shape("right", "metal", (box(15, 0, 29, 5),))
    return drawing([left, right], [Line("kerf", "saw", line((14.5, -2), (14.5, 7)))])


def _joint(angle: float = 0.0, rise: float = 0.0) -> Drawing:
    """Two ends meeting, seen from the side: a wedge by its angle [mm at the top], or a step."""
    left = Shape("left", "metal", (line((-14, 0), (0, 0), (-angle / 2, 4), (-14, 4)),))
    right = Shape("right", "metal", (line((0, rise), (14, rise), (14, 4 + rise), (angle / 2, 4 + rise)),))
    return drawing([left, right])


def _d_form() -> Drawing:
    inner, outer, cut = 8.0, 9.6, math.radians(38)

    def outline(radius: float) -> tuple[tuple[float, ...], ...]:
        return arc(radius, -math.pi + cut, math.pi - cut)

    low = -inner * math.cos(cut)
    shape = Shape("band", "metal", (outline(outer), outline(inner)))
    return drawing([shape], [Line("joint", "joint", line((0, low - 1.6), (0, low)))])


def _seat() -> Drawing:
    sleeves = line((-6, 0), (6, 0), (6, 2.4), (3, 2.4), (3, 1.2), (-3, 1.2), (-3, 2.4), (-6, 2.4))
    rides = line((-3, 1.2), (3, 1.2), (3, 3.4), (-3, 3.4))
    return drawing([Shape("sleeves", "metal", (sleeves,)), Shape("rides", "second", (rides,))])


def _bezel() -> Drawing:
    wall = Shape("wall", "metal", (circle(6.4), circle(5.6)))
    return drawing(
        [wall, Shape("stone", "stone", (circle(5.3),))], [Line("seam", "joint", line((0, -6.4), (0, -5.6)))]
    )


def _prong() -> Drawing:
    return drawing([Shape("prong", "metal", (line((0, 0), (2, 0), (2, 7), (1.2, 7.8), (2, 8.6), (2, 11), (0, 11)),))])


def _under_plate() -> Drawing:
    half = math.radians(24)
    plate = rings.reach(8.2, 9.1, -half, half)
    ends = [rings.reach(8.2, 10.2, sign * half, sign * (half + 0.4)) for sign in (1.0,)]
    ends.append(rings.reach(8.2, 10.2, -half - 0.4, -half))
    shank = [Shape(f"shank-{i}", "second", (path,)) for i, path in enumerate(ends)]
    return drawing([Shape("plate", "metal", (plate,)), *shank])


def _shank() -> Drawing:
    return drawing([rings.opened(8, 9.8, math.radians(28))])


def _taper() -> Drawing:
    cone = line((0, 1.5), (60, 0), (60, 9), (0, 7.5))
    marks = [Line(f"mark-{x}", "scribe", line((x, 1.5 - x / 40), (x, 7.5 + x / 40))) for x in range(10, 60, 10)]
    return drawing([Shape("cone", "metal", (cone,))], marks)


def _channel() -> Drawing:
    base = Shape("band", "metal", (box(-6, 0, 6, 1),))
    walls = [Shape(f"wall-{i}", "second", (box(x, 1, x + 1.4, 2.6),)) for i, x in enumerate((-6.0, 4.6))]
    return drawing([base, *walls, Shape("stone", "stone", (box(-4.6, 1, 4.6, 2.6),))])


def _bypass() -> Drawing:
    return drawing([Shape("blank", "metal", (bypass(62, 10, 4.2, 9, 2.5),))])


DRAWN: dict[str, Callable[[], Drawing]] = {
    "blank": _blank,
    "half-round": lambda: _section("half-round", 5, 2),
    "d-wire": lambda: _section("d", 5, 2.6, 1.0),
    "court": lambda: _section("court", 5, 2),
    "neutral-line": lambda: _section("half-round", 5, 2, line_at=True),
    "kerf": _kerf,
    "joint": _joint,
    "wedge": lambda: _joint(angle=2.4),
    "joint-step": lambda: _joint(rise=1.1),
    "d-form": _d_form,
    "taper": _taper,
    "shank": _shank,
    "prong": _prong,
    "bezel": _bezel,
    "seat": _seat,
    "under-plate": _under_plate,
    "bypass": _bypass,
    "dish": lambda: drawing([rings.dished_section(9, 1, 1.1)]),
    "channel": _channel,
    "taper-shank": lambda: drawing([rings.two_thick(8, 3, 1.4, math.radians(40), math.radians(18))]),
}
