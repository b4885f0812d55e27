"""Every style as the contract writes it, through the command line's own door."""

import io
import json
import math
import subprocess
import sys
from typing import Any

import pytest

from ringcraft.__main__ import run
from ringcraft.styles import STYLES

BASE: dict[str, Any] = {
    "size": "US 7 1/2",
    "metal": "sterling",
    "stock": {"profile": "rectangle", "width_mm": 5.0, "thickness_mm": 1.2},
}
SQUARE = {"profile": "square", "thickness_mm": 1.2}
SHEET = {"profile": "sheet", "width_mm": 8, "thickness_mm": 0.9}
#: the fields that the contract names for a style, and those that its answer must then have
CASES: list[tuple[str, dict[str, Any], set[str]]] = [
    ("plain-band", {}, set()),
    ("textured", {}, {"texture"}),
    ("tapered", {}, {"thin"}),
    ("patterned", {"repeat_mm": 2.5}, {"repeats", "repeat_error_mm", "fits"}),
    ("stamped", {"lines": ["MARA"], "letter_height_mm": 2.5}, {"marks"}),
    ("wishbone", {"v_angle_deg": 75}, {"wishbone"}),
    ("wishbone", {"v_rise_mm": 4}, {"wishbone"}),
    ("wishbone", {"v_extra_mm": 9}, {"wishbone"}),
    ("adjustable", {"overlap_mm": 10}, {"adjustable"}),
    ("folded", {"layers": 2}, {"folded"}),
    ("stack", {"outer": [{"stock": SQUARE, "fit_mm": 0}]}, {"under"}),
    ("channel-inlay", {"outer_stock": SQUARE, "outer_count": 2}, {"channels"}),
    ("hollow-signet", {"top_width_mm": 14, "rise_mm": 2.5}, {"flank_mm"}),
    ("shank", {"gap_mm": 6}, {"shank"}),
    ("shank", {"gap_mm": 0}, {"shank"}),
    ("dished", {"dish_mm": 0.3, "stock": SHEET}, {"dish"}),
    ("adjustable", {"layout": "bypass", "stock": SHEET, "overlap_mm": 8, "dish_mm": 0.2}, {"adjustable"}),
    ("hollow-signet", {"top_width_mm": 14, "strip_mm": 66, "stock": SHEET}, {"rise_mm"}),
    (
        "stack",
        {
            "arrangement": "seat",
            "finished_metal": "platinum-950",
            "sleeve_mm": 0.8,
            "shoulder_high_mm": 0.7,
            "step_mm": 3,
            "stock": {"profile": "rectangle", "width_mm": 3, "thickness_mm": 1.5},
        },
        {"seat"},
    ),
    (
        "patterned",
        {"repeat_mm": 2.5, "match": "size", "centre": "lobe"},
        {"repeats", "joint_repeat_mm"},
    ),
    (
        "tapered",
        {
            "form": "thick-middle",
            "ends": {"width_mm": 3, "thickness_mm": 1.4},
            "middle_mm": 12,
            "stock": {"profile": "square", "thickness_mm": 3},
        },
        {"thin"},
    ),
]


def answer(style: str, **more: Any) -> dict[str, Any]:
    status, said = run("ring", io.StringIO(json.dumps({**BASE, "style": style, **more})))
    assert status == 0, said
    made: dict[str, Any] = said
    return made


def test_every_style_is_called_here() -> None:
    assert {style for style, _, _ in CASES} == set(STYLES)


@pytest.mark.parametrize(("style", "fields", "keys"), CASES)
def test_a_style_answers_what_the_contract_says(style: str, fields: dict[str, Any], keys: set[str]) -> None:
    made = answer(style, **fields)
    assert {"target", "blanks", "by_rule", "sensitivity", "route", "engine", *keys} <= set(made)
    assert made["style"] == style
    for blank in made["blanks"]:
        assert math.fsum(term["mm"] for term in blank["terms"]) == pytest.approx(blank["cut_length_mm"], abs=1e-3)
        assert {"name", "cut_length_mm", "formed_length_mm", "terms", "volume_mm3", "mass_g"} <= set(blank)
        assert all(term["why"] for term in blank["terms"])
    assert set(made["by_rule"]) == {"centroid", "mean-diameter", "three-thickness", "bare-chart"}
    for step in made["route"]:
        assert {"key", "station", "title", "do", "check", "caution", "hands_min", "wait_min", "measure"} <= set(step)
    assert set(made["used"]["defaulted"]) >= {"rule", "round_to_mm"}


