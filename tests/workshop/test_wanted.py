"""What the open jobs want of the drawer: by section, by whose metal it is, by which way it lies, and not twice."""

from __future__ import annotations

from typing import Any

import pytest
from django.utils import timezone

from ringcraft.styles import STYLES, read_ring
from ringcraft.styles.orders import first_order
from tests.orders import order
from tests.stock import key_of, put_in, sums_hold
from tests.workshop.conftest import Shop
from workshop.api import cutting
from workshop.jobs.actions import create_job
from workshop.jobs.details import JobDetails
from workshop.jobs.models import Job, StepDone
from workshop.stock import cuts
from workshop.stock.actions import ItemWords
from workshop.stock.cuts import Selection, confirm, propose
from workshop.stock.models import StockItem

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


def test_more_blanks_than_one_plan_takes_are_counted_not_forgotten(
    ours: Shop, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(cuts, "MOST_BLANKS", 2)
    for name in ("first", "second", "third"):
        ours.job(name)
    coil = put_in(ours.actor)
    plan = ours.send("post", "/stock/plan", {"group": key_of(coil)}).json()
    assert len(plan["plan"]["pieces"][0]["cuts"]) == 2
    assert plan["left_out_count"] == 1
    assert "1 job more waits for a second plan." in plan["says"]


@pytest.mark.parametrize(
    ("long", "wide", "fate"),
    [
        (58.9, 2.0, "sheet"), (2.0, 58.9, "sheet"), (58.9, 1.99, "strip"), (10.0, 1.0, "strip"),
        (9.99, 1.5, "scrap"), (58.9, 0.99, "scrap"),
    ],
)  # fmt: skip
def test_what_becomes_of_the_rest_of_a_sheet(long: float, wide: float, fate: str) -> None:
    assert cuts.rest_fate(long, wide) == fate


def test_a_rest_that_is_too_narrow_goes_to_the_scrap_not_to_the_filings(ours: Shop) -> None:
    create_job(
        ours.actor,
        JobDetails("wide", "Pym"),
        read_ring(order("sheet", stock={"width_mm": 10.0, "thickness_mm": 1.2})),
    )
    sheet = put_in(ours.actor, kind="sheet", profile=None, thickness_mm=1.2, width_mm=11.02, length_mm=90)
    gram = float(sheet.mass_g) / 11.02 / 90
    chosen = Selection(key_of(sheet))
    confirm(ours.actor, chosen, propose(ours.actor, chosen).key)
    lots = {one.kind: float(one.mass_g) for one in StockItem.objects.filter(kind__in=("scrap", "filings"))}
    assert lots["scrap"] == pytest.approx(0.8 * 90 * gram, abs=2e-3)
    assert lots["filings"] == pytest.approx(0.22 * (90 + 10) * gram, abs=4e-3)
    sums_hold(ours)
