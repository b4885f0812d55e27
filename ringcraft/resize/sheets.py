"""What the sheet of a joint or of a heat asks of a ring that came in."""

from __future__ import annotations

from ringcraft.measure.sizes import SCALES
from ringcraft.resize.asking import ResizeRequest
from ringcraft.resize.plan import ResizePlan
from ringcraft.resize.stones import ADVICE, OUT, StoneAdvice
from ringcraft.work.order import AtSheet, HeatedStone

#: From the one that needs the most care of those that stay in.
_CARE = [care for care in ADVICE if care not in OUT]


def at_sheet(order: ResizeRequest, now: ResizePlan) -> AtSheet:
    """What a resize answers where its joint or its heat is opened."""
    stays = [one for one in now.stone_advice if not one.comes_out]
    stone = min(stays, key=lambda one: (_CARE.index(one.care), one.leg_mm), default=None)
    return AtSheet(
        blade=order.join.blade,
        gauge=order.to_gauge,
        scale=now.target.read_as if now.target.read_as in SCALES else order.home_scale,
        stone=_heated(order, stone) if stone else None,
        inlay="inlay" in order.features,
    )


def _heated(order: ResizeRequest, stone: StoneAdvice) -> HeatedStone:
    """A stone of an older plan, whose bench did not know it: where it sits, if that is not in the head."""
    own = [one.from_joint_mm for one in order.stones if one.from_joint_mm is not None]
    beside = any(abs(place - stone.leg_mm) < 1e-9 for place in own)
    return HeatedStone(stone.kind, stone.leg_mm if beside else None, stone.care == "water", stone.care == "shield")
