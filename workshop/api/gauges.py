"""Gauges and their calibrations, and one finger on all of them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import TypeAdapter

from ringcraft.measure.conversion import Conversion, ConversionRequest, convert
from ringcraft.measure.gauges import GaugeFit, GaugeRequest
from ringcraft.schema import read_request
from workshop.api.signed_in import actor, person, shop, typed_in, who_may
from workshop.core.pages import MOST, page_of
from workshop.gauges import actions
from workshop.gauges.models import Gauge, as_request
from workshop.paper.conversion import conversion_pdf
from workshop.people.preferences import preferences_of

router = Router()
conversion = Router()
_GAUGES: TypeAdapter[GaugeRequest] = TypeAdapter(GaugeRequest)
PAPER_REACH_MM = 5.2  # of diameter, either side: more than six US sizes on one page


class GaugeIn(Schema):
    """A gauge as a person describes it; ``version`` is the one that was read, left out for a new one."""

    name: str
    kind: str
    scale: str
    place: str = ""
    put_away: bool = False
    version: int | None = None


class Reading(Schema):
    """One mark and what the caliper read, as typed."""

    mark: str
    diameter_mm: float | str


class CalibrationIn(Schema):
    """The readings of a calibration."""

    readings: list[Reading]
    zero_mm: float | str = 0.0
    typed_in: str | None = None


class CalibrationOut(Schema):
    """A calibration that was kept."""

    id: int
    at: datetime
    by: str
    fit: GaugeFit


class GaugeOut(Schema):
    """A gauge with its calibrations, newest first; ``request`` is what an order carries of it."""

    id: int
    name: str
    kind: str
    scale: str
    place: str
    put_away: bool
    version: int
    request: dict[str, Any] | None
    calibrations: list[CalibrationOut]


class Gauges(Schema):
    """Some gauges, and how many there are in all."""

    items: list[GaugeOut]
    count: int


class FingerOn(Schema):
    """A size and the gauge it was read on."""

    text: str
    gauge_id: int | None = None


def one_gauge(request: HttpRequest, gauge_id: int) -> Gauge:
    """One gauge of the asker's workshop; raises DoesNotExist."""
    return _gauges(request).get(pk=gauge_id)


def _gauges(request: HttpRequest) -> QuerySet[Gauge]:
    return Gauge.objects.filter(workshop=shop(request)).prefetch_related("calibrations__by")


def _details(body: GaugeIn) -> actions.GaugeDetails:
    return actions.GaugeDetails(body.name, body.kind, body.scale, body.place, body.put_away)


def gauge_out(gauge: Gauge) -> dict[str, Any]:
    """A gauge as the API answers it."""
    kept = ("id", "name", "kind", "scale", "place", "put_away", "version")
    return {
        **{name: getattr(gauge, name) for name in kept},
        "request": as_request(gauge),
        "calibrations": [
            {"id": one.pk, "at": one.at, "by": str(one.by or ""), "fit": one.fit} for one in gauge.calibrations.all()
        ],
    }


@router.get("", response=Gauges, operation_id="list_gauges")
def list_gauges(request: HttpRequest, limit: int = MOST, offset: int = 0) -> Any:
    """The workshop's gauges, by name, a page at a time."""
    return page_of(_gauges(request), ("name", "id"), limit, offset).map(gauge_out)


@router.post("", auth=who_may("calibrate"), response={201: GaugeOut}, operation_id="create_gauge")
def create_gauge(request: HttpRequest, body: GaugeIn) -> Status[Any]:
    """Keep a new gauge."""
    gauge = actions.create_gauge(actor(request), _details(body))
    return Status(201, gauge_out(one_gauge(request, gauge.pk)))


@conversion.post("", response=Conversion, operation_id="convert")
def convert_finger(request: HttpRequest, body: FingerOn) -> Conversion:
    """One finger on every scale and every gauge of the shop."""
    return convert(_conversion(request, body.text, body.gauge_id))


@conversion.get("/page.pdf", operation_id="conversion_pdf")
def conversion_as_pdf(request: HttpRequest, text: str, gauge_id: int | None = None) -> HttpResponse:
    """The same as one printed page, six sizes either way."""
    made = convert(_conversion(request, text, gauge_id, PAPER_REACH_MM))
    answer = HttpResponse(conversion_pdf(made), content_type="application/pdf")
    answer["Content-Disposition"] = 'inline; filename="sizes.pdf"'
    return answer


def _conversion(request: HttpRequest, text: str, gauge_id: int | None, reach_mm: float = 1.3) -> ConversionRequest:
    gauges = [gauge for gauge in _gauges(request) if not gauge.put_away and as_request(gauge)]
    ids = [gauge.pk for gauge in gauges]
    if gauge_id is not None and gauge_id not in ids:
        one_gauge(request, gauge_id)  # a stranger's is not found; one not calibrated is an ideal scale
    mine = preferences_of(person(request), shop(request))
    return ConversionRequest(
        text=text,
        home_scale=mine.home_scale,
        units=mine.units,
        on=ids.index(gauge_id) if gauge_id in ids else None,
        gauges=tuple(read_request(_GAUGES, as_request(gauge)) for gauge in gauges),
        reach_mm=reach_mm,
    )


@router.get("/{int:gauge_id}", response=GaugeOut, operation_id="read_gauge")
def read_gauge(request: HttpRequest, gauge_id: int) -> dict[str, Any]:
    """One gauge."""
    return gauge_out(one_gauge(request, gauge_id))


@router.put("/{int:gauge_id}", auth=who_may("calibrate"), response=GaugeOut, operation_id="edit_gauge")
def edit_gauge(request: HttpRequest, gauge_id: int, body: GaugeIn) -> dict[str, Any]:
    """Describe a gauge anew; a stale version is refused with theirs."""
    actions.edit_gauge(actor(request), gauge_id, body.version, _details(body))
    return gauge_out(one_gauge(request, gauge_id))


@router.post(
    "/{int:gauge_id}/calibrations", auth=who_may("calibrate"), response={201: GaugeOut}, operation_id="calibrate"
)
def calibrate(request: HttpRequest, gauge_id: int, body: CalibrationIn) -> Status[Any]:
    """Keep a calibration; the ones before it stay."""
    readings = [reading.dict() for reading in body.readings]
    units = typed_in(body.typed_in, preferences_of(person(request), shop(request)).caliper_units)
    actions.calibrate(actor(request), one_gauge(request, gauge_id), readings, zero_mm=body.zero_mm, units=units)
    return Status(201, gauge_out(one_gauge(request, gauge_id)))
