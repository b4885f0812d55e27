"""``manage.py erase_again LIST``: who was erased after a backup is erased again once it is restored."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from workshop.safekeeping.erasing import erase_again


class Command(BaseCommand):
    """Erase again who stands on the list."""

    help = "Erase again who stands on the list of erasures, after a restore."

    def add_arguments(self, parser: CommandParser) -> None:
        """The list."""
        parser.add_argument("list", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; says how many."""
        self.stdout.write(str(erase_again(options["list"])))
