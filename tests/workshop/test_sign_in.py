"""A second factor, where one is signed in, and that neither lets anybody in by half."""

from __future__ import annotations

import hashlib
import hmac
import struct
from base64 import b32decode
from datetime import timedelta
from typing import Any

import pytest
import time_machine
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from tests.workshop.conftest import PASSWORD, Shop


def code_of(secret: str, at: float) -> str:
    """The code of RFC 6238 that an app shows at a time."""
    return f"{hotp_at(b32decode(secret.replace(' ', '')), at):06d}"


def hotp_at(key: bytes, at: float) -> int:
    """RFC 4226 and 6238 by their text alone: HMAC-SHA1 of the count of half minutes, truncated."""
    digest = hmac.new(key, struct.pack(">Q", int(at // 30)), hashlib.sha1).digest()
    place = digest[-1] & 15
    return (struct.unpack(">I", digest[place : place + 4])[0] & 0x7FFFFFFF) % 1_000_000


@pytest.mark.parametrize(("at", "code"), [(59, "287082"), (1111111109, "081804"), (20000000000, "353130")])
def test_the_reference_itself_is_rfc_6238(at: int, code: str) -> None:
    """The last six figures of the values of RFC 6238, appendix B, for SHA-1."""
    assert f"{hotp_at(b'12345678901234567890', at):06d}" == code


def set_up(shop: Shop) -> tuple[str, list[str]]:
    """Set up a second factor; its secret and the recovery codes."""
    begun = shop.send("post", "/account/factor", {"password": PASSWORD}).json()
    assert begun["picture"].startswith("data:image/svg+xml")
    code = code_of(begun["secret"], timezone.now().timestamp())
    codes = shop.send("put", "/account/factor", {"code": code}).json()["codes"]
    return begun["secret"], codes


def entering(shop: Shop) -> Shop:
    """A new browser in which the password was right."""
    fresh = Shop(shop.workshop, shop.user, Client())
    answer = fresh.send("post", "/session", {"username": shop.user.username, "password": PASSWORD}).json()
    assert (answer["signed_in"], answer["wants_code"]) == (False, True)
    return fresh


def give(shop: Shop, code: str) -> Any:
    return shop.send("post", "/session/code", {"code": code})


def test_a_password_alone_lets_nobody_in_once_a_factor_is_on(ours: Shop) -> None:
    with time_machine.travel(timezone.now(), tick=False) as clock:
        secret, codes = set_up(ours)
        assert len(codes) == 10
        fresh = entering(ours)
        assert fresh.send("get", "/bench").status_code == 401
        used = code_of(secret, timezone.now().timestamp())
        assert give(fresh, used).status_code == 422  # it set the factor up: each is good once
        clock.shift(timedelta(seconds=31))
        good = give(fresh, code_of(secret, timezone.now().timestamp()))
        assert (good.status_code, good.json()["signed_in"]) == (200, True)
        assert fresh.send("get", "/bench").status_code == 200


def test_a_recovery_code_works_once_and_with_the_clock_set_back(ours: Shop) -> None:
    with time_machine.travel(timezone.now(), tick=False) as clock:
        secret, codes = set_up(ours)
        assert give(entering(ours), "000000").status_code == 422
        assert give(entering(ours), "wrong word").status_code == 422
        clock.shift(timedelta(hours=-1))
        fresh = entering(ours)
        assert give(fresh, code_of(secret, timezone.now().timestamp())).status_code == 422  # older than the last one
        assert give(fresh, codes[3].upper()).status_code == 200
        assert fresh.send("get", "/account").json()["factor"] == {"on": True, "codes_left": 9}
        assert give(entering(ours), codes[3]).status_code == 422
        assert StaticDevice.objects.get().token_set.count() == 9


def test_wrong_codes_are_counted_and_one_that_comes_too_soon_is_not_looked_at(ours: Shop) -> None:
    with time_machine.travel(timezone.now(), tick=False) as clock:
        secret, _ = set_up(ours)
        fresh = entering(ours)
        clock.shift(timedelta(seconds=31))
        good = code_of(secret, timezone.now().timestamp())
        assert give(fresh, "123456").status_code == 422
        assert [give(fresh, good).status_code for _ in range(12)] == [429] * 12  # not looked at, and not counted
        assert TOTPDevice.objects.get(confirmed=True).throttling_failure_count == 1
        answers = []
        for nth in range(1, 8):
            clock.shift(timedelta(seconds=2**nth))
            answers.append(give(fresh, "123456").status_code)
        assert answers[:6] == [422] * 6
        clock.shift(timedelta(seconds=250))
        assert give(fresh, code_of(secret, timezone.now().timestamp())).status_code in (401, 429)  # eight are enough


def test_half_in_is_over_after_five_minutes_or_another_password(ours: Shop) -> None:
    with time_machine.travel(timezone.now(), tick=False) as clock:
        _, codes = set_up(ours)
        fresh, other = entering(ours), entering(ours)
        clock.shift(timedelta(seconds=301))
        assert give(fresh, codes[0]).status_code == 401
        clock.shift(timedelta(seconds=-301))
        ours.send("put", "/session/password", {"now": PASSWORD, "new": "copper and bronze"})
        assert give(other, codes[0]).status_code == 401
    assert give(Shop(ours.workshop, ours.user, Client()), codes[0]).status_code == 401


def test_a_link_that_works_once_does_not_go_round_the_factor(ours: Shop) -> None:
    _, codes = set_up(ours)
    link = ours.send("post", f"/people/{ours.user.pk}/link", {}).json()["link"].split("#")[1]
    fresh = Shop(ours.workshop, ours.user, Client())
    answer = fresh.send("post", "/session/welcome", {"link": link, "password": "copper and bronze"}).json()
    assert (answer["signed_in"], answer["wants_code"]) == (False, True)
    assert fresh.send("get", "/bench").status_code == 401
    assert give(fresh, codes[0]).json()["signed_in"] is True


def test_the_factor_is_touched_with_the_password_only_and_removed_from_the_machine(ours: Shop) -> None:
    set_up(ours)
    for path in ("/account/factor", "/account/factor/codes", "/account/factor/off"):
        assert ours.send("post", path, {"password": "wrong"}).status_code == 422
    assert len(ours.send("post", "/account/factor/codes", {"password": PASSWORD}).json()["codes"]) == 10
    call_command("remove_factor", "ours")
    assert not TOTPDevice.objects.exists()
    assert not StaticDevice.objects.exists()
    with pytest.raises(CommandError, match="no second factor"):
        call_command("remove_factor", "ours")
    fresh = Shop(ours.workshop, ours.user, Client())
    assert fresh.send("post", "/session", {"username": "ours", "password": PASSWORD}).json()["signed_in"]


def test_one_that_was_begun_and_not_confirmed_asks_for_nothing(ours: Shop) -> None:
    ours.send("post", "/account/factor", {"password": PASSWORD})
    assert ours.send("put", "/account/factor", {"code": "12"}).status_code == 422
    fresh = Shop(ours.workshop, ours.user, Client())
    assert fresh.send("post", "/session", {"username": "ours", "password": PASSWORD}).json()["signed_in"]


def test_sessions_are_seen_and_ended(ours: Shop, theirs: Shop) -> None:
    ours.send("get", "/session")
    other, third = (Shop(ours.workshop, ours.user, Client(HTTP_USER_AGENT=a)) for a in ("Mozilla/5.0 (iPad)", "curl"))
    for one in (other, third):
        one.send("post", "/session", {"username": "ours", "password": PASSWORD})
    listed = ours.send("get", "/account").json()["sessions"]
    assert sorted(one["agent"] for one in listed if not one["here"]) == [
        "a browser on a tablet",
        "a program (curl)",
    ]
    tablet = next(one["id"] for one in listed if "tablet" in one["agent"])
    theirs.send("get", "/session")
    assert theirs.send("delete", f"/account/sessions/{tablet}").status_code == 404
    assert ours.send("delete", f"/account/sessions/{tablet}").status_code == 200
    assert other.send("get", "/bench").status_code == 401
    assert third.send("get", "/bench").status_code == 200
    assert len(ours.send("delete", "/account/sessions").json()["sessions"]) == 1
    assert third.send("get", "/bench").status_code == 401
    assert ours.send("get", "/bench").status_code == 200
