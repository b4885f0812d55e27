"""The ring as it is held, worked out: where water and joint stand, what the flame must give, what else gets hot."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ringcraft.errors import OutOfRangeError
from ringcraft.heat.asking import Assume, HeatRequest
from ringcraft.heat.bands import BANDS, CASES, conductivity_of, heat_of, spread_over
from ringcraft.heat.model import Flash, Ring, Steady, at, flash, steady, stored_j
from ringcraft.metals import ALL_METALS, BARRED, Metal
from ringcraft.planning.context import check_inside
from ringcraft.sections import Section, section_of
from ringcraft.units import capital

CELLS, COARSE, EVERY = 96, 48, 4  # of the steady state and of the heating up, which takes every fourth case
AIR_C = 25.0
NO_POWER_W = 1e-9  # a flame that gives nothing, and can be divided by

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Held:
    """A ring as it is held. Lengths [mm] along its neutral line, angles [rad]; ``legs`` left and right of the joint.

    ``wet`` is the angle that water reaches up to on each side, from straight below; nought when it is held dry.
    """

    order: HeatRequest
    section: Section
    metal: Metal
    radius_mm: float
    wet: float
    legs_mm: tuple[float, float] | None

    @property
    def round_mm(self) -> float:
        """Once round on the neutral line [mm]."""
        return 2 * math.pi * self.radius_mm

    @property
    def roll(self) -> float:
        """How far the joint is turned to the right [rad]."""
        return math.radians(self.order.roll_deg)

    @property
    def assume(self) -> Assume:
        """What is assumed in place of the bands."""
        return self.order.assume or Assume()

    @property
    def area_mm2(self) -> float:
        """The section that is heated [mm2]: the ring's own and what is heated with it, spread round."""
        return self.section.area_mm2 + self.order.with_it_mm3 / self.round_mm

    @property
    def perimeter_mm(self) -> float:
        """Once round that section [mm]: of the same shape, grown as its area."""
        return self.section.perimeter_mm * math.sqrt(self.area_mm2 / self.section.area_mm2)

    @property
    def mass_g(self) -> float:
        """All that is heated [g]."""
        return self.metal.mass_g(self.area_mm2 * self.round_mm)

    @property
    def stone_mm(self) -> float:
        """Where the stone sits, from the joint: opposite it where nobody said."""
        place = self.order.stone_at_mm
        return self.round_mm / 2 if place is None else place

    @property
    def conducts(self) -> bool:
        """Whether heat runs along this metal so fast that all of it must come up together."""
        return self.metal.conducts

    @property
    def is_stroked(self) -> bool:
        """Whether the flame goes over all of it first: held dry, of a metal that conducts, no stone on it."""
        sharp = self.assume.flame_width_mm is not None
        return self.conducts and self.legs_mm is None and self.order.stone is None and not sharp

    def is_wet(self, at_mm: float) -> bool:
        """Whether a place on the ring lies under water, or in the paste."""
        return self.legs_mm is not None and self.from_below(at_mm) < self.wet

    def from_below(self, at_mm: float) -> float:
        """How far round from straight below a place is [rad]."""
        turn = self.roll + at_mm / self.radius_mm
        return abs((math.pi - turn + math.pi) % (2 * math.pi) - math.pi)


