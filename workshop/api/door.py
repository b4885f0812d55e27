"""The door of the API: what cannot be read is refused there, and every problem gets its one shape."""

from __future__ import annotations

import contextlib
import json
from pathlib import Path
from time import time
from typing import Any, cast

from django.conf import settings
from django.contrib.sessions.exceptions import SessionInterrupted
from django.contrib.sessions.middleware import SessionMiddleware
from django.core.exceptions import RequestDataTooBig
from django.db import transaction
from django.db.utils import DatabaseError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.request import UnreadablePostError
from ninja.parser import Parser

from workshop.api.again import CHANGES, Next
from workshop.api.problems import is_problem, problem_answer, problem_body
from workshop.core.text import is_ugly, ugly_fields
from workshop.front import address_of, person_id
from workshop.people.models import User
from workshop.people.sessions import seen

MOST_ERRORS = 20
HELD, HELD_FOR_S = "A new version is being brought in: nothing is written just now.", 30
MOST_DRAINED = 16_000_000
SEEN, SEEN_EACH_S = "seen", 900


class Door:
    """Reads the body once, refuses what nobody can read, and gives every problem of the API its one shape."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request of the API; others pass."""
        if not request.path.startswith("/api/"):
            return self.get_response(request)
        response = self._held(request) or self._refused(request) or self.get_response(request)
        if response.status_code >= 400 and not is_problem(response):
            allow = response.get("Allow")
            response = problem_answer(response.status_code)
            if allow:
                response["Allow"] = allow
        response["Cache-Control"] = "no-store"
        return response

    def _held(self, request: HttpRequest) -> HttpResponse | None:
        """The answer to what would change something while a new version is brought in."""
        if request.method not in CHANGES or not _writes_stopped():
            return None
        with contextlib.suppress(UnreadablePostError, RequestDataTooBig):
            _ = request.body
        hint = "What you typed is kept on this device; it is sent in a minute."
        answer = problem_answer(503, HELD, hint, kind="held")
        answer["Retry-After"] = "5"
        return answer

    def _refused(self, request: HttpRequest) -> HttpResponse | None:
        if is_ugly(request.path):
            return problem_answer(404)
        wrong = [error for name, value in request.GET.items() for error in ugly_fields({name: value})]
        if request.method in CHANGES and not wrong:
            try:
                body = request.body
            except RequestDataTooBig:
                _drain(request)
                return problem_answer(413)
            except UnreadablePostError:
                return problem_answer(400)
            if body:
                try:
                    data = json.loads(body)
                except (ValueError, RecursionError):
                    return problem_answer(400, "The request is not JSON.", "Write one JSON object.")
                cast(Any, request).read_json = data
                wrong = list(ugly_fields(data))
        if wrong:
            return JsonResponse(problem_body(422, wrong[:MOST_ERRORS]), status=422)
        return None


def _writes_stopped() -> bool:
    """Whether what changes anything is refused: somebody keeps it stopped, or another database is in use by now.

    After the switch of an upgrade this process serves the records of before until it is started anew: what it wrote
    to them would be lost.
    """
    with contextlib.suppress(OSError):
        if settings.HOLD and abs(time() - Path(settings.HOLD).stat().st_mtime) < HELD_FOR_S:
            return True
    with contextlib.suppress(OSError):
        in_use = Path(settings.IN_USE).read_text(encoding="utf8").strip() if settings.IN_USE else ""
        return in_use not in ("", settings.DATABASES["default"]["NAME"])
    return False


def _drain(request: HttpRequest) -> None:
    """Read what is too large to its end, and forget it: a proxy that still sends gets no answer otherwise."""
    left = MOST_DRAINED
    with contextlib.suppress(UnreadablePostError):
        while left > 0 and (piece := request.read(1 << 16)):
            left -= len(piece)


class ReadJson(Parser):
    """Hands ninja the body that the door has read."""

    def parse_body(self, request: HttpRequest) -> dict[str, Any]:
        """The body as read at the door."""
        data = getattr(request, "read_json", None)
        return cast("dict[str, Any]", json.loads(request.body) if data is None else data)


class Sessions(SessionMiddleware):
    """Django’s own; a session that was ended while a request of it was under way is signed out, not a bad request."""

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        """Keep the session, or say that it was ended meanwhile."""
        try:
            return super().process_response(request, response)
        except SessionInterrupted:
            return problem_answer(401, "You were signed out meanwhile.", "Sign in; nothing is lost.")


class Seen:
    """Notes where a person's session is used, now and then: so that they see where they are signed in."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request; who is signed in after it was seen."""
        if request.path.startswith("/api/") and isinstance(request.user, User):
            person_id.set(str(request.user.pk))
        response = self.get_response(request)
        user, session = request.user, request.session
        if request.path.startswith("/api/") and isinstance(user, User) and session.session_key:
            now, known = int(time()), session.get(SEEN)
            if not (
                isinstance(known, list) and known[0] == session.session_key and abs(now - known[1]) < SEEN_EACH_S
            ):
                agent = request.headers.get("User-Agent", "")
                try:
                    seen(user, session.session_key, agent if not is_ugly(agent) else "", client_address(request))
                    session[SEEN] = [session.session_key, now]
                except DatabaseError:  # what cannot be noted just now is no reason not to answer
                    if transaction.get_connection().in_atomic_block:
                        raise  # but of a sign-in, which is kept as a whole
        return response


def client_address(request: HttpRequest) -> str:
    """The address of who asks, behind the proxies that the settings name."""
    remote, forwarded = str(request.META.get("REMOTE_ADDR", "")), request.META.get("HTTP_X_FORWARDED_FOR", "")
    return address_of(remote, forwarded, settings.PROXY_ADDRESSES)


def locked_out(request: HttpRequest, *_: object) -> HttpResponse:
    """The answer after too many wrong passwords."""
    return problem_answer(429)
