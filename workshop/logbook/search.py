"""The logbook as it is read: found by words among a hundred thousand, sorted, a page at a time."""

from __future__ import annotations

from django.db.models import QuerySet

from ringcraft.errors import BadRequest, UnknownNameError
from workshop.core.pages import Page, page_of
from workshop.jobs.models import folded
from workshop.logbook.models import RingRecord

MOST_WORDS = 8
#: How a logbook is sorted: as one says it, and the fields of a record in their order, the last one unique.
SORTS: dict[str, tuple[str, tuple[str, ...]]] = {
    "newest": ("the newest first", ("-at", "-number")),
    "oldest": ("the oldest first", ("at", "number")),
    "largest": ("the largest first", ("-off_mm", "-number")),
    "smallest": ("the smallest first", ("off_mm", "number")),
    "number": ("by number", ("-number",)),
}


def rings(workshop_id: int, words: str = "") -> QuerySet[RingRecord]:
    """The rings of a workshop's logbook that have every one of the words, in any order."""
    found = RingRecord.objects.filter(workshop_id=workshop_id, listed=True)
    for word in folded(words[:200]).split()[:MOST_WORDS]:
        found = found.filter(words__contains=word)
    return found


def find_rings(workshop_id: int, words: str, sort: str, limit: int, offset: int) -> Page[RingRecord]:
    """A page of the logbook; raises BadRequest at ``sort``, ``limit`` or ``offset``.

    Sorted by how they came out, only those whose size was read are there.
    """
    if sort not in SORTS:
        raise BadRequest([UnknownNameError("sort", "A logbook is not sorted by that.", f"By {', '.join(SORTS)}.")])
    found = rings(workshop_id, words)
    if sort in ("largest", "smallest"):
        found = found.exclude(off_mm=None)
    return page_of(found.select_related("job"), SORTS[sort][1], limit, offset)
