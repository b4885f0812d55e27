"""What is kept of a day: the plan as shown, steps taken, who went home, pins, minutes that teach, calendars."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.core.holding import Held
from workshop.jobs.models import Job, StepDone
from workshop.people.models import Workshop


class ShownPlan(Held):
    """The plan of the day that a workshop's screens show: its starts by job and step, in absolute time.

    ``stamp`` is what it was made of, ``claim`` of what somebody is making one now, since ``claimed_at``.
    """

    workshop = models.OneToOneField(Workshop, on_delete=models.CASCADE, related_name="shown_plan")
    stamp = models.CharField(max_length=64, default="")
    claim = models.CharField(max_length=64, default="")
    claimed_at = models.DateTimeField(null=True)
    made_at = models.DateTimeField(null=True)
    good_until = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=0)
    plan = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"{self.workshop_id} {self.made_at}"


class Took(models.Model):
    """A step that somebody took in hand: until it is ticked, given back, or its minutes are over twice."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="taken")
    route_key = models.CharField(max_length=60, default="")
    key = models.CharField(max_length=60)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField()
    until = models.DateTimeField()
    given_back_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["workshop", "given_back_at", "until"], name="took_now")]
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.job_id} {self.key}"


class Pin(models.Model):
    """A step that somebody put at a time in the plan, for a person; the newest of a step holds."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="pins")
    route_key = models.CharField(max_length=60, default="")
    key = models.CharField(max_length=60)
    at = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    set_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "route_key", "key"], name="pin_once")]

    def __str__(self) -> str:
        return f"{self.job_id} {self.key}"


class GoneHome(models.Model):
    """Somebody who went home before closing: from when, and until when; back earlier, that ends it."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField()
    until = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.user_id} {self.at}"


class StepTime(models.Model):
    """Minutes that a step took here, beside those that were planned: of hands, or of a wait. Rows that teach.

    ``at`` is when that was known; nothing in the rows of before it was kept, which are the oldest.
    """

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")
    done = models.ForeignKey(StepDone, on_delete=models.CASCADE, related_name="+")
    family = models.CharField(max_length=20)
    key = models.CharField(max_length=60)
    what = models.CharField(max_length=5)
    minutes = models.FloatField()
    planned = models.FloatField()
    at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["done", "what"], name="step_time_once")]
        indexes = [
            models.Index(fields=["workshop", "what", "family", "key", "at"], name="step_times_of_key"),
            models.Index(fields=["workshop", "what", "at"], name="step_times_by_time"),
        ]

    def __str__(self) -> str:
        return f"{self.family} {self.key} {self.minutes}"


class LearntMinutes(models.Model):
    """The median of the newest times of a step and a family of metals, and of how many."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")
    family = models.CharField(max_length=20)
    key = models.CharField(max_length=60)
    what = models.CharField(max_length=5)
    minutes = models.FloatField()
    planned = models.FloatField()
    times = models.PositiveIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["workshop", "family", "key", "what"], name="learnt_minutes_once")
        ]
        ordering = ["key", "family", "what"]

    def __str__(self) -> str:
        return f"{self.family} {self.key} {self.minutes}"


class CalendarAddress(models.Model):
    """A secret address at which a person's calendar reads the promises: only its digest is kept."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="calendars")
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    with_customers = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["made_at", "id"]

    def __str__(self) -> str:
        return f"{self.user_id} {self.made_at}"
