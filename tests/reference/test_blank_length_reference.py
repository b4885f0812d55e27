"""Blank lengths against the trade's own check values: common practice, no published source."""

import math

import pytest

from tests.orders import plan

EXACT = {"leave": "exact", "round_to_mm": 0, "join": {"saw_passes": 0}}


@pytest.mark.parametrize(
    ("profile", "size", "stock", "rule", "length", "within"),
    [
        ("d", "18.61 mm ID", {"width_mm": 4, "thickness_mm": 2}, "mean-diameter", 64.7, 0.05),
        ("sheet", "19.0 mm ID", {"width_mm": 6, "thickness_mm": 0.7}, "mean-diameter", 61.9, 0.05),
        ("sheet", "17.76 mm ID", {"width_mm": 6, "thickness_mm": 0.7}, "bare-chart", 55.8, 0.05),
        ("half-round", "US 8", {"width_mm": 4, "thickness_mm": 2}, "mean-diameter", 63.3, 0.05),
        ("half-round", "US 8", {"width_mm": 4, "thickness_mm": 2}, "centroid", 62.3, 0.05),
        # "a ring with the three-thickness rule about 62": six tenths above it is still the trade's "about"
        ("half-round", "US 8", {"width_mm": 4, "thickness_mm": 2}, "three-thickness", 62.0, 1.05),
    ],
)
def test_check_values(profile: str, size: str, stock: dict, rule: str, length: float, within: float) -> None:  # type: ignore[type-arg]
    made = plan(profile, size=size, stock=stock, **EXACT)
    assert made.by_rule[rule] == pytest.approx(length, abs=within)


def test_one_stock_lies_a_millimetre_apart_between_schools() -> None:
    made = plan("half-round", size="US 8", stock={"width_mm": 4, "thickness_mm": 2}, **EXACT)
    view = {rule.key: rule for rule in made.rules}["mean-diameter"]
    assert view.off_mm == pytest.approx(1.0, abs=0.1)
    assert view.off_sizes == pytest.approx(0.4, abs=0.03)


def test_sensitivities_of_the_trade() -> None:
    # 1 mm of length is 0.39 US size, 0.1 mm of thickness 0.12; 0.05 mm a sixteenth of a US size
    made = plan("rectangle", **EXACT).sensitivity
    assert made.us_sizes_per_mm_length == pytest.approx(0.39, abs=5e-3)
    assert made.us_sizes_per_0_1_mm_thickness == pytest.approx(0.12, abs=5e-3)
    assert made.us_sizes_per_0_1_mm_thickness / 2 == pytest.approx(1 / 16, abs=2e-3)


@pytest.mark.parametrize("profile", ["half-round", "d", "triangle", "court", "round", "rectangle"])
def test_volume_is_kept_when_the_blank_is_bent(profile: str) -> None:
    # Pappus's theorem: a section turned about an axis sweeps its area times its centroid's path. A blank of the
    # formed length holds as much metal as the closed ring, which is what the neutral line claims.
    made = plan(profile, **EXACT)
    outline = made.section.outline
    inside = made.target.inside_diameter_mm / 2

    def width(y: float) -> float:
        crossings = []
        for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0]), strict=True):
            if (y0 - y) * (y1 - y) < 0:
                crossings.append(x0 + (x1 - x0) * (y - y0) / (y1 - y0))
        return max(crossings, default=0) - min(crossings, default=0)

    layers = 4000
    step = made.section.thickness_mm / layers
    swept = sum(2 * math.pi * (inside + y) * width(y) * step for y in ((i + 0.5) * step for i in range(layers)))
    assert made.section.area_mm2 * made.blanks[0].formed_length_mm == pytest.approx(swept, rel=3e-3)
