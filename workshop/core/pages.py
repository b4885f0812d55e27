"""Pages of a list: nothing is cut off silently, and a deep page costs no more than the first."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from django.db.models import Model, Q, QuerySet

from ringcraft.errors import UnreadableError

M = TypeVar("M", bound=Model)
MOST = 100


@dataclass(frozen=True)
class Page(Generic[M]):
    """Some items, how many there are in all, and the mark of the next ones (empty: these are the last)."""

    items: list[M]
    count: int
    more: str


def page_of(found: QuerySet[M], order: Sequence[str], after: str = "", most: int = MOST) -> Page[M]:
    """The page after a mark, in ``order`` (field names, "-" for falling; the last one unique).

    Raises UnreadableError at ``after`` for a mark that is none of ours.
    """
    everything = found
    if after:
        found = found.filter(_beyond(order, _read_mark(after, len(order))))
    rows = list(found.order_by(*order)[: most + 1])
    items = rows[:most]
    more = _mark([getattr(items[-1], name.lstrip("-")) for name in order]) if len(rows) > most else ""
    count = everything.count() if more or after else len(items)
    return Page(items, count, more)


def _beyond(order: Sequence[str], values: Sequence[object]) -> Q:
    """Rows after these values: later in the first field, or the same there and later in the next, and so on."""
    out = Q(pk__in=[])
    same = Q()
    for name, value in zip(order, values, strict=True):
        field = name.lstrip("-")
        side = "lt" if name.startswith("-") else "gt"
        out |= same & Q(**{f"{field}__{side}": value})
        same &= Q(**{field: value})
    return out


def _mark(values: list[object]) -> str:
    return base64.urlsafe_b64encode(json.dumps(values).encode()).decode().rstrip("=")


def _read_mark(text: str, length: int) -> list[object]:
    try:
        values = json.loads(base64.urlsafe_b64decode(text[:600].encode() + b"=="))
    except (ValueError, binascii.Error, RecursionError):
        values = None
    right = isinstance(values, list) and len(values) == length
    if not right or not all(isinstance(v, (str, int)) and not isinstance(v, bool) for v in values):
        raise UnreadableError("after", "That is no place in this list.", "Begin at its first page.")
    if any(isinstance(v, int) and abs(v) > 2**62 for v in values):
        raise UnreadableError("after", "That is no place in this list.", "Begin at its first page.")
    return list(values)
