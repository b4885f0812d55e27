"""Erasing a customer or a colleague: one action puts a token in the place of names and notes, everywhere.

It is the one exception to rows that are only added, and itself a line of the history. Photographs are deleted;
figures, metal and sums stay. A list outside the database says by number who was erased, so that a restore of an
older backup does not bring them back.
"""

from __future__ import annotations

import json
import os
import secrets
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.hashers import make_password
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from ringcraft.errors import BadRequest, CraftError
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.core.models import Event, Sent
from workshop.customers.models import Customer, Finger
from workshop.day.models import CalendarAddress, ShownPlan
from workshop.jobs.models import Job, JobPhoto, Measure
from workshop.logbook.models import Finding, RingRecord
from workshop.people.factor import remove
from workshop.people.models import User, Workshop
from workshop.people.sessions import end_sessions
from workshop.people.team import owners
from workshop.safekeeping.scrubbing import both, emptied, parts_of, scrub, scrub_rows, swapped, swapping, texts_of
from workshop.stock.booking import hold_drawer
from workshop.stock.models import Movement, StockItem

CUSTOMER, PERSON = "customer", "person"
GONE = "(erased)"
#: What a history's line says in free words: gone whole, in the lines of what is erased.
FREE = ("note", "place_note", "found", "without", "why")


@dataclass(frozen=True)
class Erased:
    """What was erased: by which token it is called now, and whether a restore will know of it."""

    token: str
    listed: bool


@transaction.atomic
def erase_customer(actor: Actor, customer_id: int, token: str = "") -> Erased:
    """Erase a customer of the actor's workshop; raises DoesNotExist."""
    customer = hold_one(Customer.objects.filter(pk=customer_id, workshop_id=actor.workshop_id))
    jobs = list(Job.objects.filter(customer=customer).order_by("pk").values_list("pk", flat=True))
    hold_drawer(actor, jobs)
    name, token = customer.name, token or _token()
    shared = (
        Customer.objects.filter(workshop_id=actor.workshop_id, name__iexact=name).exclude(pk=customer.pk).exists()
    )
    of_them = _of_customer(customer, jobs)
    swap = both(parts_of(name), token)
    _forget_photographs(jobs)
    emptied(Finger.objects.filter(customer=customer), note=GONE)
    emptied(Job.objects.filter(pk__in=jobs), note=GONE, place_note=GONE, customer_name=token)
    emptied(Measure.objects.filter(job__in=jobs), note=GONE)
    emptied(Movement.objects.filter(job__in=jobs), note=GONE)
    emptied(Finding.objects.filter(job__in=jobs), note=GONE)
    emptied(StockItem.objects.filter(job__in=jobs), owner=token)
    Customer.objects.filter(pk=customer.pk).update(name=token, note=GONE if customer.note else "")
    for rows in (Job.objects.filter(pk__in=jobs), StockItem.objects.filter(job__in=jobs),
                 RingRecord.objects.filter(job__in=jobs), *_rows_of(jobs)):  # fmt: skip
        scrub_rows(rows, texts_of(rows.model), swap)
    for job in Job.objects.filter(pk__in=jobs):
        job.save(update_fields=["words"])
    _erase_lines(of_them, swap)
    if not shared:  # another customer of this name is meant elsewhere
        scrub(actor.workshop_id, [name], token)
    ShownPlan.objects.filter(workshop_id=actor.workshop_id).delete()
    record(actor, customer, "erased", after={"token": token})
    return Erased(token, _list(CUSTOMER, customer.pk, actor.workshop_id, token))


@transaction.atomic
def erase_person(actor: Actor, person_id: int, token: str = "") -> Erased:
    """Erase a colleague, who is let go with it; raises DoesNotExist, BadRequest for the last owner and oneself."""
    shop = hold_one(Workshop.objects.filter(pk=actor.workshop_id))
    user = hold_one(User.objects.filter(pk=person_id, workshop=shop))
    if user.pk == actor.user_id or not owners(shop).exclude(pk=user.pk).exists():
        raise BadRequest([CraftError("", "Somebody has to be the owner: another owner erases you.", "")])
    name, username, token = str(user), user.username, token or _token()
    end_sessions(user)
    remove(user, actor)
    CalendarAddress.objects.filter(user=user, withdrawn_at=None).update(withdrawn_at=timezone.now())
    _drop_hours(shop, username)
    values: dict[str, Any] = {"username": token, "first_name": "", "last_name": "", "email": "", "preferences": {}}
    User.objects.filter(pk=user.pk).update(**values, is_active=False, password=make_password(None))
    _erase_lines(
        Event.objects.filter(workshop=shop, kind="user", thing_id=user.pk), swapping([name, username], token)
    )
    _erase_lines(Event.objects.filter(workshop=shop, what="ways-set"), swapping([username], token))
    RingRecord.objects.filter(person=user).exclude(person_name="").update(person_name=token)
    scrub(shop.pk, [name] if name != username else [username], token)
    Sent.objects.filter(by=user).delete()
    ShownPlan.objects.filter(workshop=shop).delete()
    record(actor, user, "erased", after={"token": token})
    return Erased(token, _list(PERSON, user.pk, shop.pk, token))


