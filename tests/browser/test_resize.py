"""A customer's ring from intake to hand-back by keyboard: one up, one down, one joined again, one refused."""

from __future__ import annotations

import base64
import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, in_database
from tests.browser.test_main_job import tab_to, type_over
from tests.resizes import figures, picture, plan

GOLD: dict[str, Any] = {"profile": "half-round", "width_mm": 3.2, "thickness_mm": 1.4}


def take_in(page: Page, now: str, wanted: str, customer: str, **words: str) -> None:
    """The intake at the counter, by keyboard, in the order in which it is said."""
    page.keyboard.press("r")
    expect(page.get_by_label("Present size", exact=True)).to_be_focused()
    page.keyboard.type(now)
    tab_to(page, "Wanted size")
    page.keyboard.type(wanted)
    if "metal" in words:
        tab_to(page, "Metal")
        page.keyboard.type(words["metal"])
    tab_to(page, "Width along the finger")
    type_over(page, "3.2")
    tab_to(page, "Thickness")
    type_over(page, "1.4")
    if "stone" in words:
        tab_to(page, "Stone 1")
        page.keyboard.type(words["stone"])
        tab_to(page, "Span of the head, at the inside")
        page.keyboard.type("5.5")
    tab_to(page, "Customer")
    page.keyboard.type(customer)


def keep(page: Page) -> None:
    tab_to(page, "Put it on the bench")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("step")).to_be_visible()


def work_through(page: Page) -> None:
    """Do what each step says, with what it expects at every measure, to the end of the route."""
    count = page.locator("[data-step]").count()
    for place in range(count):
        at = page.locator("[data-step][aria-current=step]").get_attribute("data-step")
        step = page.get_by_test_id("step")
        if page.get_by_label("Caliper closed").is_visible():
            page.get_by_label("Caliper closed").focus()
            page.keyboard.type("0.00")
            page.keyboard.press("Enter")
            expect(page.get_by_label("Caliper closed")).to_have_count(0)
        for asked in range(step.locator("[data-measure]").count()):
            field = step.locator("[data-measure]").nth(asked)
            field.focus()
            if field.evaluate("it => it.tagName") == "BUTTON":
                if field.get_attribute("data-measure") == "claws":
                    page.keyboard.press("Tab")
                page.keyboard.press("Enter")
                expect(step.locator("button[aria-pressed=true]").first).to_be_visible()
            else:
                page.keyboard.type(field.get_attribute("placeholder") or "")
                page.keyboard.press("Enter")
            expect(field).not_to_be_focused()  # it goes on to the next measure, or to the button
            key = field.get_attribute("data-measure")
            expect(step.locator(f"[data-verdict='{key}']")).to_be_visible()
        done(page)
        expect(page.locator(f"[data-step='{at}']")).to_have_attribute("data-done", "true")
        if place + 1 < count:
            expect(page.locator("[data-step][aria-current=step]")).not_to_have_attribute("data-step", at or "")
    expect(page.locator("[data-step][data-done=false]")).to_have_count(0)


def done(page: Page) -> None:
    """Say by keyboard that the step is done."""
    page.get_by_test_id("step").get_by_role("button", name=re.compile("^Done")).focus()
    page.keyboard.press("Enter")


def hand_back(page: Page) -> None:
    page.get_by_role("button", name="Take it off the bench").press("Enter")
    expect(page.get_by_test_id("now")).to_be_visible()


