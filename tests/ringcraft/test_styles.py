"""One contract over every style of the registry: a new style is tested by being there."""

import itertools
import json
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import BadRequest
from ringcraft.metals import METALS
from ringcraft.planning.ledger import Handle
from ringcraft.routes.steps import STATIONS
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, ring
from ringcraft.styles.base import Style
from ringcraft.styles.orders import overridden
from ringcraft.work.fields import set_path
from tests.orders import BARE, style_order, style_plan

styles = pytest.mark.parametrize("style", STYLES)


@pytest.mark.sweep
@styles
@given(data=st.data())
def test_every_ledger_adds_up_and_every_drawing_is_as_long_as_its_ledger(style: str, data: st.DataObject) -> None:
    made = style_plan(
        style,
        size=f"{data.draw(st.floats(15, 23)):.3f} mm ID",
        metal=data.draw(st.sampled_from(list(METALS))),
        rule=data.draw(st.sampled_from(["centroid", "mean-diameter", "three-thickness"])),
        leave=data.draw(st.sampled_from(["small", "exact", "large"])),
        round_to_mm=data.draw(st.sampled_from([0, 0.1, 0.5])),
        join={"saw_passes": data.draw(st.integers(0, 2)), "trim_mm": data.draw(st.sampled_from([0, 1]))},
    )
    for blank in made.blanks:
        assert math.fsum(term.mm for term in blank.terms) == pytest.approx(blank.cut_length_mm, abs=1e-9)
        assert blank.drawing.length_mm == pytest.approx(blank.cut_length_mm, abs=1e-6)
        assert blank.drawing.height_mm == pytest.approx(blank.width_mm, abs=1e-6)
        assert all(-1e-9 <= mark.x_mm <= blank.cut_length_mm + 1e-9 for mark in blank.marks)
        assert blank.mass_g == pytest.approx(METALS[made.metal.key].density_g_cm3 * blank.volume_mm3 / 1000)
        assert blank.volume_mm3 > 0
    assert made.closing.low_mm < made.closing.inside_diameter_mm < made.closing.high_mm
    json.dumps(to_json(made), allow_nan=False)


@pytest.mark.sweep
@styles
@given(data=st.data())
def test_a_larger_finger_takes_a_longer_blank(style: str, data: st.DataObject) -> None:
    exact = {**BARE, "match": "size"} if style == "patterned" else BARE
    inside = data.draw(st.floats(15, 22))
    blanks = [style_plan(style, size=f"{inside + grow} mm ID", **exact).blanks for grow in (0, 0.2)]
    for small, large in zip(*blanks, strict=True):
        if small.role != "plate":
            assert large.cut_length_mm > small.cut_length_mm


@styles
def test_exact_and_by_the_neutral_line_it_closes_at_the_finger(style: str) -> None:
    made = style_plan(style, **BARE, **({"match": "size"} if style == "patterned" else {}))
    assert made.closing.inside_diameter_mm == pytest.approx(made.wanted_mm, abs=1e-9)


@pytest.mark.parametrize("style", sorted(set(STYLES) - {"patterned"}))  # whole repeats leave nothing to a policy
def test_each_policy_leaves_its_costly_side_at_the_chosen_share(style: str) -> None:
    for share in (0.05, 0.1):
        small, large = (
            style_plan(style, leave=leave, round_to_mm=0, costly_share=share) for leave in ("small", "large")
        )
        if style == "tapered":  # its spread is so wide that it is left no smaller than it can be stretched
            assert small.finished is not None
            assert small.finished.by == "stretch"
            assert small.closing.high_mm > small.wanted_mm
        else:
            assert small.closing.high_mm == pytest.approx(small.wanted_mm, abs=1e-6)
        assert large.closing.low_mm == pytest.approx(large.wanted_mm, abs=1e-6)


@styles
def test_a_wider_scatter_makes_a_wider_range_and_comes_from_the_order(style: str) -> None:
    spread = {"thickness_mm": 0.06, "cutting_mm": 0.5, "saw_pass_mm": 0.2, "truing_mm": 0.6}
    usual, wild = style_plan(style), style_plan(style, spread=spread)
    assert wild.closing.spread.sd_mm > 2 * usual.closing.spread.sd_mm
    assert all(cause.why for cause in usual.closing.spread.causes)


