"""What a shop's rings teach: partial pooling, gross misses, offers, drift, a person's hand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import integrate, stats

from ringcraft.errors import BadRequest
from ringcraft.learning.answer import Learnt, learn
from ringcraft.learning.drift import BASELINE
from ringcraft.learning.hands import hand_of
from ringcraft.learning.pooling import Sums, pool, sums_of

#: The check set of the contract: what five groups of rings closed large by, the last of them without any.
CHECK = [
    [0.42, 0.35, 0.51, 0.28, 0.44, 0.39, 0.47, 0.30, 0.40],
    [0.05, -0.08, 0.11, 0.02, 2.55],
    [0.22, 0.31],
    [-0.15],
    [],
]


def misses(groups: list[list[float]], **more: Any) -> list[dict[str, Any]]:
    return [{"group": f"kind {at}", "mm": mm, **more} for at, group in enumerate(groups) for mm in group]


def learnt(groups: list[list[float]], **more: Any) -> Learnt:
    names = [f"kind {at}" for at in range(len(groups))]
    return learn({"misses": misses(groups), "groups": names, **more})


def test_the_check_set() -> None:
    """Figures of the contract, worked out there by another program."""
    found = learnt(CHECK)
    assert found.outliers == (13,)
    means = [0.376, 0.048, 0.240, -0.033, 0.152]
    bounds = [(0.258, 0.483), (-0.107, 0.220), (0.037, 0.443), (-0.330, 0.265), (-0.461, 0.731)]
    for group, mean, (low, high) in zip(found.groups, means, bounds, strict=True):
        assert group.mean_mm == pytest.approx(mean, abs=0.01)
        assert (group.low_mm, group.high_mm) == (pytest.approx(low, abs=0.01), pytest.approx(high, abs=0.01))
    assert [(group.n, group.set_aside, group.suggest) for group in found.groups] == [
        (9, 0, True), (4, 1, False), (2, 0, False), (1, 0, False), (0, 0, False)
    ]  # fmt: skip


def test_the_offer_is_said_with_its_interval_and_its_rings() -> None:
    first = learnt(CHECK).groups[0]
    assert first.offer == "cut 0.4 shorter"
    assert first.says == (
        "Kind 0 closes 0.38 round large here, 0.12 inside (9 rings, 95 % between 0.26 and 0.48): cut 0.4 shorter."
    )
    assert [group.says for group in learnt(CHECK).groups[1:]] == ["", "", "", ""]  # fewer than five say nothing


def test_a_group_alone_against_the_integral() -> None:
    """One group: the same posterior by quadrature over s and tau, with mu and b integrated by SciPy's normal law."""
    values = [0.3, 0.1, 0.5, 0.2]
    n, mean = len(values), float(np.mean(values))
    squares = float(((np.array(values) - mean) ** 2).sum())

    def weight(tau: float, s: float) -> float:
        prior = stats.invgamma.pdf(s**2, 1.5, scale=1.5 * 0.3**2) * 2 * s * stats.halfnorm.pdf(tau, scale=0.25)
        spread = np.sqrt(s**2 / n + tau**2 + 0.6**2)
        return float(prior * s ** -(n - 1) * np.exp(-squares / (2 * s**2)) * stats.norm.pdf(mean, 0, spread))

    def times_mean(tau: float, s: float) -> float:
        own, pulled = s**2 / n, tau**2 + 0.6**2
        return weight(tau, s) * mean * pulled / (pulled + own)

    edges = (0.02, 3.0, 0.0, 1.2)
    whole = integrate.dblquad(weight, *edges, epsabs=1e-9)[0]
    expected = integrate.dblquad(times_mean, *edges, epsabs=1e-9)[0] / whole
    assert pool([sums_of(values)]).groups[0].mean == pytest.approx(expected, abs=2e-3)


