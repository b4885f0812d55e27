"""``manage.py new_shop "Name of the shop" username "First Last"``: a workshop, its owner, a link that works once."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ringcraft.errors import BadRequest
from workshop.people.accounts import new_shop, one_time_link


class Command(BaseCommand):
    """Make a workshop and its owner."""

    help = "Make a workshop and its owner; prints a link with which the owner sets a password, once."

    def add_arguments(self, parser: CommandParser) -> None:
        """Shop, owner's name to sign in with, owner's name."""
        parser.add_argument("shop")
        parser.add_argument("username")
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make them."""
        try:
            owner = new_shop(options["shop"], options["username"], options["name"])
        except BadRequest as problem:
            raise CommandError("; ".join(str(error) for error in problem.errors)) from None
        self.stdout.write(f"{owner.workshop} is made. {owner} sets a password here, once:\n{one_time_link(owner)}")
