"""Each closed form of the styles against an independent way of getting it.

Lengths of drawn lines and areas are measured by shapely, lines are integrated by scipy; the figures of the trade are
common practice with no published source and marked so.
"""

import math

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq
from shapely import LineString, Point, Polygon

from ringcraft.drawing.paths import area_mm2, flattened, length_mm
from ringcraft.planning.rolling import thinned
from ringcraft.sections import Stock, section_of
from ringcraft.styles.folded import sheet_width_mm
from ringcraft.styles.hollow_signet import wrap_of
from ringcraft.styles.wishbone import angle_of_extra, angle_of_rise, vee_of_angle
from tests.orders import BARE, style_order, style_plan


def drop(radius: float, half_angle: float) -> Polygon:
    """A circle and the triangle of a V standing on it, built by shapely's own union: no formula of ours."""
    tip = radius / math.sin(half_angle)
    foot = math.pi / 2 - half_angle
    feet = [(s * radius * math.sin(foot), radius * math.cos(foot)) for s in (-1, 1)]
    return Point(0, 0).buffer(radius, quad_segs=4000).union(Polygon([(0, tip), feet[0], (0, 0), feet[1]]))


@pytest.mark.parametrize("angle", [40, 60, 72, 90, 120, 150])
def test_a_v_adds_what_the_drawn_line_is_longer(angle: float) -> None:
    radius = 10.3
    vee = vee_of_angle(radius, angle)
    drawn = drop(radius, math.radians(angle) / 2)
    assert drawn.length - 2 * math.pi * radius == pytest.approx(vee.v_extra_mm, abs=2e-4)
    assert drawn.bounds[3] - radius == pytest.approx(vee.v_rise_mm, abs=1e-6)


@pytest.mark.parametrize(("angle", "extra"), [(90, 4.4), (72, 8.9), (60, 14.1)])
def test_a_v_on_a_radius_of_10_3_as_benches_have_it(angle: float, extra: float) -> None:
    # common practice, no published source; about 9 is what benches add
    assert vee_of_angle(10.3, angle).v_extra_mm == pytest.approx(extra, abs=0.05)


@pytest.mark.parametrize("extra", [0.5, 4.4, 9.0, 20.0])
def test_the_angle_of_an_extra_against_scipy(extra: float) -> None:
    found = brentq(lambda a: vee_of_angle(9.7, a).v_extra_mm - extra, 10, 179)
    assert angle_of_extra(9.7, extra) == pytest.approx(found, abs=1e-6)
    rise = vee_of_angle(9.7, found).v_rise_mm
    assert angle_of_rise(9.7, rise) == pytest.approx(found, abs=1e-6)


def test_a_wishbone_drawn_is_as_long_as_its_ledger() -> None:
    order = style_order("wishbone", **BARE)
    made = style_plan("wishbone", **BARE)
    section = section_of(Stock(profile="half-round", width_mm=3, thickness_mm=1.5))
    inner, outer = (length_mm(path, closed=True) for path in made.ring.shapes[0].paths[::-1])
    share = section.neutral_mm / section.thickness_mm  # lengths of parallel lines lie between in proportion
    assert order["v_angle_deg"] == "75"
    assert inner + (outer - inner) * share == pytest.approx(made.blanks[0].formed_length_mm, abs=1e-6)


@pytest.mark.parametrize(("top", "rise"), [(10, 2), (14, 2.5), (18, 4), (4, 3)])
def test_a_signets_wrap_is_the_shortest_line_round_the_ring(top: float, rise: float) -> None:
    # a string pulled tight from corner to corner under a disc is the hull of disc and corners, less the top itself
    neutral, height = 10.2, 9.75 + rise
    hull = (
        Point(0, 0)
        .buffer(neutral, quad_segs=6000)
        .union(Polygon([(-top / 2, height), (top / 2, height), (0, 0)]))
        .convex_hull
    )
    assert wrap_of(neutral, top, height).length_mm == pytest.approx(hull.length - top, abs=2e-4)


