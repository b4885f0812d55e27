"""Every style on the sheet, three of them worked to the end, marks moved, one line, two stocks, true size."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from ringcraft.comparing import CompareRequest, compare
from ringcraft.styles import STYLES, read_ring
from tests.browser.conftest import Server
from tests.browser.test_every_screen import violations
from tests.browser.test_main_job import tab_to, type_over
from tests.orders import sheet_order, sheet_plan


def sheet(page: Page, style: str = "plain-band") -> Page:
    page.get_by_role("link", name="New ring").click()
    expect(page.get_by_test_id("figure")).to_be_visible()
    page.get_by_label("Style", exact=True).select_option(style)
    expect(page.get_by_test_id("figure")).to_have_text(sheet_plan(style).blanks[0].cut_text)
    return page


@pytest.mark.sweep
@pytest.mark.parametrize("style", STYLES)
def test_a_style_opens_with_its_own_words_drawings_and_slips(bench: Page, axe: str, style: str) -> None:
    page, made = sheet(bench, style), sheet_plan(style)
    for word in STYLES[style].words:
        for part in word.parts if word.kind == "list" else ():
            if part.kind != "stock":
                expect(page.get_by_label(f"{part.label} 1")).to_be_visible()
        if word.kind not in ("stock", "list") and not word.when:
            expect(page.get_by_label(word.label, exact=True)).to_be_visible()
    for blank in made.blanks:
        strip = page.locator(f"[data-blank={blank.name}]")
        per_mm = float(strip.get_attribute("data-per-mm") or 0)
        box = strip.locator("[data-shape=blank]").bounding_box()
        assert box is not None
        assert box["width"] == pytest.approx(blank.cut_length_mm * per_mm, abs=1.5)
    ring = page.get_by_role("img", name="The finished ring")
    expect(ring).to_be_visible()
    assert made.ring.length_mm * float(ring.get_attribute("data-per-mm") or 0) < 240
    for slip in made.what_if:
        expect(page.locator(f"[data-slip={slip.key}]")).to_be_visible()
    sure = page.get_by_test_id("how-sure")
    expect(sure).to_contain_text(f"Give or take {made.closing.spread.sd_mm:.2f} round")
    expect(sure).to_contain_text(made.closing.spread.method)
    for figure in made.figures:
        expect(page.locator(f"[data-figure={figure.key}]")).to_contain_text(figure.title)
    if style in ("wishbone", "hollow-signet", "patterned"):
        assert violations(page, axe) == []


def test_style_after_style_is_drawn_without_a_word_in_the_console(bench: Page) -> None:
    """Each follows another at once, wide after narrow and several blanks after one: ``screen`` hears any complaint."""
    page = sheet(bench)
    for style in (*STYLES, *reversed(STYLES)):
        page.get_by_label("Style", exact=True).select_option(style)
    for style in ("stack", "channel-inlay", "patterned", "adjustable", "stamped", "folded", "wishbone"):
        page.get_by_label("Style", exact=True).select_option(style)
        expect(page.get_by_test_id("figure")).to_have_text(sheet_plan(style).blanks[0].cut_text)


def work_to_the_end(page: Page, style: str, measures: dict[str, str]) -> None:
    """Every step of the kept job with Enter alone, typing the measures it asks for."""
    steps = page.get_by_role("list", name="The route").locator("[data-step]")
    count = steps.count()
    for i in range(count):
        key = steps.nth(i).get_attribute("data-step") or ""
        expect(steps.nth(i)).to_have_attribute("aria-current", "step")
        for name, text in measures.items():
            field = page.locator(f"[data-measure='{name}']")
            if field.count() and not field.input_value():
                field.fill(text)
                field.press("Enter")
                expect(page.locator(f"[data-verdict='{name}']")).to_be_visible()
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Enter")
        expect(page.locator(f"[data-step={key}]")).to_have_attribute("data-done", "true")
    expect(page.get_by_role("button", name="Take it off the bench")).to_be_visible()


def keep(page: Page, title: str) -> None:
    page.get_by_label("Name of the job").fill(title)
    page.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_role("heading", name=title)).to_be_visible()
    page.evaluate("sessionStorage.setItem('caliper-zero', '0')")
    page.reload()
    expect(page.get_by_test_id("step")).to_be_visible()


def test_a_wishbone_with_the_keyboard_from_the_v_to_the_hand(bench: Page) -> None:
    page = sheet(bench)
    page.get_by_label("Finger size").focus()
    tab_to(page, "Style", backwards=True)
    page.keyboard.type("wish")
    tab_to(page, "The V by its")
    page.keyboard.press("ArrowDown")
    tab_to(page, "Rise of the V")
    type_over(page, "4")
    made = sheet_plan("wishbone", v_angle_deg=None, v_rise_mm=4)
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)
    expect(page.locator("[data-figure=v_angle_deg]")).to_contain_text(f"{made.wishbone.v_angle_deg:.1f}")
    keep(page, "vee by the rise")
    work_to_the_end(page, "wishbone", {"stock-thickness": "1.5", "cut-length": made.blanks[0].cut_text})


def test_a_signet_whose_wrap_waits_for_its_inner_band(bench: Page) -> None:
    page = sheet(bench, "hollow-signet")
    page.get_by_role("button", name="outer strip").click()
    expect(page.get_by_text("Planned until the outside of the inner band is measured.")).to_be_visible()
    expect(page.get_by_test_id("figure")).to_have_text(sheet_plan("hollow-signet").blanks[1].cut_text)
    keep(page, "signet for the window")
    page.locator("[data-step=measure-outside]").click()
    page.locator("[data-measure=outside]").fill("19.70")
    page.locator("[data-measure=outside]").press("Enter")
    made = sheet_plan("hollow-signet", inner_measured_od_mm=19.70)
    expect(page.locator("[data-verdict=outside]")).to_contain_text(f"outer strip: mark {made.blanks[1].cut_text}")
    page.locator("[data-step=scribe-outer]").click()
    expect(page.get_by_test_id("step").get_by_test_id("figure")).to_have_text(made.blanks[1].cut_text)
    page.locator("[data-step=measure-stock]").click()
    work_to_the_end(page, "hollow-signet", {"stock-thickness": "0.9"})


def test_a_stamped_band_refuses_what_does_not_fit_and_is_worked(bench: Page) -> None:
    page = sheet(bench, "stamped")
    page.get_by_label("What is stamped").fill("MARA AND ELIAS AND TAM AND JO")
    expect(page.get_by_text("would fit")).to_be_visible()
    page.get_by_label("What is stamped").fill("TARN / 2026")
    page.get_by_label("Height of the letters").fill("2")
    made = sheet_plan("stamped", lines=["TARN", "2026"], letter_height_mm=2)
    expect(page.locator("[data-figure=centre]")).to_contain_text(f"{made.figures[2].value:.2f}")
    expect(page.get_by_test_id("strip").locator("text.letter")).to_have_count(8)
    for mark in made.marks:
        expect(page.get_by_test_id("letters")).to_contain_text(f"{mark.char} {mark.x_mm:.2f}")
    keep(page, "stamped in two lines")
    work_to_the_end(page, "stamped", {"stock-thickness": "1.2"})


@pytest.mark.parametrize(
    ("style", "field", "label", "keys", "value"),
    [
        ("adjustable", "overlap_mm", "Overlap", ["ArrowRight"] * 3, "8.3"),
        ("shank", "gap_mm", "Gap", ["Shift+ArrowLeft"], "7"),
        ("stamped", "shift_mm", "Shift of the letters", ["Shift+ArrowRight", "ArrowLeft"], "0.9"),
        ("tapered", "end_mm", "Length of each end", ["ArrowRight"], "7.6"),
    ],
)
def test_a_mark_is_moved_with_the_arrow_keys(
    bench: Page, style: str, field: str, label: str, keys: list[str], value: str
) -> None:
    page = sheet(bench, style)
    grip = page.locator(f"[data-handle={field}]")
    for key in keys:
        before = grip.get_attribute("aria-valuenow")
        grip.press(key)
        expect(grip).not_to_have_attribute("aria-valuenow", before or "")
    expect(page.get_by_label(label, exact=True)).to_have_value(value)
    made = sheet_plan(style, **{field.replace(".", "__"): value})
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)


def test_a_v_is_dragged_and_its_extra_becomes_what_is_given(bench: Page) -> None:
    page = sheet(bench, "wishbone")
    grip = page.locator("[data-handle=v_extra_mm]")
    box = grip.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + 12
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y, steps=6)
    page.mouse.up()
    field = page.get_by_label("Extra for the V", exact=True)
    expect(field).to_be_visible()
    extra = float(field.input_value())
    assert extra > 8
    made = sheet_plan("wishbone", v_angle_deg=None, v_extra_mm=extra)
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)


def test_one_line_is_a_whole_plan_and_a_slip_points_at_its_word(bench: Page) -> None:
    page = sheet(bench)
    page.get_by_label("Finger size").press("Escape")
    page.keyboard.press("/")
    line = page.get_by_role("combobox", name="The order in one line")
    expect(line).to_be_focused()
    page.keyboard.type("uk n, wish")
    expect(page.get_by_role("option").filter(has_text="wishbone").first).to_be_visible()
    page.keyboard.press("Tab")
    expect(line).to_have_value("uk n, wishbone, ")
    line.fill("uk n, wishbone 75, d 3x2, gold 9k yelow")
    expect(page.locator("#shorthand-says")).to_contain_text("“gold 9k yelow” is not understood")
    expect(page.locator(".wrong")).to_have_text("gold 9k yelow")
    line.fill("uk n, wishbone 75, d 3x2, gold 9k yellow")
    stock = {"profile": "d", "width_mm": 3, "thickness_mm": 2}
    made = sheet_plan("wishbone", size="uk n", stock=stock, metal="gold-9k-yellow")
    expect(page.locator("#shorthand-says")).to_contain_text(made.blanks[0].cut_text)
    page.keyboard.press("Enter")
    expect(line).to_have_count(0)
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)
    expect(page.get_by_label("Finger size")).to_have_value("uk n")


def test_two_stocks_lie_beside_one_another_at_one_scale(bench: Page, axe: str) -> None:
    page = sheet(bench)
    page.get_by_role("button", name="compare").click()
    page.get_by_label("Profile, beside it").select_option("square")
    page.get_by_label("Thickness, beside it").fill("2")
    this = sheet_order("plain-band")
    other = {**this, "stock": {"profile": "square", "thickness_mm": 2}}
    made = compare(CompareRequest(this=read_ring(this), other=read_ring(other)))
    expect(page.get_by_test_id("beside-figure")).to_have_text(made.other.blanks[0].cut_text)
    expect(page.get_by_test_id("beside-says")).to_contain_text(made.says[0])
    scales = {strip.get_attribute("data-per-mm") for strip in page.get_by_test_id("strip").all()}
    assert len(scales) == 1
    assert violations(page, axe) == []
    page.get_by_role("button", name="put it away").click()
    expect(page.get_by_test_id("beside-figure")).to_have_count(0)


def test_whole_repeats_are_chosen_from_their_table(bench: Page) -> None:
    page = sheet(bench, "patterned")
    page.get_by_label("Match", exact=True).select_option("size")
    expect(page.get_by_label("Number of repeats")).to_have_count(0)
    fit = sheet_plan("patterned").fits[1]
    page.get_by_role("table").get_by_role("button", name=str(fit.repeats), exact=True).click()
    expect(page.get_by_label("Number of repeats")).to_have_value(str(fit.repeats))
    made = sheet_plan("patterned", repeats=fit.repeats)
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)


def test_strip_and_ring_stand_at_true_size(bench: Page, server: Server) -> None:
    bench.evaluate("localStorage.setItem('dots-per-mm', '5')")
    bench.reload()
    page = sheet(bench, "wishbone")
    page.get_by_label("Finger size").press("Escape")
    page.keyboard.press("1")
    expect(page.get_by_test_id("strip")).to_have_attribute("data-per-mm", "5")
    expect(page.get_by_test_id("figure-drawing")).to_have_attribute("data-per-mm", "5")
    box = page.get_by_test_id("strip").locator("[data-shape=blank]").bounding_box()
    assert box is not None
    assert box["width"] == pytest.approx(5 * sheet_plan("wishbone").blanks[0].cut_length_mm, abs=1)


def test_a_kept_order_of_many_words_opens_again_as_it_was(bench: Page) -> None:
    page = sheet(bench, "stack")
    page.get_by_role("button", name="and another").click()
    page.get_by_label("Fit 2").fill("-0.05")
    layer = {"stock": {"profile": "rectangle", "width_mm": 3, "thickness_mm": 1.2}, "fit_mm": 0}
    cut = sheet_plan("stack", outer=[layer, {**layer, "fit_mm": -0.05}]).blanks[2].cut_text
    expect(page.get_by_role("button", name="outer band 2")).to_contain_text(cut)
    keep(page, "three sleeves")
    page.get_by_role("link", name="the order").click()
    expect(page.get_by_label("Fit 2")).to_have_value("-0.05")
    expect(page.get_by_role("button", name="outer band 2")).to_contain_text(cut)
    page.get_by_role("button", name="one fewer").click()
    expect(page.get_by_role("button", name="outer band 2")).to_have_count(0)


def test_a_wider_scatter_of_the_shop_widens_the_range(bench: Page) -> None:
    page = bench
    page.get_by_role("link", name="Ways", exact=True).click()
    page.get_by_role("link", name="Wren Ashdown", exact=True).click()
    page.get_by_role("link", name="Wren Ashdown: cutting").click()
    mine = page.get_by_role("form", name="Wren Ashdown")
    mine.get_by_label("Off in truing").fill("0.8")
    mine.get_by_role("button", name="Keep these ways").click()
    expect(page.get_by_text("Kept.")).to_be_visible()
    page.keyboard.press("n")
    made = sheet_plan("plain-band", spread={"truing_mm": 0.8})
    expect(page.get_by_test_id("figure")).to_have_text(made.blanks[0].cut_text)
    assert made.blanks[0].cut_text != sheet_plan("plain-band").blanks[0].cut_text
    page.get_by_role("link", name="Ways", exact=True).click()
    page.get_by_role("link", name="Wren Ashdown", exact=True).click()
    page.get_by_role("link", name="Wren Ashdown: cutting").click()
    mine.get_by_label("Off in truing").fill("")
    mine.get_by_role("button", name="Keep these ways").click()
    expect(page.get_by_text("Kept.")).to_be_visible()


def test_every_template_of_a_kept_ring_can_be_fetched_from_its_card(bench: Page, server: Server) -> None:
    bench.get_by_test_id("bench-line").get_by_role("link", name="Fenn").click()
    expect(bench.get_by_role("heading", name="Fenn, stamped band")).to_be_visible()
    begins = {
        "blank, true size": b"%PDF",
        "as SVG": b"<svg",
        "as DXF": b"  0\nSECTION",
        "ticket": b"%PDF",
        "job file": b"{",
    }
    for name, first in begins.items():
        address = bench.get_by_role("link", name=name, exact=True).get_attribute("href")
        answer = bench.request.get(f"{server.url}{address}")
        assert answer.status == 200
        assert answer.body().startswith(first), name


def test_the_card_of_a_signet_draws_the_blank_that_its_step_is_about(bench: Page) -> None:
    bench.get_by_test_id("bench-line").get_by_role("link", name="Marlow").click()
    bench.locator("[data-step=scribe]").press("Enter")  # a wait that ends just now moves what a mouse would hit
    expect(bench.get_by_test_id("strip")).to_have_attribute("data-blank", "inner")
    bench.locator("[data-step=scribe-outer]").click()
    expect(bench.get_by_test_id("strip")).to_have_attribute("data-blank", "outer")
    bench.locator("[data-step=scribe-plate]").click()
    expect(bench.get_by_test_id("strip")).to_have_attribute("data-blank", "plate")
    expect(bench.get_by_text("your local rules", exact=False)).to_have_count(0)
    bench.locator("[data-step=solder-plate]").click()
    expect(bench.get_by_text("The hollow keeps its vent open")).to_be_visible()
    expect(bench.get_by_text("Your local rules, the maker's data sheet")).to_be_visible()


def test_a_band_beside_a_ring_is_not_asked_for_a_fit(bench: Page) -> None:
    page = sheet(bench, "stack")
    page.get_by_label("Fit 1").fill("-0.05")
    page.get_by_label("Arrangement").select_option("sandwich")
    expect(page.get_by_label("Fit 1")).to_have_count(0)
    cut = sheet_plan("stack", arrangement="sandwich", finished_metal="gold-18k-yellow").blanks[0].cut_text
    expect(page.get_by_test_id("figure")).to_have_text(cut)
    expect(page.get_by_label("Metal of the finished ring")).to_be_visible()
