"""Sections of wire and strip: area, centroid, neutral line and outline of the nine profiles.

A section stands on the finger: x runs along the finger, y outward from the inside surface. When it
is bent, the metal inside is squeezed and outside stretched; the line that keeps its length runs, to
bench accuracy, through the centroid (elementary bending theory), so the neutral offset e is the
centroid's height above the inside surface.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.schema import Mm, PositiveMm, name_of, request

WIDEST_MM = 40.0  # about the length of a finger's first joint
THINNEST_MM = 0.05
NARROWEST_MM = 0.3  # thinner wire is thread
_ARC_STEPS = 40
_SLACK_MM = 1e-6

Points = tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class Section:
    """A section: width along the finger and radial thickness [mm], area [mm2], centroid height [mm].

    ``outline`` is a closed polygon of (x, y) [mm], x centred on the finger's axis of symmetry; ``side_mm`` is how
    high the straight sides of a domed one are.
    """

    profile: str
    title: str
    width_mm: float
    thickness_mm: float
    area_mm2: float
    neutral_mm: float
    outline: Points
    why: str
    side_mm: float = 0.0

    @property
    def perimeter_mm(self) -> float:
        """Once round its outline [mm]: what air, water and a flame touch of it, a mm long."""
        return math.fsum(math.dist(a, b) for a, b in itertools.pairwise((*self.outline, self.outline[0])))

    @property
    def equal_sided(self) -> bool:
        """Whether it is as wide as it is thick by its profile: one measure says both."""
        return PROFILES[self.profile].equal_sided

    @property
    def flat(self) -> bool:
        """Whether it lies flat: it can be folded, sheared, stamped through."""
        return PROFILES[self.profile].flat


@dataclass(frozen=True)
class Piece:
    """A part of a section: its area [mm2] and the height of its centroid [mm]."""

    area_mm2: float
    height_mm: float


@dataclass(frozen=True)
class Profile:
    """One profile of stock. ``needs`` are the fields of the stock it takes beside its thickness.

    ``equal_sided``: as wide as thick, so that one measure says both; ``flat``: parallel faces; ``domed``: a dome on
    straight sides, whose height is ``side_mm``; ``worked`` is the profile it becomes once it is hammered or rolled.
    """

    key: str
    title: str
    needs: tuple[str, ...]
    build: Callable[[Stock], Section]
    why: str
    equal_sided: bool = False
    flat: bool = False
    domed: bool = False
    worked: str = ""


def _rectangle(width: float, low: float, high: float) -> Piece:
    return Piece(width * (high - low), (low + high) / 2)


def segment_area_centroid(chord_mm: float, height_mm: float) -> tuple[float, float]:
    """Area [mm2] and centroid height above the chord [mm] of a circular segment.

    With R = (c^2/4 + h^2) / (2h) and half angle a = acos((R - h) / R):
    A = R^2 (a - sin a cos a), y = 2 R sin^3 a / (3 (a - sin a cos a)) - (R - h).
    Source: any handbook of plane areas; checked against shapely and numerical integration in the tests.

    >>> area, height = segment_area_centroid(4, 2)  # a full half circle, 4r/3pi = 0.424 r
    >>> round(area, 3), round(height, 3)
    (6.283, 0.849)
    """
    if height_mm <= 0:
        return 0.0, 0.0
    radius = (chord_mm**2 / 4 + height_mm**2) / (2 * height_mm)
    angle = math.acos((radius - height_mm) / radius)
    share = angle - math.sin(angle) * math.cos(angle)
    if share < 1e-9:  # so flat that the segment is a parabola to machine accuracy
        return 2 / 3 * chord_mm * height_mm, 0.4 * height_mm
    centroid = 2 * radius * math.sin(angle) ** 3 / (3 * share)
    return radius**2 * share, centroid - (radius - height_mm)


def _arc(chord: float, height: float, base: float, *, up: bool) -> Points:
    """Points of a dome on a chord at ``base``, from right to left, bulging up or down."""
    if height <= 0:
        return ((chord / 2, base), (-chord / 2, base))
    radius = (chord**2 / 4 + height**2) / (2 * height)
    angle = math.acos((radius - height) / radius)
    sign = 1 if up else -1
    points = []
    for step in range(_ARC_STEPS + 1):
        turn = angle * (1 - 2 * step / _ARC_STEPS)
        points.append((radius * math.sin(turn), base + sign * (radius * math.cos(turn) - radius + height)))
    return tuple(points)


def _section(stock: Stock, width: float, pieces: list[Piece], outline: Points, side: float = 0.0) -> Section:
    area = sum(piece.area_mm2 for piece in pieces)
    neutral = sum(piece.area_mm2 * piece.height_mm for piece in pieces) / area
    profile = PROFILES[stock.profile]
    return Section(
        profile=profile.key,
        title=profile.title,
        width_mm=width,
        thickness_mm=stock.thickness_mm,
        area_mm2=area,
        neutral_mm=neutral,
        outline=outline,
        why=profile.why,
        side_mm=side,
    )


def _width(stock: Stock) -> float:
    if stock.width_mm is None:
        raise ImpossibleSectionError("width_mm", "How wide is the stock along the finger?", "Write its width.")
    return stock.width_mm


def _equal_width(stock: Stock) -> float:
    width = stock.width_mm
    if width is not None and abs(width - stock.thickness_mm) > 0.005:
        other = PROFILES[stock.profile].worked
        raise ImpossibleSectionError(
            "width_mm",
            f"{PROFILES[stock.profile].title.capitalize()} stock is as wide as it is thick.",
            f"Leave the width out, or choose {other}.",
        )
    return stock.thickness_mm


def _ellipse(stock: Stock, width: float) -> Section:
    t = stock.thickness_mm
    turns = [2 * math.pi * step / (2 * _ARC_STEPS) for step in range(2 * _ARC_STEPS)]
    outline = tuple((width / 2 * math.cos(a), t / 2 + t / 2 * math.sin(a)) for a in turns)
    return _section(stock, width, [Piece(math.pi / 4 * width * t, t / 2)], outline)


def _box(stock: Stock, width: float) -> Section:
    t, half = stock.thickness_mm, width / 2
    outline = ((-half, 0.0), (half, 0.0), (half, t), (-half, t))
    return _section(stock, width, [_rectangle(width, 0, t)], outline)


def _triangle(stock: Stock) -> Section:
    width, t = _width(stock), stock.thickness_mm
    outline = ((-width / 2, 0.0), (width / 2, 0.0), (0.0, t))
    return _section(stock, width, [Piece(width * t / 2, t / 3)], outline)


def _domed(stock: Stock, inner: float, side: float) -> Section:
    """A section of an inner dome, straight sides and an outer dome, from the inside outward."""
    width, t = _width(stock), stock.thickness_mm
    outer = t - inner - side
    for height, where in ((outer, "outer"), (inner, "inner")):
        if height > width / 2 + _SLACK_MM:
            raise ImpossibleSectionError(
                "thickness_mm",
                "A dome {high:.2f} high cannot stand on a chord of {wide:.2f}.",
                "At most half the width: {half:.2f}" + (", {most:.2f} thick in all." if where == "outer" else "."),
                high=height,
                wide=width,
                half=width / 2,
                most=width / 2 + side + inner,
            )
    outer = min(outer, width / 2)
    inner_area, inner_height = segment_area_centroid(width, inner)
    outer_area, outer_height = segment_area_centroid(width, outer)
    pieces = [
        Piece(inner_area, inner - inner_height),
        _rectangle(width, inner, inner + side),
        Piece(outer_area, inner + side + outer_height),
    ]
    below = _arc(width, inner, inner, up=False)[::-1]
    above = _arc(width, outer, inner + side, up=True)
    return _section(stock, width, pieces, below + (above if side > 0 else above[1:-1]), side)


def _d(stock: Stock) -> Section:
    t = stock.thickness_mm
    side = stock.side_mm if stock.side_mm is not None else max(t / 2, t - _width(stock) / 2)
    if side >= t:
        raise ImpossibleSectionError(
            "side_mm",
            "Straight sides of {side:.2f} leave no dome on {t:.2f} of thickness.",
            "Less than {t:.2f}; choose rectangle for no dome at all.",
            side=side,
            t=t,
        )
    return _domed(stock, 0.0, side)


def _court(stock: Stock) -> Section:
    t = stock.thickness_mm
    side = stock.side_mm if stock.side_mm is not None else max(t / 3, t - _width(stock))
    if side >= t:
        raise ImpossibleSectionError(
            "side_mm", "Straight sides of {side:.2f} leave no domes.", "Less than {t:.2f}.", side=side, t=t
        )
    return _domed(stock, (t - side) / 2, side)


def side_of_half_round(stock: Stock) -> float:
    """How high the straight sides are of what was called a half-round and is thicker than half its width [mm]."""
    if stock.profile != "half-round" or stock.width_mm is None:
        return 0.0
    side = stock.thickness_mm - stock.width_mm / 2
    return side if side > _SLACK_MM and stock.thickness_mm <= stock.width_mm else 0.0


def _half_round(stock: Stock) -> Section:
    if side := side_of_half_round(stock):
        return _d(replace(stock, profile="d", side_mm=side))
    return _domed(stock, 0.0, 0.0)


_MIDDLE = "its metal is even about the middle"
PROFILES: dict[str, Profile] = {
    profile.key: profile
    for profile in (
        Profile(
            "round", "round", (), lambda s: _ellipse(s, _equal_width(s)), _MIDDLE, equal_sided=True, worked="oval"
        ),
        Profile(
            "square", "square", (), lambda s: _box(s, _equal_width(s)), _MIDDLE, equal_sided=True, worked="rectangle"
        ),
        Profile("rectangle", "rectangle", ("width_mm",), lambda s: _box(s, _width(s)), _MIDDLE, flat=True),
        Profile("sheet", "sheet", ("width_mm",), lambda s: _box(s, _width(s)), _MIDDLE, flat=True),
        Profile("half-round", "half-round", ("width_mm",), _half_round, "a half-round keeps its metal low"),
        Profile("d", "D", ("width_mm", "side_mm"), _d, "a D keeps its metal low", domed=True),
        Profile("oval", "oval", ("width_mm",), lambda s: _ellipse(s, _width(s)), _MIDDLE),
        Profile("triangle", "triangle", ("width_mm",), _triangle, "a triangle's metal sits a third up"),
        Profile("court", "court", ("width_mm", "side_mm"), _court, "measured from the inner crown", domed=True),
    )
}
ProfileKey = name_of("profile", PROFILES, {"halfround": "half-round", "strip": "rectangle", "dwire": "d"})


@request
class Stock:
    """What the ring is made from: width along the finger and radial thickness, as measured.

    ``side_mm``: height of the straight side of a D (default half the thickness) or court section
    (default a third of it).
    """

    profile: ProfileKey
    thickness_mm: PositiveMm
    width_mm: PositiveMm | None = None
    side_mm: Mm | None = None


def section_of(stock: Stock, field: str = "stock") -> Section:
    """The section of a stock; raises ImpossibleSectionError or OutOfRangeError at ``field``."""
    if stock.thickness_mm < THINNEST_MM:
        raise OutOfRangeError(
            f"{field}.thickness_mm",
            "Thinner than foil.",
            "At least {least:g mm}; in which unit is it?",
            least=THINNEST_MM,
        )
    if stock.width_mm is not None and stock.width_mm < NARROWEST_MM:
        raise OutOfRangeError(
            f"{field}.width_mm",
            "Narrower than thread.",
            "At least {least:g mm}; in which unit is it?",
            least=NARROWEST_MM,
        )
    if stock.width_mm is not None and stock.width_mm > WIDEST_MM:
        raise OutOfRangeError(
            f"{field}.width_mm",
            "No finger wears a band {wide:g} wide.",
            "At most {most:g mm}.",
            wide=stock.width_mm,
            most=WIDEST_MM,
        )
    try:
        return PROFILES[stock.profile].build(stock)
    except ImpossibleSectionError as problem:
        raise problem.at(f"{field}.{problem.field}") from None