def held(order: HeatRequest) -> Held:
    """The ring as it is held; raises CraftError where its joint, or a seam of an insert, is under water."""
    section = section_of(order.ring.stock, "ring.stock")
    check_inside(section, order.ring.inside_diameter_mm, "ring.stock")
    inside, radius = order.ring.inside_diameter_mm, order.ring.inside_diameter_mm / 2 + section.neutral_mm
    metal = order.own.metal(ALL_METALS[order.metal])
    if order.metal in BARRED:
        said = f"{capital(metal.title)} sees no jeweler's torch: {BARRED[order.metal]}."
        raise OutOfRangeError("metal", said, "It is not soldered.")
    if metal.is_known and order.flow_c >= metal.solidus_c:
        said = f"At {order.flow_c:.0f} °C {metal.title} itself melts: it begins at {metal.solidus_c:.0f}."
        raise OutOfRangeError("flow_c", said, "Read the solder’s flow off its maker’s sheet.")
    share = order.water_share or 0.0
    if not share:
        return Held(order, section, metal, radius, 0.0, None)
    wet = math.acos(min(1.0, max(-1.0, inside / 2 * (1 - 2 * share) / radius)))
    middle = radius * (math.pi - wet) - order.insert_mm / 2
    turned = radius * math.radians(order.roll_deg)
    legs = (middle + turned, middle - turned)
    if min(legs) <= 0:
        side = "right" if turned >= 0 else "left"
        raise OutOfRangeError(
            "roll_deg",
            f"Rolled so far the {side} seam is under water."
            if order.insert_mm
            else "Rolled so far it is under water.",
            f"Up to {math.degrees(max(0.0, middle) / radius):.0f} degrees at this depth.",
        )
    return Held(order, section, metal, radius, wet, legs)


def _values(held: Held, name: str, band: str) -> Array:
    """A figure in all cases: as assumed, or spread over its band."""
    assumed = getattr(held.assume, name)
    return np.full(CASES, assumed) if assumed is not None else spread_over(band, BANDS[band])


def ring_of(
    held: Held, metal: Metal, bath: str = "", tweezers: bool = True, cells: int = CELLS, every: int = 1
) -> Ring:
    """The ring as the model takes it: of a metal, dry or in a bath, with its tweezers or without.

    The flame is a bell over the joint; where all of the ring is heated first, a share of it goes evenly over all.
    """
    length = held.round_mm
    where = np.arange(cells) * length / cells
    where = np.where(where > length / 2, where - length, where)
    assume = held.assume
    air, sharp = _values(held, "h_air", "h_air_w_m2k"), _values(held, "flame_width_mm", "flame_width_mm")
    h = np.repeat(air[:, None], cells, axis=1)
    if bath and held.legs_mm is not None:
        name = "h_water_w_m2k" if bath == "water" else "shield_w_m2k"
        liquid = _values(held, "h_water", name) if bath == "water" else spread_over(name, BANDS[name])
        share = _wetted(held, where, length / cells)
        h = h * (1 - share) + liquid[:, None] * share
    narrow = np.maximum(sharp, 1e-9)[:, None]
    flame = np.exp(-0.5 * (where[None, :] / narrow) ** 2)
    flame /= flame.sum(axis=1, keepdims=True)
    if replace(held, metal=metal).is_stroked:
        even = spread_over("stroked", BANDS["stroked"])[:, None]
        flame = (1 - even) * flame + even / cells
    sink = np.zeros_like(h)
    if tweezers and held.order.tweezers_mm is not None:
        sink[:, round(held.order.tweezers_mm / length * cells) % cells] = spread_over(
            "tweezers_w_k", BANDS["tweezers_w_k"]
        )
    conducts = np.full(CASES, assume.conductivity) if assume.conductivity else conductivity_of(metal)
    heat = heat_of(metal)
    if assume.density or assume.specific_heat:
        density = assume.density or metal.density_g_cm3 * 1000
        each = spread_over("heat_j_gk", metal.heat_j_gk) * 1000
        heat = density * (np.full(CASES, assume.specific_heat) if assume.specific_heat else each)
    return Ring(
        length_m=length * 1e-3,
        area_m2=held.area_mm2 * 1e-6,
        perimeter_m=held.perimeter_mm * 1e-3,
        conductivity=conducts,
        heat=heat,
        emissivity=_values(held, "emissivity", "emissivity"),
        h=h,
        flame=flame,
        sink=sink,
        air_c=AIR_C if assume.air_c is None else assume.air_c,
    ).with_cases(every)


