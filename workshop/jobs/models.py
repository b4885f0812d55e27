"""A job keeps its order, the plan as it was when it was saved and the engine that made it."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from typing import Any

from django.conf import settings
from django.db import models

from workshop.core.holding import Held
from workshop.customers.models import Customer
from workshop.gauges.models import Calibration, Gauge
from workshop.people.models import Workshop
from workshop.photos.models import Photo


@dataclass(frozen=True)
class PlaceName:
    """How a place is called in a sentence, and on the bench's line."""

    title: str
    short: str


#: Where a job is when it is not on the bench, in the order of the bench's line. "collected" takes it off the bench.
PLACES = {
    "setter": PlaceName("with the setter", "setter"),
    "plater": PlaceName("at the plater's", "plater"),
    "asked": PlaceName("customer asked", "asked"),
    "ready": PlaceName("ready", "ready"),
    "collected": PlaceName("collected", "collected"),
}
LONGEST_WORDS = 300


def folded(text: str) -> str:
    """Text as a search compares it: without capitals and accents."""
    plain = unicodedata.normalize("NFKD", text)
    return "".join(char for char in plain if not unicodedata.combining(char)).casefold()


def search_words(*texts: str) -> str:
    """What a job is found by, folded, as far as it can be kept."""
    return folded(" ".join(text for text in texts if text))[:LONGEST_WORDS]


class OnTheBench(models.Model):
    """What the bench shows of a job, worked out at every change of it, so that no plan is loaded to draw a line.

    Proportions in mm, minutes of hands and of waiting from the next step on; ``trouble`` says why a job cannot stand.
    They are no record but worked out anew at any time, so they are floats.
    """

    metal_family = models.CharField(max_length=20, default="silver")
    profile = models.CharField(max_length=20, default="round")
    summary = models.CharField(max_length=240, default="")
    inside_mm = models.FloatField(default=0)
    thickness_mm = models.FloatField(default=0)
    width_mm = models.FloatField(default=0)
    cut_mm = models.FloatField(default=0)
    next_key = models.CharField(max_length=60, default="")
    next_title = models.CharField(max_length=200, default="")
    station = models.CharField(max_length=20, default="")
    torch = models.BooleanField(default=False)
    next_wait_min = models.FloatField(default=0)
    hands_left_min = models.FloatField(default=0)
    wait_left_min = models.FloatField(default=0)
    steps_left = models.PositiveIntegerField(default=0)
    ready_at = models.DateTimeField(null=True)
    waiting = models.CharField(max_length=60, default="")
    shape = models.CharField(max_length=20, default="strip")
    trouble = models.CharField(max_length=240, default="")

    class Meta:
        abstract = True


def name_of_job(title: str, customer_name: str) -> str:
    """How the bench speaks of a job: customer and title."""
    return f"{customer_name}, {title}" if customer_name else title


class Job(Held, OnTheBench):
    """One piece of work on the bench. ``version`` counts edits of the order, ``place_version`` of where it is.

    ``moved`` are the titles of steps that what was measured has changed, by key, so that a tick names its step
    without a plan. ``look_again`` is when a finished ring is looked at once more, ``looked_at`` when that was done.
    ``left`` is what is left of its route as a plan of the day needs it, so that no plan is opened for that.
    ``turns`` counts who held it: what hangs on a job keeps it as its ``turn``, so that of two rows of one moment the
    later is known, whichever database node numbered them. ``opened`` is what was read of it in this request, and no
    column (see :mod:`workshop.jobs.plans`); ``told`` is what has to be said of the change that was just asked for.
    """

    opened: Any = None
    told: str = ""

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="jobs")
    number = models.PositiveIntegerField()
    ticket = models.CharField(max_length=20, blank=True, default="")
    title = models.CharField(max_length=120)
    customer = models.ForeignKey(Customer, null=True, on_delete=models.SET_NULL, related_name="jobs")
    customer_name = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True, max_length=4000)
    due = models.DateTimeField(null=True)
    work = models.CharField(max_length=20, default="make")
    order = models.JSONField()
    plan = models.JSONField()
    plan_version = models.PositiveSmallIntegerField(default=0)
    route_key = models.CharField(max_length=60, default="make/plain-band")
    engine = models.CharField(max_length=20)
    takes_solder = models.CharField(max_length=3, blank=True, default="")
    version = models.PositiveIntegerField(default=1)
    closed_at = models.DateTimeField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    place = models.CharField(max_length=20, blank=True, default="")
    place_note = models.CharField(max_length=200, blank=True, default="")
    place_until = models.DateField(null=True)
    place_version = models.PositiveIntegerField(default=1)
    moved = models.JSONField(default=dict)
    left = models.JSONField(default=dict)
    look_again = models.DateTimeField(null=True)
    looked_at = models.DateTimeField(null=True)
    words = models.CharField(max_length=LONGEST_WORDS, default="", editable=False, db_collation="utf8mb4_bin")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="job_number_once")]
        indexes = [
            models.Index(fields=["workshop", "closed_at", "due"], name="job_open_by_due"),
            models.Index(fields=["workshop", "looked_at", "look_again"], name="job_look_again"),
            # holds all that a search looks at, so that a hundred thousand jobs are read from it alone
            models.Index(fields=["workshop", "number", "words"], name="job_search"),
        ]

    def __str__(self) -> str:
        return f"{self.number} {self.title}"

    def save(self, *args: Any, **options: Any) -> None:
        """Save it, with the words that it is found by."""
        self.words = search_words(self.customer_name, self.title, self.ticket)
        super().save(*args, **options)

    @property
    def name(self) -> str:
        """How the bench speaks of it: customer and title."""
        return name_of_job(self.title, self.customer_name)


