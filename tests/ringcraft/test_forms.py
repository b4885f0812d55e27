"""The later forms of standing styles: seat, bypass, dished, a strip already cut, thick middle, small round, inside."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.affinity import rotate
from shapely.geometry import LineString, Polygon

from ringcraft.drawing.paths import flattened, pieces
from ringcraft.errors import BadRequest
from ringcraft.following.inspection import as_measured, replan, verdicts
from ringcraft.metals import BLADES, METALS
from ringcraft.stock.mill.thinning import thin
from ringcraft.stock.wanted import stock_wanted
from ringcraft.styles import read_ring, ring
from tests.orders import BARE, style_order, style_plan
from tests.ringcraft.test_virtual_bench import SEAT

SHEET = {"profile": "sheet", "width_mm": 10.0, "thickness_mm": 0.9}


def refused(style: str, **changes: Any) -> tuple[str, str]:
    with pytest.raises(BadRequest) as problem:
        style_plan(style, **changes)
    first = problem.value.errors[0]
    return first.field, f"{first.message} {first.hint}"


def bypass(**changes: Any) -> Any:
    return style_plan("adjustable", layout="bypass", stock=SHEET, waist_mm=None, **changes)


@given(
    wide=st.floats(7, 14), share=st.floats(0.26, 0.59), over=st.floats(4, 14), corner=st.floats(0.05, 0.45),
    inside=st.floats(15, 21),
)  # fmt: skip
def test_the_bypass_is_alike_to_itself_by_half_a_turn(
    wide: float, share: float, over: float, corner: float, inside: float
) -> None:
    made = style_plan(
        "adjustable", layout="bypass", size=f"{inside} mm ID", stock={**SHEET, "width_mm": wide},
        waist_mm=share * wide, overlap_mm=over, corner_mm=corner * wide, **BARE,
    )  # fmt: skip
    blank = made.blanks[0]
    long = blank.cut_length_mm
    path = blank.drawing.shapes[0].paths[0]
    shape = Polygon(flattened(path, closed=True, step_mm=1e-4))
    assert shape.is_valid
    assert rotate(shape, 180, origin=(long / 2, wide / 2)).symmetric_difference(shape).area < 1e-6
    assert shape.bounds == pytest.approx((0, 0, long, wide), abs=1e-3)
    assert blank.volume_mm3 == pytest.approx(shape.area * 0.9, rel=1e-4)
    middle = shape.intersection(LineString([(long / 2, -1), (long / 2, wide + 1)]))
    assert middle.length == pytest.approx(share * wide, abs=1e-3)
    # on the finger both ends lie in the same stretch of the round, one below the middle line, the other above it
    for x in (0.3 * over, 0.7 * over):
        left = shape.intersection(LineString([(x, -1), (x, wide + 1)])).bounds
        right = shape.intersection(LineString([(long - over + x, -1), (long - over + x, wide + 1)])).bounds
        assert left[3] == pytest.approx(wide / 2, abs=1e-3)
        assert right[1] == pytest.approx(wide / 2, abs=1e-3)
    # every curve is one sweep
    kinks = sum(_turns(path, i) > 1e-6 for i in range(len(path)))
    assert kinks == 2  # but the square corner of each end


def _turns(path: Any, i: int) -> float:
    """By how much the direction jumps at a point of a path [rad]."""
    ends = list(pieces(path, closed=True))
    into, out = ends[i - 1], ends[i]

    def heading(start: Any, end: Any, at_end: bool) -> float:
        chord, half = math.atan2(end[1] - start[1], end[0] - start[0]), 2 * math.atan(start[2])
        return chord + half if at_end else chord - half

    turn = heading(*out, at_end=False) - heading(*into, at_end=True)
    return abs((turn + math.pi) % math.tau - math.pi)


def test_a_bypass_that_cannot_be_is_refused_at_its_field() -> None:
    assert refused("adjustable", layout="bypass", stock=SHEET, waist_mm=1.0)[0] == "waist_mm"
    assert refused("adjustable", layout="bypass", stock=SHEET, waist_mm=None, overlap_mm=1)[0] == "overlap_mm"
    assert refused("adjustable", layout="bypass", stock=SHEET, waist_mm=None, corner_mm=5)[0] == "corner_mm"
    wire = {"profile": "round", "thickness_mm": 2}
    assert refused("adjustable", layout="bypass", stock=wire, waist_mm=None)[0] == "layout"
    assert refused("adjustable", stock=wire, waist_mm=None, dish_mm=0.3)[0] == "dish_mm"
    assert refused("adjustable", stock=SHEET, waist_mm=None, dish_mm=5)[0] == "dish_mm"


@pytest.mark.parametrize("layout", ["lapped", "bypass"])
def test_both_layouts_are_dished_before_they_are_bent_and_annealed_again(layout: str) -> None:
    made = style_plan("adjustable", layout=layout, stock=SHEET, waist_mm=None, dish_mm=0.4)
    keys = [step.key for step in made.route]
    assert keys.index("dish") < keys.index("anneal-dished") < keys.index("form-small")
    bent = next(step for step in made.route if step.key == "form-small")
    assert any("middle line" in line for line in bent.do)
    flat = style_plan("adjustable", layout=layout, stock=SHEET, waist_mm=None)
    assert "dish" not in [step.key for step in flat.route]
    assert flat.blanks[0].cut_length_mm == made.blanks[0].cut_length_mm  # the middle line keeps its length


@given(wide=st.floats(3, 14), dish=st.floats(0.05, 1.2), inside=st.floats(15, 21))
def test_a_dished_band_stretches_its_edges_by_two_pi_dishes(wide: float, dish: float, inside: float) -> None:
    if dish > wide / 6:
        return
    made = style_plan("dished", size=f"{inside} mm ID", dish_mm=dish, stock={**SHEET, "width_mm": wide}, **BARE)
    edge, middle = math.pi * (inside + 0.9 + 2 * dish), math.pi * (inside + 0.9)
    assert made.dish.edge_stretch_mm == pytest.approx(edge - middle)
    assert made.dish.edge_strain == pytest.approx((edge - middle) / middle)
    assert made.edge_thickness_mm == pytest.approx(0.9 / (1 + made.dish.edge_strain))
    radius = made.dish.radius_mm
    assert radius - math.sqrt(radius**2 - (wide / 2) ** 2) == pytest.approx(dish)
    assert made.across is not None
    section = Polygon(flattened(made.across.shapes[0].paths[0], closed=True, step_mm=1e-4))
    low, high = section.bounds[1], section.bounds[3]
    assert low == pytest.approx(0, abs=1e-3)  # its inside at the middle line
    assert high >= dish
    turn = math.asin(wide / 2 / radius)  # two arcs about one middle, as far apart as the metal is thick
    assert section.area == pytest.approx(turn * (radius**2 - (radius - 0.9) ** 2), rel=1e-3)


def test_a_dish_over_the_metal_or_over_half_the_width_is_refused() -> None:
    assert refused("dished", dish_mm=3.6, stock={**SHEET, "width_mm": 7})[0] == "dish_mm"
    field, said = refused("dished", dish_mm=9, stock={**SHEET, "width_mm": 30}, metal="gold-14k-white-nickel")
    assert (field, "between two anneals" in said) == ("dish_mm", True)
    assert refused("dished", stock={"profile": "half-round", "width_mm": 5, "thickness_mm": 2})[0] == "stock.profile"


def test_a_strip_already_cut_says_how_high_the_top_stands() -> None:
    """Common practice, no published source: US 8, sheet of 0.8, a top of 10: a strip of 64.5 rises by 5.29."""
    base = {"size": "US 8", "stock": {"profile": "sheet", "width_mm": 8, "thickness_mm": 0.8}, "top_width_mm": 10}
    made = style_plan("hollow-signet", rise_mm=None, strip_mm=64.5, **base)
    assert made.rise_mm == pytest.approx(5.29, abs=0.005)
    strip = made.blanks[1]
    assert strip.cut_length_mm == pytest.approx(64.5)
    forth = style_plan("hollow-signet", rise_mm=made.rise_mm, **base, round_to_mm=0)
    assert forth.blanks[1].cut_length_mm == pytest.approx(64.5)
    keys = [step.key for step in made.route]
    assert "cut-outer" not in keys
    assert "scribe-flanks-outer" in keys
    assert "outer" not in {one.name for one in stock_wanted(made)}  # it is cut already
    assert "outer" in {one.name for one in stock_wanted(forth)}
    assert refused("hollow-signet", rise_mm=2, strip_mm=64.5, **base)[0] == "strip_mm"
    assert refused("hollow-signet", rise_mm=None, **base)[0] == "rise_mm"
    assert refused("hollow-signet", rise_mm=None, strip_mm=40, **base)[0] == "strip_mm"
    assert refused("hollow-signet", rise_mm=None, strip_mm=140, **base)[0] == "strip_mm"


@given(
    inside=st.floats(15, 21), side=st.floats(2.5, 4), share=st.floats(0.35, 0.8), middle=st.floats(6, 24),
    passes=st.integers(0, 2), gap=st.sampled_from([0.0, 5.0]),
)  # fmt: skip
def test_a_thick_middle_keeps_its_volume(
    inside: float, side: float, share: float, middle: float, passes: int, gap: float
) -> None:
    """bar = c + (L - c) A1/A0, with what the saw takes of the thinned ends in L; and the same by the mill's answer."""
    made = style_plan(
        "tapered", size=f"{inside} mm ID", form="thick-middle", middle=None, middle_mm=middle, gap_mm=gap,
        ends={"width_mm": side, "thickness_mm": side * share}, leave="exact", round_to_mm=0,
        stock={"profile": "square", "thickness_mm": side}, join={"saw_passes": passes, "blade": "4/0"},
    )  # fmt: skip
    last = made.route[-1].after["bar"]
    sawn = passes * BLADES["4/0"] if gap == 0 else 0.0
    long = last.length_mm + sawn
    assert made.blanks[0].cut_length_mm == pytest.approx(middle + (long - middle) * share, abs=1e-6)
    neutral = [inside / 2 + t / 2 for t in (side, side * share)]
    thick = middle / neutral[0]
    around = thick * neutral[0] + (math.tau - thick - gap / neutral[1]) * neutral[1]
    assert last.length_mm == pytest.approx(around, abs=1e-6)
    rolled = thin({
        "bar": {"width_mm": side, "thickness_mm": side}, "final_length_mm": long, "form": "thick-middle",
        "ends": {"width_mm": side, "thickness_mm": side * share}, "middle_mm": middle,
    })  # fmt: skip
    assert rolled.bar_length_mm == pytest.approx(made.blanks[0].cut_length_mm)
    assert made.joints[0].length_mm == pytest.approx(side)


