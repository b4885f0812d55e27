"""Resizing as the contract writes it: the figures, the ways, what is refused and in which words."""

from __future__ import annotations

import io
import json
import math
from typing import Any

import pytest

from ringcraft.__main__ import run
from ringcraft.errors import BadRequest
from ringcraft.resize.asking import FEATURES, METHOD_KEYS, SCHOOLS
from ringcraft.resize.methods import METHODS
from ringcraft.schema import to_json
from tests.resizes import advice, came_in, figures, plan

DOWN = {
    "from_": "US 10 3/4",
    "to": "US 9",
    "shank": {"profile": "half-round", "width_mm": 4.115, "thickness_mm": 2.0},
}


def near(value: float) -> Any:
    return pytest.approx(value, abs=6e-4)


def test_a_ring_made_smaller_loses_what_the_ledger_says() -> None:
    made = plan(**DOWN)
    assert made.change_mm == near(-4.469)
    assert made.us_sizes == pytest.approx(-1.75)
    assert made.method == "take-out"
    told = figures(made)
    assert told["take_out_mm"] == near(4.249)
    assert told["mark_outside_mm"] == near(4.693)
    assert told["mark_inside_mm"] == near(3.922)
    assert told["piece_mm"] == near(3.809)
    assert math.fsum(term.mm for term in made.chosen.terms) == pytest.approx(told["take_out_mm"], abs=1e-9)
    assert [term.key for term in made.chosen.terms] == ["change", "saw"]


def test_a_ring_made_larger_needs_what_the_ledger_says() -> None:
    made = plan(method="add-stock")
    told = figures(made)
    assert told["insert_mm"] == near(1.597)
    assert told["insert_inside_mm"] == near(1.467)
    assert told["insert_outside_mm"] == near(1.727)
    assert told["insert_cut_mm"] == near(1.697)
    assert told["gap_mm"] == told["insert_mm"]
    assert told["end_angle_deg"] == pytest.approx(math.degrees(1.5967 / 9.2066 / 2), abs=0.01)
    blank = made.blanks[0]
    assert blank.formed_length_mm == near(1.597)
    # so short it is left straight: its outer edge is the longest, and its ends are squared before they are filed off it
    assert told["insert"] == "straight"
    assert blank.cut_length_mm == near(told["straight_outside_mm"] + 0.1)
    assert [term.key for term in blank.terms][-2:] == ["bevel", "trim"]


def test_passes_of_the_seams_lengthen_the_piece() -> None:
    plain, sawn = (figures(plan(method="add-stock", join={"seam_passes": n}))["insert_mm"] for n in (0, 2))
    assert sawn - plain == pytest.approx(4 * 0.22)


@pytest.mark.parametrize(("passes", "opened", "lost"), [(2, True, 0.44), (2, False, 0.66), (0, False, 0.22)])
def test_joining_it_again_loses_its_passes(passes: int, opened: bool, lost: float) -> None:
    made = plan(to="US 6", join={"saw_passes": passes}, seam_open=opened)
    assert made.method == "rejoin"
    assert advice(made)["rejoin"] == "do"
    assert figures(made)["lost_mm"] == pytest.approx(lost)
    assert figures(made)["lost_us_sizes"] == pytest.approx(lost / 2.5535, abs=1e-3)
    assert made.closes_mm == pytest.approx(made.wanted_mm - lost / math.pi)


def test_closer_than_a_twentieth_is_the_same_size() -> None:
    assert plan(from_="17.00 mm ID", to="17.015 mm ID").method == "rejoin"
    assert plan(from_="17.00 mm ID", to="17.017 mm ID").method == "stretch"


@pytest.mark.parametrize(("to", "times", "left"), [("US 5 7/8", 1, 0.22 - 0.3192), ("US 5 3/4", 2, 0.44 - 0.6384)])
def test_less_than_a_piece_is_only_sawn_through(to: str, times: int, left: float) -> None:
    made = plan(to=to, method="take-out")
    told = figures(made)
    assert (told["take_out_mm"], told["piece_mm"], told["saw_times"]) == (0, 0, times)
    assert told["left_mm"] == near(left)
    assert told["mark_outside_mm"] is None
    sawn = [deed for step in made.route for deed in step.does if deed.op in ("open", "saw-joint")]
    assert math.fsum(deed.takes_mm for deed in sawn) == pytest.approx(times * 0.22)  # type: ignore[union-attr]
    assert not [step for step in made.route if step.key in ("mark-out", "cut-out")]


