"""Every endpoint against its own schema, with what a careless client might send."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from ringcraft.styles import STYLES
from ringcraft.styles.orders import first_order
from tests.ringcraft.test_ugly import paths, with_value
from tests.slices import share, tries
from tests.workshop.conftest import Shop
from workshop.jobs.models import Job
from workshop.wsgi import application

#: bodies that hold an order, one of twelve styles: a generator of the union takes minutes to be made, so valid orders
#: of every style go through those doors below, each field drawn from the style's own schema
ORDERS = r"^/api/(plan/ring|plan/compare|jobs|jobs/\{job_id\})$"
STORED = json.loads(
    (Path(__file__).parents[2] / "workshop" / "api" / "openapi.json").read_text()
)  # current: `make check`
WHOLE = schemathesis.openapi.from_dict(STORED)
WHOLE.app = application
DRAWN = schemathesis.openapi.from_dict(STORED).exclude(path_regex=ORDERS)
#: the endpoints of this slice: what is drawn for the others need not be thought out
HERE = set(share([one.ok().label for one in DRAWN.get_all_operations()]))
SCHEMA = DRAWN.include(lambda context: context.operation.label in HERE)
SCHEMA.app = application
CHECKS = (not_a_server_error, status_code_conformance, response_schema_conformance)
DOORS = {
    "/api/plan/ring": ("POST", lambda order, whole: order),
    "/api/plan/compare": ("POST", lambda order, whole: {"this": whole, "other": order}),
    "/api/jobs": ("POST", lambda order, whole: {"title": "drawn", "order": order}),
    "/api/jobs/{job_id}": ("PUT", lambda order, whole: {"title": "drawn", "order": order, "version": 1}),
}


@pytest.fixture
def cookie(db: None) -> Iterator[dict[str, str]]:
    """Signed in, all within the test's own transaction: as Django's client does, no request closes its connection."""
    from tests.workshop.conftest import shop

    signed_in = {"sessionid": shop("fuzzed").client.cookies["sessionid"].value}
    for signal in (request_started, request_finished):
        signal.disconnect(close_old_connections)
    yield signed_in
    for signal in (request_started, request_finished):
        signal.connect(close_old_connections)


@SCHEMA.parametrize()
@settings(max_examples=tries(12), deadline=None, suppress_health_check=list(HealthCheck))
def test_nothing_that_a_client_sends_is_a_server_error(case: schemathesis.Case, cookie: dict[str, str]) -> None:
    response = case.call(cookies={**cookie, "csrftoken": "x" * 32}, headers={"X-CSRFToken": "x" * 32})
    case.validate_response(response, checks=(not_a_server_error,))
    assert response.status_code != 500


@pytest.mark.sweep
@pytest.mark.parametrize("style", STYLES)
def test_an_ugly_order_is_answered_at_every_door(ours: Shop, style: str) -> None:
    order = first_order(STYLES[style])
    job = ours.job()
    for path in paths(order):
        for ugly in ("💍", "9" * 400, -1, [], {"a": 1}, None):
            body = with_value(order, path, ugly)
            for method, door, sent in (
                ("post", "/plan/ring", body),
                ("post", "/plan/compare", {"this": order, "other": body}),
                ("put", f"/jobs/{job.pk}", {"title": "ugly", "order": body, "version": 1}),
            ):
                answer = ours.send(method, door, sent)
                assert answer.status_code in (200, 409, 422), (door, path, ugly)
                if answer.status_code == 422:
                    assert all(error["message"] for error in answer.json()["errors"])


ANYTHING = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-5, 500),
    st.floats(-10, 100),
    st.text(max_size=8),
    st.sampled_from(["0.5 in", "16 ga", "7 1/2", "twice", "3 %", "1/16 in", "K½"]),
)


def fields_of_order(style: str) -> dict[str, st.SearchStrategy[Any]]:
    """For each field of a style's own order, what its schema allows and what a careless client might send."""
    raw = WHOLE.raw_schema["components"]["schemas"][STYLES[style].request.__name__]["properties"]
    out = {}
    for name, part in raw.items():
        known = [value for one in (part, *part.get("anyOf", ())) for value in one.get("enum", ())]
        out[name] = st.one_of(st.sampled_from(known), ANYTHING) if known else ANYTHING
    return out


def call(door: str, body: Any, cookie: dict[str, str], job_id: int) -> schemathesis.Response:
    method = DOORS[door][0]
    at = {"path_parameters": {"job_id": job_id}} if "{job_id}" in door else {}
    case = WHOLE[door][method].Case(body=body, media_type="application/json", **at)
    response = case.call(cookies={**cookie, "csrftoken": "x" * 32}, headers={"X-CSRFToken": "x" * 32})
    case.validate_response(response, checks=CHECKS)
    return response


@pytest.mark.parametrize("style", STYLES)
def test_valid_orders_of_every_style_are_answered_as_the_schema_says(cookie: dict[str, str], style: str) -> None:
    order = first_order(STYLES[style])
    for door, (method, body) in DOORS.items():
        job_id = Job.objects.values_list("pk", flat=True).last() or 0
        status = call(door, body(order, order), cookie, job_id).status_code
        assert status == (201 if method == "POST" and door == "/api/jobs" else 200)


@pytest.mark.sweep
@pytest.mark.parametrize("style", STYLES)
def test_orders_with_fields_drawn_from_their_own_schema_are_answered_as_it_says(
    cookie: dict[str, str], style: str
) -> None:
    whole = first_order(STYLES[style])
    fields = fields_of_order(style)

    @settings(max_examples=tries(15), deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.data())
    def drawn(data: st.DataObject) -> None:
        chosen = data.draw(st.lists(st.sampled_from(sorted(fields)), min_size=1, max_size=3, unique=True))
        order = {**whole, **{name: data.draw(fields[name], name) for name in chosen}}
        for door in ("/api/plan/ring", "/api/plan/compare"):
            call(door, DOORS[door][1](order, whole), cookie, 0)

    drawn()


def test_the_session_of_the_fuzz_is_really_signed_in(cookie: dict[str, str], ours: Shop) -> None:
    assert cookie["sessionid"]
    assert ours.send("get", "/bench").status_code == 200
