"""Pieces of stock that tests put in a drawer."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from django.db.models import Sum

from ringcraft.schema import read_request
from ringcraft.stock.drawer import PIECE
from workshop.core.history import Actor
from workshop.stock.actions import ItemWords, take_in
from workshop.stock.groups import group_key
from workshop.stock.models import StockItem

#: The stock of the band that `tests.orders.order()` orders.
HALF_ROUND: dict[str, Any] = {"profile": "half-round", "width_mm": 4.0, "thickness_mm": 1.8}
WIRE: dict[str, Any] = {"kind": "wire", "metal": "sterling", **HALF_ROUND, "length_mm": 400}
NO_WORDS = ItemWords()


def put_in(actor: Actor, words: ItemWords = NO_WORDS, **said: Any) -> StockItem:
    """A piece in the drawer: half-round sterling wire, where nothing else is said."""
    return take_in(actor, read_request(PIECE, {**WIRE, **said}), words)


def scrap(actor: Actor, mass_g: float = 20.0, metal: str = "sterling", **said: Any) -> StockItem:
    """A lot of scrap."""
    piece = {"kind": "scrap", "metal": metal, "mass_g": mass_g, **said}
    return take_in(actor, read_request(PIECE, piece), ItemWords())


def sums_hold(shop: Any) -> Decimal:
    """Check that every piece of a shop is the sum of its movements; answers all the metal that is there [g]."""
    for item in StockItem.objects.filter(workshop=shop.workshop):
        sums = item.movements.aggregate(mm=Sum("length_mm"), g=Sum("mass_g"))
        assert item.mass_g == sums["g"]
        assert item.length_mm == sums["mm"]
        assert item.mass_g >= 0
        assert item.length_mm is None or item.length_mm >= 0
        assert item.moves == item.movements.count()
    return StockItem.objects.filter(workshop=shop.workshop).aggregate(g=Sum("mass_g"))["g"] or Decimal(0)


def key_of(item: StockItem) -> str:
    """The key of the stock that a piece is cut with."""
    return group_key(item)
