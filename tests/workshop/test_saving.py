"""Saves that see each other, requests that are carried out once, screens that know whose they are."""

from __future__ import annotations

import json
import threading
from collections import Counter
from collections.abc import Callable
from typing import Any

import pytest
from django.db import connections
from django.test import Client

from tests.orders import order
from tests.slices import tries
from tests.workshop.conftest import PASSWORD, Shop, shop
from workshop.core import once as once_module
from workshop.core.models import Sent
from workshop.customers.models import Customer
from workshop.gauges.models import Gauge
from workshop.jobs.models import Job, Measure
from workshop.people.models import User

GAUGE = {"name": "peg", "kind": "mandrel", "scale": "us"}


def made(ours: Shop) -> dict[str, tuple[str, dict[str, Any], str, Any, Any]]:
    """Of each kind that people edit: its address, a body, the field that is changed, what each of two makes of it."""
    job = ours.send("post", "/jobs", {"title": "band", "order": order()}).json()
    gauge = ours.send("post", "/gauges", GAUGE).json()
    customer = ours.send("post", "/customers", {"name": "Pym"}).json()
    return {
        "job": (f"/jobs/{job['id']}", {"title": "band", "order": order()}, "note", "theirs", "mine"),
        "place": (f"/jobs/{job['id']}/place", {"place": "setter"}, "note", "theirs", "mine"),
        "gauge": (f"/gauges/{gauge['id']}", GAUGE, "place", "theirs", "mine"),
        "customer": (f"/customers/{customer['id']}", {"name": "Pym"}, "note", "theirs", "mine"),
        "ways of the shop": ("/ways/workshop", {}, "blade", "3/0", "6/0"),
        "my ways": ("/ways/mine", {}, "blade", "3/0", "6/0"),
    }


KINDS = ["job", "place", "gauge", "customer", "ways of the shop", "my ways"]


@pytest.mark.parametrize("kind", KINDS)
def test_a_stale_save_is_refused_with_theirs_beside_it(ours: Shop, kind: str) -> None:
    path, body, field, theirs, mine = made(ours)[kind]
    assert ours.send("put", path, {**body, field: theirs, "version": 1}).status_code == 200
    for version in (1, None, 3):
        stale = ours.send("put", path, {**body, field: mine, "version": version})
        assert stale.status_code == 409
        told = stale.json()
        assert (told["kind"], told["version"], told["by"]) == ("stale", 2, "ours")
        assert told["theirs"][field] == theirs
        assert field in told["changed"]
        assert told["at"]
    assert ours.send("put", path, {**body, field: mine, "version": 2}).status_code == 200


def test_a_stale_save_names_who_saved_the_same_and_not_who_did_something_else(ours: Shop) -> None:
    path, body, *_ = made(ours)["job"]
    actor = User.objects.create_user("colleague", password=PASSWORD, workshop=ours.workshop)
    colleague = Client()
    colleague.force_login(actor, backend="django.contrib.auth.backends.ModelBackend")
    assert ours.send("put", path, {**body, "note": "by ours", "version": 1}).status_code == 200
    placed = json.dumps({"place": "setter", "version": 1})
    assert colleague.put(f"/api{path}/place", placed, content_type="application/json").status_code == 200
    assert ours.send("put", path, {**body, "note": "late", "version": 1}).json()["by"] == "ours"
    assert ours.send("put", f"{path}/place", {"place": "ready", "version": 1}).json()["by"] == "colleague"


def at_once(many: int, do: Callable[[int], None]) -> None:
    """Run something in many threads that begin together."""
    gate = threading.Barrier(many)

    def run(number: int) -> None:
        gate.wait()
        try:
            do(number)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=run, args=(number,)) for number in range(many)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("kind", KINDS)
def test_of_many_saves_at_once_one_wins_a_round_and_the_others_are_told(kind: str) -> None:
    ours = shop("ours")
    path, body, field, theirs, _ = made(ours)[kind]
    cookie = ours.client.cookies["sessionid"].value
    statuses: list[int] = []

    def save(number: int) -> None:
        client = Client()
        client.cookies["sessionid"] = cookie
        share = round(0.05 + rounds / 100 + number / 3000, 5)
        said = {"costly_share": share} if "ways" in kind else {field: f"{theirs} {rounds} {number}"}
        sent = json.dumps({**body, **said, "version": rounds + 1})
        statuses.append(client.put(f"/api{path}", sent, content_type="application/json").status_code)

    rounds = 0
    while rounds < tries(10):
        statuses.clear()
        at_once(20, save)
        assert Counter(statuses) == {200: 1, 409: 19}
        rounds += 1


@pytest.mark.django_db(transaction=True)
def test_without_the_lock_the_same_race_loses_saves(monkeypatch: pytest.MonkeyPatch) -> None:
    """The test above can fail: where rows are not held, more than one of a round is told that it won."""
    ours = shop("ours")
    path, body, field, *_ = made(ours)["gauge"]
    cookie = ours.client.cookies["sessionid"].value
    monkeypatch.setattr("workshop.gauges.actions.hold_one", lambda rows: rows.get())
    for rounds in range(40):
        statuses: list[int] = []
        version = Gauge.objects.get().version

        def save(number: int, version: int = version, rounds: int = rounds, out: list[int] = statuses) -> None:
            client = Client()
            client.cookies["sessionid"] = cookie
            sent = json.dumps({**body, field: f"{rounds} {number}", "version": version})
            out.append(client.put(f"/api{path}", sent, content_type="application/json").status_code)

        at_once(20, save)
        if Counter(statuses)[200] > 1:
            return
    raise AssertionError("no save was lost without the lock: the race is no race")


