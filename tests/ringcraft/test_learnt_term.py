"""The own correction that a shop has learnt: a line of the ledger under any rule, on the blanks that set the size."""

from __future__ import annotations

import math
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.learning.came_out import in_force_mm
from ringcraft.planning.own import GROUPS, OwnFigures
from ringcraft.planning.rules import RULES
from ringcraft.styles import STYLES
from ringcraft.styles.base import RingPlan
from tests.orders import plan, style_plan

ALL = {"own": {"corrections": [{"group": group, "round_mm": 0.38, "rings": 9} for group in GROUPS]}}


def own_term(made: RingPlan, blank: int = 0) -> float:
    return math.fsum(term.mm for term in made.blanks[blank].terms if term.key == "own")


@pytest.mark.parametrize("rule", [*RULES])
def test_under_any_rule_it_is_a_line_of_its_own(rule: str) -> None:
    exact: dict[str, Any] = {"rule": rule, "round_to_mm": 0}
    plain, taught = plan(**exact), plan(**exact, **ALL)
    assert own_term(taught) == -0.38
    assert taught.blanks[0].cut_length_mm == pytest.approx(plain.blanks[0].cut_length_mm - 0.38)
    assert taught.blanks[0].formed_length_mm == plain.blanks[0].formed_length_mm
    assert taught.by_rule == plain.by_rule
    assert taught.closing.inside_diameter_mm == pytest.approx(plain.closing.inside_diameter_mm)
    assert taught.closing.neutral_mm == pytest.approx(taught.closing.inside_diameter_mm - 0.38 / math.pi)
    assert plain.closing.neutral_mm == plain.closing.inside_diameter_mm
    assert in_force_mm(taught) == pytest.approx(0.38)


def test_its_reason_names_the_rings_it_was_learnt_from() -> None:
    row = {
        "group": "half-round silver",
        "round_mm": 0.38,
        "since": "2031-04-02",
        "rings": 9,
        "low_mm": 0.26,
        "high_mm": 0.48,
    }
    made = plan(own={"corrections": [row]})
    why = next(term.why for term in made.blanks[0].terms if term.key == "own")
    assert why == (
        "half-round silver closes 0.38 round large here, 0.12 inside "
        "(9 rings, 95 % between 0.26 and 0.48, since 2 April 2031)"
    )
    assert any("0.38 longer round here" in line for step in made.route for line in step.do)


def test_a_wishbone_is_told_of_it_once_round_as_its_ledger_is() -> None:
    made = style_plan("wishbone", **ALL)
    assert any("0.38 longer round here" in line for step in made.route for line in step.do)
    assert own_term(made) < -0.4


def test_it_is_for_its_profile_and_metal_alone() -> None:
    row = {"own": {"corrections": [{"group": "half-round/silver", "round_mm": 0.38}]}}
    assert own_term(plan(**row)) == -0.38
    assert own_term(plan("court", **row)) == 0
    assert own_term(plan(metal="platinum-950", **row)) == 0


def test_a_typed_figure_leaves_the_learnt_one_out() -> None:
    typed = plan(rule="own", own_correction_mm=0.2, **ALL)
    assert own_term(typed) == 0
    assert in_force_mm(typed) == pytest.approx(-0.2)
    assert own_term(plan(own_correction_mm=0.2, **ALL)) == -0.38  # a figure of another rule's is no figure here


SHARES = {"adjustable": 0.0}


@pytest.mark.parametrize("style", STYLES)
def test_what_of_it_each_style_takes(style: str) -> None:
    """The cut changes by the correction x what is cut for a mm round; blanks beside the one that sets the size keep
    theirs, and the ring still closes where it did."""
    plain, taught = style_plan(style, round_to_mm=0), style_plan(style, round_to_mm=0, **ALL)
    share = SHARES.get(style, 1.0)
    per_round = 1 / (plain.sensitivity.us_sizes_per_mm_length * 0.8128 * math.pi)
    if style == "shank":
        gap = next(-term.mm for term in plain.blanks[0].terms if term.key == "gap")
        share = 1 - gap / (plain.blanks[0].formed_length_mm + gap)
    change = taught.blanks[0].cut_length_mm - plain.blanks[0].cut_length_mm
    assert change == pytest.approx(-0.38 * share * per_round, rel=1e-6)
    for before, after in zip(plain.blanks[1:], taught.blanks[1:], strict=True):
        assert after.cut_length_mm == pytest.approx(before.cut_length_mm)
    assert taught.closing.inside_diameter_mm == pytest.approx(plain.closing.inside_diameter_mm)
    ends = [next(iter(one.route[-1].after.values())).inside_mm for one in (plain, taught)]
    assert ends[0] == pytest.approx(ends[1])


def test_a_tapered_shank_with_a_gap_takes_its_share_of_the_round() -> None:
    made = style_plan("tapered", gap_mm=6, round_to_mm=0, **ALL)
    around = math.pi * made.wanted_mm + 2 * math.pi * 2.0  # the gap lies along the ends, which are 4 thick
    assert own_term(made) == pytest.approx(-0.38 * (1 - 6 / around))


def test_the_flanks_of_a_sandwich_take_their_own() -> None:
    rows = [{"group": "rectangle/silver", "round_mm": 0.3}, {"group": "half-round/silver", "round_mm": -0.2}]
    data: dict[str, Any] = {
        "arrangement": "sandwich",
        "finished_metal": "gold-18k-yellow",
        "round_to_mm": 0,
        "outer": [
            {"stock": {"profile": "rectangle", "width_mm": 2, "thickness_mm": 1.2}},
            {"stock": {"profile": "half-round", "width_mm": 3, "thickness_mm": 1.3}},
        ],
    }
    made = style_plan("stack", **data, own={"corrections": rows})
    assert [own_term(made, at) for at in range(2)] == [-0.3, 0.2]


@pytest.mark.parametrize(
    ("row", "field"),
    [
        ({"group": "clay", "round_mm": 0.3}, "own.corrections.0.group"),
        ({"group": "half-round/silver", "round_mm": 4}, "own.corrections.0.round_mm"),
        ({"group": "half-round/silver", "round_mm": 0.3, "since": "soon"}, "own.corrections.0.since"),
        ({"group": "half-round/silver", "round_mm": 0.3, "rings": -1}, "own.corrections.0.rings"),
    ],
)
def test_a_correction_that_cannot_be_is_refused(row: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        plan(own={"corrections": [row]})
    assert refused.value.errors[0].field == field


def test_it_is_read_from_one_line_too() -> None:
    read = plan(own={"corrections": "half-round silver 0.38; court yellow gold -0.2"})
    assert own_term(read) == -0.38
    assert OwnFigures().correction("half-round", "silver") is None
