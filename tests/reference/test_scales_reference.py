"""Size scales and wire gauges against what is published of them."""

import math

import pytest

from ringcraft.measure.sizes import SCALES
from ringcraft.reading import gauge_to_mm


@pytest.mark.parametrize(
    ("gauge", "inch"),
    [
        (-3, 0.4600),
        (0, 0.3249),
        (6, 0.1620),
        (10, 0.1019),
        (16, 0.0508),
        (18, 0.0403),
        (20, 0.0320),
        (22, 0.0253),
        (30, 0.0100),
        (36, 0.0050),
    ],
)
def test_gauges_against_astm_b258(gauge: int, inch: float) -> None:
    # ASTM B258, table of nominal diameters, rounded to a tenth of a mil; the table's figures are from memory
    assert gauge_to_mm(gauge) / 25.4 == pytest.approx(inch, abs=6e-5)


def test_astm_b258_is_a_geometric_series() -> None:
    # ASTM B258: 39 steps between 0.0050 in (36) and 0.4600 in (0000), so the ratio is the 39th root of 92
    assert gauge_to_mm(36) == pytest.approx(0.127)
    assert gauge_to_mm(-3) == pytest.approx(11.684)
    assert gauge_to_mm(17) / gauge_to_mm(18) == pytest.approx(92 ** (1 / 39))


@pytest.mark.parametrize(("gauge", "mm"), [(6, 4.1), (16, 1.3), (18, 1.0), (20, 0.8), (22, 0.64)])
def test_gauges_against_bench_values(gauge: int, mm: float) -> None:
    # common practice: what benches call these gauges, to the last figure given
    assert gauge_to_mm(gauge) == pytest.approx(mm, abs=0.05)


@pytest.mark.parametrize("size", [41, 48, 54, 60.5, 76])
def test_iso_8653_size_is_the_circumference(size: float) -> None:
    # ISO 8653: the size is the inner circumference in mm
    assert math.pi * SCALES["iso"].diameter_mm(size) == pytest.approx(size)


@pytest.mark.parametrize(("size", "inch"), [(0, 0.458), (3, 0.554), (7, 0.682), (10, 0.778), (13, 0.874)])
def test_us_scale_against_its_inch_table(size: float, inch: float) -> None:
    # US commercial standard: 0.458 in at 0 and 0.032 in a size; from memory
    assert SCALES["us"].diameter_mm(size) / 25.4 == pytest.approx(inch, abs=1e-9)


def test_one_us_size_is_the_benchs_two_and_a_half() -> None:
    # common practice: 2.553 mm of circumference, "about 2.5 mm a size"
    assert SCALES["us"].circumference_per_size_mm == pytest.approx(2.553, abs=1e-3)


@pytest.mark.parametrize(("letter", "circumference"), [(0, 37.5), (10, 50.0), (17, 58.75), (25, 68.75), (31, 76.25)])
def test_bs_6820_letters(letter: float, circumference: float) -> None:
    # BS 6820: 37.5 mm at A and 1.25 mm a letter; from memory
    assert math.pi * SCALES["uk"].diameter_mm(letter) == pytest.approx(circumference)


def test_older_letter_charts_are_a_tenth_of_a_millimetre_off() -> None:
    # common practice: charts by diameter print R as 18.61 where the standard gives 18.70
    assert SCALES["uk"].diameter_mm(17) == pytest.approx(18.70, abs=5e-3)
    assert abs(SCALES["uk"].diameter_mm(17) - 18.61) < 0.1


def test_scales_agree_with_one_another_where_charts_are_sure() -> None:
    # common practice, printed on most charts: ISO 54 is about US 6 3/4 and JP 13 to 14
    inside = SCALES["iso"].diameter_mm(54)
    assert SCALES["us"].number(inside) == pytest.approx(6.75, abs=0.1)
    assert 13 <= SCALES["jp"].number(inside) <= 14
    assert SCALES["minus40"].number(inside) == pytest.approx(14)
