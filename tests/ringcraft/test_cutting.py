"""Which blanks from which pieces: every plan is laid out again in whole thousandths, small ones against all ways."""

import itertools
import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.stock.cutting import patterns
from ringcraft.stock.cutting.answer import cut
from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import Problem
from ringcraft.stock.cutting.packing import plan_bars
from ringcraft.stock.cutting.pattern_rest import RestByPatterns
from ringcraft.stock.cutting.rest import rest_bounds
from ringcraft.stock.cutting.shapes import CutPlan
from tests.ringcraft.sheetwork import laid_on_sheets
from tests.slices import tries


def request(bars: list[float], blanks: list[float], kerf: float = 0.22, trim: float = 0.0) -> dict[str, object]:
    return {
        "kerf_mm": kerf,
        "end_trim_mm": trim,
        "stock": [{"id": f"bar-{at}", "length_mm": mm} for at, mm in enumerate(bars)],
        "blanks": [{"id": f"job-{at}", "length_mm": mm} for at, mm in enumerate(blanks)],
    }


def laid_out(asked: dict[str, object], plan: CutPlan) -> None:
    """Lay a plan out on paper: nothing overlaps, every mark stands where the saw has left the metal, nothing is lost."""
    kerf, trim = round(asked["kerf_mm"] * 1000), round(asked["end_trim_mm"] * 1000)
    there = {one["id"]: round(one["length_mm"] * 1000) for one in asked["stock"]}
    wanted = {one["id"]: round(one["length_mm"] * 1000) for one in asked["blanks"]}
    cut_ones = [one for piece in plan.pieces for one in piece.cuts]
    assert sorted([*cut_ones, *plan.unplaced]) == sorted(wanted)
    assert len({piece.stock_id for piece in plan.pieces}) == len(plan.pieces)
    sawn = 0
    for piece in plan.pieces:
        at = trim
        for place, (name, mark) in enumerate(zip(piece.cuts, piece.marks_mm, strict=True)):
            at += wanted[name] + (kerf if place else 0)
            assert round(mark * 1000) == at
        assert at <= there[piece.stock_id]
        left = there[piece.stock_id] - at
        ends = left == 0 or left < kerf
        assert piece.sawn == len(piece.cuts) - ends
        assert round(piece.offcut_mm * 1000) == (0 if ends else left - kerf)
        sawn += piece.sawn
    assert plan.kerf_total_mm == pytest.approx(sawn * asked["kerf_mm"], abs=1e-6)
    assert plan.used_mm == pytest.approx(sum(wanted[one] for one in cut_ones) / 1000)
    assert plan.bound_pieces <= len(plan.pieces)
    if plan.optimal:
        assert plan.bound_pieces == len(plan.pieces)
        assert plan.opened_bound_mm == pytest.approx(plan.opened_mm)
        assert plan.rest_mm == pytest.approx(plan.rest_bound_mm, abs=1e-3)
        assert plan.unplaced_proven
    assert plan.rest_mm <= plan.rest_bound_mm + 1e-9
    assert plan.opened_bound_mm <= plan.opened_mm + 1e-9


def best_by_all_ways(bars: list[int], blanks: list[int], kerf: int) -> tuple[int, int, int] | None:
    """Pieces, length opened and the longest rest of the best plan: every blank on every bar is tried."""
    best = None
    for where in itertools.product(range(len(bars)), repeat=len(blanks)):
        rests, opened = [], 0
        for bar, long in enumerate(bars):
            on = [blank for blank, at in zip(blanks, where, strict=True) if at == bar]
            if not on:
                continue
            left = long - sum(on) - kerf * (len(on) - 1)
            if left < 0:
                break
            opened += long
            rests.append(max(0, left - kerf))
        else:
            found = (len(rests), opened, -max(rests))
            best = found if best is None else min(best, found)
    return None if best is None else (best[0], best[1], -best[2])


