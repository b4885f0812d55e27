"""A customer, and what was measured on each finger, when and on which gauge."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.core.holding import Held
from workshop.gauges.models import Gauge
from workshop.people.models import Workshop


class Customer(Held):
    """A customer of the workshop. ``version`` counts edits; a stale save is refused."""

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="customers")
    name = models.CharField(max_length=120)
    note = models.TextField(blank=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        indexes = [models.Index(fields=["workshop", "name"], name="customer_by_name")]
        ordering = ["name", "id"]

    def __str__(self) -> str:
        return self.name


class Finger(models.Model):
    """One measuring of one finger: the size as said, on which gauge, and the inside [mm] it means."""

    customer = models.ForeignKey(Customer, on_delete=models.CASCADE, related_name="fingers")
    which = models.CharField(max_length=60)
    text = models.CharField(max_length=80)
    inside_mm = models.DecimalField(max_digits=7, decimal_places=4)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.SET_NULL, related_name="+")
    gauge_name = models.CharField(max_length=80, blank=True)
    taken_on = models.DateField()
    width_worn_mm = models.DecimalField(max_digits=6, decimal_places=3, null=True)
    note = models.CharField(max_length=400, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["-taken_on", "-id"]

    def __str__(self) -> str:
        return f"{self.which} {self.text}"
