"""Bars that leave hardly anything over: each is filled to what may still be wasted, the longest blank of all first.

Where nearly all metal is wanted, most fills waste too much, so the tree of the others is narrow: it is searched to a
depth, again and again in another order, until the effort is spent.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from random import Random

from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import Packed, Problem

WIDEST = 6  # fills of a bar that are followed; the others come in another order
TRY_STEPS = 40_000
MOST_ITEMS = 120
SEED = 22


def complete(problem: Problem, bars: Sequence[int], effort: Effort) -> Packed | None:
    """All blanks on these bars, or None where no way was found with the effort."""
    slack = sum(problem.rooms[bar] for bar in bars) - sum(problem.weights)
    if slack < 0 or len(problem.weights) > MOST_ITEMS:
        return None
    items = sorted(range(len(problem.weights)), key=lambda item: -problem.weights[item])
    seed = SEED
    while not effort.spent:
        once = Effort(min(effort.left, TRY_STEPS), effort)
        found = _Search(problem, Random(seed), once).follow(items, list(bars), slack)  # noqa: S311 - no secret
        if found is not None:
            packed: Packed = [[] for _ in problem.rooms]
            for bar, fill in found:
                packed[bar] = sorted(fill)
            return packed
        if not once.spent:
            return None  # every fill that was followed ends: the next order would follow the same ones
        seed += 1
    return None


class _Search:
    """One way through the tree, in an order of its own."""

    def __init__(self, problem: Problem, chance: Random, effort: Effort) -> None:
        self.problem, self.chance, self.effort = problem, chance, effort

    def follow(self, items: list[int], bars: list[int], slack: int) -> list[tuple[int, list[int]]] | None:
        """Fill one bar with the longest blank, then the rest of them."""
        if not items:
            return []
        kinds: dict[int, int] = {}
        for bar in bars:
            kinds.setdefault(self.problem.rooms[bar], bar)
        order = list(kinds.values())
        self.chance.shuffle(order)
        for bar in order:
            fills = sorted(self._fills(items, self.problem.rooms[bar], slack))[:WIDEST]
            for waste, places in fills:
                taken = set(places)
                rest = [item for place, item in enumerate(items) if place not in taken]
                others = [one for one in bars if one != bar]
                found = self.follow(rest, others, slack - waste)
                if found is not None:
                    return [(bar, [items[place] for place in places]), *found]
                if self.effort.spent:
                    return None
        return None

    def _fills(self, items: Sequence[int], room: int, slack: int) -> Iterator[tuple[int, tuple[int, ...]]]:
        """Fills with the longest blank that waste no more than may be wasted, as far as a few are wanted."""
        weights = [self.problem.weights[item] for item in items]
        if weights[0] > room:
            return
        after = [0] * (len(weights) + 1)
        for place in range(len(weights) - 1, -1, -1):
            after[place] = after[place + 1] + weights[place]
        stack: list[tuple[int, tuple[int, ...], int]] = [(1, (0,), weights[0])]
        found = 0
        while stack and found < 2 * WIDEST and not self.effort.spent:
            begin, places, load = stack.pop()
            if load >= room - slack:
                found += 1
                yield room - load, places
            more, before = [], -1
            for place in range(begin, len(weights)):
                if load + after[place] < room - slack:
                    break
                if weights[place] != before and load + weights[place] <= room:
                    more.append((place + 1, (*places, place), load + weights[place]))
                before = weights[place]
            self.effort.spend(2 + (len(weights) - begin) // 3, 1)
            self.chance.shuffle(more)
            stack += more
