"""Steps of a shop's own: tried before they are kept, in force at the next order, never at a kept one."""

from __future__ import annotations

from typing import Any

import pytest

from tests.orders import order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from tests.workshop.test_preferences import put
from workshop.jobs.models import Job

pytestmark = pytest.mark.django_db

NUMBER = {"style": "plain-band", "change": "added", "after": "pickle-annealed", "title": "Number the inside",
          "says": "With the punches.", "station": "form", "hands_min": "4", "wait_min": "", "deed": "none"}  # fmt: skip
NO_PICKLE = {"style": "plain-band", "change": "out", "step": "pickle-annealed"}
NO_FLATTEN = {"style": "plain-band", "change": "out", "step": "flatten"}


def route(shop: Shop, **changes: Any) -> Any:
    return shop.send("post", "/plan/ring", order(ways="shop", **changes)).json()


def keys(plan: dict[str, Any]) -> list[str]:
    return [step["key"] for step in plan["route"]]


def test_what_is_kept_is_in_the_next_order_and_a_kept_job_keeps_its_own(ours: Shop, theirs: Shop) -> None:
    before = ours.send("post", "/jobs", {"title": "before", "order": order(ways="shop")}).json()
    assert put(ours, "workshop", own_steps=[NUMBER, NO_FLATTEN]).status_code == 200
    now = keys(route(ours))
    assert now[now.index("pickle-annealed") + 1] == "own-number-the-inside"
    assert "flatten" not in now
    assert "own-number-the-inside" not in keys(route(theirs))
    assert "flatten" in keys(route(ours, steps_by="ours"))
    assert "flatten" in keys(ours.send("get", f"/jobs/{before['id']}").json()["plan"])
    job = ours.send("post", "/jobs", {"title": "after", "order": order(ways="shop")}).json()
    put(ours, "workshop", own_steps=[])
    kept = ours.send("get", f"/jobs/{job['id']}").json()
    assert "own-number-the-inside" in keys(kept["plan"])
    assert "flatten" in keys(route(ours))
    done = ours.send("put", f"/jobs/{job['id']}/steps/own-number-the-inside", {"done": True})
    assert done.status_code == 200
    saved = Job.objects.get(pk=job["id"])
    assert [one["title"] for one in saved.order["own"]["steps"] if one["change"] == "added"] == ["Number the inside"]


def test_an_order_carries_only_the_changes_of_its_style_and_a_resize_none(ours: Shop) -> None:
    wash = {"style": "stack", "change": "out", "step": "wash"}
    put(ours, "workshop", own_steps=[NUMBER, wash])
    job = ours.send("post", "/jobs", {"title": "band", "order": order(ways="shop")}).json()
    assert [one["style"] for one in Job.objects.get(pk=job["id"]).order["own"]["steps"]] == ["plain-band"]
    resize = {"work": "resize", "title": "up", "order": came_in(ways="shop")}
    job = ours.send("post", "/jobs", resize).json()
    assert Job.objects.get(pk=job["id"]).order["own"]["steps"] == []


def test_what_breaks_a_ring_is_refused_at_its_row_and_nothing_is_kept(ours: Shop) -> None:
    answer = put(ours, "workshop", own_steps=[NUMBER, NO_PICKLE])
    assert answer.status_code == 422
    errors = answer.json()["errors"]
    # the step that breaks is no change of the shop's: it is said at the first of that style's rows
    assert {one["field"] for one in errors} == {"own_steps.0.step"}
    assert all(one["message"].startswith("plain band, ") for one in errors)
    assert any("flux goes on clean metal" in one["message"] for one in errors)
    assert keys(route(ours)) == keys(route(ours, steps_by="ours"))


def test_ways_that_stand_are_not_tried_anew(ours: Shop) -> None:
    """A later version may find that a kept change breaks a ring: other ways can be kept all the same."""
    ours.workshop.preferences = {"own_steps": [NO_PICKLE]}
    ours.workshop.save()
    assert put(ours, "workshop", own_steps=[NO_PICKLE], leave="exact").status_code == 200
    broken = ours.send("post", "/plan/ring", order(ways="shop"))
    assert broken.status_code == 422
    assert broken.json()["errors"][0]["field"] == "steps_by"


def test_the_list_tells_what_a_change_breaks_and_where(ours: Shop) -> None:
    said = ours.send("post", "/plan/route", {"style": "plain-band", "steps": [NO_PICKLE]}).json()
    assert {one["step"] for one in said["breaks"]} == {"solder"}
    assert said["left_out"][0]["title"] == "Pickle it clean"
    assert said["tried"] > 50
    assert said["steps"][-1]["key"] == said["ours"][-1] == "hand-over"
    unknown = ours.send("post", "/plan/route", {"style": "plain-band", "steps": [{**NO_PICKLE, "step": "nothing"}]})
    assert unknown.status_code == 422
    assert unknown.json()["errors"][0]["field"] == "steps.0.step"


def test_the_list_tells_the_shops_own_minutes_as_the_card_does(ours: Shop) -> None:
    put(ours, "workshop", step_minutes=[{"step": "anneal", "hands_min": "7", "wait_min": "2"}])
    listed = ours.send("post", "/plan/route", {"style": "plain-band"}).json()["steps"]
    card = route(ours)["route"]
    for steps in (listed, card):
        anneal = next(one for one in steps if one["key"] == "anneal")
        assert (anneal["hands_min"], anneal["wait_min"]) == (7, 2)


def test_a_persons_own_go_before_the_shops_style_by_style(ours: Shop) -> None:
    put(ours, "workshop", own_steps=[NO_FLATTEN, {"style": "stack", "change": "out", "step": "wash"}])
    put(ours, "mine", own_steps=[NUMBER])
    now = keys(route(ours))
    assert "flatten" in now
    assert "own-number-the-inside" in now
    ways = ours.send("get", "/ways").json()["now"]["own_steps"]
    assert [one["style"] for one in ways] == ["plain-band", "stack"]
