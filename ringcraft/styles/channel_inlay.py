"""The channel-inlay band: a wide thin inner band, square wires round it, stone in the channels between."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.paths import box
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.planning.blank import BlankSpec
from ringcraft.planning.context import RingContext, check_thickness, length_model, ring_context
from ringcraft.planning.inner_band import inner_band
from ringcraft.planning.joints import Seam
from ringcraft.planning.request import RingRequest
from ringcraft.planning.terms import over_terms
from ringcraft.routes.facts import Fact, StyleFacts
from ringcraft.schema import Count, PositiveMm, SignedMm, name_of, request
from ringcraft.sections import Section, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Told, assemble, check_flat, side_blank, size
from ringcraft.styles.stack_orders import LOOSEST_MM, TIGHTEST_MM, USUAL_FIT_MM
from ringcraft.styles.telling import length_figure, thumb
from ringcraft.units import Length, format_power
from ringcraft.work.fields import FieldSpec, Option, PartSpec

HOLES_MM = 3.0  # of joint that is left open after the walls; our own judgement
NARROWEST_MM = 0.4  # a narrower channel takes not even crushed stone; our own judgement
HEATS = {"together": "all in one heat", "one-by-one": "one at a time, pickled after each"}
HeatsKey = name_of("way to solder the walls", HEATS)
WALLS = ("square", "rectangle")  # upright on both sides


@request
class ChannelInlayRequest(RingRequest):
    """The order of a channel-inlay band; ``stock`` is the inner band, ``outer_stock`` the walls.

    ``heats``: all walls in one heat, or one at a time, pickled after each.
    """

    style: Literal["channel-inlay"] = "channel-inlay"
    outer_stock: Stock
    outer_count: Count = 3
    fit_mm: SignedMm = 0.0
    heats: HeatsKey = "together"
    inner_measured_od_mm: PositiveMm | None = None


@dataclass(frozen=True)
class Channel:
    """One channel: its width along the finger and its depth [mm]."""

    width_mm: float
    depth_mm: float


@dataclass(frozen=True, kw_only=True)
class ChannelInlayFields(OwnFields):
    """What a channel-inlay band answers beside every plan; ``inlay_mm3`` is how much all the channels hold."""

    channels: tuple[Channel, ...]
    inlay_mm3: float


@dataclass(frozen=True, kw_only=True)
class ChannelInlayPlan(ChannelInlayFields, RingPlan):
    """The plan of a channel-inlay band."""

    style: Literal["channel-inlay"]


@dataclass(frozen=True)
class ChannelInlayFacts(StyleFacts):
    """What the route of a channel-inlay band says beside every ring's."""

    channel: Length
    depth: Length
    walls: str
    channels: str
    middle_walls: bool
    together: bool
    one_by_one: bool
    wall: str
    first_wall: bool
    later_wall: bool


def plan_channel_inlay(order: ChannelInlayRequest) -> ChannelInlayPlan:
    """Plan a channel-inlay band; raises CraftError naming the field."""
    check_flat(order, "The inner band is flat, not")
    context = ring_context(order, STYLE.leave)
    walls = section_of(order.outer_stock, "outer_stock")
    check_thickness(walls, context.target, "outer_stock")
    width = _channel_width(order, context.section, walls)
    sized = size(context, length_model(context))
    planned = sized.inside_mm() + 2 * context.section.thickness_mm
    inside = inner_band(planned, order.inner_measured_od_mm)
    under = inside.outside_mm
    inner = sized.draw(BlankSpec(name="inner", title="inner band", role="inner", outside_mm=planned))
    outside = under + order.fit_mm + 2 * walls.thickness_mm
    spec = BlankSpec(
        name="outer",
        title="wall",
        role="outer",
        count=order.outer_count,
        section=walls,
        outside_mm=outside,
        waits=inside.waits("the inner band"),
    )
    outer = side_blank(context, over_terms(context, under, "the inner band", order.fit_mm, walls), spec)
    channels = (Channel(width, walls.thickness_mm),) * (order.outer_count - 1)
    holds_mm3 = math.pi * (under + walls.thickness_mm) * walls.thickness_mm * width * len(channels)
    radius = context.target.inside_mm / 2
    return assemble(
        STYLE,
        sized,
        (inner, outer),
        Told(
            title=f"band with {len(channels)} channel{'s' if len(channels) > 1 else ''}",
            ring=drawing(
                [rings.band(radius, under / 2), rings.band(under / 2, outside / 2, "walls", "second")],
                [rings.joint(radius, under / 2)],
            ),
            across=_across(order, context.section, walls, width),
            figures=_figures(order, context, walls, width, holds_mm3),
            thumbs=(thumb(context, "the inner band's length again", sized.formed_mm, outer.formed_length_mm),),
            facts=ChannelInlayFacts(
                channel=Length(width, context.used.units, ".2f"),
                depth=Length(walls.thickness_mm, context.used.units, ".2f"),
                walls=str(order.outer_count),
                channels=str(len(channels)),
                middle_walls=order.outer_count > 2,
                together=order.heats == "together",
                one_by_one=order.heats == "one-by-one",
                wall="",
                first_wall=False,
                later_wall=False,
            ),
            over=_heats(order),
            roles={"heat": tuple(_heats(order))},
        ),
        ChannelInlayFields(channels=channels, inlay_mm3=holds_mm3),
        joints=(
            Seam("inner", "the joint of the inner band", context.section.width_mm, 1, context.section.area_mm2),
            Seam("walls", "the joint of each wall", walls.width_mm, 1, walls.area_mm2),
            *_wall_seams(order, math.pi * under),
            Seam("holes", "what is left open", HOLES_MM, 3),
        ),
    )


