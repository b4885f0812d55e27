"""What the sheet of a joint or of a heat asks of a ring that is made."""

from __future__ import annotations

from ringcraft.measure.sizes import SCALES
from ringcraft.planning.request import Join, RingRequest
from ringcraft.styles.base import RingPlan
from ringcraft.work.order import AtSheet


def at_sheet(order: RingRequest, now: RingPlan) -> AtSheet:
    """What a ring to make answers where its joint or its heat is opened."""
    return AtSheet(
        blade=(order.join or Join()).blade,
        gauge=order.gauge,
        scale=now.target.read_as if now.target.read_as in SCALES else order.home_scale,
    )
