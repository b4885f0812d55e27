"""Figures that a small change would have moved unseen: each held by arithmetic of its own."""

from __future__ import annotations

import math
from typing import Any

import pytest

from ringcraft.following.inspection import verdicts as ring_verdicts
from ringcraft.heat.answer import heat
from ringcraft.planning.context import area_power_of
from ringcraft.planning.rolling import Rolled
from ringcraft.resize.judging import verdicts
from ringcraft.resize.plan import plan_resize, read_resize
from ringcraft.sections import Stock, section_of
from tests.orders import followed, style_order, style_plan
from tests.resizes import came_in, figures, plan


def rules(made: Any, key: str) -> tuple[str, ...]:
    return tuple(next(one for one in made.methods if one.key == key).rules)


def test_how_far_a_head_lifts_decides_its_rule() -> None:
    """By the sagitta of its chord on either curve: 0.15 and 0.35 are where words change."""
    seen = set()
    old, new = (11.6332 + 0.8128 * 9) / 2, (11.6332 + 0.8128 * 7.75) / 2
    for span in (6.0, 12.0, 13.0, 15.0, 15.5):
        made = plan(from_="US 9", to="US 7 3/4", head={"span_mm": span}, shank={"width_mm": 4.0})
        lift = (new - math.sqrt(new**2 - span**2 / 4)) - (old - math.sqrt(old**2 - span**2 / 4))
        want = "head-lifts-far" if lift > 0.35 else "head-lifts" if lift > 0.15 else ""
        assert {one for one in rules(made, "take-out") if one.startswith("head-lifts")} == ({want} if want else set())
        seen.add(want)
    assert seen == {"", "head-lifts", "head-lifts-far"}


def test_a_new_lower_part_is_needed_where_it_is_far_larger_and_only_there() -> None:
    assert "reshank-not-needed" not in rules(plan(to="US 8 1/2"), "reshank")  # two sizes and a half larger
    assert "reshank-not-needed" in rules(plan(to="US 7 1/2"), "reshank")
    smaller = plan(from_="US 9", to="US 6 1/4")
    assert "reshank-not-needed" in rules(smaller, "reshank")  # far, but smaller: a piece comes out
    worn = plan(from_="US 9", to="US 6 1/4", shank={"thinnest_mm": 0.9})
    assert "reshank-not-needed" not in rules(worn, "reshank")


def test_what_is_stretched_back_is_a_share_of_what_is_left() -> None:
    made = plan(to="US 6", join={"saw_passes": 3})
    lost = 4 * 0.22
    length = math.pi * (11.6332 + 6 * 0.8128 + 1.5)
    assert figures(made, "rejoin")["strain"] == pytest.approx(lost / (length - lost), rel=1e-9)


def test_a_leg_ends_at_the_edge_of_the_head() -> None:
    wide, narrow = (plan(to="US 7 1/2", stones=[{"kind": "diamond"}], head={"span_mm": span}, method="add-stock")
                    for span in (10.0, 4.0))  # fmt: skip
    legs = [one.stone_advice[0].leg_mm for one in (narrow, wide)]
    old = 11.6332 + 6 * 0.8128
    arcs = [math.asin(span / old) * (old / 2 + 0.75) for span in (4.0, 10.0)]
    assert legs[0] - legs[1] == pytest.approx(arcs[1] - arcs[0], abs=1e-6)


def test_a_ring_with_nothing_in_it_is_cooled_as_its_metal_asks() -> None:
    plain, out, stays = (plan(to="US 5", metal="gold-18k-rose", stones=stones) for stones in (
        [], [{"kind": "opal"}], [{"kind": "diamond"}]))  # fmt: skip
    cooled = [
        [deed.op for step in one.route for deed in step.does if deed.op in ("cool", "quench")]
        for one in (plain, out, stays)
    ]
    assert cooled == [["quench"], ["quench"], ["cool"]]


def test_a_thin_place_is_no_matter_where_all_of_it_is_replaced() -> None:
    for method, tone in (("reshank", "note"), ("add-stock", "act")):
        order = read_resize(came_in(to="US 8 1/2", method=method))
        made = plan_resize(order)
        said = {one.key: one for one in verdicts(made, made, {"thinnest": 0.9})}["thinnest"]
        assert said.tone == tone
        assert ("is replaced, not sized" in said.says) == (tone == "act")


def test_a_piece_that_was_cut_short_closes_smaller_by_that_over_pi() -> None:
    made = plan(to="US 7 1/2")
    asked = {ask.key: ask.expected for step in made.route for ask in step.measure}
    short = math.pi * 0.8128  # one US size
    cut = asked["cut-length@insert"]
    assert cut is not None
    said = {one.key: one for one in verdicts(made, made, {"cut-length@insert": cut - short})}["cut-length@insert"]
    assert said.says.endswith("short: the ring would come out at US 6 1/2")


