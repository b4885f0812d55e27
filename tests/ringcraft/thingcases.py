"""Rings that come in, drawn so that every three of their properties meet at least once: a covering array, seeded."""

from __future__ import annotations

import itertools
import random
from functools import cache
from typing import Any

SEED = 21
TRIES = 24  # rows that are looked at before one is taken
STRONG = [{"title": "big torch", "done": "flowed", "metal": "sterling", "mass_g": 400}]
WEAK = [{"title": "small torch", "done": "flowed", "metal": "gold-14k-yellow", "mass_g": 1}]
#: Each property with its levels; a level is what is laid over a plain order.
LEVELS: dict[str, list[dict[str, Any]]] = {
    "way": [
        {"method": "stretch", "to": "US 6 1/4"},
        {"method": "stretch", "to": "US 6 3/4"},
        {"method": "compress", "to": "US 5 1/2"},
        {"method": "take-out", "to": "US 4 3/4"},
        {"method": "take-out", "to": "US 5 7/8"},
        {"method": "take-out", "to": "US 3 1/4"},
        {"method": "add-stock", "to": "US 6 1/2"},
        {"method": "add-stock", "to": "US 7 1/4"},
        {"method": "reshank", "to": "US 9"},
        {"method": "reshank", "to": "US 4"},
        {"method": "rejoin", "to": "US 6"},
        {"method": "refuse", "to": "US 7"},
        {},
    ],
    "top": [{}, {"head": {"span_mm": 5.0}}, {"head": {"span_mm": 11.0}}],
    "metal": [{"metal": key} for key in ("sterling", "fine-silver", "gold-14k-yellow", "gold-18k-white-nickel",
                                         "platinum-950", "palladium-950", "bronze", "unknown", "tungsten")],
    "stone": [{}, *({"kind": key} for key in ("diamond", "ruby", "garnet", "topaz", "emerald", "opal", "pearl", "doublet"))],
    "setting": [{"setting": key} for key in ("claw", "bezel", "pave", "flush", "peg", "channel")],
    "place": [{}, {"from_joint_mm": 1.0}, {"at_mm": -6.0}, {"at_mm": 12.0, "span_mm": 3.0}, {"from_joint_mm": 24.0}],
    "state": [{}, {"glued": True}, {"treated": True}],
    "feature": [[], ["hollow"], ["cracked"], ["plated"], ["pattern-all-round"], ["old-seam"], ["two-tone-head"],
                ["eternity"], ["inlay"], ["tension-set"], ["soft-solder"]],
    "school": [{}, {"delicate_stones": "water", "torches": STRONG}, {"delicate_stones": "water", "torches": WEAK},
               {"glued_stones": "strict", "torches": STRONG, "repair_solder": "hard"}],
    "made": [{}, {"made": [{"piece": "ring", "passes": 3}]}, {"made": [{"piece": "ring", "passes": 0, "filed_mm": 0.4}]}],
    "join": [{}, {"join": {"saw_passes": 0, "seam_passes": 1}}, {"join": {"heats": "together", "faces_mm": 0}}],
    "seam": [{}, {"seam_open": True}],
    "read": [{}, {"size-now": 0.12}, {"size-now": -0.35}, {"gap-inside": 0.15}],
}  # fmt: skip
NAMES = list(LEVELS)
Row = tuple[int, ...]


@cache
def covering(strength: int, most: int) -> tuple[Row, ...]:
    """Rows of levels in which every so many properties meet in every way; at most so many rows, by a fixed seed."""
    draw = random.Random(SEED)
    sizes = [len(LEVELS[name]) for name in NAMES]
    groups = list(itertools.combinations(range(len(sizes)), strength))
    left = {(group, levels) for group in groups for levels in itertools.product(*(range(sizes[i]) for i in group))}
    rows: list[Row] = []
    while left and len(rows) < most:
        best: tuple[int, Row] = (-1, ())
        seeds = draw.sample(sorted(left), min(TRIES, len(left))) if len(left) < 4000 else [next(iter(left))] * TRIES
        for group, levels in seeds:
            row = [draw.randrange(size) for size in sizes]
            for place, level in zip(group, levels, strict=True):
                row[place] = level
            gains = sum((one, tuple(row[i] for i in one)) in left for one in groups)
            best = max(best, (gains, tuple(row)))
        rows.append(best[1])
        left -= {(one, tuple(best[1][i] for i in one)) for one in groups}
    assert not left, f"{len(left)} meetings of {strength} are not in {most} rows"
    return tuple(rows)


def order_of(row: Row) -> tuple[dict[str, Any], dict[str, float]]:
    """A row as an order, and how far its readings are off what the plan expects."""
    said = {name: LEVELS[name][level] for name, level in zip(NAMES, row, strict=True)}
    order: dict[str, Any] = {"from": "US 6", "to": "US 6 1/2",
                             "shank": {"profile": "half-round", "width_mm": 3.2, "thickness_mm": 1.6}}  # fmt: skip
    for name in ("way", "top", "metal", "school", "made", "join", "seam"):
        order |= said[name]
    if said["stone"]:
        order["stones"] = [{**said["stone"], **said["setting"], **said["place"], **said["state"]}]
    order["features"] = said["feature"]
    return order, said["read"]