def test_one_larger_with_a_stone_and_its_photographs(bench: Page, tmp_path: Path) -> None:
    made = plan(from_="US 6", to="US 7 1/4", shank=GOLD, stones=[{"kind": "emerald"}], head={"span_mm": 5.5})
    take_in(bench, "6", "7 1/4", "Ilse Bram", stone="em")
    expect(bench.get_by_test_id("figure")).to_have_text(made.lead.figure)
    advice = bench.get_by_label("What can be done")
    expect(advice.locator("[data-method=add-stock]")).to_have_attribute("data-advice", "possible")
    expect(advice.locator("[data-method=stretch]")).to_have_attribute("data-advice", "never")
    expect(advice.locator("[data-stone=emerald]")).to_contain_text("take it out")
    expect(bench.get_by_test_id("figure-drawing")).to_have_count(2)
    scales = [one.get_attribute("data-per-mm") for one in bench.get_by_test_id("figure-drawing").all()]
    assert len(set(scales)) == 1
    keep(bench)
    before = tmp_path / "before.png"
    before.write_bytes(base64.b64decode(picture(120, 80)))
    bench.get_by_label("Photograph, before").set_input_files(before)
    expect(bench.get_by_alt_text("The ring before")).to_be_visible()
    work_through(bench)
    bench.get_by_label("Photograph, after").set_input_files(before)
    expect(bench.get_by_alt_text("The ring after")).to_be_visible()
    side = [bench.get_by_alt_text(f"The ring {one}").bounding_box() for one in ("before", "after")]
    assert side[0] is not None
    assert side[1] is not None
    assert side[0]["y"] == side[1]["y"]
    assert side[0]["x"] + side[0]["width"] <= side[1]["x"]
    hand_back(bench)


def test_one_smaller_and_a_heat_once_more(bench: Page) -> None:
    made = plan(from_="US 7 1/2", to="US 6", shank=GOLD)
    take_in(bench, "7 1/2", "6", "Corin Ash")
    expect(bench.get_by_test_id("figure")).to_have_text(made.lead.figure)
    told = figures(made)
    expect(bench.get_by_text(f"Set the dividers to {told['mark_outside_mm']:.2f} mm")).to_be_visible()
    keep(bench)
    work_through(bench)
    bench.locator("[data-step=solder-sizing]").click()
    bench.get_by_role("button", name="this heat once more").click()
    expect(bench.locator("[data-step=pickle-sizing]")).to_have_attribute("data-done", "false")
    expect(bench.get_by_test_id("heats")).to_contain_text("One heat so far")
    for key in ("solder-sizing", "pickle-sizing", "rinse"):
        bench.locator(f"[data-step={key}]").click()
        done(bench)
        expect(bench.locator(f"[data-step={key}]")).to_have_attribute("data-done", "true")
    bench.locator("[data-step=solder-sizing]").click()
    expect(bench.get_by_test_id("heats")).to_contain_text("2 heats so far")
    bench.locator("[data-step=hand-back]").click()
    hand_back(bench)


def test_one_joined_again(bench: Page) -> None:
    take_in(bench, "6", "6", "Corin Ash")
    expect(bench.get_by_label("What can be done").locator("[data-method=rejoin]")).to_have_attribute(
        "data-advice", "do"
    )
    keep(bench)
    work_through(bench)
    hand_back(bench)


def test_one_refused_with_what_can_be_done_instead(bench: Page) -> None:
    take_in(bench, "9", "7", "Corin Ash", metal="tung")
    expect(bench.get_by_test_id("figure")).to_have_text("leave it")
    expect(bench.get_by_text("Instead: a spring insert, pressed in cold").first).to_be_visible()
    keep(bench)
    work_through(bench)
    hand_back(bench)


def test_it_is_not_closed_unread_without_a_reason(bench: Page, expected_errors: list[str]) -> None:
    expected_errors.append("422")
    take_in(bench, "6", "6 1/4", "Corin Ash")
    keep(bench)
    bench.locator("[data-step=hand-back]").click()
    done(bench)
    bench.get_by_role("button", name="Take it off the bench").click()
    expect(bench.get_by_text("Not read yet: size from one side")).to_be_visible()
    bench.get_by_label("Why without").fill("taken home unsized")
    bench.reload()  # a reason half said is there again
    bench.locator("[data-step=hand-back]").click()
    expect(bench.get_by_label("Why without")).to_have_value("taken home unsized")
    bench.get_by_role("button", name="Take it off the bench").click()
    expect(bench.get_by_test_id("now")).to_be_visible()


