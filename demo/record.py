"""The demo's months before: rings made and handed over, as the cards would have kept them."""

from __future__ import annotations

import math
import tomllib
from datetime import datetime, timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

FOLDER = Path(__file__).parent
NOTE = "From the months before."


def load_record(shop: Any, gauge: Any, now: datetime) -> None:
    """Each ring with its thickness, its length and its size on the round ring, off the bench again."""
    from workshop.people.models import User

    data = tomllib.loads((FOLDER / "record.toml").read_text())
    people = {user.username: user for user in User.objects.filter(workshop=shop)}
    for days, who, customer, size, stock, cut_off, missed in data["rings"]["rows"]:
        order = {"style": "plain-band", "size": size, "ways": "shop", "leave": "exact", **data["stock"][stock]}
        _ring(shop, people[who], gauge, now - timedelta(days=days), customer, order, cut_off, missed)


def _ring(
    shop: Any,
    user: Any,
    gauge: Any,
    at: datetime,
    customer: str,
    order: dict[str, Any],
    cut_off: float,
    missed: float,
) -> None:
    from ringcraft.works import MAKE
    from workshop.core.history import Actor
    from workshop.customers.models import Customer
    from workshop.jobs.actions import close_job, create_job, tick_step
    from workshop.jobs.details import JobDetails
    from workshop.jobs.measures import values_of
    from workshop.jobs.models import Job, Measure
    from workshop.jobs.progress import stand_as_measured

    actor = Actor(shop.pk, user.pk)
    known = Customer.objects.filter(workshop=shop, name=customer).first()
    title = f"{order['stock']['profile']} band"
    job = create_job(actor, JobDetails(title, customer, NOTE, customer=known), MAKE.read(order | {"ways": "none"}))
    plan = job.plan
    asked = {ask["key"]: ask for step in plan["route"] for ask in step["measure"]}
    inside = asked["size-rounded"]["expected"] + (missed + cut_off) / math.pi
    thick = float(order["stock"]["thickness_mm"])
    read = {
        "stock-thickness": (f"{thick:.2f}", thick),
        "cut-length": (f"{asked['cut-length']['expected'] + cut_off:.2f}", None),
        "daylight": ("no", 0.0),
        "size-rounded": (f"{inside:.2f} mm ID", round(inside, 2)),
    }
    calibration = gauge.newest()
    for place, (key, (text, value)) in enumerate(read.items()):
        sized = key == "size-rounded"
        Measure.objects.create(
            job=job, route_key="" if key == "stock-thickness" else job.route_key, key=key, text=text,
            value=Decimal(f"{float(text) if value is None else value:.4f}"), next_key="round",
            gauge=gauge if sized else None, gauge_name=gauge.name if sized else "",
            calibration=calibration if sized else None, at=at + timedelta(minutes=20 * place), by=user,
        )  # fmt: skip
    tick_step(actor, job, "file-to-line", True, at)
    job.refresh_from_db()
    stand_as_measured(job, values_of(job))
    close_job(actor, job, True)
    Job.objects.filter(pk=job.pk).update(closed_at=at + timedelta(hours=5), created_at=at)
