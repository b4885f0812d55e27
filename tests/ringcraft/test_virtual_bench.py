"""The virtual bench: every route can be worked as it stands, and the ring that comes off it is the one promised."""

from __future__ import annotations

import itertools
import json
import math
from collections.abc import Iterator
from typing import Any

import pytest

from ringcraft.metals import BLADES, METALS
from ringcraft.planning.own import GROUPS
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, ring
from ringcraft.styles.orders import first_order
from ringcraft.vbench.deeds import OPS
from ringcraft.work.fields import set_path
from tests.ringcraft.benchwork import replay
from tests.slices import share

ONE_OF_EACH = list({metal.family: key for key, metal in reversed(METALS.items())}.values())
#: A finished ring that rides on a step of two sleeves.
SEAT: dict[str, Any] = {
    "arrangement": "seat",
    "finished_metal": "platinum-950",
    "outer": [],
    "stock": {"profile": "rectangle", "width_mm": 3.2, "thickness_mm": 1.7},
    "sleeve_mm": 1.0,
    "shoulder_high_mm": 0.7,
    "step_mm": 3.0,
}
#: The options of each style beside its first order; each is worked in every family of metals and by every school.
OPTIONS: dict[str, list[dict[str, Any]]] = {
    "plain-band": [
        {},
        {"stock": {"profile": "court", "width_mm": 5, "thickness_mm": 1.9}},
        {"stock": {"profile": "sheet", "width_mm": 9, "thickness_mm": 1}, "wide": True},
    ],
    "textured": [
        {},
        {"stock": {"profile": "half-round", "width_mm": 5, "thickness_mm": 2}},
        {"texture": "after"},
        {"texture": "after", "growth": "12 %"},
    ],
    "patterned": [{"repeat_mm": 3.1}, {"repeat_mm": 3.1, "match": "size"}],
    "stamped": [{}, {"face": "inside", "lines": ["MARA", "12 4"], "letter_height_mm": 1.6}],
    "dished": [{}, {"dish_mm": 0.9, "stock": {"profile": "sheet", "width_mm": 9, "thickness_mm": 1.2}}],
    "wishbone": [{}, {"stock": {"profile": "triangle", "width_mm": 3, "thickness_mm": 1.9}}, {"v_place": "joint"}],
    "adjustable": [
        {},
        {"overlap_mm": 1, "waist_mm": None},
        {"layout": "bypass", "dish_mm": 0.4},
        {"dish_mm": 0.5, "corner_mm": 2.4},
    ],
    "folded": [{}, {"doubling": "doubled", "layers": 3}, {"layers": 4, "stock.thickness_mm": 0.4}],
    "stack": [{}, {"arrangement": "sandwich", "finished_metal": "platinum-950"}, SEAT],
    "channel-inlay": [{}, {"outer_count": 2}, {"heats": "one-by-one"}],
    "hollow-signet": [{}, {"rise_mm": None, "strip_mm": 66.0}],
    "shank": [{}, {"ends": "split"}, {"gap_mm": 0}, {"small_round": True}],
    "tapered": [
        {},
        {"gap_mm": 6},
        {"middle.thickness_mm": 1.0},
        {"form": "thick-middle", "middle": None, "ends": {"width_mm": 3.2, "thickness_mm": 1.7}, "middle_mm": 15},
        {"gap_mm": 5, "small_round": True, "stock.thickness_mm": 2.4, "middle": None},
    ],
}
JOINS: list[dict[str, Any]] = [
    {"saw_passes": 0, "file_passes": 0},
    {"saw_passes": 0, "file_passes": 2, "trim_mm": 1},
    {"saw_passes": 3, "blade": "1", "trim_mm": 0.7, "file_passes": 1},
]
#: Terms of a ledger that are metal, and that a step takes or gives: each by exactly one group of steps.
METAL_TERMS = ("saw", "file", "trim", "kerf", "texture", "growth")
RULES = ["centroid", "mean-diameter", "three-thickness", "bare-chart", "own", "learnt"]


def order(style: str, option: dict[str, Any], **changes: Any) -> dict[str, Any]:
    data = first_order(STYLES[style])
    for path, value in option.items():
        if isinstance(value, dict):
            data[path] = value
        else:
            set_path(data, path, value)
    if changes.get("rule") == "own":
        changes["own_correction_mm"] = 0.4
    if changes.get("rule") == "learnt":  # what the shop's own rings have taught, under any rule
        changes["rule"] = "mean-diameter"
        changes["own"] = {"corrections": [{"group": group, "round_mm": 0.38} for group in GROUPS]}
    return data | changes


def cases() -> Iterator[dict[str, Any]]:
    for style, options in OPTIONS.items():
        for option in options:
            for metal in ONE_OF_EACH:
                if (style, metal) != (
                    "stack",
                    "platinum-950",
                ) or not option:  # its solder would melt the finished ring
                    yield order(style, option, metal=metal)
            for join, rule, leave in itertools.product(JOINS, RULES, ("small", "exact", "large")):
                yield order(style, option, join=join, rule=rule, leave=leave)


