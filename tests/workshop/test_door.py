"""The door of the API: nothing that cannot be read gets in, and whatever goes wrong has one shape."""

from __future__ import annotations

import ipaddress
import json
import os
import subprocess
import sys
from typing import Any

import pytest
from axes.models import AccessFailureLog
from django.test import Client, RequestFactory, override_settings

from tests.orders import order
from tests.workshop.conftest import PASSWORD, Shop
from workshop.api import api
from workshop.api.problems import KINDS
from workshop.core.text import is_ugly, ugly_fields
from workshop.customers.models import Customer
from workshop.jobs.models import Job
from workshop.people.models import User
from workshop.people.throttle import MOST_NAMES, MOST_OF_A_NAME, own_door, waits

UGLY = ["half \ud800", "\udfff", "nought \0", "bell \x07", "\x7f", "\x85", "no \uffff", "no \ufdd0\U0001fffe"]
FINE = ["Ångström", "指輪", "💍 ring", "two\nlines", "tab\t", "é combining", "👩‍🔧", "عقد", "½"]


def is_problem(answer: Any, status: int) -> bool:
    body = answer.json()
    assert answer.status_code == status, body
    assert body["kind"] == KINDS[status]
    assert body["errors"]
    assert all(set(error) == {"field", "message", "hint"} and error["message"] for error in body["errors"])
    return True


@pytest.mark.parametrize("text", UGLY)
def test_ugly_text_is_ugly(text: str) -> None:
    assert is_ugly(text)


@pytest.mark.parametrize("text", FINE)
def test_what_people_write_is_not(text: str) -> None:
    assert not is_ugly(text)


@pytest.mark.sweep
@pytest.mark.parametrize("text", UGLY)
@pytest.mark.parametrize(
    ("method", "path", "body", "field"),
    [
        ("post", "/jobs", {"title": "UGLY", "order": order()}, "title"),
        ("post", "/jobs", {"title": "band", "order": order(size="UGLY")}, "order.size"),
        ("post", "/jobs/import", {"format": "UGLY"}, "format"),
        ("post", "/plan/ring", order(metal="UGLY"), "metal"),
        ("post", "/plan/size", {"text": "UGLY"}, "text"),
        ("post", "/customers", {"name": "UGLY"}, "name"),
        ("post", "/gauges", {"name": "x", "kind": "mandrel", "scale": "us", "place": "UGLY"}, "place"),
        ("post", "/gauges/chart/read", {"text": "UGLY"}, "text"),
        ("put", "/ways/mine", {"rule": "UGLY", "version": 1}, "rule"),
        ("post", "/session", {"username": "UGLY", "password": "x"}, "username"),
        ("put", "/session/password", {"now": "UGLY", "new": "x"}, "now"),
        ("put", "/jobs/1/steps/cut", {"done": "UGLY"}, "done"),
    ],
)
def test_ugly_text_is_refused_at_its_field_at_every_door(
    ours: Shop, text: str, method: str, path: str, body: Any, field: str
) -> None:
    sent = json.loads(json.dumps(body).replace("UGLY", "UGLY"), object_hook=None)

    def spoil(data: Any) -> Any:
        if isinstance(data, dict):
            return {name: spoil(value) for name, value in data.items()}
        return text if data == "UGLY" else data

    answer = ours.send(method, path, spoil(sent))
    assert is_problem(answer, 422)
    assert answer.json()["errors"][0]["field"] == field


def test_a_name_of_a_field_that_is_ugly_is_refused_too(ours: Shop) -> None:
    assert is_problem(ours.send("post", "/plan/ring", {"order\ud800": 1}), 422)
    assert [error.field for error in ugly_fields({"a": [{"b": "x\0"}]})] == ["a.0.b"]


@pytest.mark.parametrize(("path", "field"), [("/customers?q=%00", "q"), ("/jobs/find?q=a%00b", "q")])
def test_an_ugly_question_is_refused_at_its_name(ours: Shop, path: str, field: str) -> None:
    answer = ours.send("get", path)
    assert is_problem(answer, 422)
    assert answer.json()["errors"][0]["field"] == field


