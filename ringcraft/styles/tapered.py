"""The tapered shank: a bar left thick at its ends and thinned in the middle, its length known before rolling."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across
from ringcraft.drawing.shapes import drawing
from ringcraft.metals import BLADES
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import LengthModel, RingContext, area_power_of, ring_context
from ringcraft.planning.finished_size import deviation
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.rolling import Rolled, Thinned
from ringcraft.routes.building import bend_strain, stage_facts, start_of
from ringcraft.routes.facts import StyleFacts
from ringcraft.sections import Section, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import (
    Growth,
    Sized,
    Told,
    assemble,
    check_small_round,
    opening_cut,
    share_round,
    size,
    small_round_word,
)
from ringcraft.styles.taper_shape import (
    FORMS,
    TaperedRequest,
    check,
    check_small,
    middle_stock,
    shape_of,
    taper_spread,
    turn_of,
    turn_of_thin,
)
from ringcraft.styles.telling import length_figure, says_of, thumb
from ringcraft.units import Length, format_power
from ringcraft.vbench.pieces import Piece
from ringcraft.work.fields import FieldSpec, Option

SLIP_MM = 0.05


@dataclass(frozen=True, kw_only=True)
class TaperedFields(OwnFields):
    """What a tapered shank answers beside every plan."""

    thin: Thinned


@dataclass(frozen=True, kw_only=True)
class TaperedPlan(TaperedFields, RingPlan):
    """The plan of a tapered shank."""

    style: Literal["tapered"]


@dataclass(frozen=True)
class TaperedFacts(StyleFacts):
    """What the route of a tapered shank says beside every ring's."""

    before: Length
    final: Length
    end: Length
    mark: Length
    joint_takes: Length
    eaten: bool
    gap: Length
    deviation: Length
    slip_runs: Length
    beyond_mm: float
    neutral_mm: float
    closed: bool
    open: bool
    thin_middle: bool
    thick_middle: bool
    each_end: Length
    joint_thick: float
    joint_wide: float
    small_round: bool
    straight_on: bool
    in_strip: bool
    thin_flat: bool
    small: Length
    open_strain: float
    open_kerf: float
    bend_strain: float | None = None


def plan_tapered(order: TaperedRequest) -> TaperedPlan:
    """Plan a tapered shank; raises CraftError naming the field."""
    bar = section_of(order.stock)
    middle = section_of(middle_stock(order, bar), order.thinned_field)
    closed = order.gap_mm == 0
    check_small(order, closed)
    context = ring_context(order, STYLE.leave, bar, joined=closed or order.small_round)
    check(order, context, bar, middle)
    shape = shape_of(order, context.target.inside_mm, bar, middle)
    turn = turn_of(order, context, bar, middle, shape.thin_share)
    sized = _sized(order, context, turn, middle)
    made = _thinned(order, sized)
    around, rolled = sized.formed_mm, _rolled(order, sized, middle)
    inner = context.target.inside_mm / 2
    whole = order.stays_mm + (around - order.stays_mm) / turn.cut_per_formed
    both = " × ".join(f"{context.length(round(mm, 2)):g}" for mm in (bar.width_mm, bar.thickness_mm))
    doing, length = f"Mark and cut the bar, thin its {order.thinned_field}", context.length
    opened = f"{doing}, bend it: open by {length(order.gap_mm):g} at {sized.closing.text}."
    ran, thinner = (
        f"it runs {length(rolled.slip_mm(SLIP_MM)):.2f} longer",
        f"{order.thinned_field} {length(SLIP_MM):g} too thin",
    )
    far = rolled.slip_mm(SLIP_MM) + turn_of_thin(order, bar, shape) * SLIP_MM
    blank = _bar(order, sized)
    at_ends, inside = (middle, bar) if order.thick_middle else (bar, middle)
    return assemble(
        STYLE,
        sized,
        [blank],
        Told(
            title="tapered shank",
            summary=f"{context.metal.title} bar {both}",
            ring=drawing(
                [rings.two_thick(inner, at_ends.thickness_mm, inside.thickness_mm, shape.ends_at, shape.gap / 2)],
                [rings.joint(inner, inner + at_ends.thickness_mm, 0.0)] if closed else [],
            ),
            figures=_figures(order, context, made, rolled.final_mm),
            thumbs=(
                thumb(
                    context,
                    "the bar cut to the finished length",
                    around,
                    made.bar_length_mm,
                    f": it would run out to {length(whole):.0f}",
                ),
            ),
            deviations=(deviation(context, sized.closing, "thin", thinner, far, ran),),
            says=(says_of(context, sized.closing.text, doing) if closed else opened,),
            facts=_facts(order, sized, rolled, made),
            stages=stage_facts(rolled.stages(context.metal.of_family.strain_limit), context.used.units),
            start=_start(order, sized, blank),
            sizing=None if closed else "left",
            plus_mm=-order.gap_mm,
        ),
        TaperedFields(thin=made),
        joints=_seams(order, at_ends),
    )


