"""Whoever has just written something reads it, whichever node of a group they are answered from."""

from __future__ import annotations

from typing import Any, cast

from django.conf import settings
from django.db import connection
from django.db.utils import DatabaseError, InterfaceError
from django.http import HttpRequest, HttpResponse

from workshop.api.again import CHANGES, Next
from workshop.api.problems import problem_answer

WROTE, FOR_S = "wrote", 10


class SeesOwn:
    """Waits, once a request, until the node that is asked has caught up, where who asks wrote a moment ago.

    A mark of that moment travels with the browser, as another process may answer next. Over one server there is
    nothing to wait for, and no mark.
    """

    def __init__(self, get_response: Next) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer a request with all that its sender wrote."""
        if not settings.DATABASES["default"].get("NODES") or not request.path.startswith("/api/"):
            return self.get_response(request)
        if WROTE in request.COOKIES:
            try:
                cast(Any, connection).sees_what_was_written()
            except (DatabaseError, InterfaceError) as problem:
                cast(Any, request).database_problem = problem
                return problem_answer(503)
        response = self.get_response(request)
        if request.method in CHANGES and response.status_code < 300:
            response.set_cookie(
                WROTE, "1", max_age=FOR_S, httponly=True, samesite="Lax", secure=settings.SESSION_COOKIE_SECURE
            )
        return response
