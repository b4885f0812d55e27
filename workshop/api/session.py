"""Signing in and out."""

from __future__ import annotations

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.responses import Status
from ninja.utils import check_csrf
from pydantic import Field

from workshop.api.problems import Problem, say
from workshop.people.models import User
from workshop.people.ways import Ways, ways_of

router = Router()


class SignIn(Schema):
    """Name and password."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=400)


class DemoHint(Schema):
    """How to sign in to the demo."""

    username: str
    password: str


class Session(Schema):
    """Who is signed in, if anyone; ``demo`` only in demo mode."""

    signed_in: bool
    name: str = ""
    workshop: str = ""
    ways: Ways = Ways()
    demo: DemoHint | None = None


def _session(request: HttpRequest) -> Session:
    get_token(request)  # sets the CSRF cookie
    user = request.user
    if isinstance(user, User) and user.workshop is not None:
        return Session(signed_in=True, name=str(user), workshop=user.workshop.name, ways=ways_of(user, user.workshop))
    name, _, password = settings.DEMO_SIGN_IN.partition(":")
    return Session(signed_in=False, demo=DemoHint(username=name, password=password) if password else None)


@router.get("", auth=None, response=Session, operation_id="session")
def session(request: HttpRequest) -> Session:
    """Who is signed in; sets the CSRF cookie."""
    return _session(request)


@router.post(
    "",
    auth=None,
    response={200: Session, 401: Problem, 403: Problem, 422: Problem, 429: Problem},
    operation_id="sign_in",
)
def sign_in(request: HttpRequest, body: SignIn) -> HttpResponse | Status[object] | Session:
    """Sign in; too many failures pause for ten minutes."""
    refused = check_csrf(request)
    if refused is not None:
        return Status(403, say("This page is out of date.", "Load it again."))
    user = authenticate(request, username=body.username, password=body.password)
    if isinstance(user, User) and user.workshop_id is not None:
        login(request, user)
        return _session(request)
    if AxesProxyHandler.is_locked(request, {"username": body.username}):
        return Status(429, say("Too many tries.", "Wait ten minutes, then try again."))
    return Status(401, say("That name and password do not go together.", "Capital letters count.", "password"))


@router.delete("", response=Session, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
