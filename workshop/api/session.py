"""Signing in and out, with a second factor where there is one; entering by a link that works once; one's password."""

from __future__ import annotations

from time import time

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.utils.crypto import constant_time_compare
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.responses import Status
from ninja.utils import check_csrf
from pydantic import Field

from ringcraft.errors import BadRequest, UnreadableError
from workshop.api.door import client_address
from workshop.api.problems import Problem, say
from workshop.api.signed_in import person
from workshop.people.accounts import change_password as change_own
from workshop.people.accounts import enter_by_link, shop_by_link
from workshop.people.factor import has_factor, passes
from workshop.people.models import User
from workshop.people.preferences import Preferences, ways_seen
from workshop.people.roles import Act, may
from workshop.people.sessions import end_sessions
from workshop.people.throttle import counted_name, own_door, remember_device, waits
from workshop.safekeeping.status import epoch

router = Router()
BACKEND = "django.contrib.auth.backends.ModelBackend"
HALF, HALF_S = "half-in", 300  # a right password waits so long for its code [s]
FAILS = {401: Problem, 403: Problem, 422: Problem, 429: Problem}


class SignIn(Schema):
    """Name and password."""

    username: str = Field(max_length=150)
    password: str = Field(max_length=400)


class Code(Schema):
    """A code of the app, or a recovery code."""

    code: str = Field(max_length=40)


class Welcome(Schema):
    """What stands behind the # of a link that works once, and the password to set."""

    link: str = Field(max_length=200)
    password: str = Field(max_length=400)


class NewShop(Schema):
    """The link of the installation, the workshop's name, and its owner."""

    link: str = Field(max_length=200)
    shop: str = Field(max_length=200)
    name: str = Field(default="", max_length=200)
    username: str = Field(max_length=150)
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
    """Who is signed in, if anyone, and what they may do; ``wants_code`` after a password that has to be followed by a
    code; ``epoch`` is another after every restore of the records; ``demo`` only in demo mode.
    """

    signed_in: bool
    wants_code: bool = False
    role: str = ""
    may: list[Act] = []
    name: str = ""
    username: str = ""
    person_id: int = 0
    workshop: str = ""
    workshop_id: int = 0
    ways: Preferences = Preferences()
    epoch: int = 0
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
            ways=ways_seen(user, user.workshop),
            epoch=epoch(user.workshop),
            role=user.role,
            may=sorted(may(user)),
        )
    name, _, password = settings.DEMO_SIGN_IN.partition(":")
    hint = DemoHint(username=name, password=password) if password else None
    return Session(signed_in=False, wants_code=_half_in(request) is not None, demo=hint)


def _let_in(request: HttpRequest, response: HttpResponse, user: User) -> Session:
    """Sign a person in whose password was right; with a second factor a code has to follow first."""
    if has_factor(user):
        request.session.cycle_key()
        request.session[HALF] = {"user": user.pk, "hash": user.get_session_auth_hash(), "at": int(time())}
        return _session(request)
    return _entered(request, response, user)


def _entered(request: HttpRequest, response: HttpResponse, user: User) -> Session:
    request.session.pop(HALF, None)
    login(request, user, backend=BACKEND)
    remember_device(request, response, user)
    return _session(request)


def _half_in(request: HttpRequest) -> User | None:
    """Whose password was right here a moment ago, and whose code is waited for."""
    half = request.session.get(HALF)
    if not isinstance(half, dict) or abs(int(time()) - half["at"]) > HALF_S:
        return None
    user = User.objects.filter(pk=half["user"], is_active=True, workshop__isnull=False).first()
    same = user is not None and constant_time_compare(half["hash"], user.get_session_auth_hash())
    return user if same else None


@router.get("", auth=None, response=Session, operation_id="session")
def session(request: HttpRequest) -> Session:
    """Who is signed in; sets the CSRF cookie."""
    return _session(request)