def test_a_way_is_chosen_and_a_never_wants_its_reason(bench: Page) -> None:
    take_in(bench, "6", "9", "Corin Ash")
    expect(bench.get_by_label("What can be done").locator("[data-method=stretch]")).to_be_visible()
    bench.get_by_role("button", name="stretch", exact=True).click()
    reason = bench.get_by_label("Why all the same")
    expect(reason).to_have_attribute("aria-invalid", "true")
    reason.fill("a trial on copper")
    expect(bench.get_by_text("All the same: a trial on copper", exact=True)).to_be_visible()
    expect(bench.get_by_label("Way", exact=True)).to_have_value("stretch")


def test_daylight_gives_no_advice_before_it_is_trued(bench: Page) -> None:
    take_in(bench, "6", "7", "Corin Ash")
    expect(bench.get_by_label("What can be done").locator("li").first).to_be_visible()
    bench.get_by_label("Daylight under it").select_option("yes")
    expect(bench.get_by_test_id("figure")).to_have_text("true it")
    expect(bench.get_by_label("What can be done").locator("[data-method]")).to_have_count(1)
    bench.get_by_label("Daylight under it").select_option("no")
    bench.get_by_label("Present size from the other side").fill("6 1/2")
    expect(bench.get_by_test_id("figure")).to_have_text("true it")


def test_stones_and_features_come_and_go(bench: Page) -> None:
    take_in(bench, "6", "7", "Corin Ash")
    for place, stone in enumerate(("ruby", "opal", "diamond"), start=1):
        bench.get_by_label(f"Stone {place}", exact=True).select_option(stone)
    bench.get_by_label("Stone 2 is").select_option("treated")
    bench.get_by_label("Stone 1", exact=True).select_option("")
    expect(bench.get_by_label("Stone 1", exact=True)).to_have_value("opal")
    expect(bench.get_by_label("Stone 1 is")).to_have_value("treated")
    expect(bench.get_by_label("Stone 3", exact=True)).to_have_value("")
    bench.get_by_label("Feature 1", exact=True).select_option("pattern-all-round")
    bench.get_by_label("Pitch of the pattern").fill("2.4")
    bench.get_by_role("cell", name="2 ", exact=False).first.wait_for()
    fits = bench.get_by_role("table", name="Whole elements")
    expect(fits).to_contain_text("Whole elements")
    fits.get_by_role("button").first.click()
    expect(fits).to_contain_text("as wanted")


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("ring.jpg", b"#!/bin/sh\nrm -rf /\n" * 30, "That is no picture"),
        ("huge.png", base64.b64decode(picture(10_000, 10_000)), "100 megapixels"),
        ("short.jpg", base64.b64decode(picture(400, 300, "JPEG"))[:-300], "broken or cut short"),
    ],
    ids=["script", "huge", "truncated"],
)
def test_a_file_that_is_no_good_picture_is_refused(
    server: Server, bench: Page, expected_errors: list[str], tmp_path: Path, name: str, content: bytes, said: str
) -> None:
    expected_errors.append("422")
    bench.goto(server.url + "/job/16")
    expect(bench.get_by_test_id("photos")).to_be_visible()
    (tmp_path / name).write_bytes(content)
    bench.get_by_label("Photograph, before").set_input_files(tmp_path / name)
    expect(bench.get_by_test_id("photos")).to_contain_text(said)
    assert in_database(server, "from workshop.photos.models import Photo; print(Photo.objects.count())") == "0"


