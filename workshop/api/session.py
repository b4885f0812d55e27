"""Signing in and out, entering by a link that works once, one's own password."""

from __future__ import annotations

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.responses import Status
from ninja.utils import check_csrf
from pydantic import Field

from ringcraft.errors import BadRequest, UnreadableError
from workshop.api.door import client_address
from workshop.api.problems import Problem, say
from workshop.api.signed_in import person
from workshop.people.accounts import change_password as change_own
from workshop.people.accounts import enter_by_link
from workshop.people.models import User
from workshop.people.preferences import Preferences, preferences_of
from workshop.people.throttle import own_password_door, tries_many_names

router = Router()
BACKEND = "django.contrib.auth.backends.ModelBackend"
FAILS = {401: Problem, 403: Problem, 422: Problem, 429: Problem}


class SignIn(Schema):
    """Name and password."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=400)


class Welcome(Schema):
    """What stands behind the # of a link that works once, and the password to set."""

    link: str = Field(max_length=200)
    password: str = Field(max_length=400)


class NewPassword(Schema):
    """One's password as it is and as it shall be."""

    now: str = Field(max_length=400)
    new: str = Field(max_length=400)


class DemoHint(Schema):
    """How to sign in to the demo."""

    username: str
    password: str


class Session(Schema):
    """Who is signed in, if anyone; ``demo`` only in demo mode."""

    signed_in: bool
    name: str = ""
    username: str = ""
    person_id: int = 0
    workshop: str = ""
    workshop_id: int = 0
    ways: Preferences = Preferences()
    demo: DemoHint | None = None


def _session(request: HttpRequest) -> Session:
    get_token(request)  # sets the CSRF cookie
    user = request.user
    if isinstance(user, User) and user.workshop is not None:
        return Session(
            signed_in=True,
            name=str(user),
            username=user.username,
            person_id=user.pk,
            workshop=user.workshop.name,
            workshop_id=user.workshop.pk,
            ways=preferences_of(user, user.workshop),
        )
    name, _, password = settings.DEMO_SIGN_IN.partition(":")
    return Session(signed_in=False, demo=DemoHint(username=name, password=password) if password else None)


@router.get("", auth=None, response=Session, operation_id="session")
def session(request: HttpRequest) -> Session:
    """Who is signed in; sets the CSRF cookie."""
    return _session(request)


@router.post("", auth=None, response={200: Session, **FAILS}, operation_id="sign_in")
def sign_in(request: HttpRequest, body: SignIn) -> HttpResponse | Status[object] | Session:
    """Sign in; too many failures pause for ten minutes."""
    if check_csrf(request) is not None:
        return Status(403, say(403))
    if tries_many_names(client_address(request), body.username):
        return Status(429, say(429))
    user = authenticate(request, username=body.username, password=body.password)
    if isinstance(user, User) and user.workshop_id is not None:
        login(request, user)
        return _session(request)
    if AxesProxyHandler.is_locked(request, {"username": body.username}):
        return Status(429, say(429))
    return Status(401, say(401, "That name and password do not go together.", "Capital letters count.", "password"))


@router.post("/welcome", auth=None, response={200: Session, **FAILS}, operation_id="welcome")
def welcome(request: HttpRequest, body: Welcome) -> Status[object] | Session:
    """Set a password by a link that works once, and sign in."""
    if check_csrf(request) is not None:
        return Status(403, say(403))
    user = enter_by_link(body.link, body.password)
    login(request, user, backend=BACKEND)
    return _session(request)


@router.put("/password", response={200: Session, **FAILS}, operation_id="set_password")
def change_password(request: HttpRequest, body: NewPassword) -> Status[object] | Session:
    """Change one's own password; the other devices are signed out by it. Wrong words here lock nobody's sign-in."""
    user = person(request)
    door = {"username": own_password_door(user.username)}
    if not AxesProxyHandler.is_allowed(request, door):
        return Status(429, say(429))
    changed = change_own(user, body.now, body.new)
    if changed is None:
        AxesProxyHandler.user_login_failed(AxesProxyHandler, door, request)
        raise BadRequest([UnreadableError("now", "That is not your password.", "Capital letters count.")])
    AxesProxyHandler.reset_attempts(username=door["username"])
    update_session_auth_hash(request, changed)
    return _session(request)


@router.delete("", response=Session, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
