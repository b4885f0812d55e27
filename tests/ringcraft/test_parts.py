"""Parts for a top: by themselves, beside a ring of every style, beside a ring that is resized."""

from __future__ import annotations

import json
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.following.inspection import as_measured, sets_the_plan
from ringcraft.metals import METALS
from ringcraft.parts import PARTS
from ringcraft.parts.answer import part
from ringcraft.parts.outline import STRAIGHT
from ringcraft.parts.prong import notch_mm3
from ringcraft.resize.plan import read_resize, resize
from ringcraft.routes.steps import STATIONS
from ringcraft.schema import to_json
from ringcraft.stock.wanted import stock_wanted
from ringcraft.styles import STYLES, read_ring, ring
from ringcraft.works import RESIZE, follow
from tests.orders import order, style_order
from tests.ringcraft.benchwork import replay
from tests.ringcraft.test_virtual_bench import ONE_OF_EACH, near

STONES: dict[str, dict[str, Any]] = {
    "round": {"shape": "round", "length_mm": 4.6},
    "oval": {"shape": "oval", "length_mm": 6.4, "width_mm": 4.7},
    "cushion": {"shape": "cushion", "length_mm": 5.2, "width_mm": 4.4, "corner_mm": 1.3},
    "rectangle": {"shape": "rectangle", "length_mm": 5.6, "width_mm": 3.1, "corner_mm": 0.2},
    "square": {"shape": "rectangle", "length_mm": 4.0, "width_mm": 4.0},
}
BEZEL = {"part": "bezel", "thickness_mm": 0.35, "height_mm": 2.9, "seat_mm": 0.9, "play_mm": 0.12}
BEZELS = [{**BEZEL, "stone": stone} for stone in STONES.values()]
OTHERS: list[dict[str, Any]] = [
    {"part": "seat-ring", "inside_mm": 4.4, "wire_mm": 0.9},
    {"part": "prong", "count": 5, "height_mm": 5.4, "wire_mm": 1.1, "notch_mm": 0.35},
    {"part": "prong", "count": 3, "height_mm": 4.2, "wire_mm": 0.8},
    {"part": "under-plate", "gap_mm": 7.2, "outside_radius_mm": 10.4, "shank_mm": 1.8, "thickness_mm": 0.7},
    {"part": "dish", "width_mm": 7.5, "dish_mm": 0.4, "length_mm": 57.0},
    {"part": "flattened-ends", "wire_mm": 1.7, "between_mm": 12, "flat_mm": 4, "flat_thickness_mm": 1.1,
     "flat_width_mm": 2.0},
    {"part": "end-heights", "left_mm": 2.7, "right_mm": 2.3, "floor_mm": 1.8},
    {"part": "end-heights", "left_mm": 2.3, "right_mm": 2.3, "floor_mm": 1.8},
]  # fmt: skip
ALL = BEZELS + OTHERS


def refused(data: dict[str, Any], plan: Any = part) -> tuple[str, str]:
    with pytest.raises(BadRequest) as problem:
        plan(data)
    first = problem.value.errors[0]
    return first.field, f"{first.message} {first.hint}"


def test_every_part_of_the_registry_is_looked_at() -> None:
    assert {one["part"] for one in ALL} == set(PARTS)


@pytest.mark.parametrize("metal", ONE_OF_EACH)
@pytest.mark.parametrize("data", ALL, ids=lambda one: one["part"])
def test_a_part_is_worked_on_the_bench_in_every_family(data: dict[str, Any], metal: str) -> None:
    made = part({**data, "metal": metal})
    plan = to_json(made)
    json.dumps(plan, allow_nan=False)
    assert made.route
    state = plan["start"]
    for step in plan["route"]:
        state = replay(state, step["does"])
        assert near(state, step["after"]) == [], step["key"]
        state = step["after"]
        assert step["station"] in STATIONS
        said = " ".join([step["title"], *step["do"], *step["check"]])
        assert "{" not in said
        assert "None" not in said
    for blank in made.blanks:
        assert math.fsum(term.mm for term in blank.terms) == pytest.approx(blank.cut_length_mm, abs=1e-9)
        assert blank.drawing.length_mm == pytest.approx(blank.cut_length_mm, abs=0.06)  # its rounding
        assert blank.mass_g == pytest.approx(METALS[metal].density_g_cm3 * blank.volume_mm3 / 1000)
        after = made.route[-1].after[blank.name]
        dressed = sum(d["takes_mm3"] for s in plan["route"] for d in s["does"] if d["op"] == "dress")
        filed = sum(t.mm for t in blank.terms if t.key == "file") * blank.section.area_mm2
        assert after.volume_mm3 == pytest.approx(blank.volume_mm3 - dressed - filed)
        assert not after.hump
        assert not after.hot


