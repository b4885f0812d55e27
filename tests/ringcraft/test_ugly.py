"""Whatever comes in: an answer or a craft error at a field, never another failure, never NaN, never infinity."""

import json
import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, ring
from ringcraft.styles.orders import first_order
from tests.slices import tries

UGLY: list[Any] = [
    None,
    "",
    "   ",
    "💍",
    "NaN",
    "inf",
    "-1",
    "0",
    0,
    -3,
    1e308,
    float("nan"),
    float("inf"),
    "1/0",
    "1,5",
    "1.5.2",
    "0x10",
    "3 kg",
    "9" * 400,
    "\x00",
    "½",
    "1 1/2",
    "16 ga",
    "1/16 in",
    True,
    [],
    {},
    [1, 2],
    {"a": 1},
    "<script>",
    "'; drop table",
    "１２",
    "٣",
    "\ud800",
    "9" * 5000,
    10**400,
    "US 00",
    -9000,
    1e-9,
    30,
]
styles = pytest.mark.parametrize("style", STYLES)


def paths(data: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in an order, its lists and objects included."""
    out = [at] if at else []
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        out += paths(value, (*at, key))
    return out


def with_value(data: Any, path: tuple[Any, ...], value: object) -> Any:
    """The same data with one place set to something else."""
    if not path:
        return value
    copy = dict(data) if isinstance(data, dict) else list(data)
    copy[path[0]] = with_value(copy[path[0]], path[1:], value)
    return copy


def is_leaf(data: Any, path: tuple[Any, ...]) -> bool:
    """Whether nothing lies below a place."""
    for step in path:
        data = data[step]
    return not isinstance(data, (dict, list))


def planned(data: Any) -> tuple[Any, BadRequest | None]:
    """The plan, or why there is none; anything else is a failure of the test."""
    try:
        return ring(data), None
    except BadRequest as problem:
        return None, problem


def plan_or_refuse(data: Any) -> None:
    """Either a whole plan in plain JSON, or an error that names a field that was sent or is missing."""
    made, problem = planned(data)
    if problem is not None:
        assert problem.errors
        for error in problem.errors:
            assert error.message
            assert "Traceback" not in error.message
            assert len(error.message) < 300
        return
    said = json.dumps(to_json(made), allow_nan=False)
    assert "{" in said
    for blank in made.blanks:
        assert math.isfinite(blank.cut_length_mm)
        assert 2 <= blank.cut_length_mm <= 400, (data, blank.name)
        assert 0 < blank.mass_g < 250, (data, blank.name)
    assert 9 <= made.closing.inside_diameter_mm <= 32, data
    for step in made.route:
        assert all(piece.length_mm > 0 and piece.volume_mm3 > 0 for piece in step.after.values()), (data, step.key)


@pytest.mark.sweep
@styles
@pytest.mark.parametrize("ugly", UGLY, ids=[ascii(value)[:24] for value in UGLY])
def test_one_ugly_value_anywhere(style: str, ugly: object) -> None:
    order = first_order(STYLES[style])
    for path in paths(order):
        plan_or_refuse(with_value(order, path, ugly))


@pytest.mark.sweep
@styles
@settings(max_examples=tries(60))
@given(data=st.data())
def test_two_random_figures_at_once(style: str, data: st.DataObject) -> None:
    order = first_order(STYLES[style])
    words = ("style", "metal", "size", "profile", "lines")
    places = [path for path in paths(order) if path[-1] not in words and is_leaf(order, path)]
    for _ in range(2):
        path = data.draw(st.sampled_from(places))
        figure = data.draw(st.floats(-2, 60, allow_nan=False) | st.sampled_from([0.0, 1e-9, 0.3, 1e5]))
        order = with_value(order, path, figure)
    plan_or_refuse(order)


@styles
def test_a_field_left_out_is_a_default_or_is_asked_for(style: str) -> None:
    order = first_order(STYLES[style])
    for name in order:
        if name == "style":
            continue
        _, problem = planned({key: value for key, value in order.items() if key != name})
        if problem is not None:
            assert name in {error.field.split(".")[0] for error in problem.errors}


@styles
def test_a_field_nobody_knows_is_refused_by_its_name(style: str) -> None:
    with pytest.raises(BadRequest) as caught:
        ring({**first_order(STYLES[style]), "sparkle": 3})
    assert caught.value.errors[0].field == "sparkle"


@pytest.mark.sweep
@pytest.mark.parametrize("size", ["US 0", "US 16", "UK A", "UK Z+6", "ISO 41", "JP 1", "11 mm ID", "28 mm ID"])
@styles
def test_the_smallest_and_the_largest_finger(style: str, size: str) -> None:
    plan_or_refuse({**first_order(STYLES[style]), "size": size})
