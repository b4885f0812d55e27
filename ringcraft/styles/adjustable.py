"""The adjustable ring: open, its ends lying over one another, no solder."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across, along, bypass, strip, waisted
from ringcraft.drawing.paths import area_mm2
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.measure.sizes import SCALES
from ringcraft.parts.dish import Dished, dished
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import RingContext, length_model, ring_context
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.routes.building import bend_strain
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Mm, PositiveMm, name_of, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Sized, Told, assemble, size
from ringcraft.styles.telling import length_figure, thumb
from ringcraft.units import Length
from ringcraft.work.fields import FieldSpec, Option

THUMB_MM = 10.0  # the usual overlap; common practice, no published source
MOST_OVERLAP_MM = 30.0
LEAST_OVERLAP_MM = 3.0  # let out further, the ends no longer cover one another; our own judgement
MOST_WORN_MM = 15.0  # closed further, the ends lie hard on the finger; our own judgement
WAIST_SHARE, WAIST_SHARES = 0.42, (0.25, 0.6)  # of a diagonal strip's width; a third to a half is common practice
LAYOUTS = {"lapped": "one end on the other", "bypass": "ends that pass beside one another"}
LayoutKey = name_of("layout", LAYOUTS)
OVER = {"lapped": "over", "bypass": "beside"}
SMALL_FIRST_SIZES = 4  # US sizes that it is formed smaller at first; common practice, no published source


@request
class AdjustableRequest(RingRequest):
    """The order of an adjustable ring; ``waist_mm`` draws the middle in, sheet and strip only.

    ``layout``: one end on the other, or a diagonal strip whose ends pass beside one another; ``corner_mm`` rounds two
    opposite corners. ``dish_mm``: how deep it is dished across its width before it is bent.
    """

    style: Literal["adjustable"] = "adjustable"
    overlap_mm: Mm = THUMB_MM
    waist_mm: PositiveMm | None = None
    layout: LayoutKey = "lapped"
    corner_mm: PositiveMm | None = None
    dish_mm: Mm = 0.0


@dataclass(frozen=True)
class Adjustable:
    """What an open ring can be worn from and to [mm inside], and how small it is formed first."""

    overlap_mm: float
    waist_mm: float
    smallest_mm: float
    largest_mm: float
    formed_first_mm: float


@dataclass(frozen=True, kw_only=True)
class AdjustableFields(OwnFields):
    """What an adjustable ring answers beside every plan."""

    adjustable: Adjustable


@dataclass(frozen=True, kw_only=True)
class AdjustablePlan(AdjustableFields, RingPlan):
    """The plan of an adjustable ring."""

    style: Literal["adjustable"]


@dataclass(frozen=True)
class AdjustableFacts(StyleFacts):
    """What the route of an adjustable ring says beside every ring's."""

    overlap: Length
    waist: Length
    first: str
    smallest: str
    largest: str
    waisted: bool
    first_overlap: Length
    waist_mm3: float
    plain: bool
    lapped: bool
    bypass: bool
    dished: bool
    not_dished: bool
    dish: Length
    dish_radius: Length
    dish_strain: float
    bent_strain: float
    corner: Length


def plan_adjustable(order: AdjustableRequest) -> AdjustablePlan:
    """Plan an adjustable ring; raises CraftError naming the field."""
    context = ring_context(order, STYLE.leave, joined=False)
    waist = _waist(order, context)
    if order.overlap_mm > MOST_OVERLAP_MM:
        raise OutOfRangeError(
            "overlap_mm", "That goes half round again.", "At most {most:g mm}.", most=MOST_OVERLAP_MM
        )
    lies, over = f"{context.length(order.overlap_mm):g}", OVER[order.layout]
    term = Term("overlap", "overlap", order.overlap_mm, f"the ends lie {over} one another by {lies}")
    sized = size(context, length_model(context), [term], learns=False)
    made = _range(context, order.overlap_mm, waist)
    inner, thick = context.target.inside_mm / 2, context.section.thickness_mm
    blank = _blank(order, sized, waist)
    dish = _dish(order, sized)
    return assemble(
        STYLE,
        sized,
        [blank],
        Told(
            title="adjustable ring",
            ring=_ring(order, inner, thick),
            figures=(*_figures(context, made), *_dish_figures(context, order, dish)),
            thumbs=(
                thumb(
                    context,
                    f"{context.length(THUMB_MM):g} of overlap",
                    THUMB_MM,
                    order.overlap_mm,
                    ", against the overlap asked for",
                ),
            ),
            says=(
                f"Cut, smooth every edge, form it small. Its ends lie {over} one another by {lies} at "
                f"{sized.closing.text}.",
            ),
            facts=_facts(order, sized, made, blank, dish),
            plus_mm=order.overlap_mm,
        ),
        AdjustableFields(adjustable=made),
    )


