"""The drawer, as Django starts it."""

from __future__ import annotations

from django.apps import AppConfig


class StockConfig(AppConfig):
    """The drawer hears of every change of a job."""

    name = "workshop.stock"

    def ready(self) -> None:
        """Begin to listen."""
        from workshop.stock import demand  # noqa: F401 - its receiver is what is wanted
