"""The prices of pure metals in force in a shop, and the answer to one that is asked about."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from ringcraft.money.feed import TITLES, age_words
from ringcraft.money.prices import Prices
from ringcraft.money.worth import with_feed
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.people.models import Workshop
from workshop.worth.models import SeenPrice


class Answered(Exception):
    """A price that somebody answered already; ``state`` is how."""

    def __init__(self, state: str) -> None:
        super().__init__(state)
        self.state = state


def good_prices(workshop: Workshop) -> list[SeenPrice]:
    """The last good price of each pure metal, by its name."""
    newest = (
        SeenPrice.objects.filter(workshop=workshop, state="good")
        .order_by()
        .values("metal")
        .annotate(last=Max("at"))
        .values_list("metal", "last")
    )
    rows = [
        SeenPrice.objects.get(workshop=workshop, state="good", metal=metal, at=last)
        for metal, last in newest
        if metal in TITLES
    ]
    return sorted(rows, key=lambda row: list(TITLES).index(row.metal))


def asked_prices(workshop: Workshop) -> list[SeenPrice]:
    """The prices that are asked about, the newest of each metal, while none since it was good."""
    rows = SeenPrice.objects.filter(workshop=workshop, state="asked").order_by("-at")[:60]
    newest: dict[str, SeenPrice] = {}
    for row in rows:
        newest.setdefault(row.metal, row)
    good = {row.metal: row.at for row in good_prices(workshop)}
    return [row for metal, row in newest.items() if metal in good and row.at > good[metal]]


def bases_of(workshop: Workshop, currency: str) -> tuple[Mapping[str, Decimal], str]:
    """What a gram of each pure metal costs in the shop's currency, and of when that is, in words."""
    rows = [row for row in good_prices(workshop) if row.currency == currency]
    if not rows:
        return {}, ""
    oldest = min(row.at for row in rows)
    old = age_words(oldest, timezone.now())
    said = f"by the price of {timezone.localtime(oldest):%d %b}{f', {old}' if old else ''}"
    return {row.metal: row.per_gram for row in rows}, said


def prices_in_force(workshop: Workshop, prices: Prices) -> Prices:
    """The shop's own prices, with the feed's where it has none of its own."""
    bases, said = bases_of(workshop, prices.currency)
    return with_feed(prices, bases, said)


@transaction.atomic
def answer_price(actor: Actor, price_id: int, *, take: bool) -> SeenPrice:
    """Take a price that is asked about, or refuse it; raises SeenPrice.DoesNotExist, or Answered."""
    row = hold_one(SeenPrice.objects.filter(pk=price_id, workshop_id=actor.workshop_id))
    if row.state != "asked":
        raise Answered(row.state)
    row.state, row.answered_by_id = ("good" if take else "refused"), actor.user_id
    row.save(update_fields=["state", "answered_by"])
    record(actor, row, "price-taken" if take else "price-refused", after={"price": str(row)})
    return row
