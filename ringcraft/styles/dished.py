"""The dished band: hollowed across its width, its edges standing out, its middle line as long as it was cut."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import CraftError, ImpossibleSectionError
from ringcraft.parts.dish import Dished, dished
from ringcraft.planning.context import RingContext, length_model, ring_context
from ringcraft.planning.request import RingRequest
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import PositiveMm, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Told, assemble, check_flat, size
from ringcraft.styles.telling import length_figure
from ringcraft.units import Length
from ringcraft.work.fields import FieldSpec


@request
class DishedRequest(RingRequest):
    """The order of a dished band: how deep it is dished across its width [mm]."""

    style: Literal["dished"] = "dished"
    dish_mm: PositiveMm


@dataclass(frozen=True, kw_only=True)
class DishedFields(OwnFields):
    """What a dished band answers beside every plan: its dish, and how thin its edges come out [mm]."""

    dish: Dished
    edge_thickness_mm: float


@dataclass(frozen=True, kw_only=True)
class DishedPlan(DishedFields, RingPlan):
    """The plan of a dished band."""

    style: Literal["dished"]


@dataclass(frozen=True)
class DishedFacts(StyleFacts):
    """What the route of a dished band says beside every ring's."""

    dish: Length
    dish_radius: Length
    edge_share: str
    edge_thick: Length
    edge_over: Length
    dish_strain: float


def plan_dished(order: DishedRequest) -> DishedPlan:
    """Plan a dished band; raises CraftError naming the field."""
    check_flat(order, "A band that is dished is flat first, not")
    context = ring_context(order, STYLE.leave)
    sized = size(context, length_model(context))
    section = context.section
    made = dished(section.width_mm, order.dish_mm, sized.formed_mm, context.metal)
    if order.dish_mm > made.radius_mm - section.thickness_mm:
        raise _too_deep(order, context)
    edge = section.thickness_mm / (1 + made.edge_strain)
    inner, outer = context.target.inside_mm / 2, context.target.inside_mm / 2 + section.thickness_mm
    return assemble(
        STYLE,
        sized,
        [sized.draw()],
        Told(
            title="dished band",
            ring=drawing([rings.band(inner, outer), rings.band(outer, outer + order.dish_mm, "edges", "second")],
                         [rings.joint(inner, outer)]),
            across=drawing([rings.dished_section(section.width_mm, section.thickness_mm, order.dish_mm)]),
            figures=_figures(context, order, made, edge),
            facts=DishedFacts(
                dish=Length(order.dish_mm, context.used.units, ".2f"),
                dish_radius=Length(made.radius_mm, context.used.units, ".1f"),
                edge_share=f"{100 * made.edge_strain:.0f}",
                edge_thick=Length(edge, context.used.units, ".2f"),
                edge_over=Length(outer * 2 + 2 * order.dish_mm, context.used.units, ".2f"),
                dish_strain=made.edge_strain,
            ),
        ),
        DishedFields(dish=made, edge_thickness_mm=edge),
    )  # fmt: skip


def _too_deep(order: DishedRequest, context: RingContext) -> CraftError:
    return ImpossibleSectionError(
        "dish_mm", "Metal {thick:g} thick does not bend to so tight a dish.", "A shallower dish, or thinner metal.",
        thick=context.section.thickness_mm,
    )  # fmt: skip


def _figures(context: RingContext, order: DishedRequest, made: Dished, edge: float) -> tuple[Figure, ...]:
    share = f"{100 * made.edge_strain:.1f} %"
    return (
        length_figure(context, "radius", "radius of the dish", made.radius_mm, ".2f",
                      f"{context.length(order.dish_mm):g} deep in {context.length(context.section.width_mm):g}"),
        length_figure(context, "stretch", "edges longer by", made.edge_stretch_mm, ".2f",
                      f"2π × {context.length(order.dish_mm):g}: {share}; the middle line keeps its length"),
        length_figure(context, "edge", "edges come to", edge, ".2f", "thinner by as much as they stretch"),
        length_figure(context, "over", "over its edges", context.target.inside_mm + 2 * (context.section.thickness_mm
                      + order.dish_mm), ".2f", "across the finished ring"),
    )  # fmt: skip


STYLE = Style(
    key="dished",
    title="dished band",
    request=DishedRequest,
    plan=plan_dished,
    answer=DishedPlan,
    leave="small",
    route="dished",
    first=Stock(profile="sheet", width_mm=7.0, thickness_mm=0.9),
    overrides_from_measures=STOCK_OVERRIDES,
    aliases=("dish", "concave"),
    words=(FieldSpec("dish_mm", "Dish", "dished", "{mm} deep across its width", first=0.4, short=("dish",)),),
    facts=DishedFacts,
)
