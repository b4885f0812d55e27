"""The prices of a shop: read as they are typed, each said in the shop's currency."""

from __future__ import annotations

from decimal import Decimal, InvalidOperation
from typing import Annotated

from pydantic import BeforeValidator, Field

from ringcraft.errors import OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.metals import METALS
from ringcraft.reading import entries, tidy
from ringcraft.schema import request

DEAREST = Decimal(1_000_000)  # for one gram, hour, stone: more is a slip of the pen
MOST_DECIMALS = 3
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


def read_metal_prices(text: str) -> dict[str, Decimal]:
    """Prices per gram as typed, apart by semicolons or lines; raises CraftError at the first that cannot be.

    >>> read_metal_prices("sterling 1.10; 14k yellow 38")["gold-14k-yellow"]
    Decimal('38')
    """
    titles = {tidy(metal.title): key for key, metal in METALS.items()} | {key: key for key in METALS}
    out: dict[str, Decimal] = {}
    for entry in map(tidy, entries(text)):
        name, _, price = entry.rpartition(" ")
        if name not in titles:
            raise UnknownNameError("", f"“{(name or price)[:40]}” is no metal known here.", WRITE)
        out[titles[name]] = read_price(price)
    return out


def _metal_prices(value: object) -> object:
    if not isinstance(value, str):
        raise UnreadableError("", "These are not prices of metals.", WRITE)
    read_metal_prices(value)
    return "; ".join(entries(value))


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
#: Prices per gram by metal, as one text.
MetalPrices = Annotated[str, BeforeValidator(_metal_prices)]
Currency = Annotated[str, BeforeValidator(_currency)]
Decimals = Annotated[int, BeforeValidator(_decimals), Field(ge=0, le=MOST_DECIMALS)]


@request
class Prices:
    """What the shop asks: for a gram of each metal, an hour of hands, a joint's solder, a setting, plating."""

    currency: Currency = "EUR"
    decimals: Decimals = 2
    metals: MetalPrices = ""
    hour: Price = 0.0
    solder: Price = 0.0
    setting: Price = 0.0
    plating: Price = 0.0
