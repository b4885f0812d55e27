"""What the database refuses, loses or may have carried out, at a statement and at the COMMIT: done once, or told."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from django.db import OperationalError, connection
from django.db.backends.base.base import BaseDatabaseWrapper
from django.test import Client

from tests.stock import scrap
from tests.workshop.conftest import PASSWORD, Shop
from workshop.core.models import Sent
from workshop.core.tries import Tries, run_again
from workshop.people.accounts import new_person, one_time_link
from workshop.people.models import OpenSession
from workshop.stock import bringing
from workshop.stock.models import StockItem

pytestmark = pytest.mark.django_db(transaction=True)
FILE = {"text": "kind,metal,mass_g\nscrap,sterling,4"}
KEY = "a-key-of-the-test"
BUSY, AWAY = "busy", "away"
Break = Callable[..., list[int]]


def told(code: int, *, at_opening: bool = False) -> OperationalError:
    problem = OperationalError(code, "told by the database")
    problem.__cause__ = cause = Exception()
    cause.at_opening = at_opening  # type: ignore[attr-defined]
    return problem


@pytest.fixture
def at_statement(monkeypatch: pytest.MonkeyPatch, ours: Shop) -> Break:
    """The first times that the drawer is held, half of it is done, and then the database says a number."""

    def break_it(code: int, times: int) -> list[int]:
        left, real = [times], bringing.hold_drawer

        def unlucky(*args: Any) -> None:
            real(*args)
            scrap(ours.actor, 1)
            if left[0]:
                left[0] -= 1
                raise told(code)

        monkeypatch.setattr(bringing, "hold_drawer", unlucky)
        monkeypatch.setattr("workshop.core.tries.LEAST_WAIT_S", 0)
        return left

    return break_it


@pytest.fixture
def at_commit(monkeypatch: pytest.MonkeyPatch) -> Break:
    """The first times that something is committed, the database says a number: before it does so, or after."""

    def break_it(code: int, times: int, *, done: bool = False) -> list[int]:
        left, real = [times], BaseDatabaseWrapper._commit

        def unlucky(self: Any) -> None:
            if left[0]:
                left[0] -= 1
                if done:
                    real(self)
                raise told(code)
            real(self)

        monkeypatch.setattr(BaseDatabaseWrapper, "_commit", unlucky)
        return left

    return break_it


@pytest.mark.parametrize("code", [1213, 1205, 1047, 2006, 2013])
@pytest.mark.parametrize("times", [1, 2, 3])
def test_a_keyed_change_that_failed_at_a_statement_is_run_again_as_a_whole(
    ours: Shop, at_statement: Break, code: int, times: int
) -> None:
    left = at_statement(code, times)
    answer = ours.send("post", "/stock/items.csv", FILE, **{"Idempotency-Key": KEY})
    assert left == [0]
    assert answer.status_code == (201 if times < 3 else 503)
    assert StockItem.objects.count() == (2 if times < 3 else 0)  # what was half done is undone each time
    assert Sent.objects.filter(key=KEY).count() == (1 if times < 3 else 0)
    if times == 3:
        assert answer.json()["kind"] == (BUSY if code in (1213, 1205) else AWAY)


@pytest.mark.parametrize("code", [1213, 1205, 1047, 2006, 2013])
def test_a_keyed_change_that_was_not_committed_is_run_again(ours: Shop, at_commit: Break, code: int) -> None:
    left = at_commit(code, 2)
    answer = ours.send("post", "/stock/items.csv", FILE, **{"Idempotency-Key": KEY})
    assert (left, answer.status_code) == ([0], 201)
    assert "Idempotency-Replayed" not in answer
    assert StockItem.objects.count() == 1


@pytest.mark.parametrize("code", [2006, 2013])
def test_what_was_committed_though_the_line_was_lost_is_not_done_again(
    ours: Shop, at_commit: Break, code: int
) -> None:
    at_commit(code, 1, done=True)
    answer = ours.send("post", "/stock/items.csv", FILE, **{"Idempotency-Key": KEY})
    assert (answer.status_code, answer["Idempotency-Replayed"]) == (201, "true")
    assert StockItem.objects.count() == 1


@pytest.mark.parametrize("code", [1213, 1205, 1047, 2006, 2013])
def test_a_change_without_a_key_is_told_at_once(ours: Shop, at_statement: Break, code: int) -> None:
    left = at_statement(code, 2)
    answer = ours.send("post", "/stock/items.csv", FILE)
    assert (left, answer.status_code) == ([1], 503)
    assert StockItem.objects.count() == 0


def test_a_change_without_a_key_is_told_where_its_commit_was_refused(ours: Shop, at_commit: Break) -> None:
    at_commit(1213, 1)
    assert ours.send("post", "/stock/items.csv", FILE).status_code == 503
    assert StockItem.objects.count() == 0


@pytest.mark.parametrize(("times", "wanted"), [(1, 200), (2, 503)])
@pytest.mark.parametrize("code", [1213, 1205, 1047, 2006, 2013])
def test_a_reading_is_asked_once_more(
    ours: Shop, monkeypatch: pytest.MonkeyPatch, code: int, times: int, wanted: int
) -> None:
    from workshop.api import stock

    left, real = [times], stock.shop

    def unlucky(request: Any) -> Any:
        if left[0]:
            left[0] -= 1
            raise told(code)
        return real(request)

    monkeypatch.setattr(stock, "shop", unlucky)
    monkeypatch.setattr("workshop.core.tries.LEAST_WAIT_S", 0)
    assert ours.send("get", "/stock").status_code == wanted
    assert left == [0]


def signs_in(client: Client, user: Any) -> Any:
    body = {"username": user.username, "password": PASSWORD}
    return client.post("/api/session", body, content_type="application/json")


@pytest.mark.parametrize(("code", "wanted"), [(1213, 200), (1205, 200), (1047, 200), (2006, 503), (2013, 503)])
def test_a_sign_in_is_kept_with_its_session_or_not_at_all(
    ours: Shop, at_commit: Break, code: int, wanted: int
) -> None:
    left, someone = at_commit(code, 1), Client()
    before = OpenSession.objects.count()
    answer = signs_in(someone, ours.user)
    assert (left, answer.status_code) == ([0], wanted)
    assert OpenSession.objects.count() == before + (wanted == 200)
    assert someone.get("/api/session").json()["signed_in"] is (wanted == 200)


def test_wrong_passwords_are_counted_though_the_count_was_refused_at_first(ours: Shop, at_commit: Break) -> None:
    from axes.models import AccessFailureLog

    at_commit(1213, 2)
    body = {"username": ours.user.username, "password": "not the word"}
    assert Client().post("/api/session", body, content_type="application/json").status_code == 401
    assert AccessFailureLog.objects.count() == 1


def test_where_no_server_is_reached_nobody_waits_for_three_tries(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    tries = Tries()
    tries.begin()
    assert not tries.may_come_again(told(2002, at_opening=True))
    assert not tries.may_come_again(told(2013, at_opening=True))
    assert tries.may_come_again(told(2013))
    assert not tries.may_come_again(told(1205)), "a lock that was asked for without waiting"
    assert not tries.may_come_again(told(1064))


def test_no_more_than_eight_seconds(monkeypatch: pytest.MonkeyPatch) -> None:
    clock = [100.0]
    monkeypatch.setattr("workshop.core.tries.monotonic", lambda: clock[0])
    tries = Tries()
    tries.begin()
    clock[0] += 4.1  # another of these would end after eight
    assert not tries.may_come_again(told(1213))
    tries = Tries()
    tries.begin()
    clock[0] += 3.9
    assert tries.may_come_again(told(1213))


def test_each_try_has_a_connection_of_its_own(ours: Shop, at_commit: Break) -> None:
    at_commit(1213, 2)
    seen: list[int] = []
    with connection.execute_wrapper(
        lambda execute, *args: (seen.append(connection.connection.thread_id()), execute(*args))[1]
    ):
        ours.send("post", "/stock/items.csv", FILE, **{"Idempotency-Key": KEY})
    assert len(set(seen)) == 3


def test_what_runs_beside_requests_is_run_again_where_it_was_refused() -> None:
    left = [2]

    def do() -> str:
        if left[0]:
            left[0] -= 1
            raise told(1213)
        return "done"

    assert run_again(do) == "done"
    left[0] = 3
    with pytest.raises(OperationalError):
        run_again(do)
    left[0] = 1
    with pytest.raises(OperationalError, match="told"):
        run_again(lambda: (_ for _ in ()).throw(told(2013)))


def test_waiting_for_a_node_that_is_lost_is_said_and_asked_again(
    ours: Shop, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    from workshop.nodes.base import DatabaseWrapper

    left = [1]

    def unlucky(self: Any) -> None:
        if left[0]:
            left[0] -= 1
            raise told(2013)

    monkeypatch.setattr(DatabaseWrapper, "sees_what_was_written", unlucky)
    monkeypatch.setitem(settings.DATABASES["default"], "NODES", [("one", 1), ("two", 2)])
    monkeypatch.setattr(DatabaseWrapper, "nodes", [])  # the tests' own server is reached as ever
    ours.client.cookies["wrote"] = "1"
    assert ours.send("get", "/customers").status_code == 200
    left[0] = 2
    assert ours.send("get", "/customers").status_code == 503


def test_a_sign_in_that_is_run_again_keeps_its_guard_against_other_sites(ours: Shop, at_commit: Break) -> None:
    """The token that a sign-in changes is the browser's again where it was undone."""
    someone = Client(enforce_csrf_checks=True)
    token = someone.get("/api/session").cookies["csrftoken"].value
    at_commit(1213, 2)
    body = {"username": ours.user.username, "password": PASSWORD}
    answer = someone.post("/api/session", body, content_type="application/json", headers={"X-CSRFToken": token})
    assert answer.status_code == 200
    changed = answer.cookies["csrftoken"].value
    made = someone.post(
        "/api/customers", {"name": "Pym"}, content_type="application/json", headers={"X-CSRFToken": changed}
    )
    assert made.status_code == 201


def test_a_link_that_works_once_is_not_used_up_by_a_sign_in_that_failed(
    ours: Shop, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Its password was set already when the line was lost: that is undone with the rest."""
    from workshop.api import session

    link = one_time_link(new_person(ours.workshop, "newcomer", "New Comer")).partition("#")[2]
    left, real = [1], session.end_sessions

    def unlucky(*args: Any, **named: Any) -> int:
        if left[0]:
            left[0] -= 1
            raise told(2013)
        return real(*args, **named)

    monkeypatch.setattr(session, "end_sessions", unlucky)
    body, someone = {"link": link, "password": "a long word of one’s own"}, Client()
    for wanted in (503, 200):
        answer = someone.post("/api/session/welcome", body, content_type="application/json")
        assert answer.status_code == wanted
