import io
import json
import subprocess
import sys

import pytest

from ringcraft.__main__ import run
from tests.orders import order


def command(name: str, text: str) -> tuple[int, dict[str, object]]:
    done = subprocess.run(
        [sys.executable, "-m", "ringcraft", *name.split()], input=text, capture_output=True, text=True, check=False
    )
    assert done.stderr == ""
    return done.returncode, json.loads(done.stdout)


def door(name: str, text: str) -> tuple[int, dict[str, object]]:
    """The same without a process of its own: starting one takes longer than the answer."""
    return run(name, io.StringIO(text))


def test_ring_answers_as_the_contract_says() -> None:
    status, answer = command("ring", json.dumps(order(leave="exact", round_to_mm=0.1)))
    assert status == 0
    assert {"target", "blanks", "by_rule", "sensitivity", "route", "engine"} <= set(answer)
    blank = answer["blanks"][0]  # type: ignore[index]
    assert {"name", "cut_length_mm", "formed_length_mm", "terms", "volume_mm3", "mass_g"} <= set(blank)
    step = {"key", "station", "title", "do", "check", "caution", "hands_min", "wait_min", "measure"}
    assert step <= set(answer["route"][0])  # type: ignore[index]


def test_size_answers_as_the_contract_says() -> None:
    status, answer = command("size", '{"text": "K½", "scale": "uk"}')
    assert status == 0
    assert answer["read_as"] == "uk"
    assert answer["circumference_mm"] == pytest.approx(50.625)
    assert set(answer["sizes"]) == {"us", "uk", "iso", "jp", "minus40"}  # type: ignore[call-overload]


@pytest.mark.parametrize(
    ("name", "text", "field"),
    [
        ("size", '{"text": ""}', "text"),
        ("size", "{}", "text"),
        ("size", '{"text": "7", "scale": "xx"}', "scale"),
        ("size", "not json", ""),
        ("size", "", ""),
        ("size", "[]", ""),
        pytest.param("size", "[" * 100_000, "", id="too deep"),
        ("ring", "null", ""),
        ("ring", '{"style": "plain-band"}', "size"),
        ("polish", "{}", "command"),
        ("", "{}", "command"),
        ("size", '{"text": NaN}', "text"),
    ],
)
def test_bad_input_leaves_with_two_and_says_where(name: str, text: str, field: str) -> None:
    status, answer = door(name, text)
    assert status == 2
    error = answer["error"]
    assert isinstance(error, dict)
    assert error["field"] == field
    assert error["message"]


def test_bad_input_leaves_the_process_itself_with_two() -> None:
    status, answer = command("size", '{"text": "US 77"}')
    assert status == 2
    assert answer["error"]["field"] == "text"  # type: ignore[index]


def test_a_flood_is_refused() -> None:
    status, answer = command("size", '"' + "x" * 1_100_000 + '"')
    assert status == 2
    assert "too long" in str(answer["error"])