def test_a_signets_flank_stands_square_on_its_radius() -> None:
    wrap = wrap_of(10.2, 14, 12.2)
    foot = np.array([math.sin(wrap.leaves_at), math.cos(wrap.leaves_at)]) * 10.2
    flank = np.array([7, 12.2]) - foot
    assert float(foot @ flank) == pytest.approx(0, abs=1e-9)
    assert float(np.linalg.norm(flank)) == pytest.approx(wrap.flank_mm)


def test_the_trades_rule_for_a_signet_is_near_for_a_usual_top() -> None:
    # common practice, no published source: outer is inner + 4 to 5, of strip about a millimetre thick
    made = style_plan("hollow-signet", top_width_mm=16, rise_mm=5, **BARE)
    assert made.thumbs[0].exact_mm == pytest.approx(made.blanks[1].formed_length_mm)
    assert abs(made.thumbs[0].off_mm) < 2


@pytest.mark.parametrize("middle", [(4, 2), (3, 1.5), (4, 4)])
def test_thinning_keeps_the_volume(middle: tuple[float, float]) -> None:
    area = middle[0] * middle[1]
    made = thinned(16, area, 62, 8)
    assert made.bar_length_mm * 16 == pytest.approx(2 * 8 * 16 + (62 - 16) * area)
    assert made.growth_mm == pytest.approx(62 - made.bar_length_mm)


def test_a_tapered_shank_closes_by_integration_round_the_finger() -> None:
    # the neutral line's radius as a function of the angle, integrated: thick ends at the top, thin below
    made = style_plan("tapered", **BARE)
    inside, thick, thin = made.wanted_mm / 2, 4.0, 2.0
    ends = 8.0 / (inside + thick / 2)  # angle of one end

    def radius(angle: float) -> float:
        return inside + (thick if angle < ends or angle > 2 * math.pi - ends else thin) / 2

    around = sum(
        quad(radius, a, b)[0] for a, b in [(0, ends), (ends, 2 * math.pi - ends), (2 * math.pi - ends, 2 * math.pi)]
    )
    assert made.blanks[0].formed_length_mm == pytest.approx(around, abs=1e-6)
    assert made.blanks[0].volume_mm3 == pytest.approx(2 * 8 * 16 + (around - 16) * 8)


def test_sampling_agrees_with_adding_in_squares_where_both_hold() -> None:
    # a middle as thick as the bar is a plain square band: the same scatter must come out either way
    tapered = style_plan(
        "tapered", middle__thickness_mm=3.9, middle__width_mm=4, stock__thickness_mm=4, leave="exact"
    )
    spread = tapered.closing.spread
    assert spread.method != style_plan("plain-band").closing.spread.method
    ratio = spread.bias_mm / spread.sd_mm
    assert ratio == pytest.approx(1.2816, rel=0.06)  # normal quantile of 0.9, any table


def test_an_adjustable_strip_weighs_what_shapely_measures() -> None:
    made = style_plan("adjustable", **BARE)
    blank = made.blanks[0]
    path = blank.drawing.shapes[0].paths[0]
    drawn = Polygon(flattened(path, closed=True, step_mm=1e-5))
    assert area_mm2(path) == pytest.approx(drawn.area, rel=1e-5)
    assert blank.volume_mm3 == pytest.approx(drawn.area * 0.8, rel=1e-5)
    middle = drawn.intersection(LineString([(blank.cut_length_mm / 2, -1), (blank.cut_length_mm / 2, 20)]))
    assert middle.length == pytest.approx(4, abs=1e-4)
    assert made.blanks[0].formed_length_mm == pytest.approx(math.pi * (made.wanted_mm + 0.8) + 8)


def test_a_fold_takes_half_a_turn_about_its_own_middle_line() -> None:
    # the middle line of a sheet folded flat, drawn and measured: two straights and a half circle of radius t / 2
    w, t = 6.0, 0.5
    bend = [(w - t + t / 2 * math.sin(a), t / 2 - t / 2 * math.cos(a)) for a in np.linspace(0, math.pi, 4000)]
    drawn = LineString([(0, 0), *bend, (0, t)])
    assert sheet_width_mm(w, t, 2) == pytest.approx(drawn.length, abs=1e-5)


