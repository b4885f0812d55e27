"""The record that learns, in the browser: ten rings teach, the sheet offers, a wrong ring is found out."""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server
from tests.orders import order, plan

CALL = """async ([method, path, body]) => {
  const csrf = /csrftoken=([^;]+)/.exec(document.cookie)[1]
  const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': csrf }
  const answer = await fetch('/api' + path, { method, headers, body: body && JSON.stringify(body) })
  if (!answer.ok) throw new Error(method + path + (await answer.text()))
  return await answer.json()
}"""
RING: dict[str, Any] = {**order(size="US 6 3/4", leave="exact", round_to_mm=0.1), "ways": "shop"}


def call(page: Page, method: str, path: str, body: Any = None) -> Any:
    return page.evaluate(CALL, [method, path, body])


def a_ring(page: Page, off_mm: float) -> int:
    """A half-round band as its card would keep it, whose size came out so much [mm inside] beside the plan."""
    job = call(page, "POST", "/jobs", {"title": "band", "customer_name": "Osk Brannagh", "order": RING})
    read = {
        "stock-thickness": "1.8",
        "cut-length": f"{job['plan']['blanks'][0]['cut_length_mm']:.2f}",
        "daylight": "no",
        "size-rounded": f"{job['plan']['closing']['inside_diameter_mm'] + off_mm:.3f} mm ID",
    }
    for key, text in read.items():
        call(page, "PUT", f"/jobs/{job['id']}/measures/{key}", {"text": text})
    return int(job["id"])


def on_the_sheet(page: Page) -> Locator:
    page.keyboard.press("n")
    page.get_by_label("Finger size").fill("US 6 3/4")
    page.get_by_label("Leave it").select_option("exact")
    return page.get_by_test_id("figure")


@pytest.mark.usefixtures("server")
def test_ten_rings_later_the_sheet_offers_its_correction(bench: Page) -> None:
    for at in range(10):
        a_ring(bench, 0.13 + 0.01 * (at % 3))
    bench.keyboard.press("l")
    expect(bench.get_by_test_id("learnt-lead")).to_contain_text("They close 0.4")
    expect(bench.get_by_test_id("offer")).to_contain_text("Cut 0.4 shorter")
    offered = call(bench, "GET", "/logbook/learnt")["groups"][0]
    taught = {"group": offered["group"], "round_mm": offered["offer_mm"]}
    before = plan(size="US 6 3/4", leave="exact").blanks[0]
    expect(on_the_sheet(bench)).to_have_text(before.cut_text)
    offer = bench.get_by_test_id("taught")
    expect(offer).to_contain_text("Half-round silver closes 0.4")
    offer.get_by_role("button", name="cut 0.4 shorter").click()
    after = plan(size="US 6 3/4", leave="exact", own={"corrections": [taught]}).blanks[0]
    assert 0.3 < before.cut_length_mm - after.cut_length_mm < 0.6
    expect(bench.get_by_test_id("figure")).to_have_text(after.cut_text)
    expect(offer).to_have_count(0)
    expect(bench.get_by_text("own correction")).to_be_visible()
    kept = call(bench, "GET", "/ways")["workshop"]["corrections"]
    assert [(row["group"], row["rings"]) for row in kept] == [("half-round/silver", "10")]


def test_a_wrong_ring_is_found_out_by_one_more_measure(bench: Page, server: Server) -> None:
    job = call(bench, "POST", "/jobs", {"title": "band", "customer_name": "Pym", "order": RING})
    closes = job["plan"]["closing"]["inside_diameter_mm"]
    call(bench, "PUT", f"/jobs/{job['id']}/measures/size-rounded", {"text": f"{closes - 1.52:.2f} mm ID"})
    bench.goto(f"{server.url}/job/{job['id']}#round")
    bench.reload()
    bench.get_by_role("link", name="why?").click()
    finding = bench.get_by_test_id("finding")
    expect(finding).to_contain_text("The thickness was forgotten")
    expect(bench.get_by_test_id("ask")).to_contain_text("Measure next")
    cut = job["plan"]["blanks"][0]["cut_length_mm"]
    call(bench, "PUT", f"/jobs/{job['id']}/measures/cut-length", {"text": f"{cut - 4.76:.2f}"})
    bench.reload()
    expect(finding).to_contain_text("The thickness was forgotten: 99 in a hundred")
    bench.get_by_label("What it was", exact=True).select_option("thickness-forgotten")
    bench.get_by_label("A word about it").fill("read off the chart")
    bench.get_by_role("button", name="Keep it").first.click()
    expect(bench.get_by_test_id("counts")).to_contain_text("It was: the thickness was forgotten (read off the chart)")


