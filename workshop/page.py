"""The built page of the front end: one file, whatever the address."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import cache_control, never_cache
from django.views.decorators.http import require_safe


@never_cache
@require_safe
def page(request: HttpRequest) -> HttpResponse:
    """The application's page; says so plainly where the front end has not been built."""
    built = settings.WEB_DIST / "index.html"
    if not built.exists():
        return HttpResponse("The front end is not built: run make build.", "text/plain", status=503)
    return HttpResponse(built.read_text(encoding="utf8"))


@cache_control(no_cache=True)
@require_safe
def worker(request: HttpRequest) -> HttpResponse:
    """The service worker of the page as it is built now: a browser asks for it anew each time."""
    built = settings.WEB_DIST / "sw.js"
    if not built.exists():
        return HttpResponse("The front end is not built: run make build.", "text/plain", status=404)
    return HttpResponse(built.read_text(encoding="utf8"), "text/javascript; charset=utf-8")
