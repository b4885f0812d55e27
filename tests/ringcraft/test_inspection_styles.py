"""What was measured on rings of every style: what it changes, and what it says."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import BadRequest, CraftError
from ringcraft.following.inspection import as_measured, read_measure, replan, sets_the_plan
from ringcraft.measure.sizes import SCALES
from ringcraft.metals import METALS
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, read_ring
from ringcraft.styles.orders import overridden
from ringcraft.work.fields import set_path
from ringcraft.works import MAKE, follow
from tests.orders import followed, style_order


def job(style: str, **changes: Any) -> Any:
    return read_ring(style_order(style, leave="exact", **changes))


def said(style: str, measured: dict[str, float], **changes: Any) -> dict[str, tuple[str, str]]:
    order = job(style, **changes)
    return {one.key: (one.tone, one.says) for one in followed(order, measured).verdicts}


def cut(style: str, measured: dict[str, float], blank: int = 0, **changes: Any) -> float:
    return replan(job(style, round_to_mm=0, **changes), measured).blanks[blank].cut_length_mm


@pytest.mark.parametrize("style", STYLES)
def test_a_measured_thickness_beats_the_nominal(style: str) -> None:
    planned = replan(job(style), {})
    bought = asked_at(planned, "stock-thickness").measure[0].expected
    changed = replan(job(style), {"stock-thickness": bought * 0.9})
    assert changed != planned
    assert sets_the_plan(job(style), {"stock-thickness": 1.0})
    assert not sets_the_plan(job(style), {"mass-finished": 3.0})
    assert as_measured(job(style), {"mass-finished": 3.0}) == job(style)


def test_texture_is_measured_after_and_beats_the_estimate() -> None:
    planned = replan(job("textured"), {}).section.thickness_mm
    grown = cut("textured", {"thickness-worked": planned - 0.1}) - cut("textured", {})
    assert grown == pytest.approx(-math.pi * 0.1)
    tone, words = said("textured", {"thickness-worked": planned - 0.1})["thickness-worked"]
    assert tone == "note"
    assert "0.10 thinner: mark" in words


def test_texture_that_thickens_is_refused() -> None:
    with pytest.raises(CraftError, match="it thins what it lengthens"):
        replan(job("textured"), {"thickness-worked": 1.9})


def test_the_layers_together_are_measured_as_one() -> None:
    assert cut("folded", {"thickness-worked": 1.3}) - cut("folded", {}) == pytest.approx(math.pi * 0.1)
    assert "thicker" in said("folded", {"thickness-worked": 1.3})["thickness-worked"][1]


def asked_at(plan: Any, key: str) -> Any:
    return next(step for step in plan.route for ask in step.measure if ask.key == key)


@pytest.mark.parametrize("style", STYLES)
def test_a_step_goes_on_saying_what_was_planned_when_its_measure_is_read(style: str) -> None:
    order = job(style)
    plan = replan(order, {})
    for step in plan.route:
        for ask in step.measure:
            read = {ask.key: (ask.expected or 1.0) * (0.98 if "thickness" in ask.key else 1.02)}
            if sets_the_plan(order, read):
                assert asked_at(followed(order, read).now, ask.key).do == step.do
                assert asked_at(followed(order, read).now, ask.key).measure == step.measure


def test_a_step_follows_what_was_read_before_it_but_not_its_own_reading() -> None:
    order, thin = job("textured"), {"stock-thickness": 1.5}
    plan = replan(order, {})
    asked = asked_at(followed(order, thin).now, "thickness-worked")
    both = follow(MAKE, to_json(order), plan, {**thin, "thickness-worked": 1.4}, asked={"thickness-worked": asked})
    worked = asked_at(both.now, "thickness-worked")
    assert worked.figure == f"{1.5 / 1.03:.2f}"
    assert worked.do == asked_at(replan(order, thin), "thickness-worked").do
    assert asked_at(both.now, "stock-thickness").figure == "1.60"


def test_measures_that_make_a_ring_only_together_are_followed_together() -> None:
    order = job("stack")
    thick = {"stock-thickness": 1.3}
    outside = {"outside": replan(order, thick).blanks[0].outside_mm}
    with pytest.raises(CraftError):
        replan(order, {"outside": outside["outside"] + 2})
    assert replan(order, {**thick, **outside}).blanks[0].section.thickness_mm == pytest.approx(1.3)


@pytest.mark.parametrize(
    ("style", "stock", "figure", "words"),
    [
        ("folded", {}, "0.60", "Planned 0.60, 2 of them: 1.20 in all"),
        ("textured", {}, "1.60", "Planned 1.60 thick, 5.00 wide"),
        ("textured", {"profile": "round", "thickness_mm": 2, "width_mm": None}, "2.00", "Planned 2.00 thick."),
    ],
)
def test_stock_is_read_as_it_comes_from_the_drawer(
    style: str, stock: dict[str, Any], figure: str, words: str
) -> None:
    stock = {**style_order(style)["stock"], **stock}
    step = asked_at(replan(job(style, stock=stock), {}), "stock-thickness")
    assert (step.figure, step.measure[0].expected_text) == (figure, figure)
    assert words in " ".join(step.do)
    assert (stock["profile"] in step.title) or style == "folded"
    as_planned = {"stock-thickness": float(figure)}
    assert said(style, as_planned, stock=stock)["stock-thickness"] == ("good", "as planned")
    thicker = {"stock-thickness": float(figure) + 0.03}
    assert said(style, thicker, stock=stock)["stock-thickness"][1].startswith("0.03 thicker: mark")


@pytest.mark.parametrize(
    ("style", "blank", "gain"), [("stack", 1, math.pi), ("channel-inlay", 1, math.pi), ("hollow-signet", 1, 2.8)]
)
def test_what_lies_over_the_inner_band_follows_its_outside(style: str, blank: int, gain: float) -> None:
    outside = replan(job(style), {}).blanks[0].outside_mm
    grown = cut(style, {"outside": outside + 0.1}, blank) - cut(style, {}, blank)
    assert grown == pytest.approx(0.1 * gain, rel=0.02 if style == "hollow-signet" else 1e-6)
    assert cut(style, {"outside": outside + 0.1}) == cut(style, {})
    tone, words = said(style, {"outside": outside + 0.2})["outside"]
    assert tone == "note"
    assert "0.20 larger:" in words
    assert "mark" in words


def test_each_sleeve_is_measured_in_its_turn() -> None:
    layer = {"stock": {"profile": "rectangle", "width_mm": 3, "thickness_mm": 1.2}, "fit_mm": 0}
    two = {"outer": [layer, {**layer}]}
    outside = replan(job("stack", **two), {}).blanks[1].outside_mm
    after = cut("stack", {"outside@outer-1": outside + 0.1}, 2, **two)
    assert after - cut("stack", {}, 2, **two) == pytest.approx(math.pi * 0.1)
    thin = replan(job("stack", **two), {"stock-thickness@outer-2": 1.0})
    assert thin.blanks[2].section.thickness_mm == 1.0
    assert thin.blanks[1].section.thickness_mm == 1.2


def test_a_finished_rings_own_size_is_what_its_bands_take() -> None:
    layer = {"stock": {"profile": "half-round", "width_mm": 2, "thickness_mm": 1}, "fit_mm": 0}
    sandwich = {"arrangement": "sandwich", "finished_metal": "gold-18k-yellow", "outer": [layer]}
    made = replan(job("stack", **sandwich), {"inside-finished-ring": 18.2})
    assert made.wanted_mm == pytest.approx(18.2)


def test_a_wishbone_is_held_against_its_round_before_the_v() -> None:
    order = job("wishbone")
    plan = replan(order, {})
    before = asked_at(plan, "size-rounded").measure[-1].expected  # where it closes: left small, before its V
    extra = plan.wishbone.v_extra_mm / math.pi
    assert plan.closing.inside_diameter_mm + extra == pytest.approx(before, abs=0.05)
    assert said("wishbone", {"size-rounded": before})["size-rounded"][0] == "good"
    assert "on US 10 3/8" in said("wishbone", {"size-rounded": before})["size-rounded"][1]
    assert said("wishbone", {"size-rounded": plan.wanted_mm})["size-rounded"][0] == "act"
    assert said("wishbone", {"size-finished": plan.wanted_mm})["size-finished"][0] == "good"


def test_a_bar_that_ran_out_too_long_is_sawn_off() -> None:
    final = asked_at(replan(job("tapered"), {}), "length-worked").measure[0].expected
    tone, words = said("tapered", {"length-worked": final + 1})["length-worked"]
    assert tone == "note"
    assert "1.00 long" in words
    tone, words = said("tapered", {"length-worked": final - 2.553})["length-worked"]
    assert tone == "act"
    closes = replan(job("tapered"), {}).closing.inside_diameter_mm
    assert words.endswith(f"it closes at US {SCALES['us'].label(SCALES['us'].number(closes) - 1, 0.125)}")


def test_the_cut_of_a_later_blank_is_its_own() -> None:
    plan = replan(job("hollow-signet"), {})
    wrap = plan.blanks[1].cut_length_mm
    verdict = said("hollow-signet", {"cut-length@outer": wrap})["cut-length@outer"]
    assert verdict == ("good", "as marked")
    assert said("hollow-signet", {"cut-length@outer": wrap - 1})["cut-length@outer"][1] == "1.00 short: cut it again"


def test_the_weight_is_that_of_all_the_blanks() -> None:
    plan = replan(job("channel-inlay"), {})
    kerf = 0.22
    mass = (
        sum(blank.section.area_mm2 * (blank.cut_length_mm - kerf) * blank.count for blank in plan.blanks)
        * METALS["sterling"].density_g_cm3
        / 1000
    )  # each lost one kerf at its joint, and the stone is not in it
    asked = asked_at(plan, "mass-before-inlay").measure[0].expected
    assert asked == pytest.approx(mass)
    verdict = said("channel-inlay", {"mass-before-inlay": mass * 0.98})["mass-before-inlay"]
    assert verdict[0] == "good"
    assert verdict[1].endswith("less, 2.0 %")


@pytest.mark.parametrize(
    ("style", "measured"),
    [("stack", {"outside": 60.0})],
)
def test_stock_that_makes_no_ring_is_said_not_raised_as_something_else(
    style: str, measured: dict[str, float]
) -> None:
    with pytest.raises((CraftError, BadRequest)):
        replan(job(style), measured)


@pytest.mark.parametrize(
    ("key", "good"), [("outside@outer-1", True), ("cut-length@plate", True), ("nothing@x", False)]
)
def test_a_measure_of_one_blank_is_read_like_any_other(key: str, good: bool) -> None:
    if good:
        assert read_measure(key, "20,1").value == pytest.approx(20.1)
    else:
        with pytest.raises(CraftError):
            read_measure(key, "20,1")


def test_taken_says_which_field_a_measure_overrides() -> None:
    overrides_from_measures = {
        "stock-thickness": "stock.thickness_mm",
        "outside@outer-{n}": "outer.{n}.measured_od_mm",
    }
    measured = {"stock-thickness": 1.8, "outside@outer-2": 21.0, "mass-finished": 3.0}
    assert overridden(overrides_from_measures, measured) == {
        "stock.thickness_mm": 1.8,
        "outer.1.measured_od_mm": 21.0,
    }
    assert overridden({}, measured) == {}


@given(st.lists(st.sampled_from(["a", "b", "0", "1"]), min_size=1, max_size=4), st.integers())
def test_a_path_that_was_set_is_found_again(steps: list[str], value: int) -> None:
    if steps[0].isdecimal():
        return
    # a list grows by one at most: places beyond its end are not ours to make
    if any(step == "1" for step in steps):
        return
    data: dict[str, Any] = {}
    set_path(data, ".".join(steps), value)
    at: Any = data
    for step in steps:
        at = at[int(step)] if isinstance(at, list) else at[step]
    assert at == value
