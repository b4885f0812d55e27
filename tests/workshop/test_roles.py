"""What each role sees and may do: no price where it is not to be seen, a changed role at once, an owner who stays."""

from __future__ import annotations

import base64
import io
import json
import threading
from decimal import Decimal
from typing import Any

import pypdf
import pytest
from django.db import connection, transaction
from django.test import Client
from django.utils.timezone import now

from tests.resizes import picture
from tests.workshop.conftest import PASSWORD, Shop
from tests.workshop.test_who import KEYS, TABLE, sent_of, things
from workshop.api.worth import prices_in_force
from workshop.core.models import Event, Sent
from workshop.jobs.estimates import keep_estimate
from workshop.jobs.photos import add_photo
from workshop.people.keeping import set_some
from workshop.people.models import User, Workshop
from workshop.people.preferences import preferences_of, prices_of, read_overrides
from workshop.stock.models import StockItem
from workshop.worth.models import SeenPrice

#: Prices that are found nowhere else: what the shop reckons with, and what it asks for one thing.
RECKONED = {"hour_price": "917.31", "metal_more": "0.3719", "refiner_keeps": "0.0467"}
ASKED = {"solder_price": "613.37", "setting_price": "419.53", "plating_price": "523.79"}
GRAM, STOCK, FEED = "271.83", "161.803", "314.15"
SECRET = (*RECKONED.values(), GRAM, STOCK, FEED, "37.19", "4.67 %")


def person(shop: Shop, role: str) -> Shop:
    """A colleague of this role, signed in."""
    user = User.objects.create_user(f"the {role}", password=PASSWORD, workshop=shop.workshop, role=role)
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return Shop(shop.workshop, user, client)


def with_prices(shop: Shop) -> None:
    """Prices that are found nowhere else, in the ways, the drawer, the feed."""
    said = {**RECKONED, **ASKED, "metal_prices": [{"metal": "sterling", "price": GRAM}]}
    level = read_overrides(said, "mm")
    set_some(
        shop.actor, shop.workshop, shop.workshop.preferences_version, {name: getattr(level, name) for name in said}
    )
    for state in ("good", "asked"):
        SeenPrice.objects.create(
            workshop=shop.workshop, metal="palladium", per_gram=Decimal(FEED), currency="EUR", at=now(), state=state
        )
    StockItem.objects.filter(workshop=shop.workshop).update(price=Decimal(STOCK))


def told(answer: Any) -> str:
    """All that an answer says: its headers, its body, the words of a PDF."""
    body = b"".join(answer)
    if body.startswith(b"%PDF"):
        body += "".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(body)).pages).encode()
    return f"{dict(answer.headers)} {body.decode(errors='replace')}".replace(",", ".")


def scene(ours: Shop) -> tuple[Any, dict[str, Any]]:
    job = ours.job("secret band")
    photo = add_photo(ours.actor, job, "before", base64.b64decode(picture())).photos.get()
    mine = things(ours)
    with_prices(ours)
    prices = prices_in_force(ours.workshop, prices_of(preferences_of(ours.user, ours.workshop)))
    return job, mine | {"photo_id": photo.pk, "nth": keep_estimate(ours.actor, job, prices).nth}


@pytest.mark.parametrize(("role", "column"), [("bench", 4), ("counter", 5)])
def test_what_a_role_gets_and_no_price_in_it(ours: Shop, role: str, column: int) -> None:
    """Every endpoint of the table, each on a scene that nothing before it has changed."""
    job, mine = scene(ours)
    colleague = person(ours, role)
    hidden = SECRET if role == "counter" else (*SECRET, *ASKED.values())
    wrong = []
    for row in TABLE:
        method, path, sent = row[:3]
        part = path.split("/")[3] if path.count("/") > 2 else ""
        address = path.format(job_id=job.pk, key=KEYS.get(part, ""), **mine)
        with transaction.atomic():
            body = sent_of(sent, ours, job, mine)
            answer = colleague.send(method, address, body)
            said = told(answer)
            transaction.set_rollback(True)
        if "/session" in path or "/account" in path:
            colleague.client.force_login(colleague.user, backend="django.contrib.auth.backends.ModelBackend")
        found = [one for one in hidden if one in said]
        if answer.status_code != row[column] or found:
            wrong.append((method, path, answer.status_code, found))
    assert wrong == []


def test_the_owner_sees_them_all(ours: Shop) -> None:
    """The numbers that the others must not see are really there."""
    job, mine = scene(ours)
    pages = (
        "/session",
        "/ways",
        "/worth",
        "/stock",
        "/stock/prices.csv",
        "/stock/items.csv",
        f"/jobs/{job.pk}/estimate",
    )
    said = " ".join(told(ours.send("get", path)) for path in pages)
    assert [one for one in (*RECKONED.values(), *ASKED.values(), GRAM, STOCK, FEED) if one not in said] == []
    assert "at 917.31 an hour" in told(ours.send("get", f"/jobs/{job.pk}/estimate-{mine['nth']}.pdf"))


def test_the_counter_is_told_sums_by_line_that_add_up(ours: Shop) -> None:
    job, _ = scene(ours)
    counter = person(ours, "counter").send("get", f"/jobs/{job.pk}/estimate").json()["now"]
    owner = ours.send("get", f"/jobs/{job.pk}/estimate").json()["now"]
    assert [(one["title"], one["amount"]) for one in counter["lines"]] == [
        (one["title"], one["amount"]) for one in owner["lines"]
    ]
    assert {one["why"] for one in counter["lines"]} == {""}
    assert sum(Decimal(one["amount"]) for one in counter["lines"]) == Decimal(counter["total"])


