"""``manage.py migrate``, which knows the one database that Django's own would not take: that of the first days.

Before anything was released the first migrations were once made anew under their old names. A database of the days
before says that they are applied, and has not all of what they make now.
"""

from __future__ import annotations

import json
from typing import Any

from django.core.management.commands.migrate import Command as Migrate
from django.db import connections
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

#: What leads from there to the first release, in this order: what was not there then, and what followed.
WAY = (
    ("gauges", "0001_initial"),
    ("gauges", "0002_initial"),
    ("customers", "0001_initial"),
    ("customers", "0002_initial"),
    ("people", "0002_ways_version"),
    ("core", "0001_initial"),
    ("jobs", "0003_steps_measures_places_and_the_benchs_columns"),
    ("jobs", "0004_stand_on_the_bench"),
)


class Command(Migrate):
    """Bring the database to this version."""

    def handle(self, *args: Any, **options: Any) -> None:
        """Bring a database of the first days to where the first migrations lead now; then as always."""
        connection = connections[options["database"]]
        if is_of_the_first_days(connection):
            self.stdout.write("A database of the first days: its tables are brought to the first release.")
            bring_up(connection)
        super().handle(*args, **options)


def is_of_the_first_days(connection: BaseDatabaseWrapper) -> bool:
    """Whether it was made before there were customers, or was left on its way from there."""
    if "django_migrations" not in connection.introspection.table_names():
        return False
    applied = MigrationRecorder(connection).applied_migrations()
    return ("jobs", "0002_initial") in applied and WAY[-1] not in applied


def bring_up(connection: BaseDatabaseWrapper) -> None:
    """Give such a database what the first migrations make now; begun and broken off, it is begun again."""
    executor = MigrationExecutor(connection)
    columns = {
        table: {one.name for one in connection.introspection.get_table_description(cursor, table)}
        for cursor in [connection.cursor()]
        for table in ("people_workshop", "people_user", "jobs_job", "jobs_measure")
    }
    with connection.cursor() as cursor:
        for table in ("people_workshop", "people_user"):
            if "ways" not in columns[table]:
                cursor.execute(
                    f"ALTER TABLE {table} ADD COLUMN ways LONGTEXT NOT NULL DEFAULT '{{}}' CHECK (JSON_VALID(ways))"
                )
        if "home_scale" in columns["people_workshop"]:
            cursor.execute("SELECT id, home_scale FROM people_workshop")
            for row, scale in cursor.fetchall():
                cursor.execute(
                    "UPDATE people_workshop SET ways = %s WHERE id = %s", [json.dumps({"home_scale": scale}), row]
                )
            cursor.execute("ALTER TABLE people_workshop DROP COLUMN home_scale")
        if "zero_mm" not in columns["jobs_measure"]:
            cursor.execute("ALTER TABLE jobs_measure ADD COLUMN zero_mm DECIMAL(6,4) NOT NULL DEFAULT 0")
    _apply(executor, connection, WAY[:2])
    with connection.cursor() as cursor:
        if "gauge_id" not in columns["jobs_measure"]:
            cursor.execute("ALTER TABLE jobs_measure ADD COLUMN gauge_id BIGINT NULL REFERENCES gauges_gauge (id)")
    _apply(executor, connection, WAY[2:4])
    with connection.cursor() as cursor:
        if "customer_id" not in columns["jobs_job"]:
            told = "ADD COLUMN customer_id BIGINT NULL REFERENCES customers_customer (id)"
            cursor.execute(f"ALTER TABLE jobs_job {told}")
    _apply(executor, connection, WAY[4:])


def _apply(executor: MigrationExecutor, connection: BaseDatabaseWrapper, keys: tuple[tuple[str, str], ...]) -> None:
    """Apply these as they stood before they were made one, where they are not applied yet."""
    loader = executor.loader = MigrationLoader(connection, replace_migrations=False)
    for key in keys:
        if key not in loader.applied_migrations:
            executor.apply_migration(loader.project_state(key, at_end=False), loader.graph.nodes[key])
