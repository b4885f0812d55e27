"""Saves that see each other: a stale one is refused with what stands now, and never overwrites unseen."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db.models import Model

from workshop.core.history import kind_of
from workshop.core.models import Event


class Stale(Exception):
    """Somebody saved this thing since it was read.

    ``theirs`` is what stands now, field by field; ``changed`` names those that differ from what was sent; ``by``
    and ``at`` are whose the last change was.
    """

    def __init__(
        self, thing: Model, version: int, theirs: dict[str, Any], changed: list[str], saves: tuple[str, ...]
    ) -> None:
        super().__init__(f"{kind_of(thing)} {thing.pk} is at version {version}")
        self.kind = kind_of(thing)
        self.version = version
        self.theirs = theirs
        self.changed = changed
        last = (
            Event.objects.filter(workshop_id=_workshop_of(thing), kind=self.kind, thing_id=thing.pk, what__in=saves)
            .select_related("by")
            .order_by("-at", "-id")
            .first()
        )
        self.by = str(last.by or "") if last else ""
        self.at: datetime | None = last.at if last else None


def _workshop_of(thing: Model) -> int:
    return int(getattr(thing, "workshop_id", None) or thing.pk)  # the workshop's own ways are a thing of it


def refuse_stale(
    thing: Model,
    version: int | None,
    mine: Mapping[str, Any],
    theirs: Mapping[str, Any],
    stands: int,
    saves: tuple[str, ...] = ("created", "changed"),
) -> None:
    """Raise Stale unless ``version`` is the one that ``stands`` on the locked row of ``thing``.

    ``saves`` are the events of the history that raise this very version: whoever did one of them last is named, not
    somebody who meanwhile did something else to the same thing.
    """
    if version != stands:
        changed = [name for name, value in mine.items() if theirs.get(name) != value]
        raise Stale(thing, stands, dict(theirs), changed, saves)
