"""What a request costs, by count: how often it plans, how many queries it makes."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from ringcraft.resize import plan as resizing
from ringcraft.styles import STYLES
from tests.orders import style_order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.jobs.measures import Taken, take_measure

NO_QUERY = ("BEGIN", "COMMIT", "ROLLBACK", "SAVEPOINT", "RELEASE")


class Counted:
    """How often something was planned, and the queries that were made; what opens and ends a transaction is none."""

    plans = 0
    queries: list[str]


@pytest.fixture
def counted(ours: Shop, monkeypatch: pytest.MonkeyPatch) -> Callable[[], Any]:
    held = Counted()

    def counting(plan: Callable[[Any], Any]) -> Callable[..., Any]:
        def count(*asked: Any) -> Any:
            held.plans += 1
            return plan(*asked)

        return count

    for key, style in STYLES.items():
        monkeypatch.setitem(STYLES, key, replace(style, plan=counting(style.plan)))
    monkeypatch.setattr(resizing, "_plan", counting(resizing._plan))

    ours.send("get", "/session")  # that a session is in use is noted every quarter of an hour

    @contextmanager
    def count() -> Iterator[Counted]:
        held.plans = 0
        with CaptureQueriesContext(connection) as made:
            yield held
        held.queries = [one["sql"] for one in made.captured_queries if not one["sql"].startswith(NO_QUERY)]

    return count


def sized(shop: Shop) -> int:
    body = {"work": "resize", "title": "up", "customer_name": "Pym", "order": came_in(to="US 7 1/4")}
    return int(shop.send("post", "/jobs", body).json()["id"])


def test_a_tick_plans_nothing(ours: Shop, counted: Any) -> None:
    job = ours.job()
    take_measure(ours.actor, job, Taken("stock-thickness", "1.9"))
    for body in ({"done": True}, {"done": True, "again": True}, {"done": False}):
        with counted() as cost:
            assert ours.send("put", f"/jobs/{job.pk}/steps/scribe", body).status_code == 200
        assert cost.plans == 0
        # what the day does of it: nobody holds it, who did it is here, its pin, the wait before it, whose gap it ends
        assert len(cost.queries) <= 20, cost.queries


def test_a_tick_names_its_step_as_it_was_read(ours: Shop) -> None:
    job = ours.job(leave="exact")
    take_measure(ours.actor, job, Taken("stock-thickness", "1.9"))
    ours.send("put", f"/jobs/{job.pk}/steps/scribe", {"done": True})
    answer = ours.send("get", f"/jobs/{job.pk}").json()
    then, now = (
        next(step["title"] for step in answer[plan]["route"] if step["key"] == "scribe") for plan in ("plan", "now")
    )
    assert then != now
    assert ours.send("get", f"/jobs/{job.pk}/history").json()["items"][0]["after"]["title"] == now


def test_a_look_at_a_joint_plans_before_and_after(ours: Shop, counted: Any) -> None:
    job = ours.job()
    for passes, plans in ((2, 1), (3, 2)):
        with counted() as cost:
            body = {"seen": {"passes_made": passes}}
            assert ours.send("put", f"/jobs/{job.pk}/joints/inspect", body).status_code == 200
        assert cost.plans == plans
        assert len(cost.queries) <= 32, cost.queries


@pytest.mark.parametrize("kind", ["make", "resize"])
def test_a_measure_plans_once_and_a_card_as_often_as_it_must(ours: Shop, counted: Any, kind: str) -> None:
    pk = ours.job().pk if kind == "make" else sized(ours)
    key, text = ("stock-thickness", "1.9") if kind == "make" else ("size-now", "US 6 1/8")
    with counted() as cost:
        ours.send("get", f"/jobs/{pk}")
    assert cost.plans == 0
    with counted() as cost:
        assert ours.send("put", f"/jobs/{pk}/measures/{key}", {"text": text}).status_code == 200
    assert cost.plans == 1
    with counted() as cost:
        assert ours.send("get", f"/jobs/{pk}").json()["now"] is not None
    assert cost.plans == 1
    assert len(cost.queries) <= 16, cost.queries


def test_a_card_says_nothing_twice(ours: Shop) -> None:
    answer = ours.send("get", f"/jobs/{ours.job().pk}").json()
    assert answer["now"] is None
    assert answer["plan"]["route"]
    assert not any(step["after"] for step in answer["plan"]["route"])


def test_what_a_step_asked_stays_when_the_job_gets_another_name(ours: Shop) -> None:
    """The second reading was asked for as the first had made it; a new title changes neither order nor plan."""
    sent = style_order("textured")
    job = ours.send("post", "/jobs", {"title": "hammered", "order": sent}).json()
    for key, text in (("stock-thickness", "1.5"), ("thickness-worked", "1.4")):
        ours.send("put", f"/jobs/{job['id']}/measures/{key}", {"text": text})

    def asked() -> Any:
        answer = ours.send("get", f"/jobs/{job['id']}").json()
        return next(
            step["figure"]
            for step in answer["now"]["route"]
            for ask in step["measure"]
            if ask["key"] == "thickness-worked"
        )

    assert asked() == f"{1.5 / 1.03:.2f}"
    named = {"title": "hammered, hers", "order": sent, "version": 1}
    assert ours.send("put", f"/jobs/{job['id']}", named).json()["version"] == 2
    assert asked() == f"{1.5 / 1.03:.2f}"
    thick = {**sent, "stock": {**sent["stock"], "thickness_mm": "1.7"}}
    ours.send("put", f"/jobs/{job['id']}", {"title": "hammered, hers", "order": thick, "version": 2})
    assert asked() == f"{1.7 / 1.03:.2f}"  # another plan: it asks anew