class JobPhoto(models.Model):
    """A photograph of a job: of the ring as it came in, or as it went back."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    photo = models.OneToOneField(Photo, on_delete=models.PROTECT, related_name="+")
    side = models.CharField(max_length=10)
    turn = models.PositiveBigIntegerField(default=0, db_default=0)

    class Meta:
        ordering = ["turn", "id"]

    def __str__(self) -> str:
        return f"{self.job_id} {self.side}"


class KeptEstimate(models.Model):
    """An estimate as it was given: its lines, its sum, its currency. Rows are only ever added."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="estimates")
    nth = models.PositiveSmallIntegerField()
    metal = models.CharField(max_length=60)
    currency = models.CharField(max_length=8)
    lines = models.JSONField()
    missing = models.JSONField(default=list)
    total = models.DecimalField(max_digits=14, decimal_places=3)
    total_text = models.CharField(max_length=20)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "nth"], name="estimate_nth_once")]
        ordering = ["nth"]

    def __str__(self) -> str:
        return f"{self.job_id} {self.nth}"


class PastPlan(models.Model):
    """An order and its plan as they stood before another took their place. Rows are only ever added."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="past_plans")
    order = models.JSONField()
    plan = models.JSONField()
    plan_version = models.PositiveSmallIntegerField()
    engine = models.CharField(max_length=20)
    until = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ["until", "id"]

    def __str__(self) -> str:
        return f"{self.job_id} until {self.until:%Y-%m-%d}"


class StepDone(models.Model):
    """A step of a route that was done, for the nth time: by whom, when, in how many minutes.

    One that was not done after all is taken back and stays as a row; the wait after a step runs from ``at`` until
    ``ready_at``, and ``answered_at`` is when somebody answered its end. One that has to be done once more was done
    all the same: it counts as a heat, and the step is open again. ``live``: ticked in that moment, not back-dated nor
    sent later.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="steps_done")
    route_key = models.CharField(max_length=60, default="")
    key = models.CharField(max_length=60)
    nth = models.PositiveSmallIntegerField(default=1)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    minutes = models.DecimalField(max_digits=6, decimal_places=1, null=True)
    once_more_at = models.DateTimeField(null=True)
    kind = models.CharField(max_length=10, default="")
    live = models.BooleanField(default=False)
    turn = models.PositiveBigIntegerField(default=0, db_default=0)
    ready_at = models.DateTimeField(null=True)
    answered_at = models.DateTimeField(null=True)
    answered_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    taken_back_at = models.DateTimeField(null=True)
    taken_back_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "route_key", "key", "nth"], name="step_nth_once")]
        indexes = [models.Index(fields=["by", "at"], name="step_of_person")]
        ordering = ["turn", "id"]

    def __str__(self) -> str:
        return f"{self.key} {self.nth}"


class JointLook(models.Model):
    """A joint as it was seen, or the solder chosen for it, at a step of the route; the newest of a step holds.

    Rows are only ever added; ``seen`` is empty where the look before does not hold any more. Lengths in mm.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="looks")
    route_key = models.CharField(max_length=60, default="")
    step_key = models.CharField(max_length=60)
    seen = models.JSONField(default=dict)
    at = models.DateTimeField()
    turn = models.PositiveBigIntegerField(default=0, db_default=0)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ["at", "turn", "id"]

    def __str__(self) -> str:
        return f"{self.job_id} {self.step_key}"


class Measure(models.Model):
    """One reading of a measure as typed, what it was read as [mm or g], and how it was taken.

    Rows are only ever added; the newest of a key holds. An empty text says that the one before was taken away.
    ``route_key`` is empty for a measure of the stock, which holds whatever is made of it. ``asked`` is the step as it
    asked for it, where what was read moves the plan. A reading at a place (:mod:`workshop.jobs.readings`) has a
    ``state``, and where it was taken in ``place``; no plan follows it. ``note`` is why a ring came back.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="measures")
    route_key = models.CharField(max_length=60, blank=True, default="")
    key = models.CharField(max_length=60)
    text = models.CharField(max_length=80, blank=True)
    value = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    zero_mm = models.DecimalField(max_digits=6, decimal_places=4, default=0)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.SET_NULL, related_name="+")
    gauge_name = models.CharField(max_length=80, blank=True)
    calibration = models.ForeignKey(Calibration, null=True, on_delete=models.SET_NULL, related_name="+")
    shape = models.CharField(max_length=20, blank=True, default="")
    next_key = models.CharField(max_length=60, blank=True, default="")
    place = models.CharField(max_length=20, blank=True, default="")
    state = models.CharField(max_length=20, blank=True, default="")
    note = models.CharField(max_length=200, blank=True, default="")
    asked = models.JSONField(null=True)
    at = models.DateTimeField()
    turn = models.PositiveBigIntegerField(default=0, db_default=0)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        indexes = [models.Index(fields=["job", "key", "at"], name="measure_history")]
        ordering = ["at", "turn", "id"]

    def __str__(self) -> str:
        return f"{self.key} {self.text}"