def test_a_joint_of_unknown_history_is_one_grade_below_the_metals_own() -> None:
    for metal, solder in (
        ("platinum-950", "platinum-1300"),
        ("sterling", "silver-medium"),
        ("fine-silver", "silver-medium"),
    ):
        assert plan(to="US 6", metal=metal).joints[0].solder == solder


def test_one_leg_is_said_to_be_longer_from_where_it_matters() -> None:
    ring = {"inside_diameter_mm": 17.0, "stock": {"profile": "rectangle", "width_mm": 3.0, "thickness_mm": 1.6}}
    keys = {}
    for roll in (2.0, 4.0, 8.0, 12.0):
        answer = heat({"metal": "gold-14k-yellow", "ring": ring, "flow_c": 750, "water_share": 0.4, "roll_deg": roll})
        assert answer.legs_mm is not None
        keys[max(answer.legs_mm) / min(answer.legs_mm)] = answer.lead.key
    assert {ratio >= 1.15 for ratio in keys} == {True, False}
    assert all((key == "roll") == (ratio >= 1.15) for ratio, key in keys.items())


def test_a_length_that_was_cut_closes_by_the_plan_as_measured() -> None:
    """A thicker wire was measured: what is cut short of the new length closes by the new plan, not by the old one."""
    from ringcraft.styles import read_ring

    order = read_ring(style_order("plain-band", leave="exact"))
    seen = followed(order, {"stock-thickness": order.stock.thickness_mm + 0.1})
    asked = next(ask.expected for step in seen.now.route for ask in step.measure if ask.key == "cut-length")
    measured = {"stock-thickness": order.stock.thickness_mm + 0.1, "cut-length": asked - 1.0}
    said = {one.key: one for one in ring_verdicts(seen.plan, seen.now, measured)}["cut-length"]
    closes = seen.now.closing.inside_diameter_mm - 1 / math.pi
    assert said.says.startswith("1.00 short: it closes at")
    from ringcraft.measure.sizes import SCALES

    scale = SCALES[seen.now.target.read_as]
    assert said.says.endswith(scale.text(closes, scale.fine_step))


@pytest.mark.parametrize("profile", ["square", "rectangle"])
def test_a_middle_that_is_thinned_too_far_runs_longer_by_its_power(profile: str) -> None:
    """Volume is kept: the same bar rolled to two thicknesses, its middle's length times its area the same."""
    bar = section_of(Stock(profile="square", thickness_mm=4.0))
    middle = Stock(profile=profile, thickness_mm=2.0, width_mm=None if profile == "square" else 4.0)
    section = section_of(middle)
    rolled = Rolled(bar, section, 16.0, 20.0, area_power_of(middle))
    hair = 1e-5
    thinner = (2.0 - hair) ** 2 if profile == "square" else (2.0 - hair) * 4.0
    longer = 20.0 * bar.area_mm2 / thinner - 20.0 * bar.area_mm2 / section.area_mm2
    assert rolled.slip_mm(hair) == pytest.approx(longer, rel=1e-4)


def test_rounding_is_worth_in_the_ledger_what_the_metal_gives_after_it() -> None:
    made = style_plan("textured", round_to_mm=0.5)
    blank = made.blanks[0]
    assert blank.cut_length_mm / 0.5 == pytest.approx(round(blank.cut_length_mm / 0.5), abs=1e-9)
    assert math.fsum(term.mm for term in blank.terms) == pytest.approx(blank.cut_length_mm)
    tapered = style_plan("tapered", round_to_mm=0.5)
    cut = tapered.blanks[0].cut_length_mm
    assert cut / 0.5 == pytest.approx(round(cut / 0.5), abs=1e-9)


def test_a_shank_is_bent_small_first_then_near_its_size_from_below() -> None:
    made = style_plan("shank", gap_mm=6, leave="exact")
    step = next(one for one in made.route if one.key == "bend-small")
    scale_mm = made.closing.inside_diameter_mm

    def inside(text: str) -> float:
        from ringcraft.measure.sizes import read_size

        return read_size(text).inside_diameter_mm

    first = inside(step.title.rpartition("to ")[2])
    near = inside(step.do[0].partition("near the size, ")[2].partition(",")[0])
    assert first < near < scale_mm + 0.06
    assert scale_mm - near == pytest.approx(0.4064, abs=0.06)
    assert scale_mm - first == pytest.approx(2 * 0.8128, abs=0.06)


def test_the_slots_between_prongs_take_their_whole_kerf_at_both_ends() -> None:
    made = style_plan("shank", gap_mm=6, ends="split", split_mm=7)
    deed = next(deed for step in made.route for deed in step.does if deed.op == "dress")
    high = made.section.area_mm2 / made.section.width_mm  # the mean height of the strip
    assert deed.takes_mm3 == pytest.approx(2 * 2 * 0.22 * 7 * high)  # two lines at either end, by their kerf
