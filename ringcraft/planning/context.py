"""What every style begins from: the order with its defaults, the finger, the stock and the metal."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from ringcraft.errors import CraftError, ImpossibleSectionError
from ringcraft.measure.sizes import SCALES, read_size
from ringcraft.metals import ALL_METALS, BLADES, Metal, SolderBook
from ringcraft.planning.joints import solder_book
from ringcraft.planning.made import beyond_mm, made_at
from ringcraft.planning.own import OwnCorrection
from ringcraft.planning.request import Join, RingRequest, Used, settle
from ringcraft.planning.rules import OWN, thickness_term
from ringcraft.planning.target_size import TargetSize, target_size
from ringcraft.sections import PROFILES, Section, Stock, section_of, side_of_half_round
from ringcraft.units import Length, LengthFormat, lengths_in

THICKEST_SHARE = 1 / 3  # of the inside diameter: beyond it stock cannot be bent round; common practice
HAIR = 1e-4  # relative change of thickness for the slope of the neutral line
NO_JOINT = Join(saw_passes=0, file_passes=0)


@dataclass(frozen=True)
class RingContext:
    """An order made ready: ``section`` is the metal on the finger, ``slope`` how its neutral line rises with t."""

    order: RingRequest
    used: Used
    target: TargetSize
    section: Section
    slope: float
    metal: Metal

    @property
    def is_wide(self) -> bool:
        """Whether the band counts as wide, by the shop's own ways."""
        return self.section.width_mm >= self.order.wide_quarter_from_mm

    @cached_property
    def book(self) -> SolderBook:
        """The solders there are: ours, with the shop's own over them."""
        return solder_book(self.order.solders)

    @property
    def learnt(self) -> OwnCorrection | None:
        """The shop's own correction for this stock and metal; none where the order types its own figure."""
        if self.used.rule == OWN and self.order.own_correction_mm is not None:
            return None
        return self.order.own.correction(self.section.profile, self.metal.family)

    def beyond_mm(self, piece: str = "") -> float:
        """What saw and file took of a piece's joint beyond the plan [mm]; of the one that sets the size."""
        return beyond_mm(made_at(self.order.made, piece), self.used.join.saw_passes, BLADES[self.used.join.blade])

    def length(self, mm: float) -> Length:
        """A length [mm] as this order's shop writes it in a sentence."""
        return Length(mm, self.used.units)


def nobodys_context(kind: str, inside_mm: float, stock: Stock, metal: str, **order: Any) -> RingContext:
    """The context of what is for no finger: a part by itself, a practice. Only its own measures are asked of it.

    ``inside_mm`` is to what it is bent [mm inside], ``order`` what it has of a ring's order.
    """
    finger = read_size(f"{inside_mm:.4f} mm ID")
    ring = RingRequest(style=kind, size=finger.text, metal=metal, stock=stock, **order)
    target = TargetSize(finger, SCALES["us"], None, None, inside_mm)
    return RingContext(ring, settle(ring, "exact"), target, section_of(stock), 0.5, ring.own.metal(ALL_METALS[metal]))


@dataclass(frozen=True)
class LengthModel:
    """How the blank that sets the size goes once round: formed = times x (pi ID + what the rule adds).

    ``adds`` answers what a rule adds for the thickness [mm] with its reason; ``thickness_gain`` [-] is how much
    circumference a mm of thickness is; ``cut_per_formed`` [-] how much must be cut for a mm that is kept;
    ``kerf_gain`` [-] how much circumference a mm lost at the joint is, where that is another figure.
    """

    adds: Callable[[str], tuple[float, str]]
    thickness_gain: float
    times: float = 1.0
    cut_per_formed: float = 1.0
    kerf_gain: float | None = None

    @property
    def round_per_kerf(self) -> float:
        """Inside circumference [mm] for a mm that the saw takes out of the joint."""
        return 1 / self.cut_per_round if self.kerf_gain is None else self.kerf_gain

    @property
    def cut_per_round(self) -> float:
        """Length to cut [mm] for a mm of inside circumference."""
        return self.times * self.cut_per_formed


