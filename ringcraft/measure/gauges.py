"""A workshop's own gauge: its scale as its marks really are, fitted so that one bad mark pulls nothing.

true diameter = offset + gain x nominal diameter. The line is Siegel's repeated medians (A. F. Siegel,
"Robust regression using repeated medians", Biometrika 69, 1982): it holds while fewer than half of the
marks are wrong. Marks that lie far from it are named and left out; ordinary least squares through the
rest gives the figures and their spread.
"""

from __future__ import annotations

import math
import statistics
from dataclasses import dataclass, replace
from typing import Annotated

from ringcraft.errors import CraftError, OutOfRangeError, UnreadableError
from ringcraft.measure.asking import ScaleKey
from ringcraft.measure.sizes import SCALES, FingerSize, Scale, finger, read_size
from ringcraft.schema import IN_OWN_UNITS, PositiveMm, SignedMm, SizeText, UnitKey, request
from ringcraft.units import Length, LengthFormat, lengths_in

ENOUGH = 3
MOST_READINGS = 60
MAD_TO_SD = 1.4826  # of a normal distribution; any handbook of robust statistics
OFF_TIMES = 3.5  # modified z-score beyond which a mark is off (Iglewicz and Hoaglin, 1993)
OFF_LEAST_MM = 0.06  # a caliper on a knife edge repeats to about 0.03: less than twice that is no fault
CALIPER_SD_MM = 0.03  # our own starting value for one caliper reading of a mark
WANTED_SD_MM = 0.025  # half of it: a thirty-second of a US size; further readings gain nothing below
LEAST_GAIN, MOST_GAIN = 0.9, 1.1  # outside, the readings are on another scale
MOST_OFFSET_MM = 1.5
WORST_ZERO_MM = 0.5  # a caliper further from nought is broken or not closed
NAME_LENGTH = 80


@request
class MarkReading:
    """One mark of a gauge and what a caliper reads there [mm]."""

    mark: SizeText
    diameter_mm: PositiveMm


@request
class GaugeRequest:
    """A gauge: the scale its marks are on and its readings; ``name`` is how the shop calls it.

    ``zero_mm`` is what the caliper read closed; it is taken off every reading. ``units`` are those of the caliper
    and of what is said.
    """

    scale: ScaleKey
    readings: tuple[MarkReading, ...] = ()
    name: str = ""
    calibrated_on: str = ""
    zero_mm: SignedMm = 0.0
    units: UnitKey = "mm"


#: A gauge to read: its bare figures are in its own units.
AGauge = Annotated[GaugeRequest, IN_OWN_UNITS]


@dataclass(frozen=True)
class MarkResidual:
    """How far a mark is [mm] from where the fit puts it; ``off`` marks are left out of the fit."""

    mark: str
    mm: float
    nominal_mm: float
    read_mm: float
    off: bool


@dataclass(frozen=True)
class GaugeFit:
    """A calibrated gauge. ``spread_mm`` is the standard deviation of its good marks about the line."""

    offset_mm: float
    gain: float
    residuals: tuple[MarkResidual, ...]
    off_marks: tuple[str, ...]
    spread_mm: float
    enough: bool
    contradicts: bool
    more_readings: int
    reads_off_us_sizes: float
    says: tuple[str, ...]
    method: str

    def true_mm(self, nominal_mm: float) -> float:
        """The true diameter [mm] where the gauge says ``nominal_mm``."""
        return self.offset_mm + self.gain * nominal_mm

    def nominal_mm(self, true_mm: float) -> float:
        """What the gauge says where the true diameter [mm] is ``true_mm``."""
        return (true_mm - self.offset_mm) / self.gain


METHOD = "repeated medians, then least squares without the marks that are off"


@dataclass(frozen=True)
class _Point:
    mark: str
    nominal: float
    read: float


def repeated_medians(points: list[tuple[float, float]]) -> tuple[float, float]:
    """Slope and intercept of Siegel's repeated-medians line through (x, y) points with different x.

    >>> repeated_medians([(1, 1), (2, 2), (3, 9), (4, 4), (5, 5)])
    (1.0, 0.0)
    """
    slopes = [statistics.median((b[1] - a[1]) / (b[0] - a[0]) for b in points if b[0] != a[0]) for a in points]
    slope = statistics.median(slopes)
    return slope, statistics.median(y - slope * x for x, y in points)


def least_squares(points: list[tuple[float, float]]) -> tuple[float, float]:
    """Slope and intercept of the ordinary least-squares line through (x, y) points."""
    line = statistics.linear_regression([x for x, _ in points], [y for _, y in points])
    return line.slope, line.intercept


