import math

import pytest

from ringcraft.errors import CraftError
from ringcraft.routes.inspection import KINDS, read_measure, replan, verdicts
from ringcraft.styles import read_ring
from tests.orders import order


def said(measured: dict[str, float], **changes: object) -> dict[str, tuple[str, str]]:
    request = read_ring(order(leave="exact", **changes))
    then, now = replan(request, {}), replan(request, measured)
    return {verdict.key: (verdict.tone, verdict.says) for verdict in verdicts(then, now, measured)}


def test_a_thicker_wire_is_cut_longer_by_the_neutral_line() -> None:
    request = read_ring(order("square", leave="exact", round_to_mm=0))
    grown = replan(request, {"stock-thickness": 2.05}).blanks[0].cut_length_mm
    assert grown - replan(request, {}).blanks[0].cut_length_mm == pytest.approx(math.pi * 0.05)
    tone, says = said({"stock-thickness": 1.9})["stock-thickness"]
    assert tone == "note"
    assert "0.10 thicker: mark" in says


def test_what_was_cut_tells_where_it_closes() -> None:
    assert said({"cut-length": 60.7})["cut-length"][0] == "good"
    tone, says = said({"cut-length": 59.4})["cut-length"]
    assert (tone, says) == ("act", "1.30 short: it closes at US 7")
    assert said({"cut-length": 20})["cut-length"][1].endswith("is that this piece?")


@pytest.mark.parametrize(
    ("inside_mm", "tone", "word"),
    [(17.73, "good", "on US 7 1/2"), (17.53, "note", "stretch"), (16.9, "act", "anneal"), (17.95, "act", "large")],
)
def test_a_size_is_held_against_the_wanted_one(inside_mm: float, tone: str, word: str) -> None:
    got, says = said({"size-rounded": inside_mm})["size-rounded"]
    assert got == tone
    assert word in says


def test_the_weight_is_held_against_what_was_cut() -> None:
    assert said({"mass-finished": 3.3})["mass-finished"][0] == "good"
    assert "is it sterling" in said({"mass-finished": 9.0})["mass-finished"][1]


@pytest.mark.parametrize(
    ("key", "text", "value"),
    [
        ("stock-thickness", "1,82", 1.82),
        ("stock-thickness", "16 ga", 1.2908),
        ("size-rounded", "7 1/2", 17.7292),
        ("mass-finished", "2,61 g", 2.61),
    ],
)
def test_measures_as_typed(key: str, text: str, value: float) -> None:
    assert read_measure(key, text).value == pytest.approx(value, abs=1e-4)


@pytest.mark.parametrize(
    ("key", "text"),
    [
        ("stock-thickness", "💍"),
        ("stock-thickness", "0"),
        ("cut-length", "9000"),
        ("size-rounded", "zz"),
        ("mass-finished", "0"),
        ("mass-finished", "2.6 mm"),
        ("mass-finished", "nan"),
        ("karma", "1"),
    ],
)
def test_a_measure_that_cannot_be_is_refused(key: str, text: str) -> None:
    with pytest.raises(CraftError) as caught:
        read_measure(key, text)
    assert caught.value.field == ("text" if key in KINDS else "key")
