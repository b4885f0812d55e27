"""Figures of a ring in the flame that a word alone would not give away."""

from __future__ import annotations

import numpy as np
import pytest
from pydantic import TypeAdapter

from ringcraft.heat.asking import HeatRequest
from ringcraft.heat.picture import held
from ringcraft.heat.torch import AREA_SHAPE, SECONDS, fusion_j_g, need_w
from ringcraft.metals import METALS
from tests.joints import flame, in_flame


def far(**changes: object) -> float:
    """How hot the place opposite the joint is, as drawn [C]."""
    return flame(**changes).profile[-1].c


def test_a_stone_keeps_the_flame_off_the_far_side() -> None:
    assert far(stone="ruby") < far() - 5  # without one the whole ring is stroked first
    assert far(metal="gold-14k-yellow") == far(metal="gold-14k-yellow", stone="ruby")  # heated locally either way


def test_what_is_heated_with_it_grows_the_section_and_not_its_shape() -> None:
    read = TypeAdapter(HeatRequest).validate_python
    alone = held(read(in_flame()))
    volume = alone.area_mm2 * alone.round_mm
    four = held(read(in_flame(with_it_mm3=3 * volume)))
    assert four.area_mm2 == pytest.approx(4 * alone.area_mm2)
    assert four.perimeter_mm == pytest.approx(2 * alone.perimeter_mm)
    assert four.mass_g == pytest.approx(4 * alone.mass_g)


def test_a_seam_that_may_open_in_some_cases_is_unsure() -> None:
    asked = {"flow_c": 760, "seams": [{"key": "a", "at_mm": 9, "melts_c": 700}]}
    peak = flame(**asked).seams[0].peak_c
    for melts, holds in ((peak.high + 2, "yes"), ((peak.mid + peak.high) / 2, "unsure"), (peak.low - 2, "no")):
        assert flame(flow_c=760, seams=[{"key": "a", "at_mm": 9, "melts_c": melts}]).seams[0].holds == holds


def test_melting_takes_its_heat_of_fusion() -> None:
    metal = METALS["sterling"]
    solid, molten = (need_w(metal, 20, 900, AREA_SHAPE, molten=molten) for molten in (False, True))
    assert np.allclose(molten - solid, fusion_j_g(metal) * 20 / SECONDS)
    assert fusion_j_g(metal) == pytest.approx(0.925 * 104.8 + 0.075 * 208.7)


def test_a_torch_about_as_strong_as_the_need_is_tried_first() -> None:
    masses = np.linspace(3, 60, 40)
    said = [flame(torches=f"t: melted sterling {mass:.1f}").torches[0] for mass in masses]
    assert {one.enough for one in said} == {"yes", "unsure", "no"}
    for one in said:
        assert one.enough == ("yes" if one.times.high <= 1 else "no" if one.times.low > 1 else "unsure")
