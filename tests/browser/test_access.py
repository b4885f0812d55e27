"""WCAG 2.2 AA beside what axe sees: the keyboard alone, 200 and 400 %, no motion, forced colours, what is spoken."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PASSWORD, SIZE, USER, Server
from tests.browser.test_every_screen import FRAMES_DRAWN, SCREENS, open_screen, violations

#: What can be reached at all: shown, not switched off, and one of a group of radio buttons.
CONTROLS = """() => {
  const shown = (one) => one.checkVisibility({ visibilityProperty: true }) && one.getClientRects().length > 0
  const all = [...document.querySelectorAll(
    'a[href], button, input, select, textarea, summary, [tabindex]:not([tabindex="-1"])')]
  const groups = new Set()
  return all.filter((one) => {
    if (one.disabled || !shown(one) || one.tabIndex < 0 || one.closest('[inert]')) return false
    if (one.type !== 'radio') return true
    if (groups.has(one.name)) return false
    groups.add(one.name)
    return true
  })
}"""
MARK = f"() => ({CONTROLS})().map((one, nth) => (one.dataset.reach = nth)).length"
#: How a control and all in it look.
LOOKS = """(one) => [one, ...one.querySelectorAll('*')].slice(0, 40).map((part) => {
  const style = getComputedStyle(part)
  return [style.outlineStyle === 'none' ? '' : `${style.outlineStyle} ${style.outlineWidth} ${style.outlineColor}`,
    style.backgroundColor, style.color, style.borderBottomColor, style.boxShadow, style.stroke, style.strokeWidth,
    style.fill, style.textDecorationLine].join()
}).join('|')"""
#: Where the keyboard is, and how it looks there.
AT = f"""() => {{
  const at = document.activeElement
  const group = at.type === 'radio' ? document.querySelector(`[name="${{at.name}}"][data-reach]`) : null
  const reach = (group ?? at).dataset.reach ?? null
  if (reach !== null) at.dataset.looked = ({LOOKS})(at)
  return reach
}}"""
#: Those that look with the keyboard on them as they do without it.
UNSEEN = f"""() => {{
  document.activeElement.blur()
  return [...document.querySelectorAll('[data-looked]')]
    .filter((one) => one.checkVisibility() && one.dataset.looked === ({LOOKS})(one))
    .map((one) => one.outerHTML.replace(/data-looked="[^"]*"/, '').slice(0, 140))
}}"""


@pytest.mark.sweep
@pytest.mark.parametrize("name", SCREENS)
def test_the_keyboard_reaches_everything_and_one_sees_where_it_is(server: Server, bench: Page, name: str) -> None:
    open_screen(server, bench, SCREENS[name], "paper")
    bench.evaluate("document.activeElement.blur(), scrollTo(0, 0)")
    count = bench.evaluate(MARK)
    reached: set[str] = set()
    for _ in range(count + 30):
        bench.keyboard.press("Tab")
        reached |= {bench.evaluate(AT)} - {None}
        if len(reached) == count:
            break
    missed = bench.evaluate(
        "reached => [...document.querySelectorAll('[data-reach]')].filter(one => !reached.includes(one.dataset.reach)"
        " && one.checkVisibility()).map(one => one.outerHTML.slice(0, 120))",
        list(reached),
    )
    assert missed == []
    assert bench.evaluate(UNSEEN) == []


def test_the_main_job_by_the_keyboard_alone(server: Server, screen: Page) -> None:
    """Sign in, a ring from its sentence onto the bench, its first step done: no pointer."""
    screen.goto(server.url)
    expect(screen.get_by_label("Name")).to_be_visible()
    reach(screen, "Name")
    screen.keyboard.type(USER)
    screen.keyboard.press("Tab")
    screen.keyboard.type(PASSWORD)
    screen.keyboard.press("Enter")
    expect(screen.get_by_test_id("now")).to_be_visible()
    screen.keyboard.press("n")
    expect(screen.get_by_label("Finger size")).to_be_focused()
    screen.keyboard.press("Control+A")
    screen.keyboard.type("US 8 1/2")
    reach(screen, "Name of the job")
    screen.keyboard.type("by keys alone")
    reach(screen, "Put it on the bench")
    screen.keyboard.press("Enter")
    expect(screen.get_by_test_id("step")).to_be_visible()
    first = screen.get_by_test_id("step").get_by_role("heading").first.inner_text()
    reach(screen, "Done, next")
    screen.keyboard.press("Enter")
    expect(screen.get_by_test_id("step").get_by_role("heading").first).not_to_have_text(first)
    assert screen.locator("[data-done=true]").count() == 1


def reach(page: Page, name: str) -> None:
    """Tab until the control of this name has the keyboard."""
    for _ in range(150):
        said = page.evaluate(
            "() => { const at = document.activeElement; return [at.ariaLabel, at.innerText,"
            " at.labels?.[0]?.innerText, at.getAttribute('aria-label')].filter(Boolean).join('|') }"
        )
        if name in said:
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"the keyboard does not come to {name}")


@pytest.mark.sweep
@pytest.mark.parametrize("name", SCREENS)
def test_at_200_and_400_percent_nothing_is_cut_off(server: Server, bench: Page, axe: str, name: str) -> None:
    """A screen of 1280 x 1024 at 400 % is 320 x 256 (WCAG 1.4.10), at 200 % 640 x 512."""
    for theme in ("paper", "dim"):
        open_screen(server, bench, SCREENS[name], theme)
        for width, height in ((640, 512), (320, 256)):
            bench.set_viewport_size({"width": width, "height": height})
            bench.evaluate(FRAMES_DRAWN)
            wide = bench.evaluate("[innerWidth, document.documentElement.scrollWidth]")
            assert wide[1] <= wide[0], wide
            assert violations(bench, axe) == [], (theme, width)


MOTION = """() => [...document.querySelectorAll('*')].filter((one) => {
  const style = getComputedStyle(one)
  const moves = (text) => text.split(',').some((part) => parseFloat(part) > 0.01)
  return moves(style.transitionDuration) || (style.animationName !== 'none' && moves(style.animationDuration))
}).map((one) => one.outerHTML.slice(0, 120)).slice(0, 5)"""


@pytest.mark.sweep
@pytest.mark.parametrize("name", SCREENS)
def test_nothing_moves_for_who_wants_no_motion(server: Server, bench: Page, name: str) -> None:
    bench.emulate_media(reduced_motion="reduce")
    open_screen(server, bench, SCREENS[name], "paper")
    assert bench.evaluate("matchMedia('(prefers-reduced-motion: reduce)').matches") is True
    assert bench.evaluate(MOTION) == []
    bench.emulate_media(reduced_motion="no-preference")


#: Letters of drawings that cannot be told from what lies behind the page, in colours that the system forces.
PALE = """() => {
  const light = (colour) => {
    const [r, g, b] = colour.match(/[\\d.]+/g).map(Number).map((one) => one / 255)
      .map((one) => (one <= 0.04045 ? one / 12.92 : ((one + 0.055) / 1.055) ** 2.4))
    return 0.2126 * r + 0.7152 * g + 0.0722 * b
  }
  const probe = document.createElement('p')
  probe.style.cssText = 'forced-color-adjust:none;background:Canvas'
  document.body.append(probe)
  const ground = light(getComputedStyle(probe).backgroundColor)
  probe.remove()
  return [...document.querySelectorAll('svg text')].filter((one) => one.checkVisibility()).filter((one) => {
    const own = light(getComputedStyle(one).fill)
    return (Math.max(own, ground) + 0.05) / (Math.min(own, ground) + 0.05) < 4.5
  }).map((one) => one.outerHTML.slice(0, 120)).slice(0, 5)
}"""


@pytest.fixture
def forced(bench: Page) -> Iterator[Page]:
    bench.emulate_media(forced_colors="active", color_scheme="dark")
    yield bench
    bench.emulate_media(forced_colors="none", color_scheme="light")


@pytest.mark.sweep
@pytest.mark.parametrize("name", SCREENS)
def test_letters_of_drawings_are_seen_in_forced_colours(server: Server, forced: Page, name: str) -> None:
    open_screen(server, forced, SCREENS[name], "paper")
    assert forced.evaluate("matchMedia('(forced-colors: active)').matches") is True
    assert forced.evaluate(PALE) == []


def test_what_is_done_and_where_one_is_are_seen_in_forced_colours(server: Server, forced: Page) -> None:
    open_screen(server, forced, "/job/15", "paper")
    colour = "one => getComputedStyle(one).backgroundColor"
    boxes = {done: forced.locator(f"[data-done={done}] .box").first.evaluate(colour) for done in ("true", "false")}
    assert boxes["true"] != boxes["false"]
    here, other = (
        forced.locator(f"[data-step]{which}").first for which in ("[aria-current]", ":not([aria-current])")
    )
    assert here.evaluate(colour) != other.evaluate(colour)
    border = "one => getComputedStyle(one).borderBottomColor"
    nav = forced.get_by_role("navigation", name="Main")
    assert nav.get_by_role("link", name="Bench").evaluate(border) != nav.get_by_role("link", name="Ways").evaluate(
        border
    )


def spoken(page: Page, test_id: str) -> str:
    """What a screen reader says of it: the accessible name, by the browser's own tree."""
    said = page.get_by_test_id(test_id).first.locator("xpath=ancestor::button[1]").aria_snapshot()
    found = re.search(r'button "(.*)"', said)
    assert found, said
    return found[1]


@pytest.mark.parametrize(
    ("path", "unit"), [("/ring", "mm"), ("/resize/15", "mm"), ("/job/1", "mm"), ("/mill", "mm"), ("/melt", "g")]
)
def test_the_figure_that_is_spoken_is_the_one_that_is_shown_with_its_unit(
    server: Server, bench: Page, path: str, unit: str
) -> None:
    open_screen(server, bench, path, "paper")
    figure = bench.get_by_test_id("figure").first
    expect(figure).to_have_text(re.compile(r"\d"))
    shown = figure.inner_text()
    assert spoken(bench, "figure").startswith(f"{shown} {unit} ")


def test_in_inches_it_is_spoken_in_inches(server: Server, bench: Page) -> None:
    in_inches: Any = bench.evaluate(
        "async () => { const token = document.cookie.match(/csrftoken=([^;]+)/)[1];"
        "const now = await (await fetch('/api/ways')).json();"
        "const answer = await fetch('/api/ways/mine', { method: 'PUT', headers: { 'X-CSRFToken': token,"
        " 'Content-Type': 'application/json' }, body: JSON.stringify({ version: now.mine_version,"
        " ...now.mine, units: 'in' }) }); return answer.status }"
    )
    assert in_inches == 200
    open_screen(server, bench, "/ring", "paper")
    figure = bench.get_by_test_id("figure").first
    expect(figure).to_have_text(re.compile(r"\d"))
    assert spoken(bench, "figure").startswith(f"{figure.inner_text()} in ")


def test_the_size_of_the_pictures_is_the_one_the_screens_are_made_for() -> None:
    assert SIZE == {"width": 1280, "height": 800}
