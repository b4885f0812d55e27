"""Every endpoint against its own schema, with what a careless client might send."""

from __future__ import annotations

import pytest
import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error

from tests.workshop.conftest import Shop
from workshop.api import api
from workshop.wsgi import application

SCHEMA = schemathesis.openapi.from_dict(api.get_openapi_schema())
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


def test_the_session_of_the_fuzz_is_really_signed_in(cookie: dict[str, str], ours: Shop) -> None:
    assert cookie["sessionid"]
    assert ours.send("get", "/bench").status_code == 200
