"""``manage.py workshop_in FILE``: a workshop from its archive, with links by which its owners come in."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from workshop.people.accounts import one_time_link
from workshop.people.models import OWNER, User
from workshop.safekeeping.coming_in import ArchiveError, Came, TakenNames, bring_in


class Command(BaseCommand):
    """Bring a workshop in."""

    help = "Bring a workshop in from its archive. Whole or not at all; a name that is taken here is asked for."

    def add_arguments(self, parser: CommandParser) -> None:
        """From where, and who signs in by another name."""
        parser.add_argument("file", type=Path)
        parser.add_argument(
            "--name", action="append", default=[], metavar="WREN=JENNY", help="wren signs in as jenny here"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Bring it in; asks at a terminal for names that are taken."""
        names = dict(self._pair(one) for one in options["name"])
        came = self._bring(options["file"], names)
        self.stdout.write(f"{came.workshop.name}: {came.rows} rows, {came.photographs} photographs.")
        for words in came.wrong:
            self.stdout.write(f"As it went out: {words}")
        self.stdout.write("Nobody has a password. With these links its owners set theirs, and ask the others in:")
        for owner in User.objects.filter(workshop=came.workshop, role=OWNER, is_active=True).order_by("pk"):
            self.stdout.write(f"{owner.username}  {one_time_link(owner)}")

    def _bring(self, file: Path, names: dict[str, str]) -> Came:
        while True:
            try:
                return bring_in(file, names)
            except TakenNames as problem:
                if not sys.stdin.isatty():
                    raise CommandError(f"{problem} --name {problem.names[0]}=ANOTHER") from None
                for name in problem.names:
                    now = names.get(name, name)
                    names[name] = input(f"Somebody signs in here as {now} already. Here {name} signs in as: ").strip()
            except ArchiveError as problem:
                raise CommandError(str(problem)) from None

    def _pair(self, said: str) -> tuple[str, str]:
        was, sign, name = said.partition("=")
        if not (was and sign and name):
            raise CommandError(f"--name {said[:60]}: it is WREN=JENNY, who signed in as wren signs in as jenny.")
        return was, name
