"""Whether a node serves, and which of several is asked: their order is the preference, one that fails is passed by.

A node of a group (Galera 4, as Debian's MariaDB brings it) serves while it is ready, its part of the group is the
primary one and it has caught up with the others. A server without a group serves by itself.
"""

from __future__ import annotations

import contextlib
import logging
from collections.abc import Callable, Sequence
from typing import Any

import MySQLdb
from MySQLdb.constants import ER

from workshop.nodes.skipped import is_skipped, skip

log = logging.getLogger(__name__)
#: What a serving node says of itself, by the names of its status.
SERVES = {"wsrep_ready": "ON", "wsrep_cluster_status": "Primary", "wsrep_local_state_comment": "Synced"}
_STATUS = f"SHOW GLOBAL STATUS WHERE Variable_name IN ({', '.join(repr(name) for name in SERVES)})"
SILENT, ALONE, BEHIND = "does not answer", "has lost the others", "has not caught up with the others"
#: The same of several.
OF_MORE = {SILENT: "do not answer", ALONE: "have lost the others", BEHIND: "have not caught up with the others"}

Node = tuple[str, int]


def why_not(connection: Any) -> str:
    """Why the node behind an open connection does not serve; empty where it does."""
    with contextlib.closing(connection.cursor()) as cursor:
        cursor.execute("SHOW GLOBAL VARIABLES LIKE 'wsrep_on'")
        if (row := cursor.fetchone()) is None or row[1] != "ON":
            return ""
        cursor.execute(_STATUS)
        said = dict(cursor.fetchall())
    if said == SERVES:
        return ""
    return BEHIND if said.get("wsrep_cluster_status") == "Primary" else ALONE


def opened(nodes: Sequence[Node], params: dict[str, Any], connect: Callable[[dict[str, Any]], Any]) -> Any:
    """A connection to the first node that serves; those that failed a moment ago are asked after the others.

    Raises MySQLdb's OperationalError 1047 where none serves, which says how many of them why.
    """
    whys: list[str] = []
    for nth in sorted(range(len(nodes)), key=is_skipped):
        host, port = nodes[nth]
        try:
            connection = connect({**params, "host": host, "port": port})
        except MySQLdb.OperationalError as problem:
            why = SILENT
            log.warning("node %s:%s: %s", host, port, problem)
        else:
            why = _asked(connection)
            if not why:
                return connection
            log.warning("node %s:%s %s", host, port, why)
        whys.append(why)
        skip(nth)
    raise MySQLdb.OperationalError(ER.UNKNOWN_COM_ERROR, ", ".join(_counted(whys)))


def _counted(whys: Sequence[str]) -> list[str]:
    counts = {why: whys.count(why) for why in (ALONE, BEHIND, SILENT)}
    return [f"{n} of {len(whys)} {OF_MORE[why] if n > 1 else why}" for why, n in counts.items() if n]


def _asked(connection: Any) -> str:
    try:
        why = why_not(connection)
    except MySQLdb.Error:
        why = SILENT
    if why:
        with contextlib.suppress(MySQLdb.Error):
            connection.close()
    return why
