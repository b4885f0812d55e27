"""The bands of what is not known, and the cases that are drawn from them: always the same ones."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from ringcraft.metals import Metal
from ringcraft.tables import rows

CASES, SEED = 64, 11
LOW, HIGH = 5.0, 95.0
BANDS: dict[str, tuple[float, float]] = {row["key"]: (row["low"], row["high"]) for row in rows("heat-bands")}
OF_METAL = ("conductivity_w_mk", "heat_j_gk")
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Band:
    """A figure that is not known exactly: the 5th, the middle and the 95th of a hundred cases."""

    low: float
    mid: float
    high: float


def band_of(values: Array) -> Band:
    """The band of what all cases gave."""
    low, mid, high = (float(one) for one in np.percentile(values, (LOW, 50.0, HIGH)))
    return Band(low, mid, high)


@cache
def draws() -> dict[str, Array]:
    """For each band a value between 0 and 1 in each case: evenly spread, shuffled by a fixed seed."""
    shuffled = np.random.default_rng(SEED)
    names = (*BANDS, *OF_METAL)
    return {name: (shuffled.permutation(CASES) + 0.5) / CASES for name in names}


def spread_over(name: str, band: tuple[float, float]) -> Array:
    """The values of a band in all cases."""
    return band[0] + draws()[name] * (band[1] - band[0])


def conductivity_of(metal: Metal) -> Array:
    """The conductivity of a metal at heat [W/(m K)] in all cases."""
    return spread_over("conductivity_w_mk", metal.conductivity_hot_w_mk)


def heat_of(metal: Metal) -> Array:
    """The heat of a metal [J/(m3 K)] in all cases."""
    return spread_over("heat_j_gk", metal.heat_j_gk) * metal.density_g_cm3 * 1e6
