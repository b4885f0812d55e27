"""``manage.py remove_factor username``: for who has lost both the app and the recovery codes."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from workshop.core.history import Actor
from workshop.people.factor import remove
from workshop.people.models import User


class Command(BaseCommand):
    """Take a person's second factor away."""

    help = "Take a person's second factor away, who has lost the app and the recovery codes."

    def add_arguments(self, parser: CommandParser) -> None:
        """Whose."""
        parser.add_argument("username")

    def handle(self, *args: Any, **options: Any) -> None:
        """Take it away."""
        user = User.objects.filter(username=options["username"], workshop__isnull=False).first()
        if user is None or user.workshop_id is None:
            raise CommandError(f"Nobody signs in as {options['username']}.")
        if not remove(user, Actor(user.workshop_id)):
            raise CommandError(f"{user} has no second factor.")
        self.stdout.write(f"{user} signs in with the password alone from now on.")
