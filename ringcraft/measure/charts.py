"""Is a printed chart true? Each row is held against itself and against the scale."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.sizes import SCALES, read_size
from ringcraft.schema import IN_OWN_UNITS, PositiveMm, SizeText, UnitKey, request
from ringcraft.units import LengthFormat, lengths_in

AGREES_MM = 0.15  # of circumference: within it a row's two figures are the same ring
SCALE_AGREES_MM = 0.40  # of circumference, a third of a letter: charts round to a tenth of diameter
MOST_ROWS = 2000


@request
class ChartRow:
    """A row of a printed chart; at least one of diameter and circumference [mm] is given."""

    size: SizeText
    inside_diameter_mm: PositiveMm | None = None
    circumference_mm: PositiveMm | None = None


@request
class ChartRequest:
    """A chart to check. ``home_scale`` is what its bare numbers are on, ``units`` what its figures are in
    and what is said of them.
    """

    rows: tuple[ChartRow, ...]
    home_scale: ScaleKey = "us"
    units: UnitKey = "mm"


#: A chart to check: its bare figures are in its own units.
AChart = Annotated[ChartRequest, IN_OWN_UNITS]


@dataclass(frozen=True)
class CheckedRow:
    """A row held against itself: the figures that its diameter and its circumference each lead to."""

    size: str
    agrees: bool
    on_scale: bool
    circumference_from_diameter_mm: float | None
    size_from_diameter: str | None
    size_from_circumference: str | None
    off_scale_mm: float
    why: str


@dataclass(frozen=True)
class CheckedChart:
    """Every row, and whether the chart as a whole can be trusted."""

    rows: tuple[CheckedRow, ...]
    good: int
    bad: int
    says: str


def check_chart(chart: ChartRequest) -> CheckedChart:
    """Check every row; raises BadRequest with an error for each row that cannot be read."""
    if not chart.rows:
        raise BadRequest([UnreadableError("rows", "The chart has no rows.", "Size, diameter, circumference.")])
    if len(chart.rows) > MOST_ROWS:
        raise BadRequest([OutOfRangeError("rows", "No chart has so many rows.", f"At most {MOST_ROWS}.")])
    checked, errors = [], []
    for i, row in enumerate(chart.rows):
        try:
            checked.append(_check(row, i, chart.home_scale, lengths_in(chart.units)))
        except CraftError as problem:
            errors.append(problem.in_units(chart.units))
    if errors:
        raise BadRequest(errors)
    bad = sum(1 for row in checked if not (row.agrees and row.on_scale))
    says = (
        "Every row agrees with itself and with its scale."
        if not bad
        else f"{bad} of {len(checked)} rows cannot be: {', '.join(_bad_sizes(checked))}."
    )
    return CheckedChart(tuple(checked), len(checked) - bad, bad, says)


def _bad_sizes(rows: list[CheckedRow]) -> list[str]:
    sizes = [row.size for row in rows if not (row.agrees and row.on_scale)]
    return [*sizes[:6], "and more"] if len(sizes) > 6 else sizes


def _check(row: ChartRow, i: int, home: str, length: LengthFormat) -> CheckedRow:
    try:
        size = read_size(row.size, home=home)
    except CraftError as problem:
        raise problem.at(f"rows.{i}.size") from None
    scale = SCALES.get(size.read_as, SCALES[home])
    diameter, round_ = row.inside_diameter_mm, row.circumference_mm
    if diameter is None and round_ is None:
        raise UnreadableError(f"rows.{i}", "The row has a size and no measure.", "Give diameter or circumference.")
    for name, value, least, most in (
        ("inside_diameter_mm", diameter, 10.0, 30.0),
        ("circumference_mm", round_, 30.0, 95.0),
    ):
        if value is not None and not least <= value <= most:
            raise OutOfRangeError(
                f"rows.{i}.{name}",
                "{value:g} is no ring's.",
                "From {least:g} to {most:g mm}.",
                value=value,
                least=least,
                most=most,
            )
    from_diameter = math.pi * diameter if diameter is not None else None
    agrees = from_diameter is None or round_ is None or abs(from_diameter - round_) <= AGREES_MM
    off = max((mm - size.circumference_mm for mm in (from_diameter, round_) if mm is not None), key=abs)
    return CheckedRow(
        size=size.text,
        agrees=agrees,
        on_scale=abs(off) <= SCALE_AGREES_MM,
        circumference_from_diameter_mm=None if from_diameter is None else round(from_diameter, 4),
        size_from_diameter=None if diameter is None else scale.text(diameter),
        size_from_circumference=None if round_ is None else scale.text(round_ / math.pi),
        off_scale_mm=off,
        why=_why(size.text, (diameter, round_), off, agrees, length),
    )


def _why(size: str, given: tuple[float | None, float | None], off: float, agrees: bool, length: LengthFormat) -> str:
    diameter, round_ = given
    around = None if diameter is None else math.pi * diameter
    if not agrees and diameter is not None and around is not None and round_ is not None:
        apart = abs(around - round_)
        sizes = apart / SCALES["us"].circumference_per_size_mm
        said = f"{length(diameter):.2f} × π is {length(around):.1f}, not {length(round_):.1f}"
        return f"{said}: {length(apart):.1f mm} apart, {sizes:.2f} US sizes"
    if abs(off) > SCALE_AGREES_MM:
        larger = "larger" if off > 0 else "smaller"
        return f"{length(abs(off)):.1f mm} round {larger} than {size} is on its scale"
    if diameter is not None and around is not None and round_ is not None:
        return f"{length(diameter):.2f} × π is {length(around):.1f}, as it says"
    return f"as {size} is on its scale, to {length(abs(off)):.2f mm}"