def fit_gauge(gauge: GaugeRequest) -> GaugeFit:
    """Fit a gauge; raises CraftError at ``readings.N.mark`` or ``readings.N.diameter_mm``."""
    try:
        return _fit(gauge, lengths_in(gauge.units))
    except CraftError as problem:
        raise problem.in_units(gauge.units) from None


def _fit(gauge: GaugeRequest, length: LengthFormat) -> GaugeFit:
    scale = SCALES[gauge.scale]
    points = _points(gauge, scale)
    if len({point.nominal for point in points}) < ENOUGH:
        return _offset_only(points, length)
    slope, intercept = repeated_medians([(p.nominal, p.read) for p in points])
    away = [p.read - intercept - slope * p.nominal for p in points]
    limit = max(OFF_LEAST_MM, OFF_TIMES * MAD_TO_SD * statistics.median(abs(mm) for mm in away))
    off = {i for i, mm in enumerate(away) if abs(mm) > limit}
    good = [p for i, p in enumerate(points) if i not in off]
    if len({p.nominal for p in good}) < ENOUGH:
        off, good = set(), points
    gain, offset = least_squares([(p.nominal, p.read) for p in good])
    _check_line(gain, offset, scale)
    left = [p.read - offset - gain * p.nominal for p in good]
    spread = math.sqrt(math.fsum(mm * mm for mm in left) / (len(left) - 2)) if len(left) > 2 else 0.0
    contradicts = not off and spread > OFF_LEAST_MM
    return GaugeFit(
        offset_mm=offset,
        gain=gain,
        residuals=_residuals(points, off, offset, gain),
        off_marks=tuple(points[i].mark for i in sorted(off)),
        spread_mm=spread,
        enough=True,
        contradicts=contradicts,
        more_readings=_more(len(good), max(spread, CALIPER_SD_MM / 2), len(off), contradicts),
        reads_off_us_sizes=_reads_off(good, offset, gain),
        says=_says(points, off, (offset, gain), spread, contradicts, length),
        method=METHOD,
    )


def _points(gauge: GaugeRequest, scale: Scale) -> list[_Point]:
    if not gauge.readings:
        raise UnreadableError("readings", "No mark has been read yet.", "Read at least three, far apart.")
    if len(gauge.readings) > MOST_READINGS:
        raise OutOfRangeError("readings", "That is more marks than a gauge has.", f"At most {MOST_READINGS}.")
    points = []
    if abs(gauge.zero_mm) > WORST_ZERO_MM:
        raise OutOfRangeError("zero_mm", "No caliper is that far from nought.", "Close it and zero it.")
    for i, reading in enumerate(gauge.readings):
        read_mm = reading.diameter_mm - gauge.zero_mm
        try:
            size = read_size(reading.mark, scale=scale.key)
        except CraftError as problem:
            raise problem.at(f"readings.{i}.mark") from None
        if size.read_as != scale.key:
            raise UnreadableError(
                f"readings.{i}.mark", f"“{reading.mark}” is not a mark of a {scale.title} gauge.", scale.span() + "."
            )
        nominal = size.inside_diameter_mm
        if not 0.85 * nominal - MOST_OFFSET_MM < read_mm < 1.15 * nominal + MOST_OFFSET_MM:
            raise OutOfRangeError(
                f"readings.{i}.diameter_mm",
                "{read:.2f} cannot be mark {mark}, which is {nominal:.2f}.",
                "Another mark, or another scale?",
                read=read_mm,
                mark=reading.mark,
                nominal=nominal,
            )
        points.append(_Point(scale.label(scale.number(nominal)), nominal, read_mm))
    return points


def _check_line(gain: float, offset: float, scale: Scale) -> None:
    middle = scale.diameter_mm((scale.lowest + scale.highest) / 2)
    if not LEAST_GAIN <= gain <= MOST_GAIN or abs(offset + (gain - 1) * middle) > MOST_OFFSET_MM:
        raise OutOfRangeError(
            "readings",
            f"These marks do not follow the {scale.title} scale.",
            "Is the gauge on another scale, or were two marks read in each other's place?",
        )


