"""The joint before it is soldered: what comes next, what it costs, how much solder, what stays whole."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.joint.asking import ACROSS_VIEWS, SIDE_VIEWS
from ringcraft.metals import BLADES, METALS, SOLDERS
from ringcraft.schema import to_json
from ringcraft.sections import Stock, section_of
from tests.joints import BAR, WEDGE, look

PARALLEL = {"side": "parallel", "other-side": "parallel"}
HALF_ROUND = {"profile": "half-round", "width_mm": 5.0, "thickness_mm": 2.0}


@pytest.mark.parametrize(
    ("changes", "key"),
    [
        ({}, "solder"),
        ({"views": {"side": "light", "inside": "light"}, "gap_mm": 0.04}, "solder"),
        ({"views": PARALLEL, "gap_mm": 0.05}, "solder"),
        ({"views": PARALLEL, "gap_mm": 0.06}, "saw"),
        ({"views": PARALLEL, "gap_mm": 0.04, "metal": "gold-14k-yellow"}, "saw"),
        ({"views": PARALLEL, "gap_mm": 0.02, "metal": "platinum-950"}, "saw"),
        ({"views": PARALLEL}, "saw"),
        ({"gap_mm": 0.3}, "saw"),
        ({"views": WEDGE, "gap_mm": 0.5}, "bend"),
        ({"views": WEDGE, "gap_mm": 0.5, "tried": ["bend"]}, "file"),
        ({"views": WEDGE, "gap_mm": 0.5, "tried": ["bend", "file"]}, "saw"),
        ({"views": WEDGE, "gap_mm": 0.5, "tried": ["bend", "saw"]}, "file"),
        ({"views": {"side": "wedge-in", "other-side": "wedge-in"}, "gap_mm": 0.2}, "bend"),
        ({"views": {"side": "parallel"}, "gap_mm": 0.2}, "bend"),
        ({"views": {"top": "wedge-left"}, "gap_mm": 0.2}, "bend"),
        ({"views": WEDGE, "gap_mm": 0.5, "own_spring": False}, "close"),
        ({"step_mm": 0.16}, "solder"),
        ({"step_mm": 0.17, "own_spring": False}, "realign"),
        ({"step_mm": -0.17}, "realign"),
        ({"step_mm": 0.17, "twist_deg": 2}, "twist"),
        ({"twist_deg": -1}, "twist"),
    ],
)
def test_what_comes_next_in_the_order_of_the_contract(changes: dict[str, Any], key: str) -> None:
    answer = look(**changes)
    assert answer.next.key == key
    assert answer.sound is (key == "solder")


@pytest.mark.parametrize(
    ("changes", "file_mm", "saw_mm"),
    [
        ({"views": WEDGE, "gap_mm": 0.6}, 0.30, 0.66),
        ({"views": {"side": "wedge-in", "other-side": "wedge-in"}, "gap_mm": 0.6}, 0.30, 0.66),
        ({"views": {"inside": "wedge-right"}, "gap_mm": 0.4}, 0.20, 0.44),
        ({"views": WEDGE, "gap_mm": 0.6, "stock": HALF_ROUND}, None, 0.66),
        ({"views": WEDGE, "gap_mm": 0.5, "blade": "8/0"}, 0.25, 0.64),
    ],
)
def test_what_file_and_saw_cost_at_a_wedge(changes: dict[str, Any], file_mm: float | None, saw_mm: float) -> None:
    answer = look(**changes)
    costs = {one.key: one.costs_mm for one in answer.alternatives}
    if file_mm is None:  # open outside: g (1 - e/t), with e of the section itself
        section = section_of(Stock(**HALF_ROUND))
        file_mm = 0.6 * (1 - section.neutral_mm / section.thickness_mm)
        assert file_mm > 0.3
    assert costs["file"] == pytest.approx(file_mm)
    assert costs["saw"] == pytest.approx(saw_mm)
    assert f"{file_mm:.2f}" in answer.instead
    assert f"{saw_mm:.2f}" in answer.instead


def test_a_pass_costs_a_kerf_and_the_size_falls() -> None:
    answer = look(views=PARALLEL, gap_mm=0.2)
    assert answer.next.costs_mm == pytest.approx(0.22)
    assert answer.next.us_sizes == pytest.approx(0.22 / (math.pi * 0.8128))
    after = look(passes_made=2, passes_planned=1)
    assert after.closes_mm == pytest.approx(16.6 - 0.22 / math.pi)
    filed = look(passes_made=1, passes_planned=2, filed_mm=0.1, blade="2/0")
    assert filed.closes_mm == pytest.approx(16.6 - (0.1 - 0.26) / math.pi)


@pytest.mark.parametrize(("gap", "chips"), [(0.05, 2), (0.2, 8), (0.0, 2), (0.02, 2)])
def test_chips_of_a_half_round(gap: float, chips: int) -> None:
    answer = look(stock=HALF_ROUND, gap_mm=gap)
    assert answer.chips == chips
    assert ("close it instead" in answer.chip_reason) is (gap > 0.05)


def test_chips_by_another_way() -> None:
    """By hand: 4 x 1.6, 0.05 wide and a third more is 0.416 mm3; a chip of 0.5 x 0.5 x 0.2 is 0.05."""
    answer = look(gap_mm=0.05, chip={"length_mm": 0.5, "width_mm": 0.5, "thickness_mm": 0.2})
    assert answer.chips == 9
    wire = next(one for one in answer.amounts if one.form == "wire")
    assert float(wire.title.split(" ")[0]) == pytest.approx(0.416 / (math.pi * 0.25**2), abs=0.06)
    assert [one.form for one in answer.amounts] == ["chips", "sheet", "wire", "paste"]


def test_margins_of_the_seams_against_this_flow() -> None:
    seams = [
        {"key": "a", "solder": "silver-hard"},
        {"key": "b", "solder": "silver-medium", "guarded": True},
        {"key": "c"},
        {"key": "d", "melts_c": 900},
    ]
    answer = look(solder="silver-easy", seams=seams)
    margins = {one.key: one.margin_c for one in answer.seams}
    assert margins == {"a": 25, "b": 0, "c": None, "d": 180}
    assert {one.key: one.holds for one in answer.seams} == {"a": "unsure", "b": "no", "c": "unsure", "d": "yes"}
    assert "it is coated" in next(one.says for one in answer.seams if one.key == "b")
    assert answer.solidus_margin_c == 80
    assert "silver extra-easy" in next(one.says for one in answer.seams if one.key == "b")
    again = look(solder="silver-hard", seams=[{"key": "a", "solder": "silver-hard"}])
    assert again.seams[0].margin_c == -45
    assert "45 below" in again.seams[0].says


def test_a_solder_that_flows_just_where_the_metal_melts_is_refused() -> None:
    own = {"metals": [{"metal": "sterling", "solidus_c": 790}]}
    with pytest.raises(BadRequest) as caught:
        look(solder="silver-hard", own=own)
    assert caught.value.errors[0].field == "solder"
    assert look(solder="silver-medium", own=own).solidus_margin_c == 25


def test_a_metal_without_flux_has_no_paste() -> None:
    assert [one.form for one in look(metal="platinum-950").amounts] == ["chips", "sheet", "wire"]


def test_gold_of_a_lower_grade_stays_by_its_grade() -> None:
    answer = look(metal="gold-14k-yellow", solder="gold-14k-yellow-easy", seams=[
        {"key": "a", "solder": "gold-14k-yellow-hard"}, {"key": "b", "solder": "gold-14k-yellow-easy"}])  # fmt: skip
    assert "by its grade it stays" in answer.seams[0].says
    assert "nobody knows" in answer.seams[1].says
    assert answer.solidus_margin_c is None


@pytest.mark.parametrize(
    ("changes", "must", "never"),
    [
        ({"views": WEDGE, "gap_mm": 0.5}, ("open outside", "opposite the joint", "no metal"), ("did not close",)),
        ({"views": WEDGE, "gap_mm": 0.5, "tried": ["bend"]}, ("did not close it", "touch by now"), ("tweak",)),
        ({"views": {"side": "wedge-in", "other-side": "wedge-in"}, "gap_mm": 0.2}, ("open inside", "pinch"), ("tweak",)),
        ({"views": {"top": "wedge-left"}, "gap_mm": 0.2}, ("open to one edge", "parallel pliers"), ("opposite",)),
        ({"views": PARALLEL, "gap_mm": 0.2}, ("even gap of 0.20", "bears 0.05"), ("push it shut", "No view")),
        ({"views": PARALLEL, "gap_mm": 0.4}, ("push it shut first",), ()),
        ({"views": PARALLEL}, ("can be seen",), ("0.00",)),
        ({"gap_mm": 0.3}, ("No view shows it", "0.30"), ()),
        ({"step_mm": 0.3}, ("step of 0.30", "tenth of 1.60"), ("file it",)),
        ({"twist_deg": 3}, ("3 degrees", "never across a set stone"), ()),
        ({"own_spring": False}, ("hold itself shut",), ()),
        ({}, ("No gap, no step, no twist",), ("light",)),
        ({"views": {"side": "light"}, "gap_mm": 0.03}, ("No more light",), ("No gap",)),
    ],
)  # fmt: skip
def test_what_is_said_is_true_of_the_case(
    changes: dict[str, Any], must: tuple[str, ...], never: tuple[str, ...]
) -> None:
    says = look(**changes).next.says
    assert all(words in says for words in must), says
    assert not any(words in says for words in never), says


def test_passes_left_before_it_is_half_a_size_small() -> None:
    answer = look(wanted_mm=16.6)
    assert answer.passes_left == math.floor(math.pi * 0.8128 / 2 / 0.22)
    assert f"{answer.passes_left} more" in answer.pass_says
    assert look(wanted_mm=17.1).passes_left == 0
    assert "not one more" in look(wanted_mm=17.1).pass_says
    assert look().pass_says == ""
    vee = look(wanted_mm=16.6, inside=19.6, later_mm=-3.0)
    assert vee.passes_left == answer.passes_left
    assert vee.closes_text == answer.closes_text


def test_sizes_are_told_on_the_gauge_that_it_is_read_on() -> None:
    readings = [{"mark": n, "diameter_mm": 11.63 + 0.8128 * float(n) + 0.41} for n in ("4", "7", "10")]
    gauge = {"name": "peg", "scale": "us", "readings": readings}
    own, ideal = look(gauge=gauge, wanted_mm=16.6), look(wanted_mm=16.6)
    assert (ideal.closes_text, own.closes_text) == ("US 6 1/8", "US 5 5/8")
    assert "US 5 5/8" in own.pass_says
    assert own.passes_left == ideal.passes_left
    assert look(gauge={**gauge, "scale": "uk"}).closes_text == "US 6 1/8"


def test_inches_are_read_and_written() -> None:
    answer = look(units="in", gap_mm="0.02", views=PARALLEL, stock={"profile": "square", "thickness_mm": "0.08"})
    assert "0.020″" in answer.next.says
    assert answer.pass_text == "0.009″"
    assert "″" in answer.amounts[0].title


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"gap_mm": 11}, "gap_mm"),
        ({"gap_mm": "wide"}, "gap_mm"),
        ({"step_mm": -6}, "step_mm"),
        ({"filed_mm": 12}, "filed_mm"),
        ({"twist_deg": 60}, "twist_deg"),
        ({"twist_deg": "9" * 400}, "twist_deg"),
        ({"views": {"side": "wedge-left"}}, "views.side"),
        ({"views": {"inside": "wedge-out"}}, "views.inside"),
        ({"passes_made": 13}, "passes_made"),
        ({"solder": "platinum-1500"}, "solder"),
        ({"solder": "tin"}, "solder"),
        ({"inside": 2}, "ring.inside_diameter_mm"),
        ({"inside": 400}, "ring.inside_diameter_mm"),
        ({"stock": {"profile": "square", "thickness_mm": 9}}, "ring.stock.thickness_mm"),
        ({"stock": {"profile": "half-round", "thickness_mm": 2}}, "ring.stock.width_mm"),
        ({"chip": {"length_mm": 40}}, "chip.length_mm"),
        ({"chip": {"thickness_mm": 0.001}}, "chip.thickness_mm"),
        ({"seams": [{"key": "a"}] * 41}, "seams"),
        ({"seams": [{"key": "a\ud800"}]}, "seams.0.key"),
        ({"tried": ["prayer"]}, "tried.0"),
        ({"metal": "cheese"}, "metal"),
        ({"wedge": 1}, "wedge"),
    ],
)
def test_bad_input_is_named_at_its_field(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as caught:
        look(**changes)
    assert [one.field for one in caught.value.errors] == [field]
    assert caught.value.errors[0].message


VIEWS = st.fixed_dictionaries(
    {
        "side": st.sampled_from(list(SIDE_VIEWS)),
        "other-side": st.sampled_from(list(SIDE_VIEWS)),
        "top": st.sampled_from(list(ACROSS_VIEWS)),
        "under": st.sampled_from(list(ACROSS_VIEWS)),
        "inside": st.sampled_from(list(ACROSS_VIEWS)),
    }
)
STOCKS = st.sampled_from([BAR, HALF_ROUND, {"profile": "round", "thickness_mm": 2.2},
                          {"profile": "court", "width_mm": 5.0, "thickness_mm": 1.8}])  # fmt: skip


@given(
    views=VIEWS, gap=st.floats(0, 3), step=st.floats(0, 1), twist=st.integers(0, 20), spring=st.booleans(),
    passes=st.integers(0, 6), filed=st.floats(0, 1), stock=STOCKS, metal=st.sampled_from(list(METALS)),
    blade=st.sampled_from(list(BLADES)), tried=st.lists(st.sampled_from(["bend", "file", "saw"]), max_size=3),
)  # fmt: skip
def test_whatever_is_seen_there_is_one_next_step_and_it_costs_what_it_takes(
    views: Any, gap: float, step: float, twist: int, spring: bool, passes: int, filed: float, stock: Any, metal: str,
    blade: str, tried: list[str],
) -> None:  # fmt: skip
    asked = {"views": views, "gap_mm": gap, "step_mm": step, "twist_deg": twist, "own_spring": spring, "tried": tried,
             "passes_made": passes, "filed_mm": filed, "stock": stock, "metal": metal, "blade": blade}  # fmt: skip
    answer = look(**asked)
    assert 0 <= answer.next.costs_mm <= max(gap, BLADES[blade]) + BLADES[blade]
    assert answer.chips >= 1
    assert answer.closes_mm == pytest.approx(16.6 - ((passes - 1) * BLADES[blade] + filed) / math.pi)
    for one in answer.alternatives:
        assert 0 <= one.costs_mm <= gap + BLADES[blade]
    if answer.sound:
        assert twist == 0
        assert gap <= METALS[metal].of_family.fit_mm
        assert "wedge" not in str(views)
    said = str(to_json(answer))
    assert "nan" not in said.lower()
    wider = look(**{**asked, "gap_mm": gap + 0.5})
    assert wider.chips >= answer.chips or gap == 0
    assert not (wider.sound and not answer.sound)


@given(flows=st.sampled_from([one.key for one in SOLDERS.values() if one.series == "silver"]),
       melts=st.floats(500, 1000))  # fmt: skip
def test_a_hotter_solder_never_leaves_more_margin(flows: str, melts: float) -> None:
    order = ["silver-hard", "silver-medium", "silver-easy", "silver-extra-easy"]
    rank = {"no": 0, "unsure": 1, "yes": 2}
    answers = [look(solder=key, seams=[{"key": "a", "melts_c": melts}]).seams[0] for key in order]
    assert [one.margin_c for one in answers] == sorted(one.margin_c or 0.0 for one in answers)
    assert [rank[one.holds] for one in answers] == sorted(rank[one.holds] for one in answers)
