"""The door to HiGHS, as scipy carries it: a fresh model for each solve, and nothing that it says is believed.

The package of HiGHS itself greets on standard output, where the command line gives its answers; scipy's is the same
solver and silent. Prices and choices that come out are counted again, in whole numbers, where they are used.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ringcraft.stock.cutting.effort import Effort

MOST_NODES, LEAST_NODES = 400, 12  # of a search: the same search everywhere, however busy the machine
PER_STEP = 5  # entries of a model that one node goes through in a step


@dataclass(frozen=True)
class Column:
    """A column: what it costs, the most of it, and its entries by row."""

    cost: float
    most: float
    entries: Mapping[int, float]


@dataclass(frozen=True)
class Solved:
    """What came out: the columns' values and the rows' prices; empty where nothing did."""

    values: tuple[float, ...]
    prices: tuple[float, ...] = ()


def _matrix(columns: Sequence[Column], rows: int) -> Any:
    from scipy.sparse import csc_array

    places = [place for one in columns for place in one.entries]
    values = [value for one in columns for value in one.entries.values()]
    of_column = np.repeat(np.arange(len(columns)), [len(one.entries) for one in columns])
    return csc_array((values, (places, of_column)), shape=(rows, len(columns)))


def price(columns: Sequence[Column], rows: Sequence[tuple[float, float]], effort: Effort) -> Solved:
    """The least cost of columns and the price of each row: at least its first bound, or at most its second.

    A row has one finite bound, or two that are equal.
    """
    effort.spend(2_500 + 12 * (len(columns) + len(rows)), 1)
    from scipy.optimize import linprog

    matrix = _matrix(columns, len(rows))
    low, high = np.array([one[0] for one in rows]), np.array([one[1] for one in rows])
    equal = low == high
    sign = np.where(np.isfinite(high), 1.0, -1.0)[~equal]
    bound = np.where(np.isfinite(high), high, low)[~equal]
    found = linprog(
        [one.cost for one in columns],
        A_ub=_scaled(matrix[~equal], sign) if (~equal).any() else None,
        b_ub=sign * bound if (~equal).any() else None,
        A_eq=matrix[equal] if equal.any() else None,
        b_eq=low[equal] if equal.any() else None,
        bounds=[(0.0, one.most) for one in columns],
        method="highs",
    )
    if found.x is None or found.status != 0:
        return Solved(())
    prices = np.zeros(len(rows))
    if (~equal).any():
        prices[~equal] = sign * found.ineqlin.marginals
    if equal.any():
        prices[equal] = found.eqlin.marginals
    return Solved(tuple(map(float, found.x)), tuple(map(float, prices)))


def _scaled(matrix: Any, sign: Any) -> Any:
    from scipy.sparse import dia_array

    return dia_array((sign[None, :], [0]), shape=(len(sign), len(sign))) @ matrix


def choose_whole(columns: Sequence[Column], rows: Sequence[tuple[float, float]], effort: Effort) -> Solved:
    """The least cost of whole numbers of columns, each row between its two bounds; empty where none was found.

    As many nodes of the search as the effort pays for; none at all where that would be hardly any.
    """
    node = 200 + len(columns) * len(rows) // PER_STEP
    nodes = min(MOST_NODES, effort.left // node)
    if nodes < LEAST_NODES:
        return Solved(())
    effort.spend(node * nodes, nodes)
    from scipy.optimize import Bounds, LinearConstraint, milp

    low, high = [one[0] for one in rows], [one[1] for one in rows]
    found = milp(
        [one.cost for one in columns],
        constraints=LinearConstraint(_matrix(columns, len(rows)), low, high),
        integrality=np.ones(len(columns)),
        bounds=Bounds(0.0, [one.most for one in columns]),
        options={"node_limit": nodes},
    )
    return Solved(()) if found.x is None else Solved(tuple(map(float, found.x)))
