"""Small figures that a slip of the pen would change and nobody would see: each by a way of its own."""

from __future__ import annotations

import math

import pytest

from ringcraft.errors import BadRequest
from ringcraft.measure.gauges import GaugeRequest, MarkReading, fit_gauge
from ringcraft.metals import METALS, SOLDERS
from ringcraft.planning.joints import Seam
from ringcraft.planning.rolling import Rolled
from ringcraft.planning.tolerance import sampled, scatter_of
from ringcraft.routes.building import stage_facts
from ringcraft.sections import Stock, section_of
from ringcraft.styles.folded import fold_lines, sheet_width_mm
from ringcraft.styles.shank import thirds
from tests.orders import style_plan


def test_a_mark_that_reads_too_large_has_a_residual_above_nought() -> None:
    readings = [
        MarkReading(mark=str(n), diameter_mm=11.63 + 0.8128 * n + (0.3 if n == 8 else 0)) for n in range(3, 13)
    ]
    fit = fit_gauge(GaugeRequest(scale="us", name="peg", readings=tuple(readings)))
    eighth = next(one for one in fit.residuals if one.mark == "8")
    assert eighth.mm == pytest.approx(0.3, abs=0.02)
    assert fit.off_marks == ("8",)


def test_a_d_has_straight_sides_half_its_height_and_a_court_a_third() -> None:
    d = section_of(Stock(profile="d", width_mm=4.0, thickness_mm=2.0))
    told = section_of(Stock(profile="d", width_mm=4.0, thickness_mm=2.0, side_mm=1.0))
    assert d.area_mm2 == pytest.approx(told.area_mm2)
    assert d.area_mm2 > 4.0 * 1.0 + 0.6 * 4.0 * 1.0  # the sides' rectangle and more than a triangle's dome
    court = section_of(Stock(profile="court", width_mm=4.0, thickness_mm=1.8))
    assert court.area_mm2 == pytest.approx(
        section_of(Stock(profile="court", width_mm=4.0, thickness_mm=1.8, side_mm=0.6)).area_mm2
    )
    assert court.neutral_mm == pytest.approx(0.9)  # its two domes are alike


@pytest.mark.parametrize(("layers", "wide", "thick"), [(2, 6.0, 0.5), (3, 5.0, 0.7), (5, 4.0, 0.4)])
def test_folds_lie_the_same_from_either_edge_of_the_sheet(layers: int, wide: float, thick: float) -> None:
    lines, sheet = fold_lines(wide, thick, layers), sheet_width_mm(wide, thick, layers)
    assert len(lines) == layers - 1
    assert [sheet - y for y in reversed(lines)] == pytest.approx(list(lines))
    # an outer layer lies flat for its width less the bend's radius, and the fold's middle is half a quarter turn on
    assert lines[0] == pytest.approx(wide - thick + thick * math.pi / 4)


def test_a_v_bent_sharper_takes_more_out_of_the_round() -> None:
    made = style_plan("wishbone", v_angle_deg="80", leave="exact", round_to_mm=0)
    sharper = next(one for one in made.what_if if one.key == "vee-sharper")
    # the same length bent 5 degrees sharper: the round's neutral radius follows from L = R (2 pi + 2 (cot - (pi/2 - A/2)))

    def radius(angle: float) -> float:
        half = math.radians(angle) / 2
        return made.blanks[0].formed_length_mm / (2 * math.pi + 2 * (1 / math.tan(half) - (math.pi / 2 - half)))

    assert sharper.circumference_mm == pytest.approx(2 * math.pi * (radius(75) - radius(80)), rel=0.02)
    assert sharper.circumference_mm < 0


@pytest.mark.parametrize("finished", ["brass", "bronze", "tarnish-resistant-silver", "sterling", "gold-9k-yellow"])
def test_a_finished_ring_melts_above_the_solder_or_is_refused(finished: str) -> None:
    """Flanks of every metal beside every finished ring: the lowest solidus of all that is heated rules the solder."""
    for metal in METALS.values():
        lowest = min((metal, METALS[finished]), key=lambda one: one.solidus_c)
        asked = {"arrangement": "sandwich", "finished_metal": finished, "metal": metal.key}
        made = style_plan("stack", **asked)
        together = made.joints[-1]
        assert together.key == "together"
        series = SOLDERS[together.solder].series
        if lowest is not metal:
            assert series == SOLDERS[lowest.solder].series, (metal.key, finished)
        flows = SOLDERS[together.solder].flows_c
        if flows is None:
            assert "the solder's sheet must say well below" in made.warnings[0]
            continue
        margin = METALS[finished].solidus_c - flows
        assert min(margin, metal.solidus_c - flows) >= 10, (metal.key, finished)
        assert bool(made.warnings) is (margin < 50), (metal.key, finished)


