"""Paths of straight pieces and arcs, against shapely; rings and blanks as they must look."""

import itertools
import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon

from ringcraft.drawing import rings
from ringcraft.drawing.blanks import across, along, strip, waisted
from ringcraft.drawing.paths import (
    Path,
    arc,
    area_mm2,
    box,
    circle,
    flattened,
    length_mm,
    line,
    polar,
    shifted,
    svg,
)
from ringcraft.drawing.shapes import Shape, drawing
from tests.orders import style_plan

angles = st.floats(0, 2 * math.pi)


def polygon(path: Path) -> Polygon:
    return Polygon(flattened(path, closed=True, step_mm=1e-4))


@given(angles, st.floats(0.05, 2 * math.pi - 0.05), st.floats(1, 30))
def test_an_arc_is_as_long_as_its_angle_and_lies_on_its_circle(start: float, turn: float, radius: float) -> None:
    path = arc(radius, start, start + turn)
    assert length_mm(path) == pytest.approx(radius * turn, rel=1e-9)
    for x, y in flattened(path, step_mm=1e-3):
        assert math.hypot(x, y) == pytest.approx(radius, rel=1e-9)
    assert path[0][:2] == pytest.approx(polar(radius, start))
    assert path[-1][:2] == pytest.approx(polar(radius, start + turn))


@given(st.lists(st.tuples(st.floats(-20, 20), st.floats(-20, 20), st.floats(-2, 2)), min_size=3, max_size=6))
def test_length_is_what_shapely_measures(points: list[tuple[float, float, float]]) -> None:
    path = tuple((round(x, 2), round(y, 2), round(bulge, 2)) for x, y, bulge in points)
    if any(math.dist(a[:2], b[:2]) < 0.5 for a, b in itertools.pairwise(path)):
        return
    assert length_mm(path) == pytest.approx(LineString(flattened(path, step_mm=1e-4)).length, rel=2e-3)


@pytest.mark.parametrize(
    ("path", "area"),
    [
        (box(0, 0, 60, 4), 240),
        (circle(7.5), math.pi * 7.5**2),
        (((0, 0, 1), (4, 0, 0)), math.pi * 2),
        (((0, 0, -1), (4, 0, 0), (4, 4, 0), (0, 4, 0)), 16 - math.pi * 2),
    ],
)
def test_area_of_straight_and_bent_outlines(path: Path, area: float) -> None:
    assert area_mm2(path) == pytest.approx(area)
    assert polygon(path).area == pytest.approx(area, rel=1e-3)


def test_an_arc_written_as_svg_turns_the_way_it_is_drawn() -> None:
    # a quarter to the left, seen with y upward, is a quarter with sweep 0 once y runs downward
    assert (
        svg(((5, 0, math.tan(math.pi / 8)), (0, 5, 0)), closed=False)
        == "M5.0000 0.0000A5.0000 5.0000 0 0 0 0.0000 -5.0000"
    )
    whole = svg(circle(2), closed=True, down=10)
    assert re.findall(r"A2\.0000 2\.0000 0 0 0", whole)
    assert whole.startswith("M-2.0000 10.0000")
    assert whole.endswith("Z")
    assert svg((), closed=True) == ""


def test_shifted_is_the_same_path_elsewhere() -> None:
    path = arc(3, 0, 2)
    moved = shifted(path, 5, -1)
    assert length_mm(moved) == pytest.approx(length_mm(path))
    assert moved[0][:2] == pytest.approx((path[0][0] + 5, path[0][1] - 1))


@pytest.mark.parametrize("half_deg", [20, 36, 45, 70])
def test_a_v_is_everywhere_as_thick_as_its_band(half_deg: float) -> None:
    outline = rings.vee(9, 10.5, math.radians(half_deg))
    outer, inner = (polygon(path) for path in outline.paths)
    assert outer.contains(inner)
    # the inside grown by the thickness with mitred corners is the outside
    grown = inner.buffer(1.5, join_style="mitre", mitre_limit=20)
    assert grown.symmetric_difference(outer).area < 0.01 * outer.area
    assert outer.bounds[3] == pytest.approx(10.5 / math.sin(math.radians(half_deg)))


def test_a_v_at_the_joint_points_down() -> None:
    up, down = (rings.vee(9, 10, 0.7, at_top=top).paths[0] for top in (True, False))
    assert polygon(up).bounds[3] == pytest.approx(-polygon(down).bounds[1])


