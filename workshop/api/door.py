"""The door of the API: what cannot be read is refused there, and every problem gets its one shape."""

from __future__ import annotations

import contextlib
import json
import logging
import re
import sys
from collections.abc import Callable
from pathlib import Path
from time import monotonic, time
from typing import Any, cast

from django.conf import settings
from django.contrib.sessions.exceptions import SessionInterrupted
from django.contrib.sessions.middleware import SessionMiddleware
from django.core.exceptions import RequestDataTooBig
from django.core.signals import got_request_exception
from django.db.utils import DatabaseError, InterfaceError, OperationalError
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.request import UnreadablePostError
from ninja.parser import Parser

from ringcraft.errors import CraftError
from workshop.api.problems import OTHER_SIGHT, is_problem, problem_answer, problem_body
from workshop.core.once import OtherSight, fingerprint, once
from workshop.core.text import is_ugly, ugly_fields
from workshop.front import address_of, person_id
from workshop.people.models import User
from workshop.people.roles import sight
from workshop.people.sessions import seen

log = logging.getLogger(__name__)
CHANGES = ("POST", "PUT", "PATCH", "DELETE")
MOST_ERRORS = 20
SECRET = ("/api/session", "/api/account", "/api/people")
HELD, HELD_FOR_S = "A new version is being brought in: nothing is written just now.", 30
MOST_DRAINED = 16_000_000
DEADLOCK, WAITED = 1213, 1205
NO_ROOM = (1021, 1114)  # the disk, a table
NO_SPACE = re.compile(r"\b(?:error|errno|errcode):? \(?28\b|no space left", re.IGNORECASE)
MOST_TRIES, LONGEST_S = 3, 6.0
SEEN, SEEN_EACH_S = "seen", 900
LEAST_WAIT_S = 0.5  # of one try: less was no waiting
Next = Callable[[HttpRequest], HttpResponse]


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
                with contextlib.suppress(DatabaseError):  # what cannot be noted just now is no reason not to answer
                    seen(user, session.session_key, agent if not is_ugly(agent) else "", client_address(request))
                    session[SEEN] = [session.session_key, now]
        return response


class Once:
    """Carries out what has an idempotency key once, and answers it again when it comes again."""

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request; one with a key of a signed-in person is remembered."""
        key = request.headers.get("Idempotency-Key", "")
        user = request.user
        secret = request.path.startswith(SECRET)  # its answers are shown once, and kept nowhere
        if not key or request.method not in CHANGES or not isinstance(user, User) or secret:
            return self.get_response(request)
        kept: list[HttpResponse] = []

        def do() -> tuple[int, bytes]:
            kept.append(self.get_response(request))
            return kept[0].status_code, kept[0].content

        try:
            print_ = fingerprint(str(request.method), request.get_full_path(), request.body)
            status, content, repeated = once(user.pk, key, print_, sight(user), do)
        except OtherSight:
            said = "It was carried out; since then your part in this workshop has changed."
            return problem_answer(403, said, "The page is read anew.", kind=OTHER_SIGHT)
        except CraftError as problem:
            return problem_answer(422, problem.message, problem.hint, problem.field)
        if not repeated:
            return kept[0]
        answer = HttpResponse(content, content_type="application/json; charset=utf-8", status=status)
        answer["Idempotency-Replayed"] = "true"
        return answer


class DatabaseAway:
    """Answers 503 with the one problem shape where the database cannot be reached, or others hold what is wanted.

    Two who wait for each other (1213), and one who has waited for too long (1205), are tried again as a whole before
    anybody is told: at most three times, and no longer than a page waits for its answer.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or say that the record book is away; what went wrong inside another middleware counts too."""
        begun, tries = monotonic(), 0
        while True:
            at, tries = monotonic(), tries + 1
            response = self.get_response(request)
            problem: Exception | None = getattr(request, "database_problem", None)
            if problem is None or response.status_code not in (500, 503):
                return response
            took = monotonic() - at
            over = tries == MOST_TRIES or monotonic() - begun + took > LONGEST_S
            if over or not _may_come_again(problem, took):
                return _said(problem)
            log.warning("tried again: %s", problem)
            cast(Any, request).database_problem = None

    def process_exception(self, request: HttpRequest, problem: Exception) -> HttpResponse | None:
        """The same for what a view raises."""
        if _is_databases(problem):
            cast(Any, request).database_problem = problem
            return problem_answer(503)
        return None


def _is_databases(problem: object) -> bool:
    """Whether it is the database that cannot, and not what it was asked for."""
    return isinstance(problem, (OperationalError, InterfaceError)) or (
        isinstance(problem, DatabaseError) and _is_full(problem)
    )


def _is_full(problem: Exception) -> bool:
    """Whether the database says that its disk, or the room that it was given, is full."""
    return _code(problem) in NO_ROOM or NO_SPACE.search(str(problem)) is not None


def _code(problem: Exception) -> object:
    return problem.args[0] if problem.args else None


def _may_come_again(problem: Exception, took_s: float) -> bool:
    """Whether all of it may be tried again: where two waited for each other, and where one has really waited.

    MariaDB gives the same number to a lock that was asked for without waiting: that is told at once.
    """
    return _code(problem) == DEADLOCK or (_code(problem) == WAITED and took_s >= LEAST_WAIT_S)


@receiver(got_request_exception)
def _seen(request: HttpRequest | None = None, **_: object) -> None:
    """Django turns what a middleware raises into a 500 at once: remember where it was the database."""
    problem = sys.exc_info()[1]
    if request is not None and _is_databases(problem):
        cast(Any, request).database_problem = problem


def _said(problem: Exception) -> HttpResponse:
    """What went wrong, as far as anybody can do something about it."""
    if _is_full(problem):
        log.error("no room: %s", problem)
        message = "The disk that the records are on is full: nothing of this was kept."
        hint = "Whoever keeps the machine makes room there. What you typed is kept on this device; it is tried again."
        answer = problem_answer(503, message, hint, kind="full")
        answer["Retry-After"] = "10"
        return answer
    return _busy(problem) if _code(problem) in (DEADLOCK, WAITED) else _away(problem)


def _busy(problem: Exception) -> HttpResponse:
    log.error("others hold what is wanted: %s", problem)
    message = "Others are writing to the same thing just now: nothing of this was kept."
    answer = problem_answer(503, message, "What you typed is kept on this device; it is tried again.", kind="busy")
    answer["Retry-After"] = "2"
    return answer


def _away(problem: Exception) -> HttpResponse:
    log.error("database away: %s", problem)
    answer = problem_answer(503)
    answer["Retry-After"] = "2"
    return answer


def client_address(request: HttpRequest) -> str:
    """The address of who asks, behind the proxies that the settings name."""
    remote, forwarded = str(request.META.get("REMOTE_ADDR", "")), request.META.get("HTTP_X_FORWARDED_FOR", "")
    return address_of(remote, forwarded, settings.PROXY_ADDRESSES)


def locked_out(request: HttpRequest, *_: object) -> HttpResponse:
    """The answer after too many wrong passwords."""
    return problem_answer(429)
