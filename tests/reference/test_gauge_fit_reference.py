"""The robust line against scipy's, and against a textbook's breakdown point."""

import random

import pytest
from scipy import stats

from ringcraft.measure.gauges import least_squares, repeated_medians


@pytest.mark.parametrize("seed", range(20))
def test_repeated_medians_against_scipys_siegelslopes(seed: int) -> None:
    # Siegel, "Robust regression using repeated medians", Biometrika 69 (1982); scipy.stats.siegelslopes
    dice = random.Random(seed)
    points = [(x := 14 + i * 0.9 + dice.random() / 4, 0.1 + 1.01 * x + dice.gauss(0, 0.05)) for i in range(8)]
    points[dice.randrange(8)] = (17.05, 19.0)
    slope, intercept = repeated_medians(points)
    theirs = stats.siegelslopes([y for _, y in points], [x for x, _ in points], method="separate")
    assert slope == pytest.approx(theirs.slope)
    middle = sorted(y - slope * x for x, y in points)
    assert intercept == pytest.approx((middle[3] + middle[4]) / 2)


@pytest.mark.parametrize("seed", range(5))
def test_least_squares_against_scipys_linregress(seed: int) -> None:
    dice = random.Random(seed)
    points = [(float(x), 2 * x + dice.gauss(0, 1)) for x in range(10)]
    theirs = stats.linregress([x for x, _ in points], [y for _, y in points])
    assert least_squares(points) == (pytest.approx(theirs.slope), pytest.approx(theirs.intercept))


def test_fewer_than_half_wrong_marks_pull_nothing() -> None:
    # the breakdown point of repeated medians is one half (Siegel 1982)
    points = [(float(x), 1.0 + 2 * x) for x in range(9)]
    for i in (0, 3, 7):
        points[i] = (points[i][0], 100.0 + i)
    assert repeated_medians(points) == (pytest.approx(2), pytest.approx(1))
