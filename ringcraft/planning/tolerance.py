"""How sure a size is, and how far to leave a length from the figure so that the costly side stays rare."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from operator import mul
from statistics import NormalDist

from ringcraft.errors import OutOfRangeError
from ringcraft.schema import Mm, request
from ringcraft.tables import record
from ringcraft.units import IN_MM, LengthFormat, fill

DRAWS = 2000
SEED = 8653  # fixed, so that the same order always gets the same answer
WIDEST_SD_MM = 2.0
IN_SQUARES = "added in squares"
BY_DRAWS = f"{DRAWS} draws, fixed seed"


@request
class Spreads:
    """How far a bench scatters, as standard deviations [mm]; what is left out takes the table's value."""

    thickness_mm: Mm | None = None
    cutting_mm: Mm | None = None
    saw_pass_mm: Mm | None = None
    truing_mm: Mm | None = None


@dataclass(frozen=True)
class Scatter:
    """The scatter that a plan was made with [mm], each with its reason, and the share on the costly side."""

    thickness_mm: float
    cutting_mm: float
    saw_pass_mm: float
    truing_mm: float
    chance: float


@dataclass(frozen=True)
class Cause:
    """One cause of scatter: the standard deviation of circumference [mm] it makes here, and its reason."""

    key: str
    title: str
    sd_mm: float
    why: str


@dataclass(frozen=True)
class Spread:
    """The scatter of the finished ring, in mm of its inside circumference.

    ``bias_mm`` is how far to leave it so that the chance on the costly side is ``chance``.
    """

    causes: tuple[Cause, ...]
    sd_mm: float
    chance: float
    bias_mm: float
    method: str


def scatter_of(given: Spreads | None, chance: float | None) -> Scatter:
    """The scatter in force; raises OutOfRangeError at ``spread`` or ``costly_share``."""
    table, values = record("spreads"), {}
    for key in ("thickness", "cutting", "saw_pass", "truing"):
        asked = getattr(given, f"{key}_mm") if given else None
        values[f"{key}_mm"] = float(table[key]["sd_mm"]) if asked is None else asked
        if values[f"{key}_mm"] > WIDEST_SD_MM:
            raise OutOfRangeError(
                f"spread.{key}_mm",
                "A bench that far off cannot be planned for.",
                "At most {most:g mm}.",
                most=WIDEST_SD_MM,
            )
    share = float(table["chance_on_costly_side"]) if chance is None else chance
    if not 0.005 <= share <= 0.5:
        raise OutOfRangeError(
            "costly_share", "The share on the costly side is no such figure.", "From 0.005 to 0.5; 0.1 is one in ten."
        )
    return Scatter(**values, chance=share)


def spread_of(
    scatter: Scatter, thickness_gain: float, cut_gain: float, saw_passes: int, length: LengthFormat = IN_MM
) -> Spread:
    """The scatter of a closed ring, and the bias that keeps one side under the chance.

    spread of circumference = sqrt(sum (gain x sd)^2)

    ``thickness_gain`` [-]: mm of circumference for a mm of thickness read wrong; ``cut_gain`` [-]: mm of
    circumference for a mm of length cut wrong. Independent errors: variances add (propagation of uncertainty,
    JCGM 100:2008, 5.1.2). The bias is the normal quantile of the chance times the standard deviation.
    """
    causes = _causes(scatter, thickness_gain, cut_gain, saw_passes, length)
    sd = math.sqrt(math.fsum(cause.sd_mm**2 for cause in causes))
    return Spread(causes, sd, scatter.chance, NormalDist().inv_cdf(1 - scatter.chance) * sd, IN_SQUARES)


def _causes(
    scatter: Scatter, thickness_gain: float, cut_gain: float, saw_passes: int, length: LengthFormat
) -> tuple[Cause, ...]:
    table = record("spreads")
    gains = {
        "thickness": abs(thickness_gain),
        "cutting": abs(cut_gain),
        "saw_pass": abs(cut_gain) * math.sqrt(saw_passes),
        "truing": 1.0,
    }
    return tuple(
        Cause(
            key,
            str(table[key]["title"]),
            getattr(scatter, f"{key}_mm") * gain,
            fill(table[key]["why"], {"sd": length(getattr(scatter, f"{key}_mm"))}),
        )
        for key, gain in gains.items()
    )


def sampled(
    scatter: Scatter,
    circumference: Callable[..., float],
    sds: tuple[float, ...],
    truing: bool,
    length: LengthFormat = IN_MM,
) -> Spread:
    """The same by drawing, for lengths that follow their measures in no straight line.

    ``circumference`` answers the finished inside circumference [mm] for errors [mm] whose standard deviations are
    ``sds``; the draws are always the same. The bias is the draws' own quantile, not the normal one.
    """
    right = circumference(*(0.0 for _ in sds))
    off = []
    trued = scatter.truing_mm if truing else 0.0
    for draws in _standard_draws(len(sds) + 1):
        off.append(circumference(*map(mul, sds, draws)) - right + draws[-1] * trued)
    off.sort()
    at = scatter.chance * (DRAWS - 1)
    quantile = (off[round(DRAWS - 1 - at)] - off[round(at)]) / 2
    causes = _causes(scatter, 0, 0, 0, length)[3:] if truing else ()
    middle = math.fsum(off) / DRAWS
    sd = math.sqrt(math.fsum((value - middle) ** 2 for value in off) / DRAWS)
    return Spread(causes, sd, scatter.chance, quantile, BY_DRAWS)


@cache
def _standard_draws(count: int) -> tuple[tuple[float, ...], ...]:
    """Draws of so many standard normal errors each, from a fixed seed: drawn once, since they never change."""
    draw = random.Random(SEED)  # noqa: S311 (no secret: the same order must get the same answer)
    return tuple(tuple(draw.gauss(0, 1) for _ in range(count)) for _ in range(DRAWS))
