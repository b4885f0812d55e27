"""When a piece of work can be ready: by many plans of the same bench, its minutes drawn anew for each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from random import Random

from ringcraft.day.asking import DayRequest
from ringcraft.day.calm import TRIES, as_before, by_rule, inserted
from ringcraft.day.learnt import Scatter
from ringcraft.day.search import Way
from ringcraft.day.setting import Setting, compile_day
from ringcraft.day.walk import walk_through
from ringcraft.tables import record

DRAWS, SEED = 200, 25
SURE, EVEN = 0.9, 0.5


def our_scatter() -> Scatter:
    """How far minutes scatter until a workshop's own are known."""
    table = record("day")
    return Scatter(table["hands"]["sd_log"], table["waits"]["sd_log"], table["shop"]["sd_log"], "ours", 0)


@dataclass(frozen=True)
class Promise:
    """When it is ready with nine chances in ten, and with one in two [min], neither rounded.

    ``planned_min`` is the end in the plan itself; None where no hour is left for it, and ``why``.
    """

    sure_min: float | None
    even_min: float | None
    planned_min: float | None
    scatter: Scatter
    draws: int
    why: str


def promise(asked: DayRequest, job: str, scatter: Scatter, draws: int = DRAWS, seed: int = SEED) -> Promise:
    """When a job of a day can be ready: it gives way to what is promised already. Raises KeyError for no such job."""
    s = compile_day(asked)
    number = {one.id: at for at, one in enumerate(asked.jobs)}[job]
    if number in s.dead:
        return Promise(None, None, None, scatter, 0, s.dead[number])
    way = counter_plan(s, asked, number)
    if way.walk is None or number in way.walk.left:
        return Promise(None, None, None, scatter, 0, "no hour is left for it in the weeks that are planned")
    ends = sorted(draw_ends(s, way, number, scatter, draws, seed))
    return Promise(_at(ends, SURE), _at(ends, EVEN), way.walk.ready[number], scatter, draws, "")


def counter_plan(s: Setting, asked: DayRequest, job: int) -> Way:
    """The plan with one job more, in front of whatever it makes nobody late for."""
    others = replace(s, dead={**s.dead, job: "asked for"})
    way = as_before(others, asked) if asked.before else by_rule(others)
    urgent = replace(s, due=[s.now if at == job else due for at, due in enumerate(s.due)])
    urgent.weight = [0.001 if at == job else weight for at, weight in enumerate(s.weight)]
    best = inserted(urgent, way, job, TRIES)
    best.walk = walk_through(s, best.order, best.force, best.held)
    return best


def draw_ends(s: Setting, way: Way, job: int, scatter: Scatter, draws: int, seed: int) -> list[float]:
    """When the job ends in each of so many plans, every one with its own minutes; infinite where no hour is left."""
    rng = Random(seed)  # noqa: S311 - draws of minutes, no secret
    upto = max(place for place, one in enumerate(way.order) if one == job) + 1
    order = way.order[:upto]
    return [_one(s, way, job, order, scatter, rng) for _ in range(draws)]


def _one(s: Setting, way: Way, job: int, order: Sequence[int], scatter: Scatter, rng: Random) -> float:
    whole = math.exp(rng.gauss(0.0, scatter.shop)) if scatter.shop else 1.0
    used = set(order)
    longest = max((b - a for hours in s.windows for a, b in hours), default=0.0) - s.light
    hands, waits = list(s.hands), list(s.waits)
    for one in sorted(used):
        hands[one] = [min(longest, min_ * whole * math.exp(rng.gauss(0.0, scatter.hands))) for min_ in s.hands[one]]
        waits[one] = [min_ * math.exp(rng.gauss(0.0, scatter.waits)) if min_ else 0.0 for min_ in s.waits[one]]
    drawn = replace(s, hands=hands, waits=waits)
    walk = walk_through(drawn, order, way.force)
    return math.inf if job in walk.left else walk.ready[job]


def _at(ends: Sequence[float], share: float) -> float | None:
    """The time by which this share of the plans is done; None where that is beyond the hours that were planned."""
    at = ends[min(len(ends) - 1, math.ceil(share * (len(ends) + 1)) - 1)]
    return None if math.isinf(at) else at
