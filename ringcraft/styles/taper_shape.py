"""What a tapered shank is asked for, and its shape: how its two thicknesses go once round."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from ringcraft.errors import ImpossibleSectionError, OutOfRangeError, UnreadableError
from ringcraft.planning.context import LengthModel, RingContext, area_power_of, slope_of
from ringcraft.planning.request import RingRequest
from ringcraft.planning.rules import thickness_term
from ringcraft.planning.tolerance import Spread, sampled
from ringcraft.schema import Mm, PositiveMm, name_of, request
from ringcraft.sections import PROFILES, Section, Stock
from ringcraft.units import format_power

MIDDLE_SHARE = 0.5  # of the bar's thickness, where the middle is not said; our own starting value


FORMS = {"thin-middle": "its middle", "thick-middle": "its ends"}


FormKey = name_of("form", {"thin-middle": "", "thick-middle": ""})


THINNED_SHARE = 0.98  # of the bar's area: what is less than 2 % thinner was only filed


NOTHING = 0.05  # of a middle: thinner than that share no draw goes


@request
class Middle:
    """The middle of a shank as it is to be: width and thickness [mm]."""

    width_mm: PositiveMm
    thickness_mm: PositiveMm


@request
class TaperedRequest(RingRequest):
    """The order of a tapered shank: ``stock`` is the bar, each end stays as it is for ``end_mm``; by default the
    middle is half as thick. ``thick-middle``: the bar stays in the middle for ``middle_mm``, and the ends are thinned
    to ``ends``.

    ``gap_mm`` leaves it open at the top, along the neutral line of the ends. ``small_round``: an open one is soldered
    into a small round of its bar first, thinned and shaped in the round, then sawn open at its joint.
    """

    style: Literal["tapered"] = "tapered"
    end_mm: PositiveMm = 8.0
    middle: Middle | None = None
    gap_mm: Mm = 0.0
    form: FormKey = "thin-middle"
    ends: Middle | None = None
    middle_mm: PositiveMm = 12.0
    small_round: bool = False

    @property
    def thick_middle(self) -> bool:
        """Whether it is the middle that stays as the bar is."""
        return self.form == "thick-middle"

    @property
    def thinned_field(self) -> str:
        """The field of what is thinned."""
        return "ends" if self.thick_middle else "middle"

    @property
    def stays_mm(self) -> float:
        """How much of it stays as the bar is [mm]."""
        return self.middle_mm if self.thick_middle else 2 * self.end_mm


@dataclass(frozen=True)
class Shape:
    """The angles [rad] of a shank's parts round the finger: as thick as the bar, open, and thinned."""

    thick: float
    gap: float
    thin: float
    thick_middle: bool

    @property
    def thin_share(self) -> float:
        """How much of the round is as thin as what is thinned [-], the gap as its ends are."""
        return (self.thin + (self.gap if self.thick_middle else 0.0)) / (2 * math.pi)

    @property
    def ends_at(self) -> float:
        """How far from the top the ends reach, to either side."""
        return (self.gap + (self.thin if self.thick_middle else self.thick)) / 2


def check_small(order: TaperedRequest, closed: bool) -> None:
    """Refuse a small round where there is none; raises UnreadableError."""
    if order.small_round and closed:
        raise UnreadableError("small_round", "Closed it is its own round.", "Leave it open, or leave this out.")
    if order.small_round and order.thick_middle:
        raise UnreadableError(
            "small_round",
            "Ends that are thinned meet only once they are thin.",
            "The middle thinned, or no small round.",
        )


def middle_stock(order: TaperedRequest, bar: Section) -> Stock:
    """The middle as stock: the bar's own profile, no longer as wide as it is thick; by default half as thick."""
    said = order.ends if order.thick_middle else order.middle
    wide = said.width_mm if said else bar.width_mm
    thick = said.thickness_mm if said else bar.thickness_mm * MIDDLE_SHARE
    profile = PROFILES[order.stock.profile].worked or order.stock.profile
    side = order.stock.side_mm
    return Stock(profile=profile, width_mm=wide, thickness_mm=thick,
                 side_mm=None if side is None else side * thick / bar.thickness_mm)  # fmt: skip


def shape_of(order: TaperedRequest, inside_mm: float, bar: Section, middle: Section) -> Shape:
    """How a shank's parts go round an inside [mm]."""
    neutral = inside_mm / 2 + bar.neutral_mm
    at_ends = inside_mm / 2 + (middle.neutral_mm if order.thick_middle else bar.neutral_mm)
    thick, gap = order.stays_mm / neutral, order.gap_mm / at_ends
    return Shape(thick, gap, 2 * math.pi - thick - gap, order.thick_middle)


def check(order: TaperedRequest, context: RingContext, bar: Section, middle: Section) -> None:
    """Refuse a shape that no bar is thinned to; raises CraftError at its field."""
    neutral = context.target.inside_mm / 2 + bar.neutral_mm
    if middle.thickness_mm > bar.thickness_mm or middle.area_mm2 > THINNED_SHARE * bar.area_mm2:
        areas = [format_power(one.area_mm2, 2, context.used.units, ".1f") for one in (bar, middle)]
        what = "ends" if order.thick_middle else "a middle"
        said = f"A bar of {areas[0]} cannot be thinned to {what} of {areas[1]}."
        raise ImpossibleSectionError(
            f"{order.thinned_field}.thickness_mm", said, "Thinner than {t:g}.", t=bar.thickness_mm
        )
    if order.gap_mm > 2 * neutral:
        raise OutOfRangeError(
            "gap_mm", "That leaves no shank to hold a top.", "At most {most:.1f mm}.", most=2 * neutral
        )
    most = (2 * math.pi * neutral - order.gap_mm) / 3
    if order.thick_middle and order.middle_mm > 2 * most:
        raise OutOfRangeError(
            "middle_mm", "The middle leaves no ends to thin.", "At most {most:.1f mm}.", most=2 * most
        )
    if not order.thick_middle and order.end_mm > most:
        raise OutOfRangeError("end_mm", "The ends leave no middle to thin.", "At most {most:.1f mm} each.", most=most)


def turn_of(order: TaperedRequest, context: RingContext, bar: Section, middle: Section, share: float) -> LengthModel:
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


def turn_of_thin(order: TaperedRequest, bar: Section, shape: Shape) -> float:
    """How much circumference [-] a mm of the middle's thickness is, beside what it runs out to."""
    return 2 * math.pi * slope_of(middle_stock(order, bar)) * shape.thin / (2 * math.pi)


def taper_spread(order: TaperedRequest, context: RingContext, bar: Section, middle: Section) -> Spread:
    """By drawing: the length follows the area of the middle as one over it, not in a straight line.

    What the bar is cut wrong lies in its middle, which is scribed from both ends: it runs out with it.
    """
    scatter, saws = context.used.scatter, context.used.join.saw_passes
    shape = shape_of(order, context.target.inside_mm, bar, middle)
    share = shape.thin_share
    long = shape.thin * (context.target.inside_mm / 2 + bar.neutral_mm)
    of_bar, of_thick = area_power_of(order.stock), area_power_of(middle_stock(order, bar))
    of_wide, plain = 2 - of_thick, abs(of_thick - 1) < 1e-9  # twice as large both ways is four times the area
    low, high = turn_of_thin(order, bar, shape), 2 * math.pi * (1 - share) * slope_of(order.stock)
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
