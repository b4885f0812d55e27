"""The channel-inlay band: a wide thin inner band, square wires round it, stone in the channels between."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.border import Count, PositiveMm, SignedMm, request
from ringcraft.drawing import rings
from ringcraft.drawing.paths import box
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.planning.frame import frame_of, turn_of
from ringcraft.planning.joints import Seam
from ringcraft.planning.request import RingRequest
from ringcraft.planning.terms import over_terms
from ringcraft.planning.under import under_of
from ringcraft.sections import Section, Stock, section_of
from ringcraft.styles.base import STOCK_TAKES, Figure, Part, RingPlan, Style, Word
from ringcraft.styles.build import assemble, check_profile, side_blank, sized_blank, thumb
from ringcraft.styles.stack import LOOSEST_MM, TIGHTEST_MM

NARROWEST_MM = 0.4  # a narrower channel takes not even crushed stone; our own judgement
FLAT = ("sheet", "rectangle")
WALLS = ("square", "rectangle")


@request
class ChannelInlayRequest(RingRequest):
    """The order of a channel-inlay band; ``stock`` is the inner band, ``outer_stock`` the walls."""

    style: Literal["channel-inlay"] = "channel-inlay"
    outer_stock: Stock
    outer_count: Count = 3
    fit_mm: SignedMm = 0.0
    inner_measured_od_mm: PositiveMm | None = None


@dataclass(frozen=True)
class Channel:
    """One channel: its width along the finger and its depth [mm]."""

    width_mm: float
    depth_mm: float


@dataclass(frozen=True, kw_only=True)
class ChannelInlayPlan(RingPlan):
    """The plan of a channel-inlay band; ``inlay_mm3`` is how much all the channels hold."""

    style: Literal["channel-inlay"]
    channels: tuple[Channel, ...]
    inlay_mm3: float


def plan_channel_inlay(order: ChannelInlayRequest) -> ChannelInlayPlan:
    """Plan a channel-inlay band; raises CraftError naming the field."""
    check_profile(order, FLAT, "The inner band is flat, not")
    frame = frame_of(order, STYLE.leave)
    walls = section_of(order.outer_stock, "outer_stock")
    width = _channel_width(order, frame.section, walls)
    planned = frame.wanted.inside_mm + 2 * frame.section.thickness_mm
    inside = under_of(planned, order.inner_measured_od_mm)
    under = inside.outside_mm
    sized = sized_blank(frame, turn_of(frame), name="inner", title="inner band", role="inner", outside_mm=planned)
    outside = under + order.fit_mm + 2 * walls.thickness_mm
    outer = side_blank(
        frame,
        over_terms(under, "the inner band", order.fit_mm, walls),
        name="outer",
        title="wall",
        role="outer",
        count=order.outer_count,
        section=walls,
        outside_mm=outside,
        waits=inside.waits("the inner band"),
    )
    channels = (Channel(width, walls.thickness_mm),) * (order.outer_count - 1)
    holds_mm3 = math.pi * (under + walls.thickness_mm) * walls.thickness_mm * width * len(channels)
    inner = frame.wanted.inside_mm / 2
    return assemble(
        frame,
        STYLE,
        ChannelInlayPlan,
        sized,
        title=f"band with {len(channels)} channel{'s' if len(channels) > 1 else ''}",
        blanks=(sized.blank, outer),
        joints=(
            Seam("inner", "the joint of the inner band", frame.section.width_mm, 1),
            Seam("outer", "the walls to the inner band", math.pi * under * order.outer_count, 2),
            Seam("holes", "what is left open", 3.0, 3),
        ),
        ring=drawing(
            [rings.band(inner, under / 2), rings.band(under / 2, outside / 2, "walls", "second")],
            [rings.joint(inner, under / 2)],
        ),
        across=_across(order, frame.section, walls, width),
        figures=(
            Figure("width", "channel", width, f"{width:.2f}", _why(order, frame.section, walls)),
            Figure("depth", "deep", walls.thickness_mm, f"{walls.thickness_mm:.2f}", "as high as the walls"),
            Figure("holds", "inlay", holds_mm3, f"{holds_mm3:.0f} mm³", "what the channels hold"),
        ),
        thumbs=(thumb("the inner band's length again", sized.blank.formed_length_mm, outer.formed_length_mm),),
        words={
            "channel": f"{width:.2f}",
            "walls": str(order.outer_count),
            "depth": f"{walls.thickness_mm:.2f}",
            "channels": str(len(channels)),
        },
        channels=channels,
        inlay_mm3=holds_mm3,
    )


def _channel_width(order: ChannelInlayRequest, inner: Section, walls: Section) -> float:
    if order.outer_stock.profile not in WALLS:
        raise ImpossibleSectionError(
            "outer_stock.profile", "Walls stand upright on both sides.", "Use square or strip."
        )
    if not 2 <= order.outer_count <= 6:
        raise OutOfRangeError("outer_count", "A channel lies between two walls.", "Two or three are usual.")
    if not TIGHTEST_MM <= order.fit_mm <= LOOSEST_MM:
        raise OutOfRangeError("fit_mm", "That fit neither goes on nor stays.", "0 to -0.05 is usual.")
    width = (inner.width_mm - order.outer_count * walls.width_mm) / (order.outer_count - 1)
    if width < NARROWEST_MM:
        needs = order.outer_count * walls.width_mm + (order.outer_count - 1) * NARROWEST_MM
        said = f"{order.outer_count} walls of {walls.width_mm:g} leave channels of {max(width, 0):.2f}."
        raise ImpossibleSectionError("stock.width_mm", said, f"An inner band at least {needs:.1f} wide.")
    return width


def _why(order: ChannelInlayRequest, inner: Section, walls: Section) -> str:
    n = order.outer_count
    return f"({inner.width_mm:g} less {n} walls of {walls.width_mm:g}) over {n - 1}"


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
    route="channel-inlay",
    first={"profile": "sheet", "width": "8", "thickness": "0.8"},
    stock_says="its inner band",
    takes={
        **STOCK_TAKES,
        "outside": "inner_measured_od_mm",
        "stock-thickness@outer": "outer_stock.thickness_mm",
        "stock-width@outer": "outer_stock.width_mm",
    },
    aliases=("inlay", "channel"),
    words=(
        Word("outer_count", "Number of walls", "with", "walls of", "count", "3", short=("walls",)),
        Word("outer_stock", "Stock of the walls", kind="stock", first="square 1.5",
             parts=(Part("", "", kind="stock"),)),
        Word("fit_mm", "Fit", ", fitted at", "mm", "signed", "0", short=("fit",)),
    ),
)  # fmt: skip