def erase_again(path: Path) -> int:
    """Erase who stands on the list and is there by a name again, after a restore; how many those were."""
    done = 0
    for line in path.read_text(encoding="utf8").splitlines():
        said = json.loads(line)
        actor, token = Actor(int(said["workshop"])), str(said["token"])
        try:
            if said["kind"] == CUSTOMER and Customer.objects.filter(pk=said["id"]).exclude(name=token).exists():
                erase_customer(actor, int(said["id"]), token)
            elif said["kind"] == PERSON and User.objects.filter(pk=said["id"]).exclude(username=token).exists():
                erase_person(actor, int(said["id"]), token)
            else:
                continue
        except (Customer.DoesNotExist, User.DoesNotExist, Workshop.DoesNotExist):
            continue
        done += 1
    return done


def _token() -> str:
    return f"erased-{secrets.token_hex(3)}"


def _of_customer(customer: Customer, jobs: list[int]) -> QuerySet[Event]:
    """The lines of the history of a customer, their fingers, their jobs."""
    lines = Event.objects.filter(workshop_id=customer.workshop_id)
    fingers = list(customer.fingers.values_list("pk", flat=True))
    return (
        lines.filter(kind="customer", thing_id=customer.pk)
        | lines.filter(kind="finger", thing_id__in=fingers)
        | lines.filter(kind="job", thing_id__in=jobs)
    )


def _rows_of(jobs: list[int]) -> list[QuerySet[Any]]:
    """What hangs on jobs and may say a name in its own words."""
    related = [field.related_model for field in Job._meta.related_objects]
    models = {model for model in related if isinstance(model, type)} - {StockItem, RingRecord, Finding, JobPhoto}
    named = {field.related_model: field.field.name for field in Job._meta.related_objects}
    found = [model._default_manager.filter(**{f"{named[model]}__in": jobs}) for model in models]
    return [rows for rows in found if texts_of(rows.model)]


def _forget_photographs(jobs: list[int]) -> None:
    for kept in JobPhoto.objects.filter(job__in=jobs).select_related("photo"):
        photo = kept.photo
        kept.delete()
        photo.file.delete(save=False)
        photo.delete()


def _erase_lines(lines: QuerySet[Event], swap: Any) -> None:
    """Free words of these lines go whole, and names where they stand in others."""
    for line in lines.iterator(200):
        before, after = (_without_words(swapped(side, swap, free=False)) for side in (line.before, line.after))
        if (before, after) != (line.before, line.after):
            Event.objects.filter(pk=line.pk).update(before=before, after=after)


def _without_words(side: Any) -> Any:
    if not isinstance(side, dict):
        return side
    return {
        name: GONE if name in FREE and isinstance(value, str) and value else value for name, value in side.items()
    }


def _drop_hours(shop: Workshop, username: str) -> None:
    """Hours of somebody who does not sign in here any more."""
    hours = shop.preferences.get("work_days")
    if isinstance(hours, list):
        left = [row for row in hours if str(row.get("person", "")).lower() != username.lower()]
        if left != hours:
            shop.preferences = {**shop.preferences, "work_days": left}
            shop.preferences_version += 1
            shop.save(update_fields=["preferences", "preferences_version"])


def _list(kind: str, number: int, workshop: int, token: str) -> bool:
    """Write down, outside the database, who was erased: by number, never by name. Before anything is committed."""
    if not settings.ERASURES:
        return False
    said = {"kind": kind, "id": number, "workshop": workshop, "token": token, "at": timezone.now().isoformat()}
    with Path(settings.ERASURES).open("a", encoding="utf8") as file:
        file.write(json.dumps(said) + "\n")
        file.flush()
        os.fsync(file.fileno())
    return True