@pytest.mark.parametrize("seed", range(30))
def test_a_small_plan_is_the_best_of_all_ways(seed: int) -> None:
    chance = random.Random(seed)
    blanks = [chance.randint(300, 700) / 10 for _ in range(chance.randint(2, 6))]
    bars = [chance.choice([60, 75.5, 90, 130.2, 131, 200]) for _ in range(chance.randint(2, 4))]
    kerf = chance.choice([0.0, 0.22, 0.3])
    asked = request(bars, blanks, kerf)
    plan = cut(asked)
    laid_out(asked, plan)
    whole = [round(mm * 1000) for mm in bars]
    best = best_by_all_ways(whole, [round(mm * 1000) for mm in blanks], round(kerf * 1000))
    if best is None:
        assert plan.unplaced
        return
    assert not plan.unplaced
    assert plan.optimal
    assert (len(plan.pieces), round(plan.opened_mm * 1000), round(plan.rest_mm * 1000)) == best
    assert plan.rest_optimal


@settings(max_examples=tries(40), deadline=None)
@given(
    st.lists(st.integers(100, 5000), min_size=1, max_size=12),
    st.lists(st.integers(200, 1500), min_size=1, max_size=40),
    st.sampled_from([0.0, 0.16, 0.22, 1.0]),
    st.sampled_from([0.0, 2.5]),
)
def test_every_plan_can_be_cut_as_it_says(bars: list[int], blanks: list[int], kerf: float, trim: float) -> None:
    asked = request([mm / 10 for mm in bars], [mm / 10 for mm in blanks], kerf, trim)
    laid_out(asked, cut(asked))


def drawer(count: int, bars: int, lengths: list[float] | None, seed: int) -> dict[str, object]:
    chance = random.Random(seed)
    blanks = [chance.choice(lengths) if lengths else chance.randint(450, 750) / 10 for _ in range(count)]
    return request([chance.randint(2000, 6500) / 10 for _ in range(bars)], blanks)


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize(("count", "bars"), [(200, 40), (500, 80)])
def test_a_week_of_a_shop_is_proven(count: int, bars: int, seed: int) -> None:
    asked = drawer(count, bars, None, seed)
    plan = cut(asked)
    laid_out(asked, plan)
    assert not plan.unplaced
    assert len(plan.pieces) == plan.bound_pieces
    assert plan.rest_mm >= plan.rest_bound_mm - 0.5
    assert plan.rest_optimal


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(3))
def test_few_lengths_that_repeat_are_proven_by_prices_of_patterns(seed: int) -> None:
    asked = drawer(200, 40, [61.4, 58.8, 64.0, 55.5, 70.2], seed)
    plan = cut(asked)
    laid_out(asked, plan)
    assert len(plan.pieces) == plan.bound_pieces
    assert plan.rest_mm >= plan.rest_bound_mm - 6


def test_a_bound_from_prices_says_what_metal_alone_cannot() -> None:
    # bars of 1000 hold two blanks of 400, or one of 550 beside one of 400: by metal five would do, by patterns not
    problem = Problem((1000,) * 8, (550, 550, 550, 550, 400, 400, 390, 390), 0)
    few = patterns.few_of(problem)
    assert few is not None
    assert math.ceil(sum(problem.weights) / 1000) == 4
    thirds = Problem((1000,) * 8, (340,) * 9, 0)
    few = patterns.few_of(thirds)
    assert few is not None
    assert patterns.bound_of(few, [1], Effort()) == 5
    assert plan_bars(thirds, list(range(9)), Effort()).bound_pieces == 5


@pytest.mark.parametrize("seed", range(20))
def test_no_prices_say_more_than_is_needed(seed: int) -> None:
    """A bound holds for any prices, right or wrong: it never passes what a plan was found with."""
    chance = random.Random(seed)
    weights = tuple(chance.choice([310, 420, 505]) for _ in range(chance.randint(3, 9)))
    problem = Problem(tuple(chance.choice([1000, 1300]) for _ in range(9)), weights, 0)
    few = patterns.few_of(problem)
    assert few is not None
    least = len(plan_bars(problem, list(range(len(weights))), Effort()).opened)
    for _ in range(20):
        assert (patterns.bound_of(few, [chance.randint(0, 1000) for _ in few.lengths], Effort()) or 0) <= least


