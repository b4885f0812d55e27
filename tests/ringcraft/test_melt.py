"""Metal from scrap: masses balance, what does not go together is refused with its reason, karats come out as weighed."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.metals import METALS
from ringcraft.stock.melt.alloying import alloy, fineness_of
from ringcraft.stock.melt.melting import melt
from ringcraft.stock.melt.mixing import STATES, incompatible
from tests.slices import tries


@settings(max_examples=tries(60), deadline=None)
@given(
    st.sampled_from(sorted(METALS)),
    st.lists(st.floats(10, 5000), min_size=1, max_size=6),
    st.floats(0, 0.3),
    st.floats(0, 0.3),
    st.floats(0, 60),
)
def test_what_goes_in_comes_out(metal: str, volumes: list[float], loss: float, trim: float, have: float) -> None:
    plan = melt(
        {
            "metal": metal,
            "blanks": [{"volume_mm3": one} for one in volumes],
            "loss": loss,
            "trim_and_sprue": trim,
            "have": [{"metal": metal, "mass_g": have}],
        }
    )
    blanks = sum(volumes) * METALS[metal].density_g_cm3 / 1000
    assert plan.mass_needed_g == pytest.approx(blanks * (1 + trim) / (1 - loss))
    assert plan.mass_needed_g == pytest.approx(plan.lost_g + plan.poured_g)
    assert plan.poured_g == pytest.approx(plan.blanks_g + plan.cut_off_g)
    assert plan.short_g == pytest.approx(max(0, plan.mass_needed_g - have))
    assert math.pi / 6 * plan.lump_mm**3 * METALS[metal].density_g_cm3 / 1000 == pytest.approx(plan.poured_g)


@pytest.mark.parametrize(
    ("scrap", "why"),
    [
        ({"metal": "sterling", "mass_g": 5, "state": "solder"}, "slump at its own solder"),
        ({"metal": "sterling", "mass_g": 5, "state": "lead"}, "crumble"),
        ({"metal": "sterling", "mass_g": 5, "state": "mixed"}, "Nobody knows what it is"),
        ({"metal": "unknown", "mass_g": 5}, "not known"),
        ({"metal": "platinum-950", "mass_g": 5}, "do not melt where gold, silver and copper do"),
        ({"metal": "gold-14k-yellow", "mass_g": 5}, "mass balance"),
        ({"metal": "brass", "mass_g": 5}, "zinc"),
        ({"metal": "fine-silver", "mass_g": 5}, "two alloys of one family|Two alloys of one family"),
        ({"metal": "sterling", "mass_g": 5, "owner": "Orla Quist"}, "lot of its own"),
    ],
)
def test_what_does_not_go_in_is_refused_with_its_reason(scrap: dict[str, object], why: str) -> None:
    plan = melt(
        {"metal": "sterling", "blanks": [{"volume_mm3": 400}], "have": [{"metal": "sterling", "mass_g": 1}, scrap]}
    )
    assert [one.at for one in plan.refused] == [1]
    assert any(part in plan.refused[0].why for part in why.split("|"))
    assert plan.mass_have_g == 1


def test_colours_of_gold_stay_apart_and_nickel_is_named() -> None:
    have = [{"metal": "gold-14k-rose", "mass_g": 5}, {"metal": "gold-14k-white-nickel", "mass_g": 5}]
    plan = melt({"metal": "gold-14k-yellow", "blanks": [{"volume_mm3": 400}], "have": have})
    assert len(plan.refused) == 2
    assert "nickel" in plan.refused[1].why


def test_a_familys_metal_goes_only_into_its_own_melt() -> None:
    have = [{"metal": "gold-18k-yellow", "mass_g": 9, "owner": "Quist"}, {"metal": "gold-18k-yellow", "mass_g": 4}]
    plan = melt({"metal": "gold-18k-yellow", "blanks": [{"volume_mm3": 400}], "have": have, "owner": "Quist"})
    assert plan.mass_have_g == 9
    assert [one.at for one in plan.refused] == [1]


def test_two_ingots_from_one_melt_and_what_runs_over() -> None:
    moulds = [{"width_mm": 6, "depth_mm": 6, "length_mm": 20}, {"width_mm": 5, "depth_mm": 4, "length_mm": 30}]
    asked = {"metal": "sterling", "blanks": [{"volume_mm3": 1500}], "loss": 0, "trim_and_sprue": 0, "moulds": moulds}
    plan = melt(asked)
    assert plan.ingots[0].mass_g == pytest.approx(720 * 10.36 / 1000)
    assert plan.ingots[1].length_mm == pytest.approx(30)
    assert plan.ingots[1].over_g == pytest.approx((1500 - 720 - 600) * 10.36 / 1000)
    assert sum(one.mass_g + one.over_g for one in plan.ingots) == pytest.approx(plan.poured_g)
    small = melt(asked | {"blanks": [{"volume_mm3": 900}]})
    assert small.ingots[1].length_mm == pytest.approx((900 - 720) / 20)
    assert small.ingots[1].over_g == 0


def test_a_torch_is_held_against_what_it_has_melted() -> None:
    asked = {
        "metal": "sterling",
        "blanks": [{"volume_mm3": 1500}],
        "torches": "little: melted sterling 4; big: melted sterling 60",
    }
    views = {one.title: one.enough for one in melt(asked).torches}
    assert views == {"big": "yes", "little": "no"}
    platinum = melt(asked | {"metal": "platinum-950"})
    assert any("oxygen" in said for said in platinum.cautions)
    assert not any("oxygen" in said for said in melt(asked).cautions)


@settings(max_examples=tries(80), deadline=None)
@given(st.lists(st.tuples(st.floats(100, 1000), st.floats(0.1, 40)), min_size=1, max_size=5), st.floats(200, 950))
def test_fine_metal_is_neither_made_nor_lost(parts: list[tuple[float, float]], target: float) -> None:
    asked = {"parts": [{"fineness": f, "mass_g": m} for f, m in parts], "target_fineness": target}
    mass, fine = sum(m for _, m in parts), sum(f * m for f, m in parts)
    heaviest = mass * (1000 - fine / mass) / (1000 - target) if fine / mass < target else fine / target
    if heaviest > 5000:
        with pytest.raises(BadRequest):
            alloy(asked)
        return
    plan = alloy(asked)
    added = {"alloy": 0.0, "fine": 1000.0, "nothing": 0.0}[plan.add] * plan.mass_g
    assert plan.total_g == pytest.approx(mass + plan.mass_g)
    assert (fine + added) / plan.total_g == pytest.approx(target, abs=0.06)
    assert plan.mass_g >= 0
    assert (plan.add == "alloy") == (fine / mass > target + 0.05)


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"parts": [], "target_fineness": 585}, "parts"),
        ({"parts": [{"fineness": 585, "mass_g": 0}], "target_fineness": 585}, "parts"),
        ({"parts": [{"fineness": 0.585, "mass_g": 5}], "target_fineness": 750}, "parts.0.fineness"),
        ({"parts": [{"fineness": 585, "mass_g": 5}], "target_fineness": 1000}, "target_fineness"),
        ({"parts": [{"fineness": 585, "mass_g": 4000}], "target_fineness": 999}, "target_fineness"),
        ({"parts": [{"fineness": 585, "mass_g": 5, "state": "solder"}], "target_fineness": 750}, "parts.0.state"),
        ({"parts": [{"fineness": 585, "mass_g": 5, "metal": "gold-18k-yellow"}], "target_fineness": 750}, "parts.0.fineness"),
        ({"parts": [{"fineness": 585, "mass_g": 5, "metal": "gold-14k-yellow"}, {"fineness": 950, "mass_g": 5, "metal": "platinum-950"}], "target_fineness": 750}, "parts.1.metal"),
        ({"parts": [{"fineness": 585, "mass_g": "1e500"}], "target_fineness": 750}, "parts.0.mass_g"),
    ],
)  # fmt: skip
def test_what_cannot_be_alloyed_is_refused_at_its_field(asked: dict[str, object], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        alloy(asked)
    assert refused.value.errors[0].field == field


def test_the_same_colour_may_be_raised_with_fine_gold() -> None:
    parts = [
        {"fineness": 585, "mass_g": 8, "metal": "gold-14k-yellow"},
        {"fineness": 1000, "mass_g": 2, "metal": "fine-gold"},
        {"fineness": 750, "mass_g": 2, "metal": "gold-18k-yellow"},
    ]
    assert alloy({"parts": parts, "target_fineness": 750}).add == "fine"


def test_finenesses_are_those_of_the_marks() -> None:
    """ISO 9202 names 375, 585, 750, 916, 999 for gold, 925 for silver, 950 for platinum and palladium."""
    marks = {"gold-9k-yellow": 375, "gold-14k-rose": 585, "gold-18k-yellow": 750, "gold-22k-yellow": 917,
             "sterling": 925, "platinum-950": 950, "palladium-950": 950}  # fmt: skip
    assert {metal: round(fineness_of(metal) or 0) for metal in marks} == marks
    assert fineness_of("brass") is None


@pytest.mark.parametrize("state", [key for key in STATES if key not in ("clean", "filings")])
def test_no_state_but_clean_goes_in(state: str) -> None:
    have = [{"metal": "sterling", "mass_g": 3, "state": state}]
    assert melt({"metal": "sterling", "blanks": [{"volume_mm3": 1}], "have": have}).refused


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"blanks": []}, "blanks"),
        ({"blanks": [{"volume_mm3": 1e300}]}, "blanks.0.volume_mm3"),
        ({"blanks": [{"volume_mm3": "9" * 4000}]}, "blanks.0.volume_mm3"),
        ({"loss": 0.9}, "loss"),
        ({"moulds": [{"width_mm": 900, "depth_mm": 900, "length_mm": 9}]}, "moulds.0.length_mm"),
        ({"have": [{"metal": "sterling", "mass_g": -1}]}, "have.0.mass_g"),
    ],
)
def test_what_is_no_melt_is_refused_at_its_field(asked: dict[str, object], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        melt({"metal": "sterling", "blanks": [{"volume_mm3": 400}], **asked})
    assert refused.value.errors[0].field == field


@pytest.mark.parametrize(("one", "other"), [("nickel", "palladium"), ("palladium", "nickel")])
def test_what_bleaches_a_white_gold_is_not_alloyed_with_the_other(one: str, other: str) -> None:
    """A family is not enough: nickel and palladium white gold are one colour and two kinds."""
    part = {"metal": f"gold-18k-white-{one}", "mass_g": 5}
    with pytest.raises(BadRequest) as refused:
        alloy({"parts": [part], "target_metal": f"gold-14k-white-{other}"})
    assert (refused.value.errors[0].field, "nickel" in refused.value.errors[0].message) == ("parts.0.metal", True)
    assert melt({"metal": f"gold-14k-white-{other}", "blanks": [{"volume_mm3": 400}], "have": [part]}).refused, (
        "the melt refuses it too"
    )
    assert alloy({"parts": [part], "target_metal": f"gold-14k-white-{one}"}).add == "alloy"


@pytest.mark.parametrize(
    ("one", "other", "says", "not_said"),
    [
        ("gold-14k-yellow", "gold-14k-rose", "Two colours of gold", "nickel"),
        ("gold-14k-yellow", "gold-14k-white-palladium", "Two colours of gold", "nickel"),
        ("gold-14k-yellow", "gold-14k-white-nickel", "nickel of the white gold", "palladium"),
        ("platinum-950", "palladium-950", "Platinum and palladium together are neither", "gold"),
        ("copper", "brass", "Copper, brass and bronze together", "gold"),
        ("sterling", "fine-silver", "between their finenesses", "gold"),
    ],
)
def test_the_reason_is_of_the_two_metals_that_meet(one: str, other: str, says: str, not_said: str) -> None:
    for first, second in ((one, other), (other, one)):
        why = incompatible(first, second)
        assert says in why
        assert not_said not in why


def test_every_two_metals_that_differ_are_refused_with_a_reason_and_each_goes_with_itself() -> None:
    for one in METALS:
        for other in METALS:
            assert bool(incompatible(one, other)) == (one != other)
