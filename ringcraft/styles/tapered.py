"""The tapered shank: a bar left thick at its ends and thinned in the middle, its length known before rolling."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across
from ringcraft.drawing.shapes import drawing
from ringcraft.errors import ImpossibleSectionError, OutOfRangeError
from ringcraft.planning.blank import Blank, BlankSpec
from ringcraft.planning.context import LengthModel, RingContext, area_power_of, ring_context, slope_of
from ringcraft.planning.finished_size import deviation
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Handle, Mark, Term
from ringcraft.planning.request import RingRequest
from ringcraft.planning.rolling import Rolled, Thinned
from ringcraft.planning.rules import thickness_term
from ringcraft.planning.tolerance import Spread, sampled
from ringcraft.routes.building import stage_facts, start_of
from ringcraft.routes.facts import StyleFacts
from ringcraft.schema import Mm, PositiveMm, request
from ringcraft.sections import PROFILES, Section, Stock, section_of
from ringcraft.styles.base import STOCK_OVERRIDES, Figure, OwnFields, RingPlan, Style
from ringcraft.styles.build import Growth, Sized, Told, assemble, length_figure, says_of, share_round, size, thumb
from ringcraft.units import Length, format_power
from ringcraft.work.fields import FieldSpec

MIDDLE_SHARE = 0.5  # of the bar's thickness, where the middle is not said; our own starting value
THINNED_SHARE = 0.98  # of the bar's area: what is less than 2 % thinner was only filed
SLIP_MM = 0.05
NOTHING = 0.05  # of a middle: thinner than that share no draw goes


@request
class Middle:
    """The middle of a shank as it is to be: width and thickness [mm]."""

    width_mm: PositiveMm
    thickness_mm: PositiveMm


@request
class TaperedRequest(RingRequest):
    """The order of a tapered shank: ``stock`` is the bar, each end stays as it is for ``end_mm``; by default the
    middle is half as thick.

    ``gap_mm`` leaves it open at the top, along the neutral line of the ends.
    """

    style: Literal["tapered"] = "tapered"
    end_mm: PositiveMm = 8.0
    middle: Middle | None = None
    gap_mm: Mm = 0.0


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


@dataclass(frozen=True)
class _Shape:
    """The angles [rad] of a shank's parts round the finger."""

    ends: float
    gap: float
    middle: float

    @property
    def ends_at(self) -> float:
        """How far from the top the thick ends reach, to either side."""
        return (self.gap + self.ends) / 2


