"""What follows a restore: nobody is signed in, no number and no id is given twice, devices ask before they send."""

from __future__ import annotations

from datetime import datetime

from axes.models import AccessAttempt, AccessFailureLog
from django.apps import apps
from django.contrib.sessions.models import Session
from django.db import connection, transaction
from django.db.models import AutoField, Max

from workshop.core.models import Turn
from workshop.jobs.models import Job
from workshop.people.models import OpenSession, Workshop
from workshop.safekeeping.models import Restored
from workshop.stock.models import StockItem

FURTHER = 1000  # more than a shop writes tickets between two backups; our own judgement


def after_restore(of: datetime) -> Restored:
    """Make restored records safe to go on with; ``of`` is when the backup was made.

    A ticket that was printed after the backup says a number, and a device holds an id, that the restored records do
    not know: both go on so far higher that neither ever opens another customer's ring.
    """
    with transaction.atomic():
        for shop in Workshop.objects.all():
            for what, rows in (("jobs", Job.objects), ("drawer", StockItem.objects)):
                _further(shop, what, rows.filter(workshop=shop).aggregate(last=Max("number"))["last"] or 0)
        Session.objects.all().delete()
        OpenSession.objects.all().delete()
        AccessAttempt.objects.all().delete()
        AccessFailureLog.objects.all().delete()
        restored = Restored.objects.create(of=of)
    _ids_go_further()
    return restored


def _further(shop: Workshop, what: str, last: int) -> None:
    turn, _ = Turn.objects.get_or_create(workshop=shop, what=what)
    turn.after = max(last, turn.after) + FURTHER
    turn.save(update_fields=["after"])


def _ids_go_further() -> None:
    """Every table that numbers its rows goes on further; the rows that are there keep their ids."""
    with connection.cursor() as cursor:
        for model in apps.get_models(include_auto_created=True):
            key = model._meta.pk
            if not isinstance(key, AutoField) or not model._meta.managed:
                continue
            last = model._default_manager.aggregate(last=Max(key.name))["last"] or 0
            table = connection.ops.quote_name(model._meta.db_table)
            cursor.execute(f"ALTER TABLE {table} AUTO_INCREMENT = {int(last) + FURTHER + 1}")
