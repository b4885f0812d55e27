"""The shank for a top: closed, open with a gap, or open with its ends split into prongs."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import along
from ringcraft.drawing.shapes import Line, drawing
from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.measure.sizes import SCALES
from ringcraft.metals import BLADES
from ringcraft.planning.blank import Blank, BlankSpec, cut_words
from ringcraft.planning.context import RingContext, length_model, ring_context
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.routes.building import bend_strain
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Mm, PositiveMm, name_of, request
from ringcraft.sections import Stock
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import (
    Sized,
    Told,
    assemble,
    check_small_round,
    opening_cut,
    share_round,
    size,
    small_round_word,
)
from ringcraft.styles.telling import length_figure, says_of
from ringcraft.units import Length
from ringcraft.work.fields import FieldSpec, Option, PartSpec

WIDEST_TURN = math.radians(120)  # of the round that a top may take; beyond it the shank does not hold it
FLATTEN_STRAIN = 0.3  # of an end hammered flat; our own judgement
SPREAD_STRAIN = 0.2  # of a prong bent aside; our own judgement
LEAST_PRONG_MM = 0.3  # narrower, a prong breaks as it is spread; our own judgement
SMALL_FIRST_SIZES = 2  # US sizes smaller that it is bent first; common practice, no published source
ENDS = {"plain": "plain ends", "split": "ends split in thirds"}
EndsKey = name_of("kind of end", ENDS)


@request
class ShankRequest(RingRequest):
    """The order of a shank. ``gap_mm`` is left open along the neutral line (0: closed); or ``top_width_mm`` gives it.

    ``split_mm`` is how far each end is sawn into thirds, where ``ends`` is split. ``small_round``: soldered into a
    small round first, trued and shaped, then sawn open at its joint.
    """

    style: Literal["shank"] = "shank"
    gap_mm: Mm | None = None
    top_width_mm: PositiveMm | None = None
    ends: EndsKey = "plain"
    split_mm: PositiveMm = 8.0
    small_round: bool = False


@dataclass(frozen=True)
class Opening:
    """The opening of a shank [mm]: along its neutral line, and across between the edges of its ends."""

    gap_mm: float
    inside_mm: float
    outside_mm: float


@dataclass(frozen=True, kw_only=True)
class ShankFields(OwnFields):
    """What a shank answers beside every plan."""

    shank: Opening


@dataclass(frozen=True, kw_only=True)
class ShankPlan(ShankFields, RingPlan):
    """The plan of a shank."""

    style: Literal["shank"]


@dataclass(frozen=True)
class ShankFacts(StyleFacts):
    """What the route of a shank says beside every ring's."""

    gap: Length
    opening: Length
    first: str
    near: str
    first_line: Length
    second_line: Length
    prong: Length
    split: Length
    closed: bool
    open: bool
    is_split: bool
    flatten_ends: bool
    flatten_strain: float
    spread_strain: float
    beyond_mm: float
    slots_mm3: float
    small_round: bool
    straight_on: bool
    small: Length
    open_strain: float
    open_kerf: float
    bend_strain: float | None = None


def plan_shank(order: ShankRequest) -> ShankPlan:
    """Plan a shank; raises CraftError naming the field."""
    gap = order.gap_mm or 0.0
    closed = gap == 0 and order.top_width_mm is None
    small = _small(order, closed)
    context = ring_context(order, STYLE.leave, joined=closed or small)
    opening = _opening(order, context)
    why = "left open for the top, along the neutral line"
    if order.top_width_mm is not None:
        top, gives = f"{context.length(order.top_width_mm):g}", f"{context.length(opening.gap_mm):.2f}"
        why = f"a top {top} wide between the inner edges: {gives} of the neutral line"
    taken = [] if closed else [Term("gap", "gap for the top", -opening.gap_mm, why)]
    more = [opening_cut(context)] if small else []
    share = share_round(context, opening.gap_mm)
    sized = size(context, length_model(context), taken, share=share, joint_more=more)
    inner, outer = context.target.inside_mm / 2, context.target.inside_mm / 2 + context.section.thickness_mm
    half = opening.gap_mm / 2 / (inner + context.section.neutral_mm)
    stands = f"{context.length(opening.inside_mm):.2f}"
    opened = f"Mark and cut, square both ends. Bent to {sized.closing.text} it stands open by {stands} inside."
    wide = context.section.width_mm * (2 / 3 if order.ends == "split" else 1)
    return assemble(
        STYLE,
        sized,
        [_blank(order, sized, opening)],
        Told(
            title=f"{context.section.title} shank",
            ring=drawing(
                [rings.band(inner, outer) if closed else rings.opened(inner, outer, half)],
                [rings.joint(inner, outer)] if closed else [],
            ),
            figures=() if closed else _figures(context, opening),
            says=(says_of(context, sized.closing.text) if closed else opened,),
            facts=_facts(order, sized, opening, closed),
            sizing=None if closed else "left",
            plus_mm=-opening.gap_mm,
        ),
        ShankFields(shank=opening),
        joints=_seams(context, wide, closed, small),
    )


