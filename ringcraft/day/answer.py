"""The plan of the day: who begins what when, on which torch, what comes late and what was left out."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.day.asking import DayRequest, checked_day, read_day
from ringcraft.day.calm import by_order, planned
from ringcraft.day.saving import Saving, savings
from ringcraft.day.search import Way
from ringcraft.day.setting import Setting, Task, compile_day
from ringcraft.day.walk import Walk


@dataclass(frozen=True)
class DayStart:
    """When a step begins [min], by whom, and in which pot or tumbler."""

    job: str
    step: int
    at_min: float
    person: str
    vessel: str


@dataclass(frozen=True)
class TorchSession:
    """A torch that somebody lights at ``from_min``, that stands from ``lit_min`` and is used until ``to_min``."""

    person: str
    from_min: float
    lit_min: float
    to_min: float


@dataclass(frozen=True)
class LateJob:
    """A job that ends so many minutes after it was promised."""

    job: str
    min: float


@dataclass(frozen=True)
class LeftOut:
    """A job that the plan does not hold, and why."""

    job: str
    why: str


@dataclass(frozen=True)
class MissedPin:
    """A pin that cannot hold: where it was put, where the step is instead (none where it found no hour), and why."""

    job: str
    step: int
    wanted_min: float
    at_min: float | None
    why: str


@dataclass(frozen=True)
class DayAnswer:
    """The plan of the day.

    ``changed``: the rest was reshuffled because that saves much; ``moves`` is how many changes were tried, ``ends``
    when each job ends [min], by its name. ``by_order`` are jobs beyond those that press: they follow one by one.
    """

    starts: tuple[DayStart, ...]
    sessions: tuple[TorchSession, ...]
    late: tuple[LateJob, ...]
    weighted_late_min: float
    last_end_min: float
    changed: bool
    says: tuple[str, ...]
    left_out: tuple[LeftOut, ...]
    by_order: tuple[str, ...]
    missed_pins: tuple[MissedPin, ...]
    ends: dict[str, float]
    savings: tuple[Saving, ...]
    moves: int


def day(data: object) -> DayAnswer:
    """Plan a day; raises BadRequest."""
    return plan_of(read_day(data))


def answer_day(asked: DayRequest) -> DayAnswer:
    """Plan a day that was read; raises BadRequest where its parts do not go together."""
    return plan_of(checked_day(asked))


def plan_of(asked: DayRequest) -> DayAnswer:
    """The plan of a day that was read."""
    s = compile_day(asked)
    way, instead_of, tried = planned(s, asked)
    if way.walk is None:  # never: every way that is planned was walked
        raise ValueError("a plan that nobody walked")
    return _told(s, way, way.walk, instead_of, tried)


def _told(s: Setting, way: Way, walk: Walk, instead_of: Way | None, tried: int) -> DayAnswer:
    gone = {job for job in walk.left if s.first[job] < len(s.hands[job])}
    placed = [job for job in range(len(s.jobs)) if job not in s.dead and job not in gone]
    ends = {s.jobs[job].id: round(walk.ready[job], 3) for job in placed if s.hands[job]}
    late = tuple(
        LateJob(s.jobs[job].id, round(walk.ready[job] - due, 3))
        for job in placed
        if (due := s.due[job]) is not None and s.hands[job] and walk.ready[job] > due + 1e-9
    )
    weights = {s.jobs[job].id: s.weight[job] for job in placed}
    left = tuple(LeftOut(s.jobs[job].id, why) for job, why in sorted({**s.dead, **walk.left}.items()))
    missed = _missed(s, walk)
    rest = [s.jobs[job].id for job in by_order(s)]
    return DayAnswer(
        starts=tuple(
            DayStart(
                s.jobs[job].id,
                step,
                round(at, 3),
                s.people[who] if who >= 0 else "",
                s.vessel_keys[vessel] if vessel >= 0 else "",
            )
            for job, step, at, who, vessel in sorted(walk.starts, key=lambda one: (one[2], one[0], one[1]))
        ),
        sessions=tuple(
            TorchSession(s.people[who], round(begins, 3), round(lit, 3), round(last, 3))
            for who, begins, lit, last in sorted(walk.sessions, key=lambda one: one[1])
        ),
        late=late,
        weighted_late_min=round(sum(weights[one.job] * one.min for one in late), 3),
        last_end_min=round(max(ends.values(), default=s.now), 3),
        changed=instead_of is not None,
        says=(*_says(late, left, missed, walk, instead_of), *_rest_says(placed, rest)),
        left_out=left,
        by_order=tuple(rest),
        missed_pins=missed,
        ends=ends,
        savings=savings(s, way, by_rule=tried > 0 and not rest),
        moves=tried,
    )


def _missed(s: Setting, walk: Walk) -> tuple[MissedPin, ...]:
    begins: dict[Task, float] = {(job, step): at for job, step, at, _, _ in walk.starts}
    out = []
    for pin in s.pins:
        at = begins.get((pin.job, pin.step))
        if at is None or abs(at - pin.at) > 1e-6:
            why = _why_missed(s, walk, pin.job, pin.step, pin.at)
            out.append(MissedPin(s.jobs[pin.job].id, pin.step, pin.at, at, why))
    return tuple(out)


def _why_missed(s: Setting, walk: Walk, job: int, step: int, wanted: float) -> str:
    if wanted < s.now:
        return "that time has passed"
    if not any(a <= wanted and wanted + s.hands[job][step] <= b for hours in s.windows for a, b in hours):
        return "nobody works through that time"
    begins = {one: at for one, k, at, _, _ in walk.starts if k == step - 1 and one == job}
    if job in begins and begins[job] + s.hands[job][step - 1] + s.waits[job][step - 1] > wanted + 1e-6:
        return "what comes before it is not done by then"
    return "hands, flame or vessel are not free then"


def _rest_says(placed: list[int], rest: list[str]) -> list[str]:
    if not rest:
        return []
    return [
        f"The {len(placed) - len(rest)} that press most are planned; the other {len(rest)} follow by their order."
    ]


def _says(
    late: tuple[LateJob, ...],
    left: tuple[LeftOut, ...],
    missed: tuple[MissedPin, ...],
    walk: Walk,
    instead_of: Way | None,
) -> list[str]:
    out = []
    if instead_of is not None and instead_of.walk is not None:
        saved, fewer = instead_of.walk.late - walk.late, len(instead_of.walk.sessions) - len(walk.sessions)
        gains = [f"{saved:.0f} late minutes"] if saved >= 0.5 else []
        gains += [f"{fewer} torch session{'s' if fewer > 1 else ''}"] if fewer > 0 else []
        out.append(f"Planned anew, which saves {' and '.join(gains) or 'what found no place before'}.")
    worst = sorted(late, key=lambda one: -one.min)
    out += [f"{one.job} is late by {one.min:.0f} min." for one in worst[:3]]
    if len(worst) > 3:
        out.append(f"{len(worst) - 3} more are late.")
    out += [f"{one.job} is not planned: {one.why}." for one in left[:5]]
    if len(left) > 5:
        out.append(f"{len(left) - 5} more are not planned.")
    out += [f"{one.job}, step {one.step}, cannot be at {one.wanted_min:g}: {one.why}." for one in missed[:5]]
    if not out:
        out.append("Nobody is late." if walk.starts else "There is nothing to plan.")
    return out
