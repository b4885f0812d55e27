"""A workshop, and the people who sign in to it."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models

from workshop.core.holding import Held

OWNER, BENCH, COUNTER = "owner", "bench", "counter"
ROLES = {OWNER: "owner", BENCH: "bench", COUNTER: "counter"}


class Workshop(Held):
    """A workshop: everything that is kept belongs to one.

    Whoever changes who is in it holds it: of two who do it at once, one does it first. One that
    came in from an archive says when, in seconds: ids are other ones since, and devices ask before they send.
    """

    name = models.CharField(max_length=120)
    preferences = models.JSONField(default=dict)
    preferences_version = models.PositiveIntegerField(default=1)
    came_in = models.PositiveBigIntegerField(default=0)

    def __str__(self) -> str:
        return self.name


def name_of_person(first: str, last: str, username: str) -> str:
    """How a person is called: by the name they gave, else by the one they sign in with."""
    return " ".join(part for part in (first, last) if part) or username


class User(AbstractUser, Held):
    """A person of a workshop. One without a workshop can sign in nowhere."""

    workshop = models.ForeignKey(Workshop, null=True, on_delete=models.PROTECT, related_name="people")
    role = models.CharField(max_length=12, choices=list(ROLES.items()), default=BENCH)
    preferences = models.JSONField(default=dict)
    preferences_version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return name_of_person(self.first_name, self.last_name, self.username)


def bench_people(workshop: Workshop | int) -> models.QuerySet[User]:
    """Who works at the bench: everybody who is here, but for who is at the counter."""
    return User.objects.filter(workshop=workshop, is_active=True).exclude(role=COUNTER)


class UsedLink(models.Model):
    """A link of the installation that was used: whoever comes second with it does not come in."""

    digest = models.CharField(max_length=64, unique=True)
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d}"


class OpenSession(models.Model):
    """Where a person is signed in: since when, with what, seen last. The session itself is Django's."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="open_sessions")
    session_key = models.CharField(max_length=40, unique=True)
    agent = models.CharField(max_length=200, default="")
    address = models.CharField(max_length=45, default="")
    since = models.DateTimeField(auto_now_add=True)
    seen_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.user} since {self.since:%Y-%m-%d}"
