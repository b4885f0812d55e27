"""A ring that is resized, on the virtual bench: every way can be worked, and what comes off it is what was promised."""

from __future__ import annotations

import itertools
import math
from typing import Any

import pytest

from ringcraft.resize.asking import FEATURES, SCHOOLS, STONES
from ringcraft.resize.judging import replan, verdicts
from ringcraft.resize.methods import METHODS
from ringcraft.resize.plan import ResizePlan, plan_resize, read_resize
from ringcraft.schema import to_json
from ringcraft.vbench.deeds import SolderJoint
from tests.resizes import came_in, figures, plan
from tests.ringcraft.benchwork import replay

METALS = ["sterling", "fine-silver", "gold-9k-yellow", "gold-18k-rose", "gold-14k-white-nickel", "platinum-950",
          "palladium-950", "copper", "brass", "bronze", "unknown"]  # fmt: skip
WAYS: list[dict[str, Any]] = [
    {"method": "stretch", "to": "US 6 1/2"},
    {"method": "stretch", "to": "US 6 3/4"},
    {"method": "compress", "to": "US 5 1/2"},
    {"method": "take-out", "to": "US 4 3/4"},
    {"method": "take-out", "to": "US 4 3/4", "join": {"saw_passes": 0}},
    {"method": "take-out", "to": "US 5 7/8"},
    {"method": "take-out", "to": "US 5 13/16", "join": {"saw_passes": 2, "blade": "1"}},
    {"method": "add-stock", "to": "US 7 1/4"},
    {"method": "add-stock", "to": "US 7 1/4", "join": {"seam_passes": 2, "faces_mm": 0}},
    {"method": "reshank", "to": "US 9"},
    {"method": "reshank", "to": "US 4", "join": {"seam_passes": 1}},
    {"method": "rejoin", "to": "US 6", "join": {"saw_passes": 2}},
    {"method": "rejoin", "to": "US 6", "seam_open": True},
    {"method": "rejoin", "to": "US 6", "join": {"saw_passes": 0}, "seam_open": True},
    {"method": "refuse"},
    {"daylight": True},
]
TOPS: list[dict[str, Any]] = [
    {},
    {"stones": [{"kind": "diamond"}], "head": {"span_mm": 6.0}},
    {"stones": [{"kind": "emerald", "setting": "channel"}, {"kind": "ruby"}], "features": ["old-seam"]},
    {"stones": [{"kind": "pearl", "setting": "peg", "glued": True}], "features": ["plated"]},
    {"features": ["pattern-all-round", "engraved-inside"], "pattern": {"pitch_mm": 2.0}},
]


def made(way: dict[str, Any], top: dict[str, Any], metal: str, **more: Any) -> ResizePlan:
    return plan(metal=metal, override_reason="a trial", **way, **top, **more)


CASES = [(way, top, metal) for way, top in itertools.product(WAYS, TOPS) for metal in METALS]


@pytest.mark.sweep
@pytest.mark.parametrize(("way", "top", "metal"), CASES)
def test_the_ring_that_comes_off_the_bench_is_the_one_promised(
    way: dict[str, Any], top: dict[str, Any], metal: str
) -> None:
    one = made(way, top, metal)
    told = to_json(one)
    state = told["start"]
    for step in told["route"]:
        state = replay(state, step["does"])
        assert _same(state, step["after"]), step["key"]
    ring = one.route[-1].after["ring"]
    assert not ring.hot
    assert ring.clean
    if one.method in ("refuse", "true-first"):
        assert ring.inside_mm == pytest.approx(one.sides.from_mm)
        return
    last = next(deed for step in reversed(one.route) for deed in step.does if deed.op == "size")
    assert ring.inside_mm == pytest.approx(last.to_mm, abs=1e-6)  # type: ignore[union-attr]
    left = last.by == "left"  # type: ignore[union-attr]
    assert ring.inside_mm == pytest.approx(one.closes_mm if left else one.wanted_mm, abs=1e-5)
    asked = {ask.key: ask for step in one.route for ask in step.measure}
    assert asked["size-side-b"].expected == pytest.approx(ring.inside_mm)


def _same(mine: Any, theirs: Any) -> bool:
    if isinstance(mine, dict):
        return set(mine) == set(theirs) and all(_same(mine[key], theirs[key]) for key in mine)
    if isinstance(mine, (list, tuple)):
        return len(mine) == len(theirs) and all(_same(a, b) for a, b in zip(mine, theirs, strict=True))
    if isinstance(mine, float) and theirs is not None:
        return math.isclose(mine, theirs, rel_tol=1e-9, abs_tol=1e-6)
    return bool(mine == theirs)