def test_an_estimate_is_given_and_rings_are_looked_at_together(server: Server, bench: Page) -> None:
    bench.goto(server.url + "/job/17")
    bench.get_by_role("button", name="estimate").click()
    total = bench.get_by_test_id("estimate-total")
    expect(total).to_be_visible()
    bench.get_by_role("button", name="Keep this estimate").click()
    expect(bench.get_by_role("link", name="no. 1")).to_be_visible()
    expect(bench.get_by_test_id("estimate")).to_contain_text(f"{total.inner_text()} EUR")
    bench.goto(server.url + "/job/1")
    bench.get_by_role("button", name="estimate").click()
    silver = total.inner_text()
    bench.get_by_label("Estimate in").select_option("gold-14k-yellow")
    expect(total).not_to_have_text(silver)
    bench.goto(server.url + "/resize/15")
    expect(bench.get_by_label("Wanted size")).to_have_value("6 1/8")
    bench.get_by_label("Metal").select_option("gold-14k-yellow")
    bench.get_by_label("What comes out").select_option("credited")
    bench.get_by_role("button", name="Save the order").click()
    expect(bench.get_by_test_id("step")).to_be_visible()
    bench.goto(server.url + "/batch")
    swaps = bench.get_by_role("table")
    expect(swaps).to_contain_text("emerald ring larger")
    bench.goto(server.url + "/resize/17")
    expect(bench.get_by_label("Wanted size")).to_have_value("UK M")
    bench.get_by_role("button", name=re.compile("from Corvin Hale")).click()
    expect(bench.get_by_label("Piece at hand")).not_to_have_value("")
    expect(bench.get_by_text("The piece at hand is")).to_be_visible()


def test_the_code_of_a_slip_opens_the_job(server: Server, bench: Page) -> None:
    number = in_database(server, "from workshop.jobs.models import Job; print(Job.objects.get(pk=16).number)")
    bench.goto(f"{server.url}/ticket/{number}")
    expect(bench.get_by_test_id("step")).to_be_visible()
    assert bench.url.endswith("/job/16")
    bench.goto(server.url)
    expect(bench.get_by_test_id("now")).to_be_visible()
    bench.keyboard.press("s")
    bench.get_by_label("Name, number or ticket").fill(f"http://bench.example/ticket/{number}")
    expect(bench.get_by_test_id("find").get_by_role("option")).to_have_count(1)
    bench.keyboard.press("Enter")
    expect(bench.get_by_test_id("step")).to_be_visible()


def test_a_kept_resize_is_changed_and_comes_back_as_it_was_said(server: Server, bench: Page) -> None:
    bench.goto(server.url + "/resize/15")
    expect(bench.get_by_label("Wanted size")).to_have_value("6 1/8")
    expect(bench.get_by_label("Stone 1", exact=True)).to_have_value("sapphire")
    expect(bench.get_by_label("Feature 1", exact=True)).to_have_value("old-seam")
    expect(bench.get_by_label("Thinnest place")).to_have_value("1.15")
    figure = bench.get_by_test_id("figure")
    expect(figure).to_be_visible()
    was = figure.inner_text()
    bench.get_by_label("Wanted size").fill("6 3/8")
    expect(figure).not_to_have_text(was)
    bench.get_by_role("button", name="Save the order").click()
    expect(bench.get_by_test_id("step")).to_be_visible()
    bench.get_by_role("link", name="the order").click()
    expect(bench.get_by_label("Wanted size")).to_have_value("6 3/8")
    expect(bench.get_by_label("Read on")).to_have_value("kept")
    expect(bench.get_by_label("Wanted on")).to_have_value("")


def test_every_reason_can_be_asked_for(bench: Page) -> None:
    """A way that is looked past shows its first reasons and says how many more there are: none is cut off silently."""
    take_in(bench, "6", "7 1/4", "Corin Ash")
    for place, feature in enumerate(("engraved-inside", "plated", "old-seam")):
        bench.get_by_label(f"Feature {place + 1}", exact=True).select_option(feature)
    stretch = bench.get_by_label("What can be done").locator("[data-method=stretch]")
    made = plan(from_="US 6", to="US 7 1/4", shank=GOLD, features=["engraved-inside", "plated", "old-seam"])
    why = next(one.why for one in made.methods if one.key == "stretch")
    expect(stretch).not_to_contain_text(why[-1])
    stretch.get_by_role("button", name=f"and {len(why) - 2} more reasons").click()
    for said in why:
        expect(stretch).to_contain_text(said)
