"""Holding what one changes, so that it holds on every database node: each hold is a write of the row that is held.

A lock for reading (``SELECT … FOR UPDATE``) is known to its own node alone: two nodes of a group that hold the same
rows and write different ones both commit. A row that both have written is let through once; the other transaction is
refused, and run again as a whole. So nothing here is only locked: whoever holds a row counts it up first, and reads
it after that.
"""

from __future__ import annotations

from typing import Any, TypeVar

from django.db import models, transaction
from django.db.models import F, QuerySet
from django.db.transaction import TransactionManagementError


class Held(models.Model):
    """A row that is counted up by whoever holds it; ``turns`` is written by :func:`hold` alone."""

    turns = models.PositiveBigIntegerField(default=0, db_default=0, editable=False)

    class Meta:
        abstract = True

    def save(self, *args: Any, **options: Any) -> None:
        """Save it; the count of a row that is there already stays the database's."""
        is_there = not self._state.adding and self.pk is not None and not options.get("force_insert")
        if is_there and options.get("update_fields") is None:
            names = (field.name for field in self._meta.concrete_fields if not field.primary_key)
            options["update_fields"] = [name for name in names if name != "turns"]
        super().save(*args, **options)


H = TypeVar("H", bound=Held)


def hold(rows: QuerySet[H]) -> QuerySet[H]:
    """Hold these rows until the transaction ends, in the order of their keys, and answer them to be read after that.

    Raises TransactionManagementError outside a transaction, where nothing would be held.
    """
    if not transaction.get_connection().in_atomic_block:
        raise TransactionManagementError("rows are held in a transaction")
    rows.order_by("pk").update(turns=F("turns") + 1)
    return rows.all()


def hold_one(rows: QuerySet[H]) -> H:
    """Hold the one row that these are, and answer it as it stands then; raises DoesNotExist."""
    return hold(rows).get()
