"""Who is served where not all blanks go: each in the stated order, if it still goes with those served before it.

Whether a blank goes is asked of all that are left out, lightly at first and deeper the longer nothing comes of it;
one that is found to go after all is served before those after it, which are laid anew.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from itertools import accumulate

from ringcraft.stock.cutting import patterns
from ringcraft.stock.cutting.completing import complete
from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.fill import Filler, most_held_each
from ringcraft.stock.cutting.grid import Packed, Problem

ROUNDS = (8, 40, 200, 1_000, 5_000)  # of mending, each time a blank is asked for again
COMPLETING = (0, 0, 10_000, 60_000, 250_000)  # steps of filling to the brim, beside them
PRICED = 0.15  # share of a request's effort for prices of patterns
KEPT = 60_000  # steps that are kept for laying anew what comes after


def in_order(problem: Problem, order: Sequence[int], effort: Effort) -> tuple[list[int], Packed]:
    """The blanks that are served, in their order, and one way of laying them."""
    serving = _Serving(problem, order, effort)
    serving.walk(0)
    while effort.left > KEPT and serving.one_more():
        pass
    return serving.placed, serving.packed


def shown(problem: Problem, order: Sequence[int], placed: set[int], effort: Effort) -> bool:
    """Whether each blank that is left out cannot go with those served before it: by the metal, by how many of the
    length go on a bar, or by prices of patterns."""
    served: list[int] = []
    for item in order:
        if item in placed:
            served.append(item)
        elif not ruled_out(problem, [*served, item], effort) and not _priced_out(
            problem.with_items([*served, item]), effort
        ):
            return False
    return True


def ruled_out(problem: Problem, items: Sequence[int], effort: Effort) -> bool:
    """Whether these blanks cannot all go: more metal than the bars hold, or more long ones than have a place."""
    weights = sorted((problem.weights[item] for item in items), reverse=True)
    if sum(weights) > sum(problem.rooms) or weights[0] > max(problem.rooms):
        return True
    effort.spend(len(weights) * (len(weights) // 40 + len(problem.rooms) // 8 + 1))
    if _too_many(weights, problem.rooms):
        return True
    return sum(most_held_each(weights, problem.rooms, effort)) < sum(weights)


def _too_many(weights: Sequence[int], rooms: Sequence[int]) -> bool:
    """Whether of the longest blanks, for any number of them, more are wanted than the bars have places for.

    ``weights`` from the longest; a bar takes as many of them as its shortest go on it.
    """
    for count in range(1, len(weights) + 1):
        sums = list(accumulate(reversed(weights[:count])))
        if sum(bisect_right(sums, room) for room in rooms) < count:
            return True
    return False


def _priced_out(problem: Problem, effort: Effort) -> bool:
    """Whether prices of patterns show that these blanks want more bars than there are."""
    few = patterns.few_of(problem)
    if few is None or effort.spent:
        return False
    return patterns.generate(few, effort.part(PRICED))[1] > len(problem.rooms)


class _Serving:
    """Which blanks are served so far and where they lie; ``asked``: how often each other one was asked for."""

    def __init__(self, problem: Problem, order: Sequence[int], effort: Effort) -> None:
        self.problem, self.order, self.effort = problem, list(order), effort
        self.rank = {item: place for place, item in enumerate(order)}
        self.bars = list(range(len(problem.rooms)))
        self.placed: list[int] = []
        self.packed: Packed = [[] for _ in self.bars]
        self.asked: dict[int, int] = {}

    def walk(self, first: int) -> None:
        """Lay the blanks from a place of the order on, one after the other, each where there is room or some is
        easily made."""
        weights, free = self.problem.weights, self._free()
        filler = Filler(self.problem, self.effort)
        self.effort.spend((len(self.order) - first) * (1 + len(self.bars) // 16))
        for item in self.order[first:]:
            weight = weights[item]
            self.asked.pop(item, None)
            into = min((bar for bar in self.bars if free[bar] >= weight), key=free.__getitem__, default=None)
            if into is not None:
                self.packed[into] = [*self.packed[into], item]
                free[into] -= weight
            elif sum(free) < weight or weight > max(self.problem.rooms):
                self.asked[item] = len(ROUNDS)
                continue
            elif (found := filler.mend(self.bars, [item], self.packed, ROUNDS[0])) is not None:
                self.packed = found
                free = self._free()
            else:
                self.asked[item] = 1
                continue
            self.placed.append(item)

    def _free(self) -> list[int]:
        return [room - self.problem.load(items) for room, items in zip(self.problem.rooms, self.packed, strict=True)]

    def one_more(self) -> bool:
        """Ask for the blank that was asked for least, the first of those; False when nothing is left to ask."""
        deep = min(self.asked.values(), default=len(ROUNDS))
        if deep >= len(ROUNDS):
            return False
        item = next(one for one in self.order if self.asked.get(one) == deep)
        before = [one for one in self.placed if self.rank[one] < self.rank[item]]
        if deep == 1 and ruled_out(self.problem, [*before, item], self.effort):
            self._given_up(item, len(ROUNDS))
        elif (found := self._with(before, item, deep)) is None:
            self._given_up(item, deep + 1)
        else:
            self.placed, self.packed = [*before, item], found
            del self.asked[item]
            self.walk(self.rank[item] + 1)
        return True

    def _given_up(self, item: int, deep: int) -> None:
        """Nor does a heavier one go that comes after it."""
        weight = self.problem.weights[item]
        for one in self.order[self.rank[item] :]:
            if one in self.asked and self.problem.weights[one] >= weight:
                self.asked[one] = max(self.asked[one], deep)

    def _with(self, before: Sequence[int], item: int, deep: int) -> Packed | None:
        """These blanks and one more on the bars, as far as is looked at this time."""
        kept = set(before)
        begun = [[one for one in items if one in kept] for items in self.packed]
        found = Filler(self.problem, self.effort).mend(self.bars, [item], begun, ROUNDS[deep])
        if found is not None:
            return found
        together = [*before, item]
        asked = self.problem.with_items(together)
        packed = Filler(asked, self.effort).pack(self.bars, ROUNDS[deep])
        if packed is None and COMPLETING[deep]:
            packed = complete(asked, self.bars, Effort(min(self.effort.left, COMPLETING[deep]), self.effort))
        return None if packed is None else [[together[place] for place in items] for items in packed]
