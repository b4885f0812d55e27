"""The logbook, as Django starts it."""

from __future__ import annotations

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """The logbook hears of every change of a job."""

    name = "workshop.logbook"

    def ready(self) -> None:
        """Begin to listen."""
        from workshop.logbook import reckoning  # noqa: F401 - its receiver is what is wanted
