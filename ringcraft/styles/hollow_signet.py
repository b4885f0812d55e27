"""The hollow signet: a round inner band, an outer strip that leaves it for the top, and a plate."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across
from ringcraft.drawing.paths import box
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import CraftError, ImpossibleSectionError, OutOfRangeError, UnreadableError
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import RingContext, check_thickness, length_model, ring_context
from ringcraft.planning.inner_band import MOST_OFF_SHARE, inner_band
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.routes.building import needs_mm, start_of
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import PositiveMm, request
from ringcraft.sections import PROFILES, Section, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Told, assemble, check_flat, side_blank, size
from ringcraft.styles.telling import length_figure, thumb
from ringcraft.styles.wrap import Wrap, backwards, wrap_of, wrapped
from ringcraft.units import Length
from ringcraft.vbench.pieces import Piece, stock_piece
from ringcraft.work.fields import FieldSpec, PartSpec

THUMB_MM = 4.5  # "inner plus 4 to 5" for the outer strip; common practice, no published source
PLATE_OVER_MM = 0.5  # of the plate over the walls on each side, filed flush later; our own judgement


@request
class HollowSignetRequest(RingRequest):
    """The order of a hollow signet: the top's width across the hand and its rise over the inner band [mm].

    ``strip_mm`` instead of the rise: a strip already cut so long, and the rise follows from it.
    ``outer_stock`` and ``plate_stock`` are the inner band's own where they are not given; ``top_measured_mm`` is the
    top over both walls as it came out, which the plate is cut from.
    """

    style: Literal["hollow-signet"] = "hollow-signet"
    top_width_mm: PositiveMm
    rise_mm: PositiveMm | None = None
    strip_mm: PositiveMm | None = None
    outer_stock: Stock | None = None
    plate_stock: Stock | None = None
    inner_measured_od_mm: PositiveMm | None = None
    top_measured_mm: PositiveMm | None = None


@dataclass(frozen=True, kw_only=True)
class HollowSignetFields(OwnFields):
    """What a hollow signet answers beside every plan: the straight of the outer strip up to the top's corner, how
    high the top stands over the inner band [mm].
    """

    flank_mm: float
    rise_mm: float | None = None


@dataclass(frozen=True, kw_only=True)
class HollowSignetPlan(HollowSignetFields, RingPlan):
    """The plan of a hollow signet."""

    style: Literal["hollow-signet"]


@dataclass(frozen=True)
class HollowSignetFacts(StyleFacts):
    """What the route of a hollow signet says beside every ring's."""

    flank: Length
    leaves: str
    top: Length
    rise: Length
    top_over: Length
    plate_width: Length
    over: Length
    over_mm3: float
    strip_cut: bool
    strip_uncut: bool


