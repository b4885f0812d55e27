"""What papers and headings name, what is read as what, and what is asked: the stock, the D, the middle, the karats."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.errors import BadRequest, CraftError
from ringcraft.sections import Stock, section_of
from ringcraft.stock.drawer import same_section
from ringcraft.stock.melt.alloying import alloy
from ringcraft.stock.melt.melting import melt
from ringcraft.stock.wanted import stock_wanted
from ringcraft.styles import STYLES, read_ring
from ringcraft.works import MAKE, RESIZE
from tests.orders import order, style_order


def plan(style: str, **changes: Any) -> Any:
    return MAKE.plan(MAKE.read(style_order(style, **changes)))


@pytest.mark.parametrize("style", STYLES)
def test_a_blank_is_named_by_the_stock_that_is_taken_out_of_the_drawer(style: str) -> None:
    made = plan(style)
    wanted = {one.name: one for one in stock_wanted(made)}
    for blank in made.blanks:
        taken = wanted[blank.name].section
        assert blank.stock.startswith(taken.title)
        assert f"{round(taken.thickness_mm, 2):g}" in blank.stock
        if not taken.equal_sided:
            assert f"{round(taken.width_mm, 2):g}" in blank.stock


def test_a_folded_sheet_and_a_scribed_plate_are_named_as_they_lie_in_the_drawer() -> None:
    folded = plan("folded", stock__thickness_mm="0.6")
    assert folded.blanks[0].stock.endswith("× 0.6")
    assert folded.summary.endswith("× 0.6")
    assert not any("5 × 1.2" in line for step in folded.route for line in (step.title, *step.do))
    plate = next(one for one in plan("hollow-signet").blanks if one.name == "plate")
    assert plate.stock == "sheet 9 × 0.9"
    read = next(one for one in plan("hollow-signet").route if one.key == "measure-stock-plate")
    assert "9.00 wide" in " ".join(read.do)


@pytest.mark.parametrize(("wide", "thick", "side"), [(4.0, 2.06, 0.06), (3.0, 1.51, 0.01), ("6 ga", 2.1, 0.0425)])
def test_a_half_round_thicker_than_half_its_width_is_a_d_everywhere_and_is_said(
    wide: object, thick: float, side: float
) -> None:
    stock = {"width_mm": wide, "thickness_mm": thick}
    made = MAKE.plan(read_ring(order("half-round", stock=stock)))
    assert (made.section.profile, round(made.section.side_mm, 3)) == ("d", pytest.approx(side, abs=2e-3))
    assert any("read as a D" in said for said in made.says)
    shank = {"profile": "half-round", **stock, "thinnest_mm": 1.3}
    resized = RESIZE.plan(RESIZE.read({"from": "US 7", "to": "US 8", "metal": "sterling", "shank": shank}))
    assert resized.section.side_mm == pytest.approx(made.section.side_mm)
    assert any("read as a D" in said for said in resized.warnings)


def test_a_hair_of_side_is_still_the_same_stock_and_a_swapped_pair_is_refused() -> None:
    wire = section_of(Stock(profile="half-round", width_mm=3.0, thickness_mm=1.5))
    assert same_section(wire, section_of(Stock(profile="half-round", width_mm=3.0, thickness_mm=1.51)))
    assert not same_section(wire, section_of(Stock(profile="half-round", width_mm=3.0, thickness_mm=1.7)))
    with pytest.raises(CraftError) as refused:
        section_of(Stock(profile="half-round", width_mm=1.8, thickness_mm=4.0))
    assert refused.value.field == "stock.thickness_mm"


@pytest.mark.parametrize("size", ["US 5", "US 6 1/4", "US 7 1/2", "US 9 3/4", "US 11"])
@pytest.mark.parametrize("centre", ["lobe", "notch"])
@pytest.mark.parametrize("pitch", ["2.5", "4.1", "6"])
def test_a_scallop_centred_on_a_lobe_or_a_notch_has_like_ends_at_any_size(size: str, centre: str, pitch: str) -> None:
    made = plan("patterned", match="size", centre=centre, repeat_mm=pitch, size=size)
    p, blank = float(pitch), made.blanks[0]
    assert made.repeats % 2 == (1 if centre == "lobe" else 0)
    kept = made.joint_repeat_mm + (made.repeats - 1) * p
    assert blank.cut_length_mm - 0.6 <= kept <= blank.cut_length_mm
    edges = sorted(line.path[0][0] for line in blank.drawing.lines if line.key.startswith("repeat"))
    middle = blank.cut_length_mm / 2
    mirrored = sorted(2 * middle - x for x in edges)
    assert edges == pytest.approx(mirrored, abs=1e-6)
    on_edge = min(abs(x - middle) for x in edges) < 1e-6
    assert on_edge == (centre == "notch")
    warned = any("repeat across the joint" in said for said in made.warnings)
    assert warned == (not p / 2 <= made.joint_repeat_mm <= 3 * p / 2)


def test_a_centre_goes_with_the_exact_size_alone() -> None:
    with pytest.raises(BadRequest) as refused:
        MAKE.read(style_order("patterned", centre="lobe"))
    assert refused.value.errors[0].field == "centre"


def test_tabs_stay_to_the_last() -> None:
    keys = [step.key for step in plan("patterned", edges="die-cut").route]
    last_on_the_mandrel = max(
        at for at, key in enumerate(keys) if key.startswith(("round", "read", "size", "solder"))
    )
    assert keys.index("tabs") > last_on_the_mandrel
    assert "tabs" not in [step.key for step in plan("patterned").route]


def test_two_rows_have_two_foot_lines_with_their_heights() -> None:
    made = plan("stamped", lines=["MARA", "2031"], letter_height_mm="1.8")
    step = next(one for one in made.route if one.key == "lay-out")
    feet = sorted({label.y_mm for label in made.blanks[0].drawing.labels}, reverse=True)
    assert all(f"{foot:.2f}" in step.do[0] for foot in feet)
    assert "2 foot lines" in step.title
    one = next(step for step in plan("stamped").route if step.key == "lay-out")
    assert "the foot line" in one.title


@pytest.mark.parametrize("high", ["0.00001", "0.4"])
def test_letters_that_no_punch_makes_are_refused(high: str) -> None:
    with pytest.raises((BadRequest, CraftError)) as refused:
        plan("stamped", letter_height_mm=high)
    problem = refused.value
    fields = [one.field for one in problem.errors] if isinstance(problem, BadRequest) else [problem.field]
    assert fields == ["letter_height_mm"]


def test_a_tapered_bar_that_ran_too_long_is_cut_off_both_ends_alike() -> None:
    step = next(one for one in plan("tapered").route if one.key == "measure-thinned")
    assert "Half of that off each end" in step.do[0]
    assert not any("off one end" in line for step in plan("tapered").route for line in step.do)


def test_a_few_hundredths_short_are_not_nought() -> None:
    needed = melt({"metal": "sterling", "blanks": [{"volume_mm3": 450}]}).mass_needed_g
    made = melt(
        {
            "metal": "sterling",
            "blanks": [{"volume_mm3": 450}],
            "have": [{"metal": "sterling", "mass_g": needed - 0.04}],
        }
    )
    assert made.says[0].startswith("0.04 g short")


@pytest.mark.parametrize("said", [9, 14, "18", 22, 24])
def test_a_karat_for_a_fineness_is_asked_about(said: object) -> None:
    with pytest.raises(BadRequest) as refused:
        alloy({"parts": [{"fineness": said, "mass_g": 5}], "target_fineness": 585})
    assert refused.value.errors[0].field == "parts.0.fineness"
    assert "karats?" in refused.value.errors[0].message
