"""Practice in the real interface: ten cuts read and drawn, the hand made one's own; a joint's rounds."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.test_resize import done, work_through


def begin(page: Page, exercise: str) -> None:
    page.keyboard.press("p")
    page.get_by_label("Exercise", exact=True).select_option(exercise)
    expect(page.get_by_label("Name of the job")).to_have_attribute("placeholder", re.compile("^practice: "))


def on_the_bench(page: Page) -> None:
    page.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_test_id("step")).to_be_visible()


def test_ten_cuts_are_drawn_and_become_ones_own_setting(server: Server, bench: Page) -> None:
    begin(bench, "cuts")
    expect(bench.get_by_label("Customer")).to_have_count(0)
    bench.get_by_label("Length of each").fill("26.4")
    expect(bench.get_by_role("region", name="What to do")).to_contain_text("26.40")
    bench.reload()  # what was typed stays
    expect(bench.get_by_label("Length of each")).to_have_value("26.4")
    on_the_bench(bench)
    closed = bench.get_by_label("Caliper closed")
    if closed.is_visible():
        closed.fill("0.00")
        closed.press("Enter")
        expect(closed).to_have_count(0)
    drawn = bench.get_by_test_id("so-far")
    for n, off in enumerate((0.31, -0.28, 0.3, -0.33, 0.27, -0.3, 0.29, -0.31, 0.33, -0.27), start=1):
        field = bench.locator(f"[data-measure='cut-length@round-{n}']")
        field.fill(f"{26.4 + off:.2f}")
        field.press("Enter")
        expect(drawn.locator("circle")).to_have_count(n)
        done(bench)
    expect(drawn).to_contain_text("10 of 10 cut")
    offered = bench.get_by_test_id("offered")
    expect(offered).to_contain_text(re.compile(r"0\.2\d from ten cuts, not 0\.15"))
    offered.get_by_role("button", name="make it mine").click()
    expect(offered).to_have_count(0)
    expect(drawn).to_contain_text("It is yours now")
    bench.goto(f"{server.url}/ways#mine-cutting")
    mine = bench.get_by_role("form").filter(has_text="goes before the shop").get_by_label("Off in cutting")
    expect(mine).to_have_value(re.compile(r"^0\.2\d+$"))
    bench.goto(f"{server.url}/logbook")
    expect(bench.locator("h1").first).to_be_attached()
    expect(bench.get_by_text("practice: cuts")).to_have_count(0)


def test_a_joint_in_rounds_is_worked_and_said_round_by_round(server: Server, bench: Page) -> None:
    begin(bench, "joint")
    bench.get_by_label("Rounds", exact=True).fill("13")
    expect(bench.get_by_text("Practice goes in rounds.")).to_be_visible()
    bench.get_by_label("Rounds", exact=True).fill("1")
    expect(bench.get_by_role("list", name="The steps of a round").get_by_role("listitem")).to_have_count(8)
    on_the_bench(bench)
    work_through(bench)
    drawn = bench.get_by_test_id("so-far")
    expect(drawn).to_contain_text(re.compile("[01] of 1 came out."))
    bench.reload()
    expect(drawn).to_contain_text(re.compile("[01] of 1 came out."))


def test_a_shank_in_water_asks_how_deep(server: Server, bench: Page) -> None:
    begin(bench, "water")
    bench.get_by_label("Share in water").fill("30 %")
    expect(bench.get_by_text("in water 4.7")).to_be_visible()
    bench.get_by_label("Exercise", exact=True).select_option("cuts")
    expect(bench.get_by_label("Share in water")).to_have_count(0)