def plan_hollow_signet(order: HollowSignetRequest) -> HollowSignetPlan:
    """Plan a hollow signet; raises CraftError naming the field."""
    check_flat(order, "The inner band is flat, not")
    context = ring_context(order, STYLE.leave)
    outer = _flat(order.outer_stock or order.stock, "outer_stock")
    plate = _flat(order.plate_stock or order.stock, "plate_stock")
    for section, field in ((outer, "outer_stock"), (plate, "plate_stock")):
        check_thickness(section, context.target, field)
    if order.top_measured_mm is not None:
        _check_top(order.top_measured_mm, _top_over(order, outer))
    sized = size(context, length_model(context))
    planned = sized.inside_mm() + 2 * context.section.thickness_mm
    inside = inner_band(planned, order.inner_measured_od_mm)
    under = inside.outside_mm
    order = replace(order, rise_mm=_rise(order, under, outer))
    wrap = _wrap(order, under, outer)
    inner = sized.draw(BlankSpec(name="inner", title="inner band", role="inner", outside_mm=planned))
    waits = inside.waits("the inner band")
    strip_, top = _outer(order, context, under, outer, wrap, waits), _plate(order, context, outer, plate)
    inner_formed = math.pi * (context.target.inside_mm + context.section.thickness_mm)
    wide, leaves = context.section.width_mm, math.degrees(wrap.leaves_at)

    def two(mm: float) -> Length:
        return Length(mm, context.used.units, ".2f")

    low, high = (f"{context.length(mm):g}" for mm in (THUMB_MM - 0.5, THUMB_MM + 0.5))
    return assemble(
        STYLE,
        sized,
        (inner, strip_, top),
        Told(
            title="hollow signet",
            ring=_ring(order, context, under, outer, plate),
            figures=(
                length_figure(
                    context, "flank", "flank", wrap.flank_mm, ".2f", "straight from the round to the corner"
                ),
                Figure("leaves", "leaves the round", leaves, f"{leaves:.0f}°", "to either side of the top"),
                *_rise_figure(order, context),
            ),
            thumbs=(thumb(context, f"outer is inner + {low} to {high}", inner_formed + THUMB_MM, wrap.length_mm),),
            says=(f"Cut the inner band first: the others follow its outside. It closes at {sized.closing.text}.",),
            facts=HollowSignetFacts(
                flank=two(wrap.flank_mm),
                leaves=f"{leaves:.0f}",
                top=context.length(order.top_width_mm),
                rise=context.length(_up(order)),
                strip_cut=order.strip_mm is not None,
                strip_uncut=order.strip_mm is None,
                top_over=two(_top_over(order, outer)),
                plate_width=two(top.width_mm),
                over=context.length(PLATE_OVER_MM),
                over_mm3=_over_mm3(order, context, outer, plate, top),
            ),
            start=start_of(context, (inner, strip_))
            | _given(order, context, outer)
            | {"plate": _plate_stock(context, plate, top)},
        ),
        HollowSignetFields(flank_mm=wrap.flank_mm, rise_mm=_up(order)),
        joints=(
            Seam("inner", "the joint of the inner band", wide, 1, context.section.area_mm2),
            Seam("outer", "the outer strip to the inner band", under * (math.pi - wrap.leaves_at), 2, lines=2),
            Seam("plate", "the top plate", 2 * (order.top_width_mm + wide), 3),
        ),
    )


def _flat(stock: Stock, field: str) -> Section:
    if not PROFILES[stock.profile].flat:
        raise ImpossibleSectionError(f"{field}.profile", "The wrap and the plate are flat.", "Use sheet or strip.")
    return section_of(stock, field)


def _up(order: HollowSignetRequest) -> float:
    """How high the top stands over the inner band [mm]: as asked for, or as its strip gives."""
    assert order.rise_mm is not None
    return order.rise_mm


def _rise(order: HollowSignetRequest, under: float, outer: Section) -> float:
    """The rise [mm]: as asked for, or the one at which the wrap is as long as the strip that is cut already.

    The wrap grows with the rise, so it is found by halving. Raises CraftError where no rise gives that strip.
    """
    if order.strip_mm is None:
        if order.rise_mm is None:
            raise CraftError("rise_mm", "How high does the top stand?", "Or how long is a strip already cut?")
        return order.rise_mm
    if order.rise_mm is not None:
        raise UnreadableError("strip_mm", "Give the rise or the strip, not both.", "")
    _check_width(order, under)
    neutral, half = under / 2 + outer.neutral_mm, order.top_width_mm / 2
    least = math.sqrt(max(0.0, (neutral * 1.0006) ** 2 - half**2)) - under / 2
    low, high = max(least, 0.01), under
    shortest, longest = (wrap_of(neutral, order.top_width_mm, under / 2 + rise).length_mm for rise in (low, high))
    if not shortest <= order.strip_mm <= longest:
        raise OutOfRangeError(
            "strip_mm", "A strip of {strip:.1f} does not wrap that top.",
            "From {low:.1f} to {high:.1f mm} for a top {top:g} wide.",
            strip=order.strip_mm, low=shortest, high=longest, top=order.top_width_mm,
        )  # fmt: skip
    for _ in range(60):
        rise = (low + high) / 2
        if wrap_of(neutral, order.top_width_mm, under / 2 + rise).length_mm < order.strip_mm:
            low = rise
        else:
            high = rise
    return (low + high) / 2


