"""Where few lengths repeat: patterns of a bar by column generation, and a bound from their prices.

HiGHS prices and chooses; its word counts for nothing. Prices are rounded to whole numbers, and for any whole prices
y >= 0 no bar can hold blanks worth more than v, its best pattern at y: so many bars are needed as their v add up to
the price of all blanks. That is reckoned here, in whole numbers, from an exact knapsack.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import Packed, Problem
from ringcraft.stock.cutting.highs import Column, choose_whole, price

MOST_LENGTHS, MOST_ROUNDS, MOST_FRONT = 12, 40, 6000
PRICES = 1_000_000  # into so many parts a price is rounded
UNMET = 20.0  # a blank that no bar takes costs more than any bar

Pattern = tuple[int, ...]


@dataclass(frozen=True)
class Few:
    """A problem of few lengths: each length with how many are wanted, each kind of bar with how many there are."""

    lengths: tuple[int, ...]
    wanted: tuple[int, ...]
    rooms: tuple[int, ...]
    there: tuple[int, ...]


def few_of(problem: Problem) -> Few | None:
    """The problem by its distinct lengths; None where there are too many of them."""
    lengths = Counter(problem.weights)
    if not lengths or len(lengths) > MOST_LENGTHS:
        return None
    rooms = Counter(room for room in problem.rooms if room >= min(lengths))
    ordered = sorted(lengths, reverse=True)
    kinds = sorted(rooms, reverse=True)
    return Few(tuple(ordered), tuple(lengths[w] for w in ordered), tuple(kinds), tuple(rooms[r] for r in kinds))


def best_pattern(few: Few, room: int, prices: Sequence[int], effort: Effort) -> tuple[int, Pattern] | None:
    """The pattern of a bar that is worth most at whole prices, and its worth; None where the search grows too wide,
    or the effort is spent.

    Exact: every load that no other beats in weight and worth is kept.
    """
    front: list[tuple[int, int, Pattern]] = [(0, 0, ())]
    for weight, worth_of, most in zip(few.lengths, prices, few.wanted, strict=True):
        grown = [
            (load + n * weight, worth + n * worth_of, (*pattern, n))
            for load, worth, pattern in front
            for n in range((min(most, (room - load) // weight) if worth_of else 0) + 1)
        ]
        effort.spend(20 + len(grown), 1)
        if effort.spent:
            return None
        grown.sort(key=lambda one: (one[0], -one[1]))
        front, top = [], -1
        for one in grown:
            if one[1] > top:
                front.append(one)
                top = one[1]
        if len(front) > MOST_FRONT:
            return None
    _, worth, pattern = front[-1]
    return worth, pattern


def bound_of(few: Few, prices: Sequence[int], effort: Effort) -> int | None:
    """So many bars are needed at least, by whole prices; None where a pattern cannot be priced exactly."""
    worths: list[int] = []
    for room, there in zip(few.rooms, few.there, strict=True):
        priced = best_pattern(few, room, prices, effort)
        if priced is None:
            return None
        worths += [priced[0]] * there
    left, count = sum(p * n for p, n in zip(prices, few.wanted, strict=True)), 0
    for worth in sorted(worths, reverse=True):
        if left <= 0:
            break
        left, count = left - worth, count + 1
    return count if left <= 0 else count + 1


def generate(few: Few, effort: Effort) -> tuple[dict[int, list[Pattern]], int]:
    """Patterns of each kind of bar by column generation, and the best bound that their prices gave (0: none)."""
    patterns: dict[int, list[Pattern]] = {kind: _first(few, room) for kind, room in enumerate(few.rooms)}
    bound = 0
    for _ in range(MOST_ROUNDS):
        if effort.spent:
            break
        prices, rents = _priced(few, patterns, effort)
        if not prices:
            break
        whole = [max(0, round(price * PRICES)) for price in prices]
        bound = max(bound, bound_of(few, whole, effort) or 0)
        more = False
        for kind, room in enumerate(few.rooms):
            priced = best_pattern(few, room, whole, effort)
            if priced and priced[0] > (1 - rents[kind]) * PRICES + 2 and priced[1] not in patterns[kind]:
                patterns[kind].append(priced[1])
                more = True
        if not more:
            break
    return patterns, bound


def _first(few: Few, room: int) -> list[Pattern]:
    """One pattern of each length alone."""
    out = []
    for place, (weight, most) in enumerate(zip(few.lengths, few.wanted, strict=True)):
        if n := min(most, room // weight):
            out.append(tuple(n if place == at else 0 for at in range(len(few.lengths))))
    return out


def _columns(
    few: Few, patterns: Mapping[int, Sequence[Pattern]], costs: Sequence[float]
) -> tuple[list[tuple[int, Pattern]], list[Column], list[tuple[float, float]]]:
    """A column a pattern of a kind of bar, one a length that goes unmet; rows of what is wanted and what is there."""
    lengths = len(few.lengths)
    chosen = [(kind, pattern) for kind, listed in patterns.items() for pattern in listed]
    columns = [
        Column(costs[kind], few.there[kind], {**_entries(pattern), lengths + kind: 1.0}) for kind, pattern in chosen
    ]
    columns += [Column(UNMET, wanted, {place: 1.0}) for place, wanted in enumerate(few.wanted)]
    rows = [(float(wanted), math.inf) for wanted in few.wanted] + [(-math.inf, float(there)) for there in few.there]
    return chosen, columns, rows


def _entries(pattern: Pattern) -> dict[int, float]:
    return {place: float(n) for place, n in enumerate(pattern) if n}


def _priced(
    few: Few, patterns: Mapping[int, Sequence[Pattern]], effort: Effort
) -> tuple[Sequence[float], Sequence[float]]:
    """What a blank of each length is worth, and what a kind of bar is dearer by for being rare."""
    _, columns, rows = _columns(few, patterns, [1.0] * len(few.rooms))
    prices = price(columns, rows, effort).prices
    return prices[: len(few.lengths)], prices[len(few.lengths) :]


def choose(
    few: Few, patterns: Mapping[int, Sequence[Pattern]], kerf: int, effort: Effort
) -> list[tuple[int, Pattern]] | None:
    """So many bars of each kind, each with its pattern, as HiGHS chooses them; None where it finds none.

    The fewest bars, among them the shortest. What comes out is only a proposal: it is counted again where it is laid.
    """
    longest = sum((room - kerf) * there for room, there in zip(few.rooms, few.there, strict=True)) + 1
    chosen, columns, rows = _columns(few, patterns, [1 + (room - kerf) / longest for room in few.rooms])
    values = choose_whole(columns, rows, effort).values
    if not values or any(value > 0.5 for value in values[len(chosen) :]):
        return None
    return [one for one, value in zip(chosen, values, strict=False) for _ in range(round(value))]


def lay(problem: Problem, few: Few, chosen: Sequence[tuple[int, Pattern]]) -> Packed | None:
    """The blanks on bars by chosen patterns, checked in whole numbers; None where they do not all go."""
    waiting = {w: [item for item, own in enumerate(problem.weights) if own == w] for w in few.lengths}
    free = {room: [bar for bar, own in enumerate(problem.rooms) if own == room] for room in few.rooms}
    packed: Packed = [[] for _ in problem.rooms]
    for kind, pattern in sorted(chosen, key=lambda one: -few.rooms[one[0]]):
        bars = free[few.rooms[kind]]
        if not bars:
            return None
        bar = bars.pop(0)
        for weight, n in zip(few.lengths, pattern, strict=True):
            packed[bar] += waiting[weight][:n]
            del waiting[weight][:n]
    return packed if problem.holds(packed) else None
