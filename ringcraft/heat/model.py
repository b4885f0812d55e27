"""Heat along a closed ring: periodic finite volumes on its neutral line, worked for many cases at once.

Equation: rho c A dT/dt = (k A T')' - h per (T - Ta) - eps sigma per (T^4 - Ta^4) + q(s), s along the neutral line.
Every cell holds its own h; a cell that lies across the water line holds the share of both. Time steps are implicit.
All cases stand in one banded system: the ring is folded at its joint, so that neighbours lie at most two rows apart.

Source of the equation: any handbook of heat transfer, the fin equation with radiation; the constant is CODATA 2018.
Checked against the closed form of a ring with a point source and against an independent scheme in the tests.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_solve_banded, cholesky_banded, solveh_banded

SIGMA_W_M2K4 = 5.670374419e-8  # Stefan-Boltzmann, CODATA 2018
KELVIN = 273.15
CLOSE_K = 0.02  # between two rounds of Newton's method
MOST_ROUNDS = 25
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Ring:
    """What is heated, case by case: conductivity [W/(m K)], heat [J/(m3 K)] and emissivity [-] of each case.

    ``length_m``, ``area_m2``, ``perimeter_m`` are of the section on its neutral line; ``h`` [W/(m2 K)] stands by case
    and cell, ``flame`` is each case's share of the flame by cell, ``sink`` [W/K] what is carried off beside air.
    """

    length_m: float
    area_m2: float
    perimeter_m: float
    conductivity: Array
    heat: Array
    emissivity: Array
    h: Array
    flame: Array
    sink: Array
    air_c: float

    @property
    def cells(self) -> int:
        """How many cells it has."""
        return int(self.h.shape[1])

    @property
    def dx_m(self) -> float:
        """The length of a cell [m]."""
        return self.length_m / self.cells

    def with_cases(self, every: int) -> Ring:
        """Every so many of its cases."""
        part = slice(None, None, every)
        return Ring(
            self.length_m, self.area_m2, self.perimeter_m, self.conductivity[part], self.heat[part],
            self.emissivity[part], self.h[part], self.flame[part], self.sink[part], self.air_c,
        )  # fmt: skip


@dataclass(frozen=True)
class Fold:
    """Where each cell stands once the ring is folded, and the pairs of neighbours by how far apart they stand."""

    place: NDArray[np.intp]
    order: NDArray[np.intp]
    ones: NDArray[np.intp]
    twos: NDArray[np.intp]


@cache
def fold(cells: int) -> Fold:
    """A ring of so many cells folded at its joint: 0, 1, n-1, 2, n-2, ... neighbours lie one or two rows apart."""
    order = [0]
    for i in range(1, cells // 2 + 1):
        order += [i] if 2 * i == cells else [i, cells - i]
    order = order[:cells]
    place = np.empty(cells, np.intp)
    place[order] = np.arange(cells)
    ones: list[int] = []
    twos: list[int] = []
    for i in range(cells):
        low, high = sorted((int(place[i]), int(place[(i + 1) % cells])))
        (ones if high - low == 1 else twos).append(high)
    return Fold(place, np.array(order, np.intp), np.array(ones, np.intp), np.array(twos, np.intp))


def _banded(ring: Ring, carried: Array) -> Array:
    """The system of all cases in upper banded form: ``carried`` [W/K] is what each cell loses beside conduction."""
    cases, cells = ring.h.shape
    folded = fold(cells)
    link = ring.conductivity * ring.area_m2 / ring.dx_m
    bands = np.zeros((3, cases, cells))
    bands[2] = (2 * link[:, None] + carried)[:, folded.order]
    bands[1][:, folded.ones] = -link[:, None]
    bands[0][:, folded.twos] = -link[:, None]
    return bands.reshape(3, cases * cells)


def _solved(bands: Array, *sides: Array) -> list[Array]:
    """The system with each right side, by case and cell."""
    cases, cells = sides[0].shape
    folded = fold(cells)
    right = np.stack([side[:, folded.order].ravel() for side in sides], axis=1)
    out = solveh_banded(bands, right, overwrite_ab=True, overwrite_b=True, check_finite=False)
    return [out[:, n].reshape(cases, cells)[:, folded.place] for n in range(len(sides))]


@dataclass(frozen=True)
class Steady:
    """A steady state by case: temperature [C] of each cell, power [W] of the flame."""

    temperature: Array
    power: Array


#: How strong the flame is, from the state without it and the rise that a watt gives, by case and cell.
Power = Callable[[Array, Array], Array]


def steady(ring: Ring, power: Power) -> Steady:
    """The steady state under a flame whose power is chosen so that ``power`` holds; Newton's method on radiation."""
    surface = ring.perimeter_m * ring.dx_m
    air_k = ring.air_c + KELVIN
    now = np.full(ring.h.shape, ring.air_c + 400.0)
    watts = np.zeros(len(ring.h))
    for _ in range(MOST_ROUNDS):
        kelvin = now + KELVIN
        slope = 4 * ring.emissivity[:, None] * SIGMA_W_M2K4 * kelvin**3
        lost = ring.emissivity[:, None] * SIGMA_W_M2K4 * (kelvin**4 - air_k**4) - slope * now
        carried = (ring.h + slope) * surface + ring.sink
        base = (ring.h * surface + ring.sink) * ring.air_c - lost * surface
        without, gives = _solved(_banded(ring, carried), base, ring.flame)
        watts = power(without, gives)
        after = np.maximum(without + watts[:, None] * gives, ring.air_c)
        moved = float(np.abs(after - now).max())
        now = after
        if moved < CLOSE_K:
            break
    return Steady(now, watts)


