import json
from typing import Any

import pytest

from ringcraft.schema import to_json
from tests.orders import order, plan
from tests.workshop.conftest import Shop


def test_the_api_answers_what_the_command_line_answers(ours: Shop) -> None:
    answer = ours.send("post", "/plan/ring", order())
    assert answer.status_code == 200
    assert answer.json() == json.loads(json.dumps(to_json(plan())))


def test_size_is_the_same_too(ours: Shop) -> None:
    answer = ours.send("post", "/plan/size", {"text": "K½", "scale": "uk"}).json()
    assert (answer["read_as"], round(answer["circumference_mm"], 3)) == ("uk", 50.625)
    refused = ours.send("post", "/plan/size", {"text": "??"})
    assert (refused.status_code, refused.json()["errors"][0]["field"]) == (422, "text")


@pytest.mark.parametrize(
    ("changes", "field", "said"),
    [
        ({"stock": {"thickness_mm": "-2"}}, "stock.thickness_mm", "less than nothing"),
        ({"stock": {"thickness_mm": 3, "width_mm": 2.9}}, "stock.thickness_mm", "A dome 3.00 high"),
        ({"size": "US 45"}, "size", "US sizes run from 0 to 16"),
        ({"metal": "tin"}, "metal", "not a metal known"),
        ({"style": "moebius"}, "style", ""),
        ({"extra": 1}, "extra", "not asked for"),
    ],
)
def test_bad_input_is_422_with_its_field(ours: Shop, changes: dict[str, Any], field: str, said: str) -> None:
    answer = ours.send("post", "/plan/ring", order(**changes))
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert said in answer.json()["errors"][0]["message"]


@pytest.mark.parametrize("raw", ["", "{", "[]", "null", '"x"', "\xff", "[" * 5000])
def test_what_is_not_json_is_refused_plainly(ours: Shop, raw: str) -> None:
    answer = ours.client.post("/api/plan/ring", raw, content_type="application/json")
    assert answer.status_code in (400, 422)
    assert answer.json()["errors"][0]["message"]
