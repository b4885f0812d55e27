"""Workshops and people from the command line, the link that works once, one's own password, settings, health."""

from __future__ import annotations

import io
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.db import OperationalError
from django.test import Client

from tests.workshop.conftest import PASSWORD, Shop
from workshop.people.models import User, Workshop

pytestmark = pytest.mark.usefixtures("argon2")
ROOT = Path(__file__).resolve().parents[2]


def command(*arguments: str, **options: Any) -> str:
    out = io.StringIO()
    call_command(*arguments, stdout=out, **options)
    return out.getvalue()


def link_in(said: str) -> str:
    match = re.search(r"http://127\.0\.0\.1:8420/welcome#(\S+)", said)
    assert match
    return match.group(1)


def welcome(link: str, password: str, client: Client | None = None) -> Any:
    sent = {"link": link, "password": password}
    return (client or Client()).post("/api/session/welcome", sent, content_type="application/json")


def test_a_shop_is_made_and_entered_by_a_link_that_works_once(db: None) -> None:
    said = command("new_shop", "Fen Street Rings", "rook", "Rook Ember")
    assert not User.objects.get().has_usable_password()
    link = link_in(said)
    weak = welcome(link, "password")
    assert (weak.status_code, weak.json()["errors"][0]["field"]) == (422, "password")
    client = Client()
    entered = welcome(link, "copper and bronze", client).json()
    assert (entered["workshop"], entered["name"], entered["signed_in"]) == ("Fen Street Rings", "Rook Ember", True)
    assert client.get("/api/bench").status_code == 200
    used = welcome(link, "another good word")
    assert (used.status_code, used.json()["errors"][0]["field"]) == (422, "link")
    signed = Client().post(
        "/api/session", {"username": "rook", "password": "copper and bronze"}, content_type="application/json"
    )
    assert signed.status_code == 200


def test_a_person_joins_a_shop_and_gets_a_new_link(ours: Shop) -> None:
    first = link_in(command("new_person", "ours", "wick", "Wick Tallow"))
    assert welcome(first, "copper and bronze").json()["workshop"] == "ours"
    again = link_in(command("new_person", "ours", "wick", again=True))
    assert welcome(again, "silver and bronze").status_code == 200
    assert User.objects.get(username="wick").check_password("silver and bronze")


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("new_person", "nowhere", "wick"), "No workshop is called nowhere"),
        (("new_person", "ours", "two words"), "no name to sign in with"),
        (("new_person", "ours", "ours"), "signs in as ours already"),
        (("new_shop", " ", "wick", "Wick"), "needs a name"),
    ],
)
def test_a_command_that_cannot_be_says_why(ours: Shop, arguments: tuple[str, ...], said: str) -> None:
    with pytest.raises(CommandError, match=said):
        command(*arguments)
    assert Workshop.objects.count() == 1
    with pytest.raises(CommandError, match="Nobody in ours"):
        command("new_person", "ours", "nobody", again=True)


@pytest.mark.parametrize("link", ["", "1", "1.", ".x", "x.y", "999999.abc", "1." + "a" * 150])
def test_a_made_up_link_opens_nothing(ours: Shop, link: str) -> None:
    assert welcome(link, "copper and bronze").status_code == 422


def test_ones_own_password_is_changed_and_the_other_devices_are_signed_out(ours: Shop) -> None:
    other = Client()
    other.force_login(ours.user, backend="django.contrib.auth.backends.ModelBackend")
    wrong = ours.send("put", "/session/password", {"now": "wrong", "new": "copper and bronze"})
    assert (wrong.status_code, wrong.json()["errors"][0]["field"]) == (422, "now")
    weak = ours.send("put", "/session/password", {"now": PASSWORD, "new": "short"})
    assert weak.json()["errors"][0]["field"] == "new"
    assert ours.send("put", "/session/password", {"now": PASSWORD, "new": "copper and bronze"}).status_code == 200
    assert ours.send("get", "/bench").status_code == 200
    assert other.get("/api/bench").status_code == 401


def test_health_and_ready_are_not_the_page(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    assert Client().get("/health").json()["alive"]
    assert Client().get("/ready").json()["ready"]

    def away(*arguments: object, **options: object) -> object:
        raise OperationalError(2013, "Lost connection")

    monkeypatch.setattr("workshop.health.MigrationExecutor", away)
    answer = Client().get("/ready")
    assert (answer.status_code, answer.json()["ready"]) == (503, False)
    assert Client().get("/health").status_code == 200


def test_a_database_that_is_behind_is_not_ready(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("django.db.migrations.executor.MigrationExecutor.migration_plan", lambda self, nodes: [1, 2])
    answer = Client().get("/ready")
    assert (answer.status_code, "2 migrations wait" in answer.json()["why"]) == (503, True)


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"PLAIN_SHANK_THROTTLE": "often"}, "PLAIN_SHANK_THROTTLE is “often”: it must be a whole number from 1"),
        ({"PLAIN_SHANK_PROXY_ADDRESSES": "127.0.0.1, here"}, "PLAIN_SHANK_PROXY_ADDRESSES has “here”"),
        ({"PLAIN_SHANK_DB_TIMEOUT": "0"}, "PLAIN_SHANK_DB_TIMEOUT"),
        ({"PLAIN_SHANK_HTTPS": "yes"}, "PLAIN_SHANK_HTTPS"),
        ({"PLAIN_SHANK_ORIGINS": "rings.example"}, "an origin begins with"),
        ({"PLAIN_SHANK_SECRET_KEY": ""}, "PLAIN_SHANK_SECRET_KEY must be set"),
    ],
)
def test_bad_settings_end_in_one_plain_line(wrong: dict[str, str], said: str) -> None:
    environment = {**os.environ, "PLAIN_SHANK_SECRET_KEY": "x", "DJANGO_SETTINGS_MODULE": "workshop.settings"}
    run = subprocess.run(
        [sys.executable, "-c", "import workshop.wsgi"],
        cwd=ROOT,
        env={**environment, **wrong},
        capture_output=True,
        text=True,
        check=False,
    )
    assert run.returncode != 0
    assert said in run.stderr
    assert "Traceback" not in run.stderr
    assert len(run.stderr.strip().splitlines()) == 1
