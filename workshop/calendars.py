"""A calendar behind its secret address: no session, no cookie, and nothing said of an address that is not known."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, HttpResponseNotFound
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from workshop.day.calendar import calendar_at

LONGEST = 80


@never_cache
@require_safe
def calendar(request: HttpRequest, secret: str) -> HttpResponse:
    """What a workshop has promised, as iCalendar."""
    del request
    found = calendar_at(secret) if len(secret) <= LONGEST and secret.isascii() else None
    if found is None:
        return HttpResponseNotFound("There is no calendar here, or it was withdrawn.", "text/plain")
    answer = HttpResponse(found, "text/calendar; charset=utf-8")
    answer["Content-Disposition"] = 'inline; filename="bench.ics"'
    answer["Referrer-Policy"] = "no-referrer"
    return answer
