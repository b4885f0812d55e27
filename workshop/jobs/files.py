"""A job as an open file: JSON, described in docs/job-file.md, out and in again."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from django.db import transaction
from pydantic import BeforeValidator, TypeAdapter

from ringcraft.errors import BadRequest, UnknownNameError, UnreadableError
from ringcraft.following.inspection import KINDS, with_unit
from ringcraft.joint.asking import JointSeen
from ringcraft.learning.places import READINGS
from ringcraft.schema import SignedMm, read_request, request
from ringcraft.work.joining import look_keys
from ringcraft.works import WORKS
from workshop.core.history import Actor
from workshop.core.text import ugly_fields
from workshop.jobs.actions import create_job, tick_step
from workshop.jobs.details import JobDetails, checked_time
from workshop.jobs.joints import keep_look, looks_now
from workshop.jobs.measures import Taken, measures_now, take_measure
from workshop.jobs.models import Job
from workshop.jobs.plans import kept_plan
from workshop.jobs.progress import done_times
from workshop.jobs.readings import ReadingTaken, readings_now, take_reading

FORMAT = "plain-shank-job"
VERSIONS = (1,)
MOST_ROWS = 500


def _text(value: object) -> str:
    if not isinstance(value, str):
        raise UnreadableError("", "This is not text.", "")
    return value


def _when(value: object) -> datetime | None:
    if value is None:
        return None
    try:
        when = datetime.fromisoformat(_text(value)[:40])
    except ValueError:
        raise UnreadableError("", "That is not a date.", "Such as 2026-05-04T16:00:00Z.") from None
    if when.tzinfo is None:
        raise UnreadableError("", "That date has no time zone.", "End it with Z or +01:00.")
    return when


def _rows(value: object) -> object:
    if not isinstance(value, (list, tuple)) or len(value) > MOST_ROWS:
        raise UnreadableError("", "This is not a list of entries.", f"At most {MOST_ROWS}.")
    if not all(isinstance(row, dict) for row in value):
        raise UnreadableError("", "This is not a list of entries.", "Each has fields of its own.")
    return tuple(value)


Text = Annotated[str, BeforeValidator(_text)]
When = Annotated[datetime | None, BeforeValidator(_when)]


@request
class DoneRow:
    """A step that was done, and when."""

    key: Text
    at: When = None


@request
class MeasureRow:
    """A measure as typed, and what it was read as there [mm or g]."""

    key: Text
    text: Text
    value: SignedMm | None = None
    zero_mm: SignedMm = 0.0
    gauge_name: Text = ""
    at: When = None


@request
class ReadingRow:
    """A reading at a place as typed: of what, where, in which state, and why it came back."""

    key: Text
    state: Text
    text: Text
    value: SignedMm | None = None
    place: Text = ""
    note: Text = ""
    zero_mm: SignedMm = 0.0
    gauge_name: Text = ""
    at: When = None


@request
class LookRow:
    """A joint as it was seen [mm], at which step and when."""

    key: Text
    seen: dict[str, Any]
    at: When = None


@request
class JobFile:
    """The fields of a job's file; its plan is not read, the order is planned here."""

    format: Text
    version: int
    order: dict[str, Any]
    title: Text
    work: Text = "make"
    engine: Text = ""
    customer_name: Text = ""
    ticket: Text = ""
    note: Text = ""
    due: When = None
    plan: Any = None
    done: Annotated[tuple[DoneRow, ...], BeforeValidator(_rows)] = ()
    measures: Annotated[tuple[MeasureRow, ...], BeforeValidator(_rows)] = ()
    looks: Annotated[tuple[LookRow, ...], BeforeValidator(_rows)] = ()
    readings: Annotated[tuple[ReadingRow, ...], BeforeValidator(_rows)] = ()


_FILE: TypeAdapter[JobFile] = TypeAdapter(JobFile)
_SEEN: TypeAdapter[JointSeen] = TypeAdapter(JointSeen)


def take_out(job: Job) -> dict[str, Any]:
    """The file of a job, of one whose plan cannot be read too."""
    return {
        "format": FORMAT,
        "version": VERSIONS[-1],
        "engine": job.engine,
        "work": job.work,
        "title": job.title,
        "customer_name": job.customer_name,
        "ticket": job.ticket,
        "note": job.note,
        "due": job.due.isoformat() if job.due else None,
        "order": job.order,
        "plan": job.plan,
        "done": [{"key": key, "at": at.isoformat()} for key, at in done_times(job).items()],
        "measures": [
            {
                "key": m.key,
                "text": m.text,
                "value": float(m.value or 0),
                "zero_mm": float(m.zero_mm),
                "gauge_name": m.gauge_name,
                "at": m.at.isoformat(),
            }
            for m in measures_now(job).values()
        ],
        "readings": [
            {
                "key": m.key,
                "place": m.place,
                "state": m.state,
                "text": m.text,
                "value": float(m.value or 0),
                "note": m.note,
                "zero_mm": float(m.zero_mm),
                "gauge_name": m.gauge_name,
                "at": m.at.isoformat(),
            }
            for m in readings_now(job)
        ],
        "looks": [{"key": row.step_key, "seen": row.seen, "at": row.at.isoformat()} for row in looks_now(job)],
    }