def _wetted(held: Held, where: Array, cell_mm: float) -> Array:
    """How much of each cell lies below the water line [share]."""
    turn = held.roll + where / held.radius_mm
    from_below = np.abs((2 * math.pi - turn) % (2 * math.pi) - math.pi)
    share: Array = np.clip((held.wet - from_below) * held.radius_mm / cell_mm + 0.5, 0.0, 1.0)
    return share


@dataclass(frozen=True)
class Worked:
    """A ring worked out: its steady state with the joint at flow; other set-ups are worked when asked for."""

    held: Held
    ring: Ring
    state: Steady

    def cell(self, at_mm: float) -> float:
        """A place along the neutral line in cells."""
        return at_mm / self.held.round_mm * self.ring.cells

    def there(self, at_mm: float) -> Array:
        """The temperature at a place, in all cases [C]."""
        return at(self.state.temperature, self.cell(at_mm))

    @property
    def flow_c(self) -> float:
        """Where the solder flows [C]."""
        return self.held.order.flow_c

    @cached_property
    def dry_w(self) -> Array:
        """What the same ring takes dry [W]."""
        if not self.held.legs_mm:
            return self.state.power
        return _at_flow(self.held, ring_of(self.held, self.held.metal)).power

    @cached_property
    def shield_w(self) -> Array:
        """What it takes with heat-shield paste up to the same line, in place of water [W]."""
        return _at_flow(self.held, ring_of(self.held, self.held.metal, "shield")).power

    @cached_property
    def bare_w(self) -> Array:
        """What it takes without tweezers on it [W]."""
        return _at_flow(self.held, ring_of(self.held, self.held.metal, "water", tweezers=False)).power

    def of_metal_w(self, metal: Metal) -> Array:
        """What the same ring takes in another metal, held the same way [W]."""
        other = replace(self.held, metal=metal)
        return _at_flow(other, ring_of(other, metal, "water")).power

    @cached_property
    def flashed(self) -> Flash:
        """Heated from cold to the flash by a flame that is stronger than it must be, and watched after it.

        What is watched is the stone's seat; every fourth case on a coarser ring, which moves no ratio by a tenth.
        """
        held = self.held
        coarse = ring_of(held, held.metal, "water", cells=COARSE, every=EVERY)
        there = _at_flow(held, coarse)
        haste = spread_over("haste", BANDS["haste"])[::EVERY]
        lasts = stored_j(coarse, there.temperature) / there.power * np.log(haste / (haste - 1))
        watched = [held.stone_mm / held.round_mm * COARSE]
        return flash(coarse, there.power * haste, np.clip(lasts / 30, 0.02, 600.0), held.order.flow_c, watched)


def _at_flow(held: Held, ring: Ring) -> Steady:
    """The steady state in which the joint, or the first of two seams, stands at the solder's flow."""
    half = held.order.insert_mm / 2 / held.round_mm * ring.cells
    flow, given = held.order.flow_c, held.assume.power_w

    def power(without: Array, gives: Array) -> Array:
        if given is not None:
            return np.full(len(without), max(given, NO_POWER_W))
        places = (-half, half) if half else (0.0,)
        watts = [(flow - at(without, place)) / at(gives, place) for place in places]
        least: Array = np.maximum(np.minimum.reduce(watts), NO_POWER_W)
        return least

    return steady(ring, power)


def work(order: HeatRequest) -> Worked:
    """Work out a ring as it is held; raises CraftError at its field."""
    one = held(order)
    ring = ring_of(one, one.metal, "water")
    return Worked(one, ring, _at_flow(one, ring))


def metals_beside(order: HeatRequest) -> Mapping[str, Metal]:
    """The metals that the set-up is told against: 14k yellow and sterling, or what was asked for.

    Only those that are still whole at this flow, and not the ring's own.
    """
    keys = order.against if order.against is not None else ("gold-14k-yellow", "sterling")
    return {key: ALL_METALS[key] for key in keys if key != order.metal and ALL_METALS[key].solidus_c > order.flow_c}
