"""The schools of what the thickness adds to the length. Each is one entry; all are always shown."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from ringcraft.errors import CraftError
from ringcraft.schema import name_of
from ringcraft.sections import Section
from ringcraft.units import LengthFormat


@dataclass(frozen=True)
class Rule:
    """A school: how much [mm] it adds to the inside circumference for a section, and its reason."""

    key: str
    title: str
    adds_mm: Callable[[Section], float]
    why: Callable[[Section, LengthFormat], str]
    source: str


def _centroid_why(section: Section, length: LengthFormat) -> str:
    up = f"{length(section.neutral_mm):.2f}"
    return f"{section.why}: neutral line {up} up, 2π × {up}"


RULES: dict[str, Rule] = {
    rule.key: rule
    for rule in (
        Rule(
            "centroid",
            "neutral line",
            lambda s: 2 * math.pi * s.neutral_mm,
            _centroid_why,
            "bending theory: the line through the section's centroid keeps its length",
        ),
        Rule(
            "mean-diameter",
            "mean diameter",
            lambda s: math.pi * s.thickness_mm,
            lambda s, length: f"π × {length(s.thickness_mm):.2f}, whatever the profile",
            "common practice, the commonest; no published source",
        ),
        Rule(
            "three-thickness",
            "three thicknesses",
            lambda s: 3 * s.thickness_mm,
            lambda s, length: f"3 × {length(s.thickness_mm):.2f}, as printed on some gauge rulers",
            "common practice; no published source",
        ),
        Rule(
            "bare-chart",
            "bare chart",
            lambda s: 0.0,
            lambda s, length: "a chart of inside circumference forgets the thickness: right only for foil",
            "common practice, and the commonest mistake",
        ),
    )
}
OWN = "own"
RuleKey = name_of("rule", {**RULES, OWN: None}, {"mean": "mean-diameter", "chart": "bare-chart"})


def thickness_term(
    rule: str, section: Section, own_correction_mm: float | None, length: LengthFormat
) -> tuple[float, str]:
    """What a rule adds for the thickness [mm], with its reason for this section."""
    if rule == OWN:
        if own_correction_mm is None:
            raise CraftError("rule", "This workshop has no correction of its own yet.", "Give it, or use centroid.")
        base = RULES["centroid"]
        own = f", {length(own_correction_mm):+.2f} of the workshop's own" if abs(own_correction_mm) >= 0.005 else ""
        return base.adds_mm(section) + own_correction_mm, f"{base.why(section, length)}{own}"
    return RULES[rule].adds_mm(section), RULES[rule].why(section, length)
