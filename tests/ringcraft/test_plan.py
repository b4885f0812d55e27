import json
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.metals import BLADES, METALS
from ringcraft.planning.ledger import round_for
from ringcraft.planning.rules import RULES
from ringcraft.schema import to_json
from ringcraft.sections import PROFILES
from tests.orders import STOCKS, order, plan

profiles = pytest.mark.parametrize("profile", PROFILES)


def test_every_profile_has_a_stock_here() -> None:
    assert set(STOCKS) == set(PROFILES)


@pytest.mark.sweep
@profiles
@given(data=st.data())
def test_the_terms_add_up_to_the_cut_length(profile: str, data: st.DataObject) -> None:
    made = plan(
        profile,
        size=f"{data.draw(st.floats(14, 24)):.3f} mm ID",
        rule=data.draw(st.sampled_from(list(RULES))),
        leave=data.draw(st.sampled_from(["small", "exact", "large"])),
        round_to_mm=data.draw(st.sampled_from([0, 0.05, 0.1, 0.5])),
        join={
            "saw_passes": data.draw(st.integers(0, 3)),
            "blade": data.draw(st.sampled_from(list(BLADES))),
            "file_passes": data.draw(st.integers(0, 2)),
            "trim_mm": data.draw(st.floats(0, 2)),
        },
    )
    blank = made.blanks[0]
    assert math.fsum(term.mm for term in blank.terms) == pytest.approx(blank.cut_length_mm, abs=1e-9)
    assert blank.formed_length_mm == pytest.approx(sum(term.mm for term in blank.terms[:2]))
    assert blank.stretches[-1].to_mm >= blank.cut_length_mm - 1e-9
    assert blank.marks[-1].x_mm == blank.cut_length_mm
    assert blank.mass_g == pytest.approx(METALS["sterling"].density_g_cm3 * blank.volume_mm3 / 1000)
    json.dumps(to_json(made), allow_nan=False)


@pytest.mark.sweep
@profiles
@given(data=st.data())
def test_length_grows_with_size_and_with_thickness(profile: str, data: st.DataObject) -> None:
    inside = data.draw(st.floats(14, 23))
    rule = data.draw(st.sampled_from(["centroid", "mean-diameter", "three-thickness"]))
    exact: dict[str, Any] = {"rule": rule, "leave": "exact", "round_to_mm": 0}

    def length(grow_mm: float, share: float) -> float:
        stock = {"thickness_mm": STOCKS[profile]["thickness_mm"] * share}
        return plan(profile, size=f"{inside + grow_mm} mm ID", stock=stock, **exact).blanks[0].cut_length_mm

    base = length(0, 0.9)
    assert length(0.05, 0.9) == pytest.approx(base + math.pi * 0.05)
    assert length(0, 0.95) > base


@profiles
def test_the_centroid_lies_inside_and_the_rules_differ_as_they_should(profile: str) -> None:
    made = plan(profile, leave="exact", round_to_mm=0, join={"saw_passes": 0})
    section, target = made.section, made.target
    assert 0 < section.neutral_mm < section.thickness_mm
    assert made.by_rule["bare-chart"] == pytest.approx(target.circumference_mm)
    assert made.by_rule["centroid"] == pytest.approx(math.pi * (target.inside_diameter_mm + 2 * section.neutral_mm))
    assert made.by_rule["mean-diameter"] == pytest.approx(
        math.pi * (target.inside_diameter_mm + section.thickness_mm)
    )
    assert made.closing.inside_diameter_mm == pytest.approx(target.inside_diameter_mm)
    if profile in ("half-round", "d", "triangle"):
        assert made.by_rule["centroid"] < made.by_rule["mean-diameter"]
    else:
        assert made.by_rule["centroid"] == pytest.approx(made.by_rule["mean-diameter"])


def test_each_policy_leaves_its_costly_side_at_one_in_ten() -> None:
    small, exact, large = (plan(leave=leave, round_to_mm=0) for leave in ("small", "exact", "large"))
    wanted = exact.target.inside_diameter_mm
    assert exact.closing.inside_diameter_mm == pytest.approx(wanted)
    assert small.closing.high_mm == pytest.approx(wanted)
    assert large.closing.low_mm == pytest.approx(wanted)
    spread = small.closing.spread
    assert spread.bias_mm == pytest.approx(1.2816 * spread.sd_mm, rel=1e-4)  # normal quantile of 0.9, any table
    assert spread.sd_mm == pytest.approx(math.hypot(*(cause.sd_mm for cause in spread.causes)))


@given(st.floats(30, 90), st.sampled_from([0.05, 0.1, 0.5]))
def test_rounding_goes_the_way_of_the_policy(length: float, step: float) -> None:
    small, large = round_for(length, step, "small"), round_for(length, step, "large")
    assert small <= length + 1e-6
    assert large >= length - 1e-6
    assert large - small <= step + 1e-9
    assert round_for(length, step, "exact") in (pytest.approx(small), pytest.approx(large))


def test_a_wrong_rule_is_followed_and_its_consequence_told() -> None:
    made = plan(rule="bare-chart", leave="exact")
    assert made.blanks[0].formed_length_mm == pytest.approx(made.target.circumference_mm)
    assert made.closing.inside_diameter_mm < made.target.inside_diameter_mm - 1
    assert "by the neutral line nearly every one closes too small" in made.closing.says
    assert any("bare chart" in line for line in made.warnings)
    assert made.finished.by == "left"  # too far to stretch


