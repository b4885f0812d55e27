"""The way in: by name and password, a pause after too many tries, headers that are strict, the demo's hint."""

from typing import Any

from django.test import Client

from tests.workshop.conftest import ARGON2, PASSWORD, Shop
from workshop import settings as application_settings
from workshop.people.models import User


def test_sign_in_and_out(ours: Shop) -> None:
    client = Client()
    shop = Shop(ours.workshop, ours.user, client)
    assert shop.send("get", "/session").json()["signed_in"] is False
    assert shop.send("post", "/session", {"username": "ours", "password": "wrong"}).status_code == 401
    entered = shop.send("post", "/session", {"username": "ours", "password": PASSWORD})
    assert entered.json()["signed_in"] is True
    assert entered.json()["workshop"] == "ours"
    assert shop.send("get", "/bench").status_code == 200
    shop.send("delete", "/session")
    assert shop.send("get", "/bench").status_code == 401


def test_guessing_is_throttled_and_others_are_not(ours: Shop, theirs: Shop, settings: Any) -> None:
    guesser = Shop(ours.workshop, ours.user, Client())
    tries = [guesser.send("post", "/session", {"username": "ours", "password": f"no {n}"}) for n in range(9)]
    assert [answer.status_code for answer in tries[:7]] == [401] * 7
    assert tries[-1].status_code == 429
    right = guesser.send("post", "/session", {"username": "ours", "password": PASSWORD})
    assert right.status_code == 429
    assert guesser.send("post", "/session", {"username": "theirs", "password": PASSWORD}).status_code == 200


def test_a_person_without_a_workshop_enters_nowhere(ours: Shop) -> None:
    lost = User.objects.create_user("lost", password=PASSWORD)
    client = Client()
    answer = Shop(ours.workshop, lost, client).send("post", "/session", {"username": "lost", "password": PASSWORD})
    assert answer.status_code == 401


def test_passwords_are_argon2_and_headers_are_strict(argon2: None, ours: Shop) -> None:
    assert ours.user.password.startswith("argon2")
    assert application_settings.PASSWORD_HASHERS == ARGON2
    headers = ours.client.get("/api/session").headers
    policy = headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert "http" not in policy
    assert headers["X-Frame-Options"] == "DENY"
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Referrer-Policy"] == "same-origin"


def test_the_demo_hint_shows_only_in_demo_mode(ours: Shop, settings: Any) -> None:
    nobody = Shop(ours.workshop, ours.user, Client())
    assert nobody.send("get", "/session").json()["demo"] is None
    settings.DEMO_SIGN_IN = "wren:word"
    assert nobody.send("get", "/session").json()["demo"] == {"username": "wren", "password": "word"}
