"""The order of work: what waits on what, what is due, what can share the torch.

Pure: the time now is an argument. A job is known by its next step and by what is left of it.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

HORIZON = timedelta(days=365)


@dataclass(frozen=True)
class OpenJob:
    """An open job at its next step. Minutes left count hands and waiting of all steps from here on."""

    id: int
    name: str
    due: datetime | None
    step: str
    title: str
    station: str
    torch: bool
    step_wait_min: float
    hands_left_min: float
    wait_left_min: float
    ready_at: datetime | None


@dataclass(frozen=True)
class Place:
    """A job's place in the order of work, with the reason for it."""

    id: int
    ready: bool
    late: bool
    slack_min: float | None
    why: str


@dataclass(frozen=True)
class DayPlan:
    """What to do now, in a sentence, the order behind it, and who shares the torch."""

    now_id: int | None
    now_title: str
    now_name: str
    says: str
    order: tuple[Place, ...]
    torch_ids: tuple[int, ...]


def slack_min(job: OpenJob, now: datetime) -> float | None:
    """Minutes to spare until the job is due if it were worked through from now; None without a date."""
    if job.due is None:
        return None
    waits = job.hands_left_min + job.wait_left_min
    if job.ready_at and job.ready_at > now:
        waits += (job.ready_at - now).total_seconds() / 60
    return (job.due - now).total_seconds() / 60 - waits


def plan_day(jobs: tuple[OpenJob, ...], now: datetime) -> DayPlan:
    """Order the open jobs: ready before waiting, least slack first, and among jobs with a day to spare
    the one whose next step starts a wait, so that the wait runs while hands do something else.
    """
    placed = sorted(jobs, key=lambda job: _rank(job, now))
    order = tuple(_place(job, now) for job in placed)
    ready = [job for job in placed if _is_ready(job, now)]
    torch = tuple(job.id for job in ready if job.torch)
    if ready:
        first = ready[0]
        return DayPlan(first.id, first.title, first.name, _then(first, placed, torch, now), order, torch)
    if placed:
        soonest = min(placed, key=lambda job: job.ready_at or now)
        left = _minutes((soonest.ready_at or now) - now)
        says = f"Everything waits. {soonest.name} is ready in {left}."
        return DayPlan(None, "", "", says, order, torch)
    return DayPlan(None, "", "", "Nothing is on the bench.", order, torch)


def _is_ready(job: OpenJob, now: datetime) -> bool:
    return job.ready_at is None or job.ready_at <= now


def _rank(job: OpenJob, now: datetime) -> tuple[bool, bool, float, float, int]:
    slack = slack_min(job, now)
    pressing = slack is not None and slack < 24 * 60
    wait = -job.step_wait_min if not pressing else 0.0
    due = slack if slack is not None else HORIZON.total_seconds() / 60
    return (not _is_ready(job, now), not pressing, wait, due, job.id)


def _place(job: OpenJob, now: datetime) -> Place:
    slack = slack_min(job, now)
    ready = _is_ready(job, now)
    late = slack is not None and slack < 0
    if not ready:
        why = f"waits {_minutes((job.ready_at or now) - now)} more"
    elif late and slack is not None:
        why = f"short by {_minutes(timedelta(minutes=-slack))} of work"
    elif slack is not None and slack < 24 * 60:
        why = f"{_minutes(timedelta(minutes=slack))} to spare"
    elif job.step_wait_min > 0:
        why = "its next step starts a wait"
    else:
        why = "time to spare" if slack is not None else "no date promised"
    return Place(job.id, ready, late, slack, why)


def _then(first: OpenJob, placed: list[OpenJob], torch: tuple[int, ...], now: datetime) -> str:
    parts = []
    others = [job for job in placed if job.id in torch and job.id != first.id]
    if first.torch and others:
        parts.append(f"{_names(others)} can share the torch with it.")
    elif len(torch) > 1:
        parts.append(f"{len(torch)} rings can share one torch session.")
    waiting = [job for job in placed if not _is_ready(job, now)]
    if waiting:
        soonest = min(waiting, key=lambda job: job.ready_at or now)
        parts.append(f"{soonest.name} is ready in {_minutes((soonest.ready_at or now) - now)}.")
    if not parts and len(placed) > 1:
        parts.append(f"Then {placed[1].name}: {placed[1].title[0].lower()}{placed[1].title[1:]}.")
    return " ".join(parts)


def _names(jobs: list[OpenJob]) -> str:
    names = [job.name for job in jobs]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _minutes(span: timedelta) -> str:
    minutes = max(1, -int(-span.total_seconds() // 60))
    if minutes < 60:
        return f"{minutes} min"
    hours, rest = divmod(minutes, 60)
    if hours < 24:
        return f"{hours} h {rest:02d}" if rest else f"{hours} h"
    days = round(hours / 24)
    return "a day" if days == 1 else f"{days} days"