def test_a_changed_role_acts_on_the_next_request_and_on_answers_that_were_kept(ours: Shop) -> None:
    scene(ours)
    colleague = person(ours, "owner")
    version = Workshop.objects.get(pk=ours.workshop.pk).preferences_version
    body, key = {"home_scale": "uk", "hour_price": "917.31", "version": version}, {"Idempotency-Key": "a-key-of-ours"}
    first = colleague.send("put", "/ways/workshop", body, **key)
    assert (first.status_code, "917.31" in told(first)) == (200, True)
    again = colleague.send("put", "/ways/workshop", body, **key)
    assert (again.status_code, again["Idempotency-Replayed"]) == (200, "true")
    for role in ("counter", "bench"):
        assert ours.send("put", f"/people/{colleague.user.pk}/role", {"role": role}).status_code == 200
        replayed = colleague.send("put", "/ways/workshop", body, **key)
        assert (replayed.status_code, replayed.json()["kind"]) == (403, "other-sight")
        assert "917.31" not in told(replayed)
        assert colleague.send("get", "/worth").json()["kind"] == "not-allowed"
    assert Sent.objects.filter(key="a-key-of-ours").count() == 1


def test_what_money_the_bench_sees_is_the_owners_to_say(ours: Shop) -> None:
    job, _ = scene(ours)
    bench = person(ours, "bench")
    assert bench.send("get", f"/jobs/{job.pk}/estimate").status_code == 403
    shop = Workshop.objects.get(pk=ours.workshop.pk)
    set_some(ours.actor, shop, shop.preferences_version, {"bench_money": True})
    assert "917.31" in told(bench.send("get", "/session"))
    assert bench.send("get", f"/jobs/{job.pk}/estimate").status_code == 200
    assert bench.send("put", "/ways/workshop", {"home_scale": "uk", "version": 1}).status_code == 403


def test_a_price_is_nobodys_own(ours: Shop) -> None:
    said = ours.send("put", "/ways/mine", {"hour_price": "80", "version": 1})
    assert (said.status_code, said.json()["errors"][0]["field"]) == (422, "hour_price")
    User.objects.filter(pk=ours.user.pk).update(preferences={"hour_price": 80.0})  # from before
    assert ours.send("get", "/session").json()["ways"]["hour_price"] == 0


def test_who_may_not_see_a_price_keeps_it(ours: Shop) -> None:
    _, mine = scene(ours)
    bench = person(ours, "bench")
    item = bench.send("get", f"/stock/{mine['item_id']}").json()
    assert item["price"] == ""
    body = {"name": "the long coil", "price": "", "version": item["version"]}
    assert bench.send("put", f"/stock/{mine['item_id']}", body).status_code == 200
    kept = StockItem.objects.get(pk=mine["item_id"])
    assert (kept.name, kept.price) == ("the long coil", Decimal(STOCK))
    stale = bench.send("put", f"/stock/{mine['item_id']}", {**body, "name": "other"})
    assert (stale.status_code, "price" in stale.json()["theirs"]) == (409, False)


def test_the_last_owner_stays(ours: Shop) -> None:
    me = f"/people/{ours.user.pk}"
    for path, body in ((f"{me}/role", {"role": "bench"}), (f"{me}/active", {"active": False})):
        assert ours.send("put", path, body).status_code == 422
    invited = ours.send("post", "/people", {"username": "second", "role": "owner"}).json()
    second = next(one["id"] for one in invited["people"] if one["username"] == "second")
    assert ours.send("put", f"{me}/role", {"role": "bench"}).status_code == 422  # who has not come in is none yet
    user = User.objects.get(pk=second)
    user.set_password(PASSWORD)
    user.save()
    assert ours.send("put", f"{me}/role", {"role": "bench"}).status_code == 200
    assert ours.send("get", "/people").status_code == 403


@pytest.mark.django_db(transaction=True)
def test_two_owners_who_let_each_other_go_at_once_leave_one(ours: Shop) -> None:
    other = person(ours, "owner")
    pairs = ((ours, other.user.pk), (other, ours.user.pk))
    gate = threading.Barrier(2)
    answers: list[int] = []

    def let_go(who: Shop, whom: int) -> None:
        gate.wait()
        answers.append(who.send("put", f"/people/{whom}/active", {"active": False}).status_code)
        connection.close()

    threads = [threading.Thread(target=let_go, args=pair) for pair in pairs]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert User.objects.filter(workshop=ours.workshop, role="owner", is_active=True).count() == 1
    assert sorted(answers)[0] == 200


def test_who_is_let_go_is_out_at_once_and_comes_back_by_a_link(ours: Shop) -> None:
    bench = person(ours, "bench")
    path = f"/people/{bench.user.pk}"
    assert bench.send("get", "/bench").status_code == 200
    assert ours.send("put", f"{path}/active", {"active": False}).status_code == 200
    assert bench.send("get", "/bench").status_code == 401
    assert ours.send("post", f"{path}/link", {}).status_code == 422
    assert ours.send("put", f"{path}/active", {"active": True}).status_code == 200
    link = ours.send("post", f"{path}/link", {}).json()["link"].split("#")[1]
    anew = Shop(ours.workshop, bench.user, Client())
    assert anew.send("post", "/session/welcome", {"link": link, "password": "copper and bronze"}).status_code == 200
    assert anew.send("get", "/bench").status_code == 200
    said = list(Event.objects.filter(kind="user", thing_id=bench.user.pk).values_list("what", flat=True))
    assert said == ["let-go", "back", "link-made", "password-set"]


def test_a_counter_is_no_hand_in_the_plan_of_the_day(ours: Shop) -> None:
    ours.job()
    person(ours, "counter")
    ours.send("post", "/day/settle", {})
    day = ours.send("get", "/day").json()
    assert json.dumps(day).count("the counter") == 0
