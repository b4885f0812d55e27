"""The mill: area times length stays at every pass, an anneal stands where it is due, and the bar stops where it should."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.metals import METALS
from ringcraft.stock.mill.passes import MillPlan, mill
from ringcraft.stock.mill.thinning import thin
from tests.slices import tries


def rolled(start: float, end: float, length: float | None = 40.0, **more: object) -> MillPlan:
    return mill(
        {
            "metal": "sterling",
            "start": {"profile": "square", "thickness_mm": start, "length_mm": length},
            "target": {"profile": "square", "thickness_mm": end},
            **more,
        }
    )


@settings(max_examples=tries(80), deadline=None)
@given(
    st.floats(1.5, 12), st.floats(0.2, 0.95), st.floats(10, 300), st.floats(0.03, 0.3), st.floats(0.3, 0.8), st.floats(0, 0.9)
)  # fmt: skip
def test_volume_is_kept_and_anneals_are_in_time(
    start: float, share: float, length: float, per_pass: float, anneal_at: float, worked: float
) -> None:
    plan = rolled(
        start, start * share, length, reduction_per_pass=per_pass, anneal_at=anneal_at, worked_so_far=worked
    )
    since = (1 - worked) * 1.0
    area = start**2
    for one in plan.passes:
        now = one.width_mm * one.thickness_mm
        assert now * one.length_mm == pytest.approx(start**2 * length, rel=1e-9)
        assert 1 - now / area <= per_pass + 1e-9
        due = 1 - since * now / area > anneal_at + 1e-9
        assert one.anneal_before == due
        since = (1.0 if due else since) * now / area
        assert one.area_reduction_since_anneal == pytest.approx(1 - since, abs=1e-9)
        assert one.area_reduction_since_anneal <= anneal_at + 1e-6 or one.n == 1
        area = now
    assert plan.passes[-1].thickness_mm == pytest.approx(start * share)
    assert plan.length_mm == pytest.approx(length / share**2)
    # one pass fewer would not do
    assert (1 - per_pass) ** (len(plan.passes) - 1) > share**2 * (1 - 1e-6)


def test_a_poured_rod_down_to_shank_wire_takes_four_or_five_anneals() -> None:
    """Common practice, no published source."""
    assert rolled(8, 2, anneal_at=0.5).anneals == 4
    poured = rolled(8, 2, poured=True)
    assert poured.anneals in (4, 5)
    assert any("Poured metal" in said for said in poured.says)


def test_half_way_the_rest_is_planned_from_what_is_measured() -> None:
    whole = rolled(8, 2)
    sixth = whole.passes[5]
    now = {"profile": "square", "thickness_mm": sixth.thickness_mm}
    rest = rolled(8, 2, now=now)
    # measured as planned, what is left is what was planned
    assert [round(one.thickness_mm, 6) for one in rest.passes] == [
        round(one.thickness_mm, 6) for one in whole.passes[6:]
    ]
    assert [one.anneal_before for one in rest.passes] == [one.anneal_before for one in whole.passes[6:]]
    assert rest.now is not None
    assert rest.now.length_mm == pytest.approx(sixth.length_mm)
    assert rest.length_mm == pytest.approx(whole.length_mm)
    thinner = rolled(8, 2, now={"profile": "square", "thickness_mm": 5.1})
    assert thinner.now is not None
    assert thinner.now.worked == pytest.approx(1 - 5.1**2 / sixth.area_mm2)
    assert thinner.now.says == "It is 26.01 mm² now, 98.4 mm long by its volume: 18 passes and 3 anneals left."


@pytest.mark.parametrize(
    ("now", "field"),
    [
        ({"profile": "square", "thickness_mm": 8.2}, "now.thickness_mm"),
        ({"profile": "square", "thickness_mm": 1.9}, "now.thickness_mm"),
        ({"profile": "square", "thickness_mm": 5, "length_mm": 130}, "now.length_mm"),
    ],
)
def test_what_cannot_be_on_the_way_is_refused(now: dict[str, object], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        rolled(8, 2, now=now)
    assert refused.value.errors[0].field == field


def test_a_wanted_length_says_how_long_a_bar_to_pour() -> None:
    plan = mill(
        {
            "metal": "gold-18k-yellow",
            "start": {"profile": "square", "thickness_mm": 5, "length_mm": 20},
            "target": {"profile": "square", "thickness_mm": 2.5, "length_mm": 84},
        }
    )
    assert plan.start_length_needed_mm == pytest.approx(21)
    assert plan.start_mass_needed_g == pytest.approx(21 * 25 * 15.5 / 1000, rel=0.02)
    assert "The bar is 1.0 mm short of that." in plan.says
    assert any("21.0 mm of the bar, 8." in said and "run out to 84.0." in said for said in plan.says)


def test_a_strip_keeps_its_width() -> None:
    plan = mill(
        {
            "metal": "sterling",
            "start": {"profile": "sheet", "width_mm": 6, "thickness_mm": 2, "length_mm": 50},
            "target": {"profile": "sheet", "width_mm": 6, "thickness_mm": 1},
        }
    )
    assert {one.width_mm for one in plan.passes} == {6}
    assert plan.length_mm == pytest.approx(100)
    assert plan.passes[0].rolls == "flat rolls"


def test_profile_rolls_come_last_from_a_bar_that_fills_them() -> None:
    plan = mill(
        {
            "metal": "sterling",
            "start": {"profile": "square", "thickness_mm": 4, "length_mm": 30},
            "target": {"profile": "half-round", "width_mm": 3, "thickness_mm": 1.5},
        }
    )
    half_round = math.pi * 1.5**2 / 2
    assert [one.rolls for one in plan.passes].count("profile rolls") == 1
    assert plan.passes[-1].rolls == "profile rolls"
    assert plan.profile_from is not None
    wide, thick = plan.profile_from.width_mm or 0, plan.profile_from.thickness_mm
    assert 0.9 * 3 <= wide <= 3
    assert thick >= 1.5
    assert wide * thick >= half_round
    assert plan.length_mm == pytest.approx(30 * 16 / half_round)
    assert plan.passes[-1].area_mm2 == pytest.approx(half_round)


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"reduction_per_pass": 0.6}, "reduction_per_pass"),
        ({"reduction_per_pass": 0}, "reduction_per_pass"),
        ({"anneal_at": 1}, "anneal_at"),
        ({"target": {"profile": "square", "thickness_mm": 4}}, "target.thickness_mm"),
        ({"target": {"profile": "square", "thickness_mm": 9}}, "target.thickness_mm"),
        ({"mode": "strip"}, "mode"),
        ({"mode": "sideways"}, "mode"),
        ({"start": {"profile": "square", "thickness_mm": 400}}, "start.thickness_mm"),
        ({"start": {"profile": "half-round", "thickness_mm": 2, "width_mm": 4}}, "start.profile"),
        ({"start": {"profile": "sheet", "thickness_mm": 3, "width_mm": 6}, "target": {"profile": "sheet", "thickness_mm": 1, "width_mm": 5}}, "target.width_mm"),
        ({"target": {"profile": "half-round", "thickness_mm": 3.9, "width_mm": 7.8}}, "target.thickness_mm"),
        ({"reduction_per_pass": 0.01, "anneal_at": 0.5, "target": {"profile": "square", "thickness_mm": 0.3}}, "reduction_per_pass"),
        ({"start": {"profile": "square", "thickness_mm": "9" * 500}}, "start.thickness_mm"),
    ],
)  # fmt: skip
def test_what_no_mill_does_is_refused_at_its_field(changed: dict[str, object], field: str) -> None:
    asked = {
        "metal": "sterling",
        "start": {"profile": "square", "thickness_mm": 4},
        "target": {"profile": "square", "thickness_mm": 2},
    }
    with pytest.raises(BadRequest) as refused:
        mill(asked | changed)
    assert refused.value.errors[0].field == field


BAR = {
    "bar": {"width_mm": 5, "thickness_mm": 3},
    "middle": {"width_mm": 5, "thickness_mm": 1.5},
    "final_length_mm": 58,
}


@settings(max_examples=tries(60), deadline=None)
@given(st.floats(2, 6), st.floats(1, 5), st.floats(0.3, 0.95), st.floats(40, 90), st.floats(1, 15), st.floats(0, 1))
def test_the_live_stop_follows_the_volume(
    wide: float, thick: float, share: float, final: float, end: float, done: float
) -> None:
    asked = {
        "bar": {"width_mm": wide, "thickness_mm": thick},
        "middle": {"width_mm": wide, "thickness_mm": thick * share},
        "final_length_mm": final,
        "end_mm": end,
    }
    plan = thin(asked)
    bar = wide * thick
    # the metal before and after, without the formula: two ends and a middle
    assert plan.bar_length_mm * bar == pytest.approx(2 * end * bar + (final - 2 * end) * bar * share)
    assert plan.growth_mm == pytest.approx(final - plan.bar_length_mm)
    now = plan.bar_length_mm + done * plan.growth_mm
    seen = thin(asked | {"now": {"length_mm": now, "width_mm": wide}}).now
    assert seen is not None
    assert seen.middle_area_mm2 * (now - 2 * end) + 2 * end * bar == pytest.approx(plan.bar_length_mm * bar)
    assert seen.left_mm == pytest.approx(final - now, abs=1e-9)
    assert seen.middle_thickness_mm == pytest.approx(seen.middle_area_mm2 / wide)


def test_it_says_where_to_stop_and_what_too_much_would_have_cost() -> None:
    plan = thin(BAR | {"end_mm": 7, "now": {"length_mm": 47, "thickness_mm": 2}})
    assert plan.bar_length_mm == pytest.approx(36)
    assert plan.wide_mm == pytest.approx(6 + 30 * 2)
    assert any(
        "Thinned to 3 mm from each end it would run out to 66.0, 3.1 US sizes too long." in s for s in plan.says
    )
    assert plan.now is not None
    assert plan.says[0].endswith("stop at 58.0.")
    assert plan.now.says.endswith("11.0 mm left: stop at 58.0.")
    assert plan.now.middle_area_mm2 == pytest.approx(10)
    assert plan.now.middle_width_mm == pytest.approx(5)
    stop = thin(BAR | {"end_mm": 7, "now": {"length_mm": 58}}).now
    over = thin(BAR | {"end_mm": 7, "now": {"length_mm": 59}}).now
    assert stop is not None
    assert over is not None
    assert "Stop: it is as long as it should be." in stop.says
    assert "1.0 mm past 58.0: 0.39 US sizes" in over.says


@pytest.mark.parametrize(("thick", "anneals"), [(2.0, 0), (1.6, 1), (1.05, 1), (0.8, 2)])
def test_it_is_annealed_each_time_half_of_it_is_gone(thick: float, anneals: int) -> None:
    asked = {"bar": {"width_mm": 4, "thickness_mm": 4}, "middle": {"width_mm": 4, "thickness_mm": thick}}
    assert thin(asked | {"final_length_mm": 60}).anneals == anneals


def test_a_thick_middle_keeps_its_middle() -> None:
    plan = thin(
        {
            "bar": {"width_mm": 4, "thickness_mm": 4},
            "form": "thick-middle",
            "ends": {"width_mm": 4, "thickness_mm": 2},
            "middle_mm": 11,
            "final_length_mm": 63,
        }
    )
    assert plan.bar_length_mm == pytest.approx(11 + (63 - 11) * 8 / 16)
    assert plan.middle_before_mm == 11
    assert plan.wide_mm is None
    assert "leave 11.0 in its middle, thin 13.0 each end" in plan.says[0]


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"middle": {"width_mm": 5, "thickness_mm": 3.5}}, "middle.thickness_mm"),
        ({"end_mm": 29}, "end_mm"),
        ({"form": "thick-middle"}, "ends"),
        ({"form": "bent"}, "form"),
        ({"middle": None}, "middle"),
        ({"now": {"length_mm": 20}}, "now.length_mm"),
        ({"now": {"length_mm": 47, "width_mm": 5, "thickness_mm": 2.5}}, "now.thickness_mm"),
        ({"bar": {"width_mm": 500, "thickness_mm": 3}}, "bar.width_mm"),
    ],
)
def test_what_cannot_be_thinned_is_refused_at_its_field(changed: dict[str, object], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        thin(BAR | changed)
    assert refused.value.errors[0].field == field


def test_within_three_percent_width_and_thickness_are_believed() -> None:
    area = (36 - 16) * 15 / (47 - 16)
    near = thin(BAR | {"now": {"length_mm": 47, "width_mm": 5, "thickness_mm": area / 5 * 1.02}})
    assert near.now is not None
    assert near.now.middle_thickness_mm == pytest.approx(area / 5 * 1.02)


@pytest.mark.parametrize(
    ("start", "target", "least"),
    [
        ({"profile": "square", "thickness_mm": 6}, {"profile": "half-round", "width_mm": 10, "thickness_mm": 2}, "9.0 × 2.0"),
        ({"profile": "square", "thickness_mm": 2.94}, {"profile": "half-round", "width_mm": 8, "thickness_mm": 1.5}, "7.2 × 1.5"),
        ({"profile": "rectangle", "width_mm": 5, "thickness_mm": 3}, {"profile": "d", "width_mm": 6, "thickness_mm": 2, "side_mm": 1}, "5.4 × "),
    ],
)  # fmt: skip
def test_no_roll_makes_a_bar_wider_and_the_least_bar_is_said(
    start: dict[str, object], target: dict[str, object], least: str
) -> None:
    with pytest.raises(BadRequest) as refused:
        mill({"metal": "sterling", "start": start, "target": target})
    said = refused.value.errors[0]
    assert said.field.startswith("start.")
    assert f"Begin with {least}" in said.hint


@settings(max_examples=tries(60), deadline=None)
@given(
    st.floats(2, 12), st.floats(0.3, 3), st.floats(1.5, 10),
    st.sampled_from(["half-round", "d", "oval", "court", "triangle", "round"]),
)  # fmt: skip
def test_what_goes_into_a_groove_fills_it_and_makes_no_fins(
    side: float, thick: float, wide: float, profile: str
) -> None:
    target: dict[str, object] = {"profile": profile, "thickness_mm": thick, "width_mm": wide}
    if profile in ("round", "triangle"):
        del target["width_mm"]
    if profile == "d":
        target["side_mm"] = thick / 3
    try:
        plan = mill({"metal": "sterling", "start": {"profile": "square", "thickness_mm": side}, "target": target})
    except BadRequest:
        return
    last, groove = plan.passes[-1], plan.target
    assert last.rolls == "profile rolls"
    before = plan.passes[-2] if len(plan.passes) > 1 else None
    w, t = (before.width_mm, before.thickness_mm) if before else (side, side)
    assert 0.9 * groove.width_mm - 0.006 <= w <= groove.width_mm + 0.006
    assert t >= groove.thickness_mm - 0.006
    assert w * t >= groove.area_mm2 * (1 - 1e-6)
    for one, after in zip(plan.passes[:-1], plan.passes[1:-1], strict=False):
        assert after.width_mm <= one.width_mm + 1e-9
        assert after.thickness_mm <= one.thickness_mm + 1e-9


@pytest.mark.parametrize("metal", METALS)
def test_a_bar_is_annealed_by_the_figure_that_the_card_fills_to(metal: str) -> None:
    """One table: a fibre that grows by the family's strain limit has lost s / (1 + s) of its area."""
    limit = METALS[metal].of_family.strain_limit
    plan = mill({"metal": metal, "start": {"thickness_mm": 8}, "target": {"thickness_mm": 2}})
    assert plan.anneal_at == pytest.approx(limit / (1 + limit))
    thinned = thin(
        {"metal": metal, "bar": {"width_mm": 4, "thickness_mm": 4}, "final_length_mm": 60,
         "middle": {"width_mm": 4, "thickness_mm": 2}, "poured": True}
    )  # fmt: skip
    assert thinned.anneal_at == pytest.approx(0.9 * limit / (1 + 0.9 * limit))


