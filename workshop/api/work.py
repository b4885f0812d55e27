"""Working a job: its steps, its measures and the history of all that was done to it."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from ringcraft.schema import read_at
from workshop.api.gauges import one_gauge
from workshop.api.job_shapes import JobOut, ProgressOut, SolderAsk, SolderIn
from workshop.api.jobs import answered, jobs_of, one_job, progress
from workshop.api.signed_in import actor, done_at, person, shop, typed_in
from workshop.core.models import Event
from workshop.core.pages import MOST, page_of
from workshop.jobs import actions
from workshop.jobs.measures import Taken, take_measure
from workshop.jobs.telling import History, Promised
from workshop.people.preferences import preferences_of
from workshop.people.roles import may
from workshop.stock import solder

router = Router(by_alias=True)  # a deed of a step has a field called "with"


class StepIn(Schema):
    """Whether a step is done; ``again`` for one that is done once more, ``minutes`` of hands if they were taken.

    ``once_more`` says of a heat that it has to be made once more: the step and its pickling are open again.
    """

    done: bool
    again: bool | None = None
    once_more: bool | None = None
    minutes: float | None = None


class MeasureIn(Schema):
    """A measure as typed, in ``typed_in`` where it names no unit; empty says that the one before does not hold."""

    text: str
    gauge_id: int | None = None
    gauge_name: str = ""
    zero_mm: float | str = 0.0
    typed_in: str | None = None


class EventOut(Schema):
    """One line of a history: who, when, what, and the fields before and after; ``says`` is that in words.

    ``done_at`` is when it was really done, where that was not then; ``until`` and ``due`` are told by the screen's
    own clock.
    """

    id: int
    at: datetime
    by: str
    what: str
    before: dict[str, Any]
    after: dict[str, Any]
    says: str
    done_at: datetime | None
    until: date | None
    due: Promised | None


class Events(Schema):
    """Some lines of a history, newest first, and how many there are in all."""

    items: list[EventOut]
    count: int


@router.put("/{int:job_id}/steps/{key}", response=ProgressOut, operation_id="tick_step")
def tick_step(request: HttpRequest, job_id: int, key: str, body: StepIn) -> dict[str, Any]:
    """Say that a step is done, done again, or not done after all; answers what that changes."""
    who, way = actor(request), preferences_of(person(request), shop(request)).takes_solder
    with transaction.atomic():
        if body.once_more:
            return progress(actions.once_more(who, job_id, key))
        again, minutes = bool(body.again), body.minutes
        job = actions.tick_step(who, job_id, key, body.done, done_at(request), again=again, minutes=minutes)
        asked = solder.after_tick(who, job, key, way)
    return progress(job) | {"solder": asked, "told": job.told}


@router.get("/{int:job_id}/solder", response=SolderAsk, operation_id="solder_asked")
def solder_asked(request: HttpRequest, job_id: int) -> dict[str, str]:
    """What is still to be asked about the solder that a job has flowed, whoever ticked it and whenever."""
    way = preferences_of(person(request), shop(request)).takes_solder
    return {"says": solder.ask_about(one_job(request, job_id), way)}


@router.put("/{int:job_id}/solder", response=ProgressOut, operation_id="take_solder")
def take_solder(request: HttpRequest, job_id: int, body: SolderIn) -> dict[str, Any]:
    """Say once for a job whether the solder of its joints is taken from the drawer."""
    return progress(solder.decide(actor(request), job_id, body.take))


@router.put("/{int:job_id}/measures/{key}", response=JobOut, operation_id="take_measure")
def keep_measure(request: HttpRequest, job_id: int, key: str, body: MeasureIn) -> dict[str, Any]:
    """Keep a measure; the ones before it stay in the history."""
    gauge = one_gauge(request, body.gauge_id) if body.gauge_id else None
    bare = typed_in(body.typed_in, preferences_of(person(request), shop(request)).caliper_units)
    zero_mm = read_at("zero_mm", body.zero_mm, bare, signed=True)
    taken = Taken(key, body.text, gauge, body.gauge_name, zero_mm, done_at(request), bare=bare)
    return answered(request, take_measure(actor(request), job_id, taken))


@router.get("/{int:job_id}/history", response=Events, operation_id="job_history")
def job_history(request: HttpRequest, job_id: int, limit: int = MOST, offset: int = 0) -> Any:
    """All that was done to a job, newest first, a page at a time."""
    job = jobs_of(request).get(pk=job_id)
    history = History(
        job, preferences_of(person(request), shop(request)).units, estimates="estimate" in may(person(request))
    )
    found = Event.objects.filter(workshop_id=job.workshop_id, kind="job", thing_id=job.pk).select_related("by")
    page = page_of(found, ("-at", "-id"), limit, offset)
    return page.map(
        lambda e: {
            "id": e.pk,
            "at": e.at,
            "by": str(e.by or ""),
            "what": e.what,
            "before": e.before,
            "after": e.after,
            **vars(history.told(e)),
        }
    )
