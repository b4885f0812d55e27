"""How sure a length is, and how far to leave it from the figure so that the costly side stays rare."""

from __future__ import annotations

import math
from dataclasses import dataclass
from statistics import NormalDist
from typing import Any

from ringcraft.sections import Section
from ringcraft.tables import record


@dataclass(frozen=True)
class Cause:
    """One cause of scatter, as the standard deviation of length [mm] it makes here, with its reason."""

    key: str
    sd_mm: float
    why: str


@dataclass(frozen=True)
class Spread:
    """The scatter of a length: its causes, independent, so their squares add up."""

    causes: tuple[Cause, ...]
    sd_mm: float
    chance: float
    bias_mm: float


def spread_of(section: Section, saw_passes: int) -> Spread:
    """The scatter [mm of length] of a closed band, and the bias that keeps one side under the chance.

    Independent errors: variances add (propagation of uncertainty, JCGM 100:2008, 5.1.2). The bias is
    the normal quantile of the chance times the standard deviation.
    """
    table = record("spreads")
    per_mm = 2 * math.pi * section.neutral_mm / section.thickness_mm
    causes = (
        _cause(table, "thickness", per_mm),
        _cause(table, "cutting", 1.0),
        _cause(table, "saw_pass", math.sqrt(saw_passes)),
        _cause(table, "truing", 1.0),
    )
    sd = math.sqrt(sum(cause.sd_mm**2 for cause in causes))
    chance = float(table["chance_on_costly_side"])
    return Spread(causes, sd, chance, NormalDist().inv_cdf(1 - chance) * sd)


def _cause(table: dict[str, Any], key: str, per: float) -> Cause:
    return Cause(key, float(table[key]["sd_mm"]) * per, str(table[key]["why"]))
