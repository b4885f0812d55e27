"""Blanks from sheets: laid out again, small ones against every way of three stages, and words that claim no more."""

from __future__ import annotations

import itertools
import random
from typing import Any

import pytest

from ringcraft.errors import BadRequest
from ringcraft.stock.cutting import sheets
from ringcraft.stock.cutting.answer import cut
from ringcraft.stock.cutting.effort import TOTAL, Effort
from ringcraft.stock.cutting.shapes import CutPlan
from tests.ringcraft.sheetwork import goes_in_three_stages, laid_on_sheets


def sheet(long: float, wide: float, name: str = "s", count: int = 1) -> dict[str, Any]:
    return {"id": name, "length_mm": long, "width_mm": wide, "count": count}


def blank(name: str, long: float, wide: float, count: int = 1, **more: Any) -> dict[str, Any]:
    return {"id": name, "length_mm": long, "width_mm": wide, "count": count, **more}


def opened(plan: CutPlan) -> int:
    return len({strip.sheet_id for strip in plan.strips})


@pytest.mark.parametrize(
    ("asked", "turned"),
    [
        ({"kerf_mm": 0.22, "sheets": [sheet(100, 60)], "blanks": [blank("a", 59.8, 6.35, 12)]}, True),
        (
            {"kerf_mm": 0.22, "sheets": [sheet(120, 11.9)], "blanks": [blank("a", 58.9, 10), blank("b", 58.9, 6)]},
            False,
        ),
        (
            {
                "sheets": [sheet(120, 10, "one"), sheet(120, 10, "two")],
                "blanks": [blank("a", 60, 10), blank("b", 60, 6)],
            },
            False,
        ),
    ],
)
def test_blanks_are_turned_and_rests_of_strips_are_used(asked: dict[str, Any], turned: bool) -> None:
    plan = cut(asked)
    laid_on_sheets(asked, plan)
    assert not plan.unplaced
    assert opened(plan) == 1
    assert plan.optimal
    assert plan.says == ("One sheet is enough.",)
    assert any(strip.turned for strip in plan.strips) == turned
    if not turned:
        child = next(strip for strip in plan.strips if strip.parent is not None)
        assert (child.stage, plan.strips[child.parent or 0].stage) == (3, 1)


def test_what_has_a_direction_is_not_turned() -> None:
    asked = {"sheets": [sheet(40, 62)], "blanks": [blank("a", 60, 6, 3, direction="along")]}
    plan = cut(asked)
    assert plan.unplaced == ("a",) * 3
    assert plan.unplaced_proven
    assert not cut({**asked, "blanks": [blank("a", 60, 6, 3)]}).unplaced
    with pytest.raises(BadRequest) as refused:
        cut({**asked, "blanks": [blank("a", 60, 6, direction="across")]})
    assert refused.value.errors[0].field == "blanks.0.direction"


def test_the_rest_of_a_sheet_is_told_where_it_lies() -> None:
    """58.9 x 11.9 for a band 10 wide: the saw takes 0.22, a strip of 1.68 x 58.9 is left of it."""
    plan = cut({"kerf_mm": 0.22, "sheets": [sheet(58.9, 11.9)], "blanks": [blank("a", 58.9, 10)]})
    assert [(one.long_mm, one.wide_mm) for one in plan.rests] == [(58.9, 1.68)]
    assert plan.kerf_total_mm == pytest.approx(0.22)


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(60))
def test_any_plan_of_sheets_can_be_laid_out(seed: int) -> None:
    chance = random.Random(seed)
    asked = {
        "kerf_mm": chance.choice([0, 0.22, 0.3]),
        "end_trim_mm": chance.choice([0, 0, 0.5]),
        "sheets": [
            sheet(chance.randint(50, 150), chance.randint(8, 80), f"s{at}") for at in range(chance.randint(1, 4))
        ],
        "blanks": [
            blank(
                f"b{at}",
                chance.choice([chance.randint(400, 700), chance.randint(50, 300)]) / 10,
                chance.choice([3, 4, 5, 6.35, 10]),
                direction=chance.choice(["any", "any", "along"]),
            )
            for at in range(chance.randint(1, 24))
        ],
    }
    laid_on_sheets(asked, cut(asked))


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(40))
def test_a_few_blanks_on_one_sheet_against_every_way(seed: int) -> None:
    """Brute force of three stages, written down apart: what goes is found, and what is said to be proven does not."""
    chance = random.Random(seed)
    long, wide, kerf = chance.randint(14, 30), chance.randint(8, 20), chance.choice([0, 1])
    blanks = [
        (chance.randint(4, 16), chance.randint(3, 9), chance.random() < 0.3) for _ in range(chance.randint(2, 4))
    ]
    asked = {
        "kerf_mm": kerf,
        "sheets": [sheet(long, wide)],
        "blanks": [
            blank(f"b{at}", a, b, direction="along" if along else "any") for at, (a, b, along) in enumerate(blanks)
        ],
    }
    plan = cut(asked)
    laid_on_sheets(asked, plan)
    grown = [(a + kerf, b + kerf, along) for a, b, along in blanks]
    assert (not plan.unplaced) == goes_in_three_stages(long + kerf, wide + kerf, grown)
    assert plan.unplaced_proven
    assert plan.looked_at.exhausted


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(20))
def test_the_fewest_sheets_of_a_few_blanks(seed: int) -> None:
    chance = random.Random(seed)
    blanks = [(chance.randint(5, 12), chance.randint(3, 8), False) for _ in range(chance.randint(3, 5))]
    long, wide = chance.randint(12, 16), chance.randint(8, 12)
    asked = {
        "sheets": [sheet(long, wide, f"s{at}") for at in range(5)],
        "blanks": [blank(f"b{at}", a, b) for at, (a, b, _) in enumerate(blanks)],
    }
    plan = cut(asked)
    laid_on_sheets(asked, plan)
    fits = {
        frozenset(some): goes_in_three_stages(long, wide, [blanks[at] for at in some])
        for count in range(1, len(blanks) + 1)
        for some in itertools.combinations(range(len(blanks)), count)
    }

    def fewest(left: frozenset[int]) -> int:
        if not left:
            return 0
        first = min(left)
        return 1 + min(fewest(left - some) for some, goes in fits.items() if goes and first in some and some <= left)

    assert not plan.unplaced
    assert opened(plan) == fewest(frozenset(range(len(blanks))))
    assert plan.optimal