def ring_context(
    order: RingRequest, leave: str, section: Section | None = None, slope: float | None = None, joined: bool = True
) -> RingContext:
    """An order made ready; raises CraftError naming the field.

    ``section`` is given where the metal on the finger is not simply the stock; ``joined`` is false for a style
    with no joint to saw through: its trim stays.
    """
    made = section or section_of(order.stock)
    wanted = target_size(order, made)
    check_thickness(made, wanted)
    used = settle(order, leave)
    if not joined:
        used = replace(used, join=replace(NO_JOINT, trim_mm=used.join.trim_mm, blade=used.join.blade))
    return RingContext(
        order,
        used,
        wanted,
        made,
        slope_of(order.stock) if slope is None else slope,
        order.own.metal(ALL_METALS[order.metal]),
    )


def check_thickness(section: Section, wanted: TargetSize, field: str = "stock") -> None:
    """Refuse stock that no bench bends round this finger."""
    check_inside(section, wanted.inside_mm, field)


def check_inside(section: Section, inside_mm: float, field: str = "stock") -> None:
    """Refuse stock that no bench bends round this inside diameter [mm]."""
    most = inside_mm * THICKEST_SHARE
    if section.thickness_mm > most:
        raise ImpossibleSectionError(
            f"{field}.thickness_mm",
            "{thick:.2f} thick cannot be bent round a finger of {inside:.1f mm}.",
            "At most {most:.1f mm}, a third of the inside.",
            thick=section.thickness_mm,
            inside=inside_mm,
            most=most,
        )


def length_model(context: RingContext, times: float = 1.0, cut_per_formed: float = 1.0) -> LengthModel:
    """The turn of one section, by the rules as they stand."""
    return LengthModel(
        lambda rule: thickness_term(rule, context.section, context.order.own_correction_mm, context.length),
        2 * math.pi * context.slope,
        times,
        cut_per_formed,
    )


def slope_of(stock: Stock) -> float:
    """How fast the neutral line rises with the thickness [-], by a hair of difference."""
    thick, thin = section_of(stock), _slimmer(stock)
    return (thick.neutral_mm - thin.neutral_mm) / (thick.thickness_mm - thin.thickness_mm)


def area_power_of(stock: Stock) -> float:
    """How a stock's area follows its thickness: area as thickness to this power, by a hair of difference [-].

    >>> round(area_power_of(Stock(profile="square", thickness_mm=3.6)), 3)
    2.0
    """
    thick, thin = section_of(stock), _slimmer(stock)
    return math.log(thick.area_mm2 / thin.area_mm2) / math.log(thick.thickness_mm / thin.thickness_mm)


def _slimmer(stock: Stock) -> Section:
    thin = replace(stock, thickness_mm=stock.thickness_mm * (1 - HAIR))
    if PROFILES[stock.profile].equal_sided:
        thin = replace(thin, width_mm=None)
    try:
        return section_of(thin)
    except CraftError:  # a straight side as high as the slimmer stock: scale the side with it
        return section_of(replace(thin, side_mm=(stock.side_mm or 0) * (1 - HAIR)))


def stock_words(section: Section, units: str) -> str:
    """A stock in words: half-round 4 × 1.8."""
    return f"{section.title} {measures_words(section, lengths_in(units))}"


def as_d_words(stock: Stock, units: str) -> str:
    """What is said of a half-round that is thicker than half its width; empty for any other stock."""
    side = side_of_half_round(stock)
    if not side:
        return ""
    told = f"{Length(side, units):.2f}"
    return f"A half-round thicker than half its width has straight sides: read as a D with sides of {told}."


def measures_words(section: Section, length: LengthFormat) -> str:
    """The measures of a stock in words, to a hundredth: 4 × 1.8; one where it is as wide as thick."""
    thick = f"{length(round(section.thickness_mm, 2)):g}"
    if section.equal_sided:
        return thick
    return f"{length(round(section.width_mm, 2)):g} × {thick}"
