"""What the open jobs want of the drawer: by section, by whose metal it is, by which way it lies, and not twice."""

from __future__ import annotations

from typing import Any

import pytest
from django.utils import timezone

from ringcraft.styles import STYLES, read_ring
from ringcraft.styles.orders import first_order
from tests.stock import key_of, put_in
from tests.workshop.conftest import Shop
from workshop.api import cutting
from workshop.jobs.actions import create_job
from workshop.jobs.details import JobDetails
from workshop.jobs.models import Job, StepDone
from workshop.stock.actions import ItemWords

pytestmark = pytest.mark.django_db


def wanted(shop: Shop) -> dict[str, list[int]]:
    """The jobs that wait for each stock."""
    groups = shop.send("get", "/stock/groups").json()["groups"]
    return {one["key"]: [blank["job_id"] for blank in one["wanted"]] for one in groups}


def missing(shop: Shop) -> int:
    count = shop.send("get", "/stock/groups").json()["missing_count"]
    listed = shop.send("get", "/stock/missing").json()
    assert listed["missing_count"] == count
    return int(count)


@pytest.mark.parametrize(
    ("thick", "serves"), [(1.8, True), (1.785, True), (1.815, True), (1.75, False), (1.85, False)]
)
def test_stock_that_is_a_hair_off_serves_and_no_other(ours: Shop, thick: float, serves: bool) -> None:
    job = ours.job()
    coil = put_in(ours.actor, thickness_mm=thick)
    assert wanted(ours)[key_of(coil)] == ([job.pk] if serves else [])
    assert missing(ours) == (0 if serves else 1)


@pytest.mark.parametrize("own_last", [True, False])
def test_a_job_with_metal_of_its_own_takes_it_and_the_other_the_shops(
    ours: Shop, own_last: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(cutting, "MOST_GROUPS", 0)  # what is wanted is answered, however many stocks there are
    jobs = [ours.job("first"), ours.job("second")]
    mine, other = jobs if not own_last else jobs[::-1]
    shops = put_in(ours.actor)
    own = put_in(ours.actor, ItemWords(job_id=mine.pk), length_mm=90)
    found = wanted(ours)
    assert found[key_of(shops)] == [other.pk]
    assert found[key_of(own)] == [mine.pk]
    assert missing(ours) == 0


def patterned(shop: Shop) -> Job:
    asked = first_order(STYLES["patterned"])
    return create_job(shop.actor, JobDetails("scallops", "Pym"), read_ring(asked))


@pytest.mark.parametrize(("long", "wide", "goes"), [(62.0, 8.0, True), (8.0, 62.0, False), (62.0, 4.0, False)])
def test_what_has_a_direction_goes_on_a_sheet_one_way(ours: Shop, long: float, wide: float, goes: bool) -> None:
    patterned(ours)
    put_in(ours.actor, kind="sheet", profile="sheet", thickness_mm=1.2, length_mm=long, width_mm=wide)
    assert missing(ours) == (0 if goes else 1)


def test_what_is_cut_on_the_card_is_neither_wanted_nor_missing(ours: Shop) -> None:
    job = ours.job()
    assert missing(ours) == 1
    assert ours.send("put", f"/jobs/{job.pk}/steps/cut", {"done": True}).status_code == 200
    assert missing(ours) == 0
    coil = put_in(ours.actor)
    assert wanted(ours)[key_of(coil)] == []
    assert ours.send("put", f"/jobs/{job.pk}/steps/cut", {"done": False}).status_code == 200
    assert wanted(ours)[key_of(coil)] == [job.pk]


def test_a_cut_of_another_route_is_no_cut_of_this_one(ours: Shop) -> None:
    job: Any = ours.job()
    coil = put_in(ours.actor)
    StepDone.objects.create(job=job, route_key="resize/add-stock", key="cut", at=timezone.now())
    assert wanted(ours)[key_of(coil)] == [job.pk]
