"""Why a ring came out wrong: causes by their arithmetic, odds, the next measurement, the cheapest cure."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from ringcraft.errors import BadRequest
from ringcraft.learning.causes import KEYS, TABLE, priors_with
from ringcraft.learning.diagnosing import Diagnosis, diagnose
from ringcraft.metals import BLADES
from ringcraft.schema import to_json
from ringcraft.styles import STYLES
from ringcraft.tables import rows
from tests.orders import order, plan, style_order
from tests.resizes import came_in

FOLDED = {
    "style": "folded",
    "size": "US 7 1/2",
    "metal": "sterling",
    "layers": 2,
    "stock": {"profile": "sheet", "width_mm": 5, "thickness_mm": 0.6},
}
WIDE = {**order("rectangle"), "stock": {"profile": "rectangle", "width_mm": 8, "thickness_mm": 1.5}}


def off_by(data: dict[str, Any], mm: float, **more: Any) -> Diagnosis:
    """A ring of an order that is so much [mm round] off its target."""
    wanted = diagnose({"order": data, "felt_mm": 0}).off_mm
    assert wanted == 0
    inside = 11.6332 + 0.8128 * 7.5 + mm / math.pi  # the US scale's own line, for US 7 1/2
    return diagnose({"order": data, "observed": {"inside_diameter_mm": inside}, **more})


def test_a_thickness_forgotten() -> None:
    found = off_by(order(), -4.8)
    assert found.causes[0].keys == ("thickness-forgotten",)
    assert found.by_key["thickness-forgotten"] > 0.95
    assert found.causes[0].predicts_mm == pytest.approx(-2 * math.pi * plan().section.neutral_mm)
    assert found.says.startswith("The thickness was forgotten")
    assert found.causes[0].cure.key == "insert"
    assert found.causes[0].cure.mm == pytest.approx(4.8, abs=0.01)


def test_a_folded_sheet_counted_once_and_half_a_thickness_are_one_sum() -> None:
    found = off_by(FOLDED, -1.9)
    assert [cause.keys for cause in found.causes[:2]] == [("folded-once",), ("half-thickness",)]
    assert found.ask is not None
    assert found.ask.key == "thickness"
    assert "same sum" in found.apart
    layer, whole = off_by(FOLDED, -1.9, thickness_mm=0.6), off_by(FOLDED, -1.9, thickness_mm=1.2)
    assert layer.causes[0].keys == ("folded-once",)
    assert whole.causes[0].keys == ("half-thickness",)
    assert layer.apart == whole.apart == ""


def test_a_wide_band_that_reads_right_and_feels_tight() -> None:
    found = off_by(WIDE, 0.0, wide_complaint=True, felt_mm=-1.3)
    assert found.off_mm == -1.3
    assert found.causes[0].keys == ("wide-band",)
    assert "wide-band" not in off_by(WIDE, -1.3).by_key  # nobody complained of the fit
    assert "wide-band" not in off_by({**WIDE, "wide": True}, -1.3, wide_complaint=True).by_key  # it was cut for it


def test_a_cut_that_is_known_before_any_size_is() -> None:
    folded = {**FOLDED, "size": "US 10", "stock": {"profile": "sheet", "width_mm": 5, "thickness_mm": 1.0}}
    found = diagnose({"order": folded, "cut_mm": 63.0})
    assert found.causes[0].keys == ("thickness-forgotten", "trim-left")
    assert found.causes[0].cure.key == "anew"
    assert found.off_mm < -4


def test_shares_add_up_and_those_of_a_key_are_its_causes() -> None:
    for mm in (-6.3, -2.5, -0.9, 0.0, 0.7, 2.6, 7.9):
        found = off_by(order(), mm)
        assert math.fsum(cause.share for cause in found.causes) == pytest.approx(1)
        assert max(found.by_key.values()) >= max(one.share for one in found.causes if one.keys != ("others",)) - 1e-12
        assert [one.share for one in found.causes[:-1]] == sorted(
            (one.share for one in found.causes[:-1]), reverse=True
        )


def by_hand(off: float, scatter: float = 0.3, bias: float = 0.0) -> dict[str, float]:
    """Shares by key for a half-round at US 7 1/2, worked from the contract's table in plain Python."""
    e, kerf = plan().section.neutral_mm, BLADES["4/0"]
    t, w = 1.8, 4.0
    table: list[tuple[str, float, float, float]] = [
        ("scatter", 0.30, 0, 0),
        ("thickness-forgotten", 0.14, -2 * math.pi * e, 0.03 * 2 * math.pi * e),
        ("half-thickness", 0.05, -math.pi * e, 0.03 * math.pi * e),
        ("outside-for-inside", 0.04, 2 * math.pi * t, 0),
        ("half-size", 0.02, 1.28, 0.08),
        ("half-size", 0.02, -1.28, 0.08),
        ("chart-row", 0.02, 2.55, 0.08),
        ("chart-row", 0.02, -2.55, 0.08),
        ("gauge-off", 0.06, 0, 0.45),
        ("wrong-side", 0.06, 0.35 * w / 3, 0.25),
        *(("sawn-more", prior, -n * (kerf + 0.1), 0.06 * n) for n, prior in ((1, 0.08), (2, 0.04), (3, 0.015))),
        ("over-hammered", 0.08, 0.9, 0.6),
        ("stock-off", 0.05, -0.19, 0.12),
        ("stock-off", 0.03, 0.19, 0.12),
        ("gap-filled", 0.03, 0.3, 0.2),
        ("trim-left", 0.03, 1.0, 0.4),
    ]
    weights: list[tuple[tuple[str, ...], float]] = [(("something-else",), 0.05 / 16)]

    def density(shift: float, own: float) -> float:
        sd = math.hypot(scatter, own)
        return math.exp(-0.5 * ((off - shift - bias) / sd) ** 2) / (sd * math.sqrt(2 * math.pi))

    for at, (key, prior, shift, own) in enumerate(table):
        weights.append(((key,), prior * density(shift, own)))
        for other, prior2, shift2, own2 in table[at + 1 :]:
            contradict = {key, other} <= {"thickness-forgotten", "half-thickness"}
            if key != "scatter" and other != key and not contradict:
                both = prior * prior2 * density(shift + shift2, math.hypot(own, own2))
                weights.append(((key, other), both))
    total = math.fsum(weight for _, weight in weights)
    out: dict[str, float] = {}
    for keys, weight in weights:
        for key in keys:
            out[key] = out.get(key, 0.0) + weight / total
    return out


