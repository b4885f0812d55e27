"""Every change of a gauge: check, then execute."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone
from pydantic import TypeAdapter

from ringcraft import __version__
from ringcraft.errors import BadRequest, CraftError, UnknownNameError, UnreadableError
from ringcraft.measure.charts import ChartRequest, check_chart
from ringcraft.measure.gauges import AGauge, GaugeFit, GaugeRequest, fit_gauge
from ringcraft.measure.sizes import SCALES, read_size
from ringcraft.schema import read_request, to_json
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.core.saving import refuse_stale
from workshop.gauges.models import KINDS, Calibration, Gauge

_GAUGE: TypeAdapter[GaugeRequest] = TypeAdapter(AGauge)
FEWEST_CHART_ROWS = 3


@dataclass(frozen=True)
class GaugeDetails:
    """What a person says of a gauge."""

    name: str
    kind: str
    scale: str
    place: str = ""
    put_away: bool = False


def of_gauge(gauge: Gauge) -> dict[str, Any]:
    """The fields of a gauge that people edit."""
    return {name: getattr(gauge, name) for name in ("name", "kind", "scale", "place", "put_away")}


def _checked(details: GaugeDetails, gauge: Gauge | None = None) -> dict[str, Any]:
    name = " ".join(details.name.split())
    errors: list[CraftError] = []
    if not name or len(name) > 80:
        errors.append(UnreadableError("name", "The gauge needs a name of its own.", "Such as: long mandrel."))
    if details.kind not in KINDS:
        errors.append(UnknownNameError("kind", "That is no gauge known here.", f"{', '.join(KINDS)}."))
    if details.scale not in SCALES:
        errors.append(UnknownNameError("scale", "That scale is not known here.", f"{', '.join(SCALES)}."))
    if len(details.place) > 120:
        errors.append(UnreadableError("place", "That is too long to keep.", "At most 120 letters."))
    if gauge and gauge.scale != details.scale and gauge.calibrations.exists():
        errors.append(UnreadableError("scale", "Its marks were read on another scale.", "Keep a new gauge instead."))
    if errors:
        raise BadRequest(errors)
    place = details.place.strip()
    return {"name": name, "kind": details.kind, "scale": details.scale, "place": place, "put_away": details.put_away}


def _saved(gauge: Gauge, said: dict[str, Any]) -> Gauge:
    for field, value in said.items():
        setattr(gauge, field, value)
    try:
        with transaction.atomic():
            gauge.save()
    except IntegrityError:
        taken = UnreadableError("name", f"There is a gauge called {gauge.name} already.", "Give it another name.")
        raise BadRequest([taken]) from None
    return gauge


@transaction.atomic
def create_gauge(actor: Actor, details: GaugeDetails) -> Gauge:
    """A new gauge; raises BadRequest."""
    said = _checked(details)
    gauge = _saved(Gauge(workshop_id=actor.workshop_id), said)
    record(actor, gauge, "created", after=said)
    return gauge


@transaction.atomic
def edit_gauge(actor: Actor, gauge_id: int, version: int | None, details: GaugeDetails) -> Gauge:
    """Describe a gauge anew; raises BadRequest, or Stale where somebody did so meanwhile."""
    gauge = hold_one(Gauge.objects.filter(pk=gauge_id, workshop_id=actor.workshop_id))
    said, before = _checked(details, gauge), of_gauge(gauge)
    refuse_stale(gauge, version, said, before, gauge.version)
    if said == before:
        return gauge
    gauge.version += 1
    _saved(gauge, said)
    record(actor, gauge, "changed", before, said)
    return gauge


def fit_readings(
    scale: str, readings: list[dict[str, Any]], zero_mm: float | str = 0.0, units: str = "mm"
) -> GaugeFit:
    """The fit of readings as typed, in ``units`` where they name none; raises BadRequest with the row."""
    asked = read_request(_GAUGE, {"scale": scale, "readings": readings, "zero_mm": zero_mm, "units": units})
    try:
        return fit_gauge(asked)
    except CraftError as problem:
        raise BadRequest([problem]) from None


@transaction.atomic
def calibrate(
    actor: Actor,
    gauge: Gauge,
    readings: list[dict[str, Any]],
    at: datetime | None = None,
    zero_mm: float | str = 0.0,
    units: str = "mm",
) -> Calibration:
    """Keep a calibration; the ones before it stay. Raises BadRequest."""
    fit = fit_readings(gauge.scale, readings, zero_mm, units)
    kept = [{"mark": one.mark, "diameter_mm": one.read_mm} for one in fit.residuals]
    made = Calibration.objects.create(
        gauge=gauge, readings=kept, fit=to_json(fit), engine=__version__, at=at or timezone.now(), by_id=actor.user_id
    )
    record(actor, gauge, "calibrated", after={"calibration": made.pk, "marks": len(kept), "says": list(fit.says[:1])})
    return made


@transaction.atomic
def adopt_chart(actor: Actor, name: str, chart: ChartRequest) -> Gauge:
    """Adopt the good rows of a chart as a scale of the workshop; raises BadRequest."""
    checked = check_chart(chart)
    rows = [
        (row, read_size(row.size, home=chart.home_scale))
        for row, result in zip(chart.rows, checked.rows, strict=True)
        if result.agrees
    ]
    scales = {size.read_as for _, size in rows}
    if len(scales) != 1 or not scales <= set(SCALES):
        raise BadRequest(
            [UnreadableError("rows", "A chart is adopted one scale at a time.", "Keep one scale's rows.")]
        )
    if len(rows) < FEWEST_CHART_ROWS:
        raise BadRequest([UnreadableError("rows", "Too few rows agree with themselves.", "Three at least.")])
    scale = scales.pop()
    gauge = create_gauge(actor, GaugeDetails(name, "chart", scale))
    readings = [
        {
            "mark": SCALES[scale].label(size.numbers[scale], 0.25),
            "diameter_mm": row.inside_diameter_mm or (row.circumference_mm or 0) / math.pi,
        }
        for row, size in rows[:60]
    ]
    calibrate(actor, gauge, readings)
    return gauge
