"""A size read on a gauge of the shop, or on an ideal scale."""

from __future__ import annotations

from pydantic import TypeAdapter

from ringcraft.border import read_request
from ringcraft.gauges import GaugeRequest, read_on
from ringcraft.sizes import FingerSize, read_size
from workshop.gauges.models import Gauge, as_request

_GAUGE: TypeAdapter[GaugeRequest] = TypeAdapter(GaugeRequest)


def read_size_on(gauge: Gauge | None, text: str, home: str) -> FingerSize:
    """A size as its gauge means it; raises CraftError with an empty field."""
    calibrated = as_request(gauge) if gauge else None
    if calibrated is None:
        return read_size(text, home=gauge.scale if gauge else home)
    size, _ = read_on(read_request(_GAUGE, calibrated), text)
    return size