def draws(seed: int, count: int, scatter: float | None = None, mean: float | None = None) -> Any:
    """Shops drawn from the priors: what their groups are really off, and the sums of their rings."""
    rng = np.random.default_rng(seed)
    for _ in range(count):
        s = scatter or float(np.sqrt(3 * 0.3**2 / rng.chisquare(3)))
        tau, mu = abs(rng.normal(0, 0.25)), rng.normal(0, 0.6) if mean is None else mean
        truths = [rng.normal(mu, tau) for _ in range(rng.integers(1, 7))]
        counts = [int(rng.integers(1, 101)) for _ in truths]
        yield truths, [sums_of(list(rng.normal(b, s, n))) for b, n in zip(truths, counts, strict=True)]


def covered(cases: Any, counts: Any = lambda n: True) -> float:
    """How many of the true biases lie within the 95 %."""
    held = [
        0.025 <= own.below(truth) <= 0.975
        for truths, sums in cases
        for truth, one, own in zip(truths, sums, pool(sums).groups, strict=True)
        if counts(one.n)
    ]
    return sum(held) / len(held)


def test_the_intervals_hold_what_they_promise() -> None:
    assert covered(draws(1, 2000)) >= 0.93
    assert covered(draws(2, 400, scatter=0.3)) >= 0.90
    wild = list(draws(3, 400, scatter=0.6, mean=1.0))
    assert covered(wild, lambda n: n < 10) >= 0.75
    assert covered(wild, lambda n: n >= 30) >= 0.88


@pytest.mark.parametrize("truth", [0.0, 0.09])
def test_what_is_not_there_is_hardly_ever_offered(truth: float) -> None:
    """At most one look in a hundred, and one group in twelve over its first sixty rings."""
    rng, looks, offers, groups = np.random.default_rng(7), 0, 0, 0
    for _ in range(150):
        values, hit = rng.normal(truth, 0.25, 60), False
        for n in range(5, 61, 2):
            own = pool([sums_of(list(values[:n]))]).groups[0]
            looks += 1
            if own.further(0, 0.1) >= 0.99 and not own.below(0) < 0.975 > 1 - own.below(0):
                offers, hit = offers + 1, True
        groups += hit
    assert offers / looks <= 0.01
    assert groups / 150 <= 1 / 12


def test_a_group_with_few_rings_leans_on_the_others_and_one_with_many_does_not() -> None:
    sure = Sums(40, 0.5, 40 * 0.04)
    few, many = pool([sure, sure, Sums(2, 0.0, 0.02)]), pool([sure, sure, Sums(80, 0.0, 3.2)])
    assert few.groups[2].mean > 0.05
    assert abs(many.groups[2].mean) < 0.02
    assert many.groups[2].sd < few.groups[2].sd


def test_an_accepted_correction_is_not_offered_again_and_a_wrong_one_is_changed_or_taken_back() -> None:
    half = [0.4 + 0.1 * (-1) ** at for at in range(12)]
    fresh = learnt([half]).groups[0]
    assert fresh.suggest
    assert fresh.offer_mm == pytest.approx(0.39, abs=0.015)
    held = learnt([half], in_force={"kind 0": fresh.offer_mm}).groups[0]
    assert not held.suggest
    assert held.says.endswith("in force has it.")
    changed = learnt([half], in_force={"kind 0": 0.9}).groups[0]
    assert (changed.suggest, changed.offer) == (True, "cut 0.5 longer than now")
    true = learnt([[0.03 * (-1) ** at for at in range(14)]], in_force={"kind 0": 0.5}).groups[0]
    assert (true.suggest, true.offer, true.offer_mm) == (True, "take the correction of 0.50 back", 0.0)


def test_four_rings_say_nothing_however_sure_they_are() -> None:
    four, five = learnt([[0.9, 0.91, 0.89, 0.9]]).groups[0], learnt([[0.9, 0.91, 0.89, 0.9, 0.9]]).groups[0]
    assert four.low_mm > 0.5
    assert (four.suggest, four.says, four.lead) == (False, "", "4 rings.")
    assert five.suggest


