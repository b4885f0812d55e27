"""The adjustable ring: open, its ends lying over one another, no solder."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across, strip, waisted
from ringcraft.drawing.paths import area_mm2
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.measure.sizes import SCALES
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import RingContext, length_model, ring_context
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Mm, PositiveMm, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Sized, Told, assemble, size, thumb
from ringcraft.units import Length
from ringcraft.work.fields import FieldSpec

THUMB_MM = 10.0  # the usual overlap; common practice, no published source
MOST_OVERLAP_MM = 30.0
LEAST_OVERLAP_MM = 3.0  # let out further, the ends no longer cover one another; our own judgement
MOST_WORN_MM = 15.0  # closed further, the ends lie hard on the finger; our own judgement
SMALL_FIRST_SIZES = 4  # US sizes that it is formed smaller at first; common practice, no published source


@request
class AdjustableRequest(RingRequest):
    """The order of an adjustable ring; ``waist_mm`` draws the middle in, sheet and strip only."""

    style: Literal["adjustable"] = "adjustable"
    overlap_mm: Mm = THUMB_MM
    waist_mm: PositiveMm | None = None


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


def plan_adjustable(order: AdjustableRequest) -> AdjustablePlan:
    """Plan an adjustable ring; raises CraftError naming the field."""
    context = ring_context(order, STYLE.leave, joined=False)
    waist = _waist(order, context)
    if order.overlap_mm > MOST_OVERLAP_MM:
        raise OutOfRangeError(
            "overlap_mm", "That goes half round again.", "At most {most:g mm}.", most=MOST_OVERLAP_MM
        )
    lies = f"{context.length(order.overlap_mm):g}"
    term = Term("overlap", "overlap", order.overlap_mm, f"the ends lie over one another by {lies}")
    sized = size(context, length_model(context), [term], learns=False)
    made = _range(context, order.overlap_mm, waist)
    told = context.target.told
    inner, thick = context.target.inside_mm / 2, context.section.thickness_mm
    blank = _blank(order, sized, waist)
    return assemble(
        STYLE,
        sized,
        [blank],
        Told(
            title="adjustable ring",
            ring=drawing(list(rings.overlapped(inner, thick, order.overlap_mm / (inner + thick)))),
            figures=_figures(context, made),
            thumbs=(
                thumb(
                    context,
                    f"{context.length(THUMB_MM):g} of overlap",
                    THUMB_MM,
                    order.overlap_mm,
                    ", against the overlap asked for",
                ),
            ),
            says=(f"Cut, smooth every edge, form it small. It lies over {lies} at {sized.closing.text}.",),
            facts=AdjustableFacts(
                overlap=context.length(order.overlap_mm),
                waist=context.length(waist),
                first=told(made.formed_first_mm),
                smallest=told(made.smallest_mm),
                largest=told(made.largest_mm),
                waisted=waist < context.section.width_mm,
                first_overlap=Length(
                    sized.closed_mm - math.pi * (made.formed_first_mm + 2 * context.section.neutral_mm),
                    context.used.units,
                    ".1f",
                ),
                waist_mm3=(context.section.area_mm2 * blank.cut_length_mm - blank.volume_mm3)
                * (1 - context.used.join.trim_mm / blank.cut_length_mm),
            ),
            plus_mm=order.overlap_mm,
        ),
        AdjustableFields(adjustable=made),
    )


def _blank(order: AdjustableRequest, sized: Sized, waist: float) -> Blank:
    """The strip, drawn in at its waist, with the place where its ends begin to lie over one another."""
    context, length = sized.context, sized.cut_mm
    handle = Handle("overlap_mm", "overlap", order.overlap_mm, 1.0, 0.0, MOST_OVERLAP_MM)
    mark = Mark("overlap", length - order.overlap_mm, "from here on it lies over", handle)
    drawn = _drawing(context, length, waist, order.overlap_mm)
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


def _drawing(context: RingContext, cut: float, waist: float, overlap: float) -> Drawing:
    wide = context.section.width_mm
    lines = [across("overlap", "scribe", cut - overlap, wide), across("middle", "centre", cut / 2, wide)]
    if waist >= wide:
        return strip(cut, wide, lines)
    corner = min(wide / 3, cut / 8)
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
        FieldSpec("overlap_mm", "Overlap", "its ends over one another by", "{mm},", first=8.0, short=("overlap",)),
        FieldSpec(
            "waist_mm",
            "Waist",
            "drawn in to",
            "{mm} in the middle",
            first=4.0,
            placeholder="no waist",
            short=("waist",),
        ),
    ),
    closes=False,
    joined=False,
    sizing="let-out",
    facts=AdjustableFacts,
)