def test_trim_is_cut_and_taken_off_again() -> None:
    plain, trimmed = plan(leave="exact", round_to_mm=0), plan(leave="exact", round_to_mm=0, join={"trim_mm": 1})
    assert trimmed.blanks[0].cut_length_mm == pytest.approx(plain.blanks[0].cut_length_mm + 1)
    assert trimmed.closing.inside_diameter_mm == pytest.approx(plain.closing.inside_diameter_mm)
    assert [mark.key for mark in trimmed.blanks[0].marks] == ["trim", "cut"]


def test_own_rule_needs_a_correction_and_adds_it() -> None:
    made = plan(rule="own", own_correction_mm=0.4)
    assert made.by_rule["own"] == pytest.approx(made.by_rule["centroid"] + 0.4)


def test_the_answer_names_its_defaults() -> None:
    assert set(plan().used.defaulted) == {"rule", "join", "leave", "round_to_mm"}
    assert plan().used.leave == "small"
    assert plan(leave="exact").used.defaulted == ("rule", "join", "round_to_mm")


@pytest.mark.sweep
@pytest.mark.parametrize("metal", METALS)
def test_every_metal_and_profile_has_a_whole_route(metal: str) -> None:
    for profile in PROFILES:
        for saw in (0, 1):
            made = plan(profile, metal=metal, join={"saw_passes": saw, "trim_mm": saw})
            keys = [step.key for step in made.route]
            assert len(keys) == len(set(keys))
            assert keys[0] == "measure-stock"
            assert keys[-1] == "hand-over"
            assert {"open", "closed"} <= {step.becomes for step in made.route}


def test_stations_come_in_the_order_of_the_bench() -> None:
    order_of = {name: i for i, name in enumerate(("measure", "cut", "anneal", "form", "join", "pickle", "round"))}
    seen = [
        order_of[step.station] for step in plan().route if step.station in order_of and step.key != "pickle-annealed"
    ]
    assert seen == sorted(seen)


def test_platinum_is_neither_fluxed_nor_pickled_and_silver_is() -> None:
    assert "pickle" not in {step.key for step in plan(metal="platinum-950").route}
    assert "pickle" in {step.key for step in plan(metal="sterling").route}


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"size": ""}, "size"),
        ({"size": "US 40"}, "size"),
        ({"size": None}, "size"),
        ({"size": []}, "size"),
        ({"metal": "mithril"}, "metal"),
        ({"metal": 7}, "metal"),
        ({"style": "moebius"}, "style"),
        ({"style": 3}, "style"),
        ({"stock": {"profile": "hexagon"}}, "stock.profile"),
        ({"stock": {"thickness_mm": "0"}}, "stock.thickness_mm"),
        ({"stock": {"thickness_mm": -1}}, "stock.thickness_mm"),
        ({"stock": {"thickness_mm": "💍"}}, "stock.thickness_mm"),
        ({"stock": {"thickness_mm": float("nan")}}, "stock.thickness_mm"),
        ({"stock": {"thickness_mm": 4.5}}, "stock.thickness_mm"),
        ({"stock": {"thickness_mm": 0.01}}, "stock.thickness_mm"),
        ({"stock": {"width_mm": None}}, "stock.width_mm"),
        ({"stock": {"width_mm": 90}}, "stock.width_mm"),
        ({"stock": {"width_mm": "wide"}}, "stock.width_mm"),
        ({"stock": {"depth_mm": 2}}, "stock.depth_mm"),
        ({"rule": "guess"}, "rule"),
        ({"rule": "own"}, "rule"),
        ({"leave": "loose"}, "leave"),
        ({"join": {"blade": "9/0"}}, "join.blade"),
        ({"join": {"saw_passes": -1}}, "join.saw_passes"),
        ({"join": {"saw_passes": "often"}}, "join.saw_passes"),
        ({"join": {"saw_passes": 1.5}}, "join.saw_passes"),
        ({"join": {"saw_passes": "²"}}, "join.saw_passes"),
        ({"join": {"trim_mm": 50}}, "join.trim_mm"),
        ({"join": 4}, "join"),
        ({"round_to_mm": 5}, "round_to_mm"),
        ({"round_to_mm": float("inf")}, "round_to_mm"),
        ({"home_scale": "moon"}, "home_scale"),
        ({"gold": True}, "gold"),
    ],
)
def test_bad_input_names_its_field(changes: dict[str, Any], field: str) -> None:
    from ringcraft.errors import BadRequest

    with pytest.raises(BadRequest) as caught:
        plan(**changes)
    assert caught.value.errors[0].field == field
    assert caught.value.errors[0].message


@pytest.mark.parametrize(
    ("profile", "stock", "field"),
    [
        ("rectangle", {"thickness_mm": 17, "width_mm": 20}, "stock.thickness_mm"),
        ("round", {"thickness_mm": 2, "width_mm": 3}, "stock.width_mm"),
        ("d", {"side_mm": 2.0}, "stock.side_mm"),
        ("d", {"side_mm": 0.1, "width_mm": 2, "thickness_mm": 2}, "stock.thickness_mm"),
        ("court", {"side_mm": 1.7}, "stock.side_mm"),
    ],
)
def test_sections_that_cannot_exist_are_refused(profile: str, stock: dict[str, Any], field: str) -> None:
    from ringcraft.errors import BadRequest

    with pytest.raises(BadRequest) as caught:
        plan(profile, stock=stock)
    assert caught.value.errors[0].field == field


@pytest.mark.parametrize("ugly", [None, 3, "x", [], [order()], {"stock": None}, {}])
def test_what_is_no_order_is_refused(ugly: object) -> None:
    from ringcraft.errors import BadRequest
    from ringcraft.styles import ring

    with pytest.raises(BadRequest):
        ring(ugly)
