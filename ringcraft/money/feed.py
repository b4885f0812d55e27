"""Prices of pure metals from a feed: read with care, refused where anything is missing, asked about where absurd.

A feed is one JSON object: ``{"currency": "EUR", "unit": "g", "at": "2027-03-18T09:00:00+00:00", "prices":
{"silver": "0.91", "gold": "61.40"}}``. The unit is a gram or a troy ounce (31.1034768 g, exactly).
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from decimal import Decimal

from ringcraft.errors import CraftError
from ringcraft.money.prices import read_price

MOST_BYTES = 64 * 1024
TROY_OUNCE_G = Decimal("31.1034768")  # exactly: 480 grains of 64.79891 mg (international yard and pound, 1959)
UNITS = {"g": Decimal(1), "ozt": TROY_OUNCE_G}
#: The pure metals that a feed prices, by the sign of the element in our compositions.
BASES = {"silver": "Ag", "gold": "Au", "platinum": "Pt", "palladium": "Pd"}
TITLES = {"silver": "fine silver", "gold": "fine gold", "platinum": "platinum", "palladium": "palladium"}
STALE_DAYS = 4  # a weekend and a holiday: an older price is said to be old; our own judgement
A_TENTH = 0.1  # of the last good price, times the root of the days since it: further is asked about


class BadFeedError(CraftError):
    """A feed that cannot be used, with why in a sentence."""


@dataclass(frozen=True)
class FeedRead:
    """What a feed said: its currency, when its prices were quoted, what a gram of each pure metal costs."""

    currency: str
    at: datetime
    per_gram: Mapping[str, Decimal]


def read_feed(raw: bytes, now: datetime) -> FeedRead:
    """A feed's answer as prices; raises BadFeedError naming what is wrong with it."""
    if len(raw) > MOST_BYTES:
        raise _bad(f"It sends more than {MOST_BYTES // 1024} kB: that is no list of prices.")
    try:
        said = json.loads(raw.decode("utf-8"), parse_float=Decimal, parse_constant=_no_number)
    except (ValueError, RecursionError):
        raise _bad("What it sends is no JSON.") from None
    if not isinstance(said, dict):
        raise _bad("What it sends is no list of prices.")
    currency, unit = said.get("currency"), said.get("unit")
    if not isinstance(currency, str) or not 0 < len(currency.strip()) <= 8:
        raise _bad("It names no currency.")
    if not isinstance(unit, str) or unit not in UNITS:
        raise _bad("It names no unit: a gram (g) or a troy ounce (ozt).")
    return FeedRead(currency.strip(), _quoted(said.get("at"), now), _prices(said.get("prices"), UNITS[unit]))


def _no_number(text: str) -> None:
    raise ValueError(text)


def _quoted(said: object, now: datetime) -> datetime:
    try:
        at = datetime.fromisoformat(said) if isinstance(said, str) else None
    except ValueError:
        at = None
    if at is None:
        raise _bad("It does not say when its prices were quoted.")
    at = at.replace(tzinfo=at.tzinfo or UTC)
    if at > now + timedelta(days=1):
        raise _bad("It quotes prices of a day that has not come yet.")
    return at


def _prices(said: object, grams: Decimal) -> dict[str, Decimal]:
    if not isinstance(said, dict) or not said:
        raise _bad("It holds no prices.")
    out: dict[str, Decimal] = {}
    for name, value in said.items():
        if name not in BASES:
            continue
        try:
            price = read_price(value if isinstance(value, (str, int, Decimal)) else None) / grams
        except CraftError:
            raise _bad(f"Its price of {TITLES[name]} is none.") from None
        if price <= 0:
            raise _bad(f"It gives {TITLES[name]} away.")
        out[name] = price.quantize(Decimal("0.0001"))
    if not out:
        raise _bad("It holds no price of silver, gold, platinum or palladium.")
    return out


def _bad(said: str) -> BadFeedError:
    return BadFeedError("feed", said, "The last good prices stay.")


def is_absurd(last: Decimal, new: Decimal, days: float) -> bool:
    """Whether a price is further from the last good one than a tenth times the root of the days between.

    >>> is_absurd(Decimal(60), Decimal(65), 1), is_absurd(Decimal(60), Decimal(67), 1)
    (False, True)
    """
    if last <= 0:
        return False
    return abs(float(new / last) - 1) > A_TENTH * math.sqrt(max(days, 1.0))


def age_words(at: datetime, now: datetime) -> str:
    """How old a price is, where that matters; empty for one of these days."""
    days = (now - at).total_seconds() / 86400
    return f"{days:.0f} days old" if days >= STALE_DAYS else ""
