"""Load the demo workshop once; a second run leaves what is there alone."""

from __future__ import annotations

import os
import tomllib
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import django


def load(password: str) -> bool:
    """Create the workshop, its person and its jobs through the actions; False if they are there."""
    from django.db import transaction
    from django.utils import timezone

    from workshop.people.models import User, Workshop

    with (Path(__file__).parent / "workshop.toml").open("rb") as file:
        data = tomllib.load(file)
    if User.objects.filter(username=data["username"]).exists():
        return False
    with transaction.atomic():
        shop = Workshop.objects.create(name=data["name"], home_scale=data["home_scale"])
        first, last = data["person"]
        User.objects.create_user(data["username"], password=password, first_name=first, last_name=last, workshop=shop)
        now = timezone.now().replace(second=0, microsecond=0)
        for row in data["job"]:
            _job(shop, row, now)
    return True


def _job(shop: Any, row: dict[str, Any], now: datetime) -> None:
    from ringcraft.styles import read_ring
    from workshop.jobs.actions import Doer, JobDetails, create_job, take_measure, tick_step

    doer = Doer(shop)
    hour = now.replace(minute=0)
    due = hour + timedelta(hours=row["due_hours"]) if "due_hours" in row else None
    order = read_ring({"style": "plain-band", "home_scale": shop.home_scale, **row["order"]})
    details = JobDetails(row["title"], row["customer_name"], row.get("note", ""), due)
    job = create_job(doer, details, order)
    keys = [step["key"] for step in job.plan["route"]]
    if "done_to" in row:
        done = keys[: keys.index(row["done_to"]) + 1]
        at = now - timedelta(minutes=row["minutes_ago"])
        for back, key in enumerate(reversed(done)):
            tick_step(doer, job, key, True, at - timedelta(minutes=6 * back))
    for key, text in row.get("measures", ()):
        take_measure(doer, job, key, text, gauge_name="long mandrel" if key.startswith("size") else "")


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
    django.setup()
    load(os.environ["PLAIN_SHANK_DEMO"].partition(":")[2])