def test_every_status_has_the_one_shape(ours: Shop) -> None:
    client, kind = ours.client, "application/json"
    nobody = Client()
    assert is_problem(client.post("/api/jobs", "{", content_type=kind), 400)
    assert is_problem(client.post("/api/jobs", "[" * 100_000, content_type=kind), 400)
    assert is_problem(client.post("/api/jobs", b"\xff\xfe{", content_type=kind), 400)
    assert is_problem(client.post("/api/jobs", '{"title": ' + "9" * 5000 + "}", content_type=kind), 400)
    assert is_problem(nobody.get("/api/bench"), 401)
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(ours.user, backend="django.contrib.auth.backends.ModelBackend")
    assert is_problem(strict.post("/api/jobs", "{}", content_type=kind), 403)
    assert is_problem(strict.post("/api/session", '{"username": "a", "password": "b"}', content_type=kind), 403)
    assert is_problem(client.get("/api/nowhere"), 404)
    assert is_problem(client.get("/api/jobs/999999"), 404)
    assert is_problem(client.get("/api/jobs/%00"), 404)
    wrong = client.patch("/api/jobs", "{}", content_type=kind)
    assert is_problem(wrong, 405)
    assert wrong["Allow"]
    large = json.dumps({"title": "x" * 2_100_000})
    assert is_problem(client.post("/api/jobs", large, content_type=kind), 413)
    deep = {"title": "x", "order": json.loads('{"a":' * 60 + "1" + "}" * 60)}
    assert is_problem(client.post("/api/jobs", json.dumps(deep), content_type=kind), 422)


@override_settings(AXES_FAILURE_LIMIT=3)
def test_too_many_wrong_passwords_are_said_in_the_one_shape(ours: Shop) -> None:
    client = Client()
    for _ in range(2):
        wrong = json.dumps({"username": "ours", "password": "wrong"})
        assert client.post("/api/session", wrong, content_type="application/json").status_code == 401
    for _ in range(3):
        answer = client.post("/api/session", wrong, content_type="application/json")
        assert is_problem(answer, 429)
    right = json.dumps({"username": "ours", "password": PASSWORD})
    assert is_problem(client.post("/api/session", right, content_type="application/json"), 429)


def test_wrong_words_for_ones_own_password_lock_nobodys_sign_in(ours: Shop) -> None:
    kind = "application/json"
    wrong = json.dumps({"now": "not it", "new": "copper and bronze"})
    answers = [ours.client.put("/api/session/password", wrong, content_type=kind).status_code for _ in range(12)]
    assert answers[:7] == [422] * 7
    assert answers[-1] == 429
    right = json.dumps({"username": "ours", "password": PASSWORD})
    assert Client().post("/api/session", right, content_type=kind).status_code == 200


SHARED = "203.0.113.9"


def enter(name: str, password: str = PASSWORD, address: str = SHARED, client: Client | None = None) -> int:
    """Try to sign in; what is answered."""
    body = json.dumps({"username": name, "password": password})
    answer = (client or Client()).post("/api/session", body, content_type="application/json", REMOTE_ADDR=address)
    return int(answer.status_code)


def test_forty_colleagues_behind_one_address_get_in_while_names_are_tried_there(ours: Shop, theirs: Shop) -> None:
    devices = {}
    for n in range(40):
        User.objects.create_user(f"mate{n}", password=PASSWORD, workshop=ours.workshop)
        devices[f"mate{n}"] = Client()
        assert enter(f"mate{n}", address="198.51.100.7", client=devices[f"mate{n}"]) == 200
    answers = [enter(f"name{n}", "wrong") for n in range(MOST_NAMES + 10)]
    assert answers == [401] * MOST_NAMES + [429] * 10
    for name, device in devices.items():  # and each of their own names is guessed at, at this very address
        guesses = {enter(name, "wrong") for _ in range(2)}
        assert guesses == {429}
        device.delete("/api/session")
        assert enter(name, client=device) == 200
    assert enter("theirs") == 429  # who has never been here waits
    assert enter("theirs", address="192.0.2.4") == 200
    stolen = Client()
    stolen.cookies["known_device"] = f"{'0' * 16}:{ours.user.pk}"  # not signed
    assert enter("ours", client=stolen) == 429


@override_settings(AXES_FAILURE_LIMIT=3)
def test_a_known_device_is_counted_by_itself_and_not_for_ever(ours: Shop) -> None:
    device = Client()
    assert enter("ours", client=device) == 200
    assert [enter("ours", "wrong") for _ in range(4)][-1] == 429
    device.delete("/api/session")
    assert enter("ours", "wrong", client=device) == 401
    assert enter("ours", client=device) == 200  # the others' tries are not counted on it
    device.delete("/api/session")
    assert [enter("ours", "wrong", client=device) for _ in range(4)][-1] == 429
    assert enter("ours", client=device) == 429


def test_a_name_that_is_tried_everywhere_waits_but_for_who_is_known(ours: Shop) -> None:
    device = Client()
    assert enter("ours", client=device) == 200
    answers = [enter("ours", "wrong", f"192.0.2.{n}") for n in range(MOST_OF_A_NAME + 2)]
    assert answers == [401] * MOST_OF_A_NAME + [429] * 2
    assert enter("ours", address="192.0.2.200") == 429
    assert enter("ours", address="192.0.2.201", client=device) == 200