def test_from_where_a_piece_comes_out() -> None:
    """Up to the passes and two kerfs there is no piece; a hair beyond, there is."""
    change = 3 * 0.22
    at = f"{17.0:.4f} mm ID"
    under, over = (f"{17.0 - (change + off) / math.pi:.5f} mm ID" for off in (-0.001, 0.001))
    assert figures(plan(from_=at, to=under, method="take-out"))["piece_mm"] == 0
    assert figures(plan(from_=at, to=over, method="take-out"))["piece_mm"] == near(0.001)


def test_a_cutter_is_the_largest_that_fits_between_the_lines() -> None:
    told = figures(plan(**DOWN, cutter_gaps_mm=[2.0, 2.5, 3.92, 4.0]))
    assert told["cutter_gap_mm"] == 3.92
    assert told["cutter_rest_mm"] == near(told["take_out_mm"] - 3.92)
    assert told["cutter_rest_outside_mm"] > told["cutter_rest_inside_mm"] > 0
    assert figures(plan(**DOWN, cutter_gaps_mm=[4.0]))["cutter_gap_mm"] is None


def test_whole_elements_of_a_pattern_and_the_sizes_they_give() -> None:
    made = plan(**DOWN, features=["pattern-all-round"], pattern={"pitch_mm": 2.5})
    told = figures(made)
    assert told["elements"] == 2
    assert told["element_error_us"] == pytest.approx((4.4686 - 5.0) / 2.5535, abs=1e-3)
    assert made.fits is not None
    for row in made.fits.rows:
        again = plan(**{**DOWN, "to": row.value}, features=["pattern-all-round"], pattern={"pitch_mm": 2.5})
        assert abs(again.change_mm) == pytest.approx(2.5 * int(row.cells[0]), abs=1e-3)
    outside = plan(**DOWN, features=["pattern-all-round"], pattern={"pitch_mm": 2.5, "at": "outside"})
    assert outside.fits is not None
    assert outside.fits.rows[0].value != made.fits.rows[0].value


def test_a_head_keeps_its_curve() -> None:
    made = plan(from_="US 9", to="US 7 1/4", head={"span_mm": 9.0})
    assert made.head is not None
    assert made.head.lift_mm == pytest.approx(0.107, abs=5e-4)
    assert made.head.angle_deg == pytest.approx(math.degrees(2 * math.asin(9 / 17.526)), abs=0.05)
    larger = plan(from_="US 7 1/4", to="US 9", head={"span_mm": 9.0}).head
    assert larger is not None
    assert larger.lift_mm == pytest.approx(-made.head.lift_mm)


def test_a_stretch_thins_the_thinnest_place_and_spares_the_head() -> None:
    plain, topped = plan(shank={"thinnest_mm": 1.3}), plan(shank={"thinnest_mm": 1.3}, head={"span_mm": 6.0})
    length = math.pi * (16.5068 + 1.5)
    assert figures(plain, "stretch")["strain"] == pytest.approx(1.2767 / length, abs=1e-5)
    assert figures(topped, "stretch")["strain"] == pytest.approx(1.2767 / (length - 6), abs=1e-5)
    for made in (plain, topped):
        told = figures(made, "stretch")
        assert told["thickness_after_mm"] * (1 + told["strain"]) == pytest.approx(1.3)


def test_a_new_lower_part_is_its_share_and_what_is_lost() -> None:
    made = plan(to="US 9", method="reshank", join={"blade": "4/0", "faces_mm": 0.1, "seam_passes": 1})
    told = figures(made)
    new = math.pi * (11.6332 + 9 * 0.8128 + 1.5)
    assert told["share"] in (0.5, 0.33)
    assert told["part_mm"] == near(told["share"] * new + 2 * 0.22 + 0.2 + 2 * 0.22)
    assert told["keep_mm"] == near((1 - told["share"]) * new)


@pytest.mark.parametrize(
    ("length", "at", "short"), [(1.0, "neutral", 0.5967), (1.0, "outside", 0.672), (3, "neutral", 0)]
)
def test_a_piece_at_hand_is_measured_against_the_need(length: float, at: str, short: float) -> None:
    made = plan(method="add-stock", piece={"length_mm": length, "at": at})
    told = figures(made)
    assert told["piece_short_mm"] == near(short)
    assert told["piece_short_us"] == near(short / 2.5535)
    said = "short: with it this ring would come out at" if short else "long enough"
    assert said in made.says[2]


def test_a_narrower_piece_is_said() -> None:
    made = plan(method="add-stock", piece={"length_mm": 2.0, "width_mm": 1.5, "thickness_mm": 1.0})
    assert any("narrower than what it takes" in why for why in made.chosen.why)
    assert any("thinner than what it takes" in why for why in made.chosen.why)
    assert made.says[2].startswith("The piece at hand does not serve: too narrow")
    assert "long enough" not in " ".join(made.says)