def test_a_thick_middle_that_cannot_be_is_refused() -> None:
    ends = {"width_mm": 3.0, "thickness_mm": 1.5}
    bar = {"profile": "square", "thickness_mm": 3.0}
    thick = {"form": "thick-middle", "middle": None, "stock": bar}
    assert refused("tapered", **thick, ends=ends, middle_mm=60)[0] == "middle_mm"
    assert refused("tapered", **thick, ends={"width_mm": 3, "thickness_mm": 3})[0] == "ends.thickness_mm"
    assert refused("tapered", **thick, ends=ends, gap_mm=5, small_round=True)[0] == "small_round"


@pytest.mark.parametrize("style", ["shank", "tapered"])
def test_a_small_round_is_as_small_as_its_metal_says(style: str) -> None:
    changes: dict[str, Any] = {"gap_mm": 5.0, "small_round": True, "leave": "exact", "round_to_mm": 0}
    if style == "tapered":
        changes |= {"stock": {"profile": "square", "thickness_mm": 2.2}, "middle": None}
    made = style_plan(style, **changes)
    name, section = made.blanks[0].name, made.section
    steps = {step.key: step for step in made.route}
    small = steps["round-small"].after[name]
    sawn = made.used.join.saw_passes * BLADES[made.used.join.blade]
    own = (made.blanks[0].cut_length_mm - sawn) / math.pi - 2 * section.neutral_mm
    assert small.inside_diameter_mm == pytest.approx(own)
    assert float(steps["round-small"].figure) == pytest.approx(own, abs=0.005)
    opened = steps["saw-small-open"].after[name]
    assert opened.joined == {}  # the seam goes with the saw
    assert opened.shape == "open"
    assert made.route[-1].after[name].inside_diameter_mm == pytest.approx(made.finished.inside_diameter_mm)
    keys = [step.key for step in made.route]
    assert keys.index("solder") < keys.index("round-small") < keys.index("saw-small-open") < keys.index("solder-top")
    assert refused(style, **{**changes, "gap_mm": 0})[0] == "small_round"
    thick = {"profile": "square", "thickness_mm": 4.6}
    assert refused(style, **{**changes, "stock": thick, "gap_mm": 17})[0] == "small_round"


