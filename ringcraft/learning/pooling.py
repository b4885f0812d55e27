"""Partial pooling: what each group of rings closes large by, a group with few leaning on the others.

z ~ N(b_g, s^2), b_g ~ N(mu, tau^2), mu ~ N(0, 0.6^2), tau half-normal 0.25, s^2 scaled-inverse-chi2(3, 0.30^2);
all in mm round. On a grid of (log s, tau) everything else has a closed form, so the answer is the same every time.
The model is the usual one of a normal hierarchy (Gelman and others, Bayesian Data Analysis, 3rd edition, 5.4); its
priors are our own judgement of what a bench does.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

Floats = NDArray[np.float64]
MU_SD_MM, TAU_SD_MM = 0.6, 0.25  # how far a whole shop, and a group from its shop, may be off
S_NU, S_SCALE_MM = 3.0, 0.30  # what the scatter of one ring is thought to be before any is known
_SIGMAS = np.geomspace(0.02, 3.0, 80)
_TAUS = np.linspace(0.0, 1.2, 49)
_STEPS = 46  # of bisection: a quantile to a millionth of a mm


@dataclass(frozen=True)
class Sums:
    """Rings of a group: how many, their mean and the sum of squares about it [mm, mm2]."""

    n: int
    mean: float
    squares: float


def sums_of(values: Sequence[float]) -> Sums:
    """Some rings added up."""
    if not values:
        return Sums(0, 0.0, 0.0)
    got = np.asarray(values, dtype=np.float64)
    return Sums(len(values), float(got.mean()), float(((got - got.mean()) ** 2).sum()))


@dataclass(frozen=True)
class Mixture:
    """What is known of one group's bias [mm round]: normal curves, each with its weight."""

    weights: Floats
    means: Floats
    sds: Floats

    @cached_property
    def mean(self) -> float:
        """The mean [mm]."""
        return float((self.weights * self.means).sum())

    @cached_property
    def sd(self) -> float:
        """The standard deviation [mm]."""
        return float(np.sqrt((self.weights * (self.sds**2 + (self.means - self.mean) ** 2)).sum()))

    def below(self, mm: float) -> float:
        """How likely it is to be less than this [-]."""
        return float((self.weights * ndtr((mm - self.means) / self.sds)).sum())

    def quantile(self, share: float) -> float:
        """Below which [mm] it lies with this share of certainty."""
        reach = float(ndtri(share)) * self.sds + self.means
        low, high = float(reach.min()) - 1e-9, float(reach.max()) + 1e-9
        for _ in range(_STEPS):
            middle = (low + high) / 2
            low, high = (middle, high) if self.below(middle) < share else (low, middle)
        return (low + high) / 2

    def further(self, mm: float, than_mm: float) -> float:
        """How likely it is further than ``than_mm`` from ``mm`` on either side [-]."""
        return self.below(mm - than_mm) + 1 - self.below(mm + than_mm)


@dataclass(frozen=True)
class Pooled:
    """What is known of every group, and the scatter of one ring round its group's bias [mm]."""

    groups: tuple[Mixture, ...]
    scatter_mm: float


def pool(groups: Sequence[Sums]) -> Pooled:
    """What some groups of rings teach; one without rings leans on the others alone."""
    s, tau = (grid.ravel() for grid in np.meshgrid(_SIGMAS, _TAUS, indexing="ij"))
    log = _log_prior(s, tau)
    filled = [one for one in groups if one.n]
    count = sum(one.n for one in filled)
    within = sum(one.squares for one in filled)
    log -= (count - len(filled)) * np.log(s) + within / (2 * s**2)
    precision, pulled, squared = np.full_like(s, 1 / MU_SD_MM**2), np.zeros_like(s), np.zeros_like(s)
    for one in filled:
        spread = s**2 / one.n + tau**2
        log -= 0.5 * np.log(spread)
        precision, pulled, squared = (
            precision + 1 / spread, pulled + one.mean / spread, squared + one.mean**2 / spread
        )  # fmt: skip
    mu, mu_var = pulled / precision, 1 / precision
    log += -0.5 * np.log(precision) - 0.5 * (squared - pulled**2 / precision)
    weights = np.exp(log - log.max())
    weights /= weights.sum()
    return Pooled(tuple(_mixture(one, s, tau, mu, mu_var, weights) for one in groups), float((weights * s).sum()))


def _log_prior(s: Floats, tau: Floats) -> Floats:
    """Of log s and tau on the grid; the half steps at tau's ends are those of the trapezium."""
    ends = np.where((tau == _TAUS[0]) | (tau == _TAUS[-1]), np.log(0.5), 0.0)
    of_s = -S_NU * np.log(s) - S_NU * S_SCALE_MM**2 / (2 * s**2)
    return np.asarray(of_s - 0.5 * (tau / TAU_SD_MM) ** 2 + ends, dtype=np.float64)


def _mixture(one: Sums, s: Floats, tau: Floats, mu: Floats, mu_var: Floats, weights: Floats) -> Mixture:
    """One group's bias: its own rings against what the shop does, as far as each is worth."""
    if not one.n:
        return _kept(weights, mu, np.sqrt(mu_var + tau**2))
    own = s**2 / one.n
    lean = own / (own + tau**2)  # on the shop: all of it where groups do not differ
    means = (1 - lean) * one.mean + lean * mu
    return _kept(weights, means, np.sqrt((1 - lean) * own + lean**2 * mu_var))


def _kept(weights: Floats, means: Floats, sds: Floats) -> Mixture:
    """Without the corners of the grid that weigh nothing: some hundreds of curves are left of thousands."""
    heavy = weights > weights.max() * 1e-7
    return Mixture(weights[heavy] / weights[heavy].sum(), means[heavy], np.maximum(sds[heavy], 1e-9))
