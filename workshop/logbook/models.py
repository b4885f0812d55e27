"""What is kept of how a ring came out: figures beside its job, and what it was where one came out wrong."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.jobs.models import LONGEST_WORDS, Job
from workshop.people.models import Workshop


class RingRecord(models.Model):
    """How a job's ring came out, as columns: a logbook of a hundred thousand is read without one plan.

    No record of its own but worked out anew whenever the job changes; ``stamp`` says in which shape. Lengths in mm,
    ``off_mm``, ``z_mm``, ``residual_mm`` and ``in_force_mm`` round (:class:`ringcraft.learning.came_out.RingOut`).
    ``person`` is who cut it, ``gauge`` what its size was read on, ``calibrated`` how that stood then. ``listed``:
    there is something of it to tell. They are floats as those of :class:`workshop.jobs.models.OnTheBench` are.
    """

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="ring_record", primary_key=True)
    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="+")
    number = models.PositiveIntegerField()
    stamp = models.CharField(max_length=20)
    listed = models.BooleanField(default=False)
    at = models.DateTimeField()
    work = models.CharField(max_length=20)
    style = models.CharField(max_length=30)
    profile = models.CharField(max_length=20)
    family = models.CharField(max_length=20)
    metal = models.CharField(max_length=40)
    group = models.CharField(max_length=45)
    thickness_class = models.CharField(max_length=20)
    thickness_mm = models.FloatField(default=0)
    width_mm = models.FloatField(default=0)
    wanted_mm = models.FloatField(default=0)
    size_text = models.CharField(max_length=60, default="")
    cut_planned_mm = models.FloatField(null=True)
    cut_read_mm = models.FloatField(null=True)
    cut_off_mm = models.FloatField(null=True)
    size_planned_mm = models.FloatField(null=True)
    size_read_mm = models.FloatField(null=True)
    off_mm = models.FloatField(null=True)
    z_mm = models.FloatField(null=True)
    residual_mm = models.FloatField(null=True)
    in_force_mm = models.FloatField(default=0)
    counts = models.BooleanField(default=False)
    passes_known = models.BooleanField(default=False)
    why_not = models.CharField(max_length=120, default="")
    odd = models.CharField(max_length=80, default="")
    verdict = models.CharField(max_length=10, default="")
    came_back = models.CharField(max_length=200, default="")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    person_name = models.CharField(max_length=150, default="")
    gauge = models.CharField(max_length=80, default="")
    calibrated = models.CharField(max_length=20, default="")
    minutes = models.FloatField(default=0)
    stages = models.JSONField(default=list)
    words = models.CharField(max_length=LONGEST_WORDS, default="", db_collation="utf8mb4_bin")

    class Meta:
        indexes = [
            # holds all that a search looks at, so that a hundred thousand rings are read from it alone
            models.Index(fields=["workshop", "listed", "number", "words"], name="ring_search"),
            models.Index(fields=["workshop", "listed", "at", "number"], name="ring_by_day"),
            models.Index(fields=["workshop", "listed", "off_mm", "number"], name="ring_by_miss"),
            models.Index(fields=["workshop", "counts", "at", "number"], name="ring_that_counts"),
            models.Index(fields=["workshop", "person", "at", "number"], name="ring_by_person"),
            models.Index(fields=["workshop", "stamp"], name="ring_by_shape"),
        ]

    def __str__(self) -> str:
        return f"{self.number} {self.verdict}"


class Finding(models.Model):
    """What it was in the end that made a ring come out wrong. Rows are only ever added; the newest of a job holds.

    ``keys`` are causes of ringcraft's table; none says that the one before does not hold.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="findings")
    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="+")
    nth = models.PositiveIntegerField()
    keys = models.JSONField(default=list)
    note = models.CharField(max_length=200, blank=True, default="")
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "nth"], name="finding_nth_once")]
        ordering = ["nth"]

    def __str__(self) -> str:
        return f"{self.job_id} {self.keys}"