@pytest.mark.parametrize("way", WAYS, ids=[f"{way.get('method')}-{i}" for i, way in enumerate(WAYS)])
def test_every_term_of_metal_is_taken_by_exactly_its_steps(way: dict[str, Any]) -> None:
    one = made(way, {}, "sterling")
    deeds = [deed for step in one.route for deed in step.does]
    taken: dict[str, float] = {}
    for deed in deeds:
        for name in ("takes_mm", "mm"):
            if hasattr(deed, name) and getattr(deed, "term", ""):
                taken[deed.term] = taken.get(deed.term, 0.0) + getattr(deed, name)  # type: ignore[union-attr]
    terms = {term.key: abs(term.mm) for term in one.chosen.terms}
    for key in ("saw", "file", "seam"):
        assert taken.get(key, 0.0) + (
            taken.get("kerf", 0.0) if key == "saw" and "saw_times" in figures(one) else 0
        ) == (pytest.approx(terms.get(key, 0.0))), key
    if one.method in ("add-stock", "reshank", "rejoin"):
        assert taken.get("kerf", 0.0) == pytest.approx(terms.get("kerf", 0.0))
    for blank in one.blanks:
        trim = sum(term.mm for term in blank.terms if term.key == "trim")
        assert taken.get("trim", 0.0) == pytest.approx(trim)


def test_what_lands_in_the_drawer_is_what_the_ledger_says() -> None:
    one = made(WAYS[3], {}, "sterling")
    offcut = one.route[-1].after["offcut"]
    assert offcut.length_mm == pytest.approx(figures(one)["piece_mm"])
    ring = one.route[-1].after["ring"]
    begun = one.start["ring"]
    gone = begun.length_mm - offcut.length_mm - ring.length_mm
    assert gone == pytest.approx(3 * 0.22)
    lost = begun.volume_mm3 - offcut.volume_mm3 - ring.volume_mm3
    assert lost == pytest.approx(gone * begun.volume_mm3 / begun.length_mm)


def test_a_cut_through_the_old_seam_leaves_none_of_it() -> None:
    one = made(WAYS[3], {"features": ["old-seam"]}, "sterling")
    assert "old-seam" in one.start["ring"].joined
    assert set(one.route[-1].after["ring"].joined) == {"joint"}


def test_a_stretch_beyond_half_a_size_is_annealed_first_unless_something_would_suffer() -> None:
    def keys(**more: Any) -> list[str]:
        return [step.key for step in made(WAYS[1], more, "sterling").route]

    assert "anneal" in keys()
    assert "anneal" not in [step.key for step in made(WAYS[0], {}, "sterling").route]
    assert "anneal" not in keys(features=["old-seam"])
    assert "anneal" not in keys(stones=[{"kind": "diamond"}])


@pytest.mark.parametrize("school", ["ladder", "hard"])
def test_the_second_seam_is_lower_or_the_first_is_coated(school: str) -> None:
    one = made(WAYS[7], {}, "sterling", repair_solder=school)
    first, second = (deed for step in one.route for deed in step.does if isinstance(deed, SolderJoint))
    again = [step for step in one.route if step.key == "guard-again"]
    if school == "ladder":
        assert (first.solder, second.solder) == ("silver-hard", "silver-medium")
        assert not again
    else:
        assert first.solder == second.solder == "silver-hard"
        assert again[0].title == "Protect the first seam"
        assert again[0].do == ("Coat the first seam: it flows as early as the second.",)


def test_a_joint_of_unknown_history_goes_a_grade_lower() -> None:
    solders = {
        school: made(WAYS[11], {}, "sterling", repair_solder=school).joints[0].solder for school in ("ladder", "hard")
    }
    assert solders == {"ladder": "silver-medium", "hard": "silver-hard"}
    assert made(WAYS[3], {}, "sterling").joints[0].solder == "silver-hard"


def test_a_patterned_face_sees_no_paper_and_is_struck_again() -> None:
    one = made(WAYS[3], TOPS[4], "sterling")
    papers = [deed for step in one.route for deed in step.does if deed.op == "finish" and "paper" in deed.with_]  # type: ignore[union-attr]
    assert papers
    assert {deed.face for deed in papers} == {"inside", "edges"}  # type: ignore[union-attr]
    assert any(step.key == "texture-again" for step in one.route)
    assert any("rubbing" in line for step in one.route for line in step.do)


