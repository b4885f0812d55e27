"""Two orders side by side."""

import math

import pytest

from ringcraft.comparing import CompareRequest, compare
from ringcraft.errors import BadRequest
from ringcraft.styles import read_ring
from tests.orders import order, plan, style_order


def test_two_stocks_differ_by_their_neutral_lines() -> None:
    this, other = (
        order("square", leave="exact", round_to_mm=0),
        order("square", leave="exact", round_to_mm=0, stock={"thickness_mm": 1.8}),
    )
    made = compare(CompareRequest(this=read_ring(this), other=read_ring(other)))
    assert made.longer_mm == pytest.approx(-0.2 * math.pi)
    assert made.other.blanks[0].cut_length_mm == pytest.approx(
        plan("square", leave="exact", round_to_mm=0, stock={"thickness_mm": 1.8}).blanks[0].cut_length_mm
    )
    assert made.mixed_up_mm == pytest.approx(17.7292 - 0.2)
    assert "shorter" in made.says[0]
    assert "lighter" in made.says[0]


def test_two_rules_for_one_stock_are_named() -> None:
    made = compare(CompareRequest(this=read_ring(order()), other=read_ring(order(rule="mean-diameter"))))
    assert "longer by mean diameter than by neutral line" in made.says[0]
    assert "large" in made.says[1]
    same = compare(CompareRequest(this=read_ring(order()), other=read_ring(order())))
    assert same.says == ("The same length, as heavy.",)


def test_a_mistake_says_on_which_side() -> None:
    with pytest.raises(BadRequest) as caught:
        compare(CompareRequest(this=read_ring(order()), other=read_ring(style_order("tapered", end_mm=40))))
    assert caught.value.errors[0].field == "other.end_mm"
