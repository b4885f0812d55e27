"""The backend that Django loads: its own for MariaDB, which chooses a node and says what failed at a COMMIT."""

from __future__ import annotations

from typing import Any

import MySQLdb
from django.db.backends.mysql import base
from django.db.utils import DatabaseError, InterfaceError

from workshop.nodes.serving import Node, opened, why_not

PIECE = 64 * 1024 * 1024


class DatabaseWrapper(base.DatabaseWrapper):
    """Django's connection to MariaDB. ``NODES`` of the settings are the addresses of a group, the preferred first.

    What failed at a COMMIT is marked (``at_commit``): nobody knows then whether it was carried out. What failed while
    a connection was opened is marked too (``at_opening``): nothing was asked yet.
    """

    @property
    def nodes(self) -> list[Node]:
        """The addresses of the group; empty where there is one server."""
        found: list[Node] = self.settings_dict.get("NODES") or []
        return found

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """A connection to the server, or to the first node that serves."""
        try:
            if not self.nodes:
                return super().get_new_connection(conn_params)
            return opened(self.nodes, conn_params, super().get_new_connection)
        except MySQLdb.Error as problem:
            problem.at_opening = True
            raise

    def is_usable(self) -> bool:
        """Whether a kept connection still answers, and its node still serves."""
        if not super().is_usable():
            return False
        try:
            return not self.nodes or not why_not(self.connection)
        except MySQLdb.Error:
            return False

    def sees_what_was_written(self) -> None:
        """Wait until this node has taken in what any node has committed so far; no wait where there is one server."""
        if self.nodes:
            with self.cursor() as cursor:
                cursor.execute("SET SESSION wsrep_sync_wait = 1")
                cursor.execute("SELECT 1 FROM django_migrations LIMIT 1")
                cursor.fetchall()
                cursor.execute("SET SESSION wsrep_sync_wait = 0")

    def sends_in_pieces(self) -> None:
        """Let this connection send what a transaction writes to the other nodes while it goes on, 64 MB at a time.

        A group takes no more than 2 GB of one transaction at its end, and stands still meanwhile.
        """
        if self.nodes:
            with self.cursor() as cursor:
                cursor.execute(f"SET SESSION wsrep_trx_fragment_size = {PIECE}")

    def _commit(self) -> None:
        try:
            super()._commit()  # type: ignore[misc]
        except (DatabaseError, InterfaceError) as problem:
            problem.at_commit = True  # type: ignore[union-attr]
            raise
