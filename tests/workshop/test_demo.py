"""The demo workshop: it loads once, every job stands where it says, and nothing in it is another's."""

from collections.abc import Iterator

import pytest
from django.db import transaction
from pytest_django import DjangoDbBlocker

from demo.load import load, rows_of
from demo.record import NOTE
from ringcraft.following.progress import progress
from ringcraft.metals import METALS
from ringcraft.styles import STYLES
from workshop.customers.models import Customer
from workshop.gauges.models import Gauge
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job
from workshop.jobs.plans import followed, kept_plan
from workshop.jobs.progress import done_times, heats_of, progress_of
from workshop.people.models import User, Workshop
from workshop.stock.models import StockItem

DATA = rows_of(small=False)
WORD = "a word for the demo"


@pytest.fixture(scope="module")
def demo(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> Iterator[None]:
    """The demo, loaded once for all of this file and taken back as a whole."""
    with django_db_blocker.unblock(), transaction.atomic():
        assert load(WORD)
        yield
        transaction.set_rollback(True)


@pytest.fixture
def loaded(demo: None, db: None) -> Workshop:
    return Workshop.objects.get(name=DATA["name"])


def test_a_second_run_leaves_what_is_there_alone(loaded: Workshop) -> None:
    before = Job.objects.count()
    assert not load("another word")
    assert Job.objects.count() == before
    assert User.objects.get(username=DATA["person"][0]["username"]).check_password(WORD)


def test_every_job_stands_after_the_step_it_was_worked_to(loaded: Workshop) -> None:
    jobs = {job.title: job for job in Job.objects.filter(workshop=loaded).exclude(note=NOTE)}
    assert len(jobs) == len(DATA["job"]) >= 6
    stations = set()
    for row in DATA["job"]:
        job = jobs[row["title"]]
        keys = [step["key"] for step in job.plan["route"]]
        plan = kept_plan(job)
        stands = progress(plan.route, done_times(job), plan.begins_as())
        assert stands == progress_of(job)
        if row.get("done_to") == keys[-1] or "closed_days_ago" in row:
            assert stands.next_key == ""
            assert (job.closed_at is not None) == ("closed_days_ago" in row)
        elif "done_to" in row and "once_more" not in row:
            assert keys.index(stands.next_key) == keys.index(row["done_to"]) + 1
        stations.add(stands.station)
    assert len(stations) >= 5
    assert len({job.plan["metal"]["family"] for job in jobs.values()}) >= 5
    assert {job.plan.get("style") for job in jobs.values()} >= set(STYLES)


def test_it_shows_what_was_built(loaded: Workshop) -> None:
    jobs = Job.objects.filter(workshop=loaded)
    wedge = jobs.get(title="square band").looks.get()
    assert wedge.seen["views"]["side"] == "wedge-out"
    twice = jobs.get(title__startswith="stack")
    assert heats_of(twice, kept_plan(twice).route) == 2
    assert twice.estimates.count() == 1
    assert {photo.side for photo in jobs.get(title="wedding band larger").photos.all()} == {"before", "after"}
    refused = kept_plan(jobs.get(title="opal eternity ring"))
    assert [step.key for step in refused.route][-1] == "say-no"
    assert StockItem.objects.filter(workshop=loaded, movements__kind="melt").exists()
    assert jobs.exclude(closed_at=None).count() >= 6


def test_the_tests_stand_on_a_small_part_of_it() -> None:
    small = rows_of(small=True)
    assert small["job"] == DATA["job"][: len(small["job"])]
    assert len(small["job"]) < len(DATA["job"])


def test_nothing_measured_in_it_is_absurd(loaded: Workshop) -> None:
    for job in Job.objects.filter(workshop=loaded):
        seen = followed(job, values_of(job))
        assert (seen.wrong, seen.older, job.trouble) == ("", "", "")
        for verdict in seen.verdicts:
            assert "is that this" not in verdict.says, (job.title, verdict)


def test_gauges_and_customers_come_with_it(loaded: Workshop) -> None:
    assert Gauge.objects.filter(workshop=loaded).count() == len(DATA["gauge"])
    assert Customer.objects.filter(workshop=loaded).count() == len(DATA["customer"])
    planned = Job.objects.get(customer_name="Pym", title="half-round band")
    assert planned.plan["gauge"]["name"] == "long mandrel"
    assert planned.customer is not None


def test_its_orders_are_written_with_known_names() -> None:
    for row in DATA["job"]:
        assert row["order"]["metal"] in METALS
        assert row["order"].get("style", "plain-band") in STYLES