def test_a_shanks_opening_by_the_law_of_cosines() -> None:
    made = style_plan("shank", gap_mm=6, **BARE)
    inner = made.wanted_mm / 2
    turn = 6 / (inner + made.section.neutral_mm)
    chord = math.sqrt(2 * inner**2 * (1 - math.cos(turn)))
    assert made.shank.inside_mm == pytest.approx(chord)
    seated = style_plan("shank", gap_mm=None, top_width_mm=chord, **BARE)
    assert seated.shank.gap_mm == pytest.approx(6)
    assert seated.blanks[0].cut_length_mm == pytest.approx(made.blanks[0].cut_length_mm)


def test_an_outer_band_goes_once_round_the_inner_by_pappus() -> None:
    # Pappus: a rectangle swept round holds its area times its centroid's path, the volume of the blank that makes it
    made = style_plan("stack", **BARE)
    outer = made.blanks[1]
    inside = made.blanks[0].outside_mm
    swept = math.pi / 4 * ((inside + 2 * 1.2) ** 2 - inside**2) * 3.0
    assert outer.volume_mm3 == pytest.approx(swept)


def test_the_channels_and_the_walls_fill_the_band() -> None:
    made = style_plan("channel-inlay", **BARE)
    assert 3 * 1.5 + sum(channel.width_mm for channel in made.channels) == pytest.approx(8.0)
    od = made.blanks[0].outside_mm
    ring = math.pi / 4 * ((od + 3.0) ** 2 - od**2)
    assert made.inlay_mm3 == pytest.approx(ring * sum(channel.width_mm for channel in made.channels))


@pytest.mark.parametrize("repeat", [1.7, 2.5, 6.0])
def test_whole_repeats_close_where_their_length_goes_round(repeat: float) -> None:
    made = style_plan("patterned", repeat_mm=repeat, join={"saw_passes": 1})
    for fit in made.fits:
        assert math.pi * (fit.inside_diameter_mm + 1.2) == pytest.approx(fit.repeats * repeat)
    at_cuts = [line.path[0][0] for line in made.blanks[0].drawing.lines]
    face = 0.11  # half the kerf of a 4/0
    ends = [min(abs(x - at) for x in at_cuts) for at in (face, made.blanks[0].cut_length_mm - face)]
    assert ends == pytest.approx([0, 0], abs=1e-6)  # both ends fall at the same place of the repeat
    ghosts = [shape for shape in made.blanks[0].drawing.shapes if shape.tone == "ghost"]
    widths = [flattened(g.paths[0])[1][0] - flattened(g.paths[0])[0][0] for g in ghosts]
    assert widths == pytest.approx([made.offcut_mm] * 2)


def test_letters_stand_at_their_pitch_about_the_centre() -> None:
    made = style_plan("stamped", lines="MARA 2026", letter_height_mm=2, pitch_mm=1.8, **BARE)
    xs = [mark.x_mm for mark in made.marks]
    assert (xs[0] + xs[-1]) / 2 == pytest.approx(made.blanks[0].cut_length_mm / 2)
    assert xs[1] - xs[0] == pytest.approx(1.8)
    assert xs[4] - xs[3] == pytest.approx(3.6)  # a space takes a place and no punch
    first = min(made.marks, key=lambda mark: mark.strike)
    assert abs(first.x_mm - made.blanks[0].cut_length_mm / 2) < 1.801
    away = [abs(m.x_mm - made.blanks[0].cut_length_mm / 2) for m in sorted(made.marks, key=lambda m: m.strike)]
    assert [round(mm, 6) for mm in away] == sorted(round(mm, 6) for mm in away)


def test_stamping_refuses_with_the_smallest_ring_or_letter_that_would_do() -> None:
    from ringcraft.errors import BadRequest

    long = {"lines": "MARA ELIAS JOSEPHINE TAM", "letter_height_mm": 2.8, **BARE}
    with pytest.raises(BadRequest) as caught:
        style_plan("stamped", **long)
    hint = caught.value.errors[0].hint
    size = hint.split(" would hold it")[0]
    assert style_plan("stamped", **{**long, "size": size}).needs_mm > 0
    words = hint.split("letters ")[1].split(",")[0].split()
    height, pitch = float(words[0]), float(hint.split(" apart")[0].split()[-1])
    assert style_plan("stamped", **{**long, "letter_height_mm": height, "pitch_mm": pitch}).needs_mm > 0
