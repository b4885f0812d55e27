"""Nothing typed is lost, on any screen: a reload, a closed tab, a sign-out, a server or database that is away."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from ringcraft.styles.orders import FIRST_SIZE
from tests.browser.conftest import PASSWORD, Server, in_database, sign_in

#: screen, the label of each field that is typed into, what is typed
SHEETS: dict[str, tuple[str, dict[str, str]]] = {
    "new ring": ("/ring", {"Finger size": "UK Q", "Customer": "Anselm Thwaite", "Note": "twist", "Ticket": "A-7"}),
    "shorthand": ("/ring", {"Note": "the line above it"}),
    "order of a job": ("/ring/3", {"Thickness": "1.75", "Note": "engrave it"}),
    "measure on the card": ("/job/7", {"thickness as measured": "0.93"}),
    "new resize": (
        "/resize",
        {"Present size": "7 1/2", "Wanted size": "6", "Thickness": "1.4", "Customer": "Half Said"},
    ),
    "order of a resize": ("/resize/15", {"Wanted size": "6 3/8", "Note": "engraved too"}),
    "where it is": ("/job/2", {"Note on the place": "with two stones"}),
    "new customer": ("/customers", {"Name of the customer": "Half Typed"}),
    "customer": ("/customers/1", {"Note": "allergic to nickel", "Which finger": "right thumb", "Size": "9 1/4"}),
    "new gauge": ("/gauges", {"Name of the gauge": "peg", "Where it lives": "drawer", "Finger": "8 1/4"}),
    "gauge": ("/gauges/3", {"Mark 1": "50", "Reading 1": "15.93", "Where it lives": "by the window"}),
    "what to cut": ("/drawer", {"Lost to square an end": "0.6"}),
    "new piece": ("/drawer", {"Thickness": "1.35", "Lot": "half a lot", "Its name": "thin coil"}),
    "piece": ("/drawer/1", {"Where it lies": "top shelf", "So long": "12.5", "Why": "for a trial"}),
    "mill": ("/mill", {"Length now": "46.2", "Thickness of the bar": "3.3"}),
    "melt": ("/melt", {"Moulds": "6 6 40", "Length of the bar": "51"}),
    "chart": ("/charts", {"Paste it": "US 5; 15,70; 49,3\nUS 6; 16,51; 51,9"}),
    "ways": ("/ways#cutting", {"Rounding": "0.25"}),
    "solders": ("/ways#solders", {"silver easy: flows": "712", "silver easy: melts": "665"}),
    "joint": ("/job/1#inspect", {"Widest gap": "0.31", "Filed beyond the plan": "0.07"}),
    "heat": ("/job/16#solder-second", {"Rolled, in degrees": "13", "Tweezers from the joint": "11"}),
}


LONG_LABELS = {"thickness as measured", "Paste it"}  # their label goes on


def field(page: Page, label: str) -> Locator:
    return page.get_by_label(label, exact=label not in LONG_LABELS).first


def type_in(page: Page, name: str, typed: dict[str, str]) -> None:
    if name == "where it is":
        page.get_by_label("Where it is").last.select_option("setter")
    for label, text in typed.items():
        expect(field(page, label)).to_be_visible()
        field(page, label).fill(text)


def stands(page: Page, typed: dict[str, str]) -> None:
    for label, text in typed.items():
        expect(field(page, label)).to_have_value(text)


def open_sheet(server: Server, page: Page, path: str) -> None:
    page.goto(server.url + path)
    page.locator("h1").first.wait_for(state="attached")
    page.wait_for_load_state("networkidle")


@pytest.mark.sweep
@pytest.mark.parametrize("name", [name for name in SHEETS if name != "shorthand"])
def test_what_was_typed_outlives_a_reload_a_closed_tab_and_a_sign_out(server: Server, bench: Page, name: str) -> None:
    path, typed = SHEETS[name]
    open_sheet(server, bench, path)
    type_in(bench, name, typed)
    bench.reload()
    stands(bench, typed)
    if name != "measure on the card":  # leaving that field is keeping it
        expect(bench.get_by_test_id("picked-up").first).to_contain_text("Picked up as you left it")
    bench.close()
    again = bench.context.new_page()
    open_sheet(server, again, path)
    stands(again, typed)
    again.get_by_role("button", name="sign out").click()
    expect(again.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    sign_in(server, again)
    open_sheet(server, again, path)
    stands(again, typed)
    again.evaluate("localStorage.clear()")
    restore(server, name)


def restore(server: Server, name: str) -> None:
    """A measure is kept when its field is left: take it away again for the tests that come after."""
    if name == "measure on the card":
        in_database(server, "from workshop.jobs.models import Measure; Measure.objects.filter(job_id=7).delete()")


def test_a_draft_is_thrown_away_on_purpose_only(server: Server, bench: Page) -> None:
    open_sheet(server, bench, "/ring")
    bench.get_by_label("Finger size").fill("UK Q")
    bench.keyboard.press("Escape")
    bench.keyboard.press("b")
    expect(bench.get_by_test_id("now")).to_be_visible()
    bench.keyboard.press("n")
    expect(bench.get_by_label("Finger size")).to_have_value("UK Q")
    bench.get_by_role("button", name="throw it away").click()
    expect(bench.get_by_label("Finger size")).to_have_value(FIRST_SIZE)
    bench.reload()
    expect(bench.get_by_label("Finger size")).to_have_value(FIRST_SIZE)
    expect(bench.get_by_test_id("picked-up")).to_have_count(0)


def test_two_tabs_keep_a_new_ring_each(server: Server, bench: Page) -> None:
    open_sheet(server, bench, "/ring")
    bench.get_by_label("Finger size").fill("UK Q")
    other = bench.context.new_page()
    open_sheet(server, other, "/ring")
    expect(other.get_by_label("Finger size")).to_have_value(FIRST_SIZE)
    other.get_by_label("Finger size").fill("UK S")
    for page, size in ((bench, "UK Q"), (other, "UK S")):
        page.reload()
        expect(page.get_by_label("Finger size")).to_have_value(size)
    other.close()
    bench.close()
    third = bench.context.new_page()
    open_sheet(server, third, "/ring")
    expect(third.get_by_label("Finger size")).to_have_value("UK S")
    third.get_by_role("button", name="take it up").click()
    expect(third.get_by_label("Finger size")).to_have_value("UK Q")


def test_another_person_on_this_device_sees_nothing_of_it(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["401", "403", "Failed to load resource"]
    open_sheet(server, bench, "/ring")
    bench.get_by_label("Customer").fill("Anselm Thwaite")
    bench.get_by_role("button", name="sign out").click()
    expect(bench.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    sign_in(server, bench, "linnet")
    bench.keyboard.press("n")
    expect(bench.get_by_test_id("figure")).to_be_visible()
    expect(bench.get_by_label("Customer")).to_have_value("")


def test_stamped_text_comes_back_with_its_style(server: Server, bench: Page) -> None:
    open_sheet(server, bench, "/ring")
    bench.get_by_label("Style", exact=True).select_option("stamped")
    bench.get_by_label("What is stamped").fill("FEN 1926")
    bench.get_by_label("Style", exact=True).select_option("wishbone")
    expect(bench.get_by_label("What is stamped")).to_have_count(0)
    bench.get_by_label("Style", exact=True).select_option("stamped")
    expect(bench.get_by_label("What is stamped")).to_have_value("FEN 1926")
    bench.get_by_label("Style", exact=True).select_option("wishbone")
    bench.reload()
    bench.get_by_label("Style", exact=True).select_option("stamped")
    expect(bench.get_by_label("What is stamped")).to_have_value("FEN 1926")


def test_the_line_and_the_stock_beside_outlive_a_reload(server: Server, bench: Page) -> None:
    open_sheet(server, bench, "/ring")
    bench.get_by_label("Finger size").press("Escape")
    bench.keyboard.press("=")
    bench.get_by_label("Profile, beside it").select_option("rectangle")
    bench.get_by_role("button", name="say it in one line").click()
    bench.get_by_role("combobox", name="The order in one line").fill("uk n, wishbone 7")
    bench.reload()
    expect(bench.get_by_role("combobox", name="The order in one line")).to_have_value("uk n, wishbone 7")
    expect(bench.get_by_label("Profile, beside it")).to_have_value("rectangle")


def test_a_customers_note_stays_when_a_finger_is_kept(server: Server, bench: Page) -> None:
    open_sheet(server, bench, "/customers/3")
    bench.get_by_label("Note", exact=True).fill("half a thought")
    bench.get_by_label("Which finger").fill("left thumb")
    bench.get_by_label("Size", exact=True).fill("60")
    bench.get_by_role("button", name="Keep it").click()
    expect(bench.get_by_role("list", name="Fingers")).to_contain_text("left thumb")
    expect(bench.get_by_label("Note", exact=True)).to_have_value("half a thought")
    expect(bench.get_by_label("Which finger")).to_have_value("")


def test_a_page_of_another_app_version_keeps_its_letters(server: Server, bench: Page) -> None:
    """A draft that is no draft of ours any more breaks no sheet."""
    open_sheet(server, bench, "/ring")
    bench.evaluate(
        "Object.keys(sessionStorage); for (const bad of ['null', '{', '[]', '{\"at\": 1, \"tab\": \"x\"}'])"
        " localStorage.setItem('draft|1.1|ring|' + bad.length, bad)"
    )
    bench.reload()
    expect(bench.get_by_test_id("figure")).to_be_visible()
    expect(bench.get_by_label("Finger size")).to_have_value(FIRST_SIZE)


def test_every_screen_with_words_is_in_the_table() -> None:
    """A view with a field of its own keeps a draft, unless it only asks."""
    views = Path(__file__).resolve().parents[2] / "web" / "src" / "views"
    asks = {
        "SignIn",
        "Welcome",
        "Password",
        "FindLine",
        "Shorthand",
        "Beside",
        "Readings",
        "TrueSizeView",
        "Rings",
        "Trade",
        "CalendarAddress",
        "People",
        "NewShop",
        "Link",
        "Account",
    }
    parts = {"Keep", "Sentence", "StockWords", "OrderWords", "KeysSheet", "RingView", "CardView", "StepView", "Older",
             "ResizeView", "Ways", "WaysTable", "Photos", "JointSheet", "HeatSheet", "CutSheet", "DrawerView"}  # fmt: skip
    for path in views.rglob("*.svelte"):
        text = path.read_text()
        if re.search(r"<Word|<input|<textarea", text) and path.stem not in asks | parts | {"Aside", "ItemView"}:
            assert re.search(r"new (Draft|Editing)(<\w+>)?\(", text), path
    assert PASSWORD not in {text for _, typed in SHEETS.values() for text in typed.values()}
