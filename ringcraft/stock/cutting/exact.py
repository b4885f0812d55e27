"""Few blanks are tried in every way: what is found there is the best there is."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import Packed, Problem

MOST_ITEMS, MOST_BARS = 10, 12
MOST_CHOICES = 400  # of bars, before the search is left to the fill

#: Of each set of blanks, as bits: how many bars it takes in their order and how full the last one is; None where it
#: does not go on them, else with the blank that was laid last and where that one stands.
_Way = tuple[int, int, int]


def ways(problem: Problem, bars: Sequence[int], effort: Effort) -> list[_Way | None]:
    """How every set of blanks goes on these bars, opened in this order: bar, its load, the blank laid last."""
    effort.spend(len(problem.weights) * (1 << len(problem.weights)) // 2, 1 << len(problem.weights))
    weights, out = problem.weights, [None] * (1 << len(problem.weights))
    table: list[_Way | None] = list(out)
    table[0] = (0, 0, -1)
    for items in range(len(table)):
        before = table[items]
        if before is None:
            continue
        for item, weight in enumerate(weights):
            if items >> item & 1:
                continue
            at, load = _next(problem, bars, before[0], before[1], weight)
            after = table[items | 1 << item]
            if at < len(bars) and (after is None or (at, load) < after[:2]):
                table[items | 1 << item] = (at, load, item)
    return table


def _next(problem: Problem, bars: Sequence[int], at: int, load: int, weight: int) -> tuple[int, int]:
    while at < len(bars) and load + weight > problem.rooms[bars[at]]:
        at, load = at + 1, 0
    return at, load + weight


def laid(problem: Problem, bars: Sequence[int], table: Sequence[_Way | None], items: int) -> Packed:
    """The blanks of a set on their bars."""
    packed: Packed = [[] for _ in problem.rooms]
    while items:
        way = table[items]
        assert way is not None
        packed[bars[way[0]]].append(way[2])
        items &= ~(1 << way[2])
    return packed


def placeable(problem: Problem, order: Sequence[int], effort: Effort) -> tuple[list[int], Packed]:
    """Which blanks go on the bars, taken in this order, each if it still goes with those before it; and how."""
    bars = range(len(problem.rooms))
    table = ways(problem, bars, effort)
    chosen, items = 0, []
    for item in order:
        if table[chosen | 1 << item] is not None:
            chosen |= 1 << item
            items.append(item)
    return sorted(items), laid(problem, bars, table, chosen)


def best(problem: Problem, effort: Effort) -> Packed | None:
    """All blanks on the fewest bars, of the least length, with the longest rest; None where that is too much to try.

    Every choice of bars is tried, the fewest and shortest first. Raises nothing: a problem whose blanks do not all go
    on its bars has no best.
    """
    if len(problem.weights) > MOST_ITEMS or len(_distinct(problem)) > MOST_BARS:
        return None
    everything = (1 << len(problem.weights)) - 1
    need, tried = sum(problem.weights), 0
    for count in range(1, len(problem.rooms) + 1):
        found: list[Packed] = []
        length = None
        for bars in _choices(problem, count, need):
            if length is not None and problem.total(bars) > length:
                break
            tried += 1
            if tried > MOST_CHOICES or effort.spent:
                return None
            table = ways(problem, bars, effort)
            if table[everything] is not None:
                length = problem.total(bars)
                found.append(_longest_rest(problem, bars, laid(problem, bars, table, everything), effort))
        if found:
            return max(found, key=lambda packed: longest_rest(problem, packed))
    return None


def _choices(problem: Problem, count: int, need: int) -> list[tuple[int, ...]]:
    """Choices of so many bars that hold the metal, each multiset of lengths once, the shortest first."""
    seen: dict[tuple[int, ...], tuple[int, ...]] = {}
    for bars in itertools.combinations(_distinct(problem), count):
        rooms = tuple(sorted(problem.rooms[bar] for bar in bars))
        if sum(rooms) >= need:
            seen.setdefault(rooms, bars)
    return sorted(seen.values(), key=problem.total)


def _distinct(problem: Problem) -> list[int]:
    """Bars to choose from: of one length no more than there are blanks, the first ones of it."""
    seen: dict[int, int] = {}
    out = []
    for bar, room in enumerate(problem.rooms):
        seen[room] = seen.get(room, 0) + 1
        if seen[room] <= len(problem.weights):
            out.append(bar)
    return out


def longest_rest(problem: Problem, packed: Packed) -> int:
    """The longest rest of the bars that are opened."""
    return max((problem.rest(bar, items) for bar, items in enumerate(packed) if items), default=0)


def _longest_rest(problem: Problem, bars: Sequence[int], packed: Packed, effort: Effort) -> Packed:
    """The same bars with the longest rest that any way of laying leaves on one of them."""
    everything = (1 << len(problem.weights)) - 1
    for last in bars:
        others = [bar for bar in bars if bar != last]
        table = ways(problem, others, effort)
        for items, way in enumerate(table):
            on_last = [item for item in range(len(problem.weights)) if not items >> item & 1]
            if way is None or not on_last or problem.load(on_last) > problem.rooms[last]:
                continue
            if problem.rest(last, on_last) > longest_rest(problem, packed):
                packed = laid(problem, others, table, items & everything)
                packed[last] = on_last
    return packed
