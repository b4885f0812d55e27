"""Readings at places of a job's ring, what came back, and how symmetrical its shank is."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from ringcraft.errors import BadRequest, CraftError
from ringcraft.following.answers import LEAST_WALL_MM
from ringcraft.learning.places import PLACES, READINGS, STATES
from ringcraft.learning.symmetry import Symmetry, symmetry
from ringcraft.schema import read_at
from ringcraft.work.fields import Option
from workshop.api.gauges import one_gauge
from workshop.api.jobs import one_job
from workshop.api.signed_in import actor, done_at, person, shop, typed_in
from workshop.jobs.models import Job, Measure
from workshop.jobs.readings import ReadingTaken, readings_now, take_reading
from workshop.people.preferences import preferences_of

router = Router()
LOWEST_FLOOR_MM, HIGHEST_FLOOR_MM = 0.3, 5.0


class ReadingIn(Schema):
    """A reading as typed: of what, where round it, in which state; ``note`` is why it came back."""

    key: str
    place: str = ""
    state: str
    text: str
    note: str = ""
    gauge_id: int | None = None
    gauge_name: str = ""
    zero_mm: float | str = 0.0
    typed_in: str | None = None


class ReadingOut(Schema):
    """A reading that holds [mm], and how often it was read."""

    key: str
    title: str
    place: str
    place_title: str
    state: str
    state_title: str
    text: str
    value: float
    note: str
    gauge_name: str
    at: datetime
    by: str
    readings: int


class Readings(Schema):
    """The readings of a job that hold, what can be read where, and what its shank's thickness asks for."""

    items: list[ReadingOut]
    kinds: list[Option]
    places: dict[str, list[Option]]
    states: list[Option]
    symmetry: Symmetry


def _read(request: HttpRequest, job: Job, floor: str = "") -> dict[str, Any]:
    units = preferences_of(person(request), shop(request)).units
    floor_mm = read_at("floor", floor, units) if floor else LEAST_WALL_MM
    if not LOWEST_FLOOR_MM <= floor_mm <= HIGHEST_FLOOR_MM:
        raise BadRequest([CraftError("floor", "No shank is left that thin, or that thick.", "Such as 1.2.")])
    rows = readings_now(job)
    thick = {row.place: float(row.value or 0) for row in rows if row.key == "shank-thickness"}
    return {
        "items": [_out(row, job) for row in rows],
        "kinds": [Option(key, one.title) for key, one in READINGS.items()],
        "places": {key: [Option(at, PLACES[at]) for at in one.places] for key, one in READINGS.items()},
        "states": [Option(key, title) for key, title in STATES.items()],
        "symmetry": symmetry(thick, floor_mm, units),
    }


def _out(row: Measure, job: Job) -> dict[str, Any]:
    same = [
        one
        for one in job.measures.all()
        if (one.key, one.place, one.state) == (row.key, row.place, row.state) and one.value is not None
    ]
    plain = ("key", "place", "state", "text", "value", "note", "gauge_name", "at")
    return {
        **{name: getattr(row, name) for name in plain},
        "title": READINGS[row.key].title if row.key in READINGS else row.key,
        "place_title": PLACES.get(row.place, row.place),
        "state_title": STATES.get(row.state, row.state),
        "by": str(row.by or ""),
        "readings": len(same),
    }


@router.get("/{int:job_id}/readings", response=Readings, operation_id="readings")
def readings(request: HttpRequest, job_id: int, floor: str = "") -> Any:
    """The readings at places of a job, and what its shank asks for above a floor."""
    return _read(request, one_job(request, job_id), floor)


@router.put("/{int:job_id}/readings", response=Readings, operation_id="take_reading")
def keep_reading(request: HttpRequest, job_id: int, body: ReadingIn) -> Any:
    """Keep a reading at a place; empty text takes the one before away. Those before stay in the history."""
    gauge = one_gauge(request, body.gauge_id) if body.gauge_id else None
    bare = typed_in(body.typed_in, preferences_of(person(request), shop(request)).caliper_units)
    zero_mm = read_at("zero_mm", body.zero_mm, bare, signed=True)
    taken = ReadingTaken(
        body.key,
        body.place,
        body.state,
        body.text,
        body.note,
        gauge,
        body.gauge_name,
        zero_mm,
        done_at(request),
        bare,
    )
    take_reading(actor(request), one_job(request, job_id), taken)
    return _read(request, one_job(request, job_id))
