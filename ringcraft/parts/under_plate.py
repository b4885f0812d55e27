"""The under-plate: a plate on the shank's inside radius that closes the gap under a top, its ends bevelled."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.drawing import rings
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import CraftError, ImpossibleSectionError, OutOfRangeError
from ringcraft.parts.base import (
    STAYS_BESIDE,
    Host,
    MadePart,
    PartFacts,
    PartKind,
    angle_figure,
    length_figure,
    of_part,
    part_blank,
    spec_of,
    stock,
)
from ringcraft.planning.context import RingContext
from ringcraft.planning.ledger import Term
from ringcraft.planning.part_orders import UnderPlateOrder
from ringcraft.units import Length

WIDEST_TURN = math.radians(150)  # of a plate: beyond it it is half a ring; our own judgement


@dataclass(frozen=True, kw_only=True)
class UnderPlateFacts(PartFacts):
    """What the steps of an under-plate say."""

    radius: Length
    inside_radius: Length
    bevel: str
    plate_strain: float
    plate_radius: float
    files_ends: bool
    end_file: Length
    end_file_mm: float
    plate: Length


@dataclass(frozen=True)
class _Sizes:
    gap: float
    outside: float
    shank: float
    width: float


def make(context: RingContext, order: UnderPlateOrder, name: str, host: Host | None) -> MadePart:
    """Plan an under-plate; raises CraftError naming its field."""
    of = _sizes(order, host)
    t = order.thickness_mm
    inner = of.outside - of.shank
    if inner <= t:
        raise ImpossibleSectionError(
            "shank_mm", "A shank so thick leaves no inside.", "Below {most:g mm}.", most=of.outside - t
        )
    if t >= of.shank:
        raise ImpossibleSectionError(
            "thickness_mm",
            "The plate is as thick as the shank: nothing is left for the top.",
            "Below {shank:g mm}.",
            shank=of.shank,
        )
    angle = of.gap / of.outside
    if angle > WIDEST_TURN:
        raise OutOfRangeError(
            "gap_mm",
            "A gap so wide leaves no shank to hold a plate.",
            "At most {most:.1f mm}.",
            most=WIDEST_TURN * of.outside,
        )
    radius = inner + t / 2
    part = of_part(context, order.metal, stock("sheet", t, of.width), 2 * inner)
    told, formed = part.length, radius * angle
    bevel = math.degrees(angle) / 2
    terms = [
        Term("plate", "along its neutral line", formed, f"{told(radius):.2f} of radius × {math.degrees(angle):.1f}°")
    ]
    if order.file_mm:
        terms.append(Term("file", "to file at its ends", order.file_mm, "fitted between the ends of the shank"))
    view = _view(inner, t, of, angle)
    return MadePart(
        context=part,
        blank=part_blank(part, terms, formed, spec_of("under-plate", name, view=view)),
        numbers={
            "angle_deg": math.degrees(angle),
            "neutral_radius_mm": radius,
            "formed_length_mm": formed,
            "bevel_deg": bevel,
        },
        figures=(
            angle_figure("angle", "angle", math.degrees(angle), f"{told(of.gap):.2f} of gap round the outside"),
            angle_figure("bevel", "bevel", bevel, "at each end: half the angle"),
            length_figure(part, "radius", "bent to", radius, "radius of its neutral line"),
        ),
        says=(
            f"Bent to the inside of the shank, its ends bevelled by {bevel:.1f}°. A swage groove must leave room for "
            f"{told(t):.2f} of plate.",
            STAYS_BESIDE,
        ),
        facts=UnderPlateFacts(
            radius=Length(radius, part.used.units, ".2f"),
            inside_radius=Length(inner, part.used.units, ".2f"),
            bevel=f"{bevel:.1f}",
            plate_strain=t / (2 * radius),
            plate_radius=radius,
            files_ends=order.file_mm > 0,
            end_file=Length(order.file_mm, part.used.units, ".2f"),
            end_file_mm=order.file_mm,
            plate=Length(formed, part.used.units, ".2f"),
        ),
    )


def _sizes(order: UnderPlateOrder, host: Host | None) -> _Sizes:
    """Its measures: its own, or its ring's."""
    ring_outside = host.inside_mm / 2 + host.thickness_mm if host else None
    gap = host.gap_mm * ring_outside / (host.inside_mm / 2 + host.thickness_mm / 2) if host and ring_outside else None

    def said(field: str, own: float | None, rings: float | None, what: str) -> float:
        if own is not None:
            return own
        if not rings:
            raise CraftError(field, what, "Nothing can be worked out without it.")
        return rings

    return _Sizes(
        said("gap_mm", order.gap_mm, gap, "How wide is the gap, along the outside?"),
        said("outside_radius_mm", order.outside_radius_mm, ring_outside, "What is the shank's outside radius?"),
        said("shank_mm", order.shank_mm, host.thickness_mm if host else None, "How thick is the shank?"),
        said("width_mm", order.width_mm, host.width_mm if host else order.thickness_mm * 4, "How wide is the plate?"),
    )


def _view(inner: float, t: float, of: _Sizes, angle: float) -> Drawing:
    """The plate from the side, the ends of the shank beside it."""
    half = angle / 2
    beside = min(half, math.radians(20))

    return drawing(
        [
            Shape("plate", "metal", (rings.reach(inner, inner + t, -half, half),)),
            Shape("shank-left", "ghost", (rings.reach(inner, of.outside, -half - beside, -half),)),
            Shape("shank-right", "ghost", (rings.reach(inner, of.outside, half, half + beside),)),
        ]
    )


KIND = PartKind(
    key="under-plate",
    title="under-plate",
    make=make,
    route="part-under-plate",
    facts=UnderPlateFacts,
    stock_field="thickness_mm",
    more={"stock-width": "width_mm"},
)