def test_a_strip_rolled_on_both_sides_reaches_what_is_wanted() -> None:
    plan = mill(
        {
            "metal": "sterling",
            "mode": "square",
            "start": {"profile": "rectangle", "width_mm": 8, "thickness_mm": 6, "length_mm": 30},
            "target": {"profile": "rectangle", "width_mm": 5, "thickness_mm": 2},
        }
    )
    last = plan.passes[-1]
    assert (last.width_mm, last.thickness_mm) == pytest.approx((5, 2))
    assert all(one.width_mm * one.thickness_mm == pytest.approx(one.area_mm2) for one in plan.passes)
    with pytest.raises(BadRequest) as refused:
        mill(
            {
                "metal": "sterling",
                "mode": "square",
                "start": {"profile": "rectangle", "width_mm": 4, "thickness_mm": 6},
                "target": {"profile": "rectangle", "width_mm": 5, "thickness_mm": 2},
            }
        )
    assert refused.value.errors[0].field == "target.width_mm"


@pytest.mark.parametrize(
    ("now", "field"),
    [
        ({"length_mm": 50, "width_mm": 5}, "now.width_mm"),
        ({"length_mm": 50, "thickness_mm": 5}, "now.thickness_mm"),
        ({"length_mm": 46, "width_mm": 1.5}, "now.width_mm"),
        ({"length_mm": 46, "thickness_mm": 1.2}, "now.thickness_mm"),
        ({"length_mm": 20, "width_mm": 4}, "now.length_mm"),
        ({"length_mm": 50, "width_mm": 4, "thickness_mm": 4}, "now.thickness_mm"),
    ],
)
def test_a_bar_half_way_that_cannot_be_is_refused_where_it_was_measured(now: dict[str, float], field: str) -> None:
    asked = {
        "bar": {"width_mm": 4, "thickness_mm": 4},
        "final_length_mm": 62,
        "middle": {"width_mm": 4, "thickness_mm": 2},
        "now": now,
    }
    with pytest.raises(BadRequest) as refused:
        thin(asked)
    assert refused.value.errors[0].field == field