def test_what_does_not_all_fit_is_placed_by_its_day_then_by_its_length() -> None:
    asked = {
        "kerf_mm": 0.2,
        "stock": [{"id": "a", "length_mm": 130}],
        "blanks": [
            {"id": "nobody waits", "length_mm": 64},
            {"id": "friday", "length_mm": 60, "due": "2031-05-09"},
            {"id": "monday", "length_mm": 61, "due": "2031-05-05"},
            {"id": "too long", "length_mm": 140, "due": "2031-05-01"},
        ],
    }
    plan = cut(asked)
    assert sorted(plan.pieces[0].cuts) == ["friday", "monday"]
    assert sorted(plan.unplaced) == ["nobody waits", "too long"]
    assert plan.says[0] == "2 blanks cannot be cut from what is there."


def test_what_is_due_may_be_a_count_of_days_and_many_alike_are_one_line() -> None:
    asked = {
        "stock": [{"id": "a", "length_mm": 120, "count": 2}],
        "blanks": [
            {"id": "late", "length_mm": 60, "count": 500, "due": 10},
            {"id": "soon", "length_mm": 59, "count": 2, "due": 9},
        ],
    }
    plan = cut(asked)
    placed = [one for piece in plan.pieces for one in piece.cuts]
    assert sorted(placed) == ["late", "late", "soon", "soon"]
    assert len(plan.unplaced) == 498


def test_of_two_with_no_day_the_longer_goes_first() -> None:
    asked = request([65], [60, 64])
    assert cut(asked).pieces[0].cuts == ("job-1",)


@pytest.mark.parametrize("bars", [[60, 90, 75, 75], [75, 75, 90, 60]])
def test_of_two_choices_as_long_the_one_with_the_longer_rest(bars: list[float]) -> None:
    # 60 alone and 10 + 70 leave 10 on one bar; 60 + 10 and 70 leave 5 on each
    plan = cut(request(bars, [60, 10, 70], kerf=0))
    assert (plan.opened_mm, plan.rest_mm) == (150, 10)


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(25))
def test_no_plan_of_the_same_bars_leaves_more_than_the_bound(seed: int) -> None:
    chance = random.Random(seed)
    weights = tuple(chance.randint(40, 90) for _ in range(5))
    problem = Problem(tuple(chance.randint(110, 260) for _ in range(3)), weights, 2)
    most = [-1, -1, -1]
    for where in itertools.product(range(3), repeat=5):
        on = [[item for item in range(5) if where[item] == bar] for bar in range(3)]
        if all(on) and all(problem.load(items) <= problem.rooms[bar] for bar, items in enumerate(on)):
            most = [max(most[bar], problem.rest(bar, on[bar])) for bar in range(3)]
    if most == [-1, -1, -1]:
        return
    bounds = rest_bounds(problem, [0, 1, 2], Effort())
    assert bounds is not None
    assert all(bound >= best for bound, best in zip(bounds, most, strict=True))
    few = patterns.few_of(problem)
    assert few is not None
    rests = RestByPatterns(problem, few, [0, 1, 2], Effort())
    for bar in range(3):
        least = rests.least_load(bar)
        assert least is not None
        assert max(0, problem.rooms[bar] - problem.kerf - least) >= most[bar]


@pytest.mark.parametrize(("bar", "sawn", "offcut"), [(122.2, 1, 0), (122.3, 1, 0), (122.4, 2, 0), (123.4, 2, 1.0)])
def test_a_blank_that_ends_with_the_bar_needs_no_cut(bar: float, sawn: int, offcut: float) -> None:
    plan = cut(
        {
            "kerf_mm": 0.2,
            "stock": [{"id": "a", "length_mm": bar}],
            "blanks": [{"id": "b", "length_mm": 61, "count": 2}],
        }
    )
    assert not plan.unplaced
    assert (plan.pieces[0].sawn, round(plan.pieces[0].offcut_mm, 6)) == (sawn, offcut)
    assert cut(
        {
            "kerf_mm": 0.2,
            "stock": [{"id": "a", "length_mm": 122.199}],
            "blanks": [{"id": "b", "length_mm": 61, "count": 2}],
        }
    ).unplaced