@router.post("", auth=None, response={200: Session, **FAILS}, operation_id="sign_in")
def sign_in(request: HttpRequest, response: HttpResponse, body: SignIn) -> HttpResponse | Status[object] | Session:
    """Sign in; too many failures pause for ten minutes. With a second factor nobody is signed in by this alone."""
    if check_csrf(request) is not None:
        return Status(403, say(403))
    request.session.pop(HALF, None)
    if waits(request, client_address(request), body.username):
        return Status(429, say(429))
    user = authenticate(request, username=body.username, password=body.password)
    if isinstance(user, User) and user.workshop_id is not None:
        door = counted_name(request, {"username": body.username})
        if door != body.username:  # a known device's own count; a name's tries elsewhere stay counted
            AxesProxyHandler.reset_attempts(username=door)
        return _let_in(request, response, user)
    if AxesProxyHandler.is_locked(request, {"username": body.username}):
        return Status(429, say(429))
    return Status(401, say(401, "That name and password do not go together.", "Capital letters count.", "password"))


@router.post("/code", auth=None, response={200: Session, **FAILS}, operation_id="give_code")
def give_code(request: HttpRequest, response: HttpResponse, body: Code) -> Status[object] | Session:
    """The code that follows a right password; wrong ones are counted."""
    if check_csrf(request) is not None:
        return Status(403, say(403))
    user = _half_in(request)
    if user is None:
        return Status(401, say(401, "That took too long.", "Sign in again with your password.", "code"))
    door = {"username": own_door(user.username, "code")}
    if not AxesProxyHandler.is_allowed(request, door):
        return Status(429, say(429))
    if not passes(user, body.code):
        AxesProxyHandler.user_login_failed(AxesProxyHandler, door, request)
        hint = "Six figures of the app, each good once; or a recovery code. After a wrong one wait a little."
        raise BadRequest([UnreadableError("code", "That code is not good.", hint)])
    AxesProxyHandler.reset_attempts(username=door["username"])
    return _entered(request, response, user)


@router.post("/welcome", auth=None, response={200: Session, **FAILS}, operation_id="welcome")
def welcome(request: HttpRequest, response: HttpResponse, body: Welcome) -> Status[object] | Session:
    """Set a password by a link that works once, and sign in."""
    if check_csrf(request) is not None:
        return Status(403, say(403))
    user = enter_by_link(body.link, body.password)
    end_sessions(user)
    return _let_in(request, response, user)


@router.post("/shop", auth=None, response={200: Session, **FAILS}, operation_id="new_shop")
def new_shop(request: HttpRequest, response: HttpResponse, body: NewShop) -> Status[object] | Session:
    """A workshop and its owner by the link of the installation, once; the owner is signed in."""
    if check_csrf(request) is not None:
        return Status(403, say(403))
    return _let_in(request, response, shop_by_link(body.link, body.shop, body.username, body.name, body.password))


def own_password(request: HttpRequest, field: str, said: str) -> None:
    """Make sure that who is signed in knows their password; raises BadRequest, or HttpError after too many tries."""
    user = person(request)
    door = {"username": own_door(user.username, "own password")}
    if not AxesProxyHandler.is_allowed(request, door):
        raise HttpError(429, "too many")
    if not user.check_password(said):
        AxesProxyHandler.user_login_failed(AxesProxyHandler, door, request)
        raise BadRequest([UnreadableError(field, "That is not your password.", "Capital letters count.")])
    AxesProxyHandler.reset_attempts(username=door["username"])


@router.put("/password", response={200: Session, **FAILS}, operation_id="set_password")
def change_password(request: HttpRequest, body: NewPassword) -> Session:
    """Change one's own password; the other devices are signed out by it. Wrong words here lock nobody's sign-in."""
    own_password(request, "now", body.now)
    changed = change_own(person(request), body.now, body.new)
    if changed is None:  # it was changed elsewhere in this moment
        raise BadRequest([UnreadableError("now", "That is not your password.", "Capital letters count.")])
    here = request.session.session_key or ""
    update_session_auth_hash(request, changed)
    end_sessions(changed, but=here)
    return _session(request)


@router.delete("", response=Session, operation_id="sign_out")
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)
