"""Areas and centroids against shapely's polygons (finer ones than ours) and textbook values."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate
from shapely import Polygon

from ringcraft.sections import PROFILES, Stock, section_of, segment_area_centroid
from tests.orders import STOCKS


@pytest.mark.parametrize("profile", PROFILES)
@given(scale=st.floats(0.5, 2))
def test_against_the_polygon_that_is_drawn(profile: str, scale: float) -> None:
    stock = Stock(profile=profile, **{name: mm * scale for name, mm in STOCKS[profile].items()})
    section = section_of(stock)
    drawn = Polygon(section.outline)
    assert drawn.is_valid
    assert drawn.area == pytest.approx(section.area_mm2, rel=2e-3)  # its arcs are chords: a little less area
    assert drawn.centroid.y == pytest.approx(section.neutral_mm, rel=2e-3)
    assert drawn.centroid.x == pytest.approx(0, abs=1e-9)
    left, low, right, high = drawn.bounds
    assert right - left == pytest.approx(section.width_mm)
    assert (low, high) == (pytest.approx(0, abs=1e-9), pytest.approx(section.thickness_mm))


@given(chord=st.floats(0.5, 12), share=st.floats(0.01, 0.5))
def test_segment_against_numerical_integration(chord: float, share: float) -> None:
    height = chord * share
    radius = (chord**2 / 4 + height**2) / (2 * height)

    def width(y: float) -> float:
        return 2 * math.sqrt(max(radius**2 - (radius - height + y) ** 2, 0.0))

    area = integrate.quad(width, 0, height)[0]
    moment = integrate.quad(lambda y: y * width(y), 0, height)[0]
    ours, centroid = segment_area_centroid(chord, height)
    assert ours == pytest.approx(area, rel=1e-5)
    assert centroid == pytest.approx(moment / area, rel=1e-5)


def test_full_half_circle_has_its_textbook_centroid() -> None:
    # 4r / 3 pi above the flat: any handbook of plane areas
    section = section_of(Stock(profile="half-round", width_mm=4, thickness_mm=2))
    assert section.neutral_mm == pytest.approx(4 * 2 / (3 * math.pi))
    assert section.neutral_mm / 2 == pytest.approx(0.424, abs=5e-4)


def test_a_dome_without_height_is_a_rectangle_and_a_tall_one_a_circle() -> None:
    flat = section_of(Stock(profile="d", width_mm=4, thickness_mm=2, side_mm=1.9999))
    assert flat.neutral_mm == pytest.approx(1, abs=1e-3)
    round_ = section_of(Stock(profile="court", width_mm=2, thickness_mm=2, side_mm=0))
    assert round_.area_mm2 == pytest.approx(math.pi)
    assert round_.neutral_mm == pytest.approx(1)
