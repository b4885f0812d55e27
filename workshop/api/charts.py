"""Printed charts: read as pasted, and adopted as a scale of the workshop."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Body, Router, Schema
from ninja.responses import Status

from ringcraft.measure.charts import AChart
from ringcraft.measure.tabular import ChartLine, read_chart
from workshop.api.gauges import GaugeOut, gauge_out, one_gauge
from workshop.api.signed_in import actor, person, shop, who_may
from workshop.gauges import actions
from workshop.people.preferences import preferences_of

router = Router()


class ChartText(Schema):
    """A chart as pasted."""

    text: str


class ChartLines(Schema):
    """The rows of a chart as they were read, and how many there are."""

    items: list[ChartLine]
    count: int


class ChartIn(Schema):
    """A chart to adopt under a name."""

    name: str
    chart: AChart


@router.post("/read", response=ChartLines, operation_id="read_chart")
def read_pasted_chart(request: HttpRequest, body: ChartText) -> dict[str, Any]:
    """The rows of a pasted or imported chart; bare figures are in the shop's unit."""
    lines = read_chart(body.text, preferences_of(person(request), shop(request)).units)
    return {"items": list(lines), "count": len(lines)}


@router.post("", auth=who_may("calibrate"), response={201: GaugeOut}, operation_id="adopt_chart")
def adopt_chart(request: HttpRequest, body: Body[ChartIn]) -> Status[Any]:
    """Adopt the good rows of a chart as a scale of the workshop."""
    gauge = actions.adopt_chart(actor(request), body.name, body.chart)
    return Status(201, gauge_out(one_gauge(request, gauge.pk)))