@pytest.mark.parametrize(
    "changes", [{"daylight": True}, {"from_sides": ["6", "6 3/8"]}], ids=["daylight", "sides apart"]
)
def test_a_size_that_cannot_be_believed_is_trued_first(changes: dict[str, Any]) -> None:
    made = plan(**changes)
    assert list(advice(made)) == ["true-first"]
    assert made.route[-1].key == "true-now"


def test_two_sides_close_enough_are_their_mean() -> None:
    made = plan(from_="6", from_sides=["6", "6 1/4"])
    assert made.change_mm == near(0.375 * 2.5535)


def test_a_half_round_thicker_than_half_its_width_is_a_d() -> None:
    made = plan(shank={"profile": "half-round", "width_mm": 3.0, "thickness_mm": 1.9})
    assert made.section.profile == "d"
    assert any("read as a D with sides of 0.40 mm" in line for line in made.warnings)
    exact = plan(shank={"profile": "half-round", "width_mm": 3.8, "thickness_mm": 1.9})
    assert exact.section.profile == "half-round"


def test_each_size_is_read_on_its_own_gauge() -> None:
    long = {"name": "peg", "scale": "us", "readings": [{"mark": str(n), "diameter_mm": 11.7332 + 0.8128 * n}
                                                       for n in (4, 7, 10)]}  # fmt: skip
    ideal = plan().change_mm
    both = plan(from_gauge=long, to_gauge=long)
    assert both.change_mm == pytest.approx(ideal)
    assert plan(to_gauge=long).change_mm - ideal == pytest.approx(0.1 * math.pi, abs=1e-6)
    assert plan(from_gauge=long).change_mm - ideal == pytest.approx(-0.1 * math.pi, abs=1e-6)
    assert both.sides.to_gauge == "peg"


REFUSED: list[tuple[dict[str, Any], str, str]] = [
    ({"from_": "nonsense"}, "from", "not a finger size"),
    ({"to": "US 40"}, "to", ""),
    ({"from_sides": ["6", "what"]}, "from_sides.1", ""),
    ({"shank": {"thinnest_mm": 1.6}}, "shank.thinnest_mm", "thicker than the shank"),
    ({"shank": {"width_mm": "", "profile": "rectangle"}}, "shank.width_mm", ""),
    ({"shank": {"thickness_mm": 9}}, "shank.thickness_mm", "cannot be bent"),
    ({"features": ["filled"], "metal": "platinum-950"}, "features.0", "cannot be"),
    ({"features": ["plated-base"]}, "features.0", "cannot be"),
    ({"features": ["filled", "plated-base"], "metal": "unknown"}, "features.0", "not one ring"),
    ({"features": ["glittering"]}, "features.0", "not a feature"),
    ({"features": ["hollow"], "method": "reshank"}, "method", "hollow"),
    ({"pattern": {"pitch_mm": 2}}, "pattern", "belongs to a pattern"),
    ({"head": {"span_mm": 17.0}}, "head.span_mm", "as wide as the ring"),
    ({"stones": [{"kind": "kryptonite"}]}, "stones.0.kind", "not a stone"),
    ({"stones": [{"kind": "ruby"}] * 13}, "stones", "More than 12 stones"),
    ({"method": "compress"}, "method", "does not come into it"),
    ({"method": "stretch", "to": "US 9"}, "override_reason", "Never"),
    ({"metal": "tungsten", "method": "add-stock", "override_reason": "she insists"}, "method", "No reason makes"),
    ({"to": "US 16", "from_": "US 3"}, "to", "another ring"),
    ({"piece": {"length_mm": 2, "at": "inside"}}, "piece.at", "neutral line or on the outside"),
    ({"tested": {"magnet": "perhaps"}}, "tested.magnet", "magnet"),
    ({"from_gauge": {"scale": "us", "readings": []}}, "from_gauge.readings", ""),
    ({"colour": "red"}, "colour", "not asked for"),
]


@pytest.mark.parametrize(("changes", "field", "said"), REFUSED, ids=[field for _, field, _ in REFUSED])
def test_what_cannot_be_is_refused_at_its_field(changes: dict[str, Any], field: str, said: str) -> None:
    with pytest.raises(BadRequest) as refused:
        plan(**changes)
    error = refused.value.errors[0]
    assert error.field == field
    assert said in error.message


