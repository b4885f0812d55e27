"""Every change of a job is one action here: check, then execute in a transaction, with its history.

The API, the demo loader and the import use the same ones.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from decimal import Decimal
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from ringcraft.border import to_json
from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.following import read_measure
from ringcraft.gauges import WORST_ZERO_MM
from ringcraft.planning.request import RingRequest
from ringcraft.styles import plan_ring
from workshop.customers.models import Customer
from workshop.gauges.models import Gauge
from workshop.gauges.reading import read_size_on
from workshop.jobs.models import Event, Job, Measure, StepDone
from workshop.people.models import User, Workshop


class StaleJob(Exception):
    """The job was changed by somebody else since it was read; ``changed`` names what."""

    def __init__(self, job: Job, changed: list[str]) -> None:
        super().__init__(f"job {job.pk} is at version {job.version}")
        self.job = job
        self.changed = changed


@dataclass(frozen=True)
class JobDetails:
    """What a person types of a job beside the order."""

    title: str
    customer_name: str = ""
    note: str = ""
    due: datetime | None = None
    customer: Customer | None = None


@dataclass(frozen=True)
class Doer:
    """Who does it, and in which workshop."""

    workshop: Workshop
    user: User | None = field(default=None)


def _checked(details: JobDetails) -> JobDetails:
    title = " ".join(details.title.split())
    errors: list[CraftError] = []
    if not title:
        errors.append(UnreadableError("title", "The job needs a name.", "Such as: half-round band."))
    for name, value, longest in (
        ("title", title, 120),
        ("customer_name", details.customer_name, 120),
        ("note", details.note, 4000),
    ):
        if len(value) > longest:
            errors.append(OutOfRangeError(name, "That is too long to keep.", f"At most {longest} characters."))
    if details.due is not None and not 2000 <= details.due.year <= 2100:
        errors.append(OutOfRangeError("due", "That is no date a ring is promised for.", "Write day and month."))
    if errors:
        raise BadRequest(errors)
    return JobDetails(
        title, " ".join(details.customer_name.split()), details.note.strip(), details.due, details.customer
    )


def _planned(order: RingRequest) -> dict[str, Any]:
    try:
        plan: dict[str, Any] = to_json(plan_ring(order))
    except CraftError as problem:
        raise BadRequest([problem]) from None
    return plan


def _told(doer: Doer, job: Job, what: str, **detail: Any) -> None:
    Event.objects.create(job=job, by=doer.user, what=what, detail=detail)


@transaction.atomic
def create_job(doer: Doer, details: JobDetails, order: RingRequest) -> Job:
    """A new job with its plan; raises BadRequest."""
    details, plan = _checked(details), _planned(order)
    Workshop.objects.select_for_update().get(pk=doer.workshop.pk)  # one number at a time
    last = Job.objects.filter(workshop=doer.workshop).aggregate(last=Max("number"))["last"] or 0
    job = Job.objects.create(
        workshop=doer.workshop,
        number=last + 1,
        title=details.title,
        customer=details.customer,
        customer_name=details.customer_name,
        note=details.note,
        due=details.due,
        order=to_json(order),
        plan=plan,
        engine=plan["engine"],
    )
    _told(doer, job, "created", cut=plan["blanks"][0]["cut_text"])
    return job


@transaction.atomic
def edit_job(doer: Doer, job_id: int, version: int, details: JobDetails, order: RingRequest) -> Job:
    """Save a job again, planned anew; raises StaleJob if somebody saved it meanwhile, or BadRequest."""
    details = _checked(details)
    job = Job.objects.select_for_update().get(pk=job_id, workshop=doer.workshop)
    kept = to_json(order)
    after = {
        "title": details.title,
        "customer": details.customer,
        "customer_name": details.customer_name,
        "note": details.note,
        "due": details.due,
        "order": kept,
    }
    changed = [name for name, value in after.items() if getattr(job, name) != value]
    if job.version != version:
        raise StaleJob(job, changed)
    if not changed:
        return job
    for name, value in after.items():
        setattr(job, name, value)
    if "order" in changed:
        job.plan = _planned(order)
        job.engine = job.plan["engine"]
    job.version += 1
    job.save()
    _told(doer, job, "changed", fields=changed)
    return job


@transaction.atomic
def tick_step(doer: Doer, job: Job, key: str, done: bool, at: datetime | None = None) -> None:
    """Tick a step of the job's route, or take the tick back; raises BadRequest for an unknown step."""
    if key not in {step["key"] for step in job.plan["route"]}:
        raise BadRequest([UnknownNameError("key", f"“{key}” is not a step of this ring.", "")])
    if done:
        StepDone.objects.get_or_create(job=job, key=key, defaults={"at": at or timezone.now(), "by": doer.user})
    else:
        StepDone.objects.filter(job=job, key=key).delete()
    _told(doer, job, "ticked" if done else "unticked", step=key)


def asked_measures(job: Job) -> set[str]:
    """The keys of the measures that a job's route asks for."""
    return {ask["key"] for step in job.plan["route"] for ask in step["measure"]}


@dataclass(frozen=True)
class Taken:
    """A measure as typed: on which gauge, with the caliper's zero [mm], and when."""

    key: str
    text: str
    gauge: Gauge | None = None
    gauge_name: str = ""
    zero_mm: float = 0.0
    at: datetime | None = None


@transaction.atomic
def take_measure(doer: Doer, job: Job, taken: Taken) -> Measure | None:
    """Keep a measure as typed; empty text takes it away. Raises BadRequest with the field ``text``."""
    name = taken.gauge.name if taken.gauge else taken.gauge_name.strip()
    if len(name) > 80:
        raise BadRequest([OutOfRangeError("gauge_name", "That is too long a name.", "At most 80 letters.")])
    if not abs(taken.zero_mm) <= WORST_ZERO_MM:
        raise BadRequest([OutOfRangeError("zero_mm", "No caliper is that far from nought.", "Close it and zero it.")])
    if not taken.text.strip():
        Measure.objects.filter(job=job, key=taken.key).delete()
        _told(doer, job, "measure-removed", measure=taken.key)
        return None
    home = job.order.get("home_scale", "us")
    if taken.key not in asked_measures(job):
        raise BadRequest([UnknownNameError("key", f"“{taken.key}” is not measured on this ring.", "")])
    try:
        reading = read_measure(
            taken.key, taken.text, home, taken.zero_mm, lambda text: read_size_on(taken.gauge, text, home)
        )
    except CraftError as problem:
        raise BadRequest([problem]) from None
    measure, _ = Measure.objects.update_or_create(
        job=job,
        key=taken.key,
        defaults={
            "text": taken.text.strip(),
            "value": Decimal(f"{reading.value:.4f}"),
            "zero_mm": Decimal(f"{taken.zero_mm:.4f}"),
            "gauge": taken.gauge,
            "gauge_name": name,
            "at": taken.at or timezone.now(),
            "by": doer.user,
        },
    )
    _told(doer, job, "measured", measure=taken.key, text=taken.text.strip())
    return measure


@transaction.atomic
def close_job(doer: Doer, job: Job, closed: bool) -> None:
    """Take a job off the bench, or put it back."""
    job.closed_at = timezone.now() if closed else None
    job.save(update_fields=["closed_at"])
    _told(doer, job, "closed" if closed else "reopened")
