"""Metals against reference libraries and the rule of mixtures."""

import periodictable
import pytest

from ringcraft.metals import METALS

PURE = {"fine-silver": "Ag", "fine-gold": "Au", "copper": "Cu"}
#: Freezing points [C] that define the International Temperature Scale of 1990 (Preston-Thomas, Metrologia 27, 1990,
#: table 1): silver, gold and copper are three of its fixed points.
ITS_90_C = {"Ag": 961.78, "Au": 1064.18, "Cu": 1084.62}
MIXTURE_BAND = 0.03  # alloys shrink or swell a little against ideal mixing; 3 % covers the table


@pytest.mark.parametrize(("key", "symbol"), PURE.items())
def test_pure_metals_density_against_periodictable(key: str, symbol: str) -> None:
    ours = METALS[key].density_g_cm3
    assert ours == pytest.approx(periodictable.elements.symbol(symbol).density, rel=3e-3)


@pytest.mark.parametrize(("key", "symbol"), PURE.items())
def test_pure_metals_melt_at_the_fixed_points_of_the_temperature_scale(key: str, symbol: str) -> None:
    assert METALS[key].solidus_c == METALS[key].liquidus_c
    assert METALS[key].solidus_c == pytest.approx(ITS_90_C[symbol], abs=1.0)


@pytest.mark.parametrize("key", METALS)
def test_alloy_density_within_the_band_of_the_rule_of_mixtures(key: str) -> None:
    metal = METALS[key]
    volume = sum(share / periodictable.elements.symbol(symbol).density for symbol, share in metal.composition.items())
    assert metal.density_g_cm3 == pytest.approx(1 / volume, rel=MIXTURE_BAND)


@pytest.mark.parametrize(
    ("key", "fineness"),
    [
        ("sterling", 0.925),
        ("gold-9k-yellow", 9 / 24),
        ("gold-14k-rose", 14 / 24),
        ("gold-18k-yellow", 18 / 24),
        ("gold-22k-yellow", 22 / 24),
        ("platinum-950", 0.95),
    ],
)
def test_fineness_is_what_the_mark_says(key: str, fineness: float) -> None:
    # ISO 9202 finenesses: 925, 375, 585, 750, 916, 950
    noble = max(METALS[key].composition.values()) if "rose" not in key else METALS[key].composition["Au"]
    noble = METALS[key].composition.get("Au", noble)
    assert noble == pytest.approx(fineness, abs=0.002)


def test_sterling_melts_where_benches_say() -> None:
    # from memory: solidus about 800, liquidus about 893
    assert (METALS["sterling"].solidus_c, METALS["sterling"].liquidus_c) == (800, 893)
