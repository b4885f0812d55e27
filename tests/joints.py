"""Joints and rings in the flame, for tests: small builders, so that a test says only what it is about."""

from __future__ import annotations

from typing import Any

from ringcraft.heat.answer import HeatAnswer, heat
from ringcraft.joint.answer import JointAnswer, joint

BAR = {"profile": "rectangle", "width_mm": 4.0, "thickness_mm": 1.6}
WEDGE = {"side": "wedge-out", "other-side": "wedge-out"}


def seen(**changes: Any) -> dict[str, Any]:
    """A closed joint of a sterling band, as JSON data; ``stock`` and ``inside`` in the changes are its ring's."""
    stock, inside = changes.pop("stock", BAR), changes.pop("inside", 16.6)
    return {"metal": "sterling", "ring": {"inside_diameter_mm": inside, "stock": stock}, **changes}


def look(**changes: Any) -> JointAnswer:
    """The answer to such a joint."""
    return joint(seen(**changes))


def in_flame(**changes: Any) -> dict[str, Any]:
    """A sterling band in the flame, as JSON data."""
    return seen(**{"flow_c": 790, **changes})


def flame(**changes: Any) -> HeatAnswer:
    """The answer to such a ring."""
    return heat(in_flame(**changes))


def told(answer: HeatAnswer) -> str:
    """All that is said of a ring in the flame."""
    return " ".join(answer.says)
