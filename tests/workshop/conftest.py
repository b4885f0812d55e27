"""Two workshops with their people and a client for each."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from pytest_django import Settings

from ringcraft.styles import read_ring
from tests.orders import order
from workshop.core.history import Actor
from workshop.jobs.actions import create_job
from workshop.jobs.details import JobDetails
from workshop.jobs.models import Job
from workshop.people.models import User, Workshop

PASSWORD = "a long enough word"
MONDAY = datetime(2027, 3, 1, 8, 0, tzinfo=UTC)


@dataclass
class Shop:
    """A workshop with one person, signed in."""

    workshop: Workshop
    user: User
    client: Client

    @property
    def actor(self) -> Actor:
        return Actor(self.workshop.pk, self.user.pk)

    def job(self, title: str = "band", profile: str = "half-round", **changes: Any) -> Job:
        return create_job(self.actor, JobDetails(title, "Pym"), read_ring(order(profile, **changes)))

    def send(self, method: str, path: str, body: object = None, **headers: str) -> Any:
        call = getattr(self.client, method)
        if body is None:
            return call(f"/api{path}", headers=headers or None)
        return call(f"/api{path}", json.dumps(body), content_type="application/json", headers=headers or None)


def shop(name: str) -> Shop:
    workshop = Workshop.objects.create(name=name)
    user = User.objects.create_user(name, password=PASSWORD, workshop=workshop, role="owner")
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return Shop(workshop, user, client)


ARGON2 = ["django.contrib.auth.hashers.Argon2PasswordHasher"]


@pytest.fixture
def argon2(settings: Settings) -> None:
    """The application's own password hasher, slow on purpose; ask for it before ``ours``."""
    settings.PASSWORD_HASHERS = ARGON2


@pytest.fixture
def ours(db: None) -> Shop:
    return shop("ours")


@pytest.fixture
def theirs(db: None) -> Shop:
    return shop("theirs")


@pytest.fixture
def a_monday_morning(monkeypatch: pytest.MonkeyPatch) -> Any:
    """The clock stands at eight on a Monday; a test moves it."""
    now = {"at": MONDAY}
    monkeypatch.setattr(timezone, "now", lambda: now["at"])

    def move(**span: float) -> datetime:
        now["at"] += timedelta(**span)
        return now["at"]

    return move
