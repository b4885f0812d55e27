"""From where a ring closes to its size: what is stretched, pressed or left, and what is said of it."""

from __future__ import annotations

import math

import pytest

from ringcraft.planning.sizing import CAREFUL_STRAIN, HAIR_MM
from ringcraft.planning.terms import share_of_rings, share_words, too_large_share
from ringcraft.planning.tolerance import Spread
from ringcraft.vbench.thing import PLAIN_STRAIN
from tests.orders import order, plan, style_plan


@pytest.mark.parametrize(
    ("rule", "leave", "by"),
    [
        ("centroid", "small", "stretch"),
        ("centroid", "large", "left"),
        ("mean-diameter", "exact", "compress"),  # a half-round by the mean diameter closes 0.9 round too large
        ("three-thickness", "exact", "compress"),
        ("bare-chart", "exact", "left"),  # 4.8 round short: nothing stretches that far
    ],
)
def test_a_plain_band_is_stretched_pressed_or_left(rule: str, leave: str, by: str) -> None:
    made = plan("half-round", rule=rule, leave=leave)
    assert made.finished is not None
    assert made.finished.by == by
    change = math.pi * (made.wanted_mm - made.closing.inside_diameter_mm)
    assert (made.finished.inside_diameter_mm == made.wanted_mm) is (by != "left")
    if by in ("stretch", "compress"):
        assert f"{abs(change):.2f} mm" in made.finished.says


def test_only_a_plain_band_is_pressed_smaller() -> None:
    # by the mean diameter a half-round closes large: a textured one cannot go through a reducing die
    stock = {"profile": "half-round", "width_mm": 4.0, "thickness_mm": 1.8}
    made = style_plan("textured", rule="mean-diameter", leave="exact", stock=stock)
    assert made.finished.by == "left"
    assert "cannot be pressed smaller. Take it out at the joint." in made.finished.says
    assert made.finished.text == made.closing.text != made.wanted_text


@pytest.mark.parametrize(("style", "limit"), [("plain-band", PLAIN_STRAIN), ("stamped", CAREFUL_STRAIN)])
def test_how_far_a_ring_is_stretched(style: str, limit: float) -> None:
    """A size for a plain band, half a size for another: by the share of the policy it is left so much smaller."""
    seen = set()
    for cutting in (0.2, 0.5, 0.8, 1.1, 1.4, 1.7, 2.0):
        made = style_plan(style, leave="small", costly_share=0.02, spread={"cutting_mm": cutting})
        change = math.pi * (made.wanted_mm - made.closing.inside_diameter_mm)
        strain = change / (math.pi * (made.closing.inside_diameter_mm + 2 * made.section.neutral_mm))
        assert (made.finished.by == "stretch") is (strain <= limit), (cutting, strain)
        seen.add(made.finished.by)
        if strain > limit:
            assert f"{100 * limit:g} % it may be stretched" in made.finished.says
    assert seen == {"stretch", "left"}


def test_a_hair_is_trued_and_not_made_a_step_of() -> None:
    made = plan("rectangle", leave="exact", round_to_mm=0.1)
    assert made.finished is not None
    assert abs(math.pi * (made.wanted_mm - made.closing.inside_diameter_mm)) <= HAIR_MM
    assert "true it lightly" in made.finished.says
    assert made.finished.inside_diameter_mm == made.wanted_mm


def test_an_open_shank_is_not_stretched_and_large_is_taken_out_at_its_back() -> None:
    large = style_plan("shank", leave="large")
    assert large.finished.by == "left"
    assert large.finished.says.endswith("then take out at the back.")
    small = style_plan("shank", leave="small")
    assert "it is not stretched. Cut it anew, or set a piece in." in small.finished.says
    closed = style_plan("shank", leave="large", gap_mm=0)
    assert closed.finished.says.endswith("then take out at the joint.")


SPREAD = Spread((), 0.5, 0.1, 0.64, "by hand")


@pytest.mark.parametrize(("apart", "share"), [(0.0, 0.5), (0.5, 0.8413), (-0.5, 0.1587), (-0.64, 0.1003), (5, 1.0)])
def test_the_share_that_closes_too_large_is_the_normal_ones(apart: float, share: float) -> None:
    assert too_large_share(apart, SPREAD) == pytest.approx(share, abs=1e-3)  # any table of the normal distribution


def test_without_scatter_every_ring_closes_where_it_is_planned() -> None:
    sure = Spread((), 0.0, 0.1, 0.0, "by hand")
    assert (too_large_share(0.01, sure), too_large_share(-0.01, sure)) == (1.0, 0.0)


@pytest.mark.parametrize(
    ("chance", "said", "rings"),
    [
        (0.1, "one in ten", "one in ten closes"),
        (0.25, "one in four", "one in four closes"),
        (0.97, "97 in a hundred", "97 in a hundred close"),
        (0.021, "2.1 in a hundred", "2.1 in a hundred close"),
        (0.003, "fewer than one in a hundred", "fewer than one in a hundred closes"),
        (0.0001, "hardly one in a thousand", "hardly one in a thousand closes"),
        (0.999, "nearly every one", "nearly every one closes"),
    ],
)
def test_chances_are_said_as_people_say_them(chance: float, said: str, rings: str) -> None:
    assert (share_words(chance), share_of_rings(chance)) == (said, rings)


def test_an_own_correction_is_the_shops_record_and_no_fault() -> None:
    own, plain = plan(rule="own", own_correction_mm=0.5), plan()
    assert own.closing.inside_diameter_mm == pytest.approx(plain.closing.inside_diameter_mm, abs=0.04)
    longer = own.blanks[0].cut_length_mm - plain.blanks[0].cut_length_mm
    assert longer == pytest.approx(0.5, abs=0.11)
    grown = [deed.grows_mm for step in own.route for deed in step.does if deed.op == "round"]
    assert grown == [pytest.approx(-0.5)]  # what it is cut longer by is what rings come out shorter by here
    assert own.warnings == ()


@pytest.mark.parametrize("much", [9000.0, -9000.0, 3.1, -3.1])
def test_a_correction_of_another_ring_is_refused(much: float) -> None:
    from ringcraft.errors import BadRequest
    from ringcraft.styles import ring

    with pytest.raises(BadRequest, match="another ring"):
        ring(order(rule="own", own_correction_mm=much))