@styles
def test_one_slip_moves_the_ring_the_way_it_says(style: str) -> None:
    made = style_plan(style)
    deviations = {deviation.key: deviation for deviation in made.what_if}
    high, low = (deviations[key].circumference_mm for key in ("thickness-high", "thickness-low"))
    if style == "tapered":  # a bar read too thick is cut too short: its middle does not run out so far
        high, low = low, high
    assert high > 0 > low
    assert deviations["hammered"].circumference_mm == 0.9  # as the diagnosis has it: one figure in the program
    for deviation in made.what_if:
        moved = (deviation.inside_diameter_mm - made.closing.inside_diameter_mm) * math.pi
        assert moved == pytest.approx(deviation.circumference_mm)


@styles
def test_its_route_is_whole_in_every_metal(style: str) -> None:
    for metal in METALS:
        made = style_plan(style, metal=metal)
        keys = [step.key for step in made.route]
        assert len(keys) == len(set(keys))
        assert keys[-1] == "hand-over"
        assert {step.station for step in made.route} <= set(STATIONS)
        becomes = {step.becomes for step in made.route}
        assert "open" in becomes
        assert ("closed" in becomes) is STYLES[style].closes
        said = " ".join(line for step in made.route for line in (step.title, *step.do, *step.check, *step.caution))
        assert "{" not in said
        assert "  " not in said
        assert all(step.caution for step in made.route if step.torch)
        asked = [ask.key for step in made.route for ask in step.measure]
        assert len(asked) == len(set(asked))


@pytest.mark.parametrize(
    ("style", "order"),
    [
        ("textured", ["texture", "measure-textured", "scribe", "form", "solder", "texture-joint"]),
        ("stamped", ["lay-out", "stamp", "anneal", "form", "solder"]),
        ("wishbone", ["solder", "round", "anneal-vee", "bend-vee", "to-size"]),
        ("folded", ["fold", "solder-layers", "measure-layers", "file-to-line", "form", "solder"]),
        (
            "stack",
            ["solder", "rinse", "round", "measure-outside", "scribe-outer-1", "solder-outer-1", "solder-together"],
        ),
        (
            "channel-inlay",
            [
                "solder",
                "pickle",
                "measure-outside",
                "scribe-outer",
                "solder-walls",
                "pickle-walls",
                "solder-holes",
                "inlay",
            ],
        ),
        (
            "hollow-signet",
            [
                "solder",
                "pickle",
                "measure-outside",
                "scribe-outer",
                "solder-wrap",
                "pickle-wrap",
                "scribe-plate",
                "solder-plate",
            ],
        ),
        ("tapered", ["scribe-middle", "thin", "measure-thinned", "form", "solder"]),
        ("shank", ["measure-top", "bend-small", "fit-top", "solder-top"]),
        ("adjustable", ["waist", "smooth", "form-small", "let-out"]),
        ("patterned", ["measure-repeat", "scribe-left", "scribe", "cut", "inspect"]),
    ],
)
def test_the_steps_stand_in_the_order_of_the_craft(style: str, order: list[str]) -> None:
    keys = [step.key for step in style_plan(style).route]
    places = [keys.index(key) for key in order]
    assert places == sorted(places)


def test_each_sleeve_is_cut_only_after_the_one_under_it_is_measured() -> None:
    layer = {"stock": {"profile": "rectangle", "width_mm": 3, "thickness_mm": 1.2}, "fit_mm": 0}
    keys = [step.key for step in style_plan("stack", outer=[layer, layer]).route]
    order = ["measure-outside", "scribe-outer-1", "solder-outer-1", "pickle-outer-1", "measure-over-outer-1"]
    order += ["scribe-outer-2", "solder-outer-2", "pickle-outer-2", "measure-over-outer-2", "solder-together"]
    places = [keys.index(key) for key in order]
    assert places == sorted(places)


def test_binding_wire_comes_off_before_every_pickle_it_could_reach() -> None:
    for style in ("stack", "channel-inlay", "hollow-signet", "folded"):
        route = style_plan(style).route
        wired = [i for i, step in enumerate(route) if "binding wire" in " ".join(step.do)]
        for i in wired:
            assert "ntie it." in " ".join(route[i].do)
            assert "iron or steel" in " ".join(line for step in route[i + 1 : i + 2] for line in step.check)


@styles
def test_solders_fall_from_heat_to_heat(style: str) -> None:
    made = style_plan(style)
    for before, after in itertools.pairwise(made.joints):
        assert after.round >= before.round
        if after.round > before.round:
            assert after.flows_c < before.flows_c
    assert all(joint.flows_c < METALS["sterling"].solidus_c for joint in made.joints)


