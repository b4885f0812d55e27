"""Prices of pure metals from a feed, and what alloys, scrap and rings are worth by them."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.metals import METALS
from ringcraft.money.estimate import estimate_of
from ringcraft.money.feed import MOST_BYTES, TROY_OUNCE_G, BadFeedError, is_absurd, read_feed
from ringcraft.money.prices import MetalPrice, Prices
from ringcraft.money.worth import ELEMENTS, Lot, gram_worth, jar_worth, made_of, with_feed
from ringcraft.styles import ring
from tests.orders import order

NOW = datetime(2027, 3, 18, 12, tzinfo=UTC)
GOOD: dict[str, Any] = {
    "currency": "EUR", "unit": "g", "at": "2027-03-18T09:00:00+00:00", "prices": {"silver": "0.80", "gold": 62.5},
}  # fmt: skip
BASES = {"silver": Decimal("0.80"), "gold": Decimal("62.5")}


def feed(**changes: Any) -> bytes:
    return json.dumps({k: v for k, v in {**GOOD, **changes}.items() if v is not None}).encode()


def test_a_feed_is_read_by_its_own_words() -> None:
    read = read_feed(feed(), NOW)
    assert read.currency == "EUR"
    assert read.per_gram == BASES
    ounces = read_feed(feed(unit="ozt", prices={"gold": f"{Decimal('62.5') * TROY_OUNCE_G}"}), NOW)
    assert ounces.per_gram["gold"] == Decimal("62.5")
    assert read_feed(feed(prices={"silver": 1, "unobtainium": 7}), NOW).per_gram == {"silver": Decimal(1)}
    assert read_feed(feed(at="2027-03-18T09:00:00"), NOW).at.tzinfo is not None


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (feed(currency=None), "no currency"),
        (feed(currency=""), "no currency"),
        (feed(unit=None), "no unit"),
        (feed(unit="oz"), "no unit"),
        (feed(unit=["g"]), "no unit"),
        (feed(at=None), "quoted"),
        (feed(at="yesterday"), "quoted"),
        (feed(at="2029-01-01T00:00:00+00:00"), "not come yet"),
        (feed(prices={}), "no prices"),
        (feed(prices={"unobtainium": 7}), "no price of silver"),
        (feed(prices={"gold": "dear"}), "is none"),
        (feed(prices={"gold": True}), "is none"),
        (feed(prices={"gold": -3}), "is none"),
        (feed(prices={"gold": 0}), "away"),
        (feed(prices=[1]), "no prices"),
        (b"[]", "no list"),
        (b"{", "no JSON"),
        (b"\xff\xfe", "no JSON"),
        (b'{"currency": NaN}', "no JSON"),
        (b"[" * 5000, "no JSON"),
        (b" " * (MOST_BYTES + 1), "64 kB"),
        (feed(prices={"gold": 10**400}), "is none"),
    ],
)
def test_a_feed_that_lacks_anything_is_refused_in_a_sentence(raw: bytes, said: str) -> None:
    with pytest.raises(BadFeedError) as problem:
        read_feed(raw, NOW)
    assert said in problem.value.message
    assert "stay" in problem.value.hint


@given(raw=st.binary(max_size=300))
def test_no_feed_is_ever_a_traceback(raw: bytes) -> None:
    try:
        read_feed(raw, NOW)
    except BadFeedError as problem:
        assert problem.message  # noqa: PT017


@pytest.mark.parametrize(
    ("new", "days", "absurd"),
    [(109, 1, False), (111, 1, True), (119, 4, False), (121, 4, True), (89, 1, True), (91, 1, False), (111, 0.1, True),
     (109, 0.0, False), (129, 9, False), (131, 9, True)],
)  # fmt: skip
def test_a_price_is_absurd_beyond_a_tenth_times_the_root_of_the_days(new: int, days: float, absurd: bool) -> None:
    assert is_absurd(Decimal(100), Decimal(new), days) is absurd


def test_an_alloy_is_worth_what_is_precious_in_it() -> None:
    assert gram_worth(METALS["sterling"], BASES) == Decimal("0.925") * Decimal("0.80")
    nine = METALS["gold-9k-yellow"].composition
    by_hand = nine["Au"] * 62.5 + nine.get("Ag", 0) * 0.80
    assert float(gram_worth(METALS["gold-9k-yellow"], BASES) or 0) == pytest.approx(by_hand)
    assert gram_worth(METALS["platinum-950"], BASES) is None  # nobody said what platinum costs
    assert gram_worth(METALS["copper"], BASES) is None
    assert made_of(METALS["sterling"]) == "925 silver, 75 copper"
    for metal in METALS.values():
        assert all(sign in ELEMENTS for sign in metal.composition), metal.key


def test_the_shop_s_own_price_goes_before_the_feed_s() -> None:
    own = Prices(metals=(MetalPrice(metal="sterling", price="1.30"),), metal_more=0.2)
    prices = with_feed(own, BASES, "by the price of 16 Mar")
    made = {one.metal: one.price for one in prices.feed}
    assert "sterling" not in made
    assert Decimal(made["fine-silver"]) == Decimal("0.96")
    assert "platinum-950" not in made
    sterling, silver = (estimate_of(ring(order(metal=metal)), prices) for metal in ("sterling", "fine-silver"))
    assert "at 1.30" in sterling.lines[0].why
    assert "16 Mar" not in sterling.lines[0].why
    assert "at 0.9600, by the price of 16 Mar" in silver.lines[0].why
    grams = round(ring(order(metal="fine-silver")).blanks[0].mass_g, 2)
    assert float(silver.lines[0].amount) == pytest.approx(grams * 0.96, abs=0.005)


def test_a_part_of_another_metal_is_its_own_line() -> None:
    bezel = {
        "part": "bezel",
        "metal": "fine-silver",
        "stone": {"length_mm": 5},
        "thickness_mm": 0.3,
        "height_mm": 2.5,
    }
    prices = Prices(metals=(MetalPrice(metal="sterling", price="1"), MetalPrice(metal="fine-silver", price="3")))
    lines = {line.key: line for line in estimate_of(ring(order(parts=[bezel])), prices).lines}
    assert {"metal", "metal-fine-silver"} <= set(lines)
    assert "fine silver at 3" in lines["metal-fine-silver"].why


def test_a_jar_is_worth_its_lots_and_a_refiner_keeps_his_share() -> None:
    lots = [Lot("sterling", 40.0), Lot("gold-14k-yellow", 3.0), Lot("copper", 100.0), Lot("platinum-950", 2.0)]
    jar = jar_worth(lots, BASES, Prices(refiner_keeps=0.1))
    by_metal = {lot.metal: lot for lot in jar.lots}
    assert by_metal["sterling"].fine_g == pytest.approx(37.0)
    assert by_metal["sterling"].worth == "29.60"
    assert by_metal["sterling"].returns == "26.64"
    assert by_metal["sterling"].returns_fine_g == pytest.approx(33.3)
    gold = METALS["gold-14k-yellow"].composition
    worth = 3 * (gold["Au"] * 62.5 + gold.get("Ag", 0) * 0.8)
    assert float(by_metal["gold-14k-yellow"].worth or 0) == pytest.approx(worth, abs=0.006)
    assert float(jar.worth) == pytest.approx(29.60 + worth, abs=0.006)
    assert float(jar.returns) == pytest.approx(0.9 * float(jar.worth), abs=0.02)
    assert by_metal["platinum-950"].worth is None
    assert ["platinum 950" in line for line in jar.missing] == [True]  # copper is worth nothing, and is not missed
    assert jar_worth([], BASES, Prices()).says == "There is no scrap in the drawer."
