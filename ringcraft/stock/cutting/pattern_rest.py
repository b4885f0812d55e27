"""The longest rest where few lengths repeat: what the other bars can hold, by patterns, their prices and a bound.

For any whole prices u >= 0 of the blanks the other bars hold at most sum(u d) and, each, its best pattern at w - u:
that is reckoned exactly, so no plan of these bars leaves the one a longer rest.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import Packed, Problem
from ringcraft.stock.cutting.highs import Column, choose_whole, price
from ringcraft.stock.cutting.patterns import MOST_ROUNDS, Few, Pattern, best_pattern

Columns = dict[int, list[Pattern]]


class RestByPatterns:
    """The rests of the opened bars of a problem; the patterns that one sink asked for serve the next."""

    def __init__(self, problem: Problem, few: Few, bars: Sequence[int], effort: Effort) -> None:
        self.effort = effort
        self.problem, self.few, self.bars = problem, few, bars
        self.pool: dict[int, list[Pattern]] = {}
        self.worths: dict[int, int] = {}  # by room, at the prices of the last reckoning
        self.beside = 0  # what the blanks are worth together at those prices

    def _others(self, sink: int) -> tuple[Few, Columns]:
        rooms = Counter(self.problem.rooms[bar] for bar in self.bars if bar != sink)
        kinds = tuple(sorted(rooms, reverse=True))
        empty: Pattern = tuple(0 for _ in self.few.lengths)
        patterns = {kind: self.pool.setdefault(room, [empty]) for kind, room in enumerate(kinds)}
        return replace(self.few, rooms=kinds, there=tuple(rooms[room] for room in kinds)), patterns

    def least_load(self, sink: int) -> int | None:
        """The least load that one of the bars can be left with, at its own prices; None where it cannot be said."""
        few, patterns = self._others(sink)
        least: int | None = None
        for _ in range(MOST_ROUNDS):
            if self.effort.spent:
                break
            prices, rents = _priced(few, patterns, self.effort)
            if not prices:
                break
            worth = [max(0, weight - price) for weight, price in zip(few.lengths, prices, strict=True)]
            self.beside, more = sum(price * wanted for price, wanted in zip(prices, few.wanted, strict=True)), False
            for kind, room in enumerate(few.rooms):
                best = best_pattern(few, room, worth, self.effort)
                if best is None:
                    return None
                self.worths[room] = best[0]
                if best[0] > rents[kind] + 2 and best[1] not in patterns[kind]:
                    patterns[kind].append(best[1])
                    more = True
            least = max(least or 0, self.at_last_prices(sink) or 0)
            if not more:
                break
        return least

    def at_last_prices(self, sink: int) -> int | None:
        """The same at the prices of the last reckoning, whichever bar that was for."""
        rooms = [self.problem.rooms[bar] for bar in self.bars if bar != sink]
        if any(room not in self.worths for room in rooms):
            return None
        held = self.beside + sum(self.worths[room] for room in rooms)
        return max(min(self.problem.weights), sum(self.problem.weights) - held)

    def plan(self, sink: int) -> Packed | None:
        """A plan from the patterns known, the rests gathered on this bar; None where none was found."""
        few, patterns = self._others(sink)
        return _chosen(self.problem, few, patterns, self.bars, sink, self.effort)


def _model(few: Few, patterns: Columns) -> tuple[list[tuple[int, Pattern]], list[Column], list[tuple[float, float]]]:
    chosen = [(kind, pattern) for kind, listed in patterns.items() for pattern in listed]
    columns = []
    for kind, pattern in chosen:
        load = sum(weight * n for weight, n in zip(few.lengths, pattern, strict=True))
        entries = {place: float(n) for place, n in enumerate(pattern) if n}
        columns.append(Column(-load, few.there[kind], {**entries, len(few.lengths) + kind: 1.0}))
    rows = [(0.0, float(wanted)) for wanted in few.wanted] + [(float(n), float(n)) for n in few.there]
    return chosen, columns, rows


def _priced(few: Few, patterns: Columns, effort: Effort) -> tuple[list[int], list[float]]:
    """What a blank's place on the other bars is worth, in whole thousandths, and what each kind of bar then holds."""
    _, columns, rows = _model(few, patterns)
    prices = price(columns, rows, effort).prices
    lengths = len(few.lengths)
    return [max(0, round(-price)) for price in prices[:lengths]], [-price for price in prices[lengths:]]


def _chosen(
    problem: Problem, few: Few, patterns: Columns, bars: Sequence[int], sink: int, effort: Effort
) -> Packed | None:
    """The patterns that HiGHS chooses, laid on the bars and counted again; what is over goes on the one."""
    chosen, columns, rows = _model(few, patterns)
    values = choose_whole(columns, rows, effort).values
    picked = [one for one, value in zip(chosen, values, strict=False) for _ in range(round(value))]
    free = {room: [bar for bar in bars if bar != sink and problem.rooms[bar] == room] for room in few.rooms}
    waiting = {w: [item for item, own in enumerate(problem.weights) if own == w] for w in few.lengths}
    packed: Packed = [[] for _ in problem.rooms]
    for kind, pattern in picked:
        if not free[few.rooms[kind]]:
            return None
        bar = free[few.rooms[kind]].pop(0)
        for weight, n in zip(few.lengths, pattern, strict=True):
            packed[bar] += waiting[weight][:n]
            del waiting[weight][:n]
    packed[sink] = [item for items in waiting.values() for item in items]
    whole = problem.holds(packed) and all(packed[bar] for bar in bars)
    return packed if whole else None