def _small(order: ShankRequest, closed: bool) -> bool:
    """Whether it is soldered into a small round first; raises UnreadableError where it is a round anyway."""
    if order.small_round and closed:
        raise UnreadableError("small_round", "A closed shank is its own round.", "Leave it open, or leave this out.")
    if order.small_round and order.ends == "split":
        raise UnreadableError("small_round", "Ends that are split do not close to a joint.", "Plain ends.")
    return order.small_round


def _seams(context: RingContext, wide: float, closed: bool, small: bool) -> list[Seam]:
    """Its own joint, or the ends to the top; a small round has a joint that is sawn out again."""
    section = context.section
    own = Seam("joint", "the joint", section.width_mm, area_mm2=section.area_mm2)
    ends = Seam("ends", "the ends to the top", wide, area_mm2=2 * section.area_mm2, lines=2)
    return [own] if closed else [replace(own, title="the joint of the small round"), ends] if small else [ends]


def _blank(order: ShankRequest, sized: Sized, opening: Opening) -> Blank:
    """The strip, its end marked by the gap it leaves; with ends to split, the lines to saw along."""
    context, cut = sized.context, sized.cut_mm
    split = order.ends == "split"
    if split and opening.gap_mm == 0:
        raise UnreadableError("ends", "A closed shank has no ends to split.", "Leave it open, or its ends plain.")
    prong = thirds(context.section.width_mm, BLADES[context.used.join.blade])[0]
    if split and prong < LEAST_PRONG_MM:
        raise OutOfRangeError(
            "ends", "Prongs of {prong:.2f} hold nothing.", "Stock at least {wide:.1f mm} wide.", prong=prong,
            wide=3 * LEAST_PRONG_MM + 2 * BLADES[context.used.join.blade],
        )  # fmt: skip
    if split and order.split_mm > cut / 3:
        raise OutOfRangeError(
            "split_mm", "The prongs would meet at the back.", "At most {most:.1f mm}.", most=cut / 3
        )
    marks = [] if order.top_width_mm is not None else [_gap_mark(context, opening, cut)]
    return sized.draw(BlankSpec(marks=marks, lines=_thirds(order, context, cut) if split else ()))


def _facts(order: ShankRequest, sized: Sized, opening: Opening, closed: bool) -> ShankFacts:
    context = sized.context
    told, units = context.target.told, context.used.units
    inside, wide, step = sized.closing.inside_diameter_mm, context.section.width_mm, SCALES["us"].step_mm
    split, kerf = order.ends == "split", BLADES[context.used.join.blade]
    prong, lines = thirds(wide, kerf)
    small = small_mm(sized)
    if order.small_round:
        check_small_round(context.section, small)
    return ShankFacts(
        gap=Length(opening.gap_mm, units, ".2f"),
        opening=Length(opening.inside_mm, units, ".2f"),
        first=told(inside - SMALL_FIRST_SIZES * step),
        near=told(inside - step / 2),
        first_line=Length(lines[0], units, ".2f"),
        second_line=Length(lines[1], units, ".2f"),
        prong=Length(prong, units, ".2f"),
        split=context.length(order.split_mm),
        closed=closed,
        open=not closed,
        is_split=split,
        flatten_ends=split and not context.section.flat,
        flatten_strain=FLATTEN_STRAIN,
        spread_strain=SPREAD_STRAIN,
        beyond_mm=-opening.gap_mm,
        small_round=order.small_round,
        straight_on=not closed and not order.small_round,
        small=Length(small, units, ".2f"),
        open_strain=context.section.thickness_mm * abs(1 / small - 1 / inside),
        bend_strain=bend_strain(context.section, small) if order.small_round else None,
        open_kerf=kerf,
        slots_mm3=4 * kerf * order.split_mm * context.section.area_mm2 / wide if split else 0.0,
    )


