"""Whether a version may come in while the one before it goes on beside it, over the same records.

It may where its migrations only add: the version before neither reads nor writes what is new, and what it writes is
whole without it. A new column must therefore have a value that the database itself gives (none, or ``db_default``):
Django's own default is known to the new version alone.
"""

from __future__ import annotations

from collections.abc import Iterable

from django.db import connection
from django.db.migrations import operations as ops
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.operations.base import Operation
from django.db.models import NOT_PROVIDED

#: What the version before does not notice: tables and indexes of which it knows nothing, and words of Django's own.
ADDS = (ops.CreateModel, ops.AddIndex, ops.RemoveIndex, ops.AlterModelOptions, ops.AlterModelManagers)


def what_stops(operations: Iterable[Operation]) -> list[str]:
    """What of some operations the version before could not go on beside, a line each."""
    out: list[str] = []
    for one in operations:
        if isinstance(one, ops.SeparateDatabaseAndState):
            out += what_stops(one.database_operations)
        elif isinstance(one, ops.AddField):
            by_itself = one.field.null or one.field.db_default is not NOT_PROVIDED
            if not by_itself or one.field.unique:
                out.append(f"{one.describe()}: the version before could not add a row")
        elif not isinstance(one, ADDS):
            out.append(one.describe())
    return out


def waiting() -> dict[str, list[str]]:
    """The migrations that the records have not had yet, by name, each with what stops the version before."""
    executor = MigrationExecutor(connection)
    plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
    return {f"{one.app_label} {one.name}": what_stops(one.operations) for one, _ in plan}
