"""``manage.py new_person "Name of the shop" username "First Last"``: a person of a shop, a link that works once."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ringcraft.errors import BadRequest
from workshop.people.accounts import new_person, one_time_link
from workshop.people.models import BENCH, ROLES, User, Workshop


class Command(BaseCommand):
    """Make a person, or give one who is there a new link."""

    help = "Make a person of a workshop; prints a link to set a password, once."

    def add_arguments(self, parser: CommandParser) -> None:
        """Shop, name to sign in with, name."""
        parser.add_argument("shop", help="the workshop's name, or its number where two have one name")
        parser.add_argument("username")
        parser.add_argument("name", nargs="?", default="")
        parser.add_argument("--role", choices=list(ROLES), default=BENCH, help="what the person may do here (bench)")
        parser.add_argument("--again", action="store_true", help="the person is there: only print a new link")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make the person, or find the one who is there."""
        shop = _shop(options["shop"])
        try:
            if options["again"]:
                user = User.objects.filter(workshop=shop, username=options["username"]).first()
                if user is None:
                    raise CommandError(f"Nobody in {shop} signs in as {options['username']}.")
            else:
                user = new_person(shop, options["username"], options["name"] or options["username"], options["role"])
        except BadRequest as problem:
            raise CommandError("; ".join(str(error) for error in problem.errors)) from None
        self.stdout.write(f"{user} of {shop} sets a password here, once:\n{one_time_link(user)}")


def _shop(said: str) -> Workshop:
    found = list(Workshop.objects.filter(name=said)[:2])
    if not found and said.isascii() and said.isdecimal() and len(said) < 12:
        found = list(Workshop.objects.filter(pk=int(said)))
    if len(found) != 1:
        names = ", ".join(f"{shop.pk} {shop.name}" for shop in Workshop.objects.order_by("pk")[:20])
        raise CommandError(f"{'Two workshops are' if found else 'No workshop is'} called {said}. There are: {names}.")
    return found[0]