def test_beside_a_tarnish_resistant_ring_easy_solder_and_not_medium_at_five_degrees() -> None:
    made = style_plan("stack", arrangement="sandwich", metal="fine-silver", finished_metal="tarnish-resistant-silver")
    assert made.joints[-1].solder == "silver-easy"


@pytest.mark.parametrize("metal", ["palladium-950", "platinum-950"])
def test_bands_that_melt_high_are_joined_to_a_gold_ring_with_gold_solder(metal: str) -> None:
    """A 14k ring begins to melt where palladium solder has not begun: a fact of the tables, not of the plan."""
    made = style_plan("stack", arrangement="sandwich", metal=metal, finished_metal="gold-14k-yellow")
    assert made.joints[-1].solder == "gold-14k-yellow-medium"
    step = next(one for one in made.route if one.key == "solder-together")
    assert "Flux between them" in step.do[0]  # the gold is soldered under flux, whatever its flanks are
    assert "pickle-together" in [one.key for one in made.route]


def test_prongs_are_of_one_width_and_the_kerfs_lie_between() -> None:
    # kerf-true thirds: a known case of the trade, 6.35 wide under a 2/0 blade of 0.26; common practice
    prong, (first, second) = thirds(6.35, 0.26)
    assert (round(prong, 3), round(first, 3), round(second, 3)) == (1.943, 2.073, 4.277)
    assert first - 0.13 == pytest.approx(prong)
    assert second - first - 0.26 == pytest.approx(prong)
    assert 6.35 - second - 0.13 == pytest.approx(prong)


@pytest.mark.parametrize(
    ("seam", "chips"),
    [
        (Seam("a", "a", 5.0, 1, 7.0), 2),  # half-round 5 x 2: spacing
        (Seam("a", "a", 2.0, 1, 1.0), 1),
        (Seam("a", "a", 2.0, 1, 12.0), 4),  # a thick bar: 12 x 0.05 x 1.3 / 0.25 = 3.1
        (Seam("a", "a", 60.0, 1, lines=3), 60),  # four layers have three seams
        (Seam("a", "a", 3.0), 1),
        (Seam("a", "a", 3.1), 2),
    ],
)
def test_chips_by_what_a_joint_holds_and_by_its_length(seam: Seam, chips: int) -> None:
    assert seam.chips == chips


def test_a_bar_is_thinned_in_stages_that_its_metal_bears() -> None:
    bar = section_of(Stock(profile="square", thickness_mm=4.0))
    middle = section_of(Stock(profile="rectangle", width_mm=4.0, thickness_mm=1.0))
    rolled = Rolled(bar, middle, ends_mm=16.0, before_mm=12.0, power=1.0)
    assert rolled.final_mm == pytest.approx(16 + 48)  # a quarter of the area is four times as long
    for limit, count in ((1.0, 2), (0.4, 5), (3.0, 1)):
        stages = rolled.stages(limit)
        assert len(stages) == count
        assert all(stage.strain <= limit + 1e-9 for stage in stages)
        assert math.prod(1 + stage.strain for stage in stages) == pytest.approx(4)
        assert math.fsum(stage.grows_mm for stage in stages) == pytest.approx(36)
        assert stages[-1].thickness_mm == pytest.approx(1.0)
        assert [stage.again for stage in stages] == [False] + [True] * (count - 1)
        assert [stage.more_follow for stage in stages] == [True] * (count - 1) + [False]
    assert rolled.slip_mm(0.05) == pytest.approx(48 * 0.05)


@pytest.mark.parametrize(
    ("style", "changes", "said"),
    [
        ("stack", {"outer": [{"stock": {"profile": "rectangle", "width_mm": "5", "thickness_mm": "30"}}]}, "cannot be bent"),
        ("channel-inlay", {"outer_stock": {"profile": "square", "thickness_mm": "9"}, "outer_count": "2"}, "cannot be bent"),
        ("plain-band", {"stock": {"profile": "rectangle", "width_mm": 1e-6, "thickness_mm": "1"}}, "thread"),
        ("tapered", {"middle": {"width_mm": "4", "thickness_mm": "4"}}, "cannot be thinned"),
        ("textured", {"worked_thickness_mm": "2.4"}, "thins what it lengthens"),
        ("folded", {"worked_thickness_mm": "4"}, "are not 4 thick"),
        ("hollow-signet", {"top_measured_mm": "40"}, "cannot be"),
        ("shank", {"ends": "split", "gap_mm": "0"}, "no ends to split"),
        ("shank", {"ends": "split", "stock": {"profile": "rectangle", "width_mm": "1", "thickness_mm": "1"}}, "hold nothing"),
        ("plain-band", {"size": "US 1", "leave": "small", "spread": {"cutting_mm": 2, "truing_mm": 2, "thickness_mm": 2}, "costly_share": 0.005}, "no finger"),
        ("plain-band", {"size": "US 00"}, "begins with a nought"),
        ("plain-band", {"metal": "platinum-950", "stock": {"profile": "rectangle", "width_mm": "40", "thickness_mm": "5"}}, "not a ring"),
    ],
)  # fmt: skip
def test_what_can_be_read_and_cannot_be_made_is_refused(style: str, changes: dict[str, object], said: str) -> None:
    with pytest.raises(BadRequest, match=said):
        style_plan(style, **changes)


