"""What is tried again where the database could not: a keyed change, and a sign-in, as a whole; a reading once."""

from __future__ import annotations

import logging
import sys
from collections.abc import Callable
from typing import Any, cast

from django.core.signals import got_request_exception
from django.db import transaction
from django.db.utils import DatabaseError, InterfaceError
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse

from ringcraft.errors import CraftError
from workshop.api.problems import OTHER_SIGHT, problem_answer
from workshop.core.once import OtherSight, fingerprint, once
from workshop.core.tries import NOT_READY, REFUSED, Tries, code_of, is_databases, is_full, whys_of
from workshop.people.models import User
from workshop.people.roles import sight

log = logging.getLogger(__name__)
CHANGES = ("POST", "PUT", "PATCH", "DELETE")
SECRET = ("/api/session", "/api/account", "/api/people")
Next = Callable[[HttpRequest], HttpResponse]


def _problem_of(request: HttpRequest, response: HttpResponse) -> Exception | None:
    """What the database could not, where that is why the answer is none."""
    problem: Exception | None = getattr(request, "database_problem", None)
    return problem if response.status_code in (500, 503) else None


def _forget_problem(request: HttpRequest) -> None:
    cast(Any, request).database_problem = None


def _is_keyed(request: HttpRequest) -> bool:
    """Whether a request is remembered by its key; answers that are shown once are kept nowhere."""
    return bool(request.headers.get("Idempotency-Key")) and not request.path.startswith(SECRET)


class Once:
    """Carries out what has an idempotency key once, and answers it again when it comes again.

    Its transaction is the outermost: where the database refuses it, at a statement or at its COMMIT, it is run again
    as a whole. Where nobody knows whether a COMMIT was carried out, the key is asked for first: the new transaction
    begins by writing it, on a server that serves, and is answered what was kept where it stands there already.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request; one with a key of a signed-in person is remembered."""
        if request.method not in CHANGES or not _is_keyed(request) or not isinstance(request.user, User):
            return self.get_response(request)
        tries = Tries()
        while True:
            tries.begin()
            _forget_problem(request)
            try:
                response = self._tried(request, request.user)
            except (DatabaseError, InterfaceError) as problem:
                if not is_databases(problem):
                    raise
                cast(Any, request).database_problem = problem
                response = problem_answer(503)
            failed = _problem_of(request, response)
            if failed is None:
                return response
            if not tries.may_come_again(failed):
                cast(Any, request).was_tried = True
                return response
            log.warning("run again: %s", failed)

    def _tried(self, request: HttpRequest, user: User) -> HttpResponse:
        kept: list[HttpResponse] = []

        def do() -> tuple[int, bytes]:
            kept.append(self.get_response(request))
            return kept[0].status_code, kept[0].content

        try:
            print_ = fingerprint(str(request.method), request.get_full_path(), request.body)
            key = request.headers["Idempotency-Key"]
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

    A reading is tried once more; so is what has a key, where it failed beside its own transaction (it is answered
    what was kept). What signs somebody in or out is one transaction with its session, run again where it was refused.
    Any other change without a key is told at once: nobody could say whether it was carried out.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or say that the record book is away; what went wrong inside another middleware counts too."""
        changes = request.method in CHANGES
        as_one = changes and request.path.startswith(SECRET)
        tries = Tries() if as_one else Tries(2 if not changes or _is_keyed(request) else 1)
        while True:
            tries.begin()
            _forget_problem(request)
            response = self._as_one(request) if as_one else self.get_response(request)
            problem = _problem_of(request, response)
            if problem is None:
                return response
            refused = not as_one or code_of(problem) in REFUSED
            if getattr(request, "was_tried", False) or not refused or not tries.may_come_again(problem):
                return _said(problem)
            log.warning("tried again: %s", problem)

    def _as_one(self, request: HttpRequest) -> HttpResponse:
        try:
            with transaction.atomic():
                response = self.get_response(request)
                if _problem_of(request, response) is not None:
                    transaction.set_rollback(True)
            return response
        except (DatabaseError, InterfaceError) as problem:
            if not is_databases(problem):
                raise
            cast(Any, request).database_problem = problem
            return problem_answer(503)

    def process_exception(self, request: HttpRequest, problem: Exception) -> HttpResponse | None:
        """The same for what a view raises."""
        if is_databases(problem):
            cast(Any, request).database_problem = problem
            return problem_answer(503)
        return None


@receiver(got_request_exception)
def _seen(request: HttpRequest | None = None, **_: object) -> None:
    """Django turns what a middleware raises into a 500 at once: remember where it was the database."""
    problem = sys.exc_info()[1]
    if request is not None and is_databases(problem):
        cast(Any, request).database_problem = problem


def _said(problem: Exception) -> HttpResponse:
    """What went wrong, as far as anybody can do something about it."""
    kept = "What you typed is kept on this device; it is tried again."
    if is_full(problem):
        log.error("no room: %s", problem)
        message = "The disk that the records are on is full: nothing of this was kept."
        hint = f"Whoever keeps the machine makes room there. {kept}"
        answer = problem_answer(503, message, hint, kind="full")
        answer["Retry-After"] = "10"
        return answer
    if code_of(problem) == NOT_READY:
        log.error("no node serves: %s", problem)
        said = "The machines that keep the records cannot agree just now"
        answer = problem_answer(503, f"{said}: {whys_of(problem)}.", kept, kind="away")
    elif code_of(problem) in REFUSED:
        log.error("others hold what is wanted: %s", problem)
        message = "Others are writing to the same thing just now: nothing of this was kept."
        answer = problem_answer(503, message, kept, kind="busy")
    else:
        log.error("database away: %s", problem)
        answer = problem_answer(503)
    answer["Retry-After"] = "2"
    return answer
