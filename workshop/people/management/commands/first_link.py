"""``manage.py first_link``: the link by which a workshop and its owner come in, once."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from workshop.people.accounts import first_link


class Command(BaseCommand):
    """Print the link."""

    help = "Print a link with which a new workshop and its owner come in, once, for three days."

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        self.stdout.write(f"Open this in a browser: the workshop and its owner come in by it, once.\n{first_link()}")
