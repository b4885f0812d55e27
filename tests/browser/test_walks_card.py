"""Rings drawn at random, worked through on the card by keyboard, each step with what it expects, to the hand-back."""

from __future__ import annotations

import json
import random
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.test_resize import hand_back, work_through
from tests.ringcraft.thingcases import LEVELS, NAMES, order_of

POST = """async body => {
  const token = /csrftoken=([^;]+)/.exec(document.cookie)[1]
  const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': token }
  const answer = await fetch('/api/jobs', { method: 'POST', headers, body })
  return [answer.status, await answer.json()]
}"""


def on_the_bench(page: Page, draw: random.Random) -> int:
    for _ in range(12):
        data, _ = order_of(tuple(draw.randrange(len(LEVELS[name])) for name in NAMES))
        data |= {"metal": draw.choice(("sterling", "gold-14k-yellow", "platinum-950", "bronze"))}
        data["override_reason"] = "her wish"
        sent: dict[str, Any] = {"work": "resize", "title": "to size", "customer_name": "Ilse Bram", "order": data}
        status, answer = page.evaluate(POST, json.dumps(sent))
        if status == 201:
            return int(answer["id"])
    raise AssertionError("no ring of a dozen was taken in")


@pytest.mark.parametrize("seed", range(3))
def test_a_drawn_ring_is_worked_through_on_the_card(
    server: Server, bench: Page, expected_errors: list[str], seed: int
) -> None:
    expected_errors += ["422"]  # a drawn ring may be refused at a field; then another is drawn
    job = on_the_bench(bench, random.Random(300 + seed))
    bench.goto(f"{server.url}/job/{job}")
    expect(bench.get_by_test_id("step")).to_be_visible()
    work_through(bench)
    hand_back(bench)
