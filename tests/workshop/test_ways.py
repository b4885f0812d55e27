"""The shop's ways enter an order on the server: once, named, kept with the job, and changed only when chosen."""

from typing import Any

import pytest

from ringcraft.planning.request import RingRequest
from ringcraft.planning.ways import applied
from ringcraft.resize.asking import ResizeRequest
from tests.orders import order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.jobs.models import Job
from workshop.people.preferences import DECLARED, Preferences, order_ways

SHOP: dict[str, Any] = {**order(), "ways": "shop"}
SIZED: dict[str, Any] = {**came_in(), "ways": "shop"}


def put(shop: Shop, **ways: Any) -> None:
    shop.workshop.refresh_from_db()
    body = {**ways, "version": shop.workshop.preferences_version}
    assert shop.send("put", "/ways/workshop", body).status_code == 200


def saved(shop: Shop, sent: dict[str, Any], work: str = "make") -> Any:
    return shop.send("post", "/jobs", {"work": work, "title": "band", "order": sent}).json()


def test_every_way_fills_a_field_of_some_order_or_is_no_orders_matter() -> None:
    paths = order_ways(Preferences())
    taken = {path for kind in (RingRequest, ResizeRequest) for path in applied({}, paths, kind)["from_ways"]}
    assert taken == set(paths)
    assert {name for name, (_, asked) in DECLARED.items() if asked.fills is None} == {
        "caliper_units", "takes_solder", "see_hands", "torches", "currency", "decimals", "metal_prices",
        "bench_money", "hour_price", "solder_price", "setting_price", "plating_price", "metal_more", "refiner_keeps",
        "plan_day", "time_zone", "torch_count", "light_min", "learn_minutes", "look_again_moves", "end_sound", "stay_awake",
        "opening", "closed_days", "work_days", "pots", "tumblers",
    }  # fmt: skip


def test_they_fill_what_is_left_out_at_every_door(ours: Shop) -> None:
    put(ours, saw_passes="2", truing_spread_mm="0.4", step_minutes="solder 11 2", cutter_gaps="3.5")
    plan = ours.send("post", "/plan/ring", SHOP).json()
    assert (plan["used"]["join"]["saw_passes"], plan["used"]["scatter"]["truing_mm"]) == (2, 0.4)
    assert {"join.saw_passes", "spread.truing_mm"} <= set(plan["used"]["from_ways"])
    for other, passes in ((SHOP, 2), (order(), 1)):
        beside = ours.send("post", "/plan/compare", {"this": SHOP, "other": other}).json()["other"]
        assert beside["used"]["join"]["saw_passes"] == passes
    sized = ours.send("post", "/plan/resize", SIZED).json()
    assert sized["used"]["cutter_gaps_mm"] == [3.5]
    assert ours.send("post", "/plan/ring", order()).json()["used"]["from_ways"] == []


def test_what_was_filled_in_is_kept_with_the_job(ours: Shop) -> None:
    put(ours, saw_passes="2", blade="2/0")
    job = saved(ours, {**SHOP, "join": {"blade": "6/0"}})
    assert job["order"]["join"] == {"saw_passes": 2, "blade": "6/0", "file_passes": 0, "trim_mm": 0}
    assert "join.saw_passes" in job["order"]["from_ways"]
    assert "join.blade" not in job["order"]["from_ways"]


@pytest.mark.parametrize(("work", "sent"), [("make", SHOP), ("resize", SIZED)])
def test_a_kept_job_keeps_its_ways_until_todays_are_chosen(ours: Shop, work: str, sent: dict[str, Any]) -> None:
    put(ours, saw_passes="2", solder_price="4")
    job = saved(ours, sent, work)
    put(ours, saw_passes="0", solder_price="4")
    plan = "ring" if work == "make" else "resize"

    def passes(answer: Any) -> Any:
        return (answer.get("used") or answer["order"])["join"]["saw_passes"]

    assert passes(ours.send("post", f"/plan/{plan}?ways_of={job['id']}", sent).json()) == 2
    assert passes(ours.send("post", f"/plan/{plan}?ways_of=today", sent).json()) == 0
    body = {"work": work, "title": "its name alone", "order": sent, "version": job["version"]}
    kept = ours.send("put", f"/jobs/{job['id']}", body).json()
    assert kept["order"]["join"]["saw_passes"] == 2
    assert kept["plan"] == job["plan"]
    today = ours.send("put", f"/jobs/{job['id']}?ways_of=today", {**body, "version": kept["version"]}).json()
    assert today["order"]["join"]["saw_passes"] == 0


def test_a_job_of_before_keeps_what_stands_in_its_order(ours: Shop) -> None:
    """Its order was written out whole by the screen, and says nothing of ways."""
    job = saved(ours, {**order(), "spread": {"truing_mm": 0.4}, "solders": "silver hard 700 740"})
    row = Job.objects.get(pk=job["id"])
    assert isinstance(row.order, dict)
    for name in ("ways", "from_ways"):
        del row.order[name]
    row.save()
    body = {"title": "band", "order": SHOP, "version": job["version"]}
    again = ours.send("put", f"/jobs/{job['id']}", body).json()["order"]
    assert again["spread"]["truing_mm"] == 0.4
    assert again["solders"] == job["order"]["solders"]


def test_a_size_is_read_on_the_scale_that_the_kept_job_was_typed_on(ours: Shop) -> None:
    put(ours, home_scale="iso")
    job = saved(ours, {**SHOP, "size": "54"})
    put(ours, home_scale="us")
    body = {"title": "band", "order": {**SHOP, "size": "55"}, "version": job["version"]}
    assert ours.send("put", f"/jobs/{job['id']}", body).json()["plan"]["target"]["read_as"] == "iso"


def test_nobody_is_planned_with_a_strangers_ways(ours: Shop, theirs: Shop) -> None:
    put(theirs, saw_passes="2")
    job = saved(theirs, SHOP)
    assert ours.send("post", f"/plan/ring?ways_of={job['id']}", SHOP).status_code == 404
    for nobody in ("99999999999999999999", "9999999999999999", "mine", "-1", "²"):
        assert ours.send("post", f"/plan/ring?ways_of={nobody}", SHOP).status_code in (404, 422)
    assert ours.send("post", "/plan/ring", SHOP).json()["used"]["join"]["saw_passes"] == 1


def test_a_file_brings_its_own_ways(ours: Shop, theirs: Shop) -> None:
    put(ours, saw_passes="2")
    put(theirs, saw_passes="0")
    file = ours.send("get", f"/jobs/{saved(ours, SHOP)['id']}/file").json()
    assert theirs.send("post", "/jobs/import", file).json()["order"]["join"]["saw_passes"] == 2
