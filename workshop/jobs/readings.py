"""Readings at places: beside what a route asks for, what is read of a ring where and in which state; what came back.

They are rows of :class:`workshop.jobs.models.Measure` with a state: they stand beside the measures that a plan
follows, and never move one.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.learning.places import CAME_BACK, PLACES, READINGS, STATES, read_at_place
from workshop.core.history import Actor, record
from workshop.gauges.models import Gauge
from workshop.gauges.reading import read_size_on
from workshop.jobs.details import checked_time
from workshop.jobs.locking import locked
from workshop.jobs.measures import as_elsewhere
from workshop.jobs.models import Job, Measure
from workshop.jobs.progress import job_stands

MOST_READINGS, LONGEST_NOTE = 1000, 200


@dataclass(frozen=True)
class ReadingTaken:
    """A reading as typed: of what, where, in which state, on which gauge; ``note`` is why it came back.

    Empty text takes the one before at that place and state away; it stays in the history. ``value`` is what a gauge
    elsewhere read it as, for a job that comes in from its file.
    """

    key: str
    place: str
    state: str
    text: str
    note: str = ""
    gauge: Gauge | None = None
    gauge_name: str = ""
    zero_mm: float = 0.0
    at: datetime | None = None
    bare: str = "mm"
    value: float | None = None


def readings_now(job: Job) -> list[Measure]:
    """The readings at places that hold: the newest of each, in the order they were taken."""
    newest: dict[tuple[str, str, str], Measure] = {}
    for row in job.measures.all():
        if row.state:
            newest.pop((row.key, row.place, row.state), None)
            newest[row.key, row.place, row.state] = row
    return [row for row in newest.values() if row.value is not None]


def came_back_of(job: Job) -> str:
    """Why a ring came back, in the words it was told in; empty for one that did not."""
    return next((row.note or row.text for row in reversed(readings_now(job)) if row.state == CAME_BACK), "")


def _checked(taken: ReadingTaken) -> None:
    errors: list[CraftError] = []
    if taken.key not in READINGS:
        errors.append(UnknownNameError("key", "That is not read at a place.", f"It can be {', '.join(READINGS)}."))
    if taken.place not in PLACES:
        errors.append(UnknownNameError("place", "That place is not known here.", f"It can be {', '.join(PLACES)}."))
    if taken.state not in STATES:
        errors.append(UnknownNameError("state", "That state is not known here.", f"It can be {', '.join(STATES)}."))
    if len(taken.note) > LONGEST_NOTE:
        errors.append(OutOfRangeError("note", "That is too long to keep.", f"At most {LONGEST_NOTE} characters."))
    if not errors and taken.place not in READINGS[taken.key].places:
        said = f"{READINGS[taken.key].title.capitalize()} is not read {PLACES[taken.place] or 'there'}."
        errors.append(UnknownNameError("place", said, ""))
    if not errors and taken.state == CAME_BACK and taken.text.strip() and not taken.note.strip():
        errors.append(CraftError("note", "Why did it come back?", "In a few words: too tight since winter."))
    if errors:
        raise BadRequest(errors)


@transaction.atomic
def take_reading(actor: Actor, job: Job | int, taken: ReadingTaken) -> Job:
    """Keep a reading at a place, or take the one before away. Answers the job then; raises BadRequest."""
    _checked(taken)
    at = checked_time(taken.at, "at")
    row = locked(actor, job)
    holds = next(
        (r for r in readings_now(row) if (r.key, r.place, r.state) == (taken.key, taken.place, taken.state)), None
    )
    text = taken.text.strip()
    if not text and holds is None:
        return row
    if row.measures.count() >= MOST_READINGS:
        raise BadRequest([OutOfRangeError("text", "Read more often than a ring can be.", "")])
    value: Decimal | None = None
    if text:
        home = str(row.order.get("home_scale", "us")) if isinstance(row.order, dict) else "us"
        try:
            reading = read_at_place(
                taken.key, text, home, taken.zero_mm, lambda said: read_size_on(taken.gauge, said, home, taken.bare),
                taken.bare,
            )  # fmt: skip
        except CraftError as problem:
            raise BadRequest([problem]) from None
        value, text = Decimal(f"{as_elsewhere(reading.value, taken.value):.4f}"), reading.text
    Measure.objects.create(
        job=row,
        key=taken.key,
        place=taken.place,
        state=taken.state,
        note=" ".join(taken.note.split()),
        text=text[:80],
        value=value,
        zero_mm=Decimal(f"{taken.zero_mm:.4f}"),
        gauge=taken.gauge,
        gauge_name=taken.gauge.name if taken.gauge else taken.gauge_name.strip()[:80],
        calibration=taken.gauge.newest() if taken.gauge else None,
        shape=row.shape,
        next_key=row.next_key,
        at=at,
        turn=row.turns,
        by_id=actor.user_id,
    )
    said = {"measure": taken.key, "place": taken.place, "state": taken.state, "text": text, "note": taken.note}
    record(actor, row, "read-at" if text else "reading-removed", after=said)
    job_stands.send(Job, job=row)
    return row
