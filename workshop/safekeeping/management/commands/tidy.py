"""``manage.py tidy``: what is over is dropped: old sessions, tries, answers that no device asks for any more."""

from __future__ import annotations

from typing import Any

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.utils import timezone

from workshop.core.models import Sent
from workshop.core.once import KEPT
from workshop.people.sessions import forget_ended

AT_ONCE = 1000
TRIES = (AccessAttempt, AccessFailureLog, AccessLog)


class Command(BaseCommand):
    """Drop what is over."""

    help = "Drop sessions, tries and kept answers that are over; once a day."

    def handle(self, *args: Any, **options: Any) -> None:
        """Drop it, a few at a time: nobody waits for it."""
        call_command("clearsessions")
        forget_ended()
        for model, field in (*((one, "attempt_time") for one in TRIES), (Sent, "at")):
            old = model._default_manager.filter(**{f"{field}__lt": timezone.now() - KEPT}).order_by("pk")
            while keys := list(old.values_list("pk", flat=True)[:AT_ONCE]):
                model._default_manager.filter(pk__in=keys).delete()
