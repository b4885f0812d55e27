"""A workshop's first day: the three things to do, and which are done."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from workshop.api.signed_in import shop
from workshop.gauges.models import Gauge
from workshop.jobs.models import Job

router = Router()


class FirstOut(Schema):
    """What of the three is done: a gauge that was calibrated, ways that were set, a ring that was begun."""

    gauge: bool
    ways: bool
    ring: bool


@router.get("", response=FirstOut, operation_id="first")
def first(request: HttpRequest) -> FirstOut:
    """Which of the first three things are done."""
    where = shop(request)
    return FirstOut(
        gauge=Gauge.objects.filter(workshop=where, calibrations__isnull=False).exists(),
        ways=bool(where.preferences),
        ring=Job.objects.filter(workshop=where).exists(),
    )
