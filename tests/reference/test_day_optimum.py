"""The search against a constraint solver (OR-tools' CP-SAT, a library of its own): twenty days of our own making.

The optima are kept; ``make test-all`` proves them again.
"""

import json
from pathlib import Path
from typing import Any

import pytest

from ringcraft.day.answer import day
from ringcraft.schema import to_json
from tests.day_oracle import day_of, solve
from tests.ringcraft.daywork import Checked
from tests.slices import SLICE

KEPT = Path(__file__).parent.parent / "kept" / "day-optima.json"
OPTIMA: dict[str, dict[str, Any]] = json.loads(KEPT.read_text())
PRESSED_MIN, PRESSED_DAYS = 60, 12
SECONDS = 60


def test_they_are_twenty_and_most_of_them_press() -> None:
    assert len(OPTIMA) == 20
    assert all(one["proven"] and one["bound"] == one["objective"] for one in OPTIMA.values())
    assert sum(one["late"] >= PRESSED_MIN for one in OPTIMA.values()) >= PRESSED_DAYS
    for seed in OPTIMA:
        jobs = day_of(int(seed))["jobs"]
        assert len(jobs) == 5
        assert all(6 <= len(job["steps"]) <= 8 for job in jobs)


@pytest.mark.parametrize("seed", OPTIMA)
def test_the_search_comes_near_the_best_and_never_under_it(seed: str) -> None:
    asked, best = day_of(int(seed)), OPTIMA[seed]
    out = to_json(day(asked))
    assert not Checked(asked, out).wrong
    assert out["weighted_late_min"] <= max(best["late"] + 30, 2.5 * best["late"])
    objective = 1000 * out["weighted_late_min"] + 60 * len(out["sessions"]) + out["last_end_min"]
    assert objective >= best["bound"] - 1e-6


@pytest.mark.skipif(SLICE is not None, reason="a minute each: make test-all")
@pytest.mark.parametrize("seed", OPTIMA)
def test_the_optima_are_what_the_solver_proves(seed: str) -> None:
    proven = solve(day_of(int(seed)), SECONDS)
    assert proven["objective"] == OPTIMA[seed]["objective"] or not proven["proven"]
    assert proven["bound"] <= OPTIMA[seed]["objective"]
