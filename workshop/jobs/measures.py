"""Measures are a history: each reading is a row that is added, and the newest of a key holds."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.following.inspection import Reading, is_of_stock, read_measure
from ringcraft.measure.gauges import WORST_ZERO_MM
from ringcraft.work.kept import KeptPlanError
from workshop.core.history import Actor, record
from workshop.gauges.models import Gauge
from workshop.gauges.reading import read_size_on
from workshop.jobs.details import checked_time
from workshop.jobs.locking import locked
from workshop.jobs.models import Job, Measure
from workshop.jobs.plans import asked_now, kept_plan
from workshop.jobs.progress import stand_as_measured

LONGEST_KEY = 60
MOST_GAUGE_ERROR_MM = 1.5  # a gauge further off is another scale


@dataclass(frozen=True)
class Taken:
    """A measure as typed: on which gauge, with the caliper's zero [mm], and when.

    ``value`` is what a gauge elsewhere read it as, for a job that comes in from its file; ``bare`` is the caliper's
    unit, in which a length is that names none.
    """

    key: str
    text: str
    gauge: Gauge | None = None
    gauge_name: str = ""
    zero_mm: float = 0.0
    at: datetime | None = None
    value: float | None = None
    bare: str = "mm"


def measures_now(job: Job) -> dict[str, Measure]:
    """The measures that hold for a job: the newest of each key, of this route or of the stock."""
    newest: dict[str, Measure] = {}
    for row in job.measures.all():  # in the order they were taken
        if not row.state and row.route_key in ("", job.route_key):
            newest[row.key] = row
    return {key: row for key, row in newest.items() if row.value is not None}


def values_of(job: Job) -> dict[str, float]:
    """What the measures of a job were read as: key to value [mm or g]."""
    return {key: float(row.value) for key, row in measures_now(job).items() if row.value is not None}


@transaction.atomic
def take_measure(actor: Actor, job: Job | int, taken: Taken) -> Job:
    """Keep a measure as typed; empty text says that the one before does not hold. Answers the job as it stands then.

    Raises BadRequest at its field, DoesNotExist for a job of nobody here.
    """
    name = taken.gauge.name if taken.gauge else taken.gauge_name.strip()
    if len(name) > 80:
        raise BadRequest([OutOfRangeError("gauge_name", "That is too long a name.", "At most 80 letters.")])
    if not abs(taken.zero_mm) <= WORST_ZERO_MM:
        raise BadRequest([OutOfRangeError("zero_mm", "No caliper is that far from nought.", "Close it and zero it.")])
    at = checked_time(taken.at, "at")
    row = locked(actor, job)
    if not taken.text.strip():
        put_aside(actor, row, [taken.key] if taken.key in measures_now(row) else [], at)
        stand_as_measured(row, values_of(row))
        return row
    reading = _read(row, taken)
    value = as_elsewhere(reading.value, taken.value)
    calibration = taken.gauge.newest() if taken.gauge else None
    measure = Measure.objects.create(
        job=row,
        route_key="" if is_of_stock(taken.key) else row.route_key,
        key=taken.key,
        text=reading.text,
        value=Decimal(f"{value:.4f}"),
        zero_mm=Decimal(f"{taken.zero_mm:.4f}"),
        gauge=taken.gauge,
        gauge_name=name,
        calibration=calibration,
        shape=row.shape,
        next_key=row.next_key,
        asked=asked_now(row, values_of(row), taken.key, value),
        at=at,
        turn=row.turns,
        by_id=actor.user_id,
    )
    said = {"measure": taken.key, "text": measure.text, "mm_or_g": round(value, 4), "at": at.isoformat()}
    record(actor, row, "measured", after=said)
    stand_as_measured(row, values_of(row))
    return row


def as_elsewhere(read_mm: float, elsewhere_mm: float | None) -> float:
    """A size that was read elsewhere [mm]: as its gauge gave it there, unless that is another scale."""
    if elsewhere_mm is None or abs(elsewhere_mm - read_mm) >= MOST_GAUGE_ERROR_MM:
        return read_mm
    return elsewhere_mm


def _read(job: Job, taken: Taken) -> Reading:
    home = str(job.order.get("home_scale", "us")) if isinstance(job.order, dict) else "us"
    try:
        asked = {ask.key for step in kept_plan(job).route for ask in step.measure}
    except KeptPlanError as problem:
        raise BadRequest([problem.at("key")]) from None
    if taken.key not in asked:
        raise BadRequest([UnknownNameError("key", f"“{taken.key[:60]}” is not measured on this job.", "")])
    try:
        return read_measure(
            taken.key,
            taken.text,
            home,
            taken.zero_mm,
            lambda text: read_size_on(taken.gauge, text, home, taken.bare),
            taken.bare,
        )
    except CraftError as problem:
        raise BadRequest([problem]) from None


def put_aside(actor: Actor, job: Job, keys: Iterable[str], at: datetime | None = None) -> None:
    """Say of measures that they do not hold any more: a row with no text each; what was read stays in the history."""
    at = checked_time(at, "at")
    for key in keys:
        route_key = "" if is_of_stock(key) else job.route_key
        Measure.objects.create(
            job=job, route_key=route_key, key=key[:LONGEST_KEY], text="", at=at, turn=job.turns, by_id=actor.user_id
        )
        record(actor, job, "measure-removed", after={"measure": key})
