"""Whose clock holds where a shop has said none: that of the device that asks."""

from __future__ import annotations

from zoneinfo import available_timezones

from django.http import HttpRequest


def zone_of(request: HttpRequest) -> str:
    """The time zone that a screen says it is in; empty where it says none, or one that is not known here."""
    said = request.headers.get("Bench-Zone", "")
    return said if said and len(said) < 64 and said in available_timezones() else ""
