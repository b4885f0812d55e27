"""Prices of pure metals as a shop saw them, good, asked about or refused; how the feed was read last."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from workshop.core.holding import Held
from workshop.people.models import Workshop


class SeenPrice(Held):
    """What a gram of a pure metal cost at a time, in the feed's currency. Rows are added; only ``state`` changes.

    ``state``: good; asked, where it is far from the last good one and nobody has said yet; refused.
    """

    workshop = models.ForeignKey(Workshop, on_delete=models.PROTECT, related_name="seen_prices")
    metal = models.CharField(max_length=20)
    per_gram = models.DecimalField(max_digits=14, decimal_places=4)
    currency = models.CharField(max_length=8)
    at = models.DateTimeField()
    seen_at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, default="good")
    answered_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workshop", "metal", "at"], name="price_seen_once")]
        indexes = [models.Index(fields=["workshop", "state", "metal", "at"], name="price_by_state")]
        ordering = ["at"]

    def __str__(self) -> str:
        return f"{self.metal} {self.per_gram} {self.currency}"


class FeedState(models.Model):
    """How the feed was read last for a shop: whether that went well, and what it said."""

    workshop = models.OneToOneField(Workshop, on_delete=models.PROTECT, related_name="feed_state")
    at = models.DateTimeField()
    ok = models.BooleanField()
    says = models.CharField(max_length=300)

    def __str__(self) -> str:
        return self.says