def _rise_figure(order: HollowSignetRequest, context: RingContext) -> tuple[Figure, ...]:
    """How high the top stands, where that follows from a strip already cut."""
    if order.strip_mm is None:
        return ()
    why = f"from a strip of {context.length(order.strip_mm):g} already cut"
    return (length_figure(context, "rise", "rise of the top", _up(order), ".2f", why),)


def _given(order: HollowSignetRequest, context: RingContext, outer: Section) -> dict[str, Piece]:
    """A strip that is cut already is as long as it is."""
    if order.strip_mm is None:
        return {}
    return {"outer": stock_piece(context.metal.key, outer, order.strip_mm)}


def _check_width(order: HollowSignetRequest, under: float) -> None:
    if order.top_width_mm > 1.6 * under:
        raise OutOfRangeError(
            "top_width_mm", "That top is wider than any hand.", "At most {most:.0f mm}.", most=1.6 * under
        )


def _wrap(order: HollowSignetRequest, under: float, outer: Section) -> Wrap:
    neutral, height = under / 2 + outer.neutral_mm, under / 2 + _up(order)
    _check_width(order, under)
    if _up(order) > under:
        raise OutOfRangeError(
            "rise_mm", "That top stands higher than the ring.", "At most {most:.0f mm}.", most=under
        )
    if math.hypot(order.top_width_mm / 2, height) <= neutral * 1.0005:
        least = math.sqrt(max(0.0, neutral**2 - (order.top_width_mm / 2) ** 2)) - under / 2
        said = "The corners of that top lie inside the wrap."
        hint = "At least {least:.2f mm}, or a wider top."
        raise ImpossibleSectionError("rise_mm", said, hint, least=max(least, 0.0) + 0.05)
    return wrap_of(neutral, order.top_width_mm, height)


def _outer(
    order: HollowSignetRequest, context: RingContext, under: float, outer: Section, wrap: Wrap, waits: str
) -> Blank:
    turned = wrap.length_mm - 2 * wrap.flank_mm
    neutral = under / 2 + outer.neutral_mm
    terms = [
        Term(
            "under",
            "round the inner band",
            turned,
            f"{math.degrees(turned / neutral):.0f}° of a round of {context.length(neutral):.2f}",
        ),
        Term(
            "flanks",
            "two flanks",
            2 * wrap.flank_mm,
            f"straight to the corners, {context.length(wrap.flank_mm):.2f} each",
        ),
    ]
    height = under / 2 + _up(order)
    per_rise = 2 * height / math.hypot(order.top_width_mm / 2, height)
    handle: Handle | None = Handle("rise_mm", "rise of the top", _up(order), 1 / per_rise, 0.1, under / 2)
    if order.strip_mm is not None:  # the strip says the length: nothing is moved or rounded
        handle, context = None, replace(context, used=replace(context.used, round_to_mm=0.0))
    mark = Mark("flank", wrap.length_mm - wrap.flank_mm, "leaves the round", handle)
    lines = [across("flank-left", "scribe", wrap.flank_mm, outer.width_mm),
             across("flank-right", "scribe", wrap.length_mm - wrap.flank_mm, outer.width_mm)]  # fmt: skip
    spec = BlankSpec(
        name="outer", title="outer strip", role="outer", section=outer, waits=waits, marks=[mark], lines=lines
    )
    return side_blank(context, terms, spec, joined=False)


def _top_terms(order: HollowSignetRequest, context: RingContext, outer: Section) -> list[Term]:
    if order.top_measured_mm is not None:
        return [Term("top", "the top, over both walls", order.top_measured_mm, "as measured")]
    half = f"half of {context.length(outer.thickness_mm):g} on either side"
    return [
        Term("top", "width of the top", order.top_width_mm, "corner to corner, along the strip's neutral line"),
        Term("walls", "the walls", outer.thickness_mm, half),
    ]


def _plate(order: HollowSignetRequest, context: RingContext, outer: Section, plate: Section) -> Blank:
    wide = max(context.section.width_mm, outer.width_mm) + 2 * PLATE_OVER_MM
    terms = [
        *_top_terms(order, context, outer),
        Term("over", "to file flush", 2 * PLATE_OVER_MM, f"{context.length(PLATE_OVER_MM):g} over each side"),
    ]
    spec = BlankSpec(
        name="plate",
        title="top plate",
        role="plate",
        section=plate,
        waits="" if order.top_measured_mm is not None else "the top is measured",
        width_mm=wide,
        area_mm2=wide * plate.thickness_mm,
    )
    return side_blank(context, terms, spec, joined=False)


