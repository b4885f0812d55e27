"""What metal is worth: prices that were seen, those that are asked about, the scrap jar, a ring in two metals."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Annotated, Any

from django.conf import settings
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone
from ninja import Body, Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.metals import METALS
from ringcraft.money.estimate import Estimate, as_asked, estimate_of, grams_by_metal
from ringcraft.money.feed import TITLES, age_words
from ringcraft.money.prices import Prices
from ringcraft.money.worth import JarWorth, Lot, jar_worth, made_of
from ringcraft.styles import AnyRing, plan_ring
from workshop.api.signed_in import actor, person, shop, who_may
from workshop.api.ways import WaysOf
from workshop.people.preferences import preferences_of, prices_of
from workshop.people.roles import sees_prices
from workshop.stock.models import StockItem
from workshop.worth.models import FeedState, SeenPrice
from workshop.worth.prices import Answered, answer_price, asked_prices, bases_of, good_prices, prices_in_force

router = Router()
SCRAP = ("scrap", "filings")
MOST_BESIDE = 2


class BasePriceOut(Schema):
    """A price of a pure metal as it was seen: of a gram, in which currency, of when, how old in words."""

    id: int
    metal: str
    title: str
    per_gram: str
    currency: str
    at: datetime
    old: str
    usable: bool


class AskedPriceOut(BasePriceOut):
    """A price that is far from the last good one, with what it is asked about."""

    last: str
    says: str


class FeedOut(Schema):
    """How the feed was read last; ``set`` whether the server has one at all."""

    set: bool
    at: datetime | None
    ok: bool
    says: str


class WorthOut(Schema):
    """The prices in force, what is asked about, how the feed was read, what the scrap is worth by them."""

    currency: str
    prices: list[BasePriceOut]
    asked: list[AskedPriceOut]
    feed: FeedOut
    jar: JarWorth


class PriceAnswer(Schema):
    """Whether a price that is asked about is taken."""

    take: bool


class PricedRing(Schema):
    """A new ring in one metal: its estimate, what the metal is made of, how much of it is cut [g]."""

    metal: str
    title: str
    made_of: str
    grams: float
    estimate: Estimate


class RingPriceIn(Schema):
    """A ring to price, in up to two metals side by side."""

    order: AnyRing
    metals: Annotated[list[Annotated[str, Field(max_length=40)]], Field(min_length=1, max_length=MOST_BESIDE)]


def _base(row: SeenPrice, currency: str) -> dict[str, Any]:
    return {
        "id": row.pk,
        "metal": row.metal,
        "title": TITLES[row.metal],
        "per_gram": f"{row.per_gram:.2f}",
        "currency": row.currency,
        "at": row.at,
        "old": age_words(row.at, timezone.now()),
        "usable": row.currency == currency,
    }


def _asked(row: SeenPrice, last: SeenPrice, currency: str) -> dict[str, Any]:
    times = row.per_gram / last.per_gram
    far = f"{'up' if times > 1 else 'down'} {abs(times - 1) * 100:.0f} %"
    says = f"{TITLES[row.metal].capitalize()} {far} since {timezone.localtime(last.at):%d %b}: is that so?"
    return {**_base(row, currency), "last": f"{last.per_gram:.2f}", "says": says}


def in_force(request: HttpRequest) -> Prices:
    """The prices that an estimate is reckoned with: the shop's own, else the feed's."""
    return prices_in_force(shop(request), prices_of(preferences_of(person(request), shop(request))))


def _answer(request: HttpRequest) -> dict[str, Any]:
    workshop = shop(request)
    prices = prices_of(preferences_of(person(request), workshop))
    rows = good_prices(workshop)
    good = {row.metal: row for row in rows}
    state = FeedState.objects.filter(workshop=workshop).first()
    bases, _ = bases_of(workshop, prices.currency)
    held = (
        StockItem.objects.filter(workshop=workshop, kind__in=SCRAP, owner="", job=None, mass_g__gt=0)
        .order_by()
        .values("metal")
        .annotate(grams=Sum("mass_g"))
    )
    lots = [Lot(one["metal"], float(one["grams"])) for one in held if one["metal"] in METALS]
    return {
        "currency": prices.currency,
        "prices": [_base(row, prices.currency) for row in rows],
        "asked": [_asked(row, good[row.metal], prices.currency) for row in asked_prices(workshop)],
        "feed": {
            "set": bool(settings.PRICE_FEED),
            "at": state.at if state else None,
            "ok": state.ok if state else True,
            "says": state.says if state else "Not read yet.",
        },
        "jar": jar_worth(lots, bases, prices),
    }


@router.get("", auth=who_may("prices"), response=WorthOut, operation_id="read_worth")
def read_worth(request: HttpRequest) -> dict[str, Any]:
    """The prices in force and what the scrap is worth by them."""
    return _answer(request)


@router.post("/prices/{int:price_id}", auth=who_may("ways"), response=WorthOut, operation_id="answer_price")
def answer_asked(request: HttpRequest, price_id: int, body: PriceAnswer) -> dict[str, Any]:
    """Take a price that is asked about, or leave it."""
    try:
        answer_price(actor(request), price_id, take=body.take)
    except SeenPrice.DoesNotExist:
        raise HttpError(404, "There is no such price in this workshop.") from None
    except Answered as problem:
        how = "taken" if problem.state == "good" else "left out"
        said = f"Somebody answered that meanwhile: it was {how}."
        raise BadRequest([CraftError("take", said, "What stands now is shown.")]) from None
    return _answer(request)


@router.post("/ring", auth=who_may("estimate"), response=list[PricedRing], operation_id="price_ring")
def price_a_ring(request: HttpRequest, body: Body[RingPriceIn], ways_of: WaysOf = "") -> list[PricedRing]:
    """What a new ring costs, in two metals side by side."""
    prices, out = in_force(request), []
    seen = (lambda one: one) if sees_prices(person(request)) else as_asked
    for place, metal in enumerate(body.metals):
        if metal not in METALS:
            said = "That metal is not known here."
            raise BadRequest([UnknownNameError(f"metals.{place}", said, f"It can be {', '.join(METALS)}.")])
        try:
            plan = plan_ring(replace(body.order, metal=metal))
        except CraftError as problem:
            raise BadRequest([problem.at(f"order.{problem.field}")]) from None
        of = METALS[metal]
        out.append(PricedRing(metal=metal, title=of.title, made_of=made_of(of), grams=grams_by_metal(plan)[metal],
                              estimate=seen(estimate_of(plan, prices))))  # fmt: skip
    return out