def plan_tapered(order: TaperedRequest) -> TaperedPlan:
    """Plan a tapered shank; raises CraftError naming the field."""
    bar = section_of(order.stock)
    middle = section_of(_middle(order, bar), "middle")
    closed = order.gap_mm == 0
    context = ring_context(order, STYLE.leave, bar, joined=closed)
    _check(order, context, bar, middle)
    shape = _shape(order, context.target.inside_mm, bar, middle)
    turn = _turn(order, context, bar, middle, shape.middle / (2 * math.pi))
    sized = _sized(order, context, turn, middle)
    made = _thinned(order, sized)
    around, rolled = sized.formed_mm, _rolled(order, sized, middle)
    inner, wide = context.target.inside_mm / 2, bar.width_mm
    whole = 2 * order.end_mm + (around - 2 * order.end_mm) / turn.cut_per_formed
    both = " × ".join(f"{context.length(round(mm, 2)):g}" for mm in (bar.width_mm, bar.thickness_mm))
    doing, length = "Mark and cut the bar, thin its middle", context.length
    opened = f"{doing}, bend it: open by {length(order.gap_mm):g} at {sized.closing.text}."
    ran, thinner = f"it runs {length(rolled.slip_mm(SLIP_MM)):.2f} longer", f"middle {length(SLIP_MM):g} too thin"
    far = rolled.slip_mm(SLIP_MM) + _turn_of_middle(order, bar, shape) * SLIP_MM
    blank = _bar(order, sized)
    return assemble(
        STYLE,
        sized,
        [blank],
        Told(
            title="tapered shank",
            summary=f"{context.metal.title} bar {both}",
            ring=drawing(
                [rings.two_thick(inner, bar.thickness_mm, middle.thickness_mm, shape.ends_at, shape.gap / 2)],
                [rings.joint(inner, inner + bar.thickness_mm, 0.0)] if closed else [],
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
            start={"bar": replace(start_of(context, [blank])["bar"], neutral_mm=_neutral_mm(sized))},
            sizing=None if closed else "left",
            plus_mm=-order.gap_mm,
        ),
        TaperedFields(thin=made),
        joints=(Seam("joint", "the joint", wide, area_mm2=bar.area_mm2),)
        if closed
        else (Seam("ends", "the ends to the top", wide, area_mm2=2 * bar.area_mm2, lines=2),),
    )


def _thinned(order: TaperedRequest, sized: Sized) -> Thinned:
    """The bar as it is really cut: the joint is taken from its ends, policy and rounding lie in its middle."""
    kept = sized.cut_mm - sized.context.used.join.trim_mm
    return Thinned(kept - 2 * _mark_mm(order, sized), kept, sized.grows_mm)


def _mark_mm(order: TaperedRequest, sized: Sized) -> float:
    """How far from each end [mm] the middle begins: the end that stays, and its half of what the joint takes."""
    return order.end_mm + (sized.eaten_mm - sized.context.used.join.trim_mm) / 2


def _neutral_mm(sized: Sized) -> float:
    """Its neutral line above the inside [mm]: the mean of the ends' and the middle's, round the finger."""
    return sized.turn.adds("centroid")[0] / (2 * math.pi)


def _rolled(order: TaperedRequest, sized: Sized, middle: Section) -> Rolled:
    """The bar while it is thinned: with what saw and file still take of its ends."""
    kept = sized.cut_mm - sized.context.used.join.trim_mm
    ends = 2 * _mark_mm(order, sized)
    power = area_power_of(_middle(order, sized.context.section))
    return Rolled(sized.context.section, middle, ends, kept - ends, power)


def _facts(order: TaperedRequest, sized: Sized, rolled: Rolled, made: Thinned) -> TaperedFacts:
    context = sized.context

    def two(mm: float) -> Length:
        return Length(mm, context.used.units, ".2f")

    closed = order.gap_mm == 0
    takes = sized.eaten_mm - context.used.join.trim_mm
    return TaperedFacts(
        before=two(made.middle_before_mm),
        final=two(rolled.final_mm),
        end=context.length(order.end_mm),
        mark=two(_mark_mm(order, sized)),
        joint_takes=two(takes),
        eaten=takes > 0,
        gap=context.length(order.gap_mm),
        deviation=context.length(SLIP_MM),
        slip_runs=two(rolled.slip_mm(SLIP_MM)),
        beyond_mm=-order.gap_mm,
        neutral_mm=_neutral_mm(sized),
        closed=closed,
        open=not closed,
    )


def _sized(order: TaperedRequest, context: RingContext, turn: LengthModel, middle: Section) -> Sized:
    """The length of the bar: once round, less the gap, less what thinning gives back."""
    bar, units = context.section, context.used.units
    areas = format_power(bar.area_mm2, 2, units, ".1f"), format_power(middle.area_mm2, 2, units, ".1f")
    if units == "mm":
        areas = f"{bar.area_mm2:.1f}", areas[1]
    why = f"the middle thinned from {areas[0]} to {areas[1]}: rolling gives it back"
    more = []
    if order.gap_mm:
        more.append(Term("gap", "gap for the top", -order.gap_mm, "left open, along the ends' neutral line"))
    grows = Growth("growth", "thinning gives back", why, 2 * order.end_mm)
    spread = _spread(order, context, bar, middle)
    return size(
        context, turn, more, grows=grows, spread=spread, as_small_as_stretched=True,
        share=share_round(context, order.gap_mm),
    )  # fmt: skip


def _bar(order: TaperedRequest, sized: Sized) -> Blank:
    """The bar, with the middle to thin scribed on it."""
    context = sized.context
    left = _mark_mm(order, sized)
    right = sized.cut_mm - context.used.join.trim_mm - left
    handle = Handle("end_mm", "length of each end", order.end_mm, 1.0, 0.5, sized.formed_mm / 3)
    marks = [
        Mark("end-left", left, f"thin from {context.length(left):.2f}", handle),
        Mark("end-right", right, f"to {context.length(right):.2f}"),
    ]
    lines = [across(mark.key, "scribe", mark.x_mm, context.section.width_mm) for mark in marks]
    return sized.draw(BlankSpec(name="bar", title="bar", marks=marks, lines=lines))


def _figures(order: TaperedRequest, context: RingContext, made: Thinned, final: float) -> tuple[Figure, ...]:
    between = f"between two ends of {context.length(order.end_mm):g}"
    return (
        length_figure(context, "before", "thin this much", made.middle_before_mm, ".2f", between),
        length_figure(context, "final", "to run out to", final, ".2f", "the whole shank, before its joint"),
        length_figure(context, "growth", "it grows by", made.growth_mm, ".2f", "area times length stays"),
    )


def _middle(order: TaperedRequest, bar: Section) -> Stock:
    """The middle as stock: the bar's own profile, no longer as wide as it is thick; by default half as thick."""
    wide = order.middle.width_mm if order.middle else bar.width_mm
    thick = order.middle.thickness_mm if order.middle else bar.thickness_mm * MIDDLE_SHARE
    profile = PROFILES[order.stock.profile].worked or order.stock.profile
    side = order.stock.side_mm
    return Stock(profile=profile, width_mm=wide, thickness_mm=thick,
                 side_mm=None if side is None else side * thick / bar.thickness_mm)  # fmt: skip


def _shape(order: TaperedRequest, inside_mm: float, bar: Section, middle: Section) -> _Shape:
    neutral = inside_mm / 2 + bar.neutral_mm
    ends, gap = 2 * order.end_mm / neutral, order.gap_mm / neutral
    return _Shape(ends, gap, 2 * math.pi - ends - gap)


def _check(order: TaperedRequest, context: RingContext, bar: Section, middle: Section) -> None:
    neutral = context.target.inside_mm / 2 + bar.neutral_mm
    if middle.thickness_mm > bar.thickness_mm or middle.area_mm2 > THINNED_SHARE * bar.area_mm2:
        areas = [format_power(one.area_mm2, 2, context.used.units, ".1f") for one in (bar, middle)]
        said = f"A bar of {areas[0]} cannot be thinned to a middle of {areas[1]}."
        raise ImpossibleSectionError("middle.thickness_mm", said, "Thinner than {t:g}.", t=bar.thickness_mm)
    if order.gap_mm > 2 * neutral:
        raise OutOfRangeError(
            "gap_mm", "That leaves no shank to hold a top.", "At most {most:.1f mm}.", most=2 * neutral
        )
    most = (2 * math.pi * neutral - order.gap_mm) / 3
    if order.end_mm > most:
        raise OutOfRangeError("end_mm", "The ends leave no middle to thin.", "At most {most:.1f mm} each.", most=most)


def _turn(order: TaperedRequest, context: RingContext, bar: Section, middle: Section, share: float) -> LengthModel:
    """Once round on two thicknesses: each adds by its rule for its own share of the round."""

    def adds(rule: str) -> tuple[float, str]:
        own = context.order.own_correction_mm
        thick, thin = (thickness_term(rule, one, own, context.length)[0] for one in (bar, middle))
        mm = thick * (1 - share) + thin * share
        low, high = (f"{context.length(one.thickness_mm):g}" for one in (middle, bar))
        return mm, f"{100 * share:.0f} % of the round {low} thick, the rest {high}"

    ratio = middle.area_mm2 / bar.area_mm2
    long = share * (math.pi * context.target.inside_mm + 2 * math.pi * bar.neutral_mm)
    reads = 2 * math.pi * (1 - share) * slope_of(order.stock) - long * area_power_of(order.stock) / bar.thickness_mm
    return LengthModel(adds, reads, cut_per_formed=ratio, kerf_gain=1.0)


def _turn_of_middle(order: TaperedRequest, bar: Section, shape: _Shape) -> float:
    """How much circumference [-] a mm of the middle's thickness is, beside what it runs out to."""
    return 2 * math.pi * slope_of(_middle(order, bar)) * shape.middle / (2 * math.pi)


def _spread(order: TaperedRequest, context: RingContext, bar: Section, middle: Section) -> Spread:
    """By drawing: the length follows the area of the middle as one over it, not in a straight line.

    What the bar is cut wrong lies in its middle, which is scribed from both ends: it runs out with it.
    """
    scatter, saws = context.used.scatter, context.used.join.saw_passes
    shape = _shape(order, context.target.inside_mm, bar, middle)
    share = shape.middle / (2 * math.pi)
    long = shape.middle * (context.target.inside_mm / 2 + bar.neutral_mm)
    of_bar, of_thick = area_power_of(order.stock), area_power_of(_middle(order, bar))
    of_wide, plain = 2 - of_thick, abs(of_thick - 1) < 1e-9  # twice as large both ways is four times the area
    low, high = _turn_of_middle(order, bar, shape), 2 * math.pi * (1 - share) * slope_of(order.stock)
    thick, wide, bar_thick = middle.thickness_mm, middle.width_mm, bar.thickness_mm
    runs_out = bar.area_mm2 / middle.area_mm2

    def circumference(t: float, w: float, bar_t: float, cut: float, saw: float) -> float:
        now, broad, begun = 1 + t / thick, 1 + w / wide, 1 + bar_t / bar_thick
        if now < NOTHING or broad < NOTHING:  # a scatter as large as the bar: something is left of it all the same
            now, broad = max(now, NOTHING), max(broad, NOTHING)
        if plain:  # thickness times width: no powers to work out two thousand times
            run = long * begun**of_bar / (now * broad)
        else:
            run = long * begun**of_bar / (now**of_thick * broad**of_wide)
        return run + cut * runs_out + saw - low * t - high * bar_t  # type: ignore[no-any-return]

    sds = (scatter.thickness_mm, scatter.thickness_mm, scatter.thickness_mm, scatter.cutting_mm,
           scatter.saw_pass_mm * math.sqrt(saws))  # fmt: skip
    runs: Callable[..., float] = circumference
    return sampled(scatter, runs, sds, truing=True, length=context.length)


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
            "middle.thickness_mm",
            "Thickness of the middle",
            "its middle thinned to",
            "{mm}",
            first=1.9,
            short=("middle",),
        ),
        FieldSpec("middle.width_mm", "Width of the middle", "by", "{mm} wide,", first=3.6, short=("wide",)),
        FieldSpec("end_mm", "Length of each end", "between ends of", "{mm},", first=7.5, short=("ends",)),
        FieldSpec("gap_mm", "Gap", "open by", "{mm}", first=0.0, short=("gap",)),
    ),
    facts=TaperedFacts,
)