@transaction.atomic
def bring_in(actor: Actor, data: dict[str, Any]) -> Job:
    """A new job from its file, planned by this engine; all of it or nothing. Raises BadRequest at its field."""
    if data.get("format") != FORMAT or data.get("version") not in VERSIONS or isinstance(data.get("version"), bool):
        raise BadRequest([UnreadableError("format", "That is not a job of this bench.", "Choose a ring-….json.")])
    ugly = list(ugly_fields({name: value for name, value in data.items() if name != "plan"}))
    if ugly:
        raise BadRequest(ugly[:20])
    if not isinstance(data.get("order"), dict):
        raise BadRequest([UnreadableError("order", "The file has no order in it.", "Choose a ring-….json.")])
    file = read_request(_FILE, data)
    if file.work not in WORKS:
        raise BadRequest([UnknownNameError("work", "That work is not known here.", f"It can be {', '.join(WORKS)}.")])
    work = WORKS[file.work]
    order = _at("order", lambda: work.read(file.order))
    details = JobDetails(file.title, file.customer_name, file.note, file.due, ticket=file.ticket)
    job = create_job(actor, details, order, work)
    route = kept_plan(job).route
    known, asked = {step.key for step in route}, {ask.key for step in route for ask in step.measure}
    for index, row in enumerate(file.done):
        if row.key in known:
            _at(f"done.{index}", lambda row=row: tick_step(actor, job, row.key, True, checked_time(row.at, "at")))
    for index, one in enumerate(file.measures):
        if one.key in asked:
            _at(f"measures.{index}", lambda one=one: _measured(actor, job, one))
    joints = look_keys(kept_plan(job))
    for index, look in enumerate(file.looks):
        if look.key in joints:
            _at(f"looks.{index}", lambda look=look: _looked(actor, job, look))
    for index, read in enumerate(file.readings):
        _at(f"readings.{index}", lambda read=read: _read_there(actor, job, read))
    job.refresh_from_db()
    return job


def _read_there(actor: Actor, job: Job, row: ReadingRow) -> None:
    """Keep a reading at a place of the file."""
    if not row.text.strip():
        raise BadRequest([UnreadableError("text", "This reading says nothing.", "Leave it out.")])
    at = checked_time(row.at, "at")
    kind = READINGS[row.key].kind if row.key in READINGS else ""
    there = ReadingTaken(
        row.key, row.place, row.state, _whole(kind, row), row.note, None, row.gauge_name, row.zero_mm, at,
        value=row.value if row.gauge_name else None,
    )  # fmt: skip
    take_reading(actor, job, there)


def _at(path: str, do: Any) -> Any:
    """Do something whose errors belong below a path of the file."""
    try:
        return do()
    except BadRequest as problem:
        raise BadRequest([error.at(f"{path}.{error.field}".rstrip(".")) for error in problem.errors]) from None


def _looked(actor: Actor, job: Job, row: LookRow) -> None:
    try:
        seen = read_request(_SEEN, row.seen)
    except BadRequest as problem:
        raise BadRequest([error.at(f"seen.{error.field}") for error in problem.errors]) from None
    keep_look(actor, job, row.key, seen, checked_time(row.at, "at"))


def _whole(kind: str, row: MeasureRow | ReadingRow) -> str:
    """A reading's text with its unit: a file of before has bare figures that were inches."""
    return row.text if row.value is None else with_unit(kind, row.text, row.value, row.zero_mm)


def _measured(actor: Actor, job: Job, row: MeasureRow) -> None:
    """Keep a measure of the file; a size read on a gauge elsewhere keeps the value that the gauge gave it there."""
    if not row.text.strip():
        raise BadRequest([UnreadableError("text", "This measure says nothing.", "Leave it out.")])
    value = row.value if row.gauge_name else None
    text = _whole(KINDS.get(row.key.partition("@")[0], ""), row)
    taken = Taken(row.key, text, None, row.gauge_name, row.zero_mm, checked_time(row.at, "at"), value)
    take_measure(actor, job, taken)
