"""Promises, waits that end and second looks as a calendar reads them, by a secret address that can be withdrawn."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone
from icalendar import Calendar, Event

from ringcraft.day.kinds import WAITS
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.day.models import CalendarAddress
from workshop.jobs.models import Job
from workshop.people.models import User

MOST = 500
LOOKS_FOR = timedelta(days=30)


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


@transaction.atomic
def new_address(actor: Actor, user: User, *, with_customers: bool) -> str:
    """A new secret for a person, shown this once; the one before is withdrawn."""
    held = hold_one(User.objects.filter(pk=user.pk))
    CalendarAddress.objects.filter(user=held, withdrawn_at=None).update(withdrawn_at=timezone.now())
    secret = secrets.token_urlsafe(32)
    CalendarAddress.objects.create(
        user=held, workshop_id=actor.workshop_id, digest=_digest(secret), with_customers=with_customers
    )
    record(actor, held, "calendar-made", after={"with_customers": with_customers})
    return secret


@transaction.atomic
def withdraw(actor: Actor, user: User) -> None:
    """Nobody reads at a person's address any more."""
    if CalendarAddress.objects.filter(user=user, withdrawn_at=None).update(withdrawn_at=timezone.now()):
        record(actor, user, "calendar-withdrawn")


def address_of(user: User) -> CalendarAddress | None:
    """The address of a person that is read at, if any."""
    return CalendarAddress.objects.filter(user=user, withdrawn_at=None).first()


def calendar_at(secret: str) -> bytes | None:
    """The calendar behind a secret; None where it is not known, was withdrawn, or its person left."""
    found = CalendarAddress.objects.select_related("user", "workshop").filter(
        digest=_digest(secret), withdrawn_at=None, user__is_active=True
    )
    row = found.first()
    if row is None or row.user.workshop_id != row.workshop_id:
        return None
    return written(row, timezone.now())


def written(row: CalendarAddress, now: datetime) -> bytes:
    """All that a workshop has promised and waits for, as iCalendar (RFC 5545)."""
    out = Calendar()
    out.add("prodid", "-//Plain Shank//bench//EN")
    out.add("version", "2.0")
    out.add("x-wr-calname", f"{row.workshop.name}: bench")
    jobs = Job.objects.filter(workshop_id=row.workshop_id)
    columns = ("pk", "number", "title", "customer_name", "ticket", "note", "due", "ready_at", "look_again", "left")
    for job in jobs.filter(closed_at=None, due__isnull=False).order_by("due", "pk").only(*columns)[:MOST]:
        if job.due is not None:
            out.add_component(_event(row, job, "promise", f"{job.name}: promised", job.due, now))
    for job in jobs.filter(closed_at=None, ready_at__gt=now).order_by("ready_at", "pk").only(*columns)[:MOST]:
        says = WAITS.get(str(job.left.get("waits") or ""), "waits")
        if job.ready_at is not None:
            out.add_component(_event(row, job, "wait", f"{job.name}: {says}, ends", job.ready_at, now))
    looks = jobs.filter(looked_at=None, look_again__gt=now - LOOKS_FOR).order_by("look_again", "pk")
    for job in looks.only(*columns)[:MOST]:
        if job.look_again is not None:
            out.add_component(_event(row, job, "look", f"{job.name}: look at it again", job.look_again, now))
    return bytes(out.to_ical())


def _event(row: CalendarAddress, job: Job, what: str, summary: str, at: datetime, now: datetime) -> Event:
    event = Event()
    event.add("uid", f"{what}-{job.pk}@plain-shank-{row.workshop_id}")
    event.add("dtstamp", now)
    event.add("dtstart", at)
    event.add("dtend", at + timedelta(minutes=15))
    event.add("summary", summary)
    if row.with_customers:
        said = [f"customer: {job.customer_name}"] if job.customer_name else []
        said += [f"ticket: {job.ticket}"] if job.ticket else []
        said += [job.note] if job.note else []
        if said:
            event.add("description", "\n".join(said))
    return event