@pytest.mark.parametrize("seed", range(6))
def test_sheets_cut_up_without_waste_are_put_together_again(seed: int) -> None:
    """Instances of our own: sheets are cut in strips and lengths that fill them, so the fewest are known."""
    chance = random.Random(seed)
    blanks = []
    for _ in range(3):
        for wide in (4, 6, 10):
            at = 0
            while 120 - at > 50:
                length = chance.choice([20, 25, 30])
                blanks.append((length, wide))
                at += length
            blanks.append((120 - at, wide))
    chance.shuffle(blanks)
    asked = {
        "sheets": [sheet(120, 20, f"s{at}") for at in range(6)],
        "blanks": [blank(f"b{at}", a, b) for at, (a, b) in enumerate(blanks)],
    }
    plan = cut(asked)
    laid_on_sheets(asked, plan)
    assert not plan.unplaced
    assert opened(plan) <= 4
    assert plan.bound_sheets == 3


@pytest.mark.parametrize(("blanks", "sheets_", "widths"), [(100, 3, 4), (300, 3, 4), (300, 10, 12)])
def test_a_request_stops_by_a_count_of_work(
    monkeypatch: pytest.MonkeyPatch, blanks: int, sheets_: int, widths: int
) -> None:
    chance, spent = random.Random(blanks), []

    monkeypatch.setattr(sheets, "Effort", lambda: spent.append(Effort()) or spent[-1])  # type: ignore[func-returns-value]
    asked = {
        "kerf_mm": 0.22,
        "sheets": [sheet(120, 60, f"s{at}") for at in range(sheets_)],
        "blanks": [
            blank(f"b{at}", chance.randint(450, 720) / 10, 3 + 0.5 * chance.randint(0, widths))
            for at in range(blanks)
        ],
    }
    plan = cut(asked)
    laid_on_sheets(asked, plan)
    assert TOTAL - spent[0].left < 1.3 * TOTAL
    assert cut(asked) == plan


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        (
            {"stock": [{"id": "a", "length_mm": 70}], "blanks": [{"id": "b", "length_mm": 50}, {"id": "c", "length_mm": 90}]},
            ("1 blank cannot be cut from what is there.", "The other goes on one piece."),
        ),
        (
            {"stock": [{"id": "a", "length_mm": 70, "count": 2}], "blanks": [{"id": "b", "length_mm": 50, "count": 3}]},
            ("1 blank cannot be cut from what is there.", "The others go on 2 pieces, and not on fewer."),
        ),
        (
            {"sheets": [sheet(60, 10)], "blanks": [blank("a", 60, 10), blank("b", 50, 10)]},
            ("1 blank cannot be cut from what is there.", "The other goes on one sheet."),
        ),
        ({"stock": [{"id": "a", "length_mm": 70}], "blanks": [{"id": "b", "length_mm": 50}]}, ("One piece is enough.",)),
    ],
)  # fmt: skip
def test_what_is_said_of_a_plan_agrees_with_itself(asked: dict[str, Any], says: tuple[str, ...]) -> None:
    plan = cut(asked)
    assert plan.says[: len(says)] == says
    assert plan.unplaced_proven
