"""The adjustable ring: open, its ends lying over one another, no solder."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ringcraft.border import Mm, PositiveMm, request
from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across, strip, waisted
from ringcraft.drawing.paths import area_mm2
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.planning.frame import Frame, frame_of, turn_of
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.sizes import SCALES
from ringcraft.styles.base import STOCK_TAKES, Figure, RingPlan, Style, Word
from ringcraft.styles.build import assemble, sized_blank, thumb

THUMB_MM = 10.0  # the usual overlap; common practice, no published source
MOST_OVERLAP_MM = 30.0
LEAST_OVERLAP_MM = 3.0  # let out further, the ends no longer cover one another; our own judgement
MOST_WORN_MM = 15.0  # closed further, the ends lie hard on the finger; our own judgement
SMALL_FIRST_SIZES = 4  # US sizes that it is formed smaller at first; common practice, no published source
FLAT = ("sheet", "rectangle")


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
class AdjustablePlan(RingPlan):
    """The plan of an adjustable ring."""

    style: Literal["adjustable"]
    adjustable: Adjustable


def plan_adjustable(order: AdjustableRequest) -> AdjustablePlan:
    """Plan an adjustable ring; raises CraftError naming the field."""
    frame = frame_of(order, STYLE.leave, joined=False)
    waist = _waist(order, frame)
    if order.overlap_mm > MOST_OVERLAP_MM:
        raise OutOfRangeError("overlap_mm", "That goes half round again.", f"At most {MOST_OVERLAP_MM:g} mm.")
    why = f"the ends lie over one another by {order.overlap_mm:g}"
    more = [Term("overlap", "overlap", order.overlap_mm, why)]
    handle = Handle("overlap_mm", "overlap", order.overlap_mm, 1.0, 0.0, MOST_OVERLAP_MM)

    def drawn(cut: float) -> Drawing:
        return _drawing(frame, cut, waist, order.overlap_mm)

    first = sized_blank(frame, turn_of(frame), more, drawing=drawn)
    cut = first.blank.cut_length_mm
    marks = [Mark("overlap", cut - order.overlap_mm, "from here on it lies over", handle)]
    area = area_mm2(first.blank.drawing.shapes[0].paths[0]) / cut * frame.section.thickness_mm
    if frame.section.profile not in FLAT:
        area = frame.section.area_mm2
    sized = sized_blank(frame, turn_of(frame), more, drawing=drawn, marks=marks, area_mm2=area)
    made = _range(frame, order.overlap_mm, waist)
    told = frame.wanted.told
    inner, thick = frame.wanted.inside_mm / 2, frame.section.thickness_mm
    return assemble(
        frame,
        STYLE,
        AdjustablePlan,
        sized,
        title="adjustable ring",
        ring=drawing(list(rings.overlapped(inner, thick, order.overlap_mm / (inner + thick)))),
        figures=(
            Figure(
                "smallest",
                "worn from",
                made.smallest_mm,
                told(made.smallest_mm),
                f"closed until {MOST_WORN_MM:g} mm lie over",
            ),
            Figure(
                "largest", "to", made.largest_mm, told(made.largest_mm), f"{LEAST_OVERLAP_MM:g} mm still lie over"
            ),
        ),
        thumbs=(thumb("10 of overlap", THUMB_MM, order.overlap_mm, ", against the overlap asked for"),),
        says=(f"Cut, smooth every edge, form it small. It lies over {order.overlap_mm:g} at {sized.closing.text}.",),
        words={
            "overlap": f"{order.overlap_mm:g}",
            "waist": f"{waist:g}",
            "first": told(made.formed_first_mm),
            "smallest": told(made.smallest_mm),
            "largest": told(made.largest_mm),
        },
        holds={"waisted": waist < frame.section.width_mm},
        plus_mm=order.overlap_mm,
        adjustable=made,
    )


def _waist(order: AdjustableRequest, frame: Frame) -> float:
    wide = frame.section.width_mm
    if order.waist_mm is None:
        return wide
    if frame.section.profile not in FLAT:
        raise ImpossibleSectionError(
            "waist_mm", "Only sheet or strip is drawn in to a waist.", "Leave it out for wire."
        )
    if order.waist_mm > wide:
        raise ImpossibleSectionError(
            "waist_mm", f"The waist is wider than the strip, {wide:g}.", f"At most {wide:g}."
        )
    return order.waist_mm


def _drawing(frame: Frame, cut: float, waist: float, overlap: float) -> Drawing:
    wide = frame.section.width_mm
    lines = [across("overlap", "scribe", cut - overlap, wide), across("middle", "centre", cut / 2, wide)]
    if waist >= wide:
        return strip(cut, wide, lines)
    corner = min(wide / 3, cut / 8)
    return drawing([Shape("blank", "metal", (waisted(cut, wide, waist, corner),))], lines)


def _range(frame: Frame, overlap: float, waist: float) -> Adjustable:
    inside, size = frame.wanted.inside_mm, SCALES["us"].step_mm
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
    first={"profile": "sheet", "width": "10", "thickness": "0.9"},
    takes=STOCK_TAKES,
    aliases=("open", "open ring"),
    words=(
        Word("overlap_mm", "Overlap", "its ends over one another by", "mm,", first="10", short=("overlap",)),
        Word("waist_mm", "Waist", "drawn in to", "mm in the middle", first="3.5", placeholder="no waist",
             short=("waist",)),
    ),
    closes=False,
    joined=False,
)  # fmt: skip
