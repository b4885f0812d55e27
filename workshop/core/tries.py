"""What the database refused, lost or may have carried out: when it may be tried again, and how often."""

from __future__ import annotations

import re
from collections.abc import Callable
from time import monotonic
from typing import TypeVar

from django.db import connection
from django.db.utils import DatabaseError, InterfaceError, OperationalError

DEADLOCK, WAITED, NOT_READY = 1213, 1205, 1047
#: Refused, and nothing of it was carried out: at a statement, and at a COMMIT.
REFUSED = (DEADLOCK, WAITED, NOT_READY)
#: The line to the server is lost: what had not come to its COMMIT is undone there, what had may be carried out.
LOST = (2006, 2013)
NO_ROOM = (1021, 1114)  # the disk, a table
NO_SPACE = re.compile(r"\b(?:error|errno|errcode):? \(?28\b|no space left", re.IGNORECASE)
MOST, WITHIN_S = 3, 8.0
LEAST_WAIT_S = 0.5  # of one try: less was no waiting


def is_databases(problem: object) -> bool:
    """Whether it is the database that cannot, and not what it was asked for."""
    return isinstance(problem, (OperationalError, InterfaceError)) or (
        isinstance(problem, DatabaseError) and is_full(problem)
    )


def is_full(problem: BaseException) -> bool:
    """Whether the database says that its disk, or the room that it was given, is full."""
    return code_of(problem) in NO_ROOM or NO_SPACE.search(str(problem)) is not None


def code_of(problem: BaseException) -> object:
    """The number of a problem, as MariaDB gives it."""
    return problem.args[0] if problem.args else None


def whys_of(problem: BaseException) -> str:
    """Why no node serves, as the choice of one said it; a node that refused by itself has lost the others."""
    said = str(problem.args[1]) if len(problem.args) > 1 else ""
    return said if " of " in said else "the one that was asked has lost the others"


def is_of_opening(problem: BaseException) -> bool:
    """Whether no server could be reached at all: every one that there is was asked."""
    return bool(getattr(problem.__cause__, "at_opening", False))


T = TypeVar("T")


class Tries:
    """How often one thing is tried: at most three times within eight seconds, each with a new connection."""

    def __init__(self, most: int = MOST) -> None:
        self.most, self.count, self.since, self.at = most, 0, monotonic(), monotonic()

    def begin(self) -> None:
        """One more try begins."""
        if self.count and not connection.in_atomic_block:
            connection.close()
        self.count, self.at = self.count + 1, monotonic()

    def may_come_again(self, problem: BaseException) -> bool:
        """Whether a transaction that failed so may be carried out again as a whole.

        Not where no server can be reached, and not where a lock was asked for without waiting (MariaDB gives that
        the number of one that was waited for): both are told at once.
        """
        took = monotonic() - self.at
        if self.count >= self.most or monotonic() - self.since + took > WITHIN_S or is_of_opening(problem):
            return False
        if code_of(problem) == WAITED and not getattr(problem, "at_commit", False):
            return took >= LEAST_WAIT_S
        return code_of(problem) in (*REFUSED, *LOST)


def run_again(do: Callable[[], T]) -> T:
    """Carry out what is one transaction, and again where the database refused it.

    Raises what the database said in the end, and at once where nobody knows whether it was carried out. Within
    another transaction it is carried out once: whoever has that one runs it again.
    """
    if connection.in_atomic_block:
        return do()
    tries = Tries()
    while True:
        tries.begin()
        try:
            return do()
        except OperationalError as problem:
            if code_of(problem) not in REFUSED or not tries.may_come_again(problem):
                raise
