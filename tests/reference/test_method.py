"""The worked examples of docs/method.md: every line is computed again, and the last is the plan's own figure."""

from __future__ import annotations

import json
import math
import re
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest

from ringcraft.resize.plan import resize
from ringcraft.styles import STYLES, ring

PAGE = (Path(__file__).parents[2] / "docs" / "method.md").read_text()
EXAMPLE = re.compile(r"```json order (?P<blank>\S+)\n(?P<order>.*?)\n```\n\n```work\n(?P<work>.*?)\n```", re.S)
RESIZE = re.compile(r"```json resize (?P<figure>\S+)\n(?P<order>.*?)\n```\n\n```work\n(?P<work>.*?)\n```", re.S)
RESIZES = list(RESIZE.finditer(PAGE))
FUNCTIONS = {
    name: getattr(math, name)
    for name in ("pi", "sqrt", "sin", "cos", "tan", "acos", "atan2", "radians", "floor", "ceil")
}
EXAMPLES = {json.loads(one["order"])["style"]: one for one in EXAMPLE.finditer(PAGE)}


def test_every_style_has_its_example() -> None:
    assert set(EXAMPLES) == set(STYLES)


@pytest.mark.parametrize("style", STYLES)
def test_an_example_is_true_in_every_line_and_ends_at_the_plans_length(style: str) -> None:
    example = EXAMPLES[style]
    known = computed(example["work"])
    plan = ring(json.loads(example["order"]))
    blank = next(one for one in plan.blanks if one.name == example["blank"])
    assert known["cut"] == pytest.approx(blank.cut_length_mm, abs=0.005)


@pytest.mark.parametrize("example", RESIZES, ids=[one["figure"] for one in RESIZES])
def test_an_example_of_a_resize_is_true_in_every_line_and_ends_at_its_figure(example: Any) -> None:
    known = computed(example["work"])
    told = dict(resize(json.loads(example["order"])).chosen.figures)
    assert known["figure"] == pytest.approx(told[example["figure"]], abs=0.001)
    outside = next(value for name, value in told.items() if name in ("mark_outside_mm", "insert_outside_mm"))
    assert known["outside"] == pytest.approx(outside, abs=0.001)


def computed(work: str) -> dict[str, Any]:
    """Each line of an example, computed again from those before it; every figure that is said must be so."""
    known: dict[str, Any] = {}
    for line in work.splitlines():
        name, _, rest = line.partition(" = ")
        sum_, _, said = rest.rpartition(" = ")
        places = -int(Decimal(said).as_tuple().exponent)
        value = eval(sum_, {**FUNCTIONS, "round": round}, known)
        assert float(said) == pytest.approx(value, abs=0.6 * 10**-places), line
        known[name] = float(said)
    return known