def test_a_gross_miss_is_set_aside_by_its_group_or_by_all() -> None:
    assert learnt([[0.1, 0.2, 0.1, 0.15, -4.8]]).outliers == (4,)
    assert learnt([[0.1, 0.2, 0.1, 0.15, 0.12, 0.2], [6.0]]).outliers == (6,)  # too few of its own: against all
    spread = [0.0, 1.0, -1.0, 0.5, -0.5, 1.8, 2.4]  # a wild hand has no gross misses within its own scatter
    assert learnt([spread]).outliers == ()


def stream(shift: float, n: int, seed: int, at: int = 40) -> list[dict[str, Any]]:
    rng = np.random.default_rng(seed)
    return [
        {
            "group": f"kind {place % 2}",
            "mm": float(rng.normal(0.2 * (place % 2), 0.2) + (shift if place >= at else 0)),
            "at": f"2031-{1 + place // 28:02d}-{1 + place % 28:02d}",
            "gauge": "the long mandrel",
        }
        for place in range(n)
    ]


def test_a_gauge_that_drifts_is_found_in_about_ten_rings() -> None:
    took = []
    for seed in range(40):
        rows = stream(0.2, 90, seed)  # one sigma
        found = next((n for n in range(41, 91) if learn({"misses": rows[:n]}).drift), 90)
        took.append(found - 40)
    assert np.median(took) <= 14
    told = learn({"misses": stream(0.4, 60, 3)}).drift[0]
    assert (told.gauge, told.group) == ("the long mandrel", "")
    assert told.mm == pytest.approx(0.4, abs=0.15)
    assert told.says.startswith("Since ")
    assert "everything on the long mandrel reads" in told.says
    assert told.says.endswith("round larger than before: calibrate it.")
    assert abs(int(told.since[8:]) + 28 * (int(told.since[5:7]) - 1) - 41) <= 6


def test_a_bench_that_stays_as_it_is_hardly_ever_drifts() -> None:
    false = [bool(learn({"misses": stream(0.0, 80, seed)}).drift) for seed in range(60)]
    assert sum(false) <= 9
    assert not learn({"misses": stream(0.5, BASELINE, 1, at=0)}).drift


def test_a_gauge_calibrated_anew_begins_anew() -> None:
    rows = stream(0.5, 70, 5)
    anew = [{**row, "calibrated": "2" if at >= 40 else "1"} for at, row in enumerate(rows)]
    assert learn({"misses": rows}).drift
    assert not [one for one in learn({"misses": anew}).drift if one.gauge]


@pytest.mark.parametrize(
    ("data", "field"),
    [
        ({}, "misses"),
        ({"misses": "none"}, "misses"),
        ({"misses": [{"group": "", "mm": 0.1}]}, "misses.0.group"),
        ({"misses": [{"group": "a", "mm": "much"}]}, "misses.0.mm"),
        ({"misses": [{"group": "a", "mm": 1e9}]}, "misses.0.mm"),
        ({"misses": [{"group": "a", "mm": 0.1, "at": "yesterday"}]}, "misses.0.at"),
        ({"misses": [{"group": "a" * 90, "mm": 0.1}]}, "misses.0.group"),
        ({"misses": [{"group": "a", "mm": 0.1}] * 20_001}, "misses"),
    ],
)
def test_what_cannot_be_read_is_refused_at_its_field(data: Any, field: str) -> None:
    with pytest.raises(BadRequest) as refused:
        learn(data)
    assert refused.value.errors[0].field == field


def test_nothing_teaches_nothing() -> None:
    found = learn({"misses": [], "groups": ["half-round silver"]})
    assert found.groups[0].n == 0
    assert (found.groups[0].says, found.outliers, found.drift) == ("", (), ())


def test_a_hand_is_shrunk_and_offered_from_twenty_cuts_on() -> None:
    assert hand_of([], 0.15).sd_mm == pytest.approx(0.15)
    steady = hand_of([0.05] * 20, 0.15)
    assert steady.sd_mm == pytest.approx(((10 * 0.15**2 + 20 * 0.05**2) / 30) ** 0.5)
    assert steady.suggest
    assert not hand_of([0.05] * 19, 0.15).suggest
    assert not hand_of([0.05] * 20, steady.sd_mm).suggest