@pytest.mark.parametrize("off", [-7.1, -4.8, -2.4, -1.0, 0.15, 1.1, 5.0])
def test_the_odds_by_the_contracts_own_table(off: float) -> None:
    wanted = by_hand(off)
    found = off_by(order(), off).by_key
    assert set(found) == set(wanted)
    for key, part in wanted.items():
        assert found[key] == pytest.approx(part, abs=1e-9), key


def test_another_scale_is_computed_from_both() -> None:
    """US 4 is 14.88 inside; the same figure on the scale that counts thirds from 12 2/3 is 14.0 (both scales' lines)."""
    small = {**order(), "size": "US 4"}
    found = diagnose({"order": small, "observed": {"inside_diameter_mm": 14.0}})
    assert found.off_mm == pytest.approx(math.pi * (14.0 - 11.6332 - 4 * 0.8128))
    blamed = next(cause for cause in found.causes if cause.keys == ("other-scale",))
    assert blamed.predicts_mm == pytest.approx(found.off_mm, abs=0.05)
    assert found.by_key["other-scale"] > 0.3
    assert "other-scale" not in off_by(order(), -4.8).by_key  # no other scale has 7 1/2 within eight millimetres


def test_what_is_known_of_the_joint_enters_first() -> None:
    sawn = off_by(order(), -0.7, passes_made=3)
    assert sawn.causes[0].keys == ("sawn-more",)
    assert sawn.by_key["sawn-more"] == pytest.approx(1)
    assert "twice more" in sawn.causes[0].title
    assert off_by(order(), -0.7, passes_made=1).by_key["sawn-more"] == 0
    often = off_by(order(), -1.9, passes_made=7)
    assert often.causes[0].title == "the joint was sawn 6 times more"
    fewer = off_by(order(), 0.22, passes_made=0)
    assert fewer.causes[0].keys == ("scatter",)


def test_a_cut_that_was_right_leaves_only_what_comes_after_it() -> None:
    right = plan().blanks[0].cut_length_mm
    found = off_by(order(), -4.8, cut_mm=right)
    assert found.by_key["thickness-forgotten"] < 0.01
    blamed = off_by(order(), -4.8, cut_mm=right - 4.76)
    assert blamed.by_key["thickness-forgotten"] > 0.97


def test_beyond_eight_nothing_fits_and_it_says_so() -> None:
    found = off_by(order(), 9.0)
    assert [cause.keys for cause in found.causes] == [("something-else",)]
    assert found.says.startswith("Nothing known here makes 9.00 off")
    assert found.ask is None


