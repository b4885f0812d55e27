"""Rewrite docs/screenshots from the demo workshop, on a private database of its own."""

from __future__ import annotations

import io
import re
import tempfile
from collections.abc import Callable
from pathlib import Path

import pdfplumber
from playwright.sync_api import Page, sync_playwright

from tools import demo
from tools.browser import SIZE, at_work, launch_arguments
from tools.mariadb import free_port, start

FOLDER = demo.ROOT / "docs" / "screenshots"
WORD = "only for the pictures"
FORGET = "Object.keys(localStorage).filter(k => k.startsWith('draft')).forEach(k => delete localStorage[k])"


def _bench(page: Page) -> None:
    page.get_by_test_id("bench-line").wait_for()


def _day(page: Page) -> None:
    page.locator("[data-testid=day][data-settled=true]").wait_for()
    page.evaluate("document.querySelector('[data-testid=day]').scrollIntoView()")
    page.wait_for_timeout(300)


def _ring(page: Page) -> None:
    page.get_by_test_id("strip").wait_for()
    page.get_by_test_id("taught").wait_for()
    page.get_by_role("listbox").focus()
    page.keyboard.press("ArrowDown")
    page.evaluate("window.scrollTo(0, 0)")


def _style(style: str) -> Callable[[Page], None]:
    def ready(page: Page) -> None:
        page.evaluate(FORGET)
        page.reload()
        page.get_by_test_id("strip").first.wait_for()
        page.get_by_label("Style", exact=True).select_option(style)
        page.get_by_label("Finger size").press("Escape")

    return ready


def _card(page: Page) -> None:
    page.get_by_test_id("step").wait_for()


def _theirs(page: Page) -> None:
    """A colleague saves on another device what is being typed here."""
    page.get_by_test_id("strip").wait_for()
    browser = page.context.browser
    assert browser is not None
    other = browser.new_context(locale="en-GB").new_page()
    other.goto(page.url)
    _sign_in(other, "linnet")
    other.get_by_test_id("strip").wait_for()
    other.get_by_label("Note", exact=True).fill("no nickel near her")
    other.get_by_label("Finger size").fill("UK N 1/2")
    other.get_by_role("button", name="Save the order").click()
    other.get_by_test_id("step").wait_for()
    page.get_by_label("Note", exact=True).fill("engrave inside")
    page.get_by_label("Thickness").fill("2.1")
    page.get_by_role("button", name="Save the order").click()
    page.get_by_test_id("theirs").wait_for()


def _sign_in(page: Page, user: str) -> None:
    page.get_by_label("Name", exact=True).fill(user)
    page.get_by_label("Password").fill(WORD)
    page.get_by_label("Password").press("Enter")


def _heading(page: Page) -> None:
    page.get_by_role("heading", level=1).wait_for()


def _resized(page: Page) -> None:
    page.get_by_label("What can be done").wait_for()


def _joint(page: Page) -> None:
    page.locator("[data-step=solder-sizing]").click()
    page.get_by_test_id("figure-drawing").first.wait_for()


def _wedge(page: Page) -> None:
    page.get_by_label("Seen from: side", exact=True).select_option("wedge-out")
    page.get_by_label("Seen from: other side").select_option("wedge-out")
    page.get_by_label("Widest gap").fill("0.35")
    page.get_by_text("Bend it again").wait_for()
    page.get_by_label("Widest gap").blur()
    page.get_by_test_id("joint-sheet").evaluate("sheet => window.scrollTo(0, sheet.offsetTop - 90)")


def _flame(page: Page) -> None:
    page.get_by_label("Share of the inside in water").fill("0.45")
    page.get_by_label("Seams in this heat").select_option("both")
    page.get_by_label("Stone opposite the joint").select_option("emerald")
    page.get_by_label("Rolled, in degrees").fill("11")
    page.get_by_text("Roll it 11").wait_for()
    page.get_by_label("Rolled, in degrees").blur()
    page.get_by_test_id("heat-sheet").evaluate("sheet => window.scrollTo(0, sheet.offsetTop - 10)")


