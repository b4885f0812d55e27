"""Drift: a gauge or a group that begins to read otherwise than it did, found by a cumulative sum.

The first rings of a stream are its baseline, frozen; each later one is held against what they foretell of it, in
standard deviations of that foretelling. Two-sided CUSUM with reference 0.5 and limit 5 (Page 1954; Montgomery,
Introduction to Statistical Quality Control, 9.1: a shift of one sigma is found in about ten).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ringcraft.learning.asking import RingMiss
from ringcraft.learning.pooling import pool, sums_of

REFERENCE, LIMIT = 0.5, 5.0
BASELINE = 20  # rings that a stream begins with: fewer foretell too little


@dataclass(frozen=True)
class Shift:
    """A stream that began to read otherwise: from which of its misses on, by how much [mm round], over how many."""

    first: int
    mm: float
    n: int


def shift_of(misses: Sequence[RingMiss], places: Sequence[int]) -> Shift | None:
    """Where a stream of misses, by their places in time, began to read otherwise than before; None while it does not.

    What counts is how it reads now: a stream that went off and came back is not told of.
    """
    if len(places) <= BASELINE:
        return None
    first, later = places[:BASELINE], places[BASELINE:]
    foretold = _foretold([misses[at] for at in first], {misses[at].group for at in later})
    off = [misses[at].mm - foretold[misses[at].group][0] for at in later]
    sds = [foretold[misses[at].group][1] for at in later]
    for sign in (1, -1):
        begins = _alarm([sign * mm / sd for mm, sd in zip(off, sds, strict=True)])
        if begins is not None:
            since = off[begins:]
            return Shift(later[begins], math.fsum(since) / len(since), len(since))
    return None


def _foretold(baseline: Sequence[RingMiss], groups: set[str]) -> Mapping[str, tuple[float, float]]:
    """The mean and the standard deviation [mm] that a baseline foretells of the next ring of each group."""
    names = sorted({one.group for one in baseline} | groups)
    pooled = pool([sums_of([one.mm for one in baseline if one.group == name]) for name in names])
    return {
        name: (own.mean, math.hypot(pooled.scatter_mm, own.sd))
        for name, own in zip(names, pooled.groups, strict=True)
    }


def _alarm(scores: Sequence[float]) -> int | None:
    """Where the run began over which the sum stands above its limit now; None where it does not."""
    at, total, over = 0, 0.0, False
    for place, score in enumerate(scores):
        if total <= 0:
            at = place
        total = max(0.0, total + score - REFERENCE)
        over = (over or total > LIMIT) and total > 0
    return at if over else None