def small_mm(sized: Sized) -> float:
    """The inside diameter [mm] of the small round that a shank is soldered into first: of all its length, sawn."""
    kerf = BLADES[sized.context.used.join.blade]
    return (sized.closed_mm + kerf) / math.pi - 2 * sized.context.section.neutral_mm


def _opening(order: ShankRequest, context: RingContext) -> Opening:
    inner = context.target.inside_mm / 2
    neutral, outer = inner + context.section.neutral_mm, inner + context.section.thickness_mm
    if order.top_width_mm is not None:
        if order.gap_mm:
            raise UnreadableError("gap_mm", "Give the gap or the width of the top, not both.", "")
        most = 2 * inner * math.sin(WIDEST_TURN / 2)
        if order.top_width_mm > most:
            said, hint = (
                "A top {top:g} wide takes too much of this round.",
                "At most {most:.1f mm}, a third of the way round.",
            )
            raise OutOfRangeError("top_width_mm", said, hint, top=order.top_width_mm, most=most)
        turn = 2 * math.asin(order.top_width_mm / (2 * inner))
    else:
        turn = (order.gap_mm or 0.0) / neutral
        if turn > WIDEST_TURN:
            raise OutOfRangeError(
                "gap_mm", "That leaves no shank to hold a top.", "At most {most:.1f}.", most=WIDEST_TURN * neutral
            )
    return Opening(turn * neutral, 2 * inner * math.sin(turn / 2), 2 * outer * math.sin(turn / 2))


def _gap_mark(context: RingContext, opening: Opening, cut: float) -> Mark:
    neutral = context.target.inside_mm / 2 + context.section.neutral_mm
    handle = Handle("gap_mm", "gap", opening.gap_mm, -1.0, 0.0, WIDEST_TURN * neutral)
    return Mark("cut", cut, cut_words(context.used, cut), handle)


def thirds(width_mm: float, kerf_mm: float) -> tuple[float, tuple[float, float]]:
    """Three prongs of one width: how wide each stays [mm], and where the blade's middle runs from one edge [mm].

    prong = (w - 2 kerf) / 3, lines at prong + kerf/2 and 2 prong + 3 kerf/2. Source: plane geometry.

    >>> prong, lines = thirds(5.0, 0.25)
    >>> round(prong, 3), [round(y, 3) for y in lines]
    (1.5, [1.625, 3.375])
    """
    prong = (width_mm - 2 * kerf_mm) / 3
    return prong, (prong + kerf_mm / 2, 2 * prong + 1.5 * kerf_mm)


def _thirds(order: ShankRequest, context: RingContext, cut: float) -> list[Line]:
    out = []
    lines = thirds(context.section.width_mm, BLADES[context.used.join.blade])[1]
    for i, y in enumerate(lines, start=1):
        out.append(along(f"split-left-{i}", "saw", y, 0, order.split_mm))
        out.append(along(f"split-right-{i}", "saw", y, cut - order.split_mm, cut))
    return out


def _figures(context: RingContext, opening: Opening) -> tuple[Figure, ...]:
    def figure(key: str, title: str, mm: float, why: str) -> Figure:
        return length_figure(context, key, title, mm, ".2f", why)

    return (
        figure("gap", "gap", opening.gap_mm, "along the neutral line"),
        figure("inside", "opening inside", opening.inside_mm, "between the inner edges"),
        figure("outside", "opening outside", opening.outside_mm, "between the outer edges"),
    )


STYLE = Style(
    key="shank",
    title="shank for a top",
    request=ShankRequest,
    plan=plan_shank,
    answer=ShankPlan,
    leave="large",
    route="shank",
    first=Stock(profile="d", width_mm=3.0, thickness_mm=1.7),
    overrides_from_measures=STOCK_OVERRIDES,
    words=(
        FieldSpec(
            field="",
            label="The opening by the",
            before="open",
            kind="one-of",
            first="gap_mm",
            parts=(
                PartSpec(
                    "gap_mm", "Gap", "by a gap of", "{mm} along the neutral line,", "length", 6.0, short=("gap",)
                ),
                PartSpec(
                    "top_width_mm", "Width of the top", "for a top", "{mm} wide,", "length", 7.0, short=("top",)
                ),
            ),
        ),
        FieldSpec(
            "ends",
            "Ends",
            "with",
            kind="choice",
            first="plain",
            choices=tuple(Option(key, title) for key, title in ENDS.items()),
        ),
        FieldSpec(
            "split_mm", "Length of the split", "sawn", "{mm} long", first=8.0, when="ends=split", short=("split",)
        ),
        small_round_word("bent open"),
    ),
    facts=ShankFacts,
)
