"""The day: its plan, what somebody took, pins, waits, when something can be ready, the calendar's address."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema
from pydantic import AwareDatetime, TypeAdapter

from ringcraft.day.ways import zones
from ringcraft.errors import BadRequest, UnknownNameError
from ringcraft.works import WORKS
from workshop.api.jobs import one_job
from workshop.api.signed_in import actor, person, shop
from workshop.day import calendar, leaving, pinning, taking, timers
from workshop.day.minutes import HANDS
from workshop.day.models import LearntMinutes
from workshop.day.planning import plan_now, settle, shown_version, version_of
from workshop.day.promising import CounterAnswer, when_ready
from workshop.day.sheet import DayOut, TakenStep, day_sheet, taken_steps
from workshop.jobs.plans import plan_order, work_of
from workshop.jobs.progress import done_times

router = Router()
_WRITER: TypeAdapter[DayOut] = TypeAdapter(DayOut)
JSON = "application/json; charset=utf-8"


@dataclass(frozen=True)
class Pulse:
    """What every open screen of a workshop hears of: whether anything changed, what waits, who holds what."""

    version: str
    now: datetime
    timers: tuple[timers.Timer, ...]
    taken: tuple[TakenStep, ...]


_PULSE: TypeAdapter[Pulse] = TypeAdapter(Pulse)


class StepOf(Schema):
    """A step of a job."""

    job_id: int
    key: str


class PinIn(StepOf):
    """A step and the time it is put at; without a time it is let go."""

    at: datetime | None = None
    person_id: int | None = None


class GoneIn(Schema):
    """Somebody of the workshop, whether they are gone home, and when that was said."""

    person_id: int
    gone: bool
    at: AwareDatetime | None = None


class WaitIn(Schema):
    """What is done about a wait: minutes that it runs on, or nothing: it is over."""

    minutes: float | None = None


class ReadyIn(Schema):
    """What is asked about at the counter: an order of a kind of work, or a job that is open."""

    work: str = ""
    order: dict[str, Any] = {}
    job_id: int | None = None


class CalendarIn(Schema):
    """Whether the customers' names, tickets and notes stand in the calendar too."""

    with_customers: bool = False


class CalendarOut(Schema):
    """Whether there is an address, since when; ``path`` is told this once, when it is made."""

    made_at: datetime | None
    with_customers: bool
    path: str = ""


class LearntRow(Schema):
    """The minutes of a step here, beside those that were planned."""

    key: str
    family: str
    hands: bool
    minutes: float
    planned: float
    times: int


def zone_of(request: HttpRequest) -> str:
    """The time zone that a screen says it is in; empty where it says none, or one that is not known here."""
    said = request.headers.get("Bench-Zone", "")
    return said if said in zones() else ""


def _sheet(request: HttpRequest, on: date | None, *, search: bool) -> HttpResponse:
    where, now, zone = shop(request), timezone.now(), zone_of(request)
    plan = settle(where, now, zone) if search else plan_now(where, now, zone)
    return HttpResponse(_WRITER.dump_json(day_sheet(where, plan, now, zone, on)), content_type=JSON)


@router.get("", response=DayOut, operation_id="day")
def day(request: HttpRequest, on: date | None = None) -> HttpResponse:
    """The plan of a day as it stands; where something changed, one that follows from the one shown, at once."""
    return _sheet(request, on, search=False)


@router.post("/settle", response=DayOut, operation_id="settle_day")
def settle_day(request: HttpRequest, on: date | None = None) -> HttpResponse:
    """Look for a better plan, keep it and answer it."""
    return _sheet(request, on, search=True)


@router.get("/pulse", response=Pulse, operation_id="pulse")
def pulse(request: HttpRequest) -> HttpResponse:
    """What changed; 304 for who has seen it already."""
    return _pulse(request, request.headers.get("If-None-Match", ""))


def _pulse(request: HttpRequest, seen: str = "") -> HttpResponse:
    where = shop(request)
    version = f"{version_of(where.pk)}{shown_version(where.pk)}"
    tag = f'"{version}"'
    if seen == tag:
        answer = HttpResponse(status=304)
    else:
        now = timezone.now()
        out = Pulse(version, now, tuple(timers.running(where.pk)), tuple(taken_steps(where, now)))
        answer = HttpResponse(_PULSE.dump_json(out), content_type=JSON)
    answer["ETag"] = tag
    return answer