def lost_w(ring: Ring, temperature: Array) -> Array:
    """What goes off to air, water, tweezers and by radiation [W], by case."""
    surface, air_k = ring.perimeter_m * ring.dx_m, ring.air_c + KELVIN
    convected = (ring.h * surface + ring.sink) * (temperature - ring.air_c)
    radiated = ring.emissivity[:, None] * SIGMA_W_M2K4 * ((temperature + KELVIN) ** 4 - air_k**4) * surface
    total: Array = (convected + radiated).sum(axis=1)
    return total


def stored_j(ring: Ring, temperature: Array) -> Array:
    """The heat in the ring over that of the air [J], by case."""
    cell = ring.area_m2 * ring.dx_m
    total: Array = ring.heat * cell * (temperature - ring.air_c).sum(axis=1)
    return total


def at(temperature: Array, cell: float) -> Array:
    """The temperature at a place, in cells from the joint, between two of them by a straight line."""
    cells = temperature.shape[1]
    place = cell % cells
    low = int(place) % cells
    share = place - int(place)
    out: Array = (1 - share) * temperature[:, low] + share * temperature[:, (low + 1) % cells]
    return out


@dataclass(frozen=True)
class Flash:
    """A heating up to the flash and what comes after it, by case.

    ``flash_c`` and ``peak_c`` are the temperatures [C] at the watched cells when the flame is taken off and at their
    hottest after it, ``seconds`` how long the heating took, ``later_s`` how long after it the peak came.
    """

    flash_c: Array
    peak_c: Array
    seconds: Array
    later_s: Array


def flash(ring: Ring, power: Array, step_s: Array, flow_c: float, watched: list[float], steps: int = 110) -> Flash:
    """Heat from cold by ``power`` [W] until the joint reaches ``flow_c``, then watch without the flame.

    Implicit Euler by ``step_s`` [s] of each case; what is radiated is that of the step before.
    """
    cases, _ = ring.h.shape
    surface, air_k = ring.perimeter_m * ring.dx_m, ring.air_c + KELVIN
    inertia = ring.heat * ring.area_m2 * ring.dx_m / step_s
    carried = ring.h * surface + ring.sink
    factor = cholesky_banded(_banded(ring, carried + inertia[:, None]), check_finite=False)
    folded = fold(ring.cells)
    now = np.full(ring.h.shape, ring.air_c)
    on = np.ones(cases, bool)
    seen = np.full((cases, len(watched)), ring.air_c)
    at_flash, peak = seen.copy(), seen.copy()
    seconds, later = np.zeros(cases), np.zeros((cases, len(watched)))
    for step in range(steps):
        radiated = ring.emissivity[:, None] * SIGMA_W_M2K4 * ((now + KELVIN) ** 4 - air_k**4) * surface
        right = inertia[:, None] * now + carried * ring.air_c - radiated
        right += np.where(on, power, 0.0)[:, None] * ring.flame
        done: Any = cho_solve_banded((factor, False), right[:, folded.order].ravel(), check_finite=False)
        after = done.reshape(ring.h.shape)[:, folded.place]
        reading = np.stack([at(after, cell) for cell in watched], axis=1)
        crossed = on & (after[:, 0] >= flow_c)
        share = np.clip((flow_c - now[:, 0]) / np.maximum(after[:, 0] - now[:, 0], 1e-9), 0.0, 1.0)
        where = seen + share[:, None] * (reading - seen)
        at_flash = np.where(crossed[:, None], where, at_flash)
        seconds = np.where(crossed, (step + share) * step_s, seconds)
        peak = np.where(crossed[:, None], where, peak)
        on &= ~crossed
        higher = ~on[:, None] & (reading > peak)
        later = np.where(higher, (step + 1) * step_s[:, None] - seconds[:, None], later)
        peak = np.where(higher, reading, peak)
        seen, now = reading, after
    never = on[:, None]
    return Flash(np.where(never, seen, at_flash), np.where(never, seen, peak), seconds, np.where(never, 0.0, later))