def test_a_mark_inside_is_struck_flat_and_no_paper_goes_there() -> None:
    made = style_plan("stamped", face="inside", lines=["MARA", "7"], letter_height_mm=1.5)
    keys = [step.key for step in made.route]
    assert keys.index("stamp") < keys.index("form")
    assert made.route[-1].after["band"].faces.inside == "textured"
    papered = {
        deed.face for step in made.route for deed in step.does if deed.op == "finish" and "paper" in deed.with_
    }
    assert papered == {"edges", "outside"}
    dressed = next(step for step in made.route if step.key == "file-back")
    assert any("outside" in line and "flush" in line for line in dressed.do)
    assert made.marks == style_plan("stamped", lines=["MARA", "7"], letter_height_mm=1.5).marks


@pytest.mark.parametrize("metal", ["sterling", "gold-18k-yellow", "platinum-950"])
def test_walls_are_soldered_one_at_a_time_and_pickled_after_each(metal: str) -> None:
    made = style_plan("channel-inlay", heats="one-by-one", outer_count=3, metal=metal)
    fluxed = METALS[metal].of_family.fluxed
    heats = [step for step in made.route if step.key.startswith("solder-wall-")]
    assert [step.key for step in heats] == [f"solder-wall-outer-{n}" for n in (1, 2, 3)]
    counts = [step.after["outer"].count for step in heats[:2]]
    assert counts == [2, 1]
    assert "outer" not in heats[2].after
    keys = [step.key for step in made.route]
    for n in (1, 2, 3):
        assert (f"pickle-wall-outer-{n}" in keys) is fluxed
    coated = [any(deed.op == "guard" for deed in step.does) for step in heats]
    assert coated == [False, True, True]  # each later wall is the same solder again
    at_once = style_plan("channel-inlay", outer_count=3, metal=metal)
    ends = [plan.route[-1].after["ring"] for plan in (made, at_once)]
    assert ends[0].volume_mm3 == pytest.approx(ends[1].volume_mm3)
    assert ends[0].heats == ends[1].heats + 2
    assert {joint.key for joint in made.joints} >= {"outer-1", "outer-2", "outer-3"}
    assert sum(one.chips for one in made.joints if one.key.startswith("outer")) == next(
        one.chips for one in at_once.joints if one.key == "outer"
    )


