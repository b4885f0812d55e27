"""Figures of every later form, part, surface and practice as they were released: one that moves is moved on purpose.

``tests/kept/forms.json`` was written from figures that are held by arithmetic of its own elsewhere; after a change that
is meant, ``python -m tests.ringcraft.test_forms_kept`` writes it anew, and what changed stands in the commit.
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import pytest

from ringcraft.practice.asking import EXERCISES
from ringcraft.practice.plan import practice
from ringcraft.styles import ring
from ringcraft.work.plan import WorkPlan
from tests.forms import FORMS
from tests.orders import order, style_order

KEPT = Path(__file__).parents[1] / "kept" / "forms.json"
LEVEL = {"part": "end-heights", "left_mm": 1.86, "right_mm": 1.79, "floor_mm": 1.6}
ORDERS: dict[str, dict[str, Any]] = {
    **FORMS,
    "from a strip": {
        key: value for key, value in style_order("hollow-signet", strip_mm=64.5).items() if key != "rise_mm"
    },
    "end heights": style_order("shank", gap_mm=6) | {"parts": [LEVEL]},
    "three surfaces": order(surfaces={"inside": "mirror", "edges": "matte", "outside": "satin"}),
    "tumbled, dark": order(surfaces={"outside": "dark", "edges": "tumbled", "inside": "tumbled"}),
    "by hand, face by face": order(finish_with="hand", surfaces={"outside": "satin", "by": "face"}),
}


def figures(plan: WorkPlan) -> dict[str, Any]:
    """What of a plan is held: its pieces, where they end, what is done to them."""
    return {
        "blanks": {
            one.name: [one.cut_length_mm, one.width_mm, one.volume_mm3, one.mass_g, float(one.count)]
            for one in plan.blanks
        },
        "told": {one.key: one.value for one in plan.figures},
        "ends": {
            name: [piece.length_mm, piece.thickness_mm, piece.volume_mm3, float(len(piece.joined))]
            for name, piece in plan.route[-1].after.items()
        },
        "steps": [step.key for step in plan.route],
    }


def found() -> dict[str, Any]:
    """The figures of all of them as they are today."""
    made = {name: figures(ring(one)) for name, one in ORDERS.items()}
    return made | {f"practice {key}": figures(practice({"exercise": key, "rounds": 2})) for key in EXERCISES}


def same(old: Any, new: Any) -> bool:
    """Whether a kept figure, or a list or table of them, is what it was."""
    if isinstance(old, Mapping):
        return isinstance(new, Mapping) and old.keys() == new.keys() and all(same(old[k], new[k]) for k in old)
    if isinstance(old, list):
        return len(old) == len(new) and all(map(same, old, new))
    if isinstance(old, float):
        return math.isclose(old, new, rel_tol=1e-9, abs_tol=1e-9)
    return bool(old == new)


@pytest.fixture(scope="module")
def today() -> dict[str, Any]:
    return found()


def test_every_one_of_them_is_kept(today: dict[str, Any]) -> None:
    assert set(json.loads(KEPT.read_text())) == set(today)


@pytest.mark.parametrize("name", list(json.loads(KEPT.read_text())) if KEPT.exists() else [])
def test_no_figure_of_a_form_moved_unseen(name: str, today: dict[str, Any]) -> None:
    kept = json.loads(KEPT.read_text())[name]
    for part, old in kept.items():
        assert same(old, json.loads(json.dumps(today[name][part]))), f"{name}: {part}"


if __name__ == "__main__":
    KEPT.write_text("{\n" + ",\n".join(f"{json.dumps(k)}: {json.dumps(v)}" for k, v in found().items()) + "\n}\n")
