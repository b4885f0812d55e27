"""Who is asking: a person signed in by session cookie, with CSRF checked, in a workshop."""

from __future__ import annotations

from typing import cast

from django.http import HttpRequest
from ninja.security import SessionAuth

from workshop.jobs.actions import Doer
from workshop.people.models import User, Workshop


class SignedIn(SessionAuth):
    """Session authentication that also wants a workshop; unsafe methods need the CSRF token."""

    def authenticate(self, request: HttpRequest, key: str | None) -> User | None:
        """The person, or None."""
        user = request.user
        return user if isinstance(user, User) and user.workshop_id is not None else None


signed_in = SignedIn()


def doer(request: HttpRequest) -> Doer:
    """The person and the workshop behind an authenticated request."""
    user = cast(User, request.user)
    return Doer(cast(Workshop, user.workshop), user)
