"""Estimates: each line from what the plan really is, rounded so that the lines add up, nothing passed over in silence."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from ringcraft.errors import BadRequest
from ringcraft.metals import METALS
from ringcraft.money.estimate import estimate_of
from ringcraft.money.prices import Prices
from ringcraft.schema import read_request
from tests.orders import plan
from tests.resizes import plan as resize

FULL: dict[str, Any] = {
    "metals": "sterling 1.37; 14k yellow 39; 14k white (nickel) 41",
    "hour": "60",
    "solder": "2,50",
    "setting": 15,
    "plating": 12,
}
KIND: TypeAdapter[Prices] = TypeAdapter(Prices)


def prices(**changes: Any) -> Prices:
    return read_request(KIND, {**FULL, **changes})


def amounts(made: Any, **changes: Any) -> dict[str, Decimal]:
    return {line.key: Decimal(line.amount) for line in estimate_of(made, prices(**changes)).lines}


def test_a_ring_to_make_costs_its_metal_its_solder_and_its_hours() -> None:
    made = plan()
    told = amounts(made)
    grams = Decimal(f"{made.blanks[0].mass_g:.2f}")
    assert told["metal"] == (grams * Decimal("1.37")).quantize(Decimal("0.01"))
    assert told["solder"] == Decimal("2.50")
    assert told["work"] == sum(Decimal(str(step.hands_min)) for step in made.route)  # at 60 an hour a minute is one
    assert set(told) == {"metal", "solder", "work"}


def test_a_resize_costs_what_is_set_in_and_credits_what_stays() -> None:
    up = amounts(resize(to="US 7 1/4"))
    assert up["metal"] > 0
    assert up["solder"] == 5
    down = resize(to="US 4 3/4", offcut="credited")
    told = amounts(down)
    piece = dict(down.chosen.figures)["piece_mm"]
    grams = Decimal(f"{piece * down.section.area_mm2 * METALS['gold-14k-yellow'].density_g_cm3 / 1000:.2f}")  # type: ignore[operator]
    assert told["credit"] == -(grams * 39).quantize(Decimal("0.01"))
    assert "credit" not in amounts(resize(to="US 4 3/4"))
    assert "metal" not in told


def test_what_is_credited_weighs_what_the_shops_sheet_says() -> None:
    """The same piece, of a metal that is heavier by its supplier's sheet, is credited for more."""
    down: dict[str, Any] = {"to": "US 4 3/4", "offcut": "credited"}
    ours, theirs = resize(**down), resize(**down, own={"metals": "14k yellow 13.9"})
    density = METALS["gold-14k-yellow"].density_g_cm3
    assert theirs.offcut_g / ours.offcut_g == pytest.approx(13.9 / density)
    assert amounts(theirs)["credit"] == -(Decimal(f"{theirs.offcut_g:.2f}") * 39).quantize(Decimal("0.01"))


def test_nothing_is_weighed_of_a_metal_that_nobody_knows() -> None:
    for changes in ({"to": "US 4 3/4", "offcut": "credited"}, {"to": "US 7 1/2"}):
        made = estimate_of(resize(metal="unknown", method="take-out" if changes["to"] < "US 6" else "add-stock", **changes),
                           prices(metals="sterling 1"))  # fmt: skip
        assert "metal: nobody knows yet what it is made of" in made.missing
        assert not {line.key for line in made.lines} & {"metal", "credit"}


def test_half_a_cent_is_rounded_up() -> None:
    assert amounts(plan(), solder="2.505")["solder"] == Decimal("2.51")


def test_stones_set_again_and_plating_are_counted() -> None:
    made = resize(
        to="US 7 1/4", stones=[{"kind": "opal"}, {"kind": "emerald"}, {"kind": "diamond"}], features=["plated"]
    )
    told = amounts(made)
    assert (told["setting"], told["plating"]) == (30, 12)
    assert "plating" in amounts(plan(metal="gold-14k-white-nickel"))
    assert "plating" not in amounts(plan())


def test_what_has_no_price_is_said_and_not_in_the_sum() -> None:
    made = estimate_of(resize(to="US 7 1/4", stones=[{"kind": "opal"}], features=["plated"]), Prices())
    assert (made.lines, made.total) == ((), "0.00")
    said = " ".join(made.missing)
    for word in ("14k yellow", "minutes of hands", "stone set again", "plating"):
        assert word in said


@given(hour=st.decimals(0, 500, places=2), metal=st.decimals(0, 90, places=3), decimals=st.integers(0, 3))
def test_the_lines_add_up_to_the_total(hour: Decimal, metal: Decimal, decimals: int) -> None:
    given_ = prices(hour=str(hour), metals=f"sterling {metal}", decimals=decimals)
    made = estimate_of(plan(), given_)
    assert sum(Decimal(line.amount) for line in made.lines) == Decimal(made.total)
    assert all(-Decimal(line.amount).as_tuple().exponent == decimals for line in made.lines)  # type: ignore[operator]


@pytest.mark.parametrize(("changes", "field"), [
    ({"metals": "gold of fools 3"}, "metals"), ({"metals": "sterling"}, "metals"), ({"metals": "sterling -1"}, "metals"),
    ({"hour": "lots"}, "hour"), ({"hour": "1" * 30}, "hour"), ({"hour": True}, "hour"), ({"hour": "NaN"}, "hour"),
    ({"currency": "1 euro"}, "currency"), ({"currency": ""}, "currency"), ({"decimals": 4}, "decimals"),
    ({"decimals": "two"}, "decimals"), ({"setting": "1e9"}, "setting"), ({"metals": "x" * 900}, "metals"),
])  # fmt: skip
def test_what_is_no_price_is_refused_at_its_field(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        prices(**changes)
    assert {error.field.split(".")[0] for error in refused.value.errors} == {field}