def test_the_next_measurement_tells_most_by_brute_force() -> None:
    """Mutual information by drawing: the cause, then its reading; the entropy of causes that is left."""
    found = off_by(FOLDED, -1.9)
    assert found.ask is not None
    rng = np.random.default_rng(3)
    two = [cause for cause in found.causes if cause.keys in (("folded-once",), ("half-thickness",))]
    shares = np.array([cause.share for cause in two]) / sum(cause.share for cause in two)
    reads = np.array([0.6, 1.2])
    taken = rng.choice(2, size=4000, p=shares)
    values = reads[taken] + rng.normal(0, 0.02, 4000)
    after = shares * np.exp(-0.5 * ((values[:, None] - reads) / 0.02) ** 2)
    after /= after.sum(axis=1, keepdims=True)
    left = -(after * np.log2(np.maximum(after, 1e-300))).sum(axis=1).mean()
    told = float(-(shares * np.log2(shares)).sum() - left)
    assert (
        found.ask.bits >= told * sum(cause.share for cause in two) - 0.02
    )  # those two alone, as often as they are it


def test_a_shops_own_odds_lean_on_what_it_found() -> None:
    before, after = off_by(order(), 0.7), off_by(order(), 0.7, found={"gap-filled": 40})
    assert after.by_key["gap-filled"] > 3 * before.by_key["gap-filled"]
    moved = priors_with({"gap-filled": 20})
    every = sum(row["prior"] for row in rows("causes"))
    assert sum(moved.values()) == pytest.approx(every)
    assert moved["gap-filled"] == pytest.approx(every * (20 * 0.03 / every + 20) / 40)
    assert priors_with({}) == {}


def test_a_gauge_that_is_off_asks_to_read_again_before_anything_is_cured() -> None:
    found = off_by(order(), 0.5)
    gauge = next(cause for cause in found.causes if cause.keys == ("gauge-off",))
    assert gauge.cure.says.startswith("Read it anew first")


@pytest.mark.parametrize("style", STYLES)
def test_every_style_is_answered_in_words_that_are_whole(style: str) -> None:
    made = STYLES[style]
    data = style_order(style)
    for mm in (-3.0, 0.4, 3.0):
        wanted = diagnose({"order": data, "observed": {"inside_diameter_mm": 17.0}})
        inside = 17.0 - wanted.off_mm / math.pi + mm / math.pi
        found = diagnose({"order": data, "observed": {"inside_diameter_mm": inside}})
        assert found.off_mm == pytest.approx(mm)
        text = str(to_json(found))
        assert "{" not in found.says + "".join(cause.says + cause.cure.says for cause in found.causes)
        assert "nan" not in text
        assert all(cause.cure.says for cause in found.causes if cause.keys != ("others",)), (made.key, mm)


def test_a_ring_that_was_resized_is_asked_about_too() -> None:
    found = diagnose({"order": came_in(), "observed": {"inside_diameter_mm": 17.0}})
    assert "thickness-forgotten" not in found.by_key
    assert {"sawn-more", "gauge-off", "wrong-side"} <= set(found.by_key)
    assert found.ask is None or found.ask.key == "size"
    with pytest.raises(BadRequest):
        diagnose({"order": came_in(), "observed": {"inside_diameter_mm": 17.0}, "cut_mm": 60})


def test_stock_that_was_measured_far_off_is_the_cause_by_its_own_figure() -> None:
    """0.3 thicker half-round: its neutral line rises with it, 2 pi x 0.42 x 0.3 round; worked by the sections' own."""
    thick = plan(stock={"thickness_mm": 2.1}).section.neutral_mm - plan().section.neutral_mm
    found = off_by(order(), -0.9, thickness_mm=2.1)
    assert found.causes[0].keys == ("stock-off",)
    assert found.causes[0].predicts_mm == pytest.approx(-2 * math.pi * thick, abs=0.05)
    assert off_by(order(), 0.9, thickness_mm=1.5).causes[0].keys == ("stock-off",)
    assert off_by(FOLDED, -1.9, thickness_mm=0.9).by_key["stock-off"] > 0.9  # neither a layer nor all of them


def test_a_strip_is_long_or_short_and_cuts_scatter() -> None:
    planned = plan().blanks[0].cut_length_mm
    long, short = (
        diagnose({"order": order(), "cut_mm": planned + 0.2}),
        diagnose({"order": order(), "cut_mm": planned - 0.2}),
    )
    assert (long.off_text, short.off_text) == ("0.20 long", "0.20 short")
    assert long.says.startswith("Cuts scatter that much")


