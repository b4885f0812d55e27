"""Every part for a top is one entry here: how it is made, its route, what a measure of it overrides."""

from __future__ import annotations

from ringcraft.parts import bezel, dish, end_heights, flattened_ends, prong, seat_ring, under_plate
from ringcraft.parts.base import PartKind
from ringcraft.routes.steps import check_route

PARTS: dict[str, PartKind] = {
    module.KIND.key: module.KIND
    for module in (bezel, seat_ring, under_plate, prong, flattened_ends, end_heights, dish)
}
for _kind in PARTS.values():
    check_route(_kind.route, _kind.facts)