def test_no_step_of_a_part_is_a_hand_over_and_what_stays_out_is_said() -> None:
    for data in BEZELS + OTHERS[:6]:
        made = part(data)
        assert "not planned here" in " ".join(made.says)
        assert not any(deed.op == "hand-over" for step in made.route for deed in step.does)


@given(
    shape=st.sampled_from(["round", "oval", "cushion", "rectangle"]),
    long=st.floats(3, 9),
    share=st.floats(0.55, 1),
    corner=st.floats(0, 0.5),
    play=st.floats(0, 0.3),
    thick=st.floats(0.2, 0.8),
)
def test_a_bezel_is_longer_by_pi_times_play_and_thickness(
    shape: str, long: float, share: float, corner: float, play: float, thick: float
) -> None:
    wide = long if shape == "round" else long * share
    stone = {"shape": shape, "length_mm": long, "width_mm": wide}
    if shape in STRAIGHT:
        stone["corner_mm"] = corner * wide
    data = {"part": "bezel", "stone": stone, "thickness_mm": thick, "play_mm": play, "height_mm": 3.0}
    made = part(data)
    bare = made.figures["girth_mm"]
    assert made.blanks[0].formed_length_mm - bare == pytest.approx(math.pi * (play + thick))
    if shape in STRAIGHT:
        straight = 2 * (long - 2 * stone["corner_mm"]) + 2 * (wide - 2 * stone["corner_mm"])
        assert bare == pytest.approx(straight + math.tau * stone["corner_mm"])
    marks = [mark.x_mm for mark in made.blanks[0].marks if mark.key.startswith("corner")]
    assert len(marks) == (4 if shape in STRAIGHT else 0)
    if marks:  # the seam lies in the middle of a long side: the corners stand evenly to both ends
        for one, other in zip(marks, reversed(marks), strict=True):
            assert one + other == pytest.approx(made.blanks[0].formed_length_mm)
        side = long - 2 * stone["corner_mm"] + math.pi / 2 * (stone["corner_mm"] + (play + thick) / 2)
        assert marks[2] - marks[1] == pytest.approx(side)


@pytest.mark.parametrize(
    ("change", "field", "said"),
    [
        ({"stone": {"shape": "star", "length_mm": 5}}, "stone.shape", "not a shape"),
        ({"stone": {"shape": "oval", "length_mm": 4, "width_mm": 5}}, "stone.width_mm", "other way round"),
        ({"stone": {"shape": "round", "length_mm": 5, "width_mm": 4}}, "stone.width_mm", "oval"),
        (
            {"stone": {"shape": "oval", "length_mm": 5, "width_mm": 4, "corner_mm": 1}},
            "stone.corner_mm",
            "no corners",
        ),
        ({"stone": {"shape": "cushion", "length_mm": 5, "width_mm": 4, "corner_mm": 2.2}}, "stone.corner_mm", "2 mm"),
        ({"stone": {"shape": "round", "length_mm": 90}}, "stone.length_mm", "60"),
        ({"seat_mm": 2.9}, "seat_mm", "rim"),
        ({"thickness_mm": 2.4}, "thickness_mm", "pushed"),
        ({"play_mm": 3}, "play_mm", "falls through"),
        ({"play_mm": -1}, "play_mm", ""),
        ({"height_mm": 0}, "height_mm", "more than nothing"),
        ({"metal": "cheese"}, "metal", "known"),
    ],
)
def test_a_bezel_that_cannot_be_is_refused_at_its_field(change: dict[str, Any], field: str, said: str) -> None:
    at, words = refused({**BEZEL, "stone": STONES["round"], **change})
    assert at == field
    assert said in words


