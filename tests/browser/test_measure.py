"""Gauges, customers, charts and the caliper, in the browser."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from ringcraft.styles.orders import FIRST_SIZE
from tests.browser.conftest import Server
from tests.browser.test_record import call
from tests.orders import plan
from tools.caliper import type_readings

EXACT_HALF_ROUND = {"leave": "small", "stock": {"width_mm": 4.0, "thickness_mm": 1.8}}


def test_calibrate_then_plan_on_that_gauge_with_the_keyboard(bench: Page) -> None:
    page = bench
    page.keyboard.press("g")
    page.get_by_label("Name of the gauge").fill("short mandrel")
    page.get_by_label("Name of the gauge").press("Enter")
    expect(page.get_by_role("heading", name="short mandrel")).to_be_visible()
    page.get_by_label("Caliper closed").focus()
    marks = [("4", 0.2), ("6", 0.2), ("7", 0.5), ("8", 0.2), ("10", 0.2)]
    readings = [(mark, f"{11.6332 + 0.8128 * int(mark) + off:.2f}") for mark, off in marks]
    type_readings(["0.00", *[text for pair in readings for text in pair]], page.keyboard.press)
    expect(page.get_by_test_id("fit-says")).to_contain_text("Mark 7 is off by +0.30 mm and left out")
    keep = page.get_by_role("button", name="Keep this calibration")
    expect(keep).to_be_enabled()
    keep.press("Enter")
    expect(page.get_by_role("region", name="Calibrations kept")).to_contain_text("5 marks, without 7")

    page.get_by_role("link", name="New ring").click()
    figure = page.get_by_test_id("figure")
    expect(figure).to_have_text(plan(size=FIRST_SIZE).blanks[0].cut_text)
    page.get_by_label("Read on").select_option(label="the short mandrel")
    gauge = {
        "scale": "us",
        "name": "short mandrel",
        "readings": [{"mark": mark, "diameter_mm": mm} for mark, mm in readings],
    }
    expect(figure).to_have_text(plan(size=FIRST_SIZE, gauge=gauge).blanks[0].cut_text)
    assert plan(size=FIRST_SIZE, gauge=gauge).blanks[0].cut_text != plan(size=FIRST_SIZE).blanks[0].cut_text
    page.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_text("US 63/4 on short mandrel").first).to_be_visible()


def test_the_simulated_caliper_fills_the_measure_and_its_zero_is_taken_off(bench: Page) -> None:
    page = bench
    page.get_by_test_id("bench-line").get_by_role("link", name="trial ring").click()
    expect(page.get_by_label("Caliper closed")).to_be_visible()
    page.keyboard.press("c")
    panel = page.get_by_test_id("caliper")
    panel.get_by_label("jaws").fill("0.02")
    panel.get_by_role("button", name="send").click()
    expect(page.get_by_label("thickness as measured")).to_be_focused()
    panel.get_by_label("jaws").fill("0.94")
    panel.get_by_role("button", name="send").click()
    expect(page.get_by_label("thickness as measured")).to_have_value("0.94")
    expect(page.get_by_text("zero 0.02 taken off")).to_be_visible()
    expect(page.locator("[data-verdict=stock-thickness]")).to_contain_text("0.02 thicker")
    expect(page.get_by_label("width as measured")).to_be_focused()
    page.keyboard.type("80")
    page.keyboard.press("Enter")
    expect(page.locator("[data-verdict=stock-width]")).to_contain_text("is that this stock?")


def test_a_reading_in_inches_stays_one_for_everybody(bench: Page) -> None:
    page = bench
    call(page, "PUT", "/ways/mine", {"caliper_units": "in", "version": 1})
    page.reload()
    page.get_by_test_id("bench-line").get_by_role("link", name="trial ring").click()
    field = page.get_by_label("thickness as measured")
    field.fill("0.037")
    field.press("Enter")
    verdict = page.locator("[data-verdict=stock-thickness]")
    expect(verdict).to_contain_text("thicker")
    expect(field).to_have_value("0.037")
    field.focus()
    page.get_by_label("width as measured").focus()  # left as it was: it is not read again
    page.get_by_label("width as measured").press("Enter")
    call(page, "PUT", "/ways/mine", {"caliper_units": "mm", "version": 2})
    page.reload()
    expect(field).to_have_value("0.037 in")
    expect(field.locator("xpath=..")).not_to_contain_text("mm")
    expect(page.get_by_text("read 2 times")).to_have_count(0)


def test_a_customers_finger_begins_a_ring(bench: Page) -> None:
    page = bench
    page.keyboard.press("u")
    page.get_by_label("Look for").fill("pym")
    page.get_by_role("list", name="Customers found").get_by_text("Pym").click()
    page.get_by_label("Which finger").fill("right thumb")
    page.get_by_label("Size", exact=True).fill("9 1/4")
    page.get_by_label("On which gauge").select_option(label="the long mandrel")
    page.get_by_role("form", name="Measure a finger").get_by_role("button", name="Keep it").click()
    thumb = page.get_by_role("list", name="Fingers").get_by_role("listitem").filter(has_text="right thumb")
    expect(thumb).to_contain_text("on long mandrel")
    thumb.get_by_role("button", name="make a ring").click()
    expect(page.get_by_label("Finger size")).to_have_value("9 1/4")
    expect(page.get_by_label("Customer")).to_have_value("Pym")


def test_a_pasted_chart_is_checked_and_adopted(bench: Page, server: Server) -> None:
    page = bench
    page.goto(f"{server.url}/charts")
    field = page.get_by_label("Paste it")
    field.fill("US 8;18,14;57,0\nUS 9;wide")
    expect(page.get_by_text("row 2:")).to_be_visible()
    field.fill("US 6;16,51;51,9\nUS 8;18,14;57,0\nUS 9;18,95;59,5\nUS 10;19,84;61,6")
    expect(page.get_by_test_id("chart-says")).to_have_text("1 of 4 rows cannot be: US 10.")
    page.get_by_label("Name of the chart").fill("wall chart")
    page.get_by_role("button", name="Adopt").click()
    expect(page.get_by_role("heading", name="wall chart")).to_be_visible()
    expect(page.get_by_role("region", name="Calibrations kept")).to_contain_text("3 marks")


def test_the_shops_ways_change_how_a_ring_begins(bench: Page) -> None:
    page = bench
    page.get_by_role("link", name="Ways", exact=True).click()
    page.get_by_role("link", name="Wren Ashdown", exact=True).click()
    mine = page.get_by_role("form", name="Wren Ashdown")
    mine.get_by_label("Units", exact=True).select_option("in")
    mine.get_by_role("button", name="Keep these ways").click()
    expect(page.get_by_text("Kept.")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_label("Thickness").fill("1/16")
    made = plan(size=FIRST_SIZE, units="in", stock={"thickness_mm": "1/16", "width_mm": "0.157"}, round_to_mm=0.1)
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)
    page.get_by_role("link", name="Ways", exact=True).click()
    page.get_by_role("link", name="Wren Ashdown", exact=True).click()
    mine.get_by_label("Units", exact=True).select_option("")
    mine.get_by_role("button", name="Keep these ways").click()
    expect(page.get_by_text("Kept.")).to_be_visible()


def test_the_screen_is_true_to_a_bank_card(bench: Page, server: Server) -> None:
    page = bench
    page.goto(f"{server.url}/true-size")
    page.get_by_label("Pixels a millimetre").fill("5")
    card = page.get_by_test_id("card-outline").locator("rect")
    assert float(card.get_attribute("width") or 0) == 85.6 * 5
    page.get_by_label("Inside diameter").fill("18.15")
    assert float(page.get_by_test_id("circle").get_attribute("r") or 0) == 18.15 / 2 * 5
    expect(page.get_by_text("18.15 mm inside")).to_be_visible()
    expect(page.get_by_text("Good for choosing, not for cutting")).to_be_visible()
