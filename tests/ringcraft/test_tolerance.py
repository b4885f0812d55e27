"""How sure a size is: propagation against plain drawing, the policy's share, and what it says."""

import math
from statistics import NormalDist

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ringcraft.errors import CraftError
from ringcraft.planning.terms import most_words, share_words
from ringcraft.planning.tolerance import Spreads, sampled, scatter_of, spread_of
from tests.orders import plan, style_plan

PROFILES = ["half-round", "d", "rectangle", "triangle", "court", "round"]


@pytest.mark.parametrize("profile", PROFILES)
@pytest.mark.parametrize("saws", [0, 1, 3])
def test_adding_in_squares_against_rings_that_are_really_made(profile: str, saws: int) -> None:
    # 200,000 rings with every cause drawn for itself and the whole length worked out anew
    made = plan(profile, leave="exact", round_to_mm=0, join={"saw_passes": saws})
    scatter, draw = made.used.scatter, np.random.default_rng(7)
    n = 200_000
    slope = made.sensitivity.us_sizes_per_0_1_mm_thickness * 0.8128 * math.pi / 0.1
    off = (
        draw.normal(0, scatter.thickness_mm, n) * slope
        + draw.normal(0, scatter.cutting_mm, n)
        + sum((draw.normal(0, scatter.saw_pass_mm, n) for _ in range(saws)), np.zeros(n))
        + draw.normal(0, scatter.truing_mm, n)
    )
    assert made.closing.spread.sd_mm == pytest.approx(float(off.std()), rel=0.01)
    costly = float((off > made.closing.spread.bias_mm).mean())
    assert costly == pytest.approx(scatter.chance, abs=0.004)


@given(st.floats(0.005, 0.5), st.floats(0.01, 1), st.integers(0, 4))
def test_the_bias_is_the_quantile_of_the_share(share: float, cutting: float, saws: int) -> None:
    scatter = scatter_of(Spreads(cutting_mm=cutting), share)
    spread = spread_of(scatter, 3.0, 1.0, saws)
    if share < 0.5:
        assert NormalDist(0, spread.sd_mm).cdf(-spread.bias_mm) == pytest.approx(share, rel=1e-6)
    assert spread.sd_mm**2 == pytest.approx(math.fsum(cause.sd_mm**2 for cause in spread.causes))
    assert spread.causes[2].sd_mm == pytest.approx(scatter.saw_pass_mm * math.sqrt(saws))


def test_the_same_order_always_draws_the_same_spread() -> None:
    first, second = style_plan("tapered"), style_plan("tapered")
    assert first.closing.spread == second.closing.spread
    assert "fixed seed" in first.closing.spread.method


def test_drawing_a_straight_line_is_adding_in_squares() -> None:
    scatter = scatter_of(None, None)
    drawn = sampled(scatter, lambda a, b: 60 + 3 * a + b, (0.02, 0.15), truing=True)
    exact = math.sqrt((3 * 0.02) ** 2 + 0.15**2 + scatter.truing_mm**2)
    assert drawn.sd_mm == pytest.approx(exact, rel=0.05)
    assert drawn.bias_mm == pytest.approx(1.2816 * exact, rel=0.08)  # normal quantile of 0.9, any table
    assert sampled(scatter, lambda a: 60.0, (0.0,), truing=False).sd_mm == 0


def test_a_tapered_shank_is_less_sure_than_a_plain_band() -> None:
    tapered, plain = style_plan("tapered").closing.spread, style_plan("plain-band").closing.spread
    assert tapered.sd_mm > 1.5 * plain.sd_mm


@pytest.mark.parametrize("texture", ["before", "after"])
def test_leaving_it_small_keeps_one_in_ten_from_closing_too_large(texture: str) -> None:
    made = style_plan("textured", texture=texture, leave="small", round_to_mm=0)
    assert made.closing.high_mm == pytest.approx(made.wanted_mm)
    assert "one in ten" in next(term.why for term in made.blanks[0].terms if term.key == "leave")


def test_what_is_left_out_takes_the_table_and_what_is_given_wins() -> None:
    usual, own = scatter_of(None, None), scatter_of(Spreads(truing_mm=0.4), 0.2)
    assert own.truing_mm == 0.4
    assert own.cutting_mm == usual.cutting_mm
    assert (usual.chance, own.chance) == (0.1, 0.2)


@pytest.mark.parametrize(
    ("given_", "share", "field"),
    [
        (Spreads(truing_mm=3), None, "spread.truing_mm"),
        (Spreads(saw_pass_mm=2.5), None, "spread.saw_pass_mm"),
        (None, 0.001, "costly_share"),
        (None, 0.6, "costly_share"),
    ],
)
def test_a_scatter_beyond_sense_is_refused(given_: Spreads | None, share: float | None, field: str) -> None:
    with pytest.raises(CraftError) as caught:
        scatter_of(given_, share)
    assert caught.value.field == field
    assert caught.value.hint


@pytest.mark.parametrize(
    ("share", "rare", "most"),
    [
        (0.1, "one in ten", "Four in five"),
        (0.05, "one in twenty", "Nine in ten"),
        (0.25, "one in four", "One in two"),
        (0.02, "one in fifty", "96 in a hundred"),
        (0.2, "one in five", "Three in five"),
        (0.015, "1.5 in a hundred", "97 in a hundred"),
    ],
)
def test_shares_are_told_as_one_says_them(share: float, rare: str, most: str) -> None:
    scatter = scatter_of(None, share)
    assert (share_words(scatter.chance), most_words(scatter)) == (rare, most)
    made = plan(costly_share=share)
    assert made.closing.says.startswith(most)
    assert rare in next(term.why for term in made.blanks[0].terms if term.key == "leave")