@pytest.mark.parametrize(
    ("data", "field"),
    [
        ({"part": "dish", "width_mm": 6, "dish_mm": 3, "length_mm": 57}, "dish_mm"),
        ({"part": "dish", "width_mm": 30, "dish_mm": 12, "length_mm": 57}, "dish_mm"),
        ({"part": "seat-ring", "inside_mm": 3, "wire_mm": 2}, "wire_mm"),
        ({"part": "seat-ring", "inside_mm": 0.4, "wire_mm": 0.1}, "inside_mm"),
        ({"part": "prong", "count": 40, "height_mm": 5, "wire_mm": 1}, "count"),
        ({"part": "prong", "count": 4, "height_mm": 5, "wire_mm": 1, "notch_mm": 0.7}, "notch_mm"),
        ({"part": "prong", "count": 4, "height_mm": 5, "wire_mm": 1, "notch_mm": 0.3, "notch_at_mm": 4.9},
         "notch_at_mm"),
        ({"part": "prong", "count": 4, "height_mm": 1, "wire_mm": 1}, "wire_mm"),
        ({"part": "under-plate", "thickness_mm": 0.7}, "gap_mm"),
        ({"part": "under-plate", "gap_mm": 5, "thickness_mm": 0.7}, "outside_radius_mm"),
        ({**OTHERS[3], "thickness_mm": 1.9}, "thickness_mm"),
        ({**OTHERS[3], "gap_mm": 40}, "gap_mm"),
        ({**OTHERS[3], "shank_mm": 10}, "shank_mm"),
        ({**OTHERS[5], "flat_thickness_mm": 1.7}, "flat_thickness_mm"),
        ({**OTHERS[5], "flat_width_mm": 3}, "flat_width_mm"),
        ({**OTHERS[5], "flat_thickness_mm": 0.3, "flat_width_mm": 3}, "flat_thickness_mm"),
        ({**OTHERS[6], "floor_mm": 2.5}, "right_mm"),
        ({**OTHERS[6], "left_mm": 80}, "left_mm"),
        ({"part": "crown"}, "part"),
        ({}, "part"),
    ],
)  # fmt: skip
def test_other_parts_that_cannot_be_are_refused_at_their_field(data: dict[str, Any], field: str) -> None:
    assert refused(data)[0] == field


def test_a_plate_and_a_dish_come_to_the_trade_s_own_figures() -> None:
    """Common practice, no published source: an under-plate over a gap of 10, a dish of 0.5 on 10 of width."""
    plate = part(
        {"part": "under-plate", "gap_mm": 10, "outside_radius_mm": 10.06, "shank_mm": 2.0, "thickness_mm": 0.8}
    )
    assert plate.figures["angle_deg"] == pytest.approx(57.0, abs=0.05)
    assert plate.figures["bevel_deg"] == pytest.approx(28.5, abs=0.05)
    assert plate.blanks[0].formed_length_mm == pytest.approx(8.41, abs=0.005)
    assert [term.mm for term in plate.blanks[0].terms if term.key == "file"] == [0.5]
    dish = part({"part": "dish", "width_mm": 10, "dish_mm": 0.5, "length_mm": 62})
    assert dish.figures["edge_stretch_mm"] == pytest.approx(3.1, abs=0.05)
    assert dish.figures["edge_strain"] == pytest.approx(0.05, abs=0.001)
    r = dish.figures["radius_mm"]
    assert r - math.sqrt(r**2 - 25) == pytest.approx(0.5)  # the sagitta of that radius is the dish


def test_what_a_notch_takes_is_what_a_file_takes() -> None:
    for wire, deep in ((1.0, 0.3), (1.6, 0.8), (0.8, 0.05)):
        radius, steps = wire / 2, 400
        total = 0.0  # the wire in thin sticks along it: each is shortened by twice how deep it lies in the notch
        for i in range(steps):
            for k in range(steps):
                y, z = (i + 0.5) / steps * wire - radius, (k + 0.5) / steps * wire - radius
                deep_here = deep - (radius - z)
                if y * y + z * z < radius**2 and deep_here > 0:
                    total += 2 * deep_here * (wire / steps) ** 2
        assert notch_mm3(wire, deep) == pytest.approx(total, rel=0.02)
    assert notch_mm3(1.0, 0.0) == 0.0


def test_flat_ends_keep_their_volume() -> None:
    made = part(OTHERS[5])
    blank, after = made.blanks[0], made.route[-1].after["flattened-ends-1"]
    flats = 2 * 4 * 2.0 * 1.1
    assert blank.volume_mm3 == pytest.approx(flats + 12 * math.pi / 4 * 1.7**2, abs=0.05 * blank.section.area_mm2)
    assert after.length_mm == pytest.approx(20.0, abs=0.05)  # both flats and what is between them


