"""Whatever comes in at a joint or a heat: an answer or a craft error at a field, never another failure, never NaN."""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from typing import Any

import pytest

from ringcraft.commands import heat, joint
from ringcraft.errors import BadRequest
from ringcraft.schema import to_json
from tests.joints import in_flame, seen
from tests.ringcraft.test_ugly import UGLY

JOINT = seen(
    views={"side": "light", "other-side": "none", "top": "none", "under": "none", "inside": "none"}, gap_mm=0.1, step_mm=0,
    twist_deg=0, own_spring=True, passes_made=1, passes_planned=1, filed_mm=0, blade="4/0", solder="silver-medium",
    chip={"length_mm": 1, "width_mm": 1, "thickness_mm": 0.2}, tried=["bend"], wanted_mm=17, later_mm=0, units="mm",
    seams=[{"key": "a", "title": "t", "solder": "silver-hard", "melts_c": 700, "guarded": False}], home_scale="us",
)  # fmt: skip
HEAT = in_flame(
    water_share=0.3, roll_deg=5, insert_mm=2, tweezers_mm=5, stone="diamond", stone_at_mm=3, with_it_mm3=4, flux="paste",
    seams=[{"key": "a", "title": "t", "at_mm": 4, "melts_c": 700, "guarded": False, "above": False}], inlay=False,
    torches=[{"title": "a", "done": "flowed", "metal": "copper", "mass_g": 4}], against=["copper"], solder="silver-hard",
    assume={"conductivity": 300, "density": 1e4, "specific_heat": 250, "h_air": 60, "h_water": 5000, "emissivity": 0.2,
            "flame_width_mm": 1, "air_c": 20, "power_w": 12},
)  # fmt: skip


def paths(data: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    parts = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for name, part in parts:
        yield (*path, name)
        yield from paths(part, (*path, name))


def with_ugly(data: dict[str, Any], path: tuple[Any, ...], ugly: Any) -> dict[str, Any]:
    out = copy.deepcopy(data)
    at: Any = out
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = copy.deepcopy(ugly)
    return out


@pytest.mark.sweep
@pytest.mark.parametrize("path", list(paths(JOINT)), ids=lambda path: ".".join(map(str, path)))
def test_a_joint_bears_anything_at_any_field(path: tuple[Any, ...]) -> None:
    bears_all(joint, JOINT, path)


@pytest.mark.sweep
@pytest.mark.parametrize("path", list(paths(HEAT)), ids=lambda path: ".".join(map(str, path)))
def test_a_ring_in_the_flame_bears_anything_at_any_field(path: tuple[Any, ...]) -> None:
    bears_all(heat, HEAT, path)


def bears_all(command: Any, data: dict[str, Any], path: tuple[Any, ...]) -> None:
    for ugly in UGLY:
        try:
            answer = command(with_ugly(data, path, ugly))
        except BadRequest as problem:
            if not all(one.message for one in problem.errors):
                raise
            continue
        json.dumps(to_json(answer), allow_nan=False)
