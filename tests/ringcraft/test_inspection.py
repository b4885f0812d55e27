import math

import pytest

from ringcraft.errors import CraftError
from ringcraft.following.inspection import KINDS, read_measure, replan, verdicts
from ringcraft.styles import read_ring
from tests.orders import followed, order, style_order


def said(measured: dict[str, float], **changes: object) -> dict[str, tuple[str, str]]:
    request = read_ring(order(leave="exact", **changes))
    return {one.key: (one.tone, one.says) for one in followed(request, measured).verdicts}


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
    [
        (17.73, "good", "on US 7 1/2"),
        (17.45, "note", "stretch"),
        (17.0, "act", "anneal"),
        (16.9, "act", "set a piece in"),
        (17.95, "act", "large"),
    ],
)
def test_a_size_is_held_against_the_wanted_one(inside_mm: float, tone: str, word: str) -> None:
    got, says = said({"size-rounded": inside_mm})["size-rounded"]
    assert got == tone
    assert word in says


def left(leave: str, measured: dict[str, float], profile: str = "half-round") -> tuple[str, str]:
    request = read_ring(order(profile, leave=leave))
    now = replan(request, measured)
    verdict = next(one for one in verdicts(now, now, measured) if one.key == "size-rounded")
    return verdict.tone, verdict.says


def test_a_ring_that_was_left_small_or_large_is_no_fault() -> None:
    closes = {leave: replan(read_ring(order(leave=leave)), {}).closing for leave in ("small", "large")}
    small = closes["small"].inside_diameter_mm
    tone, says = left("small", {"size-rounded": small})
    assert (tone, says[:22]) == ("good", "left small as planned:")
    assert says.endswith("round to go, stretch it to US 7 1/2; the wall thins by about 0.6 %")
    assert left("small", {"size-rounded": closes["small"].low_mm - 0.1})[0] == "note"
    tone, says = left("large", {"size-rounded": closes["large"].inside_diameter_mm})
    assert (tone, says) == ("good", f"left large as planned: {closes['large'].text} was expected")
    assert left("large", {"size-rounded": closes["large"].high_mm + 0.1})[0] == "act"
    wanted = replan(read_ring(order(leave="large")), {}).wanted_mm
    assert left("large", {"size-rounded": wanted + 0.02})[0] == "good"
    tone, says = left("large", {"size-rounded": wanted - 0.1})
    assert tone == "note"
    assert "0.31 round: stretch it to US 7 1/2;" in says  # to the finger, not to what was left for its buyer


def test_a_finished_ring_that_is_small_is_small_however_it_was_left() -> None:
    request = read_ring(order(leave="small"))
    now = replan(request, {})
    measured = {"size-finished": now.wanted_mm - 0.09}  # as small as it was left before it was stretched
    verdict = next(one for one in followed(request, measured).verdicts)
    assert verdict.tone == "note"
    assert "left small" not in verdict.says
    assert "small, 0.28 round: stretch it to US 7 1/2" in verdict.says


@pytest.mark.parametrize(
    ("style", "said"), [("plain-band", "a reducing die"), ("stack", "a reducing die"), ("stamped", "saw through")]
)
def test_the_verdict_lets_be_pressed_what_the_plan_would_press(style: str, said: str) -> None:
    request = read_ring(style_order(style, leave="exact"))
    now = replan(request, {"size-rounded": 18.0})
    verdict = next(one for one in verdicts(now, now, {"size-rounded": 18.0}) if one.key == "size-rounded")
    assert verdict.says.split("round: ")[1].startswith(said)


@pytest.mark.parametrize(("style", "stage"), [("stack", "size-soldered"), ("channel-inlay", "size-finished"),
                                              ("hollow-signet", "size-finished")])  # fmt: skip
def test_what_is_stacked_inlaid_or_boxed_gets_no_advice_of_a_plain_band(style: str, stage: str) -> None:
    request = read_ring(style_order(style))
    now = replan(request, {})
    for off in (-0.3, 0.3):
        verdict = next(one for one in verdicts(now, now, {stage: now.wanted_mm + off}))
        assert verdict.tone == "act"
        assert not [word for word in ("stretch", "die", "saw", "piece in") if word in verdict.says], verdict.says


def test_nothing_follows_from_a_size_that_is_read_through_daylight() -> None:
    small = {"size-rounded": 17.0}
    tone, says = left("exact", {**small, "daylight": 1.0})
    assert tone == "act"
    assert "true it first" in says
    assert "anneal" not in says
    assert "anneal" in left("exact", {**small, "daylight": 0.0})[1]


@pytest.mark.parametrize(("text", "value"), [("yes", 1.0), ("Some", 1.0), ("no", 0.0), ("None", 0.0), ("n", 0.0)])
def test_daylight_is_a_yes_or_a_no(text: str, value: float) -> None:
    assert read_measure("daylight", text).value == value
    with pytest.raises(CraftError, match="yes or a no"):
        read_measure("daylight", "perhaps")


def test_the_weight_is_held_against_what_was_cut() -> None:
    planned = replan(read_ring(order(leave="exact")), {}).route[-2].measure[1].expected
    for share, tone in ((0.98, "good"), (1.029, "good"), (0.95, "note"), (1.07, "note"), (0.9, "act"), (1.1, "act")):
        assert said({"mass-finished": planned * share})["mass-finished"][0] == tone, share
    assert "missing piece" in said({"mass-finished": planned * 0.9})["mass-finished"][1]
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
