"""A route of the shop's own in the real interface: changed by keys and by hand, tried, kept, and at the bench."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server
from tests.browser.test_resize import work_through
from tests.browser.test_ways import kept


def steps(page: Page) -> Locator:
    return page.get_by_role("list", name="Our own steps")


def titles(page: Page) -> list[str]:
    return steps(page).locator("li").evaluate_all("all => all.map(one => one.dataset.step)")


def another(page: Page) -> Locator:
    return page.get_by_role("group", name="Another step")


def add(page: Page, title: str, after: str) -> None:
    words = another(page)
    words.get_by_label("Name of the step").fill(title)
    words.get_by_label("What is done").fill("With the small punches")
    words.get_by_label("It comes after").select_option(after)
    words.get_by_label("Minutes of hands").fill("4")


def opened(server: Server, page: Page) -> None:
    page.goto(f"{server.url}/ways#steps")
    expect(steps(page).locator("[data-step=hand-over]")).to_be_visible()


def test_steps_are_added_left_out_and_moved_and_the_ring_is_made_so(server: Server, bench: Page) -> None:
    opened(server, bench)
    add(bench, "Number the inside", "pickle-annealed")
    bench.reload()
    expect(another(bench).get_by_label("Name of the step")).to_have_value("Number the inside")
    bench.get_by_role("button", name="add it").click()
    expect(steps(bench).locator("[data-step=own-number-the-inside]")).to_be_visible()
    bench.get_by_role("button", name=re.compile("leave out.*Flatten the edges")).click()
    expect(bench.locator("[data-left-out=flatten]").first).to_be_visible()
    expect(bench.get_by_test_id("tried").first).to_contain_text("nothing breaks")
    bench.reload()  # it is a draft until it is kept
    expect(steps(bench).locator("[data-step=own-number-the-inside]")).to_be_visible()
    kept(bench)
    bench.goto(f"{server.url}/ring")
    expect(bench.get_by_test_id("whose-steps")).to_contain_text("By our own steps.")
    bench.get_by_label("Finger size", exact=True).fill("US 5 3/4")
    expect(bench.get_by_test_id("strip").first).to_be_visible()
    bench.get_by_role("button", name="Put it on the bench").click()
    expect(bench.locator("[data-step=own-number-the-inside]")).to_be_visible()
    expect(bench.locator("[data-step=flatten]")).to_have_count(0)
    work_through(bench)
    expect(bench.locator("[data-step]").last).to_have_attribute("data-done", "true")


def test_what_a_move_breaks_stands_at_the_step_and_is_not_kept(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors.append("422")
    opened(server, bench)
    before = titles(bench)
    grip = bench.get_by_role("button", name="Move Close the joint under tension, arrow keys")
    grip.focus()
    grip.press("ArrowUp")
    close = steps(bench).locator("[data-step=close]")
    expect(close).to_contain_text("what is closed was open")
    expect(close).to_contain_text("more of those tried")
    expect(grip).to_be_focused()  # the hand stays where it was
    bench.get_by_role("button", name="Keep these ways").click()
    expect(
        bench.get_by_text(re.compile("plain band, fine silver, sawn once: “Close the joint")).first
    ).to_be_visible()
    grip.press("ArrowDown")
    expect(close).not_to_contain_text("what is closed was open")
    assert titles(bench) == before
    wash = steps(bench).locator("[data-step=wash]")
    wash.get_by_role("button", name=re.compile("^Move")).drag_to(steps(bench).locator("[data-step=flatten]"))
    expect(steps(bench).locator("[data-step=wash].wrong")).to_have_count(0)
    expect(steps(bench).locator("li").nth(before.index("flatten"))).to_have_attribute("data-step", "wash")


def test_an_order_that_they_break_names_the_step_and_takes_the_usual_ones(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors.append("422")
    opened(server, bench)
    bench.get_by_label("Style", exact=True).first.select_option("adjustable")
    outline = steps(bench).locator("[data-step=outline]")
    outline.get_by_role("button", name=re.compile("leave out")).click()
    expect(bench.locator("[data-left-out=outline]").first).to_be_visible()
    kept(bench)
    bench.goto(f"{server.url}/ring")
    bench.get_by_label("Style", exact=True).select_option("adjustable")
    expect(bench.get_by_test_id("whose-steps")).to_contain_text("By our own steps.")
    bench.get_by_label("Layout", exact=True).select_option("bypass")
    problem = bench.get_by_role("alert").filter(has_text="By your own steps it does not go")
    expect(problem).to_contain_text("how much metal is in it")
    problem.get_by_role("button").click()
    expect(problem).to_have_count(0)
    expect(bench.get_by_test_id("whose-steps")).to_contain_text("By the usual steps.")
    expect(bench.get_by_test_id("strip").first).to_be_visible()
