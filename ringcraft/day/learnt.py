"""How long steps take here, from the times at which they were ticked: robustly, and only where enough is known."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import median

LEAST_MIN, MOST_TIMES, AT_ONCE_MIN = 1.0, 3.0, 20 / 60
ENOUGH, ENOUGH_TO_SCATTER = 5, 30
NEWEST = 40  # what was learnt follows the shop: only so many of the newest count
ANSWERED_MIN = 2.0


def gap_min(since_last_min: float | None, table_min: float) -> float | None:
    """Minutes of hands that a tick tells of: since the same person's last one, unless that cannot be this step.

    Ticks at once were made afterwards; less than a minute, or more than three times the table's, is something else.

    >>> gap_min(7.5, 6), gap_min(0.2, 6), gap_min(19, 6), gap_min(None, 6)
    (7.5, None, None, None)
    """
    if since_last_min is None or since_last_min <= AT_ONCE_MIN or table_min <= 0:
        return None
    return since_last_min if LEAST_MIN <= since_last_min <= MOST_TIMES * table_min else None


def waited_min(begun_to_end_min: float, answered_after_min: float) -> float | None:
    """Minutes that a wait took: only where its timer was answered within two minutes of its end."""
    if abs(answered_after_min) > ANSWERED_MIN:
        return None
    took = begun_to_end_min + answered_after_min
    return took if took > 0 else None


def learnt_min(minutes: Sequence[float]) -> float | None:
    """The shop's own minutes of a step: the median of the newest, once there are five.

    >>> learnt_min([6, 7, 8, 9, 60]), learnt_min([6, 7])
    (8.0, None)
    """
    newest = list(minutes)[-NEWEST:]
    return round(float(median(newest)), 1) if len(newest) >= ENOUGH else None


@dataclass(frozen=True)
class Scatter:
    """How far minutes scatter, as the standard deviation of their logarithm, and how many steps it was learnt from.

    ``of`` is whose it is: ours, until the workshop's own are enough.
    """

    hands: float
    waits: float
    shop: float
    of: str
    steps: int


def scatter_from(ratios: Iterable[float], ours: Scatter) -> Scatter:
    """The shop's own scatter, from how many times the planned minutes its steps took; ours until there are thirty.

    By the median of the distances, so that a forgotten tick does not count.
    """
    logs = [math.log(ratio) for ratio in ratios if ratio > 0]
    if len(logs) < ENOUGH_TO_SCATTER:
        return Scatter(ours.hands, ours.waits, ours.shop, ours.of, len(logs))
    middle = median(logs)
    spread = 1.4826 * median(abs(one - middle) for one in logs)
    return Scatter(max(0.05, spread), ours.waits, 0.0, "shop", len(logs))