def _offset_only(points: list[_Point], length: LengthFormat) -> GaugeFit:
    offset = statistics.median(p.read - p.nominal for p in points)
    missing = ENOUGH - len({p.nominal for p in points})
    return GaugeFit(
        offset_mm=offset,
        gain=1.0,
        residuals=_residuals(points, set(), offset, 1.0),
        off_marks=(),
        spread_mm=0.0,
        enough=False,
        contradicts=False,
        more_readings=missing,
        reads_off_us_sizes=-offset / SCALES["us"].step_mm,
        says=(
            f"Too few marks for a line: taken as {_much(length(offset))} all along.",
            f"Read {_count(missing, 'more mark')}, far apart.",
        ),
        method="the middle of the differences",
    )


def _residuals(points: list[_Point], off: set[int], offset: float, gain: float) -> tuple[MarkResidual, ...]:
    return tuple(
        MarkResidual(p.mark, p.read - offset - gain * p.nominal, p.nominal, p.read, i in off)
        for i, p in enumerate(points)
    )


def _more(good: int, spread: float, off: int, contradicts: bool) -> int:
    """How many more readings bring the line's own uncertainty in its middle below what matters."""
    if contradicts:
        return 2
    wanted = math.ceil((spread / WANTED_SD_MM) ** 2)
    return max(0, min(wanted - good, 6), off)


def _reads_off(good: list[_Point], offset: float, gain: float) -> float:
    """How many US sizes the gauge reads too large (positive) in the middle of what was read."""
    middle = statistics.fmean(p.nominal for p in good)
    return -(offset + (gain - 1) * middle) / SCALES["us"].step_mm


def _much(offset: Length) -> str:
    away = replace(offset, mm=abs(offset.mm))
    return f"{away:.2f mm} {'thicker' if offset.mm >= 0 else 'thinner'} than its marks say"


def _count(number: int, thing: str) -> str:
    return f"{number} {thing}{'' if number == 1 else 's'}"


def _says(
    points: list[_Point],
    off: set[int],
    line: tuple[float, float],
    spread: float,
    contradicts: bool,
    length: LengthFormat,
) -> tuple[str, ...]:
    offset, gain = line
    ends = min(p.nominal for p in points), max(p.nominal for p in points)
    at = [offset + (gain - 1) * mm for mm in ends]
    marks = [next(p.mark for p in points if p.nominal == mm) for mm in ends]
    said = [f"At {marks[0]} it is {_much(length(at[0]))}, at {marks[1]} {_much(length(at[1]))}."]
    for i in sorted(off):
        away = points[i].read - offset - gain * points[i].nominal
        said.append(f"Mark {points[i].mark} is off by {length(away):+.2f mm} and left out: read it again.")
    if contradicts:
        said.append("The marks contradict one another, and nobody can say which is wrong: read two more.")
    else:
        said.append(f"The good marks scatter by {length(spread):.2f mm}.")
    return tuple(said)


@dataclass(frozen=True)
class GaugedScale(Scale):
    """A scale as one gauge shows it: its sizes mean what the gauge's calibration says they do."""

    offset_mm: float
    gain: float
    gauge_name: str

    def diameter_mm(self, number: float) -> float:
        """True inside diameter [mm] where the gauge shows size ``number``."""
        return self.offset_mm + self.gain * super().diameter_mm(number)

    def number(self, diameter_mm: float) -> float:
        """The size that the gauge shows at a true inside diameter [mm]."""
        return super().number((diameter_mm - self.offset_mm) / self.gain)

    @property
    def circumference_per_size_mm(self) -> float:
        """How much inside circumference [mm] one size of this gauge is."""
        return self.gain * super().circumference_per_size_mm


def scale_of(gauge: GaugeRequest) -> tuple[GaugedScale, GaugeFit]:
    """The scale of a gauge and its fit; raises CraftError."""
    fit, base = fit_gauge(gauge), SCALES[gauge.scale]
    fields = {name: getattr(base, name) for name in base.__dataclass_fields__}
    name = gauge.name.strip()[:NAME_LENGTH] or "this gauge"
    return GaugedScale(**fields, offset_mm=fit.offset_mm, gain=fit.gain, gauge_name=name), fit


def read_on(gauge: GaugeRequest, text: str, units: str = "mm") -> tuple[FingerSize, GaugedScale]:
    """A size read on a gauge: its true inside, and the gauge's scale.

    A bare number is on the gauge's scale. A size of another scale cannot be read on this gauge and is
    taken as ideal, a length in mm as it is. Raises CraftError, at the gauge's own fields or with none.
    """
    scale, _ = scale_of(gauge)
    size = read_size(text, home=scale.key, units=units)
    if size.read_as != scale.key:
        return size, scale
    inside = scale.diameter_mm(size.numbers[scale.key])
    return finger(inside, scale.key, f"{size.text} on {scale.gauge_name}"), scale
