"""The price feed over the wire, kept for every shop; what is absurd is asked about and answered once."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from typing import Any

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.utils import timezone

from demo import price_feed
from ringcraft.money.feed import FeedRead
from tests.orders import order, style_order
from tests.workshop.conftest import Shop
from workshop.worth.models import FeedState, SeenPrice
from workshop.worth.reading import keep

pytestmark = pytest.mark.django_db


@pytest.fixture(scope="module")
def feed() -> Iterator[str]:
    """The made-up feed that ships, on a free port."""
    server = price_feed.serve(0)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


def read(settings: Any, address: str) -> str:
    settings.PRICE_FEED = address
    try:
        call_command("read_prices")
    except CommandError as problem:
        return str(problem)
    return ""


def quote(shop: Shop, days_ago: float, **prices: str) -> int:
    at = timezone.now() - timedelta(days=days_ago)
    read = FeedRead("EUR", at, {metal: Decimal(price) for metal, price in prices.items()})
    return keep(shop.workshop, read, timezone.now())


def test_a_feed_is_read_once_for_every_shop(ours: Shop, theirs: Shop, settings: Any, feed: str) -> None:
    assert read(settings, f"{feed}/prices") == ""
    for shop in (ours, theirs):
        rows = SeenPrice.objects.filter(workshop=shop.workshop)
        assert {row.metal for row in rows} == set(price_feed.BEGINS)
        assert {row.state for row in rows} == {"good"}
    read(settings, f"{feed}/prices")
    assert SeenPrice.objects.filter(workshop=ours.workshop).count() == 4  # the same quote is one row
    day = SeenPrice.objects.filter(workshop=ours.workshop, metal="gold").get()
    assert float(day.per_gram) == pytest.approx(price_feed.walk("gold", day.at), abs=1e-4)
    said = ours.send("get", "/worth").json()
    assert [one["metal"] for one in said["prices"]] == ["silver", "gold", "platinum", "palladium"]
    assert said["feed"]["set"] is True
    assert said["feed"]["ok"] is True


@pytest.mark.parametrize(
    ("fault", "said"),
    [
        ("/down", "error (503)"),
        ("/late", "within 3 seconds"),
        ("/huge", "64 kB"),
        ("/no-currency", "no currency"),
        ("/no-unit", "no unit"),
        ("/elsewhere", "error (302)"),
        ("/nothing-here", "error (404)"),
    ],
)
def test_what_goes_wrong_is_said_and_the_last_good_price_stays(
    ours: Shop, settings: Any, feed: str, fault: str, said: str
) -> None:
    quote(ours, 2, silver="0.90")
    problem = read(settings, feed + fault)
    assert said in problem
    assert "stay" in problem
    now = ours.send("get", "/worth").json()
    assert [one["per_gram"] for one in now["prices"]] == ["0.90"]
    assert now["feed"]["ok"] is False
    assert said in now["feed"]["says"]


def test_a_feed_that_is_not_there_or_not_set_is_said(ours: Shop, settings: Any) -> None:
    assert "cannot be reached" in read(settings, "http://127.0.0.1:9")
    assert "PLAIN_SHANK_PRICE_FEED" in read(settings, "")


def test_ounces_are_the_same_prices(ours: Shop, settings: Any, feed: str) -> None:
    assert read(settings, f"{feed}/ounces") == ""
    gold = SeenPrice.objects.get(workshop=ours.workshop, metal="gold")
    assert float(gold.per_gram) == pytest.approx(price_feed.walk("gold", gold.at), rel=1e-4)


def test_old_news_changes_nothing(ours: Shop, settings: Any, feed: str) -> None:
    quote(ours, 1, silver="0.90", gold="70", platinum="29", palladium="33")
    assert read(settings, f"{feed}/stale") == ""
    said = ours.send("get", "/worth").json()
    assert [one["per_gram"] for one in said["prices"]] == ["0.90", "70.00", "29.00", "33.00"]
    assert "older" in said["feed"]["says"]


def test_what_is_absurd_is_asked_about_and_answered_once(ours: Shop, theirs: Shop, settings: Any, feed: str) -> None:
    read(settings, f"{feed}/prices")
    SeenPrice.objects.update(at=timezone.now() - timedelta(days=2))
    assert read(settings, f"{feed}/absurd") == ""
    said = ours.send("get", "/worth").json()
    assert len(said["asked"]) == 4
    one = next(row for row in said["asked"] if row["metal"] == "gold")
    assert "up 270 %" in one["says"]
    path = f"/worth/prices/{one['id']}"
    assert theirs.send("post", path, {"take": True}).status_code == 404
    assert float(one["last"]) == pytest.approx(float(one["per_gram"]) / 3.7, rel=0.01)
    before = next(row["per_gram"] for row in said["prices"] if row["metal"] == "gold")
    assert before == one["last"]  # asked about, it counts nothing
    taken = ours.send("post", path, {"take": True})
    assert taken.status_code == 200
    assert next(row for row in taken.json()["prices"] if row["metal"] == "gold")["per_gram"] == one["per_gram"]
    again = ours.send("post", path, {"take": False})
    assert again.status_code == 422
    assert "meanwhile" in again.json()["errors"][0]["message"]
    left = next(row for row in said["asked"] if row["metal"] == "silver")
    ours.send("post", f"/worth/prices/{left['id']}", {"take": False})
    now = ours.send("get", "/worth").json()
    assert {row["metal"] for row in now["asked"]} == {"platinum", "palladium"}
    assert next(row for row in now["prices"] if row["metal"] == "silver")["per_gram"] != left["per_gram"]


@pytest.mark.django_db(transaction=True)
def test_of_two_readings_at_once_one_wins(ours: Shop) -> None:
    at = timezone.now()

    def once(price: str) -> None:
        try:
            keep(ours.workshop, FeedRead("EUR", at, {"silver": Decimal(price)}), at)
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(once, ["0.90", "0.91", "0.92", "0.93"]))
    assert SeenPrice.objects.filter(workshop=ours.workshop).count() == 1
    assert FeedState.objects.filter(workshop=ours.workshop).count() == 1


def test_the_scrap_jar_is_worth_what_is_in_it_and_no_customer_s_metal_counts(ours: Shop) -> None:
    quote(ours, 1, silver="0.80")
    for piece in ({"kind": "scrap", "metal": "sterling", "mass_g": 40}, {"kind": "filings", "metal": "sterling",
                  "mass_g": 10, "state": "filings"}, {"kind": "scrap", "metal": "gold-14k-yellow", "mass_g": 2}):  # fmt: skip
        answer = ours.send("post", "/stock", {"piece": piece})
        assert answer.status_code == 201, answer.content
    job = ours.job()
    theirs = {"piece": {"kind": "scrap", "metal": "sterling", "mass_g": 77}, "job_id": job.pk}
    assert ours.send("post", "/stock", theirs).status_code == 201
    jar = ours.send("get", "/worth").json()["jar"]
    silver = next(lot for lot in jar["lots"] if lot["metal"] == "sterling")
    assert silver["grams"] == pytest.approx(50)
    assert silver["worth"] == "37.00"
    assert silver["returns"] == "35.15"
    assert len(jar["missing"]) == 1


def test_a_ring_costs_this_in_one_metal_and_that_in_another(ours: Shop) -> None:
    quote(ours, 1, silver="0.80", gold="60")
    sent = {"order": {**order(), "ways": "shop"}, "metals": ["sterling", "gold-14k-yellow"]}
    answer = ours.send("post", "/worth/ring", sent)
    assert answer.status_code == 200, answer.content
    silver, gold = answer.json()
    assert silver["made_of"] == "925 silver, 75 copper"
    assert gold["grams"] > silver["grams"]
    assert float(gold["estimate"]["total"]) > 20 * float(silver["estimate"]["total"])
    wrong = ours.send("post", "/worth/ring", {**sent, "metals": ["sterling", "cheese"]})
    assert (wrong.status_code, wrong.json()["errors"][0]["field"]) == (422, "metals.1")
    short = {**order(), "size": "large"}
    refused = ours.send("post", "/worth/ring", {**sent, "order": short})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "order.size")
    assert ours.send("post", "/worth/ring", {**sent, "metals": []}).status_code == 422


def test_what_is_said_to_be_of_a_metal_is_of_that_metal(ours: Shop) -> None:
    """A bezel of another metal is weighed, and asked for, by itself."""
    bezel = {"part": "bezel", "stone": {"length_mm": 5}, "thickness_mm": 0.4, "height_mm": 3, "metal": "fine-silver"}
    order = style_order("plain-band")
    plain, with_it = (
        ours.send("post", "/worth/ring", {"order": {**order, "parts": parts}, "metals": ["sterling"]}).json()[0]
        for parts in ([], [bezel])
    )
    assert with_it["grams"] == pytest.approx(plain["grams"])


def test_a_feed_in_another_currency_is_not_used_and_says_so(ours: Shop) -> None:
    at = datetime.now(UTC) - timedelta(days=1)
    keep(ours.workshop, FeedRead("USD", at, {"silver": Decimal("0.95")}), at)
    said = ours.send("get", "/worth").json()
    assert said["prices"][0]["usable"] is False
    job = ours.job()
    estimate = ours.send("get", f"/jobs/{job.pk}/estimate").json()["now"]
    assert any("no price for a gram" in line for line in estimate["missing"])
    keep(ours.workshop, FeedRead("EUR", at + timedelta(hours=2), {"silver": Decimal("0.85")}), at)
    estimate = ours.send("get", f"/jobs/{job.pk}/estimate").json()["now"]
    assert any("by the price of" in line["why"] for line in estimate["lines"])
