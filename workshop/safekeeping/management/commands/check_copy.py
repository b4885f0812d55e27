"""``manage.py check_copy``: look through these records; what was looked at and what is wrong, as JSON."""

from __future__ import annotations

import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from workshop.safekeeping.checking import look_through


class Command(BaseCommand):
    """Look through a copy of the records."""

    help = "Open every photograph, balance every piece, read every plan; says what was found as JSON."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where the photographs' files are, where they are not in the database."""
        parser.add_argument("--files", type=Path, default=None)

    def handle(self, *args: Any, **options: Any) -> None:
        """Look, and say."""
        self.stdout.write(json.dumps(asdict(look_through(options["files"]))))