def _facts(
    order: AdjustableRequest, sized: Sized, made: Adjustable, blank: Blank, dish: Dished | None
) -> AdjustableFacts:
    """What the route says."""
    context, waist, thick = sized.context, made.waist_mm, sized.context.section.thickness_mm
    told = context.target.told
    return AdjustableFacts(
        overlap=context.length(order.overlap_mm),
        waist=context.length(waist),
        first=told(made.formed_first_mm),
        smallest=told(made.smallest_mm),
        largest=told(made.largest_mm),
        waisted=order.layout == "lapped" and waist < context.section.width_mm,
        first_overlap=Length(
            sized.closed_mm - math.pi * (made.formed_first_mm + 2 * context.section.neutral_mm),
            context.used.units,
            ".1f",
        ),
        waist_mm3=(context.section.area_mm2 * blank.cut_length_mm - blank.volume_mm3)
        * (1 - context.used.join.trim_mm / blank.cut_length_mm),
        plain=order.layout == "lapped" and waist >= context.section.width_mm,
        lapped=order.layout == "lapped",
        bypass=order.layout == "bypass",
        dished=dish is not None,
        not_dished=dish is None,
        dish=Length(order.dish_mm, context.used.units, ".2f"),
        dish_radius=Length(dish.radius_mm if dish else 0.0, context.used.units, ".1f"),
        dish_strain=thick / (2 * dish.radius_mm) if dish else 0.0,
        bent_strain=bend_strain(context.section, context.target.inside_mm) + (dish.edge_strain if dish else 0.0),
        corner=Length(_corner(order, context, blank.cut_length_mm), context.used.units, ".1f"),
    )


def _blank(order: AdjustableRequest, sized: Sized, waist: float) -> Blank:
    """The strip, drawn in at its waist, with the place where its ends begin to lie over one another."""
    context, length = sized.context, sized.cut_mm
    handle = Handle("overlap_mm", "overlap", order.overlap_mm, 1.0, 0.0, MOST_OVERLAP_MM)
    says = "from here on it lies over" if order.layout == "lapped" else "from here on the ends pass"
    mark = Mark("overlap", length - order.overlap_mm, says, handle)
    drawn = _drawing(order, context, length, waist, order.overlap_mm)
    area = context.section.area_mm2
    if context.section.flat:
        area = area_mm2(drawn.shapes[0].paths[0]) / length * context.section.thickness_mm
    return sized.draw(BlankSpec(marks=[mark], drawing=drawn, area_mm2=area))


def _figures(context: RingContext, made: Adjustable) -> tuple[Figure, ...]:
    most = max(MOST_WORN_MM, made.overlap_mm)
    worn, least = (f"{context.length(mm):g mm}" for mm in (most, min(LEAST_OVERLAP_MM, made.overlap_mm)))
    told = context.target.told
    return (
        Figure(
            "smallest",
            "worn from",
            made.smallest_mm,
            told(made.smallest_mm),
            f"closed until {worn} lie over" if most > made.overlap_mm else "as it was made",
        ),
        Figure(
            "largest",
            "to",
            made.largest_mm,
            told(made.largest_mm),
            f"{least} still lie over" if made.overlap_mm > LEAST_OVERLAP_MM else f"as it was made: {least} lie over",
        ),
    )


def _waist(order: AdjustableRequest, context: RingContext) -> float:
    wide = context.section.width_mm
    if order.layout == "bypass":
        return _bypass_waist(order, context)
    if order.waist_mm is None:
        return wide
    if not context.section.flat:
        raise ImpossibleSectionError(
            "waist_mm", "Only sheet or strip is drawn in to a waist.", "Leave it out for wire."
        )
    if order.waist_mm > wide:
        raise ImpossibleSectionError(
            "waist_mm", "The waist is wider than the strip, {wide:g}.", "At most {wide:g}.", wide=wide
        )
    return order.waist_mm


def _bypass_waist(order: AdjustableRequest, context: RingContext) -> float:
    """The waist of a diagonal strip: as asked for, else between a third and a half of its width."""
    wide = context.section.width_mm
    if not context.section.flat:
        raise ImpossibleSectionError("layout", "Only sheet or strip is sawn to a diagonal.", "Lapped, from wire.")
    low, high = (share * wide for share in WAIST_SHARES)
    waist = WAIST_SHARE * wide if order.waist_mm is None else order.waist_mm
    if not low <= waist <= high:
        raise OutOfRangeError(
            "waist_mm", "A waist of {waist:g} in {wide:g} of width leaves ends that do not pass.",
            "From {low:.1f} to {high:.1f}; a third to a half is usual.", waist=waist, wide=wide, low=low, high=high,
        )  # fmt: skip
    if order.overlap_mm < LEAST_OVERLAP_MM:
        raise OutOfRangeError(
            "overlap_mm", "Ends that pass by so little leave a gap to be seen.", "At least {least:g mm}.",
            least=LEAST_OVERLAP_MM,
        )  # fmt: skip
    return waist


