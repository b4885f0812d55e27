"""A job keeps its order, the plan as it was when it was saved and the engine that made it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.customers.models import Customer
from workshop.gauges.models import Gauge
from workshop.people.models import Workshop


class Job(models.Model):
    """One ring on the bench. ``version`` counts edits; a stale save is refused."""

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="jobs")
    number = models.PositiveIntegerField()
    title = models.CharField(max_length=120)
    customer = models.ForeignKey(Customer, null=True, on_delete=models.SET_NULL, related_name="jobs")
    customer_name = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True, max_length=4000)
    due = models.DateTimeField(null=True)
    order = models.JSONField()
    plan = models.JSONField()
    engine = models.CharField(max_length=20)
    version = models.PositiveIntegerField(default=1)
    closed_at = models.DateTimeField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="job_number_once")]
        indexes = [models.Index(fields=["workshop", "closed_at", "due"], name="job_open_by_due")]

    def __str__(self) -> str:
        return f"{self.number} {self.title}"

    @property
    def name(self) -> str:
        """How the bench speaks of it: customer and title."""
        return f"{self.customer_name}, {self.title}" if self.customer_name else self.title


class StepDone(models.Model):
    """A step that was ticked, and when: the wait after it runs from then."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="steps_done")
    key = models.CharField(max_length=60)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="step_once")]

    def __str__(self) -> str:
        return self.key


class Measure(models.Model):
    """A measure as typed, what it was read as [mm or g], and the gauge it was read on."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="measures")
    key = models.CharField(max_length=60)
    text = models.CharField(max_length=80)
    value = models.DecimalField(max_digits=9, decimal_places=4)
    zero_mm = models.DecimalField(max_digits=6, decimal_places=4, default=0)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.SET_NULL, related_name="+")
    gauge_name = models.CharField(max_length=80, blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="measure_once")]

    def __str__(self) -> str:
        return f"{self.key} {self.text}"


class Event(models.Model):
    """One line of a job's history."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="events")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    what = models.CharField(max_length=40)
    detail = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.what
