"""Who tries too often: a name at an address (which axes counts), an address that tries many names, a name everywhere.

A device on which a person has signed in before is known by its signed cookie: its tries are counted by themselves, so
a shop that shares an address with somebody who tries names at it still comes in.
"""

from __future__ import annotations

import re
import secrets
from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from axes.models import AccessFailureLog
from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from workshop.people.models import User

MOST_NAMES = 30  # that fail at one address in ten minutes before the others there wait; our own judgement
MOST_OF_A_NAME, HOUR = 50, timedelta(hours=1)
COOKIE, SALT = "known_device", "workshop.people.throttle.device"
KNOWN_S = 180 * 86_400
MOST_KNOWN = 12  # people of one device
_COOKIE = re.compile(r"[0-9a-f]{16}(:[0-9]{1,12}){1,12}")


def waits(request: HttpRequest, address: str, username: str) -> bool:
    """Whether so much has failed at this address, or of this name, that who is not known here waits too."""
    if known_device(request, username):
        return False
    now = timezone.now()
    failed = AccessFailureLog.objects.order_by().exclude(username__contains=" ")
    here = failed.filter(ip_address=address, attempt_time__gte=now - settings.AXES_COOLOFF_TIME)
    if here.values("username").distinct().count() >= MOST_NAMES:
        return True
    return bool(failed.filter(username=username, attempt_time__gte=now - HOUR).count() >= MOST_OF_A_NAME)


def known_device(request: HttpRequest, username: str) -> str:
    """The device that this comes from, where the person of this name has signed in on it before; else nothing."""
    device, people = _device(request)
    if not people or not username or " " in username:
        return ""
    found = User.objects.filter(username=username[:150]).values_list("pk", flat=True).first()
    return device if found in people else ""


def remember_device(request: HttpRequest, response: HttpResponse, user: User) -> None:
    """Let the browser carry a signed cookie that says who has signed in on it."""
    device, people = _device(request)
    people = [user.pk, *(one for one in people if one != user.pk)][:MOST_KNOWN]
    text = ":".join([device or secrets.token_hex(8), *map(str, people)])
    response.set_cookie(
        COOKIE,
        signing.TimestampSigner(salt=SALT).sign(text),
        max_age=KNOWN_S,
        secure=settings.SESSION_COOKIE_SECURE,
        httponly=True,
        samesite="Lax",
    )


def _device(request: HttpRequest) -> tuple[str, list[int]]:
    try:
        said = signing.TimestampSigner(salt=SALT).unsign(request.COOKIES.get(COOKIE, "")[:400], max_age=KNOWN_S)
    except signing.BadSignature:
        return "", []
    if not _COOKIE.fullmatch(said):
        return "", []
    device, *people = said.split(":")
    return device, [int(one) for one in people]


def counted_name(request: HttpRequest, credentials: Mapping[str, Any] | None = None) -> str:
    """Under which name axes counts a try: a known device has a count of its own.

    No name to sign in with has a blank, so none of these is one.
    """
    name = str((credentials or {}).get("username") or "")[:200]
    device = known_device(request, name)
    return f"{name} on {device}" if device else name


def own_door(username: str, what: str) -> str:
    """Under which name wrong words for one's own password, or wrong codes, are counted."""
    return f"{username} {what}"[:255]
