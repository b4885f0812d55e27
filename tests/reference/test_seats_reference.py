"""What comes to a stone's seat, by a dense solver of its own: no folding, no banded system, a plain Newton iteration.

Only the bands are the program's; the equation is the fin equation of any handbook of heat transfer with radiation, the
constant CODATA 2018.
"""

from __future__ import annotations

import math
import random

import numpy as np
import pytest

from ringcraft.heat.bands import BANDS, CASES, conductivity_of, draws, spread_over
from ringcraft.metals import METALS
from ringcraft.resize.seats import place_in_heat, stock_key
from ringcraft.sections import Stock, section_of

SIGMA, KELVIN, AIR = 5.670374419e-8, 273.15, 25.0
CELLS = 96


def dense_high(metal: str, width: float, thick: float, inside: float, flow: float, away_mm: float) -> float:
    """The 95th of what a place comes to, `away_mm` from a joint that is held at flow, dry [C]."""
    area, around = width * thick, 2 * (width + thick)
    long = math.pi * (inside + thick)
    where = (np.arange(CELLS) * long / CELLS + long / 2) % long - long / 2
    cell = long / CELLS * 1e-3
    link = np.roll(np.eye(CELLS), 1, axis=1)
    lap = link + link.T - 2 * np.eye(CELLS)
    out = []
    airs = spread_over("h_air_w_m2k", BANDS["h_air_w_m2k"])
    glows = spread_over("emissivity", BANDS["emissivity"])
    flames = spread_over("flame_width_mm", BANDS["flame_width_mm"])
    carries = conductivity_of(METALS[metal])
    assert set(BANDS) <= set(draws())
    for h, eps, wide, k in zip(airs, glows, flames, carries, strict=True):
        flame = np.exp(-0.5 * (where / wide) ** 2)
        flame /= flame.sum()
        conducts = k * area * 1e-6 / cell * lap
        skin = around * 1e-3 * cell
        t, power = np.full(CELLS, 400.0), 10.0
        for _ in range(60):
            glow = eps * SIGMA * ((t + KELVIN) ** 4 - (AIR + KELVIN) ** 4) * skin
            rest = conducts @ t - h * skin * (t - AIR) - glow + power * flame
            jac = np.zeros((CELLS + 1, CELLS + 1))
            jac[:CELLS, :CELLS] = conducts - np.diag(h * skin + 4 * eps * SIGMA * (t + KELVIN) ** 3 * skin)
            jac[:CELLS, CELLS] = flame
            jac[CELLS, 0] = 1.0
            step = np.linalg.solve(jac, -np.append(rest, t[0] - flow))
            t, power = t + step[:CELLS], power + step[CELLS]
            if np.abs(step[:CELLS]).max() < 1e-4:
                break
        place = away_mm / long * CELLS
        low = int(place)
        out.append((1 - place + low) * t[low % CELLS] + (place - low) * t[(low + 1) % CELLS])
    assert len(out) == CASES
    return float(np.percentile(out, 95))


def test_what_comes_to_a_seat_is_what_a_dense_solver_says() -> None:
    pick = random.Random(3)
    metals = ["sterling", "gold-14k-yellow", "platinum-950", "gold-18k-white-nickel", "bronze"]
    for n in range(10):
        metal = metals[n % len(metals)]
        wide, thick = pick.uniform(1.6, 5.0), pick.uniform(1.0, 2.2)
        inside, flow = pick.uniform(15.0, 21.0), min(METALS[metal].solidus_c - 40, pick.uniform(650, 1500))
        away = pick.uniform(0.2, math.pi * (inside + thick) / 2 - 0.2)
        section = section_of(Stock(profile="rectangle", width_mm=wide, thickness_mm=thick))
        ours = place_in_heat(metal, stock_key(section), inside, flow, away).high_c
        assert ours == pytest.approx(dense_high(metal, wide, thick, inside, flow, away), abs=1.0), (metal, away)


def test_a_seat_is_hotter_the_nearer_it_is_and_never_above_the_joint() -> None:
    section = stock_key(section_of(Stock(profile="half-round", width_mm=3.4, thickness_mm=1.5)))
    for metal in ("sterling", "gold-14k-yellow", "platinum-950"):
        flow = METALS[metal].solidus_c - 60
        there = [place_in_heat(metal, section, 17.3, flow, mm).high_c for mm in (0.0, 1.0, 4.0, 9.0, 16.0, 27.0)]
        assert there == sorted(there, reverse=True)
        assert there[0] == pytest.approx(flow, abs=0.5)