def _corner(order: AdjustableRequest, context: RingContext, cut: float) -> float:
    """How round the two opposite corners are [mm]; raises OutOfRangeError."""
    wide = context.section.width_mm
    most = (wide / 2 if order.layout == "bypass" else wide) * 0.95
    if order.corner_mm is not None and order.corner_mm > min(most, cut / 4):
        raise OutOfRangeError(
            "corner_mm", "A corner so round takes the whole end.", "At most {most:.1f mm}.", most=min(most, cut / 4)
        )
    usual = wide / 4 if order.layout == "bypass" else wide / 3
    return min(usual, cut / 8) if order.corner_mm is None else order.corner_mm


def _dish(order: AdjustableRequest, sized: Sized) -> Dished | None:
    if not order.dish_mm:
        return None
    if not sized.context.section.flat:
        raise ImpossibleSectionError("dish_mm", "Only sheet or strip is dished.", "Leave it out for wire.")
    return dished(sized.context.section.width_mm, order.dish_mm, sized.formed_mm, sized.context.metal)


def _dish_figures(context: RingContext, order: AdjustableRequest, dish: Dished | None) -> tuple[Figure, ...]:
    if dish is None:
        return ()
    share = f"{100 * dish.edge_strain:.1f} % of the round"
    return (
        length_figure(context, "dish", "radius of the dish", dish.radius_mm, ".1f",
                      f"{context.length(order.dish_mm):g} deep"),
        length_figure(context, "stretch", "edges longer by", dish.edge_stretch_mm, ".2f", share),
    )  # fmt: skip


def _ring(order: AdjustableRequest, inner: float, thick: float) -> Drawing:
    """Looked through: one end on the other, or both on one round, each end a line across it."""
    angle = order.overlap_mm / (inner + thick)
    if order.layout == "lapped":
        return drawing(list(rings.overlapped(inner, thick, angle)))
    ends = [rings.joint(inner, inner + thick, math.pi + side * angle / 2, f"end-{side}") for side in (-1, 1)]
    return drawing([rings.band(inner, inner + thick)], ends)


def _drawing(order: AdjustableRequest, context: RingContext, cut: float, waist: float, overlap: float) -> Drawing:
    wide = context.section.width_mm
    lines = [across("overlap", "scribe", cut - overlap, wide), across("middle", "centre", cut / 2, wide)]
    corner = _corner(order, context, cut)
    if order.layout == "bypass":
        outline = bypass(cut, wide, waist, overlap, corner)
        return drawing([Shape("blank", "metal", (outline,))], [*lines, along("axis", "centre", wide / 2, 0.0, cut)])
    if waist >= wide and order.corner_mm is None:
        return strip(cut, wide, lines)
    return drawing([Shape("blank", "metal", (waisted(cut, wide, waist, corner),))], lines)


def _range(context: RingContext, overlap: float, waist: float) -> Adjustable:
    inside, size = context.target.inside_mm, SCALES["us"].step_mm
    return Adjustable(
        overlap_mm=overlap,
        waist_mm=waist,
        smallest_mm=inside - max(0.0, MOST_WORN_MM - overlap) / math.pi,
        largest_mm=inside + max(0.0, overlap - LEAST_OVERLAP_MM) / math.pi,
        formed_first_mm=inside - SMALL_FIRST_SIZES * size,
    )


STYLE = Style(
    key="adjustable",
    title="adjustable ring",
    request=AdjustableRequest,
    plan=plan_adjustable,
    answer=AdjustablePlan,
    leave="exact",
    route="adjustable",
    first=Stock(profile="sheet", width_mm=9.0, thickness_mm=0.8),
    overrides_from_measures=STOCK_OVERRIDES,
    aliases=("open", "open ring"),
    words=(
        FieldSpec(
            "layout",
            "Layout",
            "with",
            ",",
            "choice",
            "lapped",
            choices=tuple(Option(key, title) for key, title in LAYOUTS.items()),
            short=("layout",),
        ),
        FieldSpec("overlap_mm", "Overlap", "by", "{mm},", first=8.0, short=("overlap",)),
        FieldSpec(
            "waist_mm",
            "Waist",
            "drawn in to",
            "{mm} in the middle",
            first=4.0,
            placeholder="no waist",
            short=("waist",),
        ),
        FieldSpec(
            "corner_mm",
            "Corners",
            ", two corners rounded by",
            "{mm}",
            placeholder="usual",
            short=("corners",),
        ),
        FieldSpec("dish_mm", "Dish", ", dished", "{mm} deep", placeholder="not", short=("dish",)),
    ),
    closes=False,
    joined=False,
    sizing="let-out",
    facts=AdjustableFacts,
)
