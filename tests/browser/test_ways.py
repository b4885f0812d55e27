"""The shop's ways that are lists: a cell at a time, each refused at its own, each row taken back by itself."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server


def row(page: Page, key: str) -> Locator:
    return page.locator(f"tr[data-row='{key}']:visible")


def kept(page: Page) -> None:
    page.get_by_role("button", name="Keep these ways").click()
    expect(page.get_by_text("Kept.")).to_be_visible()


def test_a_solder_of_the_shops_own_stands_beside_ours(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors.append("422")
    page = bench
    page.goto(f"{server.url}/ways#solders")
    easy = row(page, "silver-easy")
    flows = easy.get_by_label("silver easy: flows")
    expect(flows).to_have_attribute("placeholder", "720")
    expect(easy).to_contain_text("from memory")
    flows.press_sequentially("hot")  # the field stays under the hand while its row becomes the shop's own
    expect(easy).to_contain_text("our own")
    expect(easy.get_by_label("silver easy: melts")).to_have_attribute("placeholder", "–")
    page.get_by_role("button", name="Keep these ways").click()
    expect(flows).to_have_attribute("aria-invalid", "true")
    expect(page.get_by_text("flows: “hot” is not a number. Write it in °C")).to_be_visible()
    page.get_by_role("link", name="metals", exact=True).click()
    expect(page.get_by_text("Something is wrong in solders.")).to_be_visible()
    page.get_by_role("link", name="solders", exact=True).last.click()
    flows.fill("788")
    easy.get_by_label("silver easy: melts").fill("771")
    kept(page)
    says = page.get_by_role("form", name="The workshop").get_by_text("Silver easy flows at 788")
    expect(says).to_contain_text("sterling 12")
    page.reload()
    expect(flows).to_have_value("788")
    row(page, "silver-easy").get_by_role("button", name="silver easy: take it back").click()
    kept(page)
    page.reload()
    expect(flows).to_have_value("")
    expect(flows).to_have_attribute("placeholder", "720")


def test_a_torch_is_added_and_the_melt_knows_it(server: Server, bench: Page) -> None:
    page = bench
    page.goto(f"{server.url}/ways#torches")
    table = page.get_by_role("table", name="Torches")
    expect(table.get_by_label("pen torch: has")).to_be_visible()
    before = table.get_by_role("row").count()
    page.get_by_role("button", name="and another").click()
    expect(table.get_by_role("row")).to_have_count(before + 1)
    added = table.get_by_role("row").last
    added.get_by_role("textbox").first.press_sequentially("big torch")
    added.get_by_label("big torch: has").select_option("melted")
    added.get_by_label("big torch: grams").fill("220")
    added.get_by_label("big torch: of").select_option("sterling")
    kept(page)
    page.goto(f"{server.url}/melt")
    expect(page.get_by_text("big torch").first).to_be_visible()
    page.goto(f"{server.url}/ways#torches")
    page.get_by_role("button", name="big torch: take it back").click()
    kept(page)


def test_a_person_sees_what_the_shop_says(server: Server, bench: Page) -> None:
    page = bench
    page.goto(f"{server.url}/ways#metals")
    price = row(page, "copper").get_by_label("copper: g/cm³")
    price.fill("8.91")
    kept(page)
    page.goto(f"{server.url}/ways#mine-metals")
    mine = page.get_by_role("form", name="Wren Ashdown")
    own = mine.locator("tr[data-row='copper']")
    expect(own.get_by_label("copper: g/cm³")).to_have_attribute("placeholder", "8.91")
    expect(own).to_contain_text("the shop's")
    page.goto(f"{server.url}/ways#metals")
    page.get_by_role("button", name="copper: take it back").click()
    kept(page)