def _seams(order: TaperedRequest, at_ends: Section) -> list[Seam]:
    """Its own joint, or its ends to the top; a small round has a joint that is sawn out again."""
    own = Seam("joint", "the joint", at_ends.width_mm, area_mm2=at_ends.area_mm2)
    ends = Seam("ends", "the ends to the top", at_ends.width_mm, area_mm2=2 * at_ends.area_mm2, lines=2)
    if order.gap_mm == 0:
        return [own]
    return [replace(own, title="the joint of the small round"), ends] if order.small_round else [ends]


def _thinned(order: TaperedRequest, sized: Sized) -> Thinned:
    """The bar as it is really cut: the joint is taken from its ends, policy and rounding lie in its middle."""
    kept = sized.cut_mm - sized.context.used.join.trim_mm
    return Thinned(kept - _stays_mm(order, sized), kept, sized.grows_mm)


def _stays_mm(order: TaperedRequest, sized: Sized) -> float:
    """How much of the bar is not thinned [mm]: what stays, and of thick ends what the joint takes."""
    return order.middle_mm if order.thick_middle else 2 * _mark_mm(order, sized)


def _small_mm(sized: Sized) -> float:
    """The inside diameter [mm] of the round that the bar makes before it is thinned, its joint sawn through."""
    join = sized.context.used.join
    kept = sized.cut_mm - join.trim_mm - join.saw_passes * BLADES[join.blade]
    return kept / math.pi - 2 * sized.context.section.neutral_mm


def _mark_mm(order: TaperedRequest, sized: Sized) -> float:
    """How far from each end [mm] the middle begins: the end that stays, and its half of what the joint takes.

    Where the middle stays, what is left at either side of it.
    """
    if order.thick_middle:
        return (sized.cut_mm - sized.context.used.join.trim_mm - order.middle_mm) / 2
    return order.end_mm + (sized.eaten_mm - sized.context.used.join.trim_mm) / 2


def _start(order: TaperedRequest, sized: Sized, blank: Blank) -> dict[str, Piece]:
    """The bar as it comes: its neutral line that of the finished shank, or its own where it goes round as a bar."""
    bar = start_of(sized.context, [blank])["bar"]
    return {"bar": bar if order.small_round else replace(bar, neutral_mm=_neutral_mm(sized))}


def _neutral_mm(sized: Sized) -> float:
    """Its neutral line above the inside [mm]: the mean of the ends' and the middle's, round the finger."""
    return sized.turn.adds("centroid")[0] / (2 * math.pi)


def _rolled(order: TaperedRequest, sized: Sized, middle: Section) -> Rolled:
    """The bar while it is thinned: with what saw and file still take of its ends."""
    kept = sized.cut_mm - sized.context.used.join.trim_mm
    ends = _stays_mm(order, sized)
    power = area_power_of(middle_stock(order, sized.context.section))
    return Rolled(sized.context.section, middle, ends, kept - ends, power)


def _facts(order: TaperedRequest, sized: Sized, rolled: Rolled, made: Thinned) -> TaperedFacts:
    context = sized.context

    def two(mm: float) -> Length:
        return Length(mm, context.used.units, ".2f")

    at_ends = rolled.middle if order.thick_middle else rolled.bar
    small = _small_mm(sized)
    if order.small_round:
        check_small_round(context.section, small)
    closed = order.gap_mm == 0
    takes = sized.eaten_mm - context.used.join.trim_mm
    return TaperedFacts(
        before=two(made.middle_before_mm),
        final=two(rolled.final_mm),
        end=context.length(order.middle_mm if order.thick_middle else order.end_mm),
        mark=two(_mark_mm(order, sized)),
        joint_takes=two(takes),
        eaten=takes > 0 and not order.thick_middle,
        gap=context.length(order.gap_mm),
        deviation=context.length(SLIP_MM),
        slip_runs=two(rolled.slip_mm(SLIP_MM)),
        beyond_mm=-order.gap_mm,
        neutral_mm=_neutral_mm(sized),
        closed=closed,
        open=not closed,
        thin_middle=not order.thick_middle,
        thick_middle=order.thick_middle,
        each_end=two(made.middle_before_mm / 2),
        joint_thick=at_ends.thickness_mm,
        joint_wide=at_ends.width_mm,
        small_round=order.small_round,
        straight_on=not closed and not order.small_round,
        in_strip=not order.small_round,
        thin_flat=not order.small_round and not order.thick_middle,
        small=two(small),
        open_strain=sized.context.section.thickness_mm * abs(1 / small - 1 / sized.closing.inside_diameter_mm),
        open_kerf=BLADES[context.used.join.blade],
        bend_strain=bend_strain(context.section, small) if order.small_round else None,
    )


