"""What the tests of a day share: a clock that stands, a colleague, the shop's ways."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.test import Client

from tests.workshop.conftest import PASSWORD, Shop
from workshop.jobs.models import Job
from workshop.people.models import User, Workshop

STEPS = ("measure-stock", "square-end", "scribe", "cut", "file-to-line", "anneal")


def colleague(ours: Shop, name: str = "linnet") -> Shop:
    user = User.objects.create_user(name, password=PASSWORD, workshop=ours.workshop)
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return Shop(ours.workshop, user, client)


def ways(ours: Shop, **changes: Any) -> None:
    version = ours.send("get", "/ways").json()["workshop_version"]
    answer = ours.send("put", "/ways/workshop", {**changes, "version": version})
    assert answer.status_code == 200, answer.content


def day(ours: Shop, **query: str) -> dict[str, Any]:
    asked = "&".join(f"{key}={value}" for key, value in query.items())
    found: dict[str, Any] = ours.send("get", f"/day?{asked}").json()
    return found


def settled(ours: Shop) -> dict[str, Any]:
    found: dict[str, Any] = ours.send("post", "/day/settle", {}).json()
    return found


def due(job: Job, at: datetime) -> None:
    Job.objects.filter(pk=job.pk).update(due=at)


def fresh(ours: Shop) -> Workshop:
    """The workshop with the ways that hold now."""
    return Workshop.objects.get(pk=ours.workshop.pk)
