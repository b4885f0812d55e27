"""Orders that tests plan: small builders, so that a test says only what it is about."""

from __future__ import annotations

from typing import Any

from ringcraft.planning.request import RingRequest
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, plan_ring, ring
from ringcraft.styles.base import RingPlan
from ringcraft.styles.orders import first_order
from ringcraft.work.fields import set_path
from ringcraft.works import MAKE, follow

TESTED_SIZE = "US 7 1/2"  # a known case of the trade: it serves as a check value only
#: One stock of each profile, valid on any finger.
STOCKS: dict[str, dict[str, Any]] = {
    "round": {"thickness_mm": 2.0},
    "square": {"thickness_mm": 2.0},
    "rectangle": {"width_mm": 4.0, "thickness_mm": 1.5},
    "sheet": {"width_mm": 8.0, "thickness_mm": 0.7},
    "half-round": {"width_mm": 4.0, "thickness_mm": 1.8},
    "d": {"width_mm": 4.0, "thickness_mm": 2.0, "side_mm": 0.8},
    "oval": {"width_mm": 3.0, "thickness_mm": 1.5},
    "triangle": {"width_mm": 3.0, "thickness_mm": 2.0},
    "court": {"width_mm": 4.0, "thickness_mm": 1.7},
}


def order(profile: str = "half-round", **changes: Any) -> dict[str, Any]:
    """A whole order as JSON data; ``stock`` in the changes is laid over the profile's."""
    stock = {"profile": profile, **STOCKS[profile], **changes.pop("stock", {})}
    base = {"style": "plain-band", "size": TESTED_SIZE, "metal": "sterling", "stock": stock}
    return {**base, **changes}


def plan(profile: str = "half-round", **changes: Any) -> RingPlan:
    """The plan of such an order."""
    return ring(order(profile, **changes))


def style_order(style: str, **changes: Any) -> dict[str, Any]:
    """The order that a style begins with; a change named ``middle__end`` sets the field ``middle.end``."""
    data = first_order(STYLES[style]) | {"size": TESTED_SIZE}
    if style == "tapered":  # the bar that the tests' own figures were worked out for
        data |= {"middle": {"thickness_mm": "2", "width_mm": "4"}, "end_mm": "8"}
        data["stock"] = {"profile": "square", "thickness_mm": "4.0"}
    for path, value in changes.items():
        set_path(data, path.replace("__", "."), value)
    return data


def style_plan(style: str, **changes: Any) -> Any:
    """The plan of such an order."""
    return ring(style_order(style, **changes))


def followed(order: RingRequest, measured: dict[str, float]) -> Any:
    """What follows of a plan that was kept, for what was measured of it."""
    return follow(MAKE, to_json(order), plan_ring(order), measured)


#: nothing but the ring itself: no joint, no policy, no rounding
BARE: dict[str, Any] = {"leave": "exact", "round_to_mm": 0, "join": {"saw_passes": 0}}


def sheet_order(style: str, **changes: Any) -> dict[str, Any]:
    """The order that the sheet itself begins with, changed in the same way."""
    data = first_order(STYLES[style])
    for path, value in changes.items():
        set_path(data, path.replace("__", "."), value)
    return data


def sheet_plan(style: str, **changes: Any) -> Any:
    """The plan of such an order."""
    return ring(sheet_order(style, **changes))
