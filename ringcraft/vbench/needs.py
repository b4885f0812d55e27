"""What a step needs of a piece as it stands: refused where it is not met, or noted where it is done all the same.

A way that is never done can be forced with a reason: then the route is worked, and each need that it breaks is kept.
What no hand can do, such as a cut that leaves nothing, is refused either way.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

from ringcraft.errors import CraftError


class UnmetNeedError(CraftError):
    """A step that cannot be done to the piece as it stands: ``field`` is the step, ``message`` what it needs."""


@dataclass(frozen=True)
class Unmet:
    """A need that a step breaks where the work is done all the same: the step's key, the need in words."""

    step: str
    need: str


#: Where broken needs are noted while a route is worked all the same; None where they are refused.
_NOTED: ContextVar[list[str] | None] = ContextVar("needs that are broken", default=None)


@contextmanager
def all_the_same() -> Iterator[list[str]]:
    """Work on though needs are broken; gives the list that they are noted in."""
    noted: list[str] = []
    token = _NOTED.set(noted)
    try:
        yield noted
    finally:
        _NOTED.reset(token)


def need(met: bool, what: str) -> None:
    """Refuse what is not done to a piece as it stands, or note it; raises UnmetNeedError."""
    if met:
        return
    noted = _NOTED.get()
    if noted is None:
        raise UnmetNeedError("", what, "")
    if what not in noted:
        noted.append(what)


def must(met: bool, what: str) -> None:
    """Refuse what no hand can do, with a reason or without; raises UnmetNeedError."""
    if not met:
        raise UnmetNeedError("", what, "")
