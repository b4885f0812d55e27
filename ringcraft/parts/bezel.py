"""The bezel: a strip round a stone, its neutral line half the play and half its thickness outside the stone."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.drawing.blanks import across, along, strip
from ringcraft.drawing.paths import line
from ringcraft.drawing.shapes import Drawing, Line, Shape, drawing
from ringcraft.errors import OutOfRangeError
from ringcraft.parts.base import (
    HOLDS_A_STONE,
    Host,
    MadePart,
    PartFacts,
    PartKind,
    length_figure,
    of_part,
    part_blank,
    spec_of,
    stock,
)
from ringcraft.parts.outline import STRAIGHT, checked, corners_mm, girth_mm, outside, sharpest_mm
from ringcraft.planning.context import RingContext
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Mark, Term
from ringcraft.planning.part_orders import BezelOrder
from ringcraft.units import Length
from ringcraft.work.plan import Figure

THICKEST_MM = 2.0  # of a wall that is still pushed over a stone; our own judgement
#: A corner bent sharper than this is scored first [share of its length]; our own judgement.
SCORED_FROM = 0.3
#: A groove two thirds deep leaves a hinge of t/3 that bends over about the groove's own width, t, a quarter round:
#: radius t / (pi/2), so its skin is stretched (t/3) / (2 x 2t/pi). Plane geometry; the depth is common practice.
HINGE_STRAIN = math.pi / 12


@dataclass(frozen=True, kw_only=True)
class BezelFacts(PartFacts):
    """What the steps of a bezel say."""

    stone: str
    seam_place: str
    scored: bool
    unscored: bool
    bends: bool
    seated: bool
    seat: Length
    height: Length
    play: Length
    curve_words: str
    corner_strain: float
    score_mm3: float


def make(context: RingContext, order: BezelOrder, name: str, host: Host | None) -> MadePart:
    """Plan a bezel; raises CraftError naming its field."""
    _check(order)
    girth = girth_mm(order.stone)
    t, play = order.thickness_mm, order.play_mm
    part = of_part(context, order.metal, stock("sheet", t, order.height_mm), girth / math.pi + play)
    told = part.length
    terms = [
        Term("girth", "girth of the stone", girth, _girth_why(part, order)),
        Term("play", "play", math.pi * play, f"π × {told(play):.2f} over its whole width"),
        Term("thickness", "thickness", math.pi * t, f"π × {told(t):.2f}: its neutral line runs half of it outside"),
    ]
    formed = girth + math.pi * (play + t)
    corners = corners_mm(order.stone, (play + t) / 2)
    curve = _curve(part, order, host)
    strain = t / (2 * (sharpest_mm(order.stone) + (play + t) / 2))
    scored = order.stone.shape in STRAIGHT and strain > SCORED_FROM
    blank = part_blank(part, terms, formed, spec_of("bezel", name, _strip(order, formed, corners), _view(order),
                       marks=_corner_marks(part, corners)))  # fmt: skip
    facts = BezelFacts(
        stone=_stone_words(part, order),
        seam_place=_seam_words(order),
        scored=scored,
        unscored=not scored,
        bends=bool(corners),
        seated=order.seat_mm > 0,
        seat=Length(order.seat_mm, part.used.units, ".2f"),
        height=Length(order.height_mm, part.used.units, ".2f"),
        play=Length(play, part.used.units, ".2f"),
        curve_words=curve[1],
        corner_strain=HINGE_STRAIN if scored else strain,
        score_mm3=4 * (2 / 3 * t) * t / 2 * order.height_mm if scored else 0.0,
    )
    numbers = {"girth_mm": girth, "formed_length_mm": formed, "height_mm": order.height_mm, "seat_mm": order.seat_mm,
               "above_seat_mm": order.height_mm - order.seat_mm}  # fmt: skip
    if curve[0]:
        numbers["curve_mm"] = curve[0]
    return MadePart(
        context=part,
        blank=blank,
        numbers=numbers,
        figures=_figures(part, order, girth, curve[0]),
        says=(f"Closed at {_seam_words(order)}.", HOLDS_A_STONE),
        facts=facts,
        seam=Seam(
            name,
            "the bezel's seam and its corners" if scored else "the bezel's seam",
            order.height_mm,
            area_mm2=part.section.area_mm2,
            lines=5 if scored else 1,
        ),
    )


def _check(order: BezelOrder) -> None:
    checked(order.stone)
    if order.thickness_mm > THICKEST_MM:
        raise OutOfRangeError(
            "thickness_mm", "A wall of {thick:g} is not pushed over a stone.", "At most {most:g mm}.",
            thick=order.thickness_mm, most=THICKEST_MM,
        )  # fmt: skip
    if order.play_mm > order.stone.length_mm / 4:
        raise OutOfRangeError(
            "play_mm", "In that much play the stone falls through.", "{usual:g mm} is usual.", usual=0.1
        )
    if order.seat_mm >= order.height_mm:
        raise OutOfRangeError(
            "seat_mm", "The seat lies at the rim: nothing stands over the stone.", "Below {height:g mm}.",
            height=order.height_mm,
        )  # fmt: skip


def _curve(context: RingContext, order: BezelOrder, host: Host | None) -> tuple[float, str]:
    """What filing its foot to the band's curve takes of its height [mm], and that in words.

    It stands with its narrow side round the finger at best; where even that eats the seat, the band does not bear it.
    """
    if host is None:
        return 0.0, ""
    outer = host.inside_mm / 2 + host.thickness_mm
    long, wide = checked(order.stone)
    over = order.play_mm + 2 * order.thickness_mm
    half = (wide + over) / 2
    eaten = outer - math.sqrt(outer**2 - half**2) if half < outer else math.inf
    room = order.seat_mm if order.seat_mm else order.height_mm
    if eaten >= room:
        sagitta = min(room, outer)
        most = 2 * math.sqrt(outer**2 - (outer - sagitta) ** 2) - over
        raise OutOfRangeError(
            "stone.width_mm",
            "This band does not bear it: filed to its curve, a foot so wide loses all below the seat.",
            "At most {most:.1f mm} wide round the finger, or a higher seat.", most=max(most, 0.0),
        )  # fmt: skip
    half_long = (long + over) / 2
    much = f"{context.length(eaten):.2f}"
    if half_long >= outer or outer - math.sqrt(outer**2 - half_long**2) >= room:
        return eaten, f"Its foot is filed to the band later: {much} with its narrow side round the finger."
    along_mm = outer - math.sqrt(outer**2 - half_long**2)
    if abs(along_mm - eaten) < 0.005:
        return eaten, f"Its foot is filed to the band later: {much} of its height in the middle."
    return eaten, (
        f"Its foot is filed to the band later: {much} with its narrow side round the finger, "
        f"{context.length(along_mm):.2f} with its long one."
    )


def _girth_why(context: RingContext, order: BezelOrder) -> str:
    stone = order.stone
    if stone.shape == "round":
        return f"π × {context.length(stone.length_mm):.2f}"
    words = _stone_words(context, order)
    if stone.shape == "oval":
        return f"{words}: once round an ellipse"
    return f"{words}: its straight sides and four corners"


def _stone_words(context: RingContext, order: BezelOrder) -> str:
    long, wide = checked(order.stone)
    told = context.length
    if order.stone.shape == "round":
        return f"round {told(long):g}"
    said = f"{order.stone.shape} {told(long):g} × {told(wide):g}"
    if order.stone.shape not in STRAIGHT:
        return said
    return f"{said}, corners {told(order.stone.corner_mm):g}" if order.stone.corner_mm else f"{said}, sharp corners"


def _seam_words(order: BezelOrder) -> str:
    if order.stone.shape == "round":
        return "any place: a round one has no side"
    return "the middle of a long side" if order.stone.shape in STRAIGHT else "a flat side, not a tip"


def _corner_marks(context: RingContext, corners: tuple[float, ...]) -> list[Mark]:
    return [Mark(f"corner-{i}", x, f"corner {context.length(x):.1f}") for i, x in enumerate(corners, start=1)]


def _strip(order: BezelOrder, long: float, corners: tuple[float, ...]) -> Drawing:
    lines: list[Line] = [across(f"corner-{i}", "fold", x, order.height_mm) for i, x in enumerate(corners, start=1)]
    if order.seat_mm:
        lines.append(along("seat", "scribe", order.seat_mm, 0.0, long))
    return strip(long, order.height_mm, lines)


def _view(order: BezelOrder) -> Drawing:
    """The stone in its bezel, from above, its seam."""
    inner, outer = order.play_mm / 2, order.play_mm / 2 + order.thickness_mm
    y = checked(order.stone)[1] / 2
    seam = line((0.0, -y - outer), (0.0, -y - inner))
    return drawing(
        [
            Shape("wall", "metal", (outside(order.stone, outer), outside(order.stone, inner))),
            Shape("stone", "stone", (outside(order.stone, 0.0),)),
        ],
        [Line("seam", "joint", seam)],
    )


def _figures(context: RingContext, order: BezelOrder, girth: float, curve: float) -> tuple[Figure, ...]:
    out = [length_figure(context, "girth", "girth of the stone", girth, _stone_words(context, order))]
    if order.seat_mm:
        out.append(length_figure(context, "above-seat", "above the seat", order.height_mm - order.seat_mm,
                                 "what is pushed over the stone"))  # fmt: skip
    if curve:
        out.append(length_figure(context, "foot", "off its foot later", curve, "to the curve of the band"))
    return tuple(out)


KIND = PartKind(
    key="bezel",
    title="bezel",
    make=make,
    route="part-bezel",
    facts=BezelFacts,
    stock_field="thickness_mm",
    more={"stock-width": "height_mm"},
)
