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


def name_of_person(first: str, last: str, username: str) -> str:
    """How a person is called: by the name they gave, else by the one they sign in with."""
    return " ".join(part for part in (first, last) if part) or username


class User(AbstractUser):
    """A person of a workshop. One without a workshop can sign in nowhere."""

    workshop = models.ForeignKey(Workshop, null=True, on_delete=models.PROTECT, related_name="people")
    preferences = models.JSONField(default=dict)
    preferences_version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return name_of_person(self.first_name, self.last_name, self.username)