def test_a_never_is_done_with_a_reason_that_stays_with_it() -> None:
    made = plan(features=["eternity"], method="take-out", to="US 5", override_reason=" her own wish ")
    assert advice(made)["take-out"] == "never"
    assert made.override == "her own wish"
    assert any("her own wish" in line for line in made.warnings)
    assert any(step.key == "cut-out" for step in made.route)
    assert plan(method="add-stock", override_reason="not needed").override == ""


def test_an_unknown_metal_is_tested_first() -> None:
    made = plan(metal="unknown", tested={"mark": "585", "magnet": "no"})
    assert made.route[0].key == "test-metal"
    assert "585" in made.route[0].do[1]
    torch = {key: said for key, said in advice(made).items() if METHODS[key].torch}
    assert set(torch.values()) <= {"avoid", "never"}
    soldered = plan(metal="unknown", method="add-stock")
    assert any("the test calls for" in step.title for step in soldered.route)


@pytest.mark.parametrize(("metal", "mark", "warns"), [
    ("gold-14k-yellow", "750", True), ("gold-14k-yellow", "585", False), ("gold-14k-yellow", "14 k", False),
    ("sterling", "925", False), ("sterling", "a crown", False), ("platinum-950", "Pt 850", True),
])  # fmt: skip
def test_a_mark_that_does_not_fit_its_metal_is_said(metal: str, mark: str, warns: bool) -> None:
    said = [line for line in plan(metal=metal, tested={"mark": mark}).warnings if "do not belong together" in line]
    assert bool(said) == warns


def test_a_magnet_that_pulls_is_said() -> None:
    assert any("magnet" in line for line in plan(tested={"magnet": "yes"}).warnings)


@pytest.mark.parametrize("metal", ["titanium", "steel", "tungsten", "ceramic"])
def test_a_metal_that_nobody_sizes_is_refused_with_what_can_be_done(metal: str) -> None:
    made = plan(metal=metal)
    assert made.method == "refuse"
    assert {said for key, said in advice(made).items() if key != "refuse"} == {"never"}
    assert "anew" in made.says[1]
    assert not any(step.torch for step in made.route)


def test_the_command_answers_what_the_contract_says() -> None:
    status, said = run("resize", io.StringIO(json.dumps(came_in())))
    assert status == 0
    answered: Any = said
    assert {"change_mm", "us_sizes", "methods", "stone_advice", "warnings", "head", "route"} <= set(answered)
    assert {one["key"] for one in answered["methods"]} <= set(METHOD_KEYS)
    for one in answered["methods"]:
        assert {"key", "advice", "why", "figures", "terms"} <= set(one)
        assert one["why"]
    status, said = run("resize", io.StringIO(json.dumps(came_in(to="?"))))
    assert status == 2


def test_an_order_comes_back_as_it_went() -> None:
    data = came_in(stones=[{"kind": "ruby", "glued": True}], features=list(FEATURES)[4:6], from_sides=["6", "6 1/8"],
                   tested={"mark": "585"}, piece={"length_mm": 2}, **{key: list(SCHOOLS[key])[1] for key in SCHOOLS})  # fmt: skip
    from ringcraft.resize.plan import read_resize

    order = read_resize(data)
    assert read_resize(to_json(order)) == order


def test_inches_are_told_in_inches() -> None:
    shank = {"profile": "rectangle", "width_mm": "0.08", "thickness_mm": "0.06"}
    made = plan(units="in", shank=shank, method="add-stock")
    assert (made.lead.figure, made.lead.unit) == (f"{figures(made)['insert_mm'] / 25.4:.3f}″", "in")
    texts = [*made.says, *made.warnings, *(line for step in made.route for line in (*step.do, step.title))]
    assert not [text for text in texts if " mm" in text]
    assert any("″" in text for text in texts)


def test_a_refusal_gives_the_reasons_that_nothing_else_is_good() -> None:
    made = plan(to="US 5", stones=[{"kind": "opal", "setting": "pave"}])
    assert made.method == "refuse"
    assert made.chosen.why[0].startswith("The opal would lie under water")
    assert not any("Not needed" in why for why in made.chosen.why)
    assert made.stones_set() == 0
    assert not any("set again" in risk for risk in made.risks)


def test_a_thinnest_place_that_nobody_read_is_not_said_to_have_been_given() -> None:
    def said(**shank: Any) -> str:
        return " ".join(plan(shank=shank).route[0].do)

    assert "was given as 1.40" in said(thinnest_mm=1.4)
    assert "Nobody has read its thinnest place" in said()


def test_a_ledger_adds_up_to_the_figure_that_leads() -> None:
    for changes in ({"to": "US 5"}, {"to": "US 7 1/2"}, {"to": "US 6"}, {"to": "US 8 1/2"}):
        made = plan(**changes)
        assert made.chosen.sum_text.lstrip("-") == made.lead.figure


