"""What a person types of a job beside the order, and of where it is: checked in the craft's words."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Any

from django.utils import timezone

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.units import capital
from ringcraft.works import Work
from workshop.customers.models import Customer
from workshop.jobs.models import PLACES, Job

FIRST_YEAR, LAST_YEAR = 2000, 2100
AHEAD = timedelta(days=1)  # how far a clock elsewhere may run before ours


@dataclass(frozen=True)
class JobDetails:
    """What a person types of a job beside the order."""

    title: str
    customer_name: str = ""
    note: str = ""
    due: datetime | None = None
    customer: Customer | None = None
    ticket: str = ""


@dataclass(frozen=True)
class Place:
    """Where a job is: a key of ``PLACES`` or nothing for the bench, a note, and until when."""

    place: str = ""
    note: str = ""
    until: date | None = None


def checked(details: JobDetails, work: Work) -> JobDetails:
    """The details of a kind of work, tidied; raises BadRequest with each error at its field."""
    title = " ".join(details.title.split())
    ticket = " ".join(details.ticket.split())
    errors: list[CraftError] = []
    if not title:
        errors.append(UnreadableError("title", "The job needs a name.", "Such as: half-round band."))
    for name, value, longest in (
        ("title", title, 120),
        ("customer_name", details.customer_name, 120),
        ("note", details.note, 4000),
        ("ticket", ticket, 20),
    ):
        if len(value) > longest:
            errors.append(OutOfRangeError(name, "That is too long to keep.", f"At most {longest} characters."))
    if details.due is not None and not FIRST_YEAR <= details.due.year <= LAST_YEAR:
        errors.append(OutOfRangeError("due", "That is no date a ring is promised for.", "Write day and month."))
    if not work.for_customer and (details.customer or details.customer_name.strip()):
        said = f"{capital(work.title)} is nobody's ring."
        errors.append(UnreadableError("customer_name", said, "Leave the customer out."))
    if errors:
        raise BadRequest(errors)
    name = " ".join(details.customer_name.split())
    return replace(details, title=title, customer_name=name, note=details.note.strip(), ticket=ticket)


def checked_place(place: Place) -> Place:
    """The place, tidied; raises BadRequest at its field."""
    errors: list[CraftError] = []
    note = " ".join(place.note.split())
    if place.place and place.place not in PLACES:
        said = f"It can be {', '.join(PLACES)}, or nothing for the bench."
        errors.append(UnknownNameError("place", "That place is not known here.", said))
    if len(note) > 200:
        errors.append(OutOfRangeError("note", "That is too long to keep.", "At most 200 characters."))
    if place.until is not None and not FIRST_YEAR <= place.until.year <= LAST_YEAR:
        errors.append(OutOfRangeError("until", "That is no date to have it back.", "Write day and month."))
    if errors:
        raise BadRequest(errors)
    return Place(place.place, note, place.until)


def checked_time(at: datetime | None, field: str) -> datetime:
    """When something was done, now if it is not said; raises BadRequest for a time that cannot have been."""
    now = timezone.now()
    if at is None:
        return now
    if at.tzinfo is None:
        raise BadRequest([UnreadableError(field, "That date has no time zone.", "End it with Z or +01:00.")])
    if not FIRST_YEAR <= at.year <= LAST_YEAR:
        raise BadRequest(
            [OutOfRangeError(field, "Nothing was done at a bench then.", "Such as 2026-05-04T16:00:00Z.")]
        )
    if at > now + AHEAD:
        raise BadRequest([OutOfRangeError(field, "That has not come yet.", "What is done was done by now.")])
    return min(at, now)


def of_job(job: Job) -> dict[str, Any]:
    """The fields of a job that people edit, as plain data, as the history and a stale save show them."""
    return {
        "title": job.title,
        "customer_id": job.customer_id,
        "customer_name": job.customer_name,
        "note": job.note,
        "due": job.due.isoformat() if job.due else None,
        "ticket": job.ticket,
        "order": job.order,
    }


def of_details(details: JobDetails, order: dict[str, Any]) -> dict[str, Any]:
    """The same of what was typed."""
    return {
        "title": details.title,
        "customer_id": details.customer.pk if details.customer else None,
        "customer_name": details.customer_name,
        "note": details.note,
        "due": details.due.isoformat() if details.due else None,
        "ticket": details.ticket,
        "order": order,
    }


def of_place(job: Job) -> dict[str, Any]:
    """Where a job is, as plain data."""
    until = job.place_until.isoformat() if job.place_until else None
    return {"place": job.place, "note": job.place_note, "until": until}
