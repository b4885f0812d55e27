import io
import json
import os
import subprocess
import sys

import pytest

from ringcraft.__main__ import run, written
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


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"text": "\\ud800"}', "nobody can read"),
        ('{"text": "US 7", "\\udfff": 1}', "nobody can read"),
        ('{"text": ' + "9" * 5000 + "}", "not JSON"),
        ('{"text": ' + "9" * 4000 + "}", "too long"),
        ('{"text": "US 00"}', "nought"),
        ('{"text": "007"}', "nought"),
    ],
)
def test_half_characters_huge_numbers_and_leading_noughts_are_refused(text: str, said: str) -> None:
    status, answer = door("size", text)
    assert status == 2
    assert said in str(answer["error"])


def test_a_console_that_knows_only_ascii_gets_its_answer_all_the_same() -> None:
    said = json.dumps({"text": "M½", "scale": "uk"}, ensure_ascii=False).encode()
    done = subprocess.run(
        [sys.executable, "-m", "ringcraft", "size"], input=said, capture_output=True, check=True,
        env={**os.environ, "PYTHONIOENCODING": "ascii"},
    )  # fmt: skip
    assert json.loads(done.stdout.decode("ascii"))["sizes"]["uk"] == "UK M 1/2"
    assert "½" in written({"text": "½"}, "utf-8")
    assert written({"text": "½"}, "no-such-console").isascii()


def test_a_size_is_read_without_the_styles_and_their_schemas() -> None:
    """It starts at once: what costs the time is not imported. (No timed test: `make bench` measures.)"""
    code = "import io, sys; from ringcraft.__main__ import run; run('size', io.StringIO('{\"text\": \"7 1/2\"}'))"
    code += "; print(sorted({'pydantic', 'ringcraft.styles'} & set(sys.modules)))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


@pytest.mark.parametrize("asked", [{"text": "7 1/2"}, {"text": "54.4 mm"}, {"text": "K½", "scale": "uk"}])
def test_the_short_way_to_a_size_answers_what_its_schema_does(asked: dict[str, str]) -> None:
    assert door("size", json.dumps(asked)) == door("size", json.dumps({**asked, "units": "mm"}))