def _figures(
    order: ChannelInlayRequest, context: RingContext, walls: Section, width: float, holds_mm3: float
) -> tuple[Figure, ...]:
    """How wide and deep the channels are, and what they hold."""
    return (
        length_figure(context, "width", "channel", width, ".2f", _why(order, context, walls)),
        length_figure(context, "depth", "deep", walls.thickness_mm, ".2f", "as high as the walls"),
        Figure(
            "holds",
            "inlay",
            holds_mm3,
            format_power(holds_mm3, 3, context.used.units, ".0f"),
            "what the channels hold",
        ),
    )


def _heats(order: ChannelInlayRequest) -> dict[str, dict[str, Fact]]:
    """The heats of the walls that are soldered one at a time, by their joints, with what each says of its wall."""
    if order.heats == "together":
        return {}
    return {
        f"outer-{n}": {"blank": f"wall {n}", "wall": str(n), "first_wall": n == 1, "later_wall": n > 1}
        for n in range(1, order.outer_count + 1)
    }


def _wall_seams(order: ChannelInlayRequest, around: float) -> list[Seam]:
    """The walls to the inner band: all in one heat, or each in one of its own."""
    if order.heats == "together":
        return [Seam("outer", "the walls to the inner band", around, 2, lines=order.outer_count)]
    count = order.outer_count
    return [Seam(f"outer-{n}", f"wall {n} to the inner band", around, 2) for n in range(1, count + 1)]


def _channel_width(order: ChannelInlayRequest, inner: Section, walls: Section) -> float:
    if order.outer_stock.profile not in WALLS:
        raise ImpossibleSectionError(
            "outer_stock.profile", "Walls stand upright on both sides.", "Use square or strip."
        )
    if not 2 <= order.outer_count <= 6:
        raise OutOfRangeError("outer_count", "A channel lies between two walls.", "Two or three are usual.")
    if not TIGHTEST_MM <= order.fit_mm <= LOOSEST_MM:
        raise OutOfRangeError(
            "fit_mm", "That fit neither goes on nor stays.", "0 to {usual:g} is usual.", usual=USUAL_FIT_MM
        )
    width = (inner.width_mm - order.outer_count * walls.width_mm) / (order.outer_count - 1)
    if width < NARROWEST_MM:
        needs = order.outer_count * walls.width_mm + (order.outer_count - 1) * NARROWEST_MM
        said = f"{order.outer_count} walls of {{wall:g}} leave channels of {{left:.2f}}."
        hint = "An inner band at least {needs:.1f} wide."
        raise ImpossibleSectionError(
            "stock.width_mm", said, hint, wall=walls.width_mm, left=max(width, 0.0), needs=needs
        )
    return width


def _why(order: ChannelInlayRequest, context: RingContext, walls: Section) -> str:
    n, length = order.outer_count, context.length
    return f"({length(context.section.width_mm):g} less {n} walls of {length(walls.width_mm):g}) over {n - 1}"


def _across(order: ChannelInlayRequest, inner: Section, walls: Section, channel: float) -> Drawing:
    left, t, high = -inner.width_mm / 2, inner.thickness_mm, inner.thickness_mm + walls.thickness_mm
    shapes = [Shape("inner", "metal", (box(left, 0, -left, t),))]
    for i in range(order.outer_count):
        x = left + i * (walls.width_mm + channel)
        shapes.append(Shape(f"wall-{i + 1}", "second", (box(x, t, x + walls.width_mm, high),)))
        if i + 1 < order.outer_count:
            shapes.append(
                Shape(f"stone-{i + 1}", "stone", (box(x + walls.width_mm, t, x + walls.width_mm + channel, high),))
            )
    return drawing(shapes)


STYLE = Style(
    key="channel-inlay",
    title="channel-inlay band",
    request=ChannelInlayRequest,
    plan=plan_channel_inlay,
    answer=ChannelInlayPlan,
    leave="small",
    sizing="plain",
    glued=True,
    route="channel-inlay",
    first=Stock(profile="sheet", width_mm=8.0, thickness_mm=0.8),
    stock_says="its inner band",
    overrides_from_measures={
        **STOCK_OVERRIDES,
        "outside": "inner_measured_od_mm",
        "stock-thickness@outer": "outer_stock.thickness_mm",
        "stock-width@outer": "outer_stock.width_mm",
    },
    aliases=("inlay", "channel"),
    words=(
        FieldSpec("outer_count", "Number of walls", "with", "walls of", "count", "3", short=("walls",)),
        FieldSpec(
            "outer_stock",
            "Stock of the walls",
            kind="stock",
            first=Stock(profile="square", thickness_mm=1.5),
            parts=(PartSpec("", "", kind="stock"),),
        ),
        FieldSpec("fit_mm", "Fit", ", fitted at", "{mm}", "signed", 0.0, short=("fit",)),
        FieldSpec(
            "heats",
            "Heats of the walls",
            ", soldered",
            kind="choice",
            first="together",
            choices=tuple(Option(key, title) for key, title in HEATS.items()),
        ),
    ),
    facts=ChannelInlayFacts,
)