@pytest.mark.parametrize("style", STYLES)
def test_parts_stand_beside_a_ring_of_every_style_and_change_nothing_of_it(style: str) -> None:
    bare, parts = style_order(style), [BEZELS[1], OTHERS[0], {**BEZELS[3], "metal": "fine-silver"}]
    plain, made = ring(bare), ring({**bare, "parts": parts})
    count = len(plain.blanks)
    assert [to_json(one) for one in made.blanks[:count]] == [to_json(one) for one in plain.blanks]
    assert [one.name for one in made.blanks[count:]] == ["bezel-1", "seat-ring-2", "bezel-3"]
    assert [one.title for one in made.blanks[count:]] == ["bezel 1", "seat ring", "bezel 2"]
    assert made.blanks[-1].metal == "fine-silver"
    assert made.joints[: len(plain.joints)] == plain.joints
    own = [step.key for step in made.route if not step.blank or step.blank in {b.name for b in plain.blanks}]
    assert own == [step.key for step in plain.route]
    beside = [i for i, step in enumerate(made.route) if step.blank.startswith(("bezel", "seat"))]
    finish = next(i for i, step in enumerate(made.route) if step.station == "finish")
    assert beside
    assert beside[-1] < finish
    masses = [[a.expected for s in p.route for a in s.measure if a.key == "mass-finished"] for p in (plain, made)]
    assert masses[0] == pytest.approx(masses[1])  # what is weighed is the ring alone
    state = to_json(made)["start"]
    for step in to_json(made)["route"]:
        state = replay(state, step["does"])
        assert near(state, step["after"]) == [], step["key"]
        state = step["after"]


def test_a_part_is_measured_cut_and_taken_from_the_drawer_in_its_own_metal() -> None:
    data = order(parts=[{**BEZELS[1], "metal": "fine-silver"}, OTHERS[0]])
    read = read_ring(data)
    keys = {ask.key for step in ring(data).route for ask in step.measure}
    assert {"stock-thickness@bezel-1", "cut-length@seat-ring-2", "outside@seat-ring-2"} <= keys
    assert sets_the_plan(read, {"stock-thickness@bezel-1": 0.4})
    moved = as_measured(read, {"stock-thickness@bezel-1": 0.4, "stock-thickness@seat-ring-2": 0.95})
    assert moved.parts[0].thickness_mm == 0.4
    assert moved.parts[1].wire_mm == 0.95
    wanted = {one.name: one for one in stock_wanted(ring(data))}
    assert wanted["bezel-1"].metal == "fine-silver"
    assert wanted["bezel-1"].width_mm == pytest.approx(2.9)
    assert wanted["seat-ring-2"].metal == "sterling"


def test_the_ends_of_a_shank_are_levelled_before_its_top_goes_on() -> None:
    data = style_order("shank", parts=[OTHERS[6], {"part": "under-plate", "thickness_mm": 0.6}])
    made = ring(data)
    keys = [step.key for step in made.route]
    assert keys.index("level-ends") < keys.index("fit-top") < keys.index("solder-top")
    assert keys.index("bevel-plate-under-plate-2") < keys.index("fit-top")
    plate = next(one for one in made.blanks if one.name == "under-plate-2")
    outer = made.closing.inside_diameter_mm / 2 + made.section.thickness_mm
    neutral = made.closing.inside_diameter_mm / 2 + made.section.thickness_mm / 2
    gap = -next(term.mm for term in made.blanks[0].terms if term.key == "gap")
    angle = gap * outer / neutral / outer
    inner = outer - made.section.thickness_mm
    assert plate.formed_length_mm == pytest.approx((inner + 0.3) * angle)
    moved = as_measured(read_ring(data), {"end-left": 2.5})
    assert moved.parts[0].left_mm == 2.5
    closed = style_order("shank", gap_mm=0, parts=[OTHERS[6]])
    assert refused(closed, ring)[0] == "parts.0.part"
    assert refused(style_order("shank", parts=[OTHERS[6], OTHERS[7]]), ring)[0] == "parts.1.part"


@pytest.mark.parametrize(
    ("parts", "field"),
    [
        ([{**BEZEL, "stone": {"shape": "round", "length_mm": 21}}], "parts.0.stone.width_mm"),
        ([BEZELS[0], {"part": "dish", "width_mm": 6, "dish_mm": 3, "length_mm": 57}], "parts.1.dish_mm"),
        ([{"part": "halo"}], "parts.0.part"),
        ([BEZELS[0]] * 7, "parts"),
        ([{**BEZELS[0], "stone": {"shape": "round"}}], "parts.0.stone.length_mm"),
        ("bezel", "parts"),
    ],
)
def test_a_part_that_cannot_be_is_refused_in_a_ring_and_in_a_resize(parts: Any, field: str) -> None:
    assert refused(order(parts=parts), ring)[0] == field
    assert refused({**SIZING, "parts": parts}, resize)[0] == field


