"""Whole ledgers worked by hand, as one would on the back of an envelope: every figure below is typed, not imported.

The arithmetic is plane geometry; sizes follow the scales' published steps (US 0.8128 mm of diameter a size from 11.6332,
UK letters 1.25 mm of circumference from 37.5, both from memory), the kerf of a 4/0 is 0.22 (from memory).
"""

import math
from typing import Any

import pytest

from tests.orders import plan, style_plan

PLAIN: dict[str, Any] = {"leave": "exact", "round_to_mm": 0, "join": {"saw_passes": 1, "blade": "4/0"}}


def ledger(made: Any, blank: int = 0) -> dict[str, float]:
    return {term.key: term.mm for term in made.blanks[blank].terms}


def test_a_flat_band_of_us_7() -> None:
    made = plan("rectangle", size="US 7", stock={"width_mm": 4, "thickness_mm": 1.5}, **PLAIN)
    inside = 11.6332 + 7 * 0.8128  # 17.3228
    assert ledger(made) == {
        "inside-circumference": pytest.approx(54.4212, abs=1e-3),
        "thickness": pytest.approx(4.7124, abs=1e-4),
        "saw": 0.22,
    }
    assert made.blanks[0].cut_length_mm == pytest.approx(math.pi * (inside + 1.5) + 0.22)
    assert made.blanks[0].mass_g == pytest.approx(4 * 1.5 * made.blanks[0].cut_length_mm * 10.36 / 1000)


def test_a_half_round_of_uk_n() -> None:
    # N is the fourteenth letter: 37.5 + 13 x 1.25 = 53.75 round; a half circle of r 2 has its centroid 4r/3pi up
    made = plan("half-round", size="UK N", stock={"width_mm": 4, "thickness_mm": 2}, **PLAIN)
    up = 4 * 2 / (3 * math.pi)
    assert ledger(made)["inside-circumference"] == pytest.approx(53.75)
    assert ledger(made)["thickness"] == pytest.approx(2 * math.pi * up)
    assert 2 * math.pi * up == pytest.approx(5.3333, abs=1e-4)  # 16/3: pi falls out


def test_trim_is_in_the_cut_and_not_in_the_ring() -> None:
    made = plan("square", size="18 mm ID", stock={"thickness_mm": 2}, leave="exact", round_to_mm=0,
                join={"saw_passes": 2, "blade": "2/0", "trim_mm": 1, "file_passes": 1})  # fmt: skip
    assert made.blanks[0].cut_length_mm == pytest.approx(math.pi * 20 + 2 * 0.26 + 0.1 + 1)
    assert made.closing.inside_diameter_mm == pytest.approx(18)


def test_a_wishbone_of_90_degrees() -> None:
    # R = 18/2 + 0.75; cot 45 = 1, so the extra is 2R (1 - pi/4)
    made = style_plan("wishbone", size="18 mm ID", v_angle_deg=90,
                      stock={"profile": "square", "thickness_mm": 1.5}, **PLAIN)  # fmt: skip
    assert ledger(made)["vee"] == pytest.approx(2 * 9.75 * (1 - math.pi / 4))
    assert made.wishbone.v_rise_mm == pytest.approx(9.75 * (math.sqrt(2) - 1))


def test_two_sleeves_of_a_millimetre() -> None:
    layer = {"stock": {"profile": "rectangle", "width_mm": 4, "thickness_mm": 1}, "fit_mm": -0.05}
    made = style_plan("stack", size="18 mm ID", stock=layer["stock"], outer=[layer, layer], **PLAIN)
    # outsides: 20, then 20 - 0.05 + 2 = 21.95; neutral lines half a millimetre over what is under
    lengths = [blank.cut_length_mm for blank in made.blanks]
    rounds = [18 + 1, 20 - 0.05 + 1, 21.95 - 0.05 + 1]
    assert lengths == pytest.approx([math.pi * mm + 0.22 for mm in rounds])


def test_three_walls_on_an_eight_millimetre_band() -> None:
    made = style_plan("channel-inlay", size="18 mm ID", **PLAIN)
    assert made.channels[0].width_mm == pytest.approx((8 - 3 * 1.5) / 2)
    assert made.channels[0].depth_mm == 1.5
    assert made.blanks[1].cut_length_mm == pytest.approx(math.pi * (18 + 2 * 0.8 + 1.5) + 0.22)
    assert made.blanks[1].count == 3


def test_a_signet_twelve_across_and_three_over() -> None:
    made = style_plan("hollow-signet", size="18 mm ID", top_width_mm=12, rise_mm=3, **PLAIN)
    radius, height = 18 / 2 + 0.9 + 0.45, 18 / 2 + 0.9 + 3
    away = math.sqrt(6**2 + height**2)
    turned = math.pi - math.atan2(6, height) - math.acos(radius / away)
    wrap = 2 * (radius * turned + math.sqrt(away**2 - radius**2))
    assert made.blanks[1].cut_length_mm == pytest.approx(wrap)
    assert made.blanks[2].cut_length_mm == pytest.approx(12 + 0.9 + 1)
    assert made.blanks[2].volume_mm3 == pytest.approx((12 + 0.9 + 1) * (8 + 1) * 0.9)


def test_an_adjustable_ring_lies_ten_over() -> None:
    # ten over: common practice, no published source
    made = style_plan("adjustable", size="18 mm ID", overlap_mm=10, waist_mm=None, leave="exact", round_to_mm=0)
    assert ledger(made)["overlap"] == 10
    assert made.blanks[0].cut_length_mm == pytest.approx(math.pi * 18.8 + 10)
    assert made.adjustable.largest_mm == pytest.approx(18 + 7 / math.pi)  # three millimetres still lie over


def test_two_layers_of_six_tenths() -> None:
    made = style_plan("folded", size="18 mm ID", **PLAIN)
    assert made.blanks[0].formed_length_mm == pytest.approx(math.pi * 19.2)
    assert made.folded.sheet_width_mm == pytest.approx(10 - (2 - math.pi / 2) * 0.6)
    assert made.thumbs[0].off_mm == pytest.approx(-math.pi * 0.6)  # one layer counted, one forgotten


def test_texture_takes_from_the_thickness_what_it_gives_to_the_length() -> None:
    before = style_plan("textured", size="18 mm ID", growth=0.03, **PLAIN)
    after = style_plan("textured", size="18 mm ID", growth=0.03, texture="after", **PLAIN)
    thin = 1.6 / 1.03
    assert before.blanks[0].cut_length_mm == pytest.approx(math.pi * (18 + thin) + 0.22)
    assert after.blanks[0].cut_length_mm == pytest.approx(math.pi * (18 + thin) / 1.03 + 0.22)


def test_a_gap_of_six_for_a_top() -> None:
    made = style_plan("shank", size="18 mm ID", gap_mm=6, stock={"profile": "square", "thickness_mm": 2}, **PLAIN)
    assert made.blanks[0].cut_length_mm == pytest.approx(math.pi * 20 - 6)
    assert made.shank.inside_mm == pytest.approx(18 * math.sin(6 / 20))
    assert made.shank.outside_mm == pytest.approx(22 * math.sin(6 / 20))


def test_twenty_four_beads_of_two_and_a_half() -> None:
    made = style_plan("patterned", size="18 mm ID", repeats=24, join={"saw_passes": 1})
    assert made.blanks[0].formed_length_mm == pytest.approx(60)
    assert made.closing.inside_diameter_mm == pytest.approx(60 / math.pi - 1.2)
    assert made.blanks[0].cut_length_mm == pytest.approx(60.22)
