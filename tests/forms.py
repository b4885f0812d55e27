"""Every part for a top and every later form of a style: orders that tests plan, print and hold to their figures."""

from __future__ import annotations

from typing import Any

from tests.orders import style_order
from tests.ringcraft.test_parts import ALL

SEAT = {"arrangement": "seat", "finished_metal": "gold-18k-yellow", "sleeve_mm": 0.9, "step_mm": 3.0, "outer": []}
STRIP = {"profile": "rectangle", "width_mm": 3.2, "thickness_mm": 1.9}
FORMS: dict[str, dict[str, Any]] = {
    "dished": style_order("dished"),
    "bypass": style_order("adjustable", layout="bypass", dish_mm=0.4),
    "lapped, dished": style_order("adjustable", dish_mm=0.4),
    "seat": {**style_order("stack"), **SEAT, "stock": STRIP},
    "thick middle": {
        **{key: value for key, value in style_order("tapered").items() if key not in ("middle", "end_mm")},
        "form": "thick-middle", "middle_mm": 14, "ends": {"thickness_mm": 2, "width_mm": 4},
    },
    "small round": style_order("shank", gap_mm=6, small_round=True),
    "walls one at a time": style_order("channel-inlay", heats="one-by-one"),
    "a mark inside": style_order("stamped", face="inside"),
    **{f"{n} {part['part']}": {**style_order("plain-band"), "parts": [part]} for n, part in enumerate(ALL)
       if part["part"] != "end-heights"},
}  # fmt: skip
