"""The one history of everything that is kept, and what was sent under which key."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.core.holding import Held


class Event(models.Model):
    """One change of one thing: who, when, what, and its fields before and after. Rows are only ever added."""

    workshop = models.ForeignKey("people.Workshop", on_delete=models.PROTECT, related_name="events")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=20)
    thing_id = models.BigIntegerField()
    what = models.CharField(max_length=40)
    before = models.JSONField(default=dict)
    after = models.JSONField(default=dict)

    class Meta:
        indexes = [
            models.Index(fields=["workshop", "kind", "thing_id", "at"], name="event_of_thing_by_time"),
            models.Index(fields=["workshop", "at"], name="event_by_time"),
        ]
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.kind} {self.thing_id} {self.what}"


class Sent(models.Model):
    """A request that was carried out under its idempotency key, with its answer: sent again, it is only answered."""

    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=80)
    fingerprint = models.CharField(max_length=64)
    sight = models.CharField(max_length=20, default="")  # what its answer was made to be seen by
    status = models.PositiveSmallIntegerField(default=0)
    answer = models.BinaryField(default=b"")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["by", "key"], name="sent_once")]
        indexes = [models.Index(fields=["by", "at"], name="sent_by_age")]

    def __str__(self) -> str:
        return self.key


class Turn(Held):
    """One thing of a workshop that is done by one person at a time: numbering its jobs, booking in its drawer.

    The row is only ever held, but for a restore, after which the numbers go on ``after`` one that nobody can have
    been given meanwhile. It is not the workshop's own, which every row that is added anywhere leans on: on a cluster
    each of those would be refused while this one is counted up.
    """

    workshop = models.ForeignKey("people.Workshop", on_delete=models.PROTECT, related_name="+")
    what = models.CharField(max_length=20)
    after = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workshop", "what"], name="turn_once")]

    def __str__(self) -> str:
        return self.what