def test_an_open_ring_lacks_exactly_its_gap() -> None:
    path = rings.opened(9, 10, 0.3).paths[0]
    assert area_mm2(path) == pytest.approx((2 * math.pi - 0.6) / 2 * (100 - 81))
    assert not polygon(path).intersects(Point(0, 9.5))


@pytest.mark.parametrize("overlap", [0.4, 1.0, 1.6])
def test_the_ends_of_an_open_ring_lie_over_one_another_and_not_in_one_another(overlap: float) -> None:
    under, over = (polygon(shape.paths[0]) for shape in rings.overlapped(9, 0.9, overlap))
    assert under.is_valid
    assert over.is_valid
    assert under.intersection(over).area < 0.02
    assert over.bounds[1] == pytest.approx(-(9 + 1.8), abs=1e-3)


def test_a_tapered_ring_is_thick_at_the_top_and_thin_below() -> None:
    shape = rings.two_thick(9, 4, 2, 0.9, 0.0)
    metal = polygon(shape.paths[0]).difference(polygon(shape.paths[1]))
    for angle, thick in ((0.0, 4), (0.8, 4), (math.pi, 2), (2.0, 2)):
        x, y = polar(30, angle)
        cut = LineString([(0, 0), (x, y)]).intersection(metal)
        assert cut.length == pytest.approx(thick, abs=2e-3)


def test_a_waist_is_drawn_in_by_one_arc_and_two_corners_are_rounded() -> None:
    drawn = polygon(waisted(70, 10, 3.5, 3))
    for x, wide in ((35, 3.5), (3, 10), (67, 10)):
        cut = LineString([(x, -5), (x, 15)]).intersection(drawn)
        assert cut.length == pytest.approx(wide, abs=2e-3)
    corners = [drawn.distance(Point(*corner)) for corner in ((0, 0), (70, 10), (70, 0), (0, 10))]
    assert corners == pytest.approx([3 * (math.sqrt(2) - 1)] * 2 + [0, 0], abs=2e-3)
    assert drawn.equals(drawn.buffer(0))


def test_the_box_of_a_drawing_leaves_its_ghosts_out() -> None:
    ghost = Shape("offcut", "ghost", (box(-3, 0, 0, 4),))
    made = drawing([Shape("blank", "metal", (box(0, 0, 60, 4),)), ghost], [across("a", "cut", 5, 4)])
    assert made.box == (0, 0, 60, 4)
    assert (made.length_mm, made.height_mm) == (60, 4)
    assert strip(60, 4, [along("f", "fold", 2, 0, 60)]).lines[0].path == line((0, 2), (60, 2))


@pytest.mark.parametrize(
    ("style", "tones"), [("stack", {"metal", "second"}), ("channel-inlay", {"metal", "second", "stone"})]
)
def test_a_cut_across_shows_each_piece_without_overlapping(style: str, tones: set[str]) -> None:
    across_ = style_plan(style).across
    assert {shape.tone for shape in across_.shapes} == tones
    pieces = [polygon(shape.paths[0]) for shape in across_.shapes]
    for i, one in enumerate(pieces):
        for other in pieces[i + 1 :]:
            assert one.intersection(other).area < 1e-6


def test_bands_beside_a_finished_ring_stand_side_by_side() -> None:
    layer = {"stock": {"profile": "half-round", "width_mm": 2, "thickness_mm": 1}}
    made = style_plan("stack", arrangement="sandwich", finished_metal="platinum-950", outer=[layer, layer])
    lefts = sorted(polygon(shape.paths[0]).bounds[0] for shape in made.across.shapes)
    rights = sorted(polygon(shape.paths[0]).bounds[2] for shape in made.across.shapes)
    assert rights[:-1] == pytest.approx(lefts[1:])
    assert made.across.length_mm == pytest.approx(made.figures[0].value)
    assert [blank.name for blank in made.blanks] == ["flank-1", "flank-2"]
    assert made.blanks[0].terms == made.blanks[1].terms, "alike on either side of the same ring"
    assert made.warnings == ()


def test_a_signets_drawing_fits_round_its_inner_band() -> None:
    made = style_plan("hollow-signet")
    shapes = {shape.key: shape for shape in made.ring.shapes}
    wrap, band = polygon(shapes["outer"].paths[0]), polygon(shapes["inner"].paths[0])
    assert wrap.is_valid
    assert wrap.intersection(band).area < 0.01 * wrap.area
    assert wrap.distance(band) < 1e-3
    plate = polygon(shapes["plate"].paths[0])
    assert plate.bounds[1] - band.bounds[3] == pytest.approx(2.5, abs=1e-3)
    assert wrap.intersection(plate).area < 1e-6
