"""Who comes first: locks are taken in one order everywhere, so that two people never wait for each other.

First the jobs by their keys, then a turn, then the rows behind it.
"""

from __future__ import annotations

from workshop.core.models import Turn


def take_turn(workshop_id: int, what: str) -> int:
    """Wait until nobody else of this workshop does that, and hold it until the transaction ends.

    Answers the number after which those of this kind go on, 0 where nothing was ever restored.
    """
    mine = Turn.objects.select_for_update().filter(workshop_id=workshop_id, what=what).values_list("after", flat=True)
    held = list(mine)
    if not held:
        Turn.objects.bulk_create([Turn(workshop_id=workshop_id, what=what)], ignore_conflicts=True)
        held = list(mine.all())
    return held[0]
