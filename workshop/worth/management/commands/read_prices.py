"""Read the feed of metal prices once, for every shop: by a timer, or by a person."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from workshop.worth.reading import read_for_all


class Command(BaseCommand):
    """Read the feed whose address the server was given."""

    help = "Read the feed of metal prices (PLAIN_SHANK_PRICE_FEED) once, for every shop."

    def handle(self, *_: Any, **__: Any) -> None:
        """Read, keep, say what came of it; what failed is said and ends with an error."""
        if not settings.PRICE_FEED:
            raise CommandError("No feed is set: PLAIN_SHANK_PRICE_FEED is its address.")
        well, said = read_for_all(settings.PRICE_FEED)
        if not well:
            raise CommandError(said)
        self.stdout.write(said)
