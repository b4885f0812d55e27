"""The terms that most ledgers share: the finger, the thickness, the joint, the policy, the rounding."""

from __future__ import annotations

import math
from statistics import NormalDist

from ringcraft.metals import BLADES
from ringcraft.planning.context import LengthModel, RingContext
from ringcraft.planning.ledger import Term, round_for
from ringcraft.planning.own import GROUPS, closes_words
from ringcraft.planning.request import Used
from ringcraft.planning.tolerance import Scatter, Spread
from ringcraft.sections import Section
from ringcraft.units import day_words, lengths_in

SQUARING_MM = 0.1  # one squaring of both faces with the file; common practice, no published source


def round_terms(context: RingContext, turn: LengthModel) -> list[Term]:
    """Once round the finger: its inside circumference, what a wide band adds, and the thickness."""
    size, wide = context.target.finger, context.target.wide
    thickness, why = turn.adds(context.used.rule)
    terms = [
        Term(
            "inside-circumference",
            "inside circumference",
            size.circumference_mm,
            f"π × {context.length(size.inside_diameter_mm):.2f} inside, {size.text}",
        )
    ]
    if wide and wide.taken:
        terms.append(Term("wide-band", "wide band", wide.mm, wide.says))
    return [*terms, Term("thickness", "thickness", thickness, why)]


def over_terms(context: RingContext, under_mm: float, under: str, fit_mm: float, section: Section) -> list[Term]:
    """Once round another ring: the circumference over it, the fit, and the thickness by the neutral line."""
    length = context.length
    terms = [Term("over", "over what is under", math.pi * under_mm, f"π × {length(under_mm):.2f} over {under}")]
    if fit_mm:
        how = "tight: it is driven on" if fit_mm < 0 else "loose: it slides on"
        terms.append(Term("fit", "fit", math.pi * fit_mm, f"π × {length(fit_mm):+.2f}, {how}"))
    adds, why = 2 * math.pi * section.neutral_mm, f"{section.why}: neutral line {length(section.neutral_mm):.2f} up"
    return [*terms, Term("thickness", "thickness", adds, why)]


def joint_terms(used: Used) -> list[Term]:
    """What the joint eats: the saw's kerf, the file, and the trim that is filed off before forming."""
    join, length, out = used.join, lengths_in(used.units), []
    if join.saw_passes:
        passes = {1: "one pass", 2: "two passes"}.get(join.saw_passes, f"{join.saw_passes} passes")
        kerf = BLADES[join.blade]
        why = f"{passes} of {join.blade}, {length(kerf):.2f} each"
        out.append(Term("saw", "saw through the joint", join.saw_passes * kerf, why))
    if join.file_passes:
        squared = join.file_passes * SQUARING_MM
        out.append(Term("file", "squaring the faces", squared, f"the file takes {length(SQUARING_MM):g} each time"))
    if join.trim_mm:
        out.append(Term("trim", "trim", join.trim_mm, "added to the cut, filed off again before forming"))
    return out


def eaten_mm(terms: tuple[Term, ...]) -> float:
    """What of a blank [mm] is gone before the ring is closed."""
    return math.fsum(term.mm for term in terms if term.key in ("saw", "file", "trim", "kerf"))


def policy_term(used: Used, bias_mm: float, why: str) -> list[Term]:
    """What the policy leaves off or adds, ``bias_mm`` of the length that goes round."""
    if used.leave == "exact":
        return []
    return [Term("leave", f"left {used.leave}", -bias_mm if used.leave == "small" else bias_mm, why)]


def learnt_term(context: RingContext, times: float) -> list[Term]:
    """What the shop's own rings have taught: they close large, so the length is cut that much shorter."""
    own = context.learnt
    if own is None:
        return []
    length = context.length
    why = f"{GROUPS[own.group]} closes {closes_words(own.round_mm, context.used.units)}"
    told = []
    if own.rings:
        told.append(f"{own.rings} rings")
    if own.low_mm is not None and own.high_mm is not None:
        told.append(f"95 % between {length(own.low_mm):.2f} and {length(own.high_mm):.2f}")
    if own.since:
        told.append(f"since {day_words(own.since)}")
    known = f" ({', '.join(told)})" if told else ""
    return [Term("own", "own correction", -own.round_mm * times, f"{why}{known}")]


def policy_why(used: Used, rule_off_mm: float, spread: Spread, bias_mm: float | None = None) -> str:
    """Why it is left small or large: the chance on the costly side, as the neutral line says it.

    ``rule_off_mm`` is how much circumference the rule that it is cut by is off the neutral line, ``bias_mm`` how far
    it is really left where that is not all that its spread asks for.
    """
    small = used.leave == "small"
    costly = "large" if small else "small"
    reason = "stretching is easy, shrinking dear" if small else "taking out is one joint, adding two"
    if bias_mm is not None and bias_mm < spread.bias_mm - 1e-9:
        share = too_large_share(rule_off_mm - bias_mm, spread)
        return f"no smaller than it can be stretched: {share_of_rings(share)} too large"
    if abs(rule_off_mm) < 0.02:
        return f"so that {share_of_rings(used.scatter.chance)} too {costly}: {reason}"
    bias = -spread.bias_mm if small else spread.bias_mm
    share = too_large_share(rule_off_mm + bias, spread)
    real = share if small else 1 - share
    return f"by its own reckoning; by the neutral line {share_of_rings(real)} too {costly}"


def share_of_rings(chance: float) -> str:
    """A chance as what rings do: one in ten closes, 97 in a hundred close."""
    share = share_words(chance)
    return f"{share} {'close' if share[0].isdigit() else 'closes'}"


def too_large_share(apart_mm: float, spread: Spread) -> float:
    """The chance that a ring closes larger than wanted, where it should close ``apart_mm`` of circumference off."""
    if spread.sd_mm <= 0:
        return 1.0 if apart_mm > 0 else 0.0
    return NormalDist().cdf(apart_mm / spread.sd_mm)


def rounding_terms(used: Used, so_far_mm: float, leave: str = "exact", gives: float = 1.0) -> list[Term]:
    """The rounding of the figure itself, in the direction of the policy.

    ``gives`` is what a mm of the figure is worth in the ledger, where the metal is worked longer after it is cut.
    """
    if used.round_to_mm <= 0:
        return []
    rounded = round_for(so_far_mm, used.round_to_mm, leave)
    how = {"small": "down", "large": "up", "exact": "to the nearest"}[leave]
    return [
        Term(
            "rounding",
            "rounding",
            (rounded - so_far_mm) * gives,
            f"{how}, in steps of {lengths_in(used.units)(used.round_to_mm):g}",
        )
    ]


_SHARES = {
    0.01: "one in a hundred",
    0.02: "one in fifty",
    0.05: "one in twenty",
    0.1: "one in ten",
    0.2: "one in five",
    0.25: "one in four",
    0.5: "one in two",
}


def share_words(chance: float) -> str:
    """A chance in words."""
    known = _SHARES.get(round(chance, 4))
    if known:
        return known
    if chance < 0.005:
        return "hardly one in a thousand" if chance < 0.001 else "fewer than one in a hundred"
    if chance > 0.995:
        return "nearly every one"
    hundred = 100 * chance
    return f"{round(hundred, 1 if hundred < 3 else 0):g} in a hundred"


def most_words(scatter: Scatter) -> str:
    """How many lie between the two chances, in words."""
    known = {0.05: "Nine in ten", 0.1: "Four in five", 0.2: "Three in five", 0.25: "One in two"}
    return known.get(round(scatter.chance, 4), f"{100 * (1 - 2 * scatter.chance):.0f} in a hundred")
