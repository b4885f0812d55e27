"""The thing in the hand on the card: a reading that stops the work, a gap that the piece is cut to."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_resize import done, keep, take_in
from tests.resizes import figures, plan

GOLD = {"profile": "half-round", "width_mm": 3.2, "thickness_mm": 1.4}


def read(page: Page, key: str, text: str) -> None:
    """A measure typed at the step that stands open; yes or no where it is one."""
    if page.get_by_label("Caliper closed").is_visible():
        page.get_by_label("Caliper closed").fill("0.00")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Caliper closed")).to_have_count(0)
    field = page.get_by_test_id("step").locator(f"[data-measure='{key}']").first
    field.focus()
    if field.evaluate("it => it.tagName") == "BUTTON":
        page.keyboard.press("Enter")
    else:
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    expect(page.get_by_test_id("step").locator(f"[data-verdict='{key}']")).to_be_visible()


def test_a_reading_that_leaves_the_way_no_sense_stops_the_work_on_the_card(bench: Page) -> None:
    take_in(bench, "7", "6", "Ilse Bram")
    expect(bench.get_by_test_id("figure")).to_be_visible()
    keep(bench)
    read(bench, "thinnest", "1.4")
    done(bench)
    expect(bench.locator("[data-step=true-now]")).to_have_attribute("aria-current", "step")
    read(bench, "daylight-now", "no")
    read(bench, "size-now", "6")
    verdict = bench.get_by_test_id("step").locator("[data-verdict='size-now']")
    expect(verdict).to_contain_text("does not fit any more")
    expect(verdict).to_contain_text("that is the size that was wanted")
    expect(bench.locator("[data-step=ask-again]")).to_be_visible()
    expect(bench.locator("[data-step=cut-out]")).to_have_count(0)
    done(bench)
    step = bench.get_by_test_id("step")
    expect(step.get_by_role("link", name="Choose the way anew")).to_be_visible()
    expect(step.get_by_role("button", name="Take it off the bench")).to_be_visible()
    bench.locator("[data-step=true-now]").click()
    read(bench, "size-now", "7")
    expect(bench.locator("[data-step=cut-out]")).to_be_visible()
    expect(bench.locator("[data-step=ask-again]")).to_have_count(0)


def test_the_piece_is_cut_to_the_gap_as_it_was_read(bench: Page) -> None:
    made = plan(from_="US 6", to="US 7 1/4", shank=GOLD, method="add-stock")
    take_in(bench, "6", "7 1/4", "Corin Ash")
    expect(bench.get_by_test_id("figure")).to_have_text(made.lead.figure)
    keep(bench)
    bench.locator("[data-step=open-up]").click()
    step = bench.get_by_test_id("step")
    expect(step).to_contain_text("read the gap")
    wide = figures(made)["gap_inside_mm"] + 0.3
    read(bench, "gap-inside", f"{wide:.2f}")
    expect(step.locator("[data-verdict='gap-inside']")).to_contain_text("the gap is wider by 0.30")
    longer = plan(from_="US 6", to="US 7 1/4", shank=GOLD, method="add-stock", gap_inside_mm=round(wide, 2))
    bench.locator("[data-step=scribe-insert]").click()
    expect(step).to_contain_text(longer.blanks[0].cut_text)
