"""How a ring came out, worked again by a way that shares no code: what the neutral line missed is found whatever the rule."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.learning.came_out import ReadAt, RingOut, came_out, class_of, in_force_mm
from ringcraft.metals import BLADES
from ringcraft.planning.own import GROUPS
from ringcraft.planning.rules import RULES
from ringcraft.work.joining import JointLook
from ringcraft.works import MAKE, follow
from tests.orders import order, style_order

#: Height of the centroid over the inside face, for flat stock and wire: half the thickness.
HALF = ("rectangle", "square", "round", "sheet")


def made(data: dict[str, Any], read: dict[str, float], passes: int | None = None, next_key: str = "round") -> RingOut:
    """A ring of an order with what was read of it."""
    looks = {} if passes is None else {"inspect": JointLook(passes=passes)}
    plan = MAKE.plan(MAKE.read(data))
    seen = follow(MAKE, data, plan, read, looks)
    assert seen.wrong == ""
    return came_out(seen.plan, seen.now, {key: ReadAt(mm, next_key) for key, mm in read.items()}, looks)


@given(
    profile=st.sampled_from(HALF),
    rule=st.sampled_from(list(RULES)),
    leave=st.sampled_from(["small", "exact", "large"]),
    thick=st.floats(-0.08, 0.08),
    cut_off=st.floats(-0.6, 0.6),
    missed=st.floats(-0.8, 0.8),
    in_force=st.sampled_from([0.0, 0.38, -0.5]),
    joint=st.tuples(st.integers(0, 3), st.integers(0, 3), st.floats(0, 1.2)),
    taught=st.booleans(),
)
def test_what_the_neutral_line_missed_is_found_whatever_was_planned(
    profile: str, rule: str, leave: str, thick: float, cut_off: float, missed: float, in_force: float,
    joint: tuple[int, int, float], taught: bool,
) -> None:  # fmt: skip
    """The ring is closed by plane geometry: what is left of the strip, bent round its middle line."""
    planned, passes, trim = joint
    data = order(profile, size="US 6 3/4", rule=rule, leave=leave)
    data["join"] = {"saw_passes": planned, "trim_mm": round(trim, 2), "blade": "2/0"}
    if in_force:
        data["own"] = {"corrections": [{"group": f"{profile}/silver", "round_mm": in_force}]}
    t = round(float(data["stock"]["thickness_mm"]) + thick, 3)
    as_cut = follow(MAKE, data, MAKE.plan(MAKE.read(data)), {"stock-thickness": t}).now.blanks[0].cut_length_mm
    cut = round(as_cut + cut_off, 3)
    sawn = passes if taught else planned
    left = cut - round(trim, 2) - sawn * BLADES["2/0"]
    inside = (left + missed) / math.pi - t  # pi (D + t) = what is left and what was missed
    read = {"stock-thickness": t, "cut-length": cut, "daylight": 0.0, "size-rounded": inside}
    out = made(data, read, passes if taught else None)
    assert out.z_mm == pytest.approx(missed, abs=2e-3)
    assert out.residual_mm == pytest.approx(missed - in_force, abs=2e-3)
    assert out.passes_known is taught
    assert out.group == f"{'rectangle' if out.profile == 'rectangle' else profile}/silver"
    assert out.group in GROUPS


def test_an_older_plan_of_a_typed_figure_says_what_was_in_force() -> None:
    from dataclasses import replace

    plan: Any = MAKE.plan(MAKE.read(order(rule="own", own_correction_mm=0.3)))
    old = replace(plan, closing=replace(plan.closing, neutral_mm=None))
    assert in_force_mm(old) == pytest.approx(in_force_mm(plan)) == pytest.approx(-0.3)
    bare: Any = MAKE.plan(MAKE.read(order()))
    assert in_force_mm(replace(bare, closing=replace(bare.closing, neutral_mm=None))) == 0


def test_a_reading_that_cannot_be_names_itself() -> None:
    read = {"stock-thickness": 1.8, "cut-length": 20.0, "size-rounded": 17.0}
    out = made(order(), read)
    assert (out.z_mm, out.odd) == (None, "cut length as measured")
    assert out.cut_off_mm is None


def test_what_a_bar_ran_on_by_counts_in_full() -> None:
    """A bar thinned in its middle: what is read of it once it is thinned is the ring's own length, mm for mm."""
    data = style_order("tapered", leave="exact")
    plan: Any = MAKE.plan(MAKE.read(data))
    asked = {ask.key: ask.expected for step in plan.route for ask in step.measure}
    read = {"stock-thickness": 4.0, "length-worked": asked["length-worked"], "size-rounded": asked["size-rounded"]}
    assert made(data, read).z_mm == pytest.approx(0, abs=1e-6)
    long = read | {"length-worked": asked["length-worked"] + 0.4}
    assert made(data, long).z_mm == pytest.approx(-0.4, abs=1e-6)
    assert made(data, {**read, "cut-length": asked["cut-length"] + 3}).z_mm == pytest.approx(0, abs=1e-6)


def test_verdicts_and_classes() -> None:
    plan: Any = MAKE.plan(MAKE.read(order(leave="exact")))
    closes = plan.closing.inside_diameter_mm
    for off, word in ((0.0, "right"), (0.2, "large"), (-0.2, "small")):
        assert made(order(leave="exact"), {"size-rounded": closes + off}).verdict == word
    assert made(order(), {}).verdict == ""
    assert [class_of(mm) for mm in (0.8, 1.2, 1.79, 2.5)] == ["under 1.2", "1.2 to 1.8", "1.2 to 1.8", "2.5 and more"]
