"""The rules of resizing: each changes an answer, and what they make of a case goes only one way."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.resize.advice import RULES, judge
from ringcraft.resize.asking import FEATURES, SETTINGS, STONES
from ringcraft.resize.case import case_of
from ringcraft.resize.methods import COLD, METHODS, TORCH
from ringcraft.resize.methods.base import ADVICE
from ringcraft.resize.plan import read_resize
from tests.resizes import advice, came_in, plan
from tests.slices import tries

EMERALD = {"kind": "emerald"}
GLUED_OPAL = {"kind": "opal", "glued": True, "setting": "peg"}  # porous: no soak takes it off its glue
STRONG = [{"title": "big torch", "done": "flowed", "metal": "sterling", "mass_g": 400}]
#: For each rule a case in which it speaks.
SPEAKS: dict[str, dict[str, Any]] = {
    "barred-metal": {"metal": "titanium"},
    "unsizeable-metal": {"metal": "unknown", "features": ["unsizeable-metal"]},
    "unknown-metal-torch": {"metal": "unknown"},
    "unknown-metal-cold": {"metal": "unknown", "to": "US 6 1/8"},
    "eternity": {"features": ["eternity"]},
    "tension-set": {"stones": [{"kind": "diamond", "setting": "tension"}]},
    "hollow-cold": {"features": ["hollow"]},
    "hollow-torch": {"features": ["hollow"]},
    "hollow-reshank": {"features": ["hollow"]},
    "inlay": {"features": ["inlay"]},
    "pattern-stretch": {"features": ["pattern-all-round"]},
    "pattern-compress": {"features": ["pattern-all-round"], "to": "US 5 3/4"},
    "pattern-torch": {"features": ["pattern-all-round"], "to": "US 7 1/2"},
    "engraved-cold": {"features": ["engraved-inside"]},
    "engraved-cut": {"features": ["engraved-inside"], "to": "US 7 1/2"},
    "two-tone-cold": {"features": ["two-tone"]},
    "two-tone-torch": {"features": ["two-tone"]},
    "plated": {"features": ["plated"], "to": "US 7 1/2"},
    "plated-cold": {"metal": "gold-18k-white-nickel"},
    "plated-base-torch": {"features": ["plated-base"], "metal": "brass"},
    "plated-base-cold": {"features": ["plated-base"], "metal": "copper"},
    "filled-torch": {"features": ["filled"]},
    "filled-cold": {"features": ["filled"]},
    "soft-solder-torch": {"features": ["soft-solder"]},
    "soft-solder-cold": {"features": ["soft-solder"]},
    "old-seam-cold": {"features": ["old-seam"]},
    "old-seam-cut": {"features": ["old-seam"], "to": "US 7 1/2"},
    "cracked-cold": {"features": ["cracked"]},
    "cracked-torch": {"features": ["cracked"]},
    "set-compress": {"stones": [{"kind": "ruby"}], "to": "US 5 3/4"},
    "set-stretch": {"stones": [{"kind": "ruby"}]},
    "open-seam": {"seam_open": True},
    "over-half": {"to": "US 6 3/4"},
    "over-half-hard": {"to": "US 6 3/4", "features": ["old-seam"]},
    "over-size": {"to": "US 7 1/2"},
    "thin-after": {"shank": {"thinnest_mm": 1.005}},
    "thin-shank": {"shank": {"thinnest_mm": 0.9}},
    "over-two-sizes-add": {"to": "US 8 1/2"},
    "over-two-sizes-set": {"to": "US 3", "head": {"span_mm": 4.0}},
    "over-third": {"from_": "US 3", "to": "US 12 3/4"},
    "reshank-not-needed": {},
    "nothing-left": {"from_": "US 13", "to": "US 3", "shank": {"thickness_mm": 1.1}},
    "head-lifts": {"from_": "US 9", "to": "US 7 1/4", "head": {"span_mm": 11.0}},
    "head-lifts-far": {"from_": "US 9", "to": "US 6", "head": {"span_mm": 13.0}},
    "school-adds": {"half_size": "add"},
    "stone-comes-out": {"stones": [EMERALD]},
    "stone-off-its-glue": {"stones": [{"kind": "pearl", "glued": True, "setting": "peg"}]},
    "stone-in-water": {"stones": [{**EMERALD, "setting": "channel"}], "torches": STRONG},
    "stone-in-water-unproven": {"stones": [{**EMERALD, "setting": "channel"}]},
    "stone-loose": {"stones": [{"kind": "diamond", "setting": "flush", "from_joint_mm": 1}], "to": "US 5"},
    "stone-stuck": {"stones": [{**EMERALD, "setting": "channel", "from_joint_mm": 9}]},
    "glued-in-water": {"stones": [{**GLUED_OPAL}], "torches": STRONG},
    "glued-strict": {"stones": [{**GLUED_OPAL}], "torches": STRONG, "glued_stones": "strict"},
    "over-three-smaller": {"from_": "US 9", "to": "US 5 3/4"},
    "long-head-smaller": {"from_": "US 9", "to": "US 7 3/4", "head": {"span_mm": 10.0}},
    "two-tone-head-cold": {"features": ["two-tone-head"]},
    "two-tone-head-torch": {"features": ["two-tone-head"], "to": "US 7 1/2"},
}


def said(changes: Mapping[str, Any], rules: Any = RULES) -> list[tuple[str, str, tuple[str, ...]]]:
    return [
        (one.view.key, one.view.advice, one.view.why)
        for one in judge(case_of(read_resize(came_in(**changes))), rules)
    ]


def test_every_rule_has_its_case() -> None:
    assert set(SPEAKS) == {rule["key"] for rule in RULES}


@pytest.mark.parametrize("key", SPEAKS)
def test_without_the_rule_the_answer_is_another(key: str) -> None:
    without = [rule for rule in RULES if rule["key"] != key]
    assert said(SPEAKS[key]) != said(SPEAKS[key], without)


@pytest.mark.parametrize("rule", RULES, ids=[rule["key"] for rule in RULES])
def test_a_rule_caps_the_advice_and_gives_its_reason(rule: Mapping[str, Any]) -> None:
    made = judge(case_of(read_resize(came_in(**SPEAKS[rule["key"]]))))
    spoken = [one for one in made if rule["key"] in one.view.rules]
    assert spoken
    start = rule["why"].split("{")[0].strip()[1:]
    for one in spoken:
        assert ADVICE.index(one.view.advice) >= ADVICE.index(rule["at_most"])
        assert any(start in why for why in one.view.why)
        assert not any("{" in why for why in one.view.why)


LIMITS: list[tuple[dict[str, Any], str, str]] = [
    ({"to": "US 6 1/2"}, "stretch", "do"),
    ({"to": "US 6 3/4"}, "stretch", "possible"),
    ({"to": "US 7 1/4"}, "stretch", "never"),
    ({"to": "US 6 3/8", "metal": "gold-14k-white-nickel"}, "stretch", "possible"),
    ({"to": "US 6 1/4", "metal": "gold-14k-white-nickel"}, "stretch", "do"),
    ({"to": "US 6 1/2"}, "add-stock", "possible"),
    ({"to": "US 7 1/4"}, "add-stock", "do"),
    ({"to": "US 8"}, "add-stock", "do"),
    ({"to": "US 8 1/4"}, "add-stock", "possible"),
    ({"to": "US 8 1/4"}, "reshank", "do"),
    ({"to": "US 5 1/2"}, "compress", "do"),
    ({"to": "US 5"}, "take-out", "do"),
    ({"to": "US 3 1/2"}, "take-out", "do"),
    ({"shank": {"thinnest_mm": 1.0}, "to": "US 7"}, "add-stock", "do"),
    ({"shank": {"thinnest_mm": 0.99}, "to": "US 7"}, "add-stock", "avoid"),
    ({"shank": {"thinnest_mm": 0.99}, "to": "US 7"}, "reshank", "do"),
    ({"features": ["cracked"], "to": "US 7"}, "add-stock", "possible"),
    ({"half_size": "add"}, "add-stock", "do"),
]


@pytest.mark.parametrize(("changes", "way", "wanted"), LIMITS)
def test_the_limits_of_a_way(changes: dict[str, Any], way: str, wanted: str) -> None:
    assert advice(plan(**changes))[way] == wanted


@pytest.mark.parametrize("to", ["US 6 3/4", "US 5 1/4"])
def test_what_is_said_to_be_annealed_first_is_annealed(to: str) -> None:
    """Beyond half a size, feature by feature: where the reason says anneal the route does, and only there."""
    for feature in [[], *([one] for one in FEATURES if one not in ("plated-base", "unsizeable-metal"))]:
        for metal in ("gold-14k-yellow", "unknown"):
            made = plan(to=to, features=feature, metal=metal, method="stretch" if to > "US 6" else "compress",
                        override_reason="a trial")  # fmt: skip
            said = any("anneal it first" in why for why in made.chosen.why)
            if made.chosen.advice != "never":
                assert any(step.key == "anneal" for step in made.route) == said, (feature, metal)


def test_white_gold_is_plated_anew_and_the_customer_hears_of_it() -> None:
    for to in ("US 6 1/4", "US 7 1/2", "US 5"):
        white, yellow = (plan(to=to, metal=f"gold-14k-{one}") for one in ("white-nickel", "yellow"))
        assert any("usually has" in why for why in white.chosen.why)
        assert any("plated anew" in risk for risk in white.risks)
        assert white.is_plated()
        assert not yellow.is_plated()
        assert not any("plated anew" in text for text in (*yellow.risks, *yellow.chosen.why))


def test_the_best_comes_first_and_the_reasons_fit_its_advice() -> None:
    for changes in SPEAKS.values():
        made = plan(**changes)
        ranks = [ADVICE.index(one.advice) for one in made.methods]
        assert ranks == sorted(ranks)
        assert made.method == made.methods[0].key
        for one in made.methods:
            assert one.why, (changes, one.key)


sizes = st.floats(3.0, 13.0)
plain_features = st.sets(
    st.sampled_from([f for f in FEATURES if f not in ("filled", "plated-base", "unsizeable-metal")])
)
stone = st.fixed_dictionaries({
    "kind": st.sampled_from(sorted(STONES)), "setting": st.sampled_from(sorted(SETTINGS)),
    "glued": st.booleans(), "treated": st.booleans(),
})  # fmt: skip
rings = st.fixed_dictionaries({
    "from_": sizes.map(lambda n: f"US {n:.3f}"),
    "metal": st.sampled_from(["sterling", "gold-14k-yellow", "gold-18k-white-nickel", "platinum-950", "unknown"]),
    "shank": st.fixed_dictionaries({"width_mm": st.floats(1.2, 7.0), "thickness_mm": st.floats(1.0, 2.6)}),
    "features": plain_features.map(sorted),
    "stones": st.lists(stone, max_size=2),
    "half_size": st.sampled_from(["stretch", "add"]),
    "delicate_stones": st.sampled_from(["unset", "water"]),
})  # fmt: skip


def gentle(changes: dict[str, Any], to: float) -> int:
    return METHODS[plan(**changes, to=f"{to:.4f} mm ID").method].gentle


@settings(max_examples=tries(150), deadline=None)
@given(changes=rings, near=st.floats(0.06, 8.0), more=st.floats(0.0, 8.0), up=st.booleans())
def test_a_larger_change_never_gets_a_gentler_way(
    changes: dict[str, Any], near: float, more: float, up: bool
) -> None:
    way = 1 if up else -1
    try:
        inside = plan(**changes, to="US 8").sides.from_mm
        targets = [inside + way * change / math.pi for change in (near, near + more)]
        first, second = (gentle(changes, to) for to in targets)
    except BadRequest:
        assume(False)
        return
    assert second >= first


@settings(max_examples=tries(150), deadline=None)
@given(changes=rings, to=sizes, kind=st.sampled_from(sorted(k for k, row in STONES.items() if row["heat"] in ("delicate", "never"))),
       setting=st.sampled_from(sorted(SETTINGS)))  # fmt: skip
def test_a_delicate_stone_never_makes_the_torch_more_advised(
    changes: dict[str, Any], to: float, kind: str, setting: str
) -> None:
    more = {**changes, "stones": [*changes["stones"], {"kind": kind, "setting": setting}]}
    try:
        before, after = (advice(plan(**one, to=f"US {to:.3f}")) for one in (changes, more))
    except BadRequest:
        assume(False)
        return
    for key in TORCH:
        if key in before:
            assert ADVICE.index(after[key]) >= ADVICE.index(before[key])


@settings(max_examples=tries(100), deadline=None)
@given(change=st.floats(1.0, 6.0), blade=st.sampled_from(["8/0", "4/0", "1/0", "2"]), passes=st.integers(0, 3),
       seams=st.integers(0, 2), faces=st.floats(0, 0.2), size=st.floats(15.5, 19.0))  # fmt: skip
def test_what_was_taken_out_and_set_in_again_loses_exactly_the_kerfs(
    change: float, blade: str, passes: int, seams: int, faces: float, size: float
) -> None:
    """Take out, then set the same piece in: the ring comes out small by what saw and file took, and by nothing else."""
    from ringcraft.metals import BLADES

    kerf = BLADES[blade]
    assume(change > (passes + 2) * kerf + 0.01)
    join = {"blade": blade, "saw_passes": passes, "seam_passes": seams, "faces_mm": faces}
    small = f"{size - change / math.pi:.6f} mm ID"
    out = plan(from_=f"{size:.6f} mm ID", to=small, method="take-out", join=join, override_reason="a trial")
    piece = dict(out.chosen.figures)["piece_mm"]
    back = plan(from_=small, to=f"{size:.6f} mm ID", method="add-stock", join=join, override_reason="a trial",
                piece={"length_mm": piece})  # fmt: skip
    short = dict(back.chosen.figures)["piece_short_mm"]
    assert short == pytest.approx((passes + 2) * kerf + kerf + 2 * faces + 2 * seams * kerf, abs=1e-5)


def test_cold_ways_need_no_solder_and_hot_ones_do() -> None:
    for key, method in METHODS.items():
        assert method.torch == (key in TORCH)
    assert set(COLD) == {"stretch", "compress"}
