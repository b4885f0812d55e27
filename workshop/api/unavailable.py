"""When the database is away: a plain 503 that says so, never a traceback."""

from __future__ import annotations

import logging
from collections.abc import Callable

from django.db.utils import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

log = logging.getLogger(__name__)


class DatabaseAway:
    """Answers 503 with the one problem shape where the database cannot be reached."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or say that the record book is away."""
        try:
            return self.get_response(request)
        except (OperationalError, InterfaceError) as problem:
            return self._away(problem)

    def process_exception(self, request: HttpRequest, problem: Exception) -> HttpResponse | None:
        """The same for what a view raises."""
        if isinstance(problem, (OperationalError, InterfaceError)):
            return self._away(problem)
        return None

    def _away(self, problem: Exception) -> HttpResponse:
        log.error("database away: %s", problem)
        error = {
            "field": "",
            "message": "The record book cannot be reached just now.",
            "hint": "What you typed is kept on this screen; try again in a moment.",
        }
        return JsonResponse({"errors": [error]}, status=503)
