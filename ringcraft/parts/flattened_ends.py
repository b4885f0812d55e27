"""A round wire whose ends are hammered flat: they grow, so it is cut shorter by what they grow, by volume."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.drawing.blanks import across, strip
from ringcraft.drawing.paths import line
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.parts.base import (
    STAYS_BESIDE,
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
from ringcraft.planning.context import RingContext
from ringcraft.planning.ledger import Mark, Term
from ringcraft.planning.part_orders import FlattenedEndsOrder
from ringcraft.units import Length


@dataclass(frozen=True, kw_only=True)
class FlattenedFacts(PartFacts):
    """What the steps of flattened ends say."""

    flat: Length
    flat_thick: Length
    flat_wide: Length
    raw: Length
    whole: Length
    end_grows: Length
    both_grow_mm: float
    flat_strain: float


def make(context: RingContext, order: FlattenedEndsOrder, name: str, host: Host | None) -> MadePart:
    """Plan a wire with flattened ends; raises CraftError naming its field."""
    wire, thin, wide, flat = order.wire_mm, order.flat_thickness_mm, order.flat_width_mm, order.flat_mm
    part = of_part(context, order.metal, stock("round", wire), 20 * wire)
    area = part.section.area_mm2
    if thin >= wire:
        raise ImpossibleSectionError("flat_thickness_mm", "That is not flatter than the wire.", "Below {wire:g mm}.",
                                     wire=wire)  # fmt: skip
    if not wire <= wide <= area / thin:
        raise ImpossibleSectionError(
            "flat_width_mm", "Hammered to {thin:g} it gets from {wire:g} to {most:.2f mm} wide, not {wide:g}.",
            "Measure it on a trial piece.", thin=thin, wire=wire, most=area / thin, wide=wide,
        )  # fmt: skip
    strain, limit = wire / thin - 1, part.metal.of_family.strain_limit
    if strain > limit:
        raise OutOfRangeError(
            "flat_thickness_mm", f"So thin in one go is {100 * strain:.0f} %: {part.metal.title} gives "
            f"{100 * limit:.0f} % between two anneals.", "At least {least:.2f mm}.", least=wire / (1 + limit),
        )  # fmt: skip
    raw = flat * wide * thin / area
    whole = order.between_mm + 2 * flat
    told = part.length
    terms = [
        Term("between", "between the flats", order.between_mm, "stays round"),
        Term("ends", "for both flats", 2 * raw,
             f"{told(wide):.2f} × {told(thin):.2f} and {told(flat):.2f} long each, from the same volume of wire"),
    ]  # fmt: skip
    cut = order.between_mm + 2 * raw
    marks = [Mark("left", raw, f"flat from {told(raw):.2f}"), Mark("right", cut - raw, "")]
    lines = [across("left", "scribe", raw, wire), across("right", "scribe", cut - raw, wire)]
    return MadePart(
        context=part,
        blank=part_blank(part, terms, cut, spec_of("wire with flat ends", name, strip(cut, wire, lines),
                                                   _view(order, whole), marks=marks)),
        numbers={"raw_end_mm": raw, "grows_mm": 2 * (flat - raw), "whole_mm": whole},
        figures=(
            length_figure(part, "raw", "marked for each end", raw, f"hammered it is {told(flat):.2f} long"),
            length_figure(part, "grows", "both ends grow", 2 * (flat - raw), "cut that much shorter"),
        ),
        says=(f"{told(whole):.2f} from end to end once they are flat.", STAYS_BESIDE),
        facts=FlattenedFacts(
            flat=Length(flat, part.used.units, ".2f"),
            flat_thick=Length(thin, part.used.units, ".2f"),
            flat_wide=Length(wide, part.used.units, ".2f"),
            raw=Length(raw, part.used.units, ".2f"),
            whole=Length(whole, part.used.units, ".2f"),
            end_grows=Length(flat - raw, part.used.units, ".2f"),
            both_grow_mm=2 * (flat - raw),
            flat_strain=strain,
        ),
    )  # fmt: skip


def _view(order: FlattenedEndsOrder, whole: float) -> Drawing:
    """The wire from above, its flats wider than it."""
    a, b = (order.flat_width_mm - order.wire_mm) / 2, (order.flat_width_mm + order.wire_mm) / 2
    flat, wide = order.flat_mm, order.flat_width_mm
    points = [(0.0, 0.0), (flat, 0.0), (flat, a), (whole - flat, a), (whole - flat, 0.0), (whole, 0.0)]
    back = [(whole, wide), (whole - flat, wide), (whole - flat, b), (flat, b), (flat, wide), (0.0, wide)]
    return drawing([Shape("wire", "metal", (line(*points, *back),))])


KIND = PartKind(
    key="flattened-ends", title="wire with flat ends", make=make, route="part-flattened-ends", facts=FlattenedFacts,
    stock_field="wire_mm",
)  # fmt: skip