CASES = list(cases())


@pytest.fixture(scope="module")
def worked() -> list[tuple[dict[str, Any], dict[str, Any]]]:
    """Each case of the slice with its answer as JSON: planning it works its route, and raises where a need is not met."""
    return [(case, to_json(ring(case))) for case in share(CASES, json.dumps)]


def deeds(plan: dict[str, Any]) -> list[dict[str, Any]]:
    return [deed for step in plan["route"] for deed in step["does"]]


def finished(plan: dict[str, Any]) -> dict[str, Any]:
    pieces = plan["route"][-1]["after"]
    assert len(pieces) == 1
    return next(iter(pieces.values()))


def test_there_are_more_than_a_thousand_routes_and_each_is_worked(worked: Any) -> None:
    assert len(CASES) > 1000
    assert len(worked) == len(share(CASES, json.dumps))
    assert {plan["style"] for _, plan in worked} == set(STYLES)


def near(one: Any, other: Any, path: str = "") -> list[str]:
    """Where two states part."""
    if isinstance(one, dict):
        keys = sorted(set(one) | set(other))
        return [off for key in keys for off in near(one.get(key), other.get(key), f"{path}.{key}")]
    if isinstance(one, float) and isinstance(other, float):
        return [] if math.isclose(one, other, rel_tol=1e-9, abs_tol=1e-9) else [f"{path}: {one} is {other}"]
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        return [d for i, (a, b) in enumerate(zip(one, other, strict=True)) for d in near(a, b, f"{path}.{i}")]
    return [] if one == other else [f"{path}: {one} is {other}"]


def test_what_stands_after_each_step_follows_from_what_it_does_alone(worked: Any) -> None:
    for case, plan in worked:
        state = plan["start"]
        for step in plan["route"]:
            state = replay(state, step["does"])
            assert near(state, step["after"]) == [], (case, step["key"])
            state = step["after"]


def test_every_step_says_what_it_does_in_the_ops_there_are(worked: Any) -> None:
    for case, plan in worked:
        before = set(plan["start"])
        for step in plan["route"]:
            assert step["does"], (case["style"], step["key"])
            assert {deed["op"] for deed in step["does"]} <= set(OPS)
            assert before | set(step["after"]) >= {deed["piece"] for deed in step["does"] if "piece" in deed}
            before = set(step["after"])


def test_each_term_of_metal_is_taken_by_exactly_its_steps(worked: Any) -> None:
    for case, plan in worked:
        for blank in plan["blanks"]:
            own = [deed for deed in deeds(plan) if deed.get("piece") == blank["name"]]
            for term in METAL_TERMS:
                took = math.fsum(
                    deed.get("takes_mm", -deed.get("grows_mm", 0)) for deed in own if deed.get("term") == term
                )
                owed = math.fsum(one["mm"] for one in blank["terms"] if one["key"] == term)
                assert took == pytest.approx(owed, abs=1e-9), (case, blank["name"], term)


def test_with_no_pass_there_is_no_step_of_saw_or_file(worked: Any) -> None:
    for case, plan in worked:
        ops = {deed["op"] for deed in deeds(plan)}
        join = plan["used"]["join"]
        if plan["style"] not in ("adjustable",):
            assert ("saw-joint" in ops) == (join["saw_passes"] > 0 and "close" in ops), case
            assert ("file-joint" in ops) == (join["file_passes"] > 0 and "close" in ops), case
        assert "never" not in " ".join(step["title"] for step in plan["route"])


def test_the_ring_that_comes_off_the_bench_is_the_one_that_was_promised(worked: Any) -> None:
    for case, plan in worked:
        piece = finished(plan)
        assert piece["inside_diameter_mm"] == pytest.approx(plan["finished"]["inside_diameter_mm"], abs=1e-6), case
        assert (piece["hot"], piece["clean"], piece["hump"], piece["bound"]) == (False, True, False, "none")
        asked = {ask["key"]: ask for step in plan["route"] for ask in step["measure"]}
        grams = piece["volume_mm3"] * piece["density_g_cm3"] / 1000
        if case.get("arrangement") == "seat":  # what rides on it was never weighed alone
            assert not any(key.startswith("mass") for key in asked), case
        else:
            mass = asked.get("mass-finished") or asked["mass-before-inlay"]
            assert mass["expected"] == pytest.approx(grams), case
        assert asked["size-finished"]["expected"] == pytest.approx(piece["inside_diameter_mm"])


