"""A cut plan of sheets laid out again from its answer alone: nothing here is shared with what made it."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Sequence
from typing import Any

from ringcraft.stock.cutting.shapes import CutPlan

HAIR = 1e-5
Box = tuple[float, float, float, float]


def from_edge_to_edge(boxes: Sequence[Box], kerf: float) -> bool:
    """Whether straight cuts from edge to edge free every box."""
    if len(boxes) <= 1:
        return True
    for side in (0, 1):
        ordered = sorted(boxes, key=lambda box: box[side])
        end = ordered[0][side] + ordered[0][side + 2]
        for at in range(1, len(ordered)):
            free = ordered[at][side] >= end + kerf - HAIR
            if free and from_edge_to_edge(ordered[:at], kerf) and from_edge_to_edge(ordered[at:], kerf):
                return True
            end = max(end, ordered[at][side] + ordered[at][side + 2])
    return False


def laid_on_sheets(asked: dict[str, Any], plan: CutPlan) -> None:
    """Every blank lies on its sheet as wide and long as asked, a kerf from every other and from every rest."""
    kerf = float(asked.get("kerf_mm", 0.0))
    sheets = {one["id"]: one for one in asked["sheets"]}
    blanks = {one["id"]: one for one in asked["blanks"]}
    wanted = Counter({one["id"]: one.get("count", 1) for one in asked["blanks"]})
    assert Counter([*(name for strip in plan.strips for name in strip.cuts), *plan.unplaced]) == wanted
    boxes: dict[str, list[Box]] = {}
    for strip in plan.strips:
        at = strip.from_mm
        for place, length in zip(strip.places, strip.lengths_mm, strict=True):
            blank = blanks[place.id]
            flat = (blank["length_mm"], blank["width_mm"]) == (place.long_mm, place.wide_mm)
            turned = (blank["width_mm"], blank["length_mm"]) == (place.long_mm, place.wide_mm)
            assert flat or (turned and blank.get("direction") != "along")
            assert (blank["length_mm"], blank["width_mm"]) == (length, strip.width_mm)
            across, along = (place.long_mm, place.wide_mm) if strip.turned else (place.wide_mm, place.long_mm)
            assert (across, along) == (strip.width_mm, length)
            begin, beside = (place.y_mm, place.x_mm) if strip.turned else (place.x_mm, place.y_mm)
            assert abs(beside - strip.at_mm) < HAIR
            assert begin >= at - HAIR
            at = begin + along
            boxes.setdefault(strip.sheet_id, []).append((place.x_mm, place.y_mm, place.long_mm, place.wide_mm))
    for rest in plan.rests:
        boxes.setdefault(rest.sheet_id, []).append((rest.x_mm, rest.y_mm, rest.long_mm, rest.wide_mm))
    for name, listed in boxes.items():
        for x, y, long, wide in listed:
            assert min(x, y) >= -HAIR
            assert x + long <= sheets[name]["length_mm"] + HAIR
            assert y + wide <= sheets[name]["width_mm"] + HAIR
        for one, other in itertools.combinations(listed, 2):
            beside = [max(other[i] - one[i] - one[i + 2], one[i] - other[i] - other[i + 2]) for i in (0, 1)]
            assert max(beside) >= kerf - HAIR
        assert from_edge_to_edge(listed, kerf)
    opened = {strip.sheet_id for strip in plan.strips}
    assert plan.bound_sheets <= len(opened)
    if plan.optimal:
        assert plan.bound_sheets == len(opened)
        assert plan.unplaced_proven


def goes_in_three_stages(long: int, wide: int, blanks: Sequence[tuple[int, int, bool]]) -> bool:
    """Whether blanks (length, width, turned or not as it likes) go on a sheet: every way is written down and tried."""
    for lying in itertools.product(*(((a, b),) if along else ((a, b), (b, a)) for a, b, along in blanks)):
        for room, over, items in (
            (long, wide, lying),
            (wide, long, [(b, a) for a, b in lying]),
        ):
            if any(_strips_go(room, over, strips) for strips in _partitions(list(items))):
                return True
    return False


def _partitions(items: list[Any]) -> list[list[list[Any]]]:
    """All ways to put items together in heaps."""
    if not items:
        return [[]]
    out = []
    for rest in _partitions(items[1:]):
        out.append([[items[0]], *rest])
        out += [[*rest[:at], [items[0], *rest[at]], *rest[at + 1 :]] for at in range(len(rest))]
    return out


def _strips_go(room: int, over: int, strips: list[list[Any]]) -> bool:
    """Whether heaps of blanks make strips that lie side by side: each the narrowest of all its ways."""
    total = 0
    for items in strips:
        widths = [
            max(sum(wide for _, wide in part) for part in parts)
            for parts in _partitions(items)
            if sum(max(long for long, _ in part) for part in parts) <= room
        ]
        if not widths:
            return False
        total += min(widths)
    return total <= over
