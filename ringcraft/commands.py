"""The commands of the contract: plain JSON data in, a typed result out."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import TypeAdapter

from ringcraft.errors import BadRequest, CraftError
from ringcraft.measure.charts import AChart, ChartRequest, CheckedChart, check_chart
from ringcraft.measure.gauges import AGauge, GaugeFit, GaugeRequest, fit_gauge
from ringcraft.measure.sizes import FingerSize, ScaleKey, read_size
from ringcraft.schema import SizeText, UnitKey, read_request, request
from ringcraft.styles import ring


@request
class SizeRequest:
    """A finger size to read. ``scale`` is what a bare number is on; ``home_scale`` only its first guess.

    ``units`` are those of a length that names none, and of what is said.
    """

    text: SizeText
    scale: ScaleKey | None = None
    home_scale: ScaleKey = "us"
    units: UnitKey = "mm"


_SIZE = TypeAdapter(SizeRequest)
_GAUGE: TypeAdapter[GaugeRequest] = TypeAdapter(AGauge)
_CHART: TypeAdapter[ChartRequest] = TypeAdapter(AChart)


def size(data: object) -> FingerSize:
    """Read a finger size from ``{"text": ..., "scale": ...}``; raises BadRequest."""
    try:
        return size_of(read_request(_SIZE, data))
    except CraftError as problem:
        raise BadRequest([problem]) from None


def size_of(asked: SizeRequest) -> FingerSize:
    """Read a finger size; raises CraftError at ``text``."""
    try:
        return read_size(asked.text, asked.scale, asked.home_scale, asked.units)
    except CraftError as problem:
        raise problem.at("text").in_units(asked.units) from None


def gauge(data: object) -> GaugeFit:
    """Fit a gauge from ``{"scale": ..., "readings": [...]}``; raises BadRequest."""
    try:
        return fit_gauge(read_request(_GAUGE, data))
    except CraftError as problem:
        raise BadRequest([problem]) from None


def chart(data: object) -> CheckedChart:
    """Check a printed chart from ``{"rows": [...]}``; raises BadRequest with each bad row."""
    return check_chart(read_request(_CHART, data))


COMMANDS: dict[str, Callable[[object], object]] = {
    "size": size,
    "gauge": gauge,
    "chart": chart,
    "ring": ring,
}
