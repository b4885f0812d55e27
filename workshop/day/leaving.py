"""Somebody goes home before closing: what they held is given back, and the plan leaves them out until tomorrow."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone

from ringcraft.errors import BadRequest, UnknownNameError
from workshop.core.history import Actor, record
from workshop.core.holding import hold
from workshop.day.models import GoneHome, Took
from workshop.people.models import User, Workshop, bench_people
from workshop.people.preferences import day_of, shop_preferences

Span = tuple[datetime, datetime]


def gone_home(workshop_id: int, now: datetime) -> dict[int, Span]:
    """Who is gone: by person, from when and until when."""
    rows = GoneHome.objects.filter(workshop_id=workshop_id, at__lte=now, until__gt=now)
    return {row.user_id: (row.at, row.until) for row in rows}


def is_somebody_back(workshop_id: int, since: datetime, now: datetime, where: ZoneInfo) -> bool:
    """Whether somebody came back before the day that they left was over, since a plan was made without them."""
    ended = GoneHome.objects.filter(workshop_id=workshop_id, until__gt=since, until__lte=now)
    return any(until.astimezone(where).time() != time() for until in ended.values_list("until", flat=True))


def without(hours: list[Span], gone: Span | None) -> list[Span]:
    """Working hours without those of somebody who is gone."""
    if gone is None:
        return hours
    left = [(begins, min(ends, gone[0])) for begins, ends in hours] + [(max(a, gone[1]), b) for a, b in hours]
    return sorted({(begins, ends) for begins, ends in left if ends > begins})


@transaction.atomic
def go_home(actor: Actor, person_id: int, zone: str = "", said_at: datetime | None = None) -> None:
    """Somebody is gone until the day ends in the shop's time zone. Raises BadRequest for who is not of the workshop.

    The person's row is held while that is written: of two who say it at once, the first one's time stands. What was
    said on a day that is over and came late (``said_at``) sends nobody home today.
    """
    person, now, shop = _held(actor, person_id), timezone.now(), Workshop.objects.get(pk=actor.workshop_id)
    if person.pk in gone_home(shop.pk, now):
        return
    where = ZoneInfo(day_of(shop_preferences(shop), zone).zone)
    today = now.astimezone(where).date()
    if said_at is not None and said_at < datetime.combine(today, time(), where):
        return
    tomorrow = today + timedelta(days=1)
    until = datetime.combine(tomorrow, time(), where)
    GoneHome.objects.update_or_create(user=person, defaults={"workshop": shop, "at": now, "until": until})
    Took.objects.filter(by=person, workshop=shop, given_back_at=None).update(given_back_at=now)
    record(actor, person, "went-home", after={"person": str(person)})


@transaction.atomic
def come_back(actor: Actor, person_id: int) -> None:
    """Somebody is back at the bench. Raises BadRequest for who is not of the workshop."""
    person, now = _held(actor, person_id), timezone.now()
    if GoneHome.objects.filter(user=person, until__gt=now).update(until=now):
        record(actor, person, "came-back", after={"person": str(person)})


def is_here(user_id: int) -> None:
    """Who takes a step or ticks it now has not gone home, whatever was said."""
    now = timezone.now()
    GoneHome.objects.filter(user_id=user_id, until__gt=now).update(until=now)


def _held(actor: Actor, person_id: int) -> User:
    person = hold(bench_people(actor.workshop_id).filter(pk=person_id)).first()
    if person is None:
        raise BadRequest([UnknownNameError("person_id", "That person does not work here.", "")])
    return person
