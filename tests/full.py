"""A workshop with a row in every table that goes along in its archive."""

from __future__ import annotations

import base64
from datetime import timedelta

from django.utils.timezone import now

from demo.load import load
from ringcraft.money.prices import Prices
from tests.resizes import picture
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.day.models import GoneHome, LearntMinutes, Pin, StepTime, Took
from workshop.jobs.estimates import keep_estimate
from workshop.jobs.models import Job, JointLook, PastPlan, StepDone
from workshop.jobs.photos import add_photo
from workshop.logbook.models import Finding
from workshop.people.models import User
from workshop.stock.models import Movement, TakenBack


def full_shop(password: str) -> Shop:
    """The demo's workshop, and a row in every table that it leaves empty."""
    load(password, small=True)
    user = User.objects.get(username="wren")
    shop = Shop(user.workshop, user, None)  # type: ignore[arg-type]
    job = Job.objects.filter(workshop=user.workshop, closed_at=None).latest("pk")
    add_photo(shop.actor, job, "before", base64.b64decode(picture()))
    keep_estimate(shop.actor, job, Prices())
    JointLook.objects.create(job=job, route_key=job.route_key, step_key="inspect", seen={}, at=now(), by=user)
    done = StepDone.objects.filter(job__workshop=user.workshop).latest("pk")
    which = {"job": job, "route_key": job.route_key, "key": "scribe"}
    own = {"workshop": user.workshop}
    PastPlan.objects.create(
        job=job, order=job.order, plan=job.plan, engine="0.1.0", plan_version=0, until=now(), by=user
    )
    Finding.objects.create(job=job, nth=1, keys=["kerf"], note="saw wandered", at=now(), by=user, **own)
    Took.objects.create(by=user, at=now(), until=now() + timedelta(hours=1), **which, **own)
    Pin.objects.create(at=now(), person=user, by=user, **which, **own)
    GoneHome.objects.create(user=user, at=now(), until=now() + timedelta(hours=9), **own)
    StepTime.objects.create(done=done, family="silver", key="scribe", what="hands", minutes=2.1, planned=2, **own)
    LearntMinutes.objects.create(family="silver", key="scribe", what="hands", minutes=2.1, planned=2, times=3, **own)
    moved = Movement.objects.filter(item__workshop=user.workshop).latest("pk")
    Movement.objects.filter(pk=moved.pk).update(batch="a" * 32)
    TakenBack.objects.create(batch="a" * 32, by_batch="b" * 32, by=user, **own)
    Event.objects.create(kind="photo", thing_id=987_654, what="of something that is gone", by=user, **own)
    shop.workshop.refresh_from_db()
    shop.workshop.preferences = {**shop.workshop.preferences, "work_days": [{"person": "Wren", "weekday": "monday"}]}
    shop.workshop.save()
    return shop