def us_gauge(thicker_mm: float, marks: list[float], wobble: dict[float, float] | None = None) -> GaugeRequest:
    """A US mandrel that is so much thicker than its marks say, with a mark or two beside."""
    off = wobble or {}
    readings = [
        MarkReading(mark=f"{n:g}", diameter_mm=11.6332 + 0.8128 * n + thicker_mm + off.get(n, 0.0)) for n in marks
    ]
    return GaugeRequest(scale="us", name="peg", readings=tuple(readings))


@pytest.mark.parametrize("marks", [[4.0, 7.0, 10.0], [7.0]], ids=["a line", "one mark"])
def test_a_mandrel_that_is_too_thick_reads_too_small(marks: list[float]) -> None:
    """Where mark 7 is 0.2032 mm thicker than size 7, a ring that goes to it is a quarter of a size larger: read small."""
    fit = fit_gauge(us_gauge(0.2032, marks))
    assert fit.reads_off_us_sizes == pytest.approx(-0.25)
    assert fit.offset_mm + fit.gain * 17.32 == pytest.approx(17.5232)
    assert all(one.mm == pytest.approx(0, abs=1e-9) for one in fit.residuals)
    assert "0.20 mm thicker than its marks say" in fit.says[0].replace("taken as ", "")
    thin = fit_gauge(us_gauge(-0.2032, marks))
    assert thin.reads_off_us_sizes == pytest.approx(0.25)
    assert "0.20 mm thinner" in thin.says[0]


def test_a_stretched_scale_is_told_at_both_its_ends() -> None:
    readings = [MarkReading(mark=f"{n}", diameter_mm=1.01 * (11.6332 + 0.8128 * n) - 0.1) for n in (3, 6, 9, 12)]
    fit = fit_gauge(GaugeRequest(scale="us", name="peg", readings=tuple(readings)))
    assert (fit.gain, fit.offset_mm) == (pytest.approx(1.01), pytest.approx(-0.1))
    # size 3 is 14.0716: 1.01 of it less 0.1 is 0.0407 more; size 12 is 21.3868: 0.1139 more
    assert fit.says[0] == "At 3 it is 0.04 mm thicker than its marks say, at 12 0.11 mm thicker than its marks say."
    middle = 11.6332 + 0.8128 * 7.5
    assert fit.reads_off_us_sizes == pytest.approx(-(0.01 * middle - 0.1) / 0.8128)


def test_too_few_marks_ask_for_as_many_as_a_line_needs() -> None:
    one, two = fit_gauge(us_gauge(0, [7.0])), fit_gauge(us_gauge(0, [5.0, 9.0]))
    assert (one.more_readings, two.more_readings) == (2, 1)
    assert one.says[1] == "Read 2 more marks, far apart."
    assert two.says[1] == "Read 1 more mark, far apart."
    assert (one.spread_mm, one.enough, one.contradicts) == (0.0, False, False)
    assert [(r.nominal_mm, r.read_mm, r.off) for r in one.residuals] == [
        (pytest.approx(17.3228), pytest.approx(17.3228), False)
    ]


def test_marks_that_scatter_ask_for_more_and_one_that_is_off_for_another_look() -> None:
    marks = [3.0, 5.0, 7.0, 9.0, 11.0]
    steady = fit_gauge(us_gauge(0, marks))
    assert (steady.spread_mm, steady.more_readings) == (pytest.approx(0, abs=1e-9), 0)
    # three marks that scatter by 0.057 want (0.057 / 0.025)^2 = 5.2, so six, before their middle is sure: three more
    wild = fit_gauge(us_gauge(0, [3.0, 5.0, 7.0], {5.0: -0.07}))
    assert wild.spread_mm == pytest.approx(math.sqrt(0.07**2 * 2 / 3))  # one degree of freedom is left
    assert (wild.more_readings, wild.contradicts) == (3, False)
    assert "scatter by 0.06 mm" in wild.says[-1]
    at_odds = fit_gauge(us_gauge(0, [3.0, 5.0, 7.0], {5.0: -0.08}))
    assert (at_odds.more_readings, at_odds.contradicts) == (2, True)
    assert "contradict one another" in at_odds.says[-1]
    spoilt = fit_gauge(us_gauge(0, [*marks, 13.0], {7.0: 0.5}))
    assert spoilt.off_marks == ("7",)
    assert [one.mark for one in spoilt.residuals if one.off] == ["7"]
    assert any("Mark 7 is off by +0.50 mm" in line for line in spoilt.says)
    assert spoilt.more_readings >= 1


