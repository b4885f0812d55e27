"""What the ring is to be: the finger, the gauge it is read on, and what a wide band adds."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.errors import CraftError, OutOfRangeError
from ringcraft.measure.gauges import GaugeFit, fit_gauge, read_on
from ringcraft.measure.sizes import SCALES, FingerSize, Scale, read_size
from ringcraft.planning.request import RingRequest
from ringcraft.sections import Section
from ringcraft.units import Length

SAME_MM = 0.002  # of inside diameter: one and the same size


@dataclass(frozen=True)
class GaugeUsed:
    """The calibration that a plan was made with."""

    name: str
    scale: str
    offset_mm: float
    gain: float
    spread_mm: float
    calibrated_on: str
    enough: bool
    says: tuple[str, ...]


@dataclass(frozen=True)
class WideAdvice:
    """What a wide band wears tighter by, in US sizes and mm of circumference, and whether it was added."""

    us_sizes: float
    mm: float
    says: str
    taken: bool


@dataclass(frozen=True)
class TargetSize:
    """The finger, the scale that sizes are told on, and the inside diameter [mm] that the ring is to have."""

    finger: FingerSize
    scale: Scale
    gauge: GaugeUsed | None
    wide: WideAdvice | None
    inside_mm: float

    def told(self, diameter_mm: float) -> str:
        """An inside diameter [mm] as this finger's scale or gauge shows it, finely."""
        return self.scale.text(diameter_mm, self.scale.fine_step)

    def named(self, diameter_mm: float) -> str:
        """The same, but the size that is wanted in the words it was ordered in."""
        return self.text if abs(diameter_mm - self.inside_mm) < SAME_MM else self.told(diameter_mm)

    @property
    def text(self) -> str:
        """The size that the ring is to read."""
        taken = self.wide is not None and self.wide.taken
        return self.told(self.inside_mm) if taken else self.finger.text


def target_size(order: RingRequest, section: Section) -> TargetSize:
    """Read the order's size on its gauge, and what its width adds; raises CraftError at its field."""
    size, scale, gauge = _finger(order)
    wide = wide_advice(order, section)
    extra = wide.mm if wide and wide.taken else 0.0
    return TargetSize(size, scale, gauge, wide, size.inside_diameter_mm + extra / math.pi)


def _finger(order: RingRequest) -> tuple[FingerSize, Scale, GaugeUsed | None]:
    if order.gauge is None:
        size = _read(order.size, order.home_scale, order.units)
        return size, SCALES.get(size.read_as, SCALES[order.home_scale]), None
    try:
        fit = fit_gauge(order.gauge)
    except CraftError as problem:
        raise problem.at(f"gauge.{problem.field}") from None
    try:
        size, gauged = read_on(order.gauge, order.size, order.units)
    except CraftError as problem:
        raise problem.at("size") from None
    used = _used(order.gauge.calibrated_on, gauged.gauge_name, gauged.key, fit)
    other = size.read_as in SCALES and size.read_as != gauged.key
    return size, SCALES[size.read_as] if other else gauged, used


def _read(text: str, home: str, units: str) -> FingerSize:
    try:
        return read_size(text, home=home, units=units)
    except CraftError as problem:
        raise problem.at("size") from None


def _used(calibrated_on: str, name: str, scale: str, fit: GaugeFit) -> GaugeUsed:
    return GaugeUsed(name, scale, fit.offset_mm, fit.gain, fit.spread_mm, calibrated_on, fit.enough, fit.says)


def wide_advice(order: RingRequest, section: Section) -> WideAdvice | None:
    """A quarter of a US size from one width, a half from another; None for a narrow band.

    Common practice, no published source; both widths are the workshop's to set.
    """
    quarter, half = order.wide_quarter_from_mm, order.wide_half_from_mm
    if half < quarter:
        raise OutOfRangeError(
            "wide_half_from_mm", "Half a size comes after a quarter.", "From {quarter:g mm} on.", quarter=quarter
        )
    if section.width_mm < quarter:
        return None
    sizes = 0.5 if section.width_mm >= half else 0.25
    mm = sizes * SCALES["us"].circumference_per_size_mm
    much = "half a US size" if sizes == 0.5 else "a quarter of a US size"
    wide = Length(section.width_mm, order.units)
    return WideAdvice(sizes, mm, f"{wide:.1f} wide wears tighter: benches add {much}", order.wide)
