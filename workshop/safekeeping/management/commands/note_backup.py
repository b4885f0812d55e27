"""``manage.py note_backup``: what a backup was, read as JSON, is noted for its owner's screen."""

from __future__ import annotations

import json
import sys
from datetime import datetime
from typing import Any

from django.core.management.base import BaseCommand

from workshop.safekeeping.models import Backup


class Command(BaseCommand):
    """Note a backup that was made."""

    help = "Note a backup that was made and checked: its fields as JSON on standard input."

    def handle(self, *args: Any, **options: Any) -> None:
        """Note it."""
        said = json.load(sys.stdin)
        Backup.objects.create(**{**said, "at": datetime.fromisoformat(said["at"])})
