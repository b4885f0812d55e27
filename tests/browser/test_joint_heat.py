"""The joint from a wedge to a sound one, and two seams in water, rolled: by keyboard, in the real interface."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import COLLEAGUE, Server, in_database, sign_in
from tests.browser.test_every_screen import open_screen, violations
from tests.browser.test_main_job import tab_to, type_over


def choose(page: Page, label: str, title: str) -> None:
    """Choose in a list by keyboard: what is typed is what it jumps to."""
    tab_to(page, label)
    page.keyboard.type(title)
    expect(page.get_by_label(label, exact=True)).to_be_focused()


def at_step(server: Server, page: Page, path: str) -> None:
    page.goto(server.url + path)
    page.get_by_test_id("step").wait_for()


def test_a_joint_from_a_wedge_to_a_sound_one(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#inspect")
    lead, closes = bench.get_by_test_id("next"), bench.get_by_test_id("closes")
    expect(lead).to_have_text("Look at all five")  # what nobody has seen is not called sound
    choose(bench, "Seen from: side", "open outside")
    choose(bench, "Seen from: other side", "open outside")
    tab_to(bench, "Widest gap")
    type_over(bench, "0.45")
    expect(lead).to_have_text("Bend it again")
    expect(bench.get_by_test_id("joint-sheet")).to_contain_text("open outside, 0.45 at its widest")
    expect(bench.get_by_test_id("joint-sheet")).to_contain_text("sawing it, three times, would cost 0.66")
    expect(closes).to_contain_text("not to be soldered yet")
    choose(bench, "Tried so far", "bent again")
    expect(lead).to_have_text("File it true")
    for view in ("side", "other side"):
        choose(bench, f"Seen from: {view}", "parallel")
    tab_to(bench, "Widest gap")
    type_over(bench, "0.12")
    expect(lead).to_have_text("Saw through once")
    before = closes.inner_text()
    tab_to(bench, "Passes made")
    type_over(bench, "3")
    for view in ("side", "other side"):
        choose(bench, f"Seen from: {view}", "a hair")
    tab_to(bench, "Widest gap")
    type_over(bench, "0.03")
    expect(lead).to_have_text("Solder it")
    expect(closes).to_contain_text("Sound: it may be soldered")
    assert closes.inner_text() != before
    tab_to(bench, "Keep what is seen")
    bench.keyboard.press("Enter")
    expect(bench.get_by_test_id("look-kept")).to_contain_text("kept")
    bench.reload()
    expect(bench.get_by_label("Passes made")).to_have_value("3")
    expect(bench.get_by_role("button", name="Keep what is seen")).to_have_count(0)
    expect(bench.locator("[data-step=saw-joint]")).to_contain_text("three times")
    bench.get_by_role("button", name="history").click()
    expect(bench.locator("main")).to_contain_text("seen: Look through the joint")


def test_the_size_on_the_card_follows_what_was_made(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#round")
    figure = bench.get_by_test_id("step").get_by_test_id("figure")
    planned = figure.inner_text()
    at_step(server, bench, "/job/1#inspect")
    bench.reload()
    bench.get_by_label("Passes made").fill("5")
    bench.get_by_role("button", name="Keep what is seen").click()
    expect(bench.get_by_test_id("look-kept")).to_contain_text("kept")
    bench.locator("[data-step=round]").click()
    expect(figure).not_to_have_text(planned)


def test_what_cannot_be_is_said_at_its_field_and_stays(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#inspect")
    gap = bench.get_by_label("Widest gap")
    gap.fill("wide open")
    expect(gap).to_have_attribute("aria-invalid", "true")
    expect(bench.get_by_test_id("joint-sheet")).to_contain_text("wide open")
    bench.reload()
    expect(gap).to_have_value("wide open")
    gap.fill("0.02")
    expect(gap).to_have_attribute("aria-invalid", "false")


def test_two_seams_in_water_rolled_and_rolled_back(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/16#solder-sizing")
    sheet, lead = bench.get_by_test_id("heat-sheet"), bench.get_by_test_id("heat-lead")
    expect(lead).to_be_visible()
    tab_to(bench, "Share of the inside in water")
    type_over(bench, "0.4")
    expect(lead).to_have_text("Straight above: heat it")
    expect(sheet).to_contain_text("the heat of this ring dry")
    expect(sheet).to_contain_text("what 14k yellow would take here")
    bench.get_by_label("Seams in this heat").select_option("both")
    picture = bench.get_by_test_id("heat-picture")
    picture.focus()
    for _ in range(3):
        bench.keyboard.press("ArrowRight")
    bench.keyboard.press("PageUp")
    expect(bench.get_by_label("Rolled, in degrees")).to_have_value("13")
    expect(picture).to_have_attribute("aria-valuenow", "13")
    expect(lead).to_have_text("Roll it 13° back")
    expect(sheet).to_contain_text("The right seam’s leg to the water is the shorter")
    expect(bench.locator("[data-step=solder-sizing][aria-current=step]")).to_have_count(1)  # the card stands still
    bench.keyboard.press("Home")
    expect(lead).to_have_text("Straight above: heat it")
    box = picture.bounding_box()
    assert box is not None
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    bench.mouse.move(middle[0], middle[1] - 90)
    bench.mouse.down()
    bench.mouse.move(middle[0] - 45, middle[1] - 78)
    bench.mouse.up()
    expect(bench.get_by_label("Rolled, in degrees")).to_have_value(re.compile(r"-\d+"))
    expect(lead).to_have_text(re.compile(r"Roll it \d+° back"))
    expect(sheet).to_contain_text("degrees to the right")
    bench.get_by_label("Stone opposite the joint").select_option("emerald")
    expect(sheet).to_contain_text("under water, seat and all")
    bench.get_by_label("Share of the inside in water").fill("")
    expect(sheet).to_contain_text("emerald does not bear this torch, take it out")


def test_flux_is_a_thermometer(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#solder")
    flux = bench.get_by_test_id("flux")
    expect(flux).to_contain_text("flash")
    flux.get_by_role("button", name=re.compile("white crust")).click()
    expect(flux).to_contain_text("dry and white, like plaster")
    bench.get_by_label("Flux", exact=True).select_option("liquid")
    expect(flux).to_contain_text("brown")


def test_another_solder_for_a_joint_lasts(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#solder")
    bench.get_by_label("Solder of this joint").select_option("silver-easy")
    expect(bench.get_by_role("heading", name="Solder with silver easy")).to_be_visible()
    expect(bench.get_by_label("Flow in °C")).to_have_value("720")
    expect(bench.get_by_test_id("seams")).to_contain_text("silver easy")
    bench.reload()
    expect(bench.get_by_role("heading", name="Solder with silver easy")).to_be_visible()


def test_what_a_colleague_changes_meanwhile_is_followed_where_nobody_typed(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#solder")
    bench.get_by_label("Rolled, in degrees").fill("13")
    expect(bench.get_by_test_id("heat-picture")).to_have_attribute("aria-valuenow", "13")
    browser = bench.context.browser
    assert browser is not None
    other = browser.new_context(locale="en-GB").new_page()
    other.goto(server.url)
    sign_in(server, other, COLLEAGUE)
    at_step(server, other, "/job/1#solder")
    other.get_by_label("Solder of this joint").select_option("silver-easy")
    expect(other.get_by_label("Flow in °C")).to_have_value("720")
    other.context.close()
    bench.reload()
    expect(bench.get_by_label("Flow in °C")).to_have_value("720")
    expect(bench.get_by_label("Rolled, in degrees")).to_have_value("13")


def test_a_second_look_begins_with_what_the_first_one_took(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/16#inspect")
    bench.get_by_label("Passes made").fill("1")
    bench.get_by_role("button", name="Keep what is seen").click()
    expect(bench.get_by_test_id("look-kept")).to_contain_text("kept")
    bench.locator("[data-step=look-between]").click()
    expect(bench.get_by_label("Passes made")).to_have_value("1")
    expect(bench.get_by_test_id("next")).to_have_text("Look at all five")


def test_annealing_shows_its_colour_and_counts(server: Server, bench: Page) -> None:
    at_step(server, bench, "/job/1#anneal")
    view = bench.get_by_test_id("anneal")
    expect(view).to_contain_text("is too hot")
    expect(view).to_contain_text("once annealed")


def test_a_torch_that_is_too_weak_is_said_first(server: Server, bench: Page) -> None:
    made = (
        "from workshop.people.models import Workshop; w = Workshop.objects.get(); "
        "w.preferences['torches'] = 'pen torch: flowed sterling 1'; w.save()"
    )
    in_database(server, made)
    at_step(server, bench, "/job/10#solder-wrap")
    expect(bench.get_by_test_id("heat-lead")).to_have_text("More flame first")
    expect(bench.get_by_test_id("heat-sheet")).to_contain_text("before anything is bound together")


def test_a_look_waits_while_the_server_is_down(server: Server, bench: Page, expected_errors: list[str]) -> None:
    expected_errors += ["Failed to load resource", "ERR_CONNECTION_REFUSED", "ERR_EMPTY_RESPONSE", "502"]
    at_step(server, bench, "/job/1#inspect")
    bench.get_by_label("Passes made").fill("4")
    expect(bench.get_by_test_id("closes")).to_contain_text("closes at")
    server.stop()
    bench.get_by_role("button", name="Keep what is seen").click()
    expect(bench.get_by_test_id("joint-sheet")).to_contain_text("on its way, not kept yet")
    server.start()
    expect(bench.get_by_test_id("look-kept")).to_contain_text("kept")
    bench.reload()
    expect(bench.get_by_label("Passes made")).to_have_value("4")


@pytest.mark.parametrize("theme", ["paper", "dim"])
def test_no_axe_violation_at_a_wedge_and_in_the_flame(server: Server, bench: Page, axe: str, theme: str) -> None:
    open_screen(server, bench, "/job/1#inspect", theme)
    bench.reload()
    bench.get_by_label("Seen from: side", exact=True).select_option("wedge-in")
    expect(bench.get_by_test_id("next")).to_have_text("Bend it again")
    assert violations(bench, axe) == []
    open_screen(server, bench, "/job/17#solder-sizing", theme)
    bench.get_by_label("Share of the inside in water").fill("0.4")
    bench.get_by_label("Rolled, in degrees").fill("20")
    expect(bench.get_by_test_id("heat-lead")).to_contain_text("Roll it 20")
    assert violations(bench, axe) == []
