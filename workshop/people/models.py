"""A workshop, and the people who sign in to it."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models


class Workshop(models.Model):
    """A workshop: everything that is kept belongs to one."""

    name = models.CharField(max_length=120)
    preferences = models.JSONField(default=dict)
    preferences_version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class User(AbstractUser):
    """A person of a workshop. One without a workshop can sign in nowhere."""

    workshop = models.ForeignKey(Workshop, null=True, on_delete=models.PROTECT, related_name="people")
    preferences = models.JSONField(default=dict)
    preferences_version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.get_full_name() or self.username
