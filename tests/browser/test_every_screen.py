"""Every screen in both themes: no axe violation, nothing wider than the screen, the bench as it stands."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server

SCREENS = {
    "bench": "/",
    "ring": "/ring",
    "order": "/ring/1",
    "card": "/job/1",
    "resize": "/resize",
    "order of a resize": "/resize/15",
    "card of a resize": "/job/16",
    "joint": "/job/1#inspect",
    "heat": "/job/16#solder-sizing",
    "annealing": "/job/1#anneal",
    "practice": "/practice",
    "order of another work": "/practice/1",
    "own steps": "/ways#steps",
    "batch": "/batch",
    "ticket": "/ticket/2",
    "drawer": "/drawer",
    "piece": "/drawer/1",
    "mill": "/mill",
    "melt": "/melt",
    "gauges": "/gauges",
    "gauge": "/gauges/1",
    "charts": "/charts",
    "customers": "/customers",
    "customer": "/customers/1",
    "logbook": "/logbook",
    "ring of the logbook": "/logbook/3",
    "why": "/why",
    "worth": "/worth",
    "ways": "/ways",
    "the day among the ways": "/ways#day",
    "solders": "/ways#solders",
    "one's own minutes": "/ways#mine-minutes",
    "people": "/ways#people",
    "safe keeping": "/ways#keeping",
    "one's own sign-in": "/ways#mine",
    "true-size": "/true-size",
    "welcome": "/welcome",
    "nowhere": "/nowhere",
}
AXE_TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]

FRAMES_DRAWN = "() => new Promise(drawn => requestAnimationFrame(() => requestAnimationFrame(() => drawn())))"


def open_screen(server: Server, page: Page, path: str, theme: str) -> None:
    page.evaluate("theme => localStorage.setItem('theme', theme)", theme)
    page.goto(server.url + path)
    if "#" in path:  # the same page with another step in its address is not loaded anew
        page.reload()
    page.locator("h1").first.wait_for(state="attached")
    page.wait_for_load_state("networkidle")


def violations(page: Page, axe: str) -> list[str]:
    page.evaluate(axe)
    found = page.evaluate("tags => axe.run({ runOnly: tags })", AXE_TAGS)
    return [f"{v['id']}: {json.dumps([n['html'][:150] for n in v['nodes'][:3]])}" for v in found["violations"]]


@pytest.mark.sweep
@pytest.mark.parametrize("name", SCREENS)
def test_no_axe_violation_and_nothing_wider_than_the_screen(server: Server, bench: Page, axe: str, name: str) -> None:
    for theme in ("paper", "dim"):
        open_screen(server, bench, SCREENS[name], theme)
        assert bench.locator("html").get_attribute("data-theme") == theme
        assert violations(bench, axe) == []
    for width in (360, 768, 1920):
        bench.set_viewport_size({"width": width, "height": 800})
        bench.evaluate(FRAMES_DRAWN)
        assert bench.evaluate("[innerWidth, document.documentElement.scrollWidth <= innerWidth]") == [width, True]


@pytest.mark.parametrize("theme", ["paper", "dim"])
def test_no_axe_violation_at_the_sign_in_and_the_keys(server: Server, screen: Page, axe: str, theme: str) -> None:
    screen.goto(server.url)
    open_screen(server, screen, "/", theme)
    expect(screen.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    assert violations(screen, axe) == []
    screen.keyboard.press("?")
    expect(screen.get_by_role("dialog")).to_contain_text("a new ring")
    assert violations(screen, axe) == []
    screen.keyboard.press("Escape")
    expect(screen.get_by_role("dialog")).to_have_count(0)


def test_single_keys_can_be_switched_off(bench: Page) -> None:
    bench.keyboard.press("?")
    bench.get_by_role("button", name="Switch single keys off").click()
    bench.keyboard.press("Escape")
    bench.keyboard.press("n")
    expect(bench.get_by_test_id("bench-line")).to_be_visible()
    bench.get_by_role("button", name="keys ?").click()
    bench.get_by_role("button", name="Switch single keys on").click()


def test_the_find_line_is_a_dialog_that_escape_leaves_from_anywhere(bench: Page) -> None:
    expect(bench.get_by_test_id("bench-line")).to_be_visible()
    bench.keyboard.press("s")
    found = bench.get_by_role("dialog", name="Find a job")
    expect(found.get_by_role("combobox")).to_be_focused()
    bench.keyboard.type("band")
    expect(found.get_by_role("option").first).to_be_visible()
    bench.keyboard.press("Tab")
    expect(found.get_by_role("button", name="close")).to_be_focused()
    bench.keyboard.press("Escape")
    expect(found).to_have_count(0)
    bench.keyboard.press("s")
    expect(found.get_by_role("combobox")).to_be_focused()
    bench.mouse.click(640, 780)  # beside it
    expect(found).to_have_count(0)
    bench.keyboard.press("?")
    keys = bench.get_by_role("dialog", name="Keys")
    expect(keys.get_by_role("button", name="away")).to_be_focused()
    bench.mouse.click(640, 20)
    expect(keys).to_have_count(0)


@pytest.mark.parametrize(
    ("path", "field"), [("/job/1#inspect", "Widest gap"), ("/job/16#solder-sizing", "Rolled, in degrees")]
)
def test_what_ends_a_step_stays_at_hand_under_a_long_sheet(
    server: Server, bench: Page, path: str, field: str
) -> None:
    open_screen(server, bench, path, "paper")
    step = bench.get_by_test_id("step")
    expect(step.get_by_label(field)).to_be_attached()
    bench.evaluate("scrollTo(0, 0)")
    expect(bench.get_by_test_id("act").get_by_role("button").first).to_be_in_viewport()
    assert step.evaluate("step => step.scrollHeight") > 800


def test_the_bench_stands_as_the_jobs_do(bench: Page) -> None:
    line = bench.get_by_test_id("bench-line")
    expect(line.locator("a[data-station=pickle]")).to_have_count(3)
    expect(line.get_by_role("link", name="trial ring")).to_have_attribute("data-station", "measure")
    expect(line.get_by_role("link", name="trial ring")).to_have_attribute("data-shape", "strip")
    expect(line.get_by_role("link", name="Marlow")).to_have_attribute("data-shape", "closed")
    expect(line.get_by_role("link", name="Arden")).to_have_attribute("data-shape", "open")
    expect(line.get_by_role("link", name="Quill")).to_have_attribute("data-shape", "closed")
    rows = bench.get_by_role("list", name="Open jobs by due date").get_by_role("listitem")
    expect(rows.first).to_contain_text("Verity Holm")
    expect(rows.nth(1)).to_contain_text("Pym")
    expect(line.get_by_role("link", name="Lowmoor")).to_have_attribute("data-station", "setter")
    expect(rows.filter(has_text="Ingle")).to_contain_text("at the plater's, rhodium, inside too, until")
    expect(rows.last).to_contain_text("no date")
    bench.keyboard.press(" ")
    expect(bench.get_by_test_id("step")).to_be_visible()


def test_the_figure_fills_the_screen_with_one_key(server: Server, bench: Page) -> None:
    open_screen(server, bench, "/ring", "paper")
    bench.get_by_label("Finger size").press("Escape")
    bench.keyboard.press("f")
    full = bench.locator("button.fixed")
    box = full.bounding_box()
    assert box is not None
    assert (box["width"], box["height"]) == (1280, 800)
    bench.keyboard.press("f")
    expect(full).to_have_count(0)
