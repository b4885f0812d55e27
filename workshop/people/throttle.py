"""Who tries too often: a name at an address (which axes counts), and an address that tries many names.

A person who has signed in from an address before is known there: a shop that shares an address with somebody who
tries names at it still comes in.
"""

from __future__ import annotations

from datetime import timedelta

from axes.models import AccessAttempt, AccessLog
from django.conf import settings
from django.utils import timezone

MOST_NAMES = 10  # that fail at one address before the others there wait; our own judgement
KNOWN_FOR = timedelta(days=90)


def tries_many_names(address: str, username: str) -> bool:
    """Whether so many names have failed at an address that one which is not known there waits too."""
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    failed = AccessAttempt.objects.filter(ip_address=address, attempt_time__gte=since)
    failed = failed.exclude(username__contains=" ").values("username").distinct()
    if failed.count() < MOST_NAMES:
        return False
    known = AccessLog.objects.filter(
        ip_address=address, username=username, attempt_time__gte=timezone.now() - KNOWN_FOR
    )
    return not known.exists()


def own_password_door(username: str) -> str:
    """Under which name wrong words for one's own password are counted: no name to sign in with has a blank."""
    return f"{username} own password"[:255]