def test_offcuts_go_before_whole_bars_and_the_cheaper_of_two() -> None:
    plan = cut(
        {
            "stock": [{"id": "coil", "length_mm": 400}, {"id": "offcut", "length_mm": 90}],
            "blanks": [{"id": "b", "length_mm": 60}],
        }
    )
    assert [piece.stock_id for piece in plan.pieces] == ["offcut"]
    bars = [{"id": "dear", "length_mm": 90, "cost": 9}, {"id": "cheap", "length_mm": 90, "cost": 4}]
    assert cut({"stock": bars, "blanks": [{"id": "b", "length_mm": 60}]}).pieces[0].stock_id == "cheap"


def sheets(count: int, seed: int, kerf: float = 0.0) -> dict[str, object]:
    chance = random.Random(seed)
    return {
        "kerf_mm": kerf,
        "sheets": [
            {
                "id": f"sheet-{at}",
                "length_mm": chance.choice([100, 120, 150]),
                "width_mm": chance.choice([30, 40, 50]),
            }
            for at in range(4)
        ],
        "blanks": [
            {"id": f"b{at}", "length_mm": chance.randint(450, 750) / 10, "width_mm": chance.choice([3, 4, 5, 6.5, 8])}
            for at in range(count)
        ],
    }


@pytest.mark.sweep
@pytest.mark.parametrize("kerf", [0.0, 0.22])
@pytest.mark.parametrize("seed", range(5))
def test_strips_of_a_width_lie_side_by_side_on_their_sheet(seed: int, kerf: float) -> None:
    asked = sheets(20, seed, kerf)
    plan = cut(asked)
    laid_on_sheets(asked, plan)
    assert not plan.unplaced


def test_a_sheet_sheared_to_the_blank_gives_one_shank_a_strip() -> None:
    asked = {
        "sheets": [{"id": "s", "length_mm": 58, "width_mm": 25}],
        "blanks": [{"id": "b", "length_mm": 58, "width_mm": 6, "count": 5}],
    }
    plan = cut(asked)
    assert [len(strip.cuts) for strip in plan.strips] == [1, 1, 1, 1]
    assert plan.unplaced == ("b",)
    assert plan.optimal


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"stock": [], "blanks": [{"id": "a", "length_mm": -1}]}, "blanks.0.length_mm"),
        ({"stock": [{"id": "a", "length_mm": "1e400"}], "blanks": []}, "stock.0.length_mm"),
        ({"stock": [{"id": "a", "length_mm": 10, "count": 2001}], "blanks": []}, "stock.0.count"),
        ({"stock": [{"id": "a", "length_mm": 10, "count": 401}], "blanks": []}, "stock"),
        ({"stock": [{"id": "a", "length_mm": 10, "count": 1.5}], "blanks": []}, "stock.0.count"),
        ({"kerf_mm": 9, "stock": [], "blanks": []}, "kerf_mm"),
        ({"stock": [], "blanks": [{"id": "a", "length_mm": 5, "width_mm": 3}]}, "sheets"),
        ({"sheets": [{"id": "a", "length_mm": 5, "width_mm": 3}], "blanks": [{"id": "a", "length_mm": 5}]}, "blanks.0.width_mm"),
        ({"stock": [{"id": "a", "length_mm": 5, "cost": 10**400}], "blanks": []}, "stock.0.cost"),
        ({"stock": [{"id": "a" * 200, "length_mm": 5}], "blanks": []}, "stock.0.id"),
        ({"stock": [{"id": "a", "length_mm": 5, "count": 400}, {"id": "b", "length_mm": 5}], "blanks": []}, "stock"),
    ],
)  # fmt: skip
def test_what_is_no_plan_is_refused_at_its_field(asked: dict[str, object], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        cut(asked)
    assert refused.value.errors[0].field == field


def test_an_empty_drawer_and_no_blanks_are_answered() -> None:
    assert cut({"stock": [], "blanks": [{"id": "a", "length_mm": 5}]}).unplaced == ("a",)
    assert cut({"stock": [{"id": "a", "length_mm": 5}], "blanks": []}).says == ("Nothing is to be cut.",)
