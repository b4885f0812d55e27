"""What the sheet of a joint or of a heat asks of a practice."""

from __future__ import annotations

from ringcraft.planning.request import Join
from ringcraft.practice.asking import PracticeRequest
from ringcraft.practice.plan import PracticePlan
from ringcraft.work.order import AtSheet


def at_sheet(order: PracticeRequest, now: PracticePlan) -> AtSheet:
    """What a practice answers where its joint or its heat is opened."""
    return AtSheet(blade=(order.join or Join()).blade, gauge=None, scale="us")
