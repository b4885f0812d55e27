"""Filling bars by exact subset sums, and mending a plan by emptying some bars and filling them again.

The sums that can be reached are the bits of one whole number: adding a blank is a shift and an or.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from random import Random

from ringcraft.stock.cutting.effort import Effort, fill_steps
from ringcraft.stock.cutting.grid import Packed, Problem

MOST_BITS = 400_000  # of one bar: beyond that a coarser step is taken, on the safe side
SEED = 20
MOST_POOL = 80  # blanks that one bar is filled from: as many fill it to a hair


def _steps(weights: Sequence[int], room: int) -> tuple[list[int], int]:
    """Weights and room in the coarsest step that loses nothing, or in one that is safe."""
    step = math.gcd(*weights)
    if room // step > MOST_BITS:
        step = -(-room // MOST_BITS)
    return [-(-weight // step) for weight in weights], room // step


def fullest(weights: Sequence[int], room: int) -> list[int]:
    """Which weights fill a room best, by their places; where two fills are equal, the one with the first ones."""
    if not weights or sum(weights) <= room:
        return list(range(len(weights)))
    need, most = _steps(weights, room)
    mask, reach, layers = (1 << most + 1) - 1, 1, []
    for weight in need:
        layers.append(reach)
        reach |= (reach << weight) & mask
    at, taken = reach.bit_length() - 1, []
    for place in range(len(need) - 1, -1, -1):
        if not layers[place] >> at & 1:
            taken.append(place)
            at -= need[place]
    return taken


def most_held_each(weights: Sequence[int], rooms: Sequence[int], effort: Effort) -> list[int]:
    """What each room can hold of these weights at most, from one reckoning for the roomiest; exact where the step
    loses nothing.

    >>> most_held_each([400, 400, 300], [1000, 500], Effort())
    [800, 400]
    """
    need, roomiest = sum(weights), max(rooms, default=0)
    step = math.gcd(*weights) if weights else 1
    if not weights or roomiest // step > MOST_BITS or min(rooms) >= need:
        return [min(room, need) for room in rooms]
    mask, reach = (1 << roomiest // step + 1) - 1, 1
    for weight in weights:
        reach |= (reach << weight // step) & mask
    effort.spend(fill_steps(len(weights) + len(rooms), roomiest // step))
    return [((reach & ((1 << room // step + 1) - 1)).bit_length() - 1) * step for room in rooms]


def _some(left: list[int]) -> list[int]:
    """Blanks that one bar is filled from: the first ones, and some from all the others."""
    if len(left) <= MOST_POOL:
        return left
    first = MOST_POOL // 2
    return left[:first] + left[first :: -(-(len(left) - first) // (MOST_POOL - first))]


class Filler:
    """Fills the chosen bars of a problem; the same choice is always filled in the same way."""

    def __init__(self, problem: Problem, effort: Effort) -> None:
        self.problem, self.effort = problem, effort
        self.step = math.gcd(*problem.weights) if problem.weights else 1
        self.random = Random(SEED)  # noqa: S311 - which bars are emptied next is no secret

    def fill(self, bars: Sequence[int], left: list[int], packed: Packed) -> list[int]:
        """Fill bars one after the other, the roomiest last; what does not go on any."""
        weights = self.problem.weights
        for bar in bars:
            pool = _some(left)
            self.effort.spend(fill_steps(len(pool), min(MOST_BITS, self.problem.rooms[bar] // self.step)), 1)
            taken = {pool[place] for place in fullest([weights[item] for item in pool], self.problem.rooms[bar])}
            packed[bar] = sorted(taken)
            left = [item for item in left if item not in taken]
        return left

    def pack(self, bars: Sequence[int], rounds: int, begun: Packed | None = None) -> Packed | None:
        """All blanks on these bars, or None where no way was found in so many rounds."""
        problem = self.problem
        if begun is None:
            packed: Packed = [[] for _ in problem.rooms]
            items = sorted(range(len(problem.weights)), key=lambda item: -problem.weights[item])
            left = self.fill(sorted(bars, key=lambda bar: problem.rooms[bar]), items, packed)
        else:
            packed = [list(items) if bar in set(bars) else [] for bar, items in enumerate(begun)]
            placed = {item for items in packed for item in items}
            left = [item for item in range(len(problem.weights)) if item not in placed]
        return self.mend(list(bars), left, packed, rounds)

    def mend(self, bars: list[int], left: list[int], packed: Packed, rounds: int) -> Packed | None:
        """Empty some bars and fill them again until nothing is left over; None where that does not come."""
        load = self.problem.load
        for _ in range(rounds):
            if not left:
                return packed
            if self.effort.spent:
                return None
            self.effort.spend(8 + len(bars) // 8)
            some = self.random.sample(bars, min(len(bars), self.random.choice((1, 2, 2, 3, 4))))
            pool = left + [item for bar in some for item in packed[bar]]
            self.random.shuffle(pool)
            trial: Packed = list(packed)
            over = self.fill(some, pool, trial)
            if load(over) <= load(left):
                packed, left = trial, over
        return packed if not left else None

    def gather(self, bars: list[int], packed: Packed, sink: int, least: int, rounds: int) -> Packed:
        """Move the rests of all bars to one, whose load can be no less than ``least``."""
        problem = self.problem
        others = [bar for bar in bars if bar != sink]
        for _ in range(rounds if others else 0):
            if problem.load(packed[sink]) <= least or self.effort.spent:
                break
            self.effort.spend(8 + len(others) // 8)
            some = self.random.sample(others, min(len(others), self.random.choice((1, 2, 2, 3, 4))))
            pool = packed[sink] + [item for bar in some for item in packed[bar]]
            self.random.shuffle(pool)
            trial: Packed = list(packed)
            trial[sink] = self.fill(some, pool, trial)
            full = problem.load(trial[sink]) <= problem.load(packed[sink]) and trial[sink]
            if full and all(trial[bar] for bar in some):
                packed = trial
        return packed
