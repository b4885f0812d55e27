"""``manage.py may_roll``: whether this version may come in while the one before it goes on, as JSON."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand

from workshop.core.rolling import waiting


class Command(BaseCommand):
    """Look at the migrations that wait; nothing is changed."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Say what waits, and why the version before could not go on beside it."""
        found = waiting()
        why = [f"{name}: {line}" for name, lines in found.items() for line in lines]
        self.stdout.write(json.dumps({"rolls": not why, "waiting": list(found), "why": why}))