def test_by_rule_is_the_formed_length_under_each_rule() -> None:
    for style, fields, _ in CASES:
        for rule in ("centroid", "three-thickness"):
            made = answer(style, **fields, rule=rule, leave="exact")
            if style != "patterned":
                assert made["by_rule"][rule] == pytest.approx(made["blanks"][0]["formed_length_mm"], abs=1e-6), style


def test_the_three_ways_to_a_v_meet() -> None:
    by_angle = answer("wishbone", v_angle_deg=72)["wishbone"]
    assert answer("wishbone", v_rise_mm=by_angle["v_rise_mm"])["wishbone"] == pytest.approx(by_angle)
    assert answer("wishbone", v_extra_mm=by_angle["v_extra_mm"])["wishbone"] == pytest.approx(by_angle)


def test_blanks_come_in_their_order_inner_first() -> None:
    two = [{"stock": SQUARE}, {"stock": SQUARE, "fit_mm": -0.05}]
    assert [b["name"] for b in answer("stack", outer=two)["blanks"]] == ["inner", "outer-1", "outer-2"]
    signet = answer("hollow-signet", top_width_mm=14, rise_mm=2.5, stock=SHEET)
    assert [b["name"] for b in signet["blanks"]] == ["inner", "outer", "plate"]
    channels = answer("channel-inlay", outer_stock=SQUARE, outer_count=3)
    assert channels["channels"] == [{"width_mm": pytest.approx(0.7), "depth_mm": 1.2}] * 2


def test_an_outer_band_follows_the_inner_as_measured() -> None:
    planned = answer("channel-inlay", outer_stock=SQUARE, outer_count=2)
    measured = answer("channel-inlay", outer_stock=SQUARE, outer_count=2, inner_measured_od_mm=20.3)
    outer = {b["name"]: b for b in measured["blanks"]}["outer"]
    assert outer["formed_length_mm"] == pytest.approx(math.pi * (20.3 + 1.2))
    assert planned["blanks"][0] == measured["blanks"][0]


def test_a_gap_shortens_the_blank_along_the_neutral_line() -> None:
    closed, open_ = answer("shank", gap_mm=0), answer("shank", gap_mm=6)
    assert closed["blanks"][0]["formed_length_mm"] - open_["blanks"][0]["formed_length_mm"] == pytest.approx(6)


def test_a_letter_row_is_counted_from_the_left_end() -> None:
    made = answer("stamped", lines=["AB", "C"], letter_height_mm=1.5)
    marks = {(mark["line"], mark["char"]): mark["x_mm"] for mark in made["marks"]}
    assert marks[1, "C"] == pytest.approx(made["blanks"][0]["cut_length_mm"] / 2)
    assert marks[0, "B"] - marks[0, "A"] == pytest.approx(made["pitch_mm"])


@pytest.mark.parametrize("style", ["wishbone", "stamped"])
def test_the_command_itself(style: str) -> None:
    fields = next(fields for name, fields, _ in CASES if name == style)
    order = json.dumps({**BASE, "style": style, **fields})
    done = subprocess.run(
        [sys.executable, "-m", "ringcraft", "ring"], input=order, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0
    assert json.loads(done.stdout)["style"] == style
    bad = subprocess.run(
        [sys.executable, "-m", "ringcraft", "ring"],
        input=json.dumps({**BASE, "style": style, "colour": "blue"}),
        check=False,
        capture_output=True,
        text=True,
    )
    assert bad.returncode == 2
    assert json.loads(bad.stdout)["error"]["field"]
    assert "Traceback" not in bad.stderr