def _check_top(measured_mm: float, planned_mm: float) -> None:
    """Refuse a top that is another ring's."""
    if abs(measured_mm - planned_mm) > MOST_OFF_SHARE * 2 * planned_mm:
        raise OutOfRangeError(
            "top_measured_mm",
            "{measured:.2f} over the top cannot be: it was planned at {planned:.2f}.",
            "Measure over both walls.",
            measured=measured_mm,
            planned=planned_mm,
        )


def _top_over(order: HollowSignetRequest, outer: Section) -> float:
    """The top over both walls [mm], as planned: corner to corner along the neutral line and half a wall each side."""
    return order.top_width_mm + outer.thickness_mm


def _over_mm3(order: HollowSignetRequest, context: RingContext, outer: Section, plate: Section, top: Blank) -> float:
    """What of the plate [mm3] stands over the walls and is filed off."""
    across = order.top_measured_mm or _top_over(order, outer)
    along = max(context.section.width_mm, outer.width_mm)
    return (top.cut_length_mm * top.width_mm - across * along) * plate.thickness_mm


def _plate_stock(context: RingContext, plate: Section, top: Blank) -> Piece:
    """The sheet that the plate is cut from: a little wider than it."""
    piece = stock_piece(context.metal.key, plate, needs_mm(context, top))
    wide = top.width_mm + PLATE_OVER_MM
    return replace(piece, width_mm=wide, volume_mm3=piece.length_mm * wide * plate.thickness_mm)


def _ring(order: HollowSignetRequest, context: RingContext, under: float, outer: Section, plate: Section) -> Drawing:
    """Looking through it: the inner band, the strip wrapped tangentially about it, the plate on its corners."""
    height, corner = under / 2 + _up(order), order.top_width_mm / 2
    outside = wrapped(under / 2 + outer.thickness_mm, corner + outer.neutral_mm, height)
    inside = wrapped(under / 2, corner - outer.neutral_mm, height)
    half = corner + outer.thickness_mm / 2 + PLATE_OVER_MM
    return drawing(
        [
            Shape("outer", "second", (outside + backwards(inside),)),
            rings.band(context.target.inside_mm / 2, under / 2, "inner"),
            Shape("plate", "metal", (box(-half, height, half, height + plate.thickness_mm),)),
        ],
        [rings.joint(context.target.inside_mm / 2, under / 2)],
    )


STYLE = Style(
    key="hollow-signet",
    title="hollow signet",
    request=HollowSignetRequest,
    plan=plan_hollow_signet,
    answer=HollowSignetPlan,
    leave="small",
    sizing="plain",
    route="hollow-signet",
    first=Stock(profile="sheet", width_mm=8.0, thickness_mm=0.9),
    stock_says="its inner band",
    overrides_from_measures={
        **STOCK_OVERRIDES,
        "outside": "inner_measured_od_mm",
        "stock-thickness@outer": "outer_stock.thickness_mm",
        "stock-width@outer": "outer_stock.width_mm",
        "stock-thickness@plate": "plate_stock.thickness_mm",
        "top-opening": "top_measured_mm",
    },
    aliases=("signet",),
    words=(
        FieldSpec("top_width_mm", "Width of the top", "its top", "{mm} across,", first=14.0, short=("top",)),
        FieldSpec(
            field="",
            label="The top by the",
            before="",
            kind="one-of",
            first="rise_mm",
            parts=(
                PartSpec(
                    "rise_mm",
                    "Rise of the top",
                    "standing",
                    "{mm} over the inner band",
                    "length",
                    2.5,
                    short=("rise",),
                ),
                PartSpec(
                    "strip_mm",
                    "Strip already cut",
                    "wrapped in a strip already cut, so long:",
                    "{mm}",
                    "length",
                    63.0,
                    short=("strip",),
                ),
            ),
        ),
    ),
    facts=HollowSignetFacts,
)
