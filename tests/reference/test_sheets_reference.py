"""Sheets against scipy's MILP (HiGHS): the three stages written down as inequalities, which share no code with ours.

After the model of strips, stacks and items of Puchinger and Raidl (Models and algorithms for three-stage two-dimensional
bin packing, European Journal of Operational Research 183, 2007; from memory), with blanks that turn.
"""

import itertools
import random
from collections.abc import Sequence

import numpy as np
import pytest
from scipy.optimize import LinearConstraint, milp

from ringcraft.stock.cutting.answer import cut

Blank = tuple[int, int, bool]


class Model:
    """Rows and columns as they come; ``fewest`` is what it answers."""

    def __init__(self) -> None:
        self.columns: list[tuple[float, float, bool]] = []
        self.rows: list[tuple[dict[int, float], float]] = []

    def column(self, most: float, whole: bool = True, cost: float = 0.0) -> int:
        self.columns.append((most, cost, whole))
        return len(self.columns) - 1

    def at_most(self, entries: dict[int, float], limit: float) -> None:
        self.rows.append((entries, limit))

    def one_of(self, columns: Sequence[int]) -> None:
        self.at_most(dict.fromkeys(columns, 1.0), 1)
        self.at_most(dict.fromkeys(columns, -1.0), -1)

    def solve(self) -> tuple[int, float]:
        matrix = np.zeros((len(self.rows), len(self.columns)))
        for row, (entries, _) in enumerate(self.rows):
            for column, value in entries.items():
                matrix[row, column] = value
        found = milp(
            [cost for _, cost, _ in self.columns],
            constraints=LinearConstraint(matrix, -np.inf, [limit for _, limit in self.rows]),
            integrality=[int(whole) for *_, whole in self.columns],
            bounds=(0, [most for most, *_ in self.columns]),
            options={"time_limit": 120},
        )
        return found.status, float(found.fun) if found.x is not None else float("nan")


def fewest_sheets(long: int, wide: int, count: int, blanks: Sequence[Blank], first_along: Sequence[bool]) -> float:
    """The fewest of some equal sheets, the first cut of each along its length or not; infinite where none hold them.

    Stacks are named by the blank that is their first, strips by their first stack; a strip lies on one sheet.
    """
    model, n = Model(), len(blanks)
    big = float(2 * (long + wide) + sum(a + b for a, b, _ in blanks))
    open_ = [model.column(1, cost=1) for _ in range(count)]
    ways = [
        [(sheet, stack, turned) for sheet in range(count) for stack in range(n) for turned in (False, True)]
        for _ in blanks
    ]
    laid = [
        {way: model.column(0 if along and way[2] else 1) for way in options}
        for options, (*_, along) in zip(ways, blanks, strict=True)
    ]
    for item in range(n):
        model.one_of(list(laid[item].values()))
        for (sheet, stack, _), column in laid[item].items():
            model.at_most({column: 1, open_[sheet]: -1}, 0)
            if stack > item:
                model.at_most({column: 1}, 0)
    for sheet in range(count):
        room, over = (long, wide) if first_along[sheet] else (wide, long)
        reach = [model.column(room, whole=False) for _ in range(n)]  # of a stack along its strip
        strips = [model.column(over, whole=False) for _ in range(n)]  # how wide a strip is
        joined = [[model.column(1 if strip <= stack else 0) for strip in range(n)] for stack in range(n)]
        shares = [[model.column(room, whole=False) for _ in range(n)] for _ in range(n)]
        for stack in range(n):
            model.one_of(joined[stack])
            across: dict[int, float] = {}
            for item, (a, b, _) in enumerate(blanks):
                flat, turned = laid[item][(sheet, stack, False)], laid[item][(sheet, stack, True)]
                ahead, beside = (a, b) if first_along[sheet] else (b, a)
                model.at_most({flat: ahead, turned: beside, reach[stack]: -1}, 0)
                across[flat], across[turned] = beside, ahead
            for strip in range(n):
                model.at_most({**across, strips[strip]: -1, joined[stack][strip]: big}, big)
                model.at_most({reach[stack]: 1, shares[stack][strip]: -1, joined[stack][strip]: big}, big)
        for strip in range(n):
            model.at_most({shares[stack][strip]: 1 for stack in range(n)}, room)
        model.at_most(dict.fromkeys(strips, 1.0), over)
    status, value = model.solve()
    assert status in (0, 1, 2)
    return value if status == 0 else float("inf") if status == 2 else float("nan")


def asked_of(long: int, wide: int, count: int, kerf: int, blanks: Sequence[Blank]) -> dict[str, object]:
    return {
        "kerf_mm": kerf,
        "sheets": [{"id": f"s{at}", "length_mm": long, "width_mm": wide} for at in range(count)],
        "blanks": [
            {"id": f"b{at}", "length_mm": a, "width_mm": b, "direction": "along" if along else "any"}
            for at, (a, b, along) in enumerate(blanks)
        ],
    }


def by_milp(long: int, wide: int, count: int, kerf: int, blanks: Sequence[Blank]) -> float:
    grown = [(a + kerf, b + kerf, along) for a, b, along in blanks]
    ways = itertools.combinations_with_replacement((True, False), count)
    return min(fewest_sheets(long + kerf, wide + kerf, count, grown, way) for way in ways)


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(16))
def test_as_few_sheets_as_a_model_of_three_stages_finds(seed: int) -> None:
    chance = random.Random(seed)
    long, wide, kerf, count = chance.randint(20, 34), chance.randint(12, 20), chance.choice([0, 1]), 1 + seed % 2
    blanks = [
        (chance.randint(6, 16), chance.randint(3, 9), chance.random() < 0.3) for _ in range(chance.randint(4, 5))
    ]
    plan = cut(asked_of(long, wide, count, kerf, blanks))
    fewest = by_milp(long, wide, count, kerf, blanks)
    if fewest != fewest:
        pytest.skip("the model did not end")
    if fewest == float("inf"):
        assert plan.unplaced
        assert plan.unplaced_proven
    else:
        assert not plan.unplaced
        assert len({strip.sheet_id for strip in plan.strips}) == fewest
        assert plan.bound_sheets <= fewest
