"""Rings that came in, drawn at random and walked from the counter to the hand-over through the API, reading by reading."""

from __future__ import annotations

import random
from typing import Any

import pytest

from tests.ringcraft.thingcases import LEVELS, NAMES, order_of
from tests.workshop.conftest import Shop

METALS = ("sterling", "gold-14k-yellow", "gold-18k-white-nickel", "platinum-950", "bronze")
#: How far a reading lies off what is expected [mm], one in ten so much further that it may stop the work.
SCATTER, FAR = 0.03, 8
KINDS = {"size": "{:.3f} mm", "length": "{:.3f}", "yes-no": "{}"}


def taken_in(shop: Shop, draw: random.Random) -> Any:
    """A ring that the sheet takes, as a job; what it is refused for is said at a field, never more than a few times."""
    for _ in range(12):
        data, _ = order_of(tuple(draw.randrange(len(LEVELS[name])) for name in NAMES))
        data["metal"] = draw.choice(METALS)
        data.pop("made", None)
        sent = {"work": "resize", "title": "to size", "customer_name": "Ilse Bram", "order": data}
        answer = shop.send("post", "/jobs", sent)
        if answer.status_code == 422 and answer.json()["errors"][0]["field"] == "order.override_reason":
            data["override_reason"] = "her wish"
            answer = shop.send("post", "/jobs", sent)
        if answer.status_code == 201:
            return answer.json()
        assert answer.status_code == 422
        assert all(one["field"] and one["message"] for one in answer.json()["errors"])
    raise AssertionError("no ring of a dozen was taken in")


def readings(step: Any, draw: random.Random) -> list[tuple[str, str]]:
    """What is typed at a step: its measures as they would be read."""
    out = []
    for ask in step["measure"]:
        if ask["kind"] == "yes-no":
            out.append((ask["key"], "yes" if ask["key"] == "claws" else "no"))
        elif ask["expected"] is not None:
            off = draw.gauss(0, SCATTER * (FAR if draw.random() < 0.1 else 1))
            out.append((ask["key"], KINDS.get(ask["kind"], "{:.3f}").format(ask["expected"] + off)))
    return out


def walked(shop: Shop, job: Any, draw: random.Random) -> Any:
    """The job at its end: every step of its route as it reads by then, measured and ticked; or where it stops."""
    path, now, done = f"/jobs/{job['id']}", job, set[str]()
    while True:
        plan = now["now"] or now["plan"]
        step = next((one for one in plan["route"] if one["key"] not in done), None)
        if step is None:
            return now
        if plan.get("stopped") and step is plan["route"][-1]:
            return now
        for key, text in readings(step, draw):
            answer = shop.send("put", f"{path}/measures/{key}", {"text": text})
            assert answer.status_code == 200, answer.content
            now = answer.json()
            assert now["wrong"] == ""
            assert [one for one in now["verdicts"] if one["key"] == key], f"nothing is said of {key}"
        plan = now["now"] or now["plan"]
        if step["key"] in [one["key"] for one in plan["route"]]:
            tick = shop.send("put", f"{path}/steps/{step['key']}", {"done": True})
            assert tick.status_code == 200, tick.json()
        done.add(step["key"])


@pytest.mark.parametrize("seed", range(60))
def test_a_ring_is_walked_to_the_hand_over(ours: Shop, seed: int) -> None:
    draw = random.Random(1000 + seed)
    job = taken_in(ours, draw)
    end = walked(ours, job, draw)
    stopped = (end["now"] or {}).get("stopped", "")
    stands = ours.send("get", f"/jobs/{job['id']}").json()["standing"]
    left = [one["key"] for one in job["plan"]["route"]]
    if stopped:
        assert stands["next_title"] == end["now"]["route"][-1]["title"]
        assert ours.send("put", f"/jobs/{job['id']}/steps/{left[-1]}", {"done": True}).status_code == 422
    else:
        assert stands["next_key"] == ""
    closing = ours.send("put", f"/jobs/{job['id']}/closed", {"closed": True, "without": "walked"})
    assert closing.status_code == 200
