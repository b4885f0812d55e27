"""What would save a job that comes late: which step to take first, and whose promise that would cost."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ringcraft.day.dispatch import Rule, dispatch
from ringcraft.day.search import Way
from ringcraft.day.setting import Setting
from ringcraft.day.walk import Walk, walk_through

MOST_SAVED = 3


@dataclass(frozen=True)
class LaterJob:
    """A job that would be later than it is planned, by so much beyond its promise, and when it would end [min]."""

    job: str
    min: float
    ends_min: float


@dataclass(frozen=True)
class Saving:
    """A late job, were its next step the first: how late it still is, and who would pay for it.

    ``ends_min`` is when it would end then; nothing else was looked at.
    """

    job: str
    step: int
    late_min: float
    first_late_min: float
    ends_min: float
    others: tuple[LaterJob, ...]


def savings(s: Setting, way: Way, *, by_rule: bool) -> tuple[Saving, ...]:
    """For the jobs that come latest: what taking each first would come to, by the rule too where there is time."""
    walk = way.walk
    if walk is None:
        return ()
    late = [job for job in range(len(s.due)) if _late(s, walk, job) > 0 and job not in walk.left]
    late.sort(key=lambda job: (-s.weight[job] * _late(s, walk, job), job))
    found = []
    for job in late[:MOST_SAVED]:
        if s.first[job] < len(s.hands[job]):
            found.append(_first(s, way, walk, job, by_rule))
    return tuple(found)


def _first(s: Setting, way: Way, walk: Walk, job: int, by_rule: bool) -> Saving:
    pulled = [one for one in way.order if one != job]
    steps = way.order.count(job)
    at = min(way.kept, len(pulled))
    order = pulled[:at] + [job] * steps + pulled[at:]
    tried = [walk_through(s, order, {})]
    if by_rule:
        heavy = replace(s, weight=[w * 50 if one == job else w for one, w in enumerate(s.weight)])
        tried.append(dispatch(heavy, Rule(gate=1), [job])[1])
    # a step that the two agree on is taken first; the better end of the two is told
    best = min(tried, key=lambda one: (_late(s, one, job), sum(_late(s, one, j) for j in range(len(s.due)))))
    others = tuple(
        LaterJob(s.jobs[one].id, round(_late(s, best, one), 3), round(best.ready[one], 3))
        for one in range(len(s.due))
        if one != job and _late(s, best, one) > _late(s, walk, one) + 0.5 and one not in best.left
    )
    return Saving(
        s.jobs[job].id,
        s.first[job],
        round(_late(s, walk, job), 3),
        round(_late(s, best, job), 3),
        round(best.ready[job], 3),
        others,
    )


def _late(s: Setting, walk: Walk, job: int) -> float:
    due = s.due[job]
    return 0.0 if due is None or job in s.dead else max(0.0, walk.ready[job] - due)