CREATES = [
    ("/jobs", {"title": "band", "order": order()}, Job),
    ("/gauges", GAUGE, Gauge),
    ("/customers", {"name": "Pym"}, Customer),
]


@pytest.mark.parametrize(("path", "body", "model"), CREATES, ids=lambda v: str(v)[:20])
def test_a_lost_answer_is_given_again_and_nothing_is_made_twice(ours: Shop, path: str, body: Any, model: Any) -> None:
    key = {"Idempotency-Key": "a-key-of-its-own"}
    first = ours.send("post", path, body, **key)
    again = ours.send("post", path, body, **key)
    assert (first.status_code, again.status_code) == (201, 201)
    assert first.json() == again.json()
    assert again["Idempotency-Replayed"] == "true"
    assert model.objects.count() == 1
    other = {**body, "name": "Other", "title": "other"} if model is not Job else {**body, "title": "other"}
    deviation = ours.send("post", path, {k: v for k, v in other.items() if k in body}, **key)
    assert (deviation.status_code, deviation.json()["errors"][0]["field"]) == (422, "Idempotency-Key")
    assert model.objects.count() == 1


def test_a_refused_request_can_come_again_mended_under_its_key(ours: Shop) -> None:
    key = {"Idempotency-Key": "mended-later"}
    assert ours.send("post", "/customers", {"name": ""}, **key).status_code == 422
    assert Sent.objects.count() == 0
    assert ours.send("post", "/customers", {"name": "Pym"}, **key).status_code == 201
    assert Sent.objects.count() == 1


def test_a_measure_sent_again_is_one_reading(ours: Shop) -> None:
    job = ours.job()
    for ago in ("5", "65"):
        headers = {"Idempotency-Key": "one-reading", "Bench-Seconds-Ago": ago}
        path = f"/jobs/{job.pk}/measures/stock-thickness"
        assert ours.send("put", path, {"text": "1.8"}, **headers).status_code == 200
    assert Measure.objects.count() == 1


def test_a_key_is_one_persons_and_a_stranger_cannot_read_an_answer_by_it(ours: Shop, theirs: Shop) -> None:
    key = {"Idempotency-Key": "the-same-key"}
    mine = ours.send("post", "/customers", {"name": "Pym"}, **key).json()
    other = theirs.send("post", "/customers", {"name": "Pym"}, **key).json()
    assert mine["id"] != other["id"]


@pytest.mark.parametrize("key", ["short", "x" * 81, "with blanks in it", "semi;colon"])
def test_a_key_that_is_none_is_refused(ours: Shop, key: str) -> None:
    answer = ours.send("post", "/customers", {"name": "Pym"}, **{"Idempotency-Key": key})
    assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, "Idempotency-Key")


@pytest.mark.django_db(transaction=True)
def test_one_request_sent_from_many_hands_at_once_is_carried_out_once() -> None:
    ours = shop("ours")
    cookie = ours.client.cookies["sessionid"].value
    answers: list[tuple[int, bytes]] = []

    def send(number: int) -> None:
        client = Client()
        client.cookies["sessionid"] = cookie
        answer = client.post(
            "/api/jobs",
            json.dumps({"title": "band", "order": order()}),
            content_type="application/json",
            headers={"Idempotency-Key": "from-many-hands"},
        )
        answers.append((answer.status_code, answer.content))

    at_once(8, send)
    assert len(set(answers)) == 1
    assert answers[0][0] == 201
    assert Job.objects.count() == 1


def test_old_keys_are_forgotten(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    ours.send("post", "/customers", {"name": "Pym"}, **{"Idempotency-Key": "an-old-key"})
    monkeypatch.setattr(once_module, "KEPT", -once_module.KEPT)
    for number in range(40):
        ours.send("post", "/customers", {"name": "Pym"}, **{"Idempotency-Key": f"new-key-{number}"})
    assert not Sent.objects.filter(key="an-old-key").exists()


def test_a_screen_of_somebody_else_writes_and_reads_nothing(ours: Shop, theirs: Shop) -> None:
    colleague = User.objects.create_user("colleague", password=PASSWORD, workshop=ours.workshop)
    as_ours = {"Bench-Person": str(ours.user.pk), "Bench-Workshop": str(ours.workshop.pk)}
    assert ours.send("post", "/customers", {"name": "Pym"}, **as_ours).status_code == 201
    for believed in (
        {**as_ours, "Bench-Person": str(colleague.pk)},
        {**as_ours, "Bench-Workshop": str(theirs.workshop.pk)},
        {"Bench-Person": "nobody", "Bench-Workshop": "nowhere"},
    ):
        for method, path, body in (
            ("post", "/customers", {"name": "Pym"}),
            ("get", "/bench", None),
            ("delete", "/session", None),
        ):
            answer = ours.send(method, path, body, **believed)
            assert (answer.status_code, answer.json()["kind"]) == (403, "somebody-else")
    assert Customer.objects.count() == 1
    assert ours.send("get", "/session").json()["signed_in"]