def test_wrong_words_for_own_passwords_are_no_names_that_are_tried(ours: Shop) -> None:
    """A shop of many behind one address, each of whom forgot the old word, shuts nobody out."""
    for n in range(MOST_NAMES + 2):
        AccessFailureLog.objects.create(username=own_door(f"name{n}", "own password"), ip_address=SHARED)
    nobody = RequestFactory().get("/")
    assert not waits(nobody, SHARED, "new here")
    for n in range(MOST_NAMES):
        AccessFailureLog.objects.create(username=f"name{n}", ip_address=SHARED)
    assert waits(nobody, SHARED, "new here")


@override_settings(AXES_FAILURE_LIMIT=3, PROXY_ADDRESSES=[ipaddress.ip_network("127.0.0.1")])
def test_behind_a_balancer_an_attacker_locks_nobody_else_out(ours: Shop) -> None:
    def ask(seen: str, password: str) -> int:
        body = json.dumps({"username": "ours", "password": password})
        headers = {"X-Forwarded-For": seen}
        status = Client().post("/api/session", body, content_type="application/json", headers=headers).status_code
        return int(status)

    for _ in range(5):
        last = ask("10.0.0.5, 203.0.113.9", "wrong")  # what a client says of itself before it is not believed
    assert last == 429
    assert ask("203.0.113.9, 198.51.100.7", PASSWORD) == 200
    assert ask("198.51.100.7, 203.0.113.9", PASSWORD) == 429
    assert ask("nonsense", PASSWORD) == 200


def test_every_problem_is_declared_at_every_operation() -> None:
    schema = api.get_openapi_schema()
    for path, operations in schema["paths"].items():
        for method, operation in operations.items():
            said = operation["responses"]
            assert said["default"] == {"$ref": "#/components/responses/Problem"}, (method, path)
            assert not {str(status) for status in KINDS} & {str(status) for status in said}, (method, path)
            assert any(str(status).startswith("2") for status in said), (method, path)
    whole = schema["components"]["responses"]["Problem"]
    assert all(f"{status} {kind}" in whole["description"] for status, kind in KINDS.items())
    assert set(schema["components"]["schemas"]["Conflict"]["properties"]) >= {"theirs", "version", "by", "changed"}


def test_pages_lose_nothing_and_say_how_many_there_are(ours: Shop) -> None:
    names = [f"{name} {n % 7}" for n in range(30) for name in ("Pym", "pym", "Ärden", "Zed")]
    Customer.objects.bulk_create([Customer(workshop=ours.workshop, name=name) for name in names])
    seen: list[int] = []
    count = 1
    while len(seen) < count:
        page = ours.send("get", f"/customers?limit=7&offset={len(seen)}").json()
        assert 0 < len(page["items"]) <= 7
        seen += [one["id"] for one in page["items"]]
        count = page["count"]
    assert (len(seen), len(set(seen)), count) == (len(names), len(names), len(names))
    by_name = [one.pk for one in Customer.objects.order_by("name", "id")]
    assert seen == by_name


@pytest.mark.parametrize(
    "place", ["limit=0", "limit=101", "limit=x", "offset=-1", "offset=1e9", "offset=%F0%9F%92%8D"]
)
@pytest.mark.parametrize("door", ["/customers?", "/jobs?", "/jobs/find?q=a&", "/gauges?"])
def test_a_place_in_a_list_that_is_none_is_refused(ours: Shop, door: str, place: str) -> None:
    answer = ours.send("get", f"{door}{place}")
    assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, place.partition("=")[0])


def test_a_page_behind_the_end_is_empty_and_still_says_how_many_there_are(ours: Shop) -> None:
    ours.job()
    assert ours.send("get", "/jobs?offset=50").json() == {"items": [], "count": 1}


def test_two_hundred_and_more_open_jobs_are_all_there(ours: Shop) -> None:
    first = ours.job()
    fields = {f.name: getattr(first, f.name) for f in Job._meta.concrete_fields if f.name not in ("id", "number")}
    Job.objects.bulk_create([Job(**fields, number=n) for n in range(2, 431)])
    bench = ours.send("get", "/bench").json()
    assert (bench["open_count"], len(bench["rings"]), bench["not_drawn"]) == (430, 400, 30)
    assert len(bench["day"]["order"]) == 430
    listed: list[int] = []
    while len(listed) < 430:
        page = ours.send("get", f"/jobs?offset={len(listed)}").json()
        assert page["count"] == 430
        listed += [line["number"] for line in page["items"]]
    assert listed == list(range(430, 0, -1))


def test_the_limits_for_a_frozen_database_stay_under_five_seconds() -> None:
    """As they are set where nobody says otherwise: a look at a kept connection, then a new one."""
    code = (
        "from workshop.settings import DATABASES; limits = DATABASES['default']['OPTIONS'];"
        "print(limits['connect_timeout'], limits['read_timeout'])"
    )
    clean = {name: value for name, value in os.environ.items() if name != "PLAIN_SHANK_DB_TIMEOUT"}
    done = subprocess.run([sys.executable, "-c", code], env=clean, capture_output=True, text=True, check=True)
    assert sum(map(int, done.stdout.split())) < 5