@router.post("/take", response=Pulse, operation_id="take_step")
def take(request: HttpRequest, body: StepOf) -> HttpResponse:
    """Take a step in hand; refused where another has it."""
    taking.take(actor(request), body.job_id, body.key)
    return _pulse(request)


@router.post("/give", response=Pulse, operation_id="give_step_back")
def give(request: HttpRequest, body: StepOf) -> HttpResponse:
    """Give a step back."""
    taking.give_back(actor(request), body.job_id, body.key)
    return _pulse(request)


@router.put("/pins", response=Pulse, operation_id="pin_step")
def pin(request: HttpRequest, body: PinIn) -> HttpResponse:
    """Put a step at a time of the plan, or let it go."""
    pinning.pin(actor(request), body.job_id, body.key, body.at, body.person_id)
    return _pulse(request)


@router.put("/gone", response=Pulse, operation_id="gone_home")
def gone(request: HttpRequest, body: GoneIn) -> HttpResponse:
    """Somebody went home for today, or is back at the bench."""
    if body.gone:
        leaving.go_home(actor(request), body.person_id, zone_of(request), body.at)
    else:
        leaving.come_back(actor(request), body.person_id)
    return _pulse(request)


@router.post("/waits/{int:timer_id}", response=Pulse, operation_id="answer_wait")
def answer_wait(request: HttpRequest, timer_id: int, body: WaitIn) -> HttpResponse:
    """Say that a wait is over, or let it run on."""
    if body.minutes is None:
        timers.answer(actor(request), timer_id)
    else:
        timers.more(actor(request), timer_id, body.minutes)
    return _pulse(request)


@router.post("/ready", response=CounterAnswer, operation_id="when_ready")
def ready(request: HttpRequest, body: ReadyIn) -> CounterAnswer:
    """When it can be ready with this much on the bench, and how sure."""
    now, zone = timezone.now(), zone_of(request)
    if body.job_id is not None:
        job = one_job(request, body.job_id)
        order = body.order or job.order
        plan = plan_order(work_of(job), _order(job.work, order))
        return when_ready(shop(request), plan, list(done_times(job)), now, zone, job.pk)
    return when_ready(
        shop(request), plan_order(WORKS[_known(body.work)], _order(body.work, body.order)), (), now, zone
    )


def _known(work: str) -> str:
    if work not in WORKS:
        raise BadRequest([UnknownNameError("work", f"“{work[:20]}” is no kind of work known here.", "")])
    return work


def _order(work: str, data: Any) -> Any:
    try:
        return WORKS[_known(work)].read(data)
    except BadRequest as problem:
        raise problem.under("order") from None


@router.get("/minutes", response=list[LearntRow], operation_id="learnt_minutes")
def learnt(request: HttpRequest) -> list[LearntRow]:
    """How long steps take here, by what was ticked and answered: beside what was planned, never instead unseen."""
    rows = LearntMinutes.objects.filter(workshop=shop(request)).order_by("key", "family", "what")[:400]
    return [
        LearntRow(key=row.key, family=row.family, hands=row.what == HANDS, minutes=row.minutes, planned=row.planned,
                  times=row.times)
        for row in rows
    ]  # fmt: skip


def _calendar(request: HttpRequest, path: str = "") -> CalendarOut:
    row = calendar.address_of(person(request))
    return CalendarOut(
        made_at=row.made_at if row else None, with_customers=bool(row and row.with_customers), path=path
    )


@router.get("/calendar", response=CalendarOut, operation_id="calendar")
def calendar_of(request: HttpRequest) -> CalendarOut:
    """Whether one's calendar is read at an address."""
    return _calendar(request)


@router.post("/calendar", response=CalendarOut, operation_id="make_calendar")
def make_calendar(request: HttpRequest, body: CalendarIn) -> CalendarOut:
    """A new secret address, told this once; the one before is withdrawn."""
    secret = calendar.new_address(actor(request), person(request), with_customers=body.with_customers)
    return _calendar(request, f"/calendar/{secret}.ics")


@router.delete("/calendar", response=CalendarOut, operation_id="withdraw_calendar")
def withdraw_calendar(request: HttpRequest) -> CalendarOut:
    """Withdraw one's address: nobody reads there any more."""
    calendar.withdraw(actor(request), person(request))
    return _calendar(request)
