"""Where the ring will really close, how sure that is, and what a slip would make of it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.measure.sizes import SCALES, Scale
from ringcraft.metals import BLADES
from ringcraft.planning.context import LengthModel, RingContext
from ringcraft.planning.rules import OWN, RULES
from ringcraft.planning.terms import most_words, share_of_rings, share_words, too_large_share
from ringcraft.planning.tolerance import Spread
from ringcraft.tables import rows
from ringcraft.units import INCH_MM, format_length

SLIP_MM = 0.05  # of thickness: what a caliper held aslant reads too much
HAMMERED_MM = next(row["shift"] for row in rows("causes") if row["key"] == "over-hammered")  # round, in soft metal


#: What a slip of is told: of length and of thickness [mm], and how a shop of each unit says it.
STEPS = {
    "mm": (1.0, 0.1, ("1 mm", "0.1 mm")),
    "in": (INCH_MM / 32, 0.005 * INCH_MM, ("1/32″", "0.005″")),
}


@dataclass(frozen=True)
class FinishedSize:
    """Where the ring closes, and between which inside diameters [mm] most rings do.

    ``too_large`` is the chance that it closes larger than wanted, ``neutral_mm`` where it would close by the neutral
    line alone, without what the shop's own rings have taught; None in a plan that was kept before it was worked out.
    """

    inside_diameter_mm: float
    low_mm: float
    high_mm: float
    text: str
    low_text: str
    high_text: str
    spread: Spread
    says: str
    too_large: float | None = None
    neutral_mm: float | None = None


@dataclass(frozen=True)
class WhatIf:
    """One slip: what it does to the inside circumference [mm] and where the ring would then close."""

    key: str
    title: str
    circumference_mm: float
    inside_diameter_mm: float
    text: str
    off_text: str
    why: str


@dataclass(frozen=True)
class RuleView:
    """What one school gives for this stock, and how far off that is."""

    key: str
    title: str
    formed_length_mm: float
    text: str
    off_mm: float
    off_sizes: float
    off_text: str
    chosen: bool
    source: str


@dataclass(frozen=True)
class Sensitivity:
    """What a slip costs: US sizes, and sizes of the scale the order was read on."""

    us_sizes_per_mm_length: float
    us_sizes_per_0_1_mm_thickness: float
    says: str


def rule_off_mm(context: RingContext, turn: LengthModel) -> float:
    """How much inside circumference [mm] the chosen rule is off where rings close.

    That is the neutral line, or the workshop's own record where it has one: its correction is what the neutral line
    does not know.
    """
    if context.used.rule == OWN:
        return 0.0
    return turn.adds(context.used.rule)[0] - turn.adds("centroid")[0]


def finished_size_of(
    context: RingContext,
    turn: LengthModel,
    spread: Spread,
    beyond_mm: float,
    gives_mm: float = 0.0,
    learnt_mm: float = 0.0,
) -> FinishedSize:
    """Where a blank closes by the neutral line and what the shop has learnt of it, whatever rule it was cut by.

    ``beyond_mm`` is how much longer it is when trued than its chosen rule asks for (policy and rounding), and
    ``gives_mm`` how much of that the style itself asks for; ``learnt_mm`` is what rings close large by round.
    """
    wanted = context.target
    off = rule_off_mm(context, turn)
    apart = beyond_mm / turn.times + off
    diameter = wanted.inside_mm + apart / math.pi
    reach = spread.bias_mm / math.pi
    low, high = diameter - reach, diameter + reach
    said = f"{most_words(context.used.scatter)} close between {wanted.told(low)} and {wanted.told(high)}"
    if reach < 1e-6:
        said = f"Half close above {wanted.told(diameter)}, half below"
    said = f"{said}, as it was sawn" if context.beyond_mm() else _said(context, said, apart, off, gives_mm, spread)
    texts = (wanted.told(diameter), wanted.told(low), wanted.told(high))
    return FinishedSize(diameter, low, high, *texts, spread, said + ".", too_large_share(apart, spread),
                        diameter - learnt_mm / math.pi)  # fmt: skip


def _said(context: RingContext, range_: str, apart: float, off: float, gives: float, spread: Spread) -> str:
    """What follows from where it closes: true of the rule, the policy and its chance."""
    wanted = context.target.told(context.target.inside_mm)
    large = too_large_share(apart, spread)
    if abs(gives) > abs(off) and abs(apart) > 3 * spread.sd_mm:
        return f"The pattern makes it {context.length(abs(gives)):.1f mm} {'longer' if gives > 0 else 'shorter'}"
    if abs(off) > 0.02:
        side, share = ("large", large) if apart > 0 else ("small", 1 - large)
        far = f"{context.length(abs(apart)):.1f mm} round"
        return f"{range_}: by the neutral line {share_of_rings(share)} too {side}, the middle one by {far}"
    if context.used.leave == "small" and apart > -spread.bias_mm + SLIP_MM:
        return f"{range_}, {share_words(large)} above {wanted}; true it up to that"
    if context.used.leave == "small":
        return f"{range_}, {share_words(spread.chance)} at most above {wanted}; true it up to that"
    if context.used.leave == "large":
        return f"{range_}, {share_words(spread.chance)} at most below {wanted}"
    return range_


def deviation(context: RingContext, closing: FinishedSize, key: str, title: str, round_mm: float, why: str) -> WhatIf:
    """What a slip of so much inside circumference [mm] makes of this ring."""
    inside = closing.inside_diameter_mm + round_mm / math.pi
    scale = context.target.scale
    off = sizes_text(round_mm / scale.circumference_per_size_mm, scale)
    return WhatIf(key, title, round_mm, inside, context.target.told(inside), off, why)


def what_ifs(context: RingContext, turn: LengthModel, closing: FinishedSize) -> tuple[WhatIf, ...]:
    """The slips every band knows: the thickness read wrong, a saw pass forgotten, the mallet too free."""
    join, gain, length = context.used.join, turn.thickness_gain * SLIP_MM, context.length
    much = f"{length(SLIP_MM):g}"
    out = [
        deviation(context, closing, "thickness-high", f"t read {much} too thick", gain, f"{length(gain):+.2f} round"),
        deviation(context, closing, "thickness-low", f"t read {much} too thin", -gain, f"{length(-gain):+.2f} round"),
    ]
    if join.saw_passes:
        kerf = BLADES[join.blade] * turn.round_per_kerf
        out.append(
            deviation(
                context, closing, "saw-forgotten", "saw pass left out", kerf, f"the kerf stays in: {length(kerf):.2f}"
            )
        )
    if join.saw_passes or join.file_passes:
        kerf = BLADES[join.blade] * turn.round_per_kerf
        out.append(
            deviation(
                context, closing, "saw-again", "one saw pass more", -kerf, f"another kerf gone: {length(kerf):.2f}"
            )
        )
    why = f"{length(HAMMERED_MM):.2f} round, in soft metal"
    out.append(deviation(context, closing, "hammered", "hammered too freely", HAMMERED_MM, why))
    return tuple(out)


def rule_views(context: RingContext, turn: LengthModel, plus_mm: float = 0.0) -> tuple[RuleView, ...]:
    """What each school gives for this stock, formed, and how far that is from the neutral line.

    ``plus_mm`` is what the style adds whatever the rule.
    """
    around = math.pi * context.target.inside_mm
    physical = turn.adds("centroid")[0]

    def view(key: str, title: str, source: str) -> RuleView:
        adds = turn.adds(key)[0]
        formed, off = turn.times * (around + adds) + plus_mm, adds - physical
        sizes = off / context.target.scale.circumference_per_size_mm
        return RuleView(
            key=key,
            title=title,
            formed_length_mm=formed,
            text=format_length(formed, context.used.units, 1),
            off_mm=off,
            off_sizes=sizes,
            off_text=sizes_text(sizes, context.target.scale),
            chosen=key == context.used.rule,
            source=source,
        )

    views = [view(rule.key, rule.title, rule.source) for rule in RULES.values()]
    if context.used.rule == OWN:
        views.append(view(OWN, "own", "given with the order"))
    return tuple(views)


def sizes_text(sizes: float, scale: Scale) -> str:
    """How many sizes of a scale something is off, in words, as finely as the scale is told."""
    step = scale.fine_step
    count = round(abs(sizes) / step) * step
    if count == 0:
        return "the same size"
    shown = f"{count:.1f}" if step == 0.1 else SCALES["us"].label(count, 0.125)
    unit = scale.unit if count > 1 else scale.unit.removesuffix("s")
    return f"{shown} {unit} {'large' if sizes > 0 else 'small'}"


def sensitivity_of(context: RingContext, turn: LengthModel) -> Sensitivity:
    """What 1 mm of length to cut and 0.1 mm of thickness are worth."""
    us, scale = SCALES["us"], context.target.scale
    tenth, one = turn.thickness_gain * 0.1, 1 / turn.cut_per_round
    long_mm, thick_mm, said = STEPS[context.used.units]
    long = one * long_mm / scale.circumference_per_size_mm
    thick = turn.thickness_gain * thick_mm / scale.circumference_per_size_mm
    says = f"{said[0]} of length is {long:.2f} {scale.unit}; {said[1]} of thickness is {thick:.2f}."
    return Sensitivity(one / us.circumference_per_size_mm, tenth / us.circumference_per_size_mm, says)
