"""The ring in the flame: ratios with their bands, what is said of each case, what must hold whatever the case."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.heat.answer import HeatAnswer
from ringcraft.heat.bands import BANDS, CASES, draws
from ringcraft.heat.colours import GLOWS, glow_at, glow_words
from ringcraft.heat.flux import KINDS, stages
from ringcraft.heat.torch import read_torches
from ringcraft.metals import METALS
from ringcraft.schema import to_json
from ringcraft.work.sheets import anneal_view
from tests.joints import flame, told
from tests.slices import tries

WATER = {"water_share": 0.4, "stock": {"profile": "rectangle", "width_mm": 3.0, "thickness_mm": 1.5}, "flow_c": 760}
FEW = settings(max_examples=tries(12))


def test_legs_to_the_water_and_how_a_roll_moves_them() -> None:
    rn, w = 16.6 / 2 + 0.75, math.acos(16.6 / 2 * (1 - 0.8) / (16.6 / 2 + 0.75))
    straight = flame(**WATER)
    assert straight.legs_mm == pytest.approx((rn * (math.pi - w),) * 2)
    rolled = flame(**WATER, roll_deg=20, insert_mm=4)
    turned = rn * math.radians(20)
    assert rolled.legs_mm == pytest.approx((rn * (math.pi - w) - 2 + turned, rn * (math.pi - w) - 2 - turned))
    assert flame(flow_c=760).legs_mm is None
    assert flame(flow_c=760, water_share=0).power.against_dry.high == pytest.approx(1)


def test_roll_to_the_left_mirrors_roll_to_the_right() -> None:
    right, left = (flame(**WATER, roll_deg=roll, insert_mm=4) for roll in (25, -25))
    assert right.legs_mm is not None
    assert left.legs_mm == pytest.approx(right.legs_mm[::-1])
    faces = [{one.key: one.below_flow_k.mid for one in answer.faces} for answer in (right, left)]
    assert faces[0]["right"] == pytest.approx(faces[1]["left"], abs=1e-6)
    assert faces[0]["left"] == pytest.approx(faces[1]["right"], abs=1e-6)
    assert right.power.against_dry.mid == pytest.approx(left.power.against_dry.mid)
    assert {place.at_mm: place.c for place in right.profile}[right.profile[50].at_mm] == pytest.approx(
        next(place.c for place in left.profile if place.at_mm == pytest.approx(-right.profile[50].at_mm)), abs=1e-6
    )


def test_the_further_it_is_rolled_the_shorter_of_flow_it_stays() -> None:
    below = [flame(**WATER, roll_deg=roll, insert_mm=4).faces[1].below_flow_k.mid for roll in (0, 10, 20, 30, 40)]
    assert below == sorted(below)
    assert below[0] == 0


@given(wide=st.floats(1.5, 6), thick=st.floats(1.0, 2.2), more=st.floats(1.05, 1.6))
@FEW
def test_more_silver_never_needs_less_heat(wide: float, thick: float, more: float) -> None:
    torch = [{"title": "t", "done": "flowed", "metal": "sterling", "mass_g": 5}]
    thin, thicker = (
        flame(stock={"profile": "rectangle", "width_mm": wide * share, "thickness_mm": thick}, torches=torch)
        for share in (1, more)
    )
    assert thicker.mass_g > thin.mass_g
    for name in ("low", "mid", "high"):
        assert getattr(thicker.torches[0].times, name) >= getattr(thin.torches[0].times, name)
    with_it = flame(
        stock={"profile": "rectangle", "width_mm": wide, "thickness_mm": thick}, torches=torch, with_it_mm3=90
    )
    assert with_it.torches[0].times.mid > thin.torches[0].times.mid


@given(cool=st.floats(600, 760), hotter=st.floats(5, 39), at=st.floats(-25, 25), melts=st.floats(550, 790))
@FEW
def test_a_hotter_solder_never_lowers_the_risk_to_a_seam(cool: float, hotter: float, at: float, melts: float) -> None:
    rank = {"yes": 0, "unsure": 1, "no": 2}
    seams = [{"key": "a", "at_mm": at, "melts_c": melts}]
    low, high = (flame(flow_c=flow, seams=seams).seams[0] for flow in (cool, cool + hotter))
    assert high.peak_c.mid >= low.peak_c.mid
    assert rank[high.holds] >= rank[low.holds]


@given(depth=st.floats(0.05, 0.5), by=st.floats(0.02, 0.2))
@FEW
def test_deeper_water_never_takes_less(depth: float, by: float) -> None:
    less, more = (flame(water_share=share, flow_c=740).power.against_dry for share in (depth, depth + by))
    assert more.mid >= less.mid * 0.999
    assert less.low >= 0.999


#: Cases, with what must be said of them and what must not.
CASES_SAID: list[tuple[dict[str, Any], tuple[str, ...], tuple[str, ...]]] = [
    ({}, ("Heat all of it first", "come up together", "below or behind"), ("water", "locally", "setting", "Roll")),
    ({"metal": "gold-14k-yellow", "flow_c": 760}, ("Heat the joint alone", "locally"), ("all of it", "water", "above")),
    ({"metal": "platinum-950", "flow_c": 1500}, ("locally",), ("14k yellow would take", "sterling would take", "water")),
    ({"stone": "ruby"}, ("Heat all of the shank", "never on the setting", "ruby", "no quench"), ("take it out",)),
    ({"stone": "opal"}, ("opal does not bear this torch, take it out",), ("under its coat; no quench",)),
    ({"stone": "garnet"}, ("garnet does not bear this torch",), ("no quench",)),
    (
        {**WATER, "stone": "emerald"},
        ("small sharp flame", "heat of this ring dry", "heat-shield paste", "under water", "boil a film", "To the water"),
        ("take it out", "In the open", "Heat all of it"),
    ),
    (
        {**WATER, "metal": "gold-14k-white-nickel"},
        ("holds the heat at the joint", "14k white (nickel) keeps it at the joint"),
        ("small sharp flame", "carries it off faster"),
    ),
    ({**WATER, "roll_deg": 20}, ("Roll it 20° back", "to the left", "comes up last"), ("stays dry", "to the right until")),
    ({**WATER, "roll_deg": -20, "insert_mm": 4}, ("Roll it 20° back", "left seam", "20 degrees to the right", "stays dry"),
     ("right seam’s leg",)),
    ({**WATER, "roll_deg": 2, "insert_mm": 4}, ("Straight above",), ("Roll it",)),
    ({**WATER, "water_share": 0.88, "insert_mm": 5}, ("Raise it", "nearer than 5 it is hard"), ("Straight above: heat it",)),
    ({"flow_c": 765, "seams": [{"key": "a", "title": "the old seam", "at_mm": 6, "melts_c": 720}]},
     ("Coat the old seam", "opens: 6.0 away", "distance alone protects nothing"), ("stays well below",)),
    ({"flow_c": 765, "metal": "gold-14k-yellow", "seams": [{"key": "a", "at_mm": 20, "melts_c": 720}]},
     ("stays well below", "20.0 away"), ("Coat", "distance alone")),
    ({"seams": [{"key": "a", "title": "the old seam", "at_mm": 10}]}, ("nobody knows where it begins to melt",), ("opens",)),
    ({"seams": [{"key": "a", "at_mm": 10, "guarded": True}]}, ("it is coated",), ("Coat a",)),
    ({"seams": [{"key": "a", "at_mm": 10, "above": True}]}, ("higher grade it stays whole",), ("Coat a", "nobody")),
    ({"seams": [{"key": "a", "at_mm": 0, "melts_c": 700}]}, ("right at it, it comes up",), ("0.0 away",)),
    ({**WATER, "seams": [{"key": "a", "at_mm": 26}]}, ("any solder but soft solder",), ("nobody knows",)),
    ({"tweezers_mm": 12}, ("they carry off", "the right side comes up last", "hot silver is very soft"), ("take nothing",)),
    ({"tweezers_mm": -12}, ("the left side comes up last",), ("right side",)),
    ({**WATER, "tweezers_mm": 26}, ("hold it under water and take nothing",), ("carry off", "comes up last")),
    ({**WATER, "insert_mm": 8, "metal": "sterling", "flow_c": 780}, ("never stay on the middle",), ()),
    ({"torches": "pen torch: flowed sterling 1"}, ("More flame first", "times what the pen torch", "before it is fluxed"), ("bound together",)),
    ({"torches": "pen torch: flowed sterling 1", "with_it_mm3": 200}, ("before anything is bound together",), ("fluxed",)),
    ({**WATER, "roll_deg": 74}, ("Roll it 74° back", ", only "), ("Raise it",)),
    ({"metal": "gold-22k-yellow", "flow_c": 880, "stock": {"profile": "half-round", "width_mm": 5, "thickness_mm": 2}},
     ("quickly: held long, even the far side",), ("only warm",)),
    ({"metal": "gold-14k-white-nickel", "flow_c": 880, "inside": 20}, ("the rest only warm",), ("held long",)),
    ({"stone": "ruby", "own": {"stones": "ruby never"}}, ("ruby does not bear this torch, take it out",), ("under its coat; no quench",)),
    ({"inlay": True}, ("it lies all round", "laid in last"), ()),
    ({"metal": "copper", "flow_c": 790}, ("copper carries it off faster",), ("silver carries",)),
    ({"metal": "gold-18k-yellow", "flow_c": 790, "tweezers_mm": 9}, ("hot metal gives",), ("silver is very soft",)),
    ({**WATER, "stone": "opal"}, ("opal is safer out",), ("its risk agreed",)),
    ({"torches": "big: melted sterling 90"}, ("Heat all of it first",), ("More flame",)),
    ({"units": "in", **WATER, "seams": [{"key": "a", "at_mm": 9}]}, ("″",), ("9.0 away",)),
]  # fmt: skip


@pytest.mark.parametrize(("changes", "must", "never"), CASES_SAID)
def test_every_sentence_is_true_of_the_case(
    changes: dict[str, Any], must: tuple[str, ...], never: tuple[str, ...]
) -> None:
    said = told(flame(**changes))
    assert all(words in said for words in must), said
    assert not any(words in said for words in never), said


@pytest.mark.parametrize("changes", [changes for changes, _, _ in CASES_SAID])
def test_no_promise_is_made_in_degrees(changes: dict[str, Any]) -> None:
    answer = flame(**changes)
    melts = {f"{one['melts_c']:.0f}" for one in changes.get("seams", []) if one.get("melts_c")}
    said = re.sub(r"(\d+ degrees to the (left|right)|Roll it \d+° back)", "", told(answer))
    figures = set(re.findall(r"\d{3,}", re.sub(r"\d+\.\d+″", "", said))) - melts
    assert not figures, figures
    assert "°C" not in said


def finite(answer: HeatAnswer) -> None:
    """Nothing of an answer is no number, and every band stands in its order."""
    text = str(to_json(answer))
    assert "nan" not in text.lower()
    assert "inf" not in text.lower().replace("infer", "")

    def bands(data: Any) -> None:
        if isinstance(data, dict):
            if {"low", "mid", "high"} <= set(data):
                assert data["low"] <= data["mid"] + 1e-9 <= data["high"] + 2e-9
            for part in data.values():
                bands(part)
        elif isinstance(data, list):
            for part in data:
                bands(part)

    bands(to_json(answer))


@given(
    metal=st.sampled_from(list(METALS)), depth=st.one_of(st.none(), st.floats(0, 0.6)), roll=st.floats(-30, 30),
    inside=st.floats(13, 23), wide=st.floats(0.8, 12), thick=st.floats(0.4, 3), insert=st.sampled_from([0.0, 3.0]),
    tweezers=st.one_of(st.none(), st.floats(-18, 18)), stone=st.sampled_from([None, "diamond", "pearl"]),
)  # fmt: skip
@FEW
def test_any_ring_that_can_be_is_answered(
    metal: str, depth: float | None, roll: float, inside: float, wide: float, thick: float, insert: float,
    tweezers: float | None, stone: str | None,
) -> None:  # fmt: skip
    flow = METALS[metal].solidus_c - 20
    stock = {"profile": "rectangle", "width_mm": wide, "thickness_mm": thick}
    try:
        answer = flame(metal=metal, inside=inside, stock=stock, water_share=depth, roll_deg=roll, insert_mm=insert,
                       tweezers_mm=tweezers, stone=stone, flow_c=flow)  # fmt: skip
    except BadRequest as problem:
        if problem.errors[0].field != "roll_deg":
            raise
        return
    finite(answer)
    assert answer.power.against_dry.low >= 0.99
    assert max(place.c for place in answer.profile) >= flow - 1
    assert all(one.below_flow_k.low >= 0 for one in answer.faces)
    assert answer.picture.arcs
    whole = sum(arc.to_deg - arc.from_deg for arc in answer.picture.arcs)
    assert whole == pytest.approx(360)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"water_share": 0.95}, "water_share"),
        ({"water_share": "deep"}, "water_share"),
        ({"water_share": -0.1}, "water_share"),
        ({"water_share": 0.5, "roll_deg": 120}, "roll_deg"),
        ({"water_share": 0.8, "insert_mm": 20}, "roll_deg"),
        ({"roll_deg": 999}, "roll_deg"),
        ({"insert_mm": 40}, "insert_mm"),
        ({"flow_c": ""}, "flow_c"),
        ({"flow_c": 20}, "flow_c"),
        ({"flow_c": 800}, "flow_c"),
        ({"flow_c": "1e9"}, "flow_c"),
        ({"tweezers_mm": 90}, "tweezers_mm"),
        ({"stone_at_mm": -90}, "stone_at_mm"),
        ({"stone": "brick"}, "stone"),
        ({"flux": "honey"}, "flux"),
        ({"seams": [{"key": "a", "at_mm": 60}]}, "seams.0.at_mm"),
        ({"seams": [{"key": "a", "at_mm": 6}] * 41}, "seams"),
        ({"torches": "a lighter"}, "torches"),
        ({"torches": "pen: flowed sterling 9000"}, "torches.0.mass_g"),
        ({"assume": {"conductivity": 0}}, "assume.conductivity"),
        ({"assume": {"emissivity": 2}}, "assume.emissivity"),
        ({"assume": {"h_air": "1e400"}}, "assume.h_air"),
        ({"assume": {"air_c": 500}}, "assume.air_c"),
        ({"with_it_mm3": -1}, "with_it_mm3"),
        ({"against": ["cheese"]}, "against.0"),
    ],
)
def test_bad_input_is_named_at_its_field(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as caught:
        flame(**changes)
    assert [one.field for one in caught.value.errors] == [field]


@pytest.mark.parametrize("assume", [
    {"conductivity": 1e9}, {"conductivity": 1e-6}, {"h_air": 0}, {"h_air": 1e9}, {"h_water": 0}, {"density": 1e-6},
    {"specific_heat": 1e9}, {"flame_width_mm": 1e9}, {"flame_width_mm": 0}, {"power_w": 0}, {"power_w": 1e9},
    {"h_air": 0, "emissivity": 0},
])  # fmt: skip
def test_absurd_figures_are_answered_or_refused(assume: dict[str, float]) -> None:
    try:
        finite(flame(assume=assume, water_share=0.4, flow_c=740))
    except BadRequest as problem:
        if not problem.errors[0].field.startswith("assume"):
            raise


def test_the_cases_are_always_the_same_and_evenly_spread() -> None:
    assert flame(**WATER) == flame(**WATER)
    for values in draws().values():
        assert sorted(values) == pytest.approx([(n + 0.5) / CASES for n in range(CASES)])
    assert all(low < high for low, high in BANDS.values())


def test_the_stone_goes_on_heating_after_the_flame_is_off() -> None:
    answer = flame(metal="platinum-950", flow_c=1500, stone="diamond")
    assert "it goes on to" in answer.stone.after
    assert answer.stone.share is not None
    assert answer.stone.share.mid < 0.4
    silver = flame(stone="diamond").stone
    assert silver.share is not None
    assert silver.share.mid > 2 * answer.stone.share.mid  # silver brings the heat to it at once
    assert flame(**WATER).stone.wet
    assert not flame(**WATER, stone_at_mm=3).stone.wet


def test_the_colours_reach_from_the_joint_outward() -> None:
    picture = flame(**WATER, roll_deg=15).picture
    assert picture.reaches[-1].says == "the rest"
    assert "left" in picture.reaches[0].says
    assert "each side" in flame(**WATER).picture.reaches[0].says
    assert [one.kind for one in flame(**WATER, insert_mm=3, stone="ruby", tweezers_mm=8).picture.marks] == [
        "joint", "joint", "stone", "tweezers"]  # fmt: skip


def test_glow_and_its_words() -> None:
    assert [one.from_c for one in GLOWS] == sorted(one.from_c for one in GLOWS)
    assert glow_at(-20).key == "none"
    assert glow_words(600, 650) == "dull red to dark cherry"
    assert glow_words(700, 701) == "cherry"

    def light(colour: str) -> float:
        return sum(int(colour[i : i + 2], 16) * share for i, share in ((1, 0.21), (3, 0.72), (5, 0.07)))

    dim = [light(one.dim) for one in GLOWS[1:]]
    assert dim == sorted(dim)  # the hotter, the brighter: it can be judged


def test_flux_as_a_thermometer() -> None:
    paste = stages("paste", 790, 745)
    assert [one.key for one in paste] == ["wet", "swollen", "crust", "glassy", "flash"]
    assert paste[-1].at == "745 to 790"
    assert [one.key for one in stages("paste", 590)] == ["wet", "swollen", "crust", "flash"]
    assert [one.title for one in stages("liquid", 720)][2] == "brown"
    assert stages("paste", None)[-1].at == "by the maker’s sheet"
    bare = stages("none", 1500)
    assert bare[-1].title == "flash"
    assert "flux" not in " ".join(one.skipped for one in bare)
    assert len(bare) >= 4
    assert all(row["source"] for row in KINDS.values())
    for one in (*paste, *stages("liquid", 720)):
        assert one.skipped.endswith(".")
    assert flame(metal="platinum-950", flow_c=1500).flux_kind == "none"
    assert flame(flux="liquid flux").flux_kind == "liquid"


@pytest.mark.parametrize("key", METALS)
def test_annealing_of_every_metal(key: str) -> None:
    metal = METALS[key]
    view = anneal_view(metal, 1, 2)
    assert "once annealed, soldered 2 times" in view.heated
    assert view.strip[-1].from_c > metal.anneal_high_c or view.strip[-1] is GLOWS[-1]
    assert bool(view.flux_cue) is metal.of_family.fluxed
    assert anneal_view(metal).heated == "Not in the fire yet."


def test_torches_by_what_they_have_done() -> None:
    assert read_torches("pen torch: flowed sterling 6 g; big melted 14k yellow 20")[1] == {
        "title": "big", "done": "melted", "metal": "gold-14k-yellow", "mass_g": "20"}  # fmt: skip
    torches = "pen: flowed sterling 6; pen: flowed sterling 4; big: melted sterling 60"
    views = flame(torches=torches, stock={"profile": "square", "thickness_mm": 4}).torches
    assert [one.title for one in views] == ["big", "pen"]
    assert [one.enough for one in views] == ["yes", "no"]
    assert "flowed 6 g" in views[1].done
    same = flame(torches=[{"title": "p", "done": "flowed", "metal": "sterling", "mass_g": flame().mass_g}]).torches[0]
    assert same.times.mid == pytest.approx(1, rel=0.01)
    wet = flame(**WATER, torches="pen: flowed sterling 6").torches[0].times.mid
    dry = flame(**{**WATER, "water_share": 0}, torches="pen: flowed sterling 6").torches[0].times.mid
    assert wet / dry == pytest.approx(flame(**WATER).power.against_dry.mid, rel=0.25)
