"""The seat ring: round wire closed to an inside, for a stone or a cup to sit on."""

from __future__ import annotations

import math

from ringcraft.drawing import rings
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.parts.base import (
    HOLDS_A_STONE,
    Host,
    MadePart,
    PartKind,
    length_figure,
    of_part,
    part_blank,
    spec_of,
    stock,
)
from ringcraft.planning.context import RingContext
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Term
from ringcraft.planning.part_orders import SeatRingOrder

SMALLEST_MM, LARGEST_MM = 1.0, 40.0  # of its inside: our own judgement


def make(context: RingContext, order: SeatRingOrder, name: str, host: Host | None) -> MadePart:
    """Plan a seat ring; raises CraftError naming its field."""
    inside, wire = order.inside_mm, order.wire_mm
    if not SMALLEST_MM <= inside <= LARGEST_MM:
        raise OutOfRangeError("inside_mm", "Nothing sits on a ring of {mm:g mm}.", "From {low:g} to {high:g mm}.",
                              mm=inside, low=SMALLEST_MM, high=LARGEST_MM)  # fmt: skip
    if wire > inside / 2:
        raise ImpossibleSectionError("wire_mm", "Wire of {wire:g} does not go round so small an inside.",
                                     "At most {most:g mm}, half of it.", wire=wire, most=inside / 2)  # fmt: skip
    part = of_part(context, order.metal, stock("round", wire), inside)
    told, formed = part.length, math.pi * (inside + wire)
    terms = [
        Term("inside", "once round its inside", math.pi * inside, f"π × {told(inside):.2f}"),
        Term("thickness", "thickness", math.pi * wire, f"π × {told(wire):.2f}: its neutral line runs in its middle"),
    ]
    view = drawing([rings.band(inside / 2, inside / 2 + wire)], [rings.joint(inside / 2, inside / 2 + wire)])
    over = inside + 2 * wire
    return MadePart(
        context=part,
        blank=part_blank(part, terms, formed, spec_of("seat ring", name, view=view, outside_mm=over)),
        numbers={"formed_length_mm": formed, "outside_mm": over},
        figures=(length_figure(part, "over", "over the wire", over, "from outside to outside"),),
        says=("Closed, soldered and trued by itself.", HOLDS_A_STONE),
        seam=Seam(name, "the seat ring's joint", wire, area_mm2=part.section.area_mm2),
    )


KIND = PartKind(key="seat-ring", title="seat ring", make=make, route="part-seat-ring", stock_field="wire_mm")