@pytest.mark.parametrize(("changes", "share"), [
    ({"to": "US 8 1/2"}, 0.33), ({"to": "US 9"}, 0.33), ({"to": "US 9 1/4"}, 0.5),
    ({"to": "US 6 1/2", "shank": {"thinnest_mm": 0.9}}, 0.5), ({"to": "US 6 1/2", "shank": {"thinnest_mm": 1.0}}, 0.33),
])  # fmt: skip
def test_half_of_a_ring_is_replaced_where_it_is_thin_or_far(changes: dict[str, Any], share: float) -> None:
    assert figures(plan(**changes), "reshank")["share"] == share


@pytest.mark.parametrize(("metal", "leg", "kind", "wanted"), [
    ("gold-14k-yellow", 20.0, "garnet", "take it out"), ("gold-14k-yellow", 3.0, "ruby", "shield it"),
    ("gold-14k-yellow", 26.0, "diamond", "may stay"), ("gold-14k-yellow", 12.0, "diamond", "shield it"),
    ("sterling", 20.0, "garnet", "take it out"), ("sterling", 15.0, "ruby", "shield it"),
    ("platinum-950", 1.0, "diamond", "take it out"), ("platinum-950", 27.0, "diamond", "shield it"),
    ("gold-14k-yellow", 20.0, "topaz", "take it out"),
])  # fmt: skip
def test_what_a_stone_needs_by_kind_metal_and_leg(metal: str, leg: float, kind: str, wanted: str) -> None:
    """The heat model decides, the same for every metal: a hardy stone too may be too near."""
    made = plan(to="US 7 1/2", metal=metal, stones=[{"kind": kind, "from_joint_mm": leg}], method="add-stock")
    one = made.stone_advice[0]
    assert one.advice == wanted, one.why
    assert one.leg_mm == pytest.approx(leg - (0.22 + 0.1) / 2)  # from the seam, not from the middle of the cut


STRONG = [{"title": "big torch", "done": "flowed", "metal": "sterling", "mass_g": 400}]
WEAK = [{"title": "small torch", "done": "flowed", "metal": "gold-14k-yellow", "mass_g": 1}]


def test_the_schools_of_stones() -> None:
    far = {"to": "US 7 1/2", "head": {"span_mm": 4}}
    topaz = {**far, "stones": [{"kind": "topaz"}], "delicate_stones": "water"}
    wet = plan(**topaz, torches=STRONG)
    assert wet.stone_advice[0].advice == "in water"
    assert advice(wet)["add-stock"] == "possible"
    assert "a torch of the shop has flowed as much" in wet.stone_advice[0].why
    silver = plan(**topaz, metal="sterling", torches=STRONG)
    assert (silver.stone_advice[0].advice, advice(silver)["add-stock"]) == ("in water", "possible")
    assert "silver slumps sooner" in silver.stone_advice[0].why
    near = {**topaz, "stones": [{"kind": "topaz", "from_joint_mm": 18.5}], "head": None, "method": "add-stock"}
    boils = plan(**near, metal="sterling", torches=STRONG)
    assert boils.stone_advice[0].advice == "take it out"
    assert "counts as 100" in boils.stone_advice[0].why or "no water stays" in boils.stone_advice[0].why
    for torches, said in ((WEAK, "more than any torch"), ([], "of no torch it is known")):
        dry = plan(**topaz, torches=torches)
        assert dry.stone_advice[0].advice == "take it out"
        assert said in dry.stone_advice[0].why
    stuck = {**far, "stones": [{"kind": "topaz", "setting": "channel"}]}
    assert advice(plan(**stuck))["add-stock"] == "avoid"
    assert advice(plan(**stuck, torches=STRONG))["add-stock"] == "possible"
    assert advice(plan(**stuck, torches=WEAK))["add-stock"] == "never"
    treated = {**far, "stones": [{"kind": "ruby", "treated": True}]}
    assert plan(**treated).stone_advice[0].advice == "take it out"
    assert not plan(**treated).stone_advice[0].ultrasonic
    assert plan(**{**far, "to": "US 6 1/8", "method": "stretch", "override_reason": "x",
                   "stones": [{"kind": "opal"}]}).stone_advice[0].advice == "leave it cold"  # fmt: skip


def test_one_reason_for_how_far_it_is_stretched() -> None:
    why = next(one.why for one in plan(to="US 7 1/2").methods if one.key == "stretch")
    assert len([one for one in why if "% is more than" in one]) == 1
