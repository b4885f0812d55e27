"""A cut plan in whole thousandths of a millimetre: a blank and its kerf are one weight, a bar and one kerf its room.

A blank costs its length and one kerf, and the one that ends at the bar's end needs none: n blanks go on a bar of
length B when sum(l) + (n - 1) k <= B, which is sum(l + k) <= B + k.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

PER_MM = 1000
SLACK = 1e-4  # of a thousandth: what a float adds to a length that was written down

#: Items of each bar, by their place in the problem.
Packed = list[list[int]]


def up(mm: float) -> int:
    """A length [mm] that is wanted, in thousandths, never less than it is."""
    return math.ceil(mm * PER_MM - SLACK)


def down(mm: float) -> int:
    """A length [mm] that is there, in thousandths, never more than it is."""
    return math.floor(mm * PER_MM + SLACK)


@dataclass(frozen=True)
class Problem:
    """Rooms of the bars and weights of the blanks, each with one kerf in it, in thousandths of a millimetre."""

    rooms: tuple[int, ...]
    weights: tuple[int, ...]
    kerf: int

    def load(self, items: Sequence[int]) -> int:
        """What some blanks weigh together."""
        return sum(self.weights[item] for item in items)

    def total(self, bars: Sequence[int]) -> int:
        """The length of some bars."""
        return sum(self.rooms[bar] - self.kerf for bar in bars)

    def rest(self, bar: int, items: Sequence[int]) -> int:
        """What is left of a bar after its last cut: nothing where that ends it."""
        return max(0, self.rooms[bar] - self.kerf - self.load(items))

    def cuts(self, bar: int, items: Sequence[int]) -> int:
        """How often the saw goes through a bar: once a blank, but not where the last one ends it."""
        ends = self.rooms[bar] - self.load(items) < self.kerf or self.rooms[bar] == self.load(items)
        return len(items) - 1 if ends else len(items)

    def holds(self, packed: Packed) -> bool:
        """Whether every item stands on one bar, and none is fuller than it is."""
        items = sorted(item for bar in packed for item in bar)
        full = all(self.load(items) <= room for room, items in zip(self.rooms, packed, strict=True))
        return full and items == list(range(len(self.weights)))

    def with_items(self, items: Sequence[int]) -> Problem:
        """The same bars for some of the blanks."""
        return Problem(self.rooms, tuple(self.weights[item] for item in items), self.kerf)
