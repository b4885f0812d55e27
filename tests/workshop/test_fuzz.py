"""Every endpoint against its own schema, with what a careless client might send."""

from __future__ import annotations

import pytest
import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error

from ringcraft.styles import STYLES
from ringcraft.styles.orders import first_order
from tests.ringcraft.test_ugly import paths, with_value
from tests.workshop.conftest import Shop
from workshop.api import api
from workshop.wsgi import application

#: bodies that hold an order, one of twelve styles: their generator takes a minute each to be made, so they are given
#: ugly values below instead, and every style of them in tests/ringcraft/test_ugly.py
ORDERS = r"^/api/(plan/ring|plan/compare|jobs|jobs/\{job_id\})$"
SCHEMA = schemathesis.openapi.from_dict(api.get_openapi_schema()).exclude(path_regex=ORDERS)
SCHEMA.app = application


@pytest.fixture
def cookie(transactional_db: None) -> dict[str, str]:
    from tests.workshop.conftest import shop

    return {"sessionid": shop("fuzzed").client.cookies["sessionid"].value}


@SCHEMA.parametrize()
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
def test_nothing_that_a_client_sends_is_a_server_error(case: schemathesis.Case, cookie: dict[str, str]) -> None:
    response = case.call(cookies={**cookie, "csrftoken": "x" * 32}, headers={"X-CSRFToken": "x" * 32})
    case.validate_response(response, checks=(not_a_server_error,))
    assert response.status_code != 500


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


def test_the_session_of_the_fuzz_is_really_signed_in(cookie: dict[str, str], ours: Shop) -> None:
    assert cookie["sessionid"]
    assert ours.send("get", "/bench").status_code == 200
