"""Load the demo workshop once; a second run leaves what is there alone."""

from __future__ import annotations

import os
import sys
import tomllib
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import django
from pydantic import TypeAdapter

FOLDER = Path(__file__).parent


def rows_of(*, small: bool) -> dict[str, Any]:
    """The demo as data: the small part that the tests stand on, or all of it."""
    data = tomllib.loads((FOLDER / "workshop.toml").read_text())
    if not small:
        for kind, rows in tomllib.loads((FOLDER / "more.toml").read_text()).items():
            data[kind] = [*data.get(kind, ()), *rows]
    return data


def load(password: str, *, small: bool = False) -> bool:
    """Create the workshop, its people and its jobs through the actions; False if they are there.

    ``small``: the fixed part that the tests stand on, without the jobs that show the rest.
    """
    from django.db import transaction
    from django.utils import timezone

    from demo.record import load_record
    from workshop.core.history import Actor
    from workshop.people.keeping import set_preferences
    from workshop.people.models import User, Workshop
    from workshop.people.preferences import read_overrides

    data = rows_of(small=small)
    if User.objects.filter(username=data["person"][0]["username"]).exists():
        return False
    with transaction.atomic():
        shop = Workshop.objects.create(name=data["name"])
        set_preferences(Actor(shop.pk), shop, 1, read_overrides(data["ways"], "mm"))
        for row in data["person"]:
            first, last = row["name"]
            User.objects.create_user(
                row["username"], password=password, first_name=first, last_name=last, workshop=shop, role=row["role"]
            )
        now = timezone.now().replace(second=0, microsecond=0)
        gauges = {row["name"]: _gauge(shop, row, now) for row in data["gauge"]}
        for row in data["customer"]:
            _customer(shop, row, gauges, now)
        for row in data["job"]:
            _more_of(shop, row, _job(shop, row, gauges, now), now)
        for row in data["stock"]:
            _stock(shop, row)
        for row in data.get("melt", ()):
            _melt(shop, row)
        _prices(shop, now)
        if not small:
            load_record(shop, gauges["long mandrel"], now)
    return True


def _prices(shop: Any, now: datetime) -> None:
    """What the made-up feed said these last days, and one price that is asked about."""
    from decimal import Decimal

    from demo.price_feed import BEGINS, walk
    from ringcraft.money.feed import FeedRead
    from workshop.worth.reading import keep

    for back in (9, 2):
        day = (now - timedelta(days=back)).replace(hour=9, minute=0)
        quoted = {metal: Decimal(f"{walk(metal, day):.4f}") for metal in BEGINS}
        keep(shop, FeedRead("EUR", day, quoted), day)
    jump = now - timedelta(minutes=2)  # after what the feed quotes of today: it is still asked about
    keep(shop, FeedRead("EUR", jump, {"palladium": Decimal(f"{1.42 * walk('palladium', jump):.4f}")}), jump)


def _gauge(shop: Any, row: dict[str, Any], now: datetime) -> Any:
    from workshop.core.history import Actor
    from workshop.gauges.actions import GaugeDetails, calibrate, create_gauge

    actor = Actor(shop.pk)
    gauge = create_gauge(actor, GaugeDetails(row["name"], row["kind"], row["scale"], row["place"]))
    for calibration in row["calibration"]:
        readings = [{"mark": mark, "diameter_mm": mm} for mark, mm in calibration["readings"]]
        calibrate(actor, gauge, readings, at=now - timedelta(days=calibration["days_ago"]))
    return gauge


def _customer(shop: Any, row: dict[str, Any], gauges: dict[str, Any], now: datetime) -> None:
    from workshop.core.history import Actor
    from workshop.customers.actions import FingerDetails, create_customer, measure_finger

    actor = Actor(shop.pk)
    customer = create_customer(actor, row["name"], row.get("note", ""))
    for finger in row["finger"]:
        details = FingerDetails(
            which=finger["which"],
            text=finger["size"],
            gauge=gauges.get(finger.get("gauge", "")),
            taken_on=(now - timedelta(days=finger["days_ago"])).date(),
            note=finger.get("note", ""),
        )
        measure_finger(actor, customer, details, "us")


