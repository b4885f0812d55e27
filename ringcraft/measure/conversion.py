"""One finger on every scale and on every gauge of a shop, with the quarter sizes round it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.errors import CraftError
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.gauges import GaugeRequest, read_on, scale_of
from ringcraft.measure.sizes import SCALES, Scale, read_size
from ringcraft.schema import Mm, SizeText, UnitKey, request

REACH_MM = 1.3  # of diameter, either side of the finger, on the screen: about a size and a half


@request
class ConversionRequest:
    """A finger, read on one of the gauges (by its place in the list) or on an ideal scale."""

    text: SizeText
    home_scale: ScaleKey = "us"
    on: int | None = None
    gauges: tuple[GaugeRequest, ...] = ()
    reach_mm: Mm = REACH_MM
    units: UnitKey = "mm"


@dataclass(frozen=True)
class StripMark:
    """A mark at its true inside diameter [mm]; quarters have no label, ``kind`` is whole, half or quarter."""

    label: str
    diameter_mm: float
    kind: str


@dataclass(frozen=True)
class StripRow:
    """One scale or gauge: what it shows for the finger, and its marks round it."""

    title: str
    gauge: bool
    text: str
    number: float
    marks: tuple[StripMark, ...]


@dataclass(frozen=True)
class Conversion:
    """The finger [mm inside] and every row, on one common axis from ``low_mm`` to ``high_mm``."""

    text: str
    inside_diameter_mm: float
    circumference_mm: float
    low_mm: float
    high_mm: float
    rows: tuple[StripRow, ...]


def convert(asked: ConversionRequest) -> Conversion:
    """The same finger everywhere; raises CraftError at ``text`` or at the gauge."""
    scales: list[tuple[str, bool, Scale]] = [(scale.title, False, scale) for scale in SCALES.values()]
    for i, gauge in enumerate(asked.gauges):
        try:
            scale, _ = scale_of(gauge)
        except CraftError as problem:
            raise problem.at(f"gauges.{i}.{problem.field}") from None
        scales.append((scale.gauge_name, True, scale))
    inside, text = _inside(asked)
    low, high = inside - asked.reach_mm, inside + asked.reach_mm
    rows = tuple(
        StripRow(title, is_gauge, scale.text(inside, _quarter(scale)), scale.number(inside), _marks(scale, low, high))
        for title, is_gauge, scale in scales
    )
    return Conversion(text, inside, math.pi * inside, low, high, rows)


def _inside(asked: ConversionRequest) -> tuple[float, str]:
    on = asked.gauges[asked.on] if asked.on is not None and 0 <= asked.on < len(asked.gauges) else None
    try:
        size = (
            read_on(on, asked.text, asked.units)[0]
            if on
            else read_size(asked.text, home=asked.home_scale, units=asked.units)
        )
    except CraftError as problem:
        raise problem.at("text").in_units(asked.units) from None
    return size.inside_diameter_mm, size.text


def _quarter(scale: Scale) -> float:
    return 0.1 if scale.label_step == 0.1 else 0.25


def _marks(scale: Scale, low: float, high: float) -> tuple[StripMark, ...]:
    ends = sorted((scale.number(low), scale.number(high)))
    marks = []
    for quarter in range(math.ceil(ends[0] * 4), math.floor(ends[1] * 4) + 1):
        if scale.holds(quarter / 4):
            kind = "whole" if quarter % 4 == 0 else "half" if quarter % 2 == 0 else "quarter"
            label = scale.label(quarter / 4, 0.25) if kind == "whole" else ""
            marks.append(StripMark(label, scale.diameter_mm(quarter / 4), kind))
    return tuple(marks)
