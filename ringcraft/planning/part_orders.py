"""What is asked of the parts for a top: each a blank of its own that any job can have beside its ring."""

from __future__ import annotations

from dataclasses import fields
from functools import reduce
from operator import or_
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Discriminator

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import MetalKey
from ringcraft.schema import Mm, PositiveMm, Whole, name_of, request

SHAPES = {"round": "round", "oval": "oval", "cushion": "cushion", "rectangle": "rectangle"}
ShapeKey = name_of("shape of a stone", SHAPES)
MOST_PARTS = 6
FILE_MM = 0.5  # left on an under-plate for the file; common practice, no published source


@request
class StoneOutline:
    """A stone seen from above [mm]: an oval is an ellipse, a cushion or a rectangle has straight sides."""

    shape: ShapeKey = "round"
    length_mm: PositiveMm
    width_mm: PositiveMm | None = None
    corner_mm: Mm = 0.0


@request
class PartOrder:
    """What every part has: its kind, and a metal of its own where it is not the ring's."""

    part: str
    metal: MetalKey | None = None


@request
class BezelOrder(PartOrder):
    """A strip round a stone: ``play_mm`` over its whole width, ``height_mm`` of the strip, its seat so far up."""

    part: Literal["bezel"] = "bezel"
    stone: StoneOutline
    play_mm: Mm = 0.1
    thickness_mm: PositiveMm
    height_mm: PositiveMm
    seat_mm: Mm = 0.0


@request
class SeatRingOrder(PartOrder):
    """A ring of round wire that a stone or a cup sits on."""

    part: Literal["seat-ring"] = "seat-ring"
    inside_mm: PositiveMm
    wire_mm: PositiveMm


@request
class ProngOrder(PartOrder):
    """Prongs of round wire: how many, how high, and a notch so deep and so far up where one is wanted."""

    part: Literal["prong"] = "prong"
    count: Whole
    height_mm: PositiveMm
    wire_mm: PositiveMm
    notch_mm: Mm = 0.0
    notch_at_mm: PositiveMm | None = None


@request
class UnderPlateOrder(PartOrder):
    """A plate that closes the gap under a top on the inside radius; what is left out is taken from its ring."""

    part: Literal["under-plate"] = "under-plate"
    gap_mm: PositiveMm | None = None
    outside_radius_mm: PositiveMm | None = None
    shank_mm: PositiveMm | None = None
    thickness_mm: PositiveMm
    width_mm: PositiveMm | None = None
    file_mm: Mm = FILE_MM


@request
class DishOrder(PartOrder):
    """A strip dished across its width, all round."""

    part: Literal["dish"] = "dish"
    width_mm: PositiveMm
    dish_mm: PositiveMm
    length_mm: PositiveMm
    thickness_mm: PositiveMm = 0.8


@request
class FlattenedEndsOrder(PartOrder):
    """A round wire whose two ends are hammered flat: so long between them, each flat so long, thick and wide."""

    part: Literal["flattened-ends"] = "flattened-ends"
    wire_mm: PositiveMm
    between_mm: PositiveMm
    flat_mm: PositiveMm
    flat_thickness_mm: PositiveMm
    flat_width_mm: PositiveMm


@request
class EndHeightsOrder(PartOrder):
    """Both ends of an open shank brought to one height before a top, never under the floor."""

    part: Literal["end-heights"] = "end-heights"
    left_mm: PositiveMm
    right_mm: PositiveMm
    floor_mm: PositiveMm
    over_mm: PositiveMm = 5.0


KINDS: tuple[type[PartOrder], ...] = (
    BezelOrder,
    SeatRingOrder,
    ProngOrder,
    UnderPlateOrder,
    FlattenedEndsOrder,
    EndHeightsOrder,
    DishOrder,
)
#: The keys of the parts, which are the tags of their union: they never show in a field's path.
PART_KEYS: tuple[str, ...] = tuple(str(one.default) for kind in KINDS for one in fields(kind) if one.name == "part")
AnyPart: Any = Annotated[reduce(or_, KINDS), Discriminator("part")]


def _few(value: object) -> object:
    if isinstance(value, (list, tuple)) and len(value) > MOST_PARTS:
        raise OutOfRangeError("", "That is more than one top.", f"At most {MOST_PARTS} parts to a ring.")
    return value


Parts = Annotated[tuple[AnyPart, ...], BeforeValidator(_few)]