def test_it_is_brought_to_the_finger_or_it_is_said_why_not(worked: Any) -> None:
    for case, plan in worked:
        to, wanted, by = plan["finished"]["inside_diameter_mm"], plan["wanted_mm"], plan["finished"]["by"]
        if by != "left":
            assert to == wanted, case
            continue
        closes, says = plan["closing"]["inside_diameter_mm"], plan["finished"]["says"]
        assert to == closes
        kept = plan["used"]["leave"] == "large" and closes > wanted and "Leave it so until it is sold" in says
        reasons = (
            "is more than the",
            "cannot be pressed smaller",
            "it is not stretched",
            "round too large. Take it out at the back",
            "whole repeats make it",
        )
        assert kept or any(reason in says for reason in reasons), (case, says)


def test_only_what_can_be_stretched_or_pressed_is(worked: Any) -> None:
    for case, plan in worked:
        open_shank = plan["style"] in ("shank", "tapered") and float(case.get("gap_mm") or 0) > 0
        plain = STYLES[plan["style"]].sizing == "plain" or plan["style"] in (
            "stack",
            "channel-inlay",
            "hollow-signet",
        )
        for deed in (one for one in deeds(plan) if one["op"] == "size" and one["term"] == "leave"):
            assert deed["by"] in ("stretch", "compress", "true", "left", "let-out"), case
            assert plain or deed["by"] != "compress", case
            assert (deed["by"] == "let-out") is (plan["style"] == "adjustable"), case
            if open_shank and deed["by"] == "stretch":
                assert "true it lightly" in plan["finished"]["says"], case


def test_the_metal_that_is_left_is_what_was_cut_less_what_was_taken(worked: Any) -> None:
    """The mass again, by the ledger and the sections, without the bench: cut less saw, file and trim, times the area."""
    for case, plan in worked:
        if (
            plan["style"] in ("folded", "hollow-signet", "adjustable", "tapered", "textured")
            or case.get("ends") == "split"
            or case.get("arrangement") == "seat"
        ):
            continue  # their pieces change their section or lose other metal; the replay above holds them
        grams = 0.0
        for blank in plan["blanks"]:
            eaten = math.fsum(term["mm"] for term in blank["terms"] if term["key"] in ("saw", "file", "trim", "kerf"))
            volume = blank["section"]["area_mm2"] * (blank["cut_length_mm"] - eaten) * blank["count"]
            grams += volume * METALS[plan["metal"]["key"]].density_g_cm3 / 1000
        if case.get("arrangement") == "sandwich":
            heirloom = plan["start"]["finished"]
            grams += heirloom["volume_mm3"] * METALS[case["finished_metal"]].density_g_cm3 / 1000
        piece = finished(plan)
        assert piece["volume_mm3"] * piece["density_g_cm3"] / 1000 == pytest.approx(grams), case


@pytest.mark.parametrize("style", STYLES)
def test_a_finished_band_weighs_its_section_times_its_length(style: str) -> None:
    """Against the contract's formula, area x formed length x density: the bias of the policy alone stands between."""
    made = ring(order(style, {}, leave="exact", round_to_mm=0, join={"saw_passes": 2, "trim_mm": 1}))
    piece = next(iter(made.route[-1].after.values()))
    blanks = [blank.section.area_mm2 * blank.formed_length_mm * blank.count for blank in made.blanks]
    volume = math.fsum(blanks)
    if style in ("adjustable", "hollow-signet", "tapered"):  # drawn in, a plate that is filed flush, two sections
        assert piece.volume_mm3 < volume * (1.35 if style == "tapered" else 1.02)
    else:
        within = 0.03 if style == "folded" else 0.006  # a fold is rounder than two layers: a little less metal
        assert piece.volume_mm3 == pytest.approx(volume, rel=within)


def test_faces_end_as_they_are_to_be(worked: Any) -> None:
    for case, plan in worked:
        faces, last = finished(plan)["faces"], plan["route"][-4]["title"].lower()
        struck = case.get("face", "outside") if plan["style"] in ("textured", "patterned", "stamped") else ""
        assert faces == {face: "textured" if face == struck else last for face in faces}, case
        for deed in deeds(plan):
            if deed["op"] == "finish" and deed["face"] == struck:
                assert "paper" not in deed["with"], case


def test_the_shop_says_nothing_that_the_other_metal_would_need(worked: Any) -> None:
    for case, plan in worked:
        if plan["metal"]["family"] not in ("platinum", "palladium"):
            continue
        said = " ".join(
            line for step in plan["route"] for line in (step["title"], *step["do"], *step["check"])
        ).lower()
        assert "steel binding wire" not in said, case
        assert "pickle" not in said, case
        assert not any(deed["op"] in ("flux", "pickle") for deed in deeds(plan)), case


@pytest.mark.parametrize("passes", [0, 1, 3])
def test_a_kerf_is_what_the_blade_takes(passes: int) -> None:
    made = to_json(ring(order("plain-band", {}, join={"saw_passes": passes, "blade": "2/0"})))
    took = math.fsum(deed["takes_mm"] for deed in deeds(made) if deed["op"] == "saw-joint")
    assert took == pytest.approx(passes * BLADES["2/0"])
