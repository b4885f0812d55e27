"""What an owner is told of the backups, and what whoever runs it can ask."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.utils import timezone

from ringcraft.day.ways import windows
from workshop.core.models import Event
from workshop.people.models import Workshop
from workshop.people.preferences import day_of, shop_preferences
from workshop.safekeeping.models import Backup, Restored

MOST_COUNTED = 1000  # changes that are counted one by one


@dataclass(frozen=True)
class Keeping:
    """How safe the records are: the last backup, what would be lost now, what is wrong with it.

    ``lost`` are the changes of this workshop since; ``lost_more`` that there are more than those counted.
    """

    at: datetime | None
    name: str
    size: int
    encrypted: bool
    same_device: bool
    said: list[str]
    lost: int
    lost_more: bool
    restored_of: datetime | None
    restored_at: datetime | None


def keeping_of(shop: Workshop) -> Keeping:
    """How safe the records of a workshop are."""
    last, restored = Backup.objects.order_by("-at", "-pk").first(), Restored.objects.order_by("-at", "-pk").first()
    since = Event.objects.filter(workshop=shop, pk__gt=last.last_event if last else 0)
    lost = since.order_by()[: MOST_COUNTED + 1].count()
    return Keeping(
        at=last.at if last else None,
        name=last.name if last else "",
        size=last.size if last else 0,
        encrypted=last.encrypted if last else False,
        same_device=last.same_device if last else False,
        said=list(last.said) if last else [],
        lost=min(lost, MOST_COUNTED),
        lost_more=lost > MOST_COUNTED,
        restored_of=restored.of if restored else None,
        restored_at=restored.at if restored else None,
    )


def epoch(shop: Workshop) -> int:
    """Another number after each restore, and where a workshop came in: what a device did before is asked about."""
    restored = Restored.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
    return restored + shop.came_in


def backup_age_h() -> float | None:
    """Hours since the last backup; None where none was ever made."""
    last = Backup.objects.order_by("-at").values_list("at", flat=True).first()
    return None if last is None else round((timezone.now() - last).total_seconds() / 3600, 2)


def is_wanted(now: datetime) -> bool:
    """Whether an hourly backup is wanted: in opening hours, or where something was done since."""
    last = Backup.objects.order_by("-at", "-pk").first()
    newest = Event.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
    if last is None or newest > last.last_event:
        return True
    return any(_is_open(shop, now) for shop in Workshop.objects.all())


def _is_open(shop: Workshop, now: datetime) -> bool:
    """Whether a shop is open, or was within this hour."""
    day = day_of(shop_preferences(shop))
    begins = (now - timedelta(days=1)).date()
    return any(a <= now <= b + timedelta(hours=1) for a, b in windows(day, "", begins, 3))
