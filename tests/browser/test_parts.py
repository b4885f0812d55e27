"""Parts, surfaces and worth in the real interface: from the finger to the hand-over, and at the counter."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, in_database
from tests.browser.test_resize import done, work_through


def choose(page: Page, label: str, key: str) -> None:
    page.get_by_label(label, exact=True).select_option(key)


def fill(page: Page, label: str, text: str) -> None:
    page.get_by_label(label, exact=True).fill(text)


def on_the_bench(page: Page) -> None:
    page.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_test_id("step")).to_be_visible()


def test_a_seat_ring_from_the_finger_to_the_hand_over(server: Server, bench: Page) -> None:
    bench.keyboard.press("n")
    fill(bench, "Finger size", "US 5 1/4")
    choose(bench, "Part 1", "seat-ring")
    fill(bench, "Inside 1", "4.2")
    fill(bench, "Wire 1", "0.8")
    expect(bench.get_by_text("over the wire")).to_be_visible()
    fill(bench, "Wire 1", "3")
    expect(bench.get_by_text("does not go round so small an inside")).to_be_visible()
    fill(bench, "Wire 1", "0.8")
    expect(bench.locator("[data-term=inside]")).to_have_count(0)  # the band's ledger stands first
    bench.get_by_role("button", name=re.compile("^seat ring")).click()
    expect(bench.locator("[data-term=inside]")).to_contain_text("once round its inside")
    on_the_bench(bench)
    expect(bench.locator("[data-step=coil-seat-seat-ring-1]")).to_be_visible()
    work_through(bench)
    last = bench.locator("[data-step]").last
    expect(last).to_have_attribute("data-step", "hand-over")
    expect(last).to_have_attribute("data-done", "true")


def test_a_bezel_is_added_to_a_ring_that_is_resized(server: Server, bench: Page) -> None:
    bench.keyboard.press("r")
    fill(bench, "Present size", "US 6")
    fill(bench, "Wanted size", "US 7 1/2")
    fill(bench, "Width along the finger", "3.2")
    fill(bench, "Thickness", "1.4")
    choose(bench, "Part 1", "bezel")
    choose(bench, "Shape of stone 1", "cushion")
    fill(bench, "Stone 1 long", "5")
    fill(bench, "Stone 1 wide", "6")
    expect(bench.get_by_text("Write them the other way round")).to_be_visible()
    fill(bench, "Stone 1 wide", "4")
    fill(bench, "Corner of stone 1", "1")
    choose(bench, "Metal 1", "fine-silver")
    part = bench.get_by_role("region", name="bezel")
    expect(part).to_contain_text("girth of the stone")
    expect(part).to_contain_text("fine silver")
    on_the_bench(bench)
    expect(bench.locator("[data-step=level-rims-bezel-1]")).to_have_count(1)
    bench.reload()
    expect(bench.locator("[data-step=level-rims-bezel-1]")).to_have_count(1)
    number = bench.url.rsplit("/", 1)[1].split("#")[0]
    bench.goto(f"{server.url}/resize/{number}")  # and it is still in the sentence, as it was said
    expect(bench.get_by_label("Stone 1 wide")).to_have_value("4")
    expect(bench.get_by_label("Metal 1", exact=True)).to_have_value("fine-silver")


def test_a_ring_with_three_surfaces_is_drawn_as_a_grid_and_a_grit_waits(server: Server, bench: Page) -> None:
    bench.keyboard.press("n")
    fill(bench, "Finger size", "US 8 1/4")
    choose(bench, "Surface of the outside", "satin")
    choose(bench, "Surface of the inside", "mirror")
    choose(bench, "Surface of the edges", "matte")
    grid = bench.get_by_role("table", name="Finish, face by face")
    expect(grid.get_by_role("columnheader")).to_have_text(
        ["320", "600", "steel wool", "satin brush", "tripoli", "rouge"]
    )
    edges = grid.get_by_role("row", name=re.compile("^edges"))
    expect(edges.get_by_role("cell")).to_have_text(["yes", "no", "yes", "no", "no", "no"])
    choose(bench, "Surface of the inside", "tumbled")
    expect(bench.get_by_text("Shot brightens every face").first).to_be_visible()
    choose(bench, "Surface of the inside", "mirror")
    expect(grid).to_be_visible()
    on_the_bench(bench)
    bench.locator("[data-step=finish-600-paper]").click()
    step = bench.get_by_test_id("step")
    expect(step.get_by_test_id("grit-waits")).to_contain_text("320 is not done on every face yet")
    expect(step.get_by_role("button", name="Done all the same, next")).to_be_visible()
    bench.locator("[data-step=finish-320-paper]").click()
    expect(step.get_by_role("button", name="Done, next")).to_be_visible()
    done(bench)
    expect(step.get_by_role("heading")).to_contain_text("600 paper")
    expect(step.get_by_test_id("grit-waits")).to_have_count(0)


def test_an_absurd_price_is_answered_and_a_ring_costs_this_or_that(server: Server, bench: Page) -> None:
    bench.goto(f"{server.url}/worth")
    asked = bench.get_by_role("region", name="Asked about: palladium")
    expect(asked).to_contain_text("is that so?")
    asked.get_by_role("button", name="no, leave it out").click()
    expect(asked).to_have_count(0)
    bench.reload()
    expect(bench.get_by_role("region", name="Prices")).to_contain_text("palladium")
    expect(asked).to_have_count(0)
    bench.goto(f"{server.url}/ring")
    bench.get_by_role("button", name="what it costs").click()
    panel = bench.get_by_test_id("two-metals")
    expect(panel.get_by_test_id("costs-sterling")).to_be_visible()
    choose(bench, "Beside it in", "gold-14k-yellow")
    expect(panel.get_by_test_id("costs-gold-14k-yellow")).to_be_visible()
    one, other = (panel.get_by_test_id(f"costs-{key}").inner_text() for key in ("sterling", "gold-14k-yellow"))
    assert float(other) > 2 * float(one)


def test_what_shows_two_days_later_is_typed_kept_and_told(server: Server, bench: Page) -> None:
    in_database(
        server,
        "from django.utils import timezone\nfrom workshop.jobs.models import Job\n"
        "Job.objects.filter(number=1).update(looked_at=None, look_again=timezone.now())",
    )
    bench.goto(f"{server.url}/")
    name = bench.get_by_label(re.compile("^What shows on"))
    name.fill("a pink patch inside")
    bench.reload()
    expect(name).to_have_value("a pink patch inside")
    bench.get_by_role("button", name=re.compile("^looked at")).click()
    expect(name).to_have_count(0)
    said = in_database(
        server,
        "from workshop.core.models import Event\n"
        "print(Event.objects.filter(what='looked-again').latest('pk').after['found'])",
    )
    assert said == "a pink patch inside"
