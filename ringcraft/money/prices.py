"""The prices of a shop: read as they are typed, each said in the shop's currency."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal, InvalidOperation
from typing import Annotated

from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError, UnreadableError
from ringcraft.metals import METALS, MetalKey
from ringcraft.reading import entries, tidy
from ringcraft.schema import Share, request

DEAREST = Decimal(1_000_000)  # for one gram, hour, stone: more is a slip of the pen
MOST_DECIMALS = 3
REFINER_KEEPS = 0.05  # of what is in scrap, for melting and assaying; our own starting value
MOST_PRICES = 60
WRITE = "Write: sterling 1.10; 14k yellow 38."


def read_price(text: object) -> Decimal:
    """A price as typed: 38, 38.50 or 38,50; raises CraftError."""
    said = tidy(str(text)).replace(" ", "").replace(",", ".") if isinstance(text, (str, int, float, Decimal)) else ""
    try:
        value = Decimal(said) if len(said) <= 20 else Decimal("nan")
    except InvalidOperation:
        value = Decimal("nan")
    if isinstance(text, bool) or not value.is_finite():
        raise UnreadableError("", f"“{str(text)[:20]}” is not a price.", "Write 38 or 38.50.")
    if not 0 <= value <= DEAREST:
        raise OutOfRangeError("", "Nothing on a bench costs that.", f"From 0 to {DEAREST:,}.")
    return value


def _priced(value: object) -> object:
    return f"{read_price(value):f}"


@request
class MetalPrice:
    """What a gram of a metal costs, as exactly as it was typed."""

    metal: MetalKey
    price: Annotated[str, BeforeValidator(_priced)]


def _metal_prices(value: object) -> object:
    """Prices of metals as a list, or as one text: sterling 1.10; 14k yellow 38."""
    if isinstance(value, str):
        titles = {tidy(metal.title): key for key, metal in METALS.items()}
        said = [entry.rpartition(" ") for entry in map(tidy, entries(value))]
        value = [{"metal": titles.get(name, name), "price": price} for name, _, price in said]
    if not isinstance(value, (list, tuple)):
        raise UnreadableError("", "These are not prices of metals.", WRITE)
    if len(value) > MOST_PRICES:
        raise OutOfRangeError("", "More prices than there are metals.", f"At most {MOST_PRICES}.")
    return value


#: Prices per gram by metal.
MetalPrices = Annotated[tuple[MetalPrice, ...], BeforeValidator(_metal_prices)]


def by_metal(prices: Sequence[MetalPrice]) -> dict[str, Decimal]:
    """What a gram of each metal costs.

    >>> by_metal([MetalPrice(metal="gold-14k-yellow", price="38.50")])["gold-14k-yellow"]
    Decimal('38.50')
    """
    return {one.metal: Decimal(one.price) for one in prices}


def _currency(value: object) -> object:
    said = value.strip() if isinstance(value, str) else ""
    if not 0 < len(said) <= 8 or any(char.isdigit() or char.isspace() for char in said):
        raise UnreadableError("", "That is not how a currency is written.", "Such as EUR, or its sign.")
    return said


def _decimals(value: object) -> object:
    said = int(value) if isinstance(value, str) and value.strip().isdecimal() and len(value) < 4 else value
    if isinstance(said, bool) or not isinstance(said, int) or not 0 <= said <= MOST_DECIMALS:
        raise OutOfRangeError("", "A price has no so many decimals.", f"0 to {MOST_DECIMALS}.")
    return said


def _price(value: object) -> object:
    return float(read_price(value))


#: A price as typed, not below nought.
Price = Annotated[float, BeforeValidator(_price)]
Currency = Annotated[str, BeforeValidator(_currency)]
Decimals = Annotated[int, BeforeValidator(_decimals), Field(ge=0, le=MOST_DECIMALS)]


@request
class Prices:
    """What the shop asks: for a gram of each metal, an hour of hands, a joint's solder, a setting, plating.

    ``feed`` is what a gram costs where the shop has no price of its own, ``feed_said`` of when that is;
    ``metal_more`` is put on it, ``refiner_keeps`` is the share of scrap that does not come back.
    """

    currency: Currency = "EUR"
    decimals: Decimals = 2
    metals: MetalPrices = ()
    hour: Price = 0.0
    solder: Price = 0.0
    setting: Price = 0.0
    plating: Price = 0.0
    feed: MetalPrices = ()
    feed_said: Annotated[str, Field(max_length=120)] = ""
    metal_more: Share = 0.0
    refiner_keeps: Share = REFINER_KEEPS
