"""``manage.py workshop_out USER FILE``: the workshop of somebody, as one archive of open formats."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from workshop.people.models import User
from workshop.safekeeping.going_out import archive_of


class Command(BaseCommand):
    """Take a workshop out."""

    help = "Write a workshop's records as one archive: by the name with which one of its people signs in."

    def add_arguments(self, parser: CommandParser) -> None:
        """Whose, and where to."""
        parser.add_argument("username")
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it under another name, and rename it when it is whole."""
        target: Path = options["file"]
        user = User.objects.filter(username=options["username"]).first()
        if user is None or user.workshop_id is None:
            raise CommandError(f"Nobody of a workshop signs in as {options['username']}.")
        if target.exists():
            raise CommandError(f"{target} is there already.")
        part = target.with_name(f"{target.name}.part")
        try:
            with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
                for piece in archive_of(user.workshop_id):
                    file.write(piece)
                file.flush()
                os.fsync(file.fileno())
            part.rename(target)
        except OSError as problem:
            part.unlink(missing_ok=True)
            raise CommandError(f"It cannot be written: {problem}") from None
        self.stdout.write(f"{target}, {target.stat().st_size / 1e6:.1f} MB")
