"""Stock against the world: exact cut plans by another solver's own model, masses by shapely, worked examples of the trade.

The cutting stock problem is Gilmore and Gomory's (A linear programming approach to the cutting-stock problem, Operations
Research 9, 1961): their bound is rounded up here by scipy's own model of it, which shares no code with ours.
"""

import itertools
import math
import random

import numpy as np
import pytest
from scipy.optimize import LinearConstraint, linprog, milp
from shapely import Polygon

from ringcraft.metals import METALS
from ringcraft.schema import read_request
from ringcraft.sections import Stock, section_of
from ringcraft.stock.cutting.answer import cut
from ringcraft.stock.drawer import PIECE, figures_of
from ringcraft.stock.melt.melting import needed_g
from ringcraft.stock.mill.passes import mill
from ringcraft.stock.mill.thinning import thin


def fewest_by_assignment(bars: list[float], blanks: list[float], kerf: float) -> int:
    """The fewest bars by an assignment model: every blank on one bar, every bar open or not."""
    n, m = len(blanks), len(bars)
    cost = np.concatenate([np.zeros(n * m), np.ones(m)])
    placed = np.zeros((n, n * m + m))
    room = np.zeros((m, n * m + m))
    for i, j in itertools.product(range(n), range(m)):
        placed[i, i * m + j] = 1
        room[j, i * m + j] = blanks[i] + kerf
    for j in range(m):
        room[j, n * m + j] = -(bars[j] + kerf)
    found = milp(
        cost,
        constraints=[LinearConstraint(placed, 1, 1), LinearConstraint(room, -np.inf, 1e-6)],
        integrality=np.ones(n * m + m),
        bounds=(0, 1),
    )
    assert found.status == 0
    return round(found.fun)


@pytest.mark.sweep
@pytest.mark.parametrize("seed", range(12))
def test_as_few_bars_as_an_assignment_model_finds(seed: int) -> None:
    chance = random.Random(seed)
    few = chance.choice([None, [52.5, 58.0, 63.5]])
    blanks = [chance.choice(few) if few else chance.randint(480, 700) / 10 for _ in range(12)]
    bars = [chance.randint(1100, 2400) / 10 for _ in range(9)]
    plan = cut(
        {
            "kerf_mm": 0.22,
            "stock": [{"id": str(at), "length_mm": mm} for at, mm in enumerate(bars)],
            "blanks": [{"id": str(at), "length_mm": mm} for at, mm in enumerate(blanks)],
        }
    )
    assert not plan.unplaced
    best = fewest_by_assignment(bars, blanks, 0.22)
    assert plan.bound_pieces <= best
    assert len(plan.pieces) == best


def gilmore_gomory(bar: int, lengths: dict[int, int]) -> float:
    """The bound of Gilmore and Gomory for bars of one length, over all patterns, each written out."""
    kinds = sorted(lengths)
    ranges = [range(min(lengths[one], bar // one) + 1) for one in kinds]
    patterns = [p for p in itertools.product(*ranges) if sum(n * w for n, w in zip(p, kinds, strict=True)) <= bar]
    found = linprog(
        np.ones(len(patterns)),
        A_ub=-np.array(patterns, dtype=float).T,
        b_ub=-np.array([lengths[one] for one in kinds], dtype=float),
    )
    return float(found.fun)


@pytest.mark.parametrize("seed", range(10))
def test_the_bound_is_that_of_gilmore_and_gomory(seed: int) -> None:
    """For bars of one length the pieces stand at most one over the bound of 1961, and ours is no weaker."""
    chance = random.Random(seed)
    kinds = chance.sample(range(310, 640), 4)
    lengths = {kind: chance.randint(6, 14) for kind in kinds}
    bar = chance.randint(1300, 1900)
    plan = cut(
        {
            "stock": [{"id": "bar", "length_mm": bar / 10, "count": 60}],
            "blanks": [{"id": str(kind), "length_mm": kind / 10, "count": many} for kind, many in lengths.items()],
        }
    )
    bound = math.ceil(gilmore_gomory(bar, lengths) - 1e-6)
    assert plan.bound_pieces >= bound
    assert bound <= len(plan.pieces) <= bound + 1
    assert plan.bound_pieces <= len(plan.pieces)


@pytest.mark.parametrize(
    ("profile", "thickness", "width"),
    [("half-round", 1.7, 3.9), ("court", 1.6, 4.4), ("triangle", 2.0, 3.0), ("d", 2, 3)],
)
def test_a_coil_weighs_what_shapely_says(profile: str, thickness: float, width: float) -> None:
    said = {"kind": "wire", "metal": "sterling", "profile": profile, "thickness_mm": thickness, "width_mm": width}
    made = figures_of(read_request(PIECE, {**said, "length_mm": 250}))
    section = section_of(Stock(profile=profile, thickness_mm=thickness, width_mm=width))
    area = Polygon(section.outline).area  # a polygon in its arcs: a little less than they hold
    assert made.mass_g == pytest.approx(area * 250 * METALS["sterling"].density_g_cm3 / 1000, rel=2e-3)


def test_a_plate_thinned_to_foil_is_the_volume_it_was() -> None:
    plan = mill(
        {
            "metal": "copper",
            "start": {"profile": "sheet", "width_mm": 20, "thickness_mm": 4, "length_mm": 31},
            "target": {"profile": "sheet", "width_mm": 20, "thickness_mm": 0.4},
        }
    )
    assert [round(one.length_mm * one.thickness_mm, 9) for one in plan.passes if one.length_mm] == [124] * len(
        plan.passes
    )


def test_a_cut_for_a_week_as_one_would_on_paper() -> None:
    """Worked by hand: 200 long, 61.4 twice and 58.8, kerf 0.22: marks 61.4, 123.02, 182.04, rest 17.74."""
    plan = cut(
        {
            "kerf_mm": 0.22,
            "stock": [{"id": "a", "length_mm": 200}],
            "blanks": [{"id": "x", "length_mm": 61.4, "count": 2}, {"id": "y", "length_mm": 58.8}],
        }
    )
    assert plan.pieces[0].marks_mm == (61.4, 123.02, 182.04)
    assert plan.pieces[0].offcut_mm == pytest.approx(17.74)


def test_three_millimetres_from_each_end_are_four_sizes() -> None:
    """Facts of the trade (common practice, no published source): thinned too far along, a shank runs sizes too long."""
    plan = thin(
        {
            "bar": {"width_mm": 4, "thickness_mm": 4},
            "middle": {"width_mm": 4, "thickness_mm": 2},
            "final_length_mm": 62,
            "end_mm": 8,
        }
    )
    assert (plan.middle_before_mm, plan.bar_length_mm, plan.growth_mm) == (23, 39, 23)
    assert plan.wide_us_sizes == pytest.approx(4, abs=0.1)


def test_scrap_for_a_band() -> None:
    """Worked by hand: 450 mm3 of sterling at 10.36, 8 % cut off, 2 % burnt: 450 x 0.01036 x 1.08 / 0.98 = 5.138 g."""
    assert needed_g(METALS["sterling"], 450) == pytest.approx(5.138, abs=5e-4)