def _logbook(page: Page) -> None:
    page.get_by_label("The rings").get_by_role("listitem").nth(3).wait_for()
    page.get_by_test_id("learnt-lead").wait_for()


def _drawer(page: Page) -> None:
    page.get_by_test_id("cut-bars").wait_for()
    page.get_by_label("What to cut").select_option("all")
    page.get_by_text("four blanks from one piece").wait_for()


def _mill(page: Page) -> None:
    page.get_by_label("Length now").fill("47.5")
    page.get_by_label("Width now").fill("4.5")
    page.get_by_test_id("stop").wait_for()
    page.get_by_label("Width now").blur()


def _melt(page: Page) -> None:
    page.get_by_label("Moulds").fill("6 × 6 × 45")
    page.get_by_test_id("melt-from").wait_for()
    page.get_by_label(re.compile("scrap 9")).check()
    page.get_by_text("are enough").wait_for()


#: name, address, theme, and what to wait for or do first
VIEWS: list[tuple[str, str, str, Callable[[Page], None]]] = [
    ("bench", "/", "paper", _bench),
    ("ring", "/ring", "paper", _ring),
    ("ring-signet", "/ring", "paper", _style("hollow-signet")),
    ("resize", "/resize/15", "paper", _resized),
    ("card-resize", "/job/15", "paper", _joint),
    ("theirs", "/ring/2", "paper", _theirs),
    ("card", "/job/5", "paper", _card),
    ("joint", "/job/1#inspect", "paper", _wedge),
    ("heat", "/job/16#solder-sizing", "dim", _flame),
    ("gauge", "/gauges/1", "paper", _heading),
    ("drawer", "/drawer", "paper", _drawer),
    ("logbook", "/logbook", "paper", _logbook),
    ("mill", "/mill", "paper", _mill),
    ("melt", "/melt", "paper", _melt),
    ("customer", "/customers/1", "paper", _heading),
    ("ways", "/ways#solders", "paper", _heading),
    ("day", "/", "paper", _day),
]


def photograph(url: str) -> None:
    """Take every view at 1280x800."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**launch_arguments())
        page = browser.new_context(
            viewport=SIZE, locale="en-GB", timezone_id=at_work(), reduced_motion="reduce"
        ).new_page()
        page.goto(url)
        page.get_by_role("heading", name="Whose bench is it?").wait_for()
        page.screenshot(path=FOLDER / "sign-in.png")
        page.goto(url)
        _sign_in(page, "wren")
        page.get_by_test_id("now").wait_for()
        for name, address, theme, ready in VIEWS:
            page.evaluate("theme => localStorage.setItem('theme', theme)", theme)
            page.goto(url + address)
            ready(page)
            page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / f"{name}.png")
            print(f"docs/screenshots/{name}.png")
        _slip(page, url)
        browser.close()


def _slip(page: Page, url: str) -> None:
    """The slip of a customer's two rings, as it comes out of the printer."""
    answer = page.request.get(f"{url}/api/slips/16,17.pdf")
    with pdfplumber.open(io.BytesIO(answer.body())) as paper:
        sheet = paper.pages[0].to_image(resolution=110).original
    sheet.crop((0, 0, sheet.width, sheet.height * 3 // 5)).save(FOLDER / "slip.png")


def main() -> None:
    """Start everything, take the pictures, stop everything."""
    with tempfile.TemporaryDirectory(prefix="ps-shots-") as folder:
        database = start(Path(folder) / "db", for_tests=True)
        environment = demo.application(
            database, PLAIN_SHANK_DEMO=f"wren:{WORD}", PLAIN_SHANK_STATIC_ROOT=f"{folder}/static"
        )
        server = None
        try:
            demo.prepare(environment)
            port = free_port()
            server = demo.serve(environment, port)
            demo.wait_for(port, server)
            photograph(f"http://127.0.0.1:{port}")
        finally:
            demo.stop(server)
            database.stop()


if __name__ == "__main__":
    main()
