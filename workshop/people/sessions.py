"""Where a person is signed in, seen and ended. A session that Django has no longer is none."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.contrib.sessions.models import Session
from django.db import transaction
from django.utils import timezone

from workshop.people.models import OpenSession, User

AT_ONCE = 500


@dataclass(frozen=True)
class SignedInAt:
    """One place where a person is signed in; ``here`` is the one that asks."""

    id: int
    agent: str
    address: str
    since: datetime
    seen_at: datetime
    here: bool


def seen(user: User, key: str, agent: str, address: str) -> None:
    """Note that a person's session is used, from where and with what."""
    said = {"user_id": user.pk, "agent": agent[:200], "address": address[:45], "seen_at": timezone.now()}
    OpenSession.objects.update_or_create(session_key=key, defaults=said)


def sessions_of(user: User, here: str) -> list[SignedInAt]:
    """Where a person is signed in, the newest first."""
    rows = list(OpenSession.objects.filter(user=user).order_by("-seen_at", "-pk")[:AT_ONCE])
    keys = [row.session_key for row in rows]
    there = Session.objects.filter(session_key__in=keys, expire_date__gt=timezone.now())
    alive = set(there.values_list("session_key", flat=True))
    return [
        SignedInAt(row.pk, device_words(row.agent), row.address, row.since, row.seen_at, row.session_key == here)
        for row in rows
        if row.session_key in alive
    ]


@transaction.atomic
def end_sessions(user: User, *, but: str = "", only: int | None = None) -> int:
    """Sign a person out: everywhere, everywhere ``but`` here, or at ``only`` one place; how many those were."""
    rows = OpenSession.objects.filter(user=user).exclude(session_key=but)
    if only is not None:
        rows = rows.filter(pk=only)
    keys = list(rows.values_list("session_key", flat=True))
    Session.objects.filter(session_key__in=keys).delete()
    return rows.delete()[0]


def forget_ended() -> int:
    """Drop the rows of sessions that are over; how many."""
    old = OpenSession.objects.filter(seen_at__lt=timezone.now() - timedelta(days=31))
    return old.delete()[0]


def device_words(agent: str) -> str:
    """A browser's name for itself in two words: with what, on what.

    >>> device_words("Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/156.0 Safari/537.36")
    'a browser on a computer'
    """
    lower = agent.lower()
    on = (
        "a telephone"
        if "mobile" in lower or "iphone" in lower
        else "a tablet"
        if "tablet" in lower or "ipad" in lower or "android" in lower
        else "a computer"
    )
    return f"a browser on {on}" if "mozilla" in lower else f"a program ({agent[:40] or 'it does not say which'})"