def _sized(order: TaperedRequest, context: RingContext, turn: LengthModel, middle: Section) -> Sized:
    """The length of the bar: once round, less the gap, less what thinning gives back."""
    bar, units = context.section, context.used.units
    areas = format_power(bar.area_mm2, 2, units, ".1f"), format_power(middle.area_mm2, 2, units, ".1f")
    if units == "mm":
        areas = f"{bar.area_mm2:.1f}", areas[1]
    what = "the ends are" if order.thick_middle else "the middle is"
    why = f"{what} thinned from {areas[0]} to {areas[1]}: rolling gives it back"
    more = []
    if order.gap_mm:
        more.append(Term("gap", "gap for the top", -order.gap_mm, "left open, along the ends' neutral line"))
    grows = Growth("growth", "thinning gives back", why, order.stays_mm, order.thick_middle)
    spread = taper_spread(order, context, bar, middle)
    return size(
        context, turn, more, grows=grows, spread=spread, as_small_as_stretched=True,
        joint_more=[opening_cut(context)] if order.small_round else [],
        share=share_round(context, order.gap_mm),
    )  # fmt: skip


def _bar(order: TaperedRequest, sized: Sized) -> Blank:
    """The bar, with the middle to thin scribed on it."""
    context = sized.context
    left = _mark_mm(order, sized)
    right = sized.cut_mm - context.used.join.trim_mm - left
    handle = Handle("end_mm", "length of each end", order.end_mm, 1.0, 0.5, sized.formed_mm / 3)
    if order.thick_middle:
        most = sized.formed_mm * 2 / 3
        handle = Handle("middle_mm", "length of the middle", order.middle_mm, -2.0, 1.0, most)
    said = ("thin to", "and from") if order.thick_middle else ("thin from", "to")
    marks = [
        Mark("end-left", left, f"{said[0]} {context.length(left):.2f}", handle),
        Mark("end-right", right, f"{said[1]} {context.length(right):.2f}"),
    ]
    lines = [across(mark.key, "scribe", mark.x_mm, context.section.width_mm) for mark in marks]
    return sized.draw(BlankSpec(name="bar", title="bar", marks=marks, lines=lines))


def _figures(order: TaperedRequest, context: RingContext, made: Thinned, final: float) -> tuple[Figure, ...]:
    between = f"between two ends of {context.length(order.end_mm):g}"
    if order.thick_middle:
        between = f"half at either end, {context.length(order.middle_mm):g} in the middle stay"
    return (
        length_figure(context, "before", "thin this much", made.middle_before_mm, ".2f", between),
        length_figure(context, "final", "to run out to", final, ".2f", "the whole shank, before its joint"),
        length_figure(context, "growth", "it grows by", made.growth_mm, ".2f", "area times length stays"),
    )


STYLE = Style(
    key="tapered",
    title="tapered shank",
    request=TaperedRequest,
    plan=plan_tapered,
    answer=TaperedPlan,
    leave="large",
    route="tapered",
    first=Stock(profile="square", thickness_mm=3.6),
    stock_says="a bar",
    overrides_from_measures=STOCK_OVERRIDES,
    aliases=("taper", "milled"),
    words=(
        FieldSpec(
            "form",
            "Form",
            "thinned in",
            ",",
            "choice",
            "thin-middle",
            choices=tuple(Option(key, title) for key, title in FORMS.items()),
        ),
        FieldSpec(
            "middle.thickness_mm",
            "Thickness of the middle",
            "its middle thinned to",
            "{mm}",
            first=1.9,
            short=("middle",),
            when="form=thin-middle",
        ),
        FieldSpec(
            "middle.width_mm",
            "Width of the middle",
            "by",
            "{mm} wide,",
            first=3.6,
            short=("wide",),
            when="form=thin-middle",
        ),
        FieldSpec(
            "end_mm",
            "Length of each end",
            "between ends of",
            "{mm},",
            first=7.5,
            short=("ends",),
            when="form=thin-middle",
        ),
        FieldSpec(
            "ends.thickness_mm",
            "Thickness of the ends",
            "its ends thinned to",
            "{mm}",
            first=1.9,
            when="form=thick-middle",
        ),
        FieldSpec("ends.width_mm", "Width of the ends", "by", "{mm} wide,", first=3.6, when="form=thick-middle"),
        FieldSpec(
            "middle_mm",
            "Length of the middle",
            "a middle of",
            "{mm} as the bar is,",
            first=14.0,
            when="form=thick-middle",
        ),
        FieldSpec("gap_mm", "Gap", "open by", "{mm}", first=0.0, short=("gap",)),
        small_round_word("thinned flat", when="form=thin-middle"),
    ),
    facts=TaperedFacts,
)