def _job(shop: Any, row: dict[str, Any], gauges: dict[str, Any], now: datetime) -> Any:
    from ringcraft.works import WORKS
    from workshop.core.history import Actor
    from workshop.customers.models import Customer
    from workshop.gauges.models import as_request
    from workshop.jobs.actions import create_job, put_job, tick_step
    from workshop.jobs.details import JobDetails, Place
    from workshop.jobs.measures import Taken, take_measure

    actor = Actor(shop.pk)
    hour = now.replace(minute=0)
    due = hour + timedelta(hours=row["due_hours"]) if "due_hours" in row else None
    gauge = gauges.get(row.get("gauge", ""))
    work = WORKS[row.get("work", "make")]
    on = as_request(gauge) if gauge else None
    more = {"resize": {"from_gauge": on, "to_gauge": on}, "practice": {}}.get(
        row.get("work", "make"), {"style": "plain-band", "gauge": on}
    )
    order = work.read({**more, **row["order"]})
    customer = Customer.objects.filter(workshop=shop, name=row.get("customer_name", "")).first()
    details = JobDetails(
        row["title"], row.get("customer_name", ""), row.get("note", ""), due, customer, row.get("ticket", "")
    )
    job = create_job(actor, details, order, work)
    keys = [step["key"] for step in job.plan["route"]]
    closed = timedelta(days=row.get("closed_days_ago", 0))
    if "done_to" in row or closed:
        done = keys[: keys.index(row["done_to"]) + 1] if "done_to" in row else keys
        at = now - (closed or timedelta(minutes=row["minutes_ago"]))
        for back, key in enumerate(reversed(done)):
            tick_step(actor, job, key, True, at - timedelta(minutes=6 * back))
    for key, text in row.get("measures", ()):
        on = gauges["long mandrel"] if key.startswith("size") else None
        take_measure(actor, job, Taken(key, text, on, at=now - closed))
    if "place" in row:
        until = (now + timedelta(days=row["place_days"])).date() if "place_days" in row else None
        put_job(actor, job.pk, 1, Place(row["place"], row.get("place_note", ""), until))
    return job


def _more_of(shop: Any, row: dict[str, Any], job: Any, now: datetime) -> None:
    """What was seen of its joint, a heat made again, an estimate, photographs, and whether it was handed over."""
    from demo.pictures import photograph
    from ringcraft.joint.asking import JointSeen
    from ringcraft.schema import read_request
    from workshop.core.history import Actor
    from workshop.jobs.actions import close_job, once_more, tick_step
    from workshop.jobs.estimates import keep_estimate
    from workshop.jobs.joints import keep_look
    from workshop.jobs.models import Job
    from workshop.jobs.photos import add_photo
    from workshop.jobs.plans import kept_plan
    from workshop.jobs.progress import heat_steps
    from workshop.people.preferences import prices_of, shop_preferences

    actor = Actor(shop.pk)
    if "look" in row:
        seen = {name: value for name, value in row["look"].items() if name != "step"}
        keep_look(actor, job, row["look"]["step"], read_request(TypeAdapter(JointSeen), seen))
    if "once_more" in row:
        once_more(actor, job, row["once_more"])
        again = heat_steps(kept_plan(job).route, row["once_more"])
        for nth, key in enumerate(again[: again.index(row["done_to"]) + 1]):
            tick_step(actor, job, key, True, now - timedelta(minutes=row["minutes_ago"] - 30 - 6 * nth))
    if row.get("estimate"):
        keep_estimate(actor, job, prices_of(shop_preferences(shop)))
    if row.get("photos"):
        for side, inside, worn in (("before", 176.0, True), ("after", 180.0, False)):
            add_photo(actor, job, side, photograph(inside, (212, 168, 72), worn=worn))
    if "closed_days_ago" in row:
        close_job(actor, job, True)
        Job.objects.filter(pk=job.pk).update(closed_at=now - timedelta(days=row["closed_days_ago"]))


def _melt(shop: Any, row: dict[str, Any]) -> None:
    from ringcraft.schema import read_request
    from ringcraft.stock.drawer import PIECE
    from workshop.core.history import Actor
    from workshop.stock.melts import Into, book_melt
    from workshop.stock.models import StockItem

    jar = StockItem.objects.get(workshop=shop, place=row["from"])
    book_melt(Actor(shop.pk), [Into(jar.pk, row["mass_g"])], [read_request(PIECE, row["poured"])], row["note"])


def _stock(shop: Any, row: dict[str, Any]) -> None:
    from decimal import Decimal

    from ringcraft.schema import read_request
    from ringcraft.stock.drawer import PIECE
    from workshop.core.history import Actor
    from workshop.jobs.models import Job
    from workshop.stock.actions import ItemWords, take_in

    job = Job.objects.get(workshop=shop, title=row["for_job"]) if "for_job" in row else None
    plain = {name: row.get(name, "") for name in ("name", "lot", "place")}
    price = Decimal(row["price"]) if "price" in row else None
    words = ItemWords(**plain, price=price, job_id=job.pk if job else None)
    take_in(Actor(shop.pk), read_request(PIECE, row["piece"]), words)


def main() -> None:
    """Bring the database to this version, gather the front end, load the demo workshop once: one process for all."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
    django.setup()
    from django.core.management import call_command

    call_command("migrate", interactive=False, verbosity=0)
    call_command("collectstatic", interactive=False, verbosity=0, clear=True)
    load(os.environ["PLAIN_SHANK_DEMO"].partition(":")[2], small="--small" in sys.argv)


if __name__ == "__main__":
    main()
