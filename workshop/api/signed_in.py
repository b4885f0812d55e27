"""Who is asking: a person signed in by session cookie, with CSRF checked, in a workshop."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import cast

from django.http import HttpRequest
from django.utils import timezone
from ninja.errors import HttpError
from ninja.security import SessionAuth

from ringcraft.units import UNITS
from workshop.api.problems import SOMEBODY_ELSE
from workshop.core.history import Actor
from workshop.people.models import User, Workshop
from workshop.people.roles import Act, need

LONGEST_AGO = timedelta(days=60)


class SignedIn(SessionAuth):
    """Session authentication that also wants a workshop; unsafe methods need the CSRF token.

    A screen says in ``Bench-Person`` and ``Bench-Workshop`` whose it believes it is. Where somebody else has
    signed in meanwhile in another tab, nothing is done and the answer says so. ``act`` is what the person must be
    allowed to do here.
    """

    def __init__(self, act: Act | None = None) -> None:
        super().__init__()
        self.act = act

    def authenticate(self, request: HttpRequest, key: str | None) -> User | None:
        """The person, or None; raises HttpError where the screen is another person's."""
        user = request.user
        if not isinstance(user, User) or user.workshop_id is None:
            return None
        for header, mine in (("Bench-Person", user.pk), ("Bench-Workshop", user.workshop_id)):
            believed = request.headers.get(header)
            if believed is not None and believed != str(mine):
                raise HttpError(403, SOMEBODY_ELSE)
        if self.act is not None:
            need(user, self.act)
        return user


signed_in = SignedIn()


def who_may(act: Act) -> SignedIn:
    """The authentication of an endpoint that not every role may use."""
    return SignedIn(act)


def person(request: HttpRequest) -> User:
    """The person behind an authenticated request."""
    return cast(User, request.user)


def shop(request: HttpRequest) -> Workshop:
    """The workshop behind an authenticated request."""
    return cast(Workshop, person(request).workshop)


def actor(request: HttpRequest) -> Actor:
    """Who does it, for the actions."""
    user = person(request)
    return Actor(cast(int, user.workshop_id), user.pk)


def typed_in(said: object, now: str) -> str:
    """The unit of the bare figures of a request: what the screen says it was typed in, else the one in force now.

    What waited on a device arrives when other ways may hold.
    """
    return said if isinstance(said, str) and said in UNITS else now


def done_at(request: HttpRequest) -> datetime | None:
    """When it was really done: so many seconds ago by the device's own clock, which may be wrong but runs evenly.

    None where the request does not say, as when it is sent at once.
    """
    said = request.headers.get("Bench-Seconds-Ago", "")
    if not said.isdecimal() or len(said) > 9:
        return None
    return timezone.now() - min(timedelta(seconds=int(said)), LONGEST_AGO)
