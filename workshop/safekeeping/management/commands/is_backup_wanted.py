"""``manage.py is_backup_wanted``: yes in opening hours, or where something was done since the last one."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand
from django.utils import timezone

from workshop.safekeeping.status import is_wanted


class Command(BaseCommand):
    """Whether an hourly backup is wanted."""

    help = "Say yes or no: is an hourly backup wanted now?"

    def handle(self, *args: Any, **options: Any) -> None:
        """Say it."""
        self.stdout.write("yes" if is_wanted(timezone.now()) else "no")