def test_a_stone_that_the_band_bears_is_filed_to_its_curve() -> None:
    made = ring(order(parts=[BEZELS[0]]))
    outer = made.closing.inside_diameter_mm / 2 + made.section.thickness_mm
    half = (4.6 + 0.12 + 2 * 0.35) / 2
    foot = next(one for one in made.figures if one.key == "part-1-foot")
    assert foot.value == pytest.approx(outer - math.sqrt(outer**2 - half**2))


SIZING = {"from": "US 6", "to": "US 7", "metal": "gold-14k-yellow",
          "shank": {"profile": "half-round", "width_mm": 3.4, "thickness_mm": 1.6}}  # fmt: skip


@pytest.mark.parametrize("method", ["add-stock", "stretch"])
def test_a_part_is_added_to_a_ring_that_is_resized(method: str) -> None:
    with_it = {**SIZING, "method": method, "override_reason": "asked for"}
    plain, made = resize(with_it), resize({**with_it, "parts": [BEZELS[2]]})
    assert made.blanks[:-1] == plain.blanks
    assert made.blanks[-1].name == "bezel-1"
    assert made.lead == plain.lead
    assert (made.main_blank is None) == (not plain.blanks)
    assert [one.title for one in made.ledgers()][-1] == "bezel"
    assert len(made.ledgers()) == max(1, len(plain.ledgers())) + 1
    keys = [step.key for step in made.route]
    assert keys.index("level-rims-bezel-1") < next(i for i, s in enumerate(made.route) if s.station == "finish")
    order_read = read_resize({**with_it, "parts": [BEZELS[2]]})
    seen = follow(RESIZE, to_json(order_read), made, {"stock-thickness@bezel-1": 0.45, "cut-length@bezel-1": 12.0})
    assert seen.wrong == ""
    moved = next(one for one in seen.now.blanks if one.name == "bezel-1")
    assert moved.cut_length_mm == pytest.approx(made.blanks[-1].cut_length_mm + math.pi * 0.1, abs=0.06)
    said = {one.key: one for one in seen.verdicts}
    assert moved.cut_text in said["stock-thickness@bezel-1"].says
    assert said["cut-length@bezel-1"].tone == "act"


def test_a_ring_that_is_refused_has_no_parts_yet_and_says_so() -> None:
    made = resize({**SIZING, "metal": "titanium", "parts": [{**BEZELS[0], "metal": "fine-silver"}]})
    assert made.method == "refuse"
    assert made.blanks == ()
    assert any("parts" in line for line in made.says)
    unknown = {**SIZING, "to": "US 6 1/4", "metal": "unknown", "method": "stretch", "override_reason": "asked for"}
    assert refused({**unknown, "parts": [BEZELS[0]]}, resize)[0] == "parts.0.metal"


def test_what_is_said_of_a_part_is_true_of_that_one() -> None:
    one = part({"part": "prong", "count": 1, "height_mm": 4.4, "wire_mm": 0.9, "notch_mm": 0.3})
    said = " ".join([*one.says, *(line for step in one.route for line in (step.title, *step.do, *step.check))])
    assert "together" not in said
    assert "them" not in said
    assert "At the height of the others" in said
    level = part({"part": "end-heights", "left_mm": 2.2, "right_mm": 2.2, "floor_mm": 1.8})
    assert [figure.key for figure in level.told] == ["level"]
    assert "Both should read 2.20" in level.route[0].do[1]
    assert "setting the stone" not in " ".join(part(OTHERS[4]).says)


def test_a_part_is_no_ring_while_it_is_made() -> None:
    order_ = {**style_order("plain-band"), "parts": [{**BEZEL, "stone": STONES["square"]}]}
    comes = {step.key: step.comes for step in ring(order_).route}
    ours = [words for key, words in comes.items() if key.endswith("bezel-1")]
    assert not any("its D" in words or words.startswith("round") for words in ours)
    assert any(words.startswith("trued") for words in ours)
    assert comes["solder"].startswith("closed in its D")


@pytest.mark.parametrize(("corner", "scored"), [(0.0, True), (1.6, False)])
def test_corners_that_are_bent_over_a_groove_are_soldered_in_it(corner: float, scored: bool) -> None:
    stone = {"shape": "rectangle", "length_mm": 7.0, "width_mm": 5.2, "corner_mm": corner}
    made = part({**BEZEL, "stone": stone})
    (seam,) = made.joints
    solder = next(step for step in made.route if step.key.startswith("solder-bezel") or step.is_heat)
    assert (seam.chips, "groove of each corner" in " ".join(solder.do)) == ((5, True) if scored else (1, False))
    assert ("sharp corners" in made.told[0].why) is scored
