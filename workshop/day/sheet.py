"""One day of the plan as it is answered: what is to come, what was done, who is there, who holds what."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from ringcraft.day.asking import MOST_PEOPLE
from ringcraft.day.ways import ShopDay, windows
from workshop.day.leaving import Span, gone_home, without
from workshop.day.minutes import HANDS
from workshop.day.models import StepTime
from workshop.day.planning import Plan
from workshop.day.taking import now_taken
from workshop.day.view import DayView, Vessel, late_words
from workshop.jobs.models import Job, StepDone, name_of_job
from workshop.people.models import User, Workshop, bench_people
from workshop.people.preferences import day_of, shop_preferences

MOST_DONE, MOST_DAYS, MOST_PROMISES = 400, 14, 60


@dataclass(frozen=True)
class Hours:
    """Hours in which somebody works."""

    begins: datetime
    ends: datetime


@dataclass(frozen=True)
class AtBench:
    """Somebody of the workshop, their hours of the day, and since when they are gone home."""

    id: int
    name: str
    hours: tuple[Hours, ...]
    gone_at: datetime | None


@dataclass(frozen=True)
class DoneStep:
    """A step that was done: when, by whom, in how many minutes where that is known."""

    job_id: int
    name: str
    family: str
    person_id: int
    at: datetime
    minutes: float | None


@dataclass(frozen=True)
class TakenStep:
    """A step that somebody has in hand, and until when that is believed."""

    job_id: int
    key: str
    person_id: int
    by: str
    at: datetime
    until: datetime


@dataclass(frozen=True)
class PromisedJob:
    """A job that is promised for that day."""

    job_id: int
    name: str
    due: datetime


@dataclass(frozen=True, kw_only=True)
class DayOut(DayView):
    """A day of the plan: its blocks, sessions and vessels are those of that day.

    ``wanted``: whether this shop wants a plan at all. ``settled``: whether a better one was looked for;
    ``working``: somebody does that now. ``days`` are those that the plan reaches.
    """

    wanted: bool
    on: date
    today: date
    now: datetime
    settled: bool
    working: bool
    says: str
    late_says: str
    days: tuple[date, ...]
    people: tuple[AtBench, ...]
    done: tuple[DoneStep, ...]
    promises: tuple[PromisedJob, ...]


def day_sheet(shop: Workshop, plan: Plan, now: datetime, zone: str, on: date | None) -> DayOut:
    """The day ``on`` of a plan; where none is said today, or the first day with work where today has none left."""
    ways = shop_preferences(shop)
    day = day_of(ways, zone)
    where = ZoneInfo(day.zone)
    days = sorted({block.begins.astimezone(where).date() for block in plan.view.blocks})
    today = now.astimezone(where).date()
    on = on or next((one for one in days if one >= today), today)
    begins = datetime.combine(on, time(), where)
    ends = datetime.combine(on + timedelta(days=1), time(), where)
    people = list(bench_people(shop).order_by("pk")[:MOST_PEOPLE])
    gone = gone_home(shop.pk, now)
    return DayOut(
        **vars(_of_day(plan.view, begins, ends)),
        wanted=ways.plan_day,
        on=on,
        today=today,
        now=now,
        settled=plan.settled,
        working=plan.working,
        says=plan.says,
        late_says=late_words(plan.view),
        days=tuple(days[:MOST_DAYS]),
        people=tuple(_person(day, user, on, gone.get(user.pk)) for user in people),
        done=tuple(_done(shop, begins, min(ends, now), [user.pk for user in people])),
        promises=tuple(_promises(shop, begins, ends)),
    )


def _of_day(view: DayView, begins: datetime, ends: datetime) -> DayView:
    """What of a plan lies in one day."""
    return replace(
        view,
        blocks=tuple(
            one for one in view.blocks if one.begins < ends and max(one.ends, one.waits_until or one.ends) > begins
        ),
        sessions=tuple(one for one in view.sessions if one.begins < ends and one.ends > begins),
        vessels=tuple(
            Vessel(one.name, one.holds, inside)
            for one in view.vessels
            if (inside := tuple(ring for ring in one.rings if ring.begins < ends and ring.ends > begins))
        ),
    )


def _person(day: ShopDay, user: User, on: date, gone: Span | None) -> AtBench:
    hours = without(windows(day, user.username, on, 1), gone)
    return AtBench(user.pk, str(user), tuple(Hours(a, b) for a, b in hours), gone[0] if gone else None)


def _done(shop: Workshop, begins: datetime, ends: datetime, people: list[int]) -> Iterable[DoneStep]:
    rows = StepDone.objects.filter(
        by_id__in=people, at__gte=begins, at__lt=ends, taken_back_at=None, job__workshop=shop
    ).order_by("at", "pk")
    columns = ("pk", "job_id", "by_id", "at", "minutes", "job__title", "job__customer_name", "job__metal_family")
    found = list(rows.values_list(*columns)[:MOST_DONE])
    took = dict(
        StepTime.objects.filter(done_id__in=[row[0] for row in found], what=HANDS).values_list("done_id", "minutes")
    )
    for pk, job, by, at, minutes, title, customer, family in found:
        known = float(minutes) if minutes is not None else took.get(pk)
        yield DoneStep(job, name_of_job(title, customer), family, by or 0, at, known)


def taken_steps(shop: Workshop, now: datetime) -> Iterable[TakenStep]:
    """What is in whose hands now."""
    for row in now_taken(shop.pk, now):
        yield TakenStep(row.job_id, row.key, row.by_id, str(row.by), row.at, row.until)


def _promises(shop: Workshop, begins: datetime, ends: datetime) -> Iterable[PromisedJob]:
    rows = Job.objects.filter(workshop=shop, closed_at=None, due__gte=begins, due__lt=ends).order_by("due", "pk")
    for job in rows.only("pk", "title", "customer_name", "due")[:MOST_PROMISES]:
        if job.due is not None:
            yield PromisedJob(job.pk, job.name, job.due)
