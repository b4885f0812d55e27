"""Pages of a list: nothing is cut off silently, and every list is asked for and answered in one way."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from django.db.models import Model, QuerySet

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError

M = TypeVar("M", bound=Model)
T = TypeVar("T")
R = TypeVar("R")
MOST = 100
MOST_OFFSET = 10_000_000


@dataclass(frozen=True)
class Page(Generic[T]):
    """Some items of a list, and how many there are in all."""

    items: list[T]
    count: int

    def map(self, one: Callable[[T], R]) -> Page[R]:
        """The same page of something made from each item."""
        return Page([one(item) for item in self.items], self.count)


def page_of(found: QuerySet[M], order: Sequence[str], limit: int, offset: int) -> Page[M]:
    """``limit`` items from the ``offset``-th on, in ``order`` (field names, "-" for falling; the last one unique).

    The keys of a page are found first, from the index alone, so that a deep page reads no rows but its own; one in
    the second half of a list is counted from its end. Raises BadRequest at ``limit`` or ``offset``.
    """
    check_page(limit, offset)
    if not offset:
        keys = list(found.order_by(*order).values_list("pk", flat=True)[:limit])
        rows = list(found.filter(pk__in=keys).order_by(*order)) if keys else []
        return Page(rows, len(rows) if len(keys) < limit else found.count())
    count = found.count()
    end = min(count, offset + limit)
    if offset >= end:
        return Page([], count)
    if offset > count // 2:
        back = [name[1:] if name.startswith("-") else f"-{name}" for name in order]
        keys = list(found.order_by(*back).values_list("pk", flat=True)[count - end : count - offset])
    else:
        keys = list(found.order_by(*order).values_list("pk", flat=True)[offset:end])
    return Page(list(found.filter(pk__in=keys).order_by(*order)), count)


def check_page(limit: int, offset: int) -> None:
    """Refuse a page that no list has; raises BadRequest."""
    errors: list[CraftError] = []
    if not 1 <= limit <= MOST:
        errors.append(OutOfRangeError("limit", "A page is no longer than that.", f"From 1 to {MOST}."))
    if not 0 <= offset <= MOST_OFFSET:
        errors.append(OutOfRangeError("offset", "That is no place in this list.", "Begin at its first page."))
    if errors:
        raise BadRequest(errors)


def by_key(rows: QuerySet[M], at_once: int) -> Iterator[M]:
    """All of these rows in the order of their keys, so many in memory at once.

    Django's own ``iterator`` holds the whole answer of a MariaDB: of a workshop's plans those are gigabytes.
    """
    last: object = 0
    while some := list(rows.order_by("pk").filter(pk__gt=last)[:at_once]):
        yield from some
        last = some[-1].pk
