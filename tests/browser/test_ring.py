"""The New ring sheet: every profile, the four rules, the ledger's light, mistakes at their field."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from ringcraft.sections import PROFILES
from ringcraft.styles.orders import FIRST_SIZE
from tests.orders import STOCKS, plan


def new_ring(page: Page) -> Page:
    page.keyboard.press("n")
    expect(page.get_by_test_id("figure")).to_be_visible()
    return page


def test_every_profile_answers_while_typing(bench: Page) -> None:
    page = new_ring(bench)
    for key, profile in PROFILES.items():
        stock = STOCKS[key]
        page.get_by_label("Profile").select_option(key)
        if "width_mm" in profile.needs:
            page.get_by_label("Width along the finger").fill(str(stock["width_mm"]))
        page.get_by_label("Thickness").fill(str(stock["thickness_mm"]))
        if "side_mm" in profile.needs:
            page.get_by_label("Height of the straight side").fill(str(stock.get("side_mm", "")))
        made = plan(key, size=FIRST_SIZE)
        expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)
        for rule in made.rules:
            if not rule.chosen:
                line = page.locator(f"[data-rule={rule.key}]")
                expect(line).to_contain_text(f"{rule.formed_length_mm:.1f}")
        expect(page.get_by_role("img", name="Section of the stock")).to_have_attribute(
            "aria-label",
            f"Section of the stock with its neutral line {made.section.neutral_mm:.2f} mm above the inside.",
        )


def test_the_strip_is_to_scale_and_lit_from_the_ledger_and_back(bench: Page) -> None:
    page = new_ring(bench)
    blank = plan(size=FIRST_SIZE).blanks[0]
    strip = page.get_by_test_id("strip")
    expect(page.get_by_test_id("figure")).to_have_text(blank.cut_text)
    per_mm = float(strip.get_attribute("data-per-mm") or 0)
    for stretch in blank.stretches:
        drawn = strip.locator(f"[data-stretch={stretch.key}]")
        assert float(drawn.get_attribute("width") or 0) == pytest.approx(
            max((stretch.to_mm - stretch.from_mm) * per_mm, 1), abs=0.01
        )
    ledger = page.get_by_role("listbox")
    ledger.focus()
    page.keyboard.press("ArrowDown")
    expect(ledger.get_by_role("option", selected=True)).to_contain_text("thickness")
    assert "lit" in (strip.locator("[data-stretch=thickness]").get_attribute("class") or "")
    strip.locator("[data-stretch=inside-circumference]").hover()
    expect(ledger.get_by_role("option", selected=True)).to_contain_text("inside circumference")


@pytest.mark.parametrize(
    ("label", "typed", "said"),
    [
        ("Finger size", "US 45", "US sizes run from 0 to 16"),
        ("Finger size", "💍", "is not a finger size"),
        ("Finger size", "", "A finger size is missing"),
        ("Thickness", "4.5", "A dome 4.50 high cannot stand"),
        ("Thickness", "-1", "cannot be less than nothing"),
        ("Thickness", "NaN", "is not a length"),
        ("Thickness", "2 kg", "is a weight here"),
        ("Width along the finger", "99999", "longer than any bar"),
        ("Trim", "50", "more offcut than trim"),
        ("Rounding", "9", "a size away"),
    ],
)
def test_a_mistake_stands_at_its_field_and_the_last_answer_stays(
    bench: Page, label: str, typed: str, said: str
) -> None:
    page = new_ring(bench)
    before = page.get_by_test_id("figure").inner_text()
    field = page.get_by_label(label)
    good = field.input_value()
    field.fill(typed)
    expect(field).to_have_attribute("aria-invalid", "true")
    about = page.locator(f"#{field.get_attribute('aria-describedby')}")
    expect(about).to_contain_text(said)
    assert page.get_by_test_id("figure").inner_text() == before
    expect(page.get_by_label("Cut length", exact=True).get_by_role("button")).to_have_class(
        "block cursor-zoom-in text-left whitespace-nowrap stale eased"
    )
    field.fill(good)
    expect(field).to_have_attribute("aria-invalid", "false")


def test_what_a_bare_number_was_read_as_is_said(bench: Page) -> None:
    page = new_ring(bench)
    page.get_by_label("Finger size").fill("54")
    expect(page.get_by_text("Read as ISO 54: 17.19 mm inside.")).to_be_visible()
    page.get_by_label("Finger size").fill("7 1/2")
    expect(page.get_by_text("Read as US 71/2: 17.73 mm inside.")).to_be_visible()


@pytest.mark.parametrize("size", ["12 mm ID", "29 mm ID", "ISO 41", "UK Z+6"])
def test_a_size_beside_the_mandrels_marks_is_drawn_at_their_end(bench: Page, size: str) -> None:
    page = new_ring(bench)
    page.get_by_label("Finger size").fill(size)
    made = plan(size=size, stock={"width_mm": 4.0, "thickness_mm": 1.8})
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)
    lengths = page.evaluate(
        "() => [...document.querySelectorAll('svg rect')].flatMap(r => [r.width.baseVal.value, r.height.baseVal.value])"
    )
    assert lengths
    assert min(lengths) >= 0
    mandrel = page.get_by_role("img", name="Mandrel: wanted")
    inside = mandrel.evaluate(
        "svg => [...svg.querySelectorAll('line, rect')].every(one => "
        "one.getBBox().x >= 0 && one.getBBox().x + one.getBBox().width <= svg.viewBox.baseVal.width)"
    )
    assert inside


def test_a_day_is_taken_as_people_say_it(bench: Page) -> None:
    page = new_ring(bench)
    page.get_by_label("Due day").fill("in 3 days")
    expect(page.get_by_text("in 3 days")).to_be_visible()
    page.get_by_label("Customer").focus()
    kept = page.get_by_label("Due day").input_value()
    assert re.fullmatch(r"\d{1,2} [A-Z][a-z]{2} \d{4}", kept), kept
    page.get_by_label("Due day").fill("soon")
    page.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_text("That is no day.")).to_be_visible()
    expect(page.get_by_label("Due day")).to_have_value("soon")
