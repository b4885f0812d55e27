"""How long the longest rest can be at most: what the other bars can hold together, by the number of their blanks.

Each bar's fullest fill of so many blanks is exact; that their numbers add up to all blanks is counted, that two bars
want the same blank is not. So no plan that opens these bars leaves a longer rest.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ringcraft.stock.cutting.effort import Effort, fill_steps
from ringcraft.stock.cutting.grid import Problem

NEVER = -(10**12)  # no fill of so many blanks

Ints = NDArray[np.int64]


def held_by_count(problem: Problem, bars: Sequence[int], effort: Effort) -> Ints | None:
    """The most that each of these bars holds with exactly so many blanks (column), one of them at least; None where
    that is more than the effort pays for.
    """
    step = math.gcd(*problem.weights)
    roomiest = max(problem.rooms[bar] for bar in bars)
    most, bits = min(len(problem.weights), roomiest // min(problem.weights)), roomiest // step + 1
    steps = most * fill_steps(len(problem.weights) + len(bars), bits) + len(bars) * len(problem.weights) * most // 100
    if steps > effort.left:
        return None
    effort.spend(steps)
    mask, reach = (1 << bits) - 1, [1] + [0] * most
    for weight in problem.weights:
        shift = weight // step
        for count in range(most, 0, -1):
            if reach[count - 1]:
                reach[count] |= (reach[count - 1] << shift) & mask
    held = np.full((len(bars), most + 1), NEVER, dtype=np.int64)
    for row, bar in enumerate(bars):
        room = (1 << problem.rooms[bar] // step + 1) - 1
        for count in range(1, most + 1):
            if fits := reach[count] & room:
                held[row, count] = (fits.bit_length() - 1) * step
    return held


def together(sums: Ints, more: Ints) -> Ints:
    """The most that some bars hold with so many blanks, and one bar beside them."""
    out = np.full(len(sums), NEVER, dtype=np.int64)
    for count in np.flatnonzero(more > NEVER):
        size = len(sums) - count
        np.maximum(out[count:], sums[:size] + more[count], out=out[count:])
    return out


def rest_bounds(problem: Problem, bars: Sequence[int], effort: Effort) -> list[int] | None:
    """The longest rest that each of these bars can come to while all of them are opened and all blanks placed."""
    held = held_by_count(problem, bars, effort)
    if held is None:
        return None
    blanks, need = len(problem.weights), sum(problem.weights)
    nothing = np.full(blanks + 1, NEVER, dtype=np.int64)
    nothing[0] = 0
    before, after = [nothing], [nothing]
    for row in range(len(bars)):
        before.append(together(before[-1], held[row]))
        after.append(together(after[-1], held[len(bars) - 1 - row]))
    out = []
    for row, bar in enumerate(bars):
        left, right = before[row], after[len(bars) - 1 - row]
        least = problem.rooms[bar] + 1
        for count in np.flatnonzero(held[row] > NEVER):
            others = int(np.max(left[: blanks - count + 1] + right[: blanks - count + 1][::-1]))
            if others >= 0 and count <= blanks:
                least = min(least, max(need - others, int(count) * min(problem.weights)))
        out.append(max(0, problem.rooms[bar] - problem.kerf - least))
    return out