@pytest.mark.parametrize(
    ("kind", "out", "soft"), [("diamond", False, False), ("emerald", True, True), ("opal", True, True)]
)
def test_stones_follow_their_advice_through_the_route(kind: str, out: bool, soft: bool) -> None:
    one = made(WAYS[7], {"stones": [{"kind": kind}], "head": {"span_mm": 5}}, "gold-14k-yellow")
    keys = [step.key for step in one.route]
    assert ("unset" in keys, "set-again" in keys) == (out, out)
    if out:
        assert keys.index("unset") < keys.index(
            "solder-sizing-insert" if "solder-sizing-insert" in keys else "solder-sizing"
        )
        assert keys.index("set-again") < keys.index("wash-sizing")
    wash = next(step for step in one.route if step.key == "wash-sizing")
    assert ("ultrasonic" in wash.do[0]) != soft
    assert any("quench" in line.lower() for step in one.route if step.torch for line in step.do)
    cold = any("Do not quench" in line for step in one.route if step.torch for line in step.do)
    assert cold != out


def test_every_stone_feature_and_school_makes_a_plan_that_can_be_worked() -> None:
    """Every stone, feature and school, in two metals and three ways: nothing is refused by the bench."""
    for kind in STONES:
        for way in (WAYS[0], WAYS[3], WAYS[7]):
            for metal in ("sterling", "gold-18k-rose"):
                for water in SCHOOLS["delicate_stones"]:
                    made(
                        way, {"stones": [{"kind": kind, "glued": True}, {"kind": kind}]}, metal, delicate_stones=water
                    )
    for feature in FEATURES:
        for way in (WAYS[0], WAYS[3], WAYS[9]):
            if (feature, way["method"]) != ("hollow", "reshank"):  # which contradict one another
                made(way, {"features": [feature]}, "unknown")


def test_each_way_has_a_route_of_its_own_kind() -> None:
    for key, method in METHODS.items():
        one = next(made(way, {}, "sterling") for way in WAYS if way.get("method", "true-first") == key)
        assert one.route_key() == f"resize/{key}"
        assert any(step.torch and step.key.startswith("solder") for step in one.route) == method.torch
        both = {"size-side-a", "size-side-b"} if key not in ("refuse", "true-first") else set()
        assert set(one.to_close()) == both


@pytest.mark.parametrize("way", [{"to": "US 5"}, {"to": "US 7 1/2"}, {"to": "US 6"}])
def test_a_ring_that_reads_off_is_told_why_by_its_way(way: dict[str, Any]) -> None:
    """Small after a take-out is too much gone, after an insert a short piece: nobody sets in what never came out."""
    order = read_resize(came_in(**way))
    made = plan_resize(order)
    expected = next(ask.expected for step in made.route for ask in step.measure if ask.key == "size-rounded")
    assert expected is not None
    off = {"size-rounded": expected - 0.9}, {"size-rounded": expected + 0.9}  # more than it is stretched or pressed
    small, large = (verdicts(made, made, one)[0].says for one in off)
    assert ("The piece was short" in small) == (made.method == "add-stock")
    assert ("Too much went out" in small) == (made.method != "add-stock")
    assert ("The piece was long" in large) == (made.method == "add-stock")


@pytest.mark.parametrize(("worn", "believed"), [(0.8, True), (0.2, True), (0.19, False), (1.5, True), (1.51, False)])
def test_a_shank_worn_thin_is_believed_and_a_slip_of_the_caliper_is_not(worn: float, believed: bool) -> None:
    """However far below its thickness: that is why it is read at all."""
    order = read_resize(came_in(method="stretch"))
    now = replan(order, plan_resize(order), {"thinnest": worn})
    assert figures(now)["thickness_after_mm"] == pytest.approx(
        (worn if believed else 1.5) / (1 + figures(now)["strain"])
    )


@pytest.mark.parametrize("passes", [0, 2])
def test_it_is_opened_beyond_its_size_where_the_seams_are_sawn(passes: int) -> None:
    made = plan(to="US 7 1/2", join={"seam_passes": passes})
    step = next(step for step in made.route if step.key == "open-up")
    assert ("beyond US 7 1/2" in step.do[0]) == bool(passes)
    assert f"{figures(made)['gap_mm']:.2f}" in step.do[1]
    assert step.measure[0].expected == pytest.approx(figures(made)["gap_inside_mm"])
