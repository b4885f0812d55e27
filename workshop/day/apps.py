"""The day hears of every step that is ticked."""

from __future__ import annotations

from django.apps import AppConfig


class DayConfig(AppConfig):
    """The day's application."""

    name = "workshop.day"
    label = "day"

    def ready(self) -> None:
        """Listen."""
        from workshop.day import hearing  # noqa: F401