def test_a_reading_is_corrected_and_both_stay(bench: Page, server: Server) -> None:
    job = a_ring(bench, 0.3)
    bench.goto(f"{server.url}/logbook/{job}")
    expect(bench.get_by_test_id("counts")).to_contain_text("0.94 round large")
    call(bench, "PUT", f"/jobs/{job}/measures/size-rounded", {"text": "US 6 3/4"})
    bench.reload()
    expect(bench.get_by_test_id("counts")).not_to_contain_text("0.94 round large")
    lines = [line["says"] for line in call(bench, "GET", f"/jobs/{job}/history")["items"]]
    assert sum("size after rounding" in line for line in lines) == 2


def test_readings_go_round_the_shank_and_outlive_a_reload_half_typed(bench: Page, server: Server) -> None:
    job = a_ring(bench, 0.0)
    bench.goto(f"{server.url}/logbook/{job}")
    where, reads = bench.get_by_label("Where"), bench.get_by_label("What it reads there")
    where.select_option("left-45")
    for text in ("1.85", "1.40", "1.62"):  # left, bottom, right: the next place waits by itself
        reads.fill(text)
        reads.press("Enter")
        expect(bench.get_by_role("list", name="Readings").get_by_text(text)).to_be_visible()
    expect(bench.get_by_text("45° left: take 0.23.")).to_be_visible()
    reads.fill("1.77")
    bench.reload()
    expect(reads).to_have_value("1.77")
    bench.get_by_role("button", name="Take away thickness at the bottom").click()
    expect(bench.get_by_role("list", name="Readings").get_by_role("listitem")).to_have_count(2)


def test_the_logbook_is_searched_sorted_and_taken_out(bench: Page) -> None:
    large, small = a_ring(bench, 0.4), a_ring(bench, -0.4)
    bench.keyboard.press("l")
    rings = bench.get_by_label("The rings")
    bench.get_by_label("Find rings").fill("half-round sterling brannagh large")
    expect(rings.get_by_role("listitem")).to_have_count(1)
    expect(rings.locator(f"a[href='/logbook/{large}']")).to_be_visible()
    bench.get_by_label("Find rings").fill("brannagh")
    bench.get_by_label("Sorted").select_option("smallest")
    expect(rings.locator("li a").first).to_have_attribute("href", f"/logbook/{small}")
    with bench.expect_download() as taken:
        bench.get_by_role("link", name="JSON").click()
    data = json.loads(taken.value.path().read_text())
    assert {ring["came_out"] for ring in data["rings"]} == {"large", "small"}


def test_bare_figures_are_diagnosed_on_a_page_of_their_own(bench: Page) -> None:
    bench.keyboard.press("l")
    bench.get_by_role("link", name="why did a ring come out wrong?").click()
    bench.get_by_label("What was wanted").fill("us 7.5, half-round 4x1.8, sterling")
    bench.get_by_label("What it measures").fill("16.2 mm ID")
    expect(bench.get_by_test_id("finding")).to_contain_text("The thickness was forgotten")
    bench.reload()
    expect(bench.get_by_label("What it measures")).to_have_value("16.2 mm ID")
    expect(bench.get_by_test_id("finding")).to_contain_text("The thickness was forgotten")
    bench.get_by_label("What it measures").fill("a lot")
    expect(bench.get_by_text("is not a finger size")).to_be_visible()
