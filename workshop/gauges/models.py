"""A gauge and its calibrations; the newest one holds, the older ones are kept with their dates."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models

from workshop.core.holding import Held
from workshop.people.models import Workshop

KINDS = {
    "mandrel": "mandrel",
    "finger-gauges": "finger-gauge set",
    "ruler": "gauge ruler",
    "caliper": "caliper",
    "chart": "printed chart",
}


class Gauge(Held):
    """One gauge of the shop: what it is, the scale of its marks, where it lives."""

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="gauges")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=20)
    scale = models.CharField(max_length=12)
    place = models.CharField(max_length=120, blank=True)
    put_away = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workshop", "name"], name="gauge_name_once")]
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    def newest(self) -> Calibration | None:
        """The calibration that holds."""
        return max(self.calibrations.all(), key=lambda one: (one.at, one.pk), default=None)


class Calibration(models.Model):
    """One calibration: the readings as typed, the fit as it was then, by whom and when."""

    gauge = models.ForeignKey(Gauge, on_delete=models.CASCADE, related_name="calibrations")
    readings = models.JSONField()
    fit = models.JSONField()
    engine = models.CharField(max_length=20)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["-at", "-id"]

    def __str__(self) -> str:
        return f"{self.gauge} {self.at:%Y-%m-%d}"


def as_request(gauge: Gauge) -> dict[str, Any] | None:
    """The gauge as an order carries it: its scale, name and readings; None before it was calibrated."""
    newest = gauge.newest()
    if newest is None:
        return None
    return {
        "scale": gauge.scale,
        "name": gauge.name,
        "readings": newest.readings,
        "calibrated_on": newest.at.date().isoformat(),
    }