@styles
def test_every_word_of_its_sentence_is_a_field_of_its_order(style: str) -> None:
    kind = STYLES[style]
    fields = set(kind.request.__dataclass_fields__)
    for word in kind.words:
        for one in (word, *word.parts) if word.kind != "list" else (word,):
            if one.field:
                assert one.field.split(".")[0] in fields, one.field
                assert one.label
    made = style_plan(style)
    assert made.style == style
    assert isinstance(made, kind.answer)


@styles
def test_a_style_that_is_not_plain_says_something_of_its_own(style: str) -> None:
    made = style_plan(style)
    own = set(STYLES[style].answer.__dataclass_fields__) - set(STYLES["plain-band"].answer.__dataclass_fields__)
    assert own or style == "plain-band"
    assert made.figures or style == "plain-band"
    keys = {step.key for step in made.route}
    assert style == "plain-band" or keys != {step.key for step in style_plan("plain-band").route}


def handles(plan: Any) -> list[tuple[str, str, Handle]]:
    return [(blank.name, mark.key, mark.handle) for blank in plan.blanks for mark in blank.marks if mark.handle]


@pytest.mark.parametrize(
    "style", ["wishbone", "adjustable", "stamped", "shank", "patterned", "hollow-signet", "tapered"]
)
def test_moving_a_mark_by_its_field_moves_it_by_as_much(style: str) -> None:
    order = style_order(style, **BARE)
    found = handles(ring(order))
    assert found
    for blank, key, handle in found:
        assert handle.low <= handle.value <= handle.high
        moved = {**order}
        step = -0.05 if style == "patterned" else 0.05
        for word in STYLES[style].words:
            if handle.field in {part.field for part in word.parts}:
                moved.pop(word.first, None)
        set_path(moved, handle.field, handle.value + step * handle.per_mm)

        def at(made: Any, blank: str = blank, key: str = key) -> float:
            one = next(b for b in made.blanks if b.name == blank)
            mark = next(mark for mark in one.marks if mark.key == key)
            # a mark of a ring that grows to both sides is measured from the ring's middle
            return float(mark.x_mm - (one.cut_length_mm / 2 if key.startswith("vee") or key == "flank" else 0))

        if key == "flank":
            continue  # its round is shared by both flanks: the figure follows, the mark by another measure
        wanted = 0.0 if key == "overlap" else step
        pitch = getattr(ring(moved), "repeats", None) and 2.5
        off = at(ring(moved)) - at(ring(order)) - wanted
        assert (off % pitch if pitch else off) == pytest.approx(0, abs=0.004) or (
            pitch and off % pitch == pytest.approx(pitch, abs=0.004)
        )


