"""What a plan takes from the drawer is what its own card says to cut, for every style."""

import json
from pathlib import Path
from typing import Any

import pytest

from ringcraft.commands import resize
from ringcraft.stock.wanted import stock_wanted
from ringcraft.styles import STYLES
from ringcraft.works import MAKE
from tests.orders import sheet_plan, style_plan


@pytest.mark.parametrize("style", STYLES)
def test_stock_and_length_are_those_of_the_first_cut_on_the_bench(style: str) -> None:
    plan = sheet_plan(style)
    for wanted in stock_wanted(plan):
        stock = plan.start[wanted.name]
        first = next(step for step in plan.route if step.key in wanted.cut_steps)
        after = first.after[wanted.name]
        assert after.length_mm == pytest.approx(wanted.length_mm, abs=0.3)  # its ends squared
        assert stock.length_mm >= wanted.length_mm
        assert wanted.thickness_mm == stock.thickness_mm
        assert wanted.width_mm <= stock.width_mm + 1e-9
        # the metal that is cut is the metal that is there: section times length
        assert wanted.section.area_mm2 * stock.length_mm == pytest.approx(stock.volume_mm3, rel=0.06)
    assert {one.name for one in stock_wanted(plan)} == {blank.name for blank in plan.blanks}


def test_a_folded_sheet_is_one_layer_in_the_drawer_and_a_textured_strip_is_not_thin_yet() -> None:
    folded = style_plan("folded", stock__thickness_mm="1.2", layers="2")
    (sheet,) = stock_wanted(folded)
    assert sheet.thickness_mm < folded.blanks[0].section.thickness_mm
    assert sheet.width_mm == pytest.approx(folded.blanks[0].width_mm)
    textured = style_plan("textured")
    (strip,) = stock_wanted(textured)
    assert strip.thickness_mm > textured.blanks[0].section.thickness_mm
    assert strip.length_mm > textured.blanks[0].cut_length_mm
    assert strip.cut_steps == ("rough-cut",)


def test_an_insert_is_held_against_what_it_comes_to() -> None:
    shank = {"profile": "half-round", "width_mm": 3.1, "thickness_mm": 1.4}
    plan = resize({"from": "US 6", "to": "US 7 1/4", "metal": "sterling", "shank": shank, "method": "add-stock"})
    (insert,) = stock_wanted(plan)
    assert insert.needs_mm == pytest.approx(plan.chosen.figures["insert_mm"])
    assert insert.length_mm == pytest.approx(plan.chosen.figures["insert_cut_mm"])


@pytest.mark.parametrize(
    "path", sorted(Path("tests/kept").glob("shape-[0-3]/*.json")), ids=lambda p: f"{p.parent.name}-{p.stem}"
)
def test_an_older_plan_tells_its_stock_or_nothing(path: Path) -> None:
    data: Any = json.loads(path.read_text())
    plan = MAKE.kept(data.get("plan", data))
    for wanted in stock_wanted(plan):
        blank = next(one for one in plan.blanks if one.name == wanted.name)
        assert wanted.length_mm == blank.cut_length_mm
        assert wanted.section.area_mm2 * wanted.length_mm >= blank.volume_mm3 * (1 - 1e-9)
        assert wanted.cut_steps
    if path.stem in ("folded", "textured"):
        assert stock_wanted(plan) == ()