def test_nothing_is_said_of_a_joint_before_there_is_a_ring_or_where_none_is_closed() -> None:
    strip = diagnose({"order": order(), "cut_mm": plan().blanks[0].cut_length_mm})
    assert not {"sawn-more", "over-hammered", "gauge-off", "wrong-side"} & set(strip.by_key)
    assert strip.causes[0].cure.says == "Nothing: it is as marked."
    for style in ("adjustable", "shank"):
        open_ring = diagnose({"order": style_order(style), "observed": {"inside_diameter_mm": 17.0}})
        assert not {"sawn-more", "gap-filled"} & set(open_ring.by_key)


def test_a_strip_that_is_a_hair_short_goes_on_and_one_far_short_does_not() -> None:
    planned = plan(leave="exact").blanks[0].cut_length_mm
    hair = diagnose({"order": order(leave="exact"), "cut_mm": planned - 0.3}).causes[0].cure
    assert (hair.key, hair.says) == ("as-planned", "Go on with it. Once it is round: nothing: it is as it was left.")
    some = diagnose({"order": order(leave="exact"), "cut_mm": planned - 1.3}).causes[0].cure
    assert (some.key, some.mm) == ("stretch", pytest.approx(1.3, abs=0.05))  # beside what rounding left
    assert diagnose({"order": order(leave="exact"), "cut_mm": planned - 5}).causes[0].cure.key == "anew"


def test_the_stock_of_a_textured_band_is_read_before_its_texture() -> None:
    data = style_order("textured", growth="12 %")
    bought = data["stock"]["thickness_mm"]
    found = off_by(data, 0.2, thickness_mm=bought)
    assert found.by_key["stock-off"] < 0.2


def test_a_cure_is_for_the_ring_as_it_will_be_bent() -> None:
    """A wishbone reads large before its V: bare, its size is held against the finger, and so is its cure."""
    data = style_order("wishbone")
    inside = 11.6332 + 0.8128 * 7.5 + 0.9 / math.pi
    found = diagnose({"order": data, "observed": {"inside_diameter_mm": inside}})
    assert {abs(cause.cure.mm) < 1.5 for cause in found.causes if cause.cure.mm} == {True}
    left = diagnose({"order": order(), "observed": {"inside_diameter_mm": 17.62}, "expected_mm": 17.62})
    assert (left.off_text, left.causes[0].cure.key) == ("right", "as-planned")


def test_what_is_only_worn_tight_is_told_by_reading_it() -> None:
    found = diagnose({"order": WIDE, "felt_mm": -1.3, "wide_complaint": True})
    assert found.ask is not None
    assert found.ask.key == "size"
    assert "US 7 1/2: a wide band wears tighter" in found.ask.says


def test_an_inch_shop_reads_inches() -> None:
    found = diagnose({"order": order(), "observed": {"inside_diameter_mm": "0.638 in"}, "units": "in"})
    assert "0.1" in found.off_text
    assert found.off_mm == pytest.approx(-4.8, abs=0.1)


def test_the_table_is_the_contracts() -> None:
    table = {row["key"]: row for row in rows("causes")}
    assert set(table) == set(KEYS)
    assert math.fsum(row["prior"] for row in rows("causes")) == pytest.approx(1.465)
    assert (TABLE["cut_sd_mm"], TABLE["caliper_sd_mm"], TABLE["priors_worth_rings"]) == (0.15, 0.02, 20)
    assert all(row["title"] and row["says"] for row in rows("causes"))
    assert [row["key"] for row in rows("causes") if not row["mend"]] == ["scatter"]


@pytest.mark.parametrize(
    ("data", "field"),
    [
        ({"order": order()}, "observed"),
        ({"order": order(), "observed": {"inside_diameter_mm": 3}}, "observed.inside_diameter_mm"),
        ({"order": {**order(), "size": "huge"}, "cut_mm": 60}, "order.size"),
        ({"order": {**order(), "stock": {"profile": "round", "thickness_mm": 30}}, "cut_mm": 60}, "order.stock.thickness_mm"),
        ({"order": order(), "cut_mm": 60, "scatter_mm": 0}, "scatter_mm"),
        ({"order": order(), "cut_mm": 60, "scatter_mm": 1e-300}, "scatter_mm"),
        ({"order": order(), "cut_mm": 60, "expected_mm": 99}, "expected_mm"),
        ({"order": order(), "cut_mm": 60, "found": {"weather": 2}}, "found"),
        ({"order": order(), "cut_mm": 60, "stage": "moon"}, "stage"),
        ({"order": order(), "cut_mm": 60, "bias_mm": 99}, "bias_mm"),
        ({"order": order(), "cut_mm": 60, "why": 1}, "why"),
    ],
)  # fmt: skip
def test_what_cannot_be_asked_is_refused_at_its_field(data: Any, field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        diagnose(data)
    assert refused.value.errors[0].field == field