MISTAKES: list[tuple[str, dict[str, Any], str]] = [
    ("wishbone", {"v_angle_deg": None}, "v_angle_deg"),
    ("wishbone", {"v_rise_mm": 3}, "v_rise_mm"),
    ("wishbone", {"v_angle_deg": "12°"}, "v_angle_deg"),
    ("wishbone", {"v_angle_deg": None, "v_extra_mm": 90}, "v_extra_mm"),
    ("wishbone", {"v_angle_deg": float("nan")}, "v_angle_deg"),
    ("wishbone", {"v_place": "side"}, "v_place"),
    ("adjustable", {"overlap_mm": 50}, "overlap_mm"),
    ("adjustable", {"overlap_mm": "-2"}, "overlap_mm"),
    ("adjustable", {"waist_mm": 12}, "waist_mm"),
    ("adjustable", {"stock__profile": "round", "stock__thickness_mm": 2, "stock__width_mm": None}, "waist_mm"),
    ("folded", {"layers": 1}, "layers"),
    ("folded", {"layers": "💍"}, "layers"),
    ("folded", {"layers": 6, "stock__thickness_mm": 1.5}, "stock.thickness_mm"),
    ("folded", {"stock__profile": "half-round", "stock__width_mm": 4}, "stock.profile"),
    ("textured", {"growth": "60 %"}, "growth"),
    ("textured", {"growth": -0.1}, "growth"),
    ("patterned", {"repeat_mm": 40}, "repeat_mm"),
    ("patterned", {"repeat_mm": 1e-9}, "repeat_mm"),
    ("patterned", {"repeats": 3}, "repeats"),
    ("patterned", {"repeats": 0}, "repeats"),
    ("patterned", {"start_mm": 3}, "start_mm"),
    ("stamped", {"lines": ""}, "lines"),
    ("stamped", {"lines": "💍"}, "lines"),
    ("stamped", {"lines": 7}, "lines"),
    ("stamped", {"lines": "X" * 40}, "lines"),
    ("stamped", {"letter_height_mm": 9}, "letter_height_mm"),
    ("stamped", {"shift_mm": 26}, "shift_mm"),
    ("stack", {"outer": []}, "outer"),
    ("stack", {"outer__0__fit_mm": 2}, "outer.0.fit_mm"),
    ("stack", {"outer__0__stock__thickness_mm": 0.001}, "outer.0.stock.thickness_mm"),
    ("stack", {"inner_measured_od_mm": 40}, "inner_measured_od_mm"),
    ("stack", {"arrangement": "sandwich"}, "finished_metal"),
    ("stack", {"arrangement": "sandwich", "finished_metal": "sterling", "outer__0__fit_mm": -0.05}, "outer.0.fit_mm"),
    ("stack", {"arrangement": "sandwich", "finished_metal": "unknown"}, "finished_metal"),
    ("channel-inlay", {"outer_count": 1}, "outer_count"),
    ("channel-inlay", {"stock__width_mm": 5}, "stock.width_mm"),
    ("channel-inlay", {"outer_stock__profile": "round"}, "outer_stock.profile"),
    ("channel-inlay", {"inner_measured_od_mm": 30}, "inner_measured_od_mm"),
    ("hollow-signet", {"top_width_mm": 60}, "top_width_mm"),
    ("hollow-signet", {"rise_mm": 90}, "rise_mm"),
    ("hollow-signet", {"top_width_mm": 1, "rise_mm": 0.1}, "rise_mm"),
    ("hollow-signet", {"stock__profile": "half-round", "stock__thickness_mm": 2}, "stock.profile"),
    ("shank", {"gap_mm": 60}, "gap_mm"),
    ("shank", {"gap_mm": 0, "top_width_mm": 40}, "top_width_mm"),
    ("shank", {"top_width_mm": 5}, "gap_mm"),
    ("shank", {"ends": "split", "split_mm": 40}, "split_mm"),
    ("tapered", {"middle__thickness_mm": 6}, "middle.thickness_mm"),
    ("tapered", {"end_mm": 40}, "end_mm"),
    ("tapered", {"gap_mm": 90}, "gap_mm"),
    ("plain-band", {"spread": {"cutting_mm": 9}}, "spread.cutting_mm"),
    ("plain-band", {"costly_share": 0.9}, "costly_share"),
]


@pytest.mark.parametrize(("style", "changes", "field"), MISTAKES)
def test_a_mistake_names_its_field_and_what_would_do(style: str, changes: dict[str, Any], field: str) -> None:
    with pytest.raises(BadRequest) as caught:
        style_plan(style, **changes)
    error = caught.value.errors[0]
    assert error.field == field
    assert error.message


@styles
def test_the_measures_that_set_its_plan_are_asked_for_on_its_route(style: str) -> None:
    made, kind = style_plan(style), STYLES[style]
    asked = {ask.key for step in made.route for ask in step.measure}
    sets = {key for key in asked if overridden(kind.overrides_from_measures, {key: 1.0})}
    assert sets
    for pattern in kind.overrides_from_measures:
        if "{n}" not in pattern and pattern not in ("inside-finished-ring", "inside-riding-ring"):
            assert pattern in asked, pattern
    assert all(isinstance(one, Style) for one in STYLES.values())


@pytest.mark.parametrize("leave", ["small", "exact", "large"])
def test_what_is_said_under_the_figure_is_true_of_the_policy_too(leave: str) -> None:
    # the size at which the planned opening, overlap or hammering holds is where this blank closes, not the wish
    shank, open_ = (style_plan(style, leave=leave, round_to_mm=0) for style in ("shank", "adjustable"))
    assert f"Bent to {shank.closing.text} it stands open by 5.45" in shank.says[0]
    assert f"lie over one another by 8 at {open_.closing.text}" in open_.says[0]
    after = style_plan("textured", texture="after", leave=leave, round_to_mm=0)
    # before the hammer it is as thick as it was bought, 1.6, and as long as it was cut less one kerf
    before = (after.blanks[0].cut_length_mm - 0.22) / math.pi - 1.6
    told = after.says[0].split("It closes at ")[1].split(" and hammers out to ")
    assert told[1] == f"{after.closing.text}."
    assert told[0] == f"US {_us(before)}"


def _us(inside_mm: float) -> str:
    from ringcraft.measure.sizes import SCALES

    return SCALES["us"].label(SCALES["us"].number(inside_mm), 0.125)
