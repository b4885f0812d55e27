"""Who comes first: locks are taken in one order everywhere, so that two people never wait for each other.

First the jobs by their keys, then a turn, then the rows behind it.
"""

from __future__ import annotations

from workshop.core.holding import hold, hold_one
from workshop.core.models import Turn


def take_turn(workshop_id: int, what: str) -> int:
    """Wait until nobody else of this workshop does that, and hold it until the transaction ends.

    Answers the number after which those of this kind go on, 0 where nothing was ever restored.
    """
    mine = Turn.objects.filter(workshop_id=workshop_id, what=what)
    held = hold(mine).first()
    if held is None:
        Turn.objects.bulk_create([Turn(workshop_id=workshop_id, what=what)], ignore_conflicts=True)
        held = hold_one(mine)
    return held.after
