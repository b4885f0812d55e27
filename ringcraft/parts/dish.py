"""A strip dished across its width: the radius of the dish, and how much longer its edges run all round."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.drawing import rings
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import OutOfRangeError
from ringcraft.metals import Metal
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
from ringcraft.planning.ledger import Term
from ringcraft.planning.part_orders import DishOrder
from ringcraft.units import Length


@dataclass(frozen=True)
class Dished:
    """A dish: its radius [mm], how much longer the edges run all round [mm], their strain [share]."""

    radius_mm: float
    edge_stretch_mm: float
    edge_strain: float


@dataclass(frozen=True, kw_only=True)
class DishFacts(PartFacts):
    """What the steps of a dished strip say."""

    dish: Length
    dish_radius: Length
    dish_strain: float


def dished(width_mm: float, dish_mm: float, length_mm: float, metal: Metal) -> Dished:
    """The dish of a strip [mm]: radius (w^2/4 + s^2)/2s, edges longer by 2 pi s; raises OutOfRangeError.

    The middle line keeps its length; the edges stand s further out, so round they run 2 pi s longer. Source: plane
    geometry.

    >>> from ringcraft.metals import METALS
    >>> round(dished(8.0, 0.4, 60.0, METALS["sterling"]).radius_mm, 3)
    20.2
    """
    if dish_mm >= width_mm / 2:
        raise OutOfRangeError(
            "dish_mm",
            "A dish of {dish:g} in {wide:g} of width is more than half a round.",
            "Below {most:g mm}, half its width.",
            dish=dish_mm,
            wide=width_mm,
            most=width_mm / 2,
        )
    stretch = 2 * math.pi * dish_mm
    strain, limit = stretch / length_mm, metal.of_family.strain_limit
    if strain > limit:
        raise OutOfRangeError(
            "dish_mm",
            f"Its edges would stretch {100 * strain:.0f} %: {metal.title} gives {100 * limit:.0f} % between "
            "two anneals.",
            "At most {most:.2f mm}.",
            most=limit * length_mm / (2 * math.pi),
        )
    return Dished((width_mm**2 / 4 + dish_mm**2) / (2 * dish_mm), stretch, strain)


def make(context: RingContext, order: DishOrder, name: str, host: Host | None) -> MadePart:
    """Plan a dished strip; raises CraftError naming its field."""
    part = of_part(
        context, order.metal, stock("sheet", order.thickness_mm, order.width_mm), order.length_mm / math.pi
    )
    made = dished(order.width_mm, order.dish_mm, order.length_mm, part.metal)
    told = part.length
    term = Term("length", "along its middle line", order.length_mm, "which keeps its length")
    view = drawing([rings.dished_section(order.width_mm, order.thickness_mm, order.dish_mm)])
    return MadePart(
        context=part,
        blank=part_blank(part, [term], order.length_mm, spec_of("dished strip", name, view=view)),
        numbers={
            "radius_mm": made.radius_mm,
            "edge_stretch_mm": made.edge_stretch_mm,
            "edge_strain": made.edge_strain,
        },
        figures=(
            length_figure(part, "radius", "radius of the dish", made.radius_mm, f"{told(order.dish_mm):.2f} deep"),
            length_figure(
                part, "stretch", "edges longer by", made.edge_stretch_mm, f"all round: {100 * made.edge_strain:.0f} %"
            ),
        ),
        says=("Dished across its width before it is bent.", STAYS_BESIDE),
        facts=DishFacts(
            dish=Length(order.dish_mm, part.used.units, ".2f"),
            dish_radius=Length(made.radius_mm, part.used.units, ".1f"),
            dish_strain=made.edge_strain,
        ),
    )


KIND = PartKind(
    key="dish",
    title="dished strip",
    make=make,
    route="part-dish",
    facts=DishFacts,
    stock_field="thickness_mm",
    more={"stock-width": "width_mm"},
)