def seat(**changes: Any) -> Any:
    return style_plan("stack", **{**SEAT, **changes})


def test_a_seat_is_the_finger_and_twice_its_sleeve() -> None:
    made = seat()
    finger = made.finished.inside_diameter_mm
    assert made.seat.inside_mm == pytest.approx(finger + 2 * 1.0)
    assert made.seat.shoulder_mm == pytest.approx((2 * 3.2 - 3.0) / 2)
    # what the step takes, by rings of it: a ring 0.7 high and half the step wide, its middle at the seat and half 0.7
    ring_mm3 = math.pi / 4 * ((made.seat.inside_mm + 1.4) ** 2 - made.seat.inside_mm**2) * 1.5
    assert made.seat.filed_mm3 == pytest.approx(ring_mm3)
    steps = {step.key: step for step in made.route}
    for n in (1, 2):
        before, after = (
            steps[f"flatten-sleeve-{n}"].after[f"sleeve-{n}"],
            steps[f"file-step-sleeve-{n}"].after[f"sleeve-{n}"],
        )
        assert before.volume_mm3 - after.volume_mm3 == pytest.approx(ring_mm3)
    keys = list(steps)
    order = ["dry-fit", "try-flame", "polish-hidden", "protect", "solder-together"]
    assert [key for key in keys if key in order] == order
    assert made.wide is not None  # both sleeves together are what the finger feels


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"finished_inside_mm": 16.0}, "finished_inside_mm"),
        ({"step_mm": 6.2}, "step_mm"),
        ({"step_mm": None}, "step_mm"),
        ({"sleeve_mm": None}, "sleeve_mm"),
        ({"sleeve_mm": 0.2}, "sleeve_mm"),
        ({"sleeve_mm": 1.8}, "sleeve_mm"),
        ({"shoulder_high_mm": 2.5}, "stock.thickness_mm"),
        ({"finished_metal": "unknown"}, "finished_metal"),
        ({"finished_metal": None}, "finished_metal"),
        ({"stock": {"profile": "half-round", "width_mm": 4, "thickness_mm": 1.7}}, "stock.profile"),
        ({"finished_inside_mm": 21.5}, "sleeve_mm"),
        ({"outer": [{"stock": {"profile": "rectangle", "width_mm": 3, "thickness_mm": 1.7}}]}, "outer.0.stock"),
    ],
)
def test_a_seat_that_cannot_be_is_refused_at_its_field(change: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as problem:
        seat(**change)
    assert problem.value.errors[0].field == field


def test_the_step_follows_the_finished_ring_as_it_was_measured() -> None:
    order = style_order("stack", **SEAT)
    plan, read = ring(order), read_ring(order)
    inside = plan.seat.inside_mm - 0.2
    now = replan(read, {"inside-riding-ring": inside})
    assert now.seat.inside_mm == pytest.approx(inside)
    assert now.seat.deep_mm == pytest.approx(plan.seat.deep_mm + 0.1)
    said = verdicts(plan, now, {"inside-riding-ring": inside})
    assert [one.says for one in said] == [f"the step goes {now.seat.deep_mm:.2f} deep, not {plan.seat.deep_mm:.2f}"]
    thicker = as_measured(read, {"stock-thickness@sleeve-1": 1.75})
    assert thicker.stock.thickness_mm == 1.75
