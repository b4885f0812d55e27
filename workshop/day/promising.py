"""When can it be ready? asked at the counter, of an order that is typed or of a job that is open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from ringcraft.day.asking import DayJob, DayRequest, DayStep
from ringcraft.day.kinds import left_steps
from ringcraft.day.learnt import ENOUGH_TO_SCATTER, Scatter
from ringcraft.day.promise import promise
from ringcraft.work.plan import WorkPlan
from workshop.day.bench import Bench, bench_of
from workshop.day.minutes import scatter_of
from workshop.day.planning import shown_plan
from workshop.people.models import Workshop

NEW = "asked"
QUARTER = timedelta(minutes=15)


@dataclass(frozen=True)
class CounterAnswer:
    """When it can be ready: nine in ten, and one in two, rounded up to a quarter of an hour that somebody works.

    ``sure`` says whether that is from the shop's own minutes; ``says`` and ``whence`` are it in words.
    """

    sure_at: datetime | None
    even_at: datetime | None
    sure: bool
    says: str
    whence: str
    jobs: int


def when_ready(
    shop: Workshop, plan: WorkPlan, done: Sequence[str], now: datetime, zone: str = "", without: int | None = None
) -> CounterAnswer:
    """The earliest honest time for a piece of work with this much on the bench; ``without`` is that job, if open."""
    bench, asked = bench_of(shop, now, zone, shown=shown_plan(shop.pk))
    job = DayJob(id=NEW, steps=_steps(bench, plan, done))
    others = tuple(one for one in asked.jobs if one.id != str(without))
    gone = {one.id for one in asked.jobs} - {one.id for one in others}
    asked = replace(
        asked,
        jobs=(*others, job),
        begun=tuple(one for one in asked.begun if one.job not in gone),
        pinned=tuple(one for one in asked.pinned if one.job not in gone),
        before=tuple(one for one in asked.before if one.job not in gone),
        moves=0,
    )
    scatter = scatter_of(shop.pk)
    found = promise(asked, NEW, scatter)
    if found.sure_min is None or found.even_min is None:
        why = found.why or "one plan in ten finds no hour for it in the weeks that are planned"
        return CounterAnswer(None, None, False, f"No honest time: {why}.", _whence(scatter), len(others))
    sure, even = (_rounded(bench, asked, bench.time(at)) for at in (found.sure_min, found.even_min))
    says = f"{_told(bench, sure)}, nine in ten; {_told(bench, even)}, one in two."
    return CounterAnswer(sure, even, scatter.of == "shop", says, _whence(scatter), len(others))


def _steps(bench: Bench, plan: WorkPlan, done: Sequence[str]) -> tuple[DayStep, ...]:
    out = []
    for step in left_steps(plan.route, done, plan.metal.key):
        hands, wait = bench.minutes.of(plan.metal.family, step.key, step.hands_min, step.wait_min)
        out.append(DayStep(key=step.key, kind=step.kind, hands_min=hands, wait_min=wait, bath=step.bath))
    return tuple(out)


def _rounded(bench: Bench, asked: DayRequest, at: datetime) -> datetime:
    """Up to the next quarter of an hour; where nobody works then, to the next hour in which somebody does."""
    floor = at.replace(minute=at.minute - at.minute % 15, second=0, microsecond=0)
    up = floor if floor == at else floor + QUARTER
    hours = sorted((bench.time(a), bench.time(b)) for person in asked.people for a, b in person.hours)
    if any(a <= up <= b for a, b in hours):
        return up
    return next((a for a, _ in hours if a >= up), up)


def _told(bench: Bench, at: datetime) -> str:
    """A time as one promises it: the day, and the hour."""
    local, today = at.astimezone(bench.zone), bench.now.astimezone(bench.zone).date()
    days = (local.date() - today).days
    hour = f"{local.hour}:{local.minute:02d}"
    if days == 0:
        return f"today {hour}"
    if days == 1:
        return f"tomorrow {hour}"
    return f"{local:%A} {hour}" if days < 7 else f"{local:%A} {local.day} {local:%B} {hour}"


def _whence(scatter: Scatter) -> str:
    if scatter.of == "shop":
        return f"From the minutes of {scatter.steps} steps done here."
    some = f"{scatter.steps} of the {ENOUGH_TO_SCATTER} steps that it takes are known"
    known = some if scatter.steps else "none of its steps is known"
    return f"Unsure: from our minutes and our own spread, not yet from this bench ({known})."