@pytest.mark.parametrize(("thicker", "good"), [(1.4, True), (-1.4, True), (2.4, False), (-2.4, False)])
def test_a_gauge_on_another_scale_is_refused(thicker: float, good: bool) -> None:
    if good:
        assert fit_gauge(us_gauge(thicker, [3.0, 6.0, 9.0, 12.0])).offset_mm == pytest.approx(thicker)
    else:
        with pytest.raises(Exception, match="scale"):
            fit_gauge(us_gauge(thicker, [3.0, 6.0, 9.0, 12.0]))


def test_a_stage_of_rolling_says_what_its_middle_is_by_then() -> None:
    bar = section_of(Stock(profile="square", thickness_mm=4.0))
    middle = section_of(Stock(profile="rectangle", width_mm=3.2, thickness_mm=0.8))
    rolled = Rolled(bar, middle, ends_mm=15.0, before_mm=10.0, power=1.0)
    # 16 to 2.56 is 6.25 times as long: three stages of 1.842
    first, second, last = stage_facts(rolled.stages(0.9), "mm")
    assert [str(one.stage_t) for one in (first, second, last)] == [
        "2.34",
        "1.37",
        "0.80",
    ]  # each 0.585 of the one before
    assert [str(one.stage_w) for one in (first, second, last)] == ["3.71", "3.45", "3.20"]  # each 0.928
    assert [str(one.stage_length) for one in (first, second, last)] == ["33.42", "48.93", "77.50"]
    assert [one.reduction for one in (first, second, last)] == ["46", "71", "84"]
    assert str(stage_facts(rolled.stages(0.9), "in")[0].stage_t) == "0.092″"
    assert rolled.slip_mm(0.05) == pytest.approx(62.5 * 0.05 / 0.8)


def test_a_plan_on_a_gauge_names_it_with_its_calibration() -> None:
    gauge = {
        "scale": "us",
        "name": "the long peg",
        "calibrated_on": "2026-05-04",
        "readings": [{"mark": f"{n}", "diameter_mm": 1.004 * (11.6332 + 0.8128 * n) + 0.1} for n in (3, 6, 9, 12)],
    }
    used = style_plan("plain-band", gauge=gauge).gauge
    fit = fit_gauge(us_gauge(0, [3.0, 6.0, 9.0]))
    assert (used.name, used.scale, used.calibrated_on, used.enough) == ("the long peg", "us", "2026-05-04", True)
    assert (used.gain, used.offset_mm, used.spread_mm) == (
        pytest.approx(1.004),
        pytest.approx(0.1),
        pytest.approx(0, abs=1e-9),
    )
    assert len(used.says) == len(fit.says)


@pytest.mark.parametrize("truing", [True, False])
def test_drawing_gives_what_adding_in_squares_would(truing: bool) -> None:
    """For a length that follows its measures in a straight line both ways must agree."""
    scatter = scatter_of(None, 0.1)
    spread = sampled(scatter, lambda a, b: 60 + 3 * a - 2 * b, (0.1, 0.2), truing)
    sd = math.sqrt(0.3**2 + 0.4**2 + (0.2**2 if truing else 0))
    assert spread.sd_mm == pytest.approx(sd, rel=0.03)
    assert spread.bias_mm == pytest.approx(1.2816 * sd, rel=0.05)
    assert [(cause.key, cause.sd_mm) for cause in spread.causes] == ([("truing", 0.2)] if truing else [])
    assert (spread.chance, spread.method) == (0.1, "2000 draws, fixed seed")


def test_texture_after_soldering_moves_metal_and_takes_none() -> None:
    made = style_plan("textured", texture="after", growth="6 %", leave="exact", round_to_mm=0)
    grams = 5.0 * 1.6 * (made.blanks[0].cut_length_mm - 0.22) * 10.36 / 1000  # the stock as bought, less one kerf
    asked = next(ask for step in made.route for ask in step.measure if ask.key == "mass-finished")
    assert asked.expected == pytest.approx(grams)
    assert made.blanks[0].mass_g == pytest.approx(5.0 * 1.6 * made.blanks[0].cut_length_mm * 10.36 / 1000)
