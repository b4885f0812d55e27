"""A job as an open file: JSON, described in docs/job-file.md, out and in again."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal
from typing import Any

from django.db import transaction
from pydantic import TypeAdapter, ValidationError

from ringcraft.errors import BadRequest, CraftError, UnreadableError
from ringcraft.styles import read_ring
from workshop.jobs.actions import Doer, JobDetails, Taken, asked_measures, create_job, take_measure, tick_step
from workshop.jobs.models import Job

FORMAT = "plain-shank-job"
VERSION = 1
MOST_GAUGE_ERROR_MM = 1.5  # a gauge further off is another scale
_WHEN = TypeAdapter(datetime | None)


def take_out(job: Job) -> dict[str, Any]:
    """The file of a job."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "engine": job.engine,
        "title": job.title,
        "customer_name": job.customer_name,
        "note": job.note,
        "due": job.due.isoformat() if job.due else None,
        "order": job.order,
        "plan": job.plan,
        "done": [{"key": step.key, "at": step.at.isoformat()} for step in job.steps_done.all()],
        "measures": [
            {
                "key": m.key,
                "text": m.text,
                "value": float(m.value),
                "zero_mm": float(m.zero_mm),
                "gauge_name": m.gauge_name,
                "at": m.at.isoformat(),
            }
            for m in job.measures.all()
        ],
    }


@transaction.atomic
def bring_in(doer: Doer, data: dict[str, Any]) -> Job:
    """A new job from its file, planned by this engine; all of it or nothing. Raises BadRequest."""
    if data.get("format") != FORMAT or data.get("version") != VERSION:
        raise BadRequest([UnreadableError("format", "That is not a job of this bench.", "Choose a ring-….json.")])
    try:
        order = read_ring(data.get("order"))
    except BadRequest as problem:
        raise BadRequest([error.at(f"order.{error.field}".rstrip(".")) for error in problem.errors]) from None
    details = JobDetails(
        title=_text(data, "title"),
        customer_name=_text(data, "customer_name"),
        note=_text(data, "note"),
        due=_when(data.get("due"), "due"),
    )
    job = create_job(doer, details, order)
    asked = asked_measures(job)
    known = {step["key"] for step in job.plan["route"]}
    for index, row in enumerate(_rows(data, "done")):
        if row.get("key") in known:
            tick_step(doer, job, row["key"], True, _when(row.get("at"), f"done.{index}.at"))
    for index, row in enumerate(_rows(data, "measures")):
        if row.get("key") in asked:
            at, gauge = _when(row.get("at"), f"measures.{index}.at"), _text(row, "gauge_name")
            take_measure(doer, job, Taken(row["key"], _text(row, "text"), None, gauge, _zero(row), at))
            _keep_value(job, row)
    return job


def _text(data: dict[str, Any], name: str) -> str:
    value = data.get(name, "")
    if not isinstance(value, str):
        raise BadRequest([UnreadableError(name, "This is not text.", "")])
    return value


def _rows(data: dict[str, Any], name: str) -> list[dict[str, Any]]:
    value = data.get(name, [])
    if not isinstance(value, list) or not all(isinstance(row, dict) for row in value) or len(value) > 500:
        raise BadRequest([UnreadableError(name, "This is not a list of entries.", "")])
    return value


def _zero(row: dict[str, Any]) -> float:
    value = row.get("zero_mm", 0)
    return float(value) if isinstance(value, (int, float)) and not isinstance(value, bool) else 0.0


def _keep_value(job: Job, row: dict[str, Any]) -> None:
    """A size that was read on a gauge of another workshop keeps the value that the gauge gave it there."""
    value = row.get("value")
    measure = job.measures.get(key=row["key"])
    if measure.gauge_name and isinstance(value, float) and abs(value - float(measure.value)) < MOST_GAUGE_ERROR_MM:
        measure.value = Decimal(f"{value:.4f}")
        measure.save(update_fields=["value"])


def _when(value: object, name: str) -> datetime | None:
    try:
        when = _WHEN.validate_python(value)
    except ValidationError:
        raise BadRequest([CraftError(name, "That is not a date.", "Such as 2026-05-04T16:00:00Z.")]) from None
    if when is not None and when.tzinfo is None:
        raise BadRequest([CraftError(name, "That date has no time zone.", "End it with Z or +01:00.")])
    return when
