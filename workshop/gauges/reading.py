"""A size read on a gauge of the shop, or on an ideal scale."""

from __future__ import annotations

from pydantic import TypeAdapter

from ringcraft.measure.gauges import GaugeRequest, read_on
from ringcraft.measure.sizes import FingerSize, read_size
from ringcraft.schema import read_request
from workshop.gauges.models import Gauge, as_request

_GAUGE: TypeAdapter[GaugeRequest] = TypeAdapter(GaugeRequest)


def read_size_on(gauge: Gauge | None, text: str, home: str, units: str = "mm") -> FingerSize:
    """A size as its gauge means it, a length without a unit in ``units``; raises CraftError with an empty field."""
    calibrated = as_request(gauge) if gauge else None
    if calibrated is None:
        return read_size(text, home=gauge.scale if gauge else home, units=units)
    size, _ = read_on(read_request(_GAUGE, calibrated), text, units)
    return size
