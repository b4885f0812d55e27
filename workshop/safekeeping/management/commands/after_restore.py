"""``manage.py after_restore 2026-05-04T16:00:00+00:00``: make restored records safe to go on with."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from workshop.safekeeping.after import after_restore


class Command(BaseCommand):
    """What follows a restore."""

    help = "Sign everybody out and let numbers and ids go on further, after the records were restored."

    def add_arguments(self, parser: CommandParser) -> None:
        """When the backup was made."""
        parser.add_argument("of", type=datetime.fromisoformat)

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it."""
        after_restore(options["of"])
