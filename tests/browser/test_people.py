"""An owner invites, a bench person comes in and sees no money; a second factor; the first day of a workshop."""

from __future__ import annotations

import hashlib
import hmac
import re
import struct
from base64 import b32decode
from collections.abc import Callable

from playwright.sync_api import Browser, Locator, Page, expect

from tests.browser.conftest import PASSWORD, Server, in_database


def other(browser: Browser, server: Server, path: str = "/") -> Page:
    """A page of a browser that nobody has signed in on."""
    page = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB").new_page()
    page.goto(server.url + path)
    return page


def sign_in(page: Page, name: str, password: str) -> None:
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()


def code_at(secret: str, at: float) -> str:
    """The code of RFC 6238 for a time."""
    digest = hmac.new(b32decode(secret.replace(" ", "")), struct.pack(">Q", int(at // 30)), hashlib.sha1).digest()
    place = digest[-1] & 15
    return f"{(struct.unpack('>I', digest[place : place + 4])[0] & 0x7FFFFFFF) % 1_000_000:06d}"


def given(page: Page, where: Page | Locator, code: Callable[[], str], button: str) -> None:
    """Give a code until it is taken: after a wrong one the server lets a moment pass, longer each time."""
    while True:
        where.get_by_label("Code", exact=True).fill(code())
        with page.expect_response(lambda one: one.url.endswith(("/factor", "/code"))) as answer:
            where.get_by_role("button", name=button).click()
        if answer.value.ok:
            return


def test_who_is_invited_comes_in_by_the_link_and_sees_no_money(server: Server, bench: Page, browser: Browser) -> None:
    bench.goto(f"{server.url}/ways#people")
    people = bench.get_by_test_id("people")
    people.get_by_label("Name", exact=True).fill("Siskin Moor")
    people.get_by_label("Name to sign in with").fill("siskin")
    people.get_by_role("button", name="Invite").click()
    link = people.get_by_test_id("link").input_value()
    assert link.startswith(f"{server.url}/welcome#")
    expect(people.get_by_text("has not come in yet")).to_be_visible()

    theirs = other(browser, server)
    theirs.goto(link)
    for label in ("New password", "New password once more"):
        theirs.get_by_label(label, exact=True).fill("copper and bronze")
    theirs.get_by_role("button", name="Come in").click()
    expect(theirs.get_by_test_id("now")).to_be_visible()
    theirs.goto(f"{server.url}/ways")
    expect(theirs.get_by_role("navigation", name="Ways").get_by_text("prices")).to_have_count(0)
    expect(theirs.get_by_role("navigation", name="Ways").get_by_text("people")).to_have_count(0)
    expect(theirs.get_by_role("button", name="Keep these ways")).to_have_count(0)
    theirs.goto(f"{server.url}/drawer")
    expect(theirs.get_by_role("link", name="roll a bar down")).to_be_visible()
    expect(theirs.get_by_role("link", name="what it is worth")).to_have_count(0)
    theirs.goto(f"{server.url}/job/1")
    expect(theirs.get_by_role("link", name="job file")).to_be_visible()
    expect(theirs.get_by_role("button", name="estimate")).to_have_count(0)

    bench.reload()
    row = bench.get_by_role("listitem").filter(has_text="Siskin Moor")
    with bench.expect_response(lambda one: one.url.endswith("/role")):
        row.get_by_label("What Siskin Moor may do").select_option("counter")
    expect(row.get_by_label("What Siskin Moor may do")).to_have_value("counter")
    theirs.reload()
    expect(theirs.get_by_role("button", name="estimate")).to_be_visible()

    row.get_by_role("button", name="let go").click()
    expect(row.get_by_text("is not here any more")).to_be_visible()
    theirs.reload()
    expect(theirs.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    theirs.context.close()

    row.get_by_role("button", name="erase Siskin Moor").click()
    row.get_by_role("button", name="Erase Siskin Moor").click()
    expect(people.get_by_text("signs in as erased-")).to_be_visible()
    expect(people.get_by_text("Siskin Moor")).to_have_count(0)


def test_a_second_factor_is_set_up_asked_for_and_a_recovery_code_does(
    server: Server, bench: Page, browser: Browser, expected_errors: list[str]
) -> None:
    expected_errors += ["422", "429"]
    bench.goto(f"{server.url}/ways#mine")
    factor = bench.get_by_test_id("factor")
    factor.get_by_role("textbox", name="My password").fill(PASSWORD)
    factor.get_by_role("button", name="Set it up").click()
    secret = factor.get_by_test_id("secret").inner_text()
    expect(factor.get_by_role("img")).to_have_attribute("src", re.compile("^data:image/svg"))
    factor.get_by_label("Code", exact=True).fill("000000")
    factor.get_by_role("button", name="That is it").click()
    expect(factor.get_by_text("That is not the code.")).to_be_visible()
    given(bench, factor, lambda: code_at(secret, float(bench.evaluate("Date.now() / 1000"))), "That is it")
    listed = factor.get_by_test_id("codes").get_by_role("listitem")
    expect(listed).to_have_count(10)
    codes = listed.all_inner_texts()

    theirs = other(browser, server)
    sign_in(theirs, "wren", PASSWORD)
    expect(theirs.get_by_label("Code", exact=True)).to_be_visible()
    theirs.goto(f"{server.url}/job/1")
    expect(theirs.get_by_label("Code", exact=True)).to_be_visible()  # half in is not in
    theirs.get_by_label("Code", exact=True).fill("nonsense")
    theirs.get_by_role("button", name="Come in").click()
    expect(theirs.get_by_text("That code is not good.")).to_be_visible()
    theirs.get_by_label("Code", exact=True).fill(codes[4])
    expect(theirs.get_by_role("button", name="Come in")).to_be_enabled()
    while theirs.get_by_label("Code", exact=True).count():
        theirs.get_by_label("Code", exact=True).fill(codes[4])
        theirs.get_by_role("button", name="Come in").click()
        theirs.wait_for_function(
            "() => !document.querySelector('[aria-label=Code]') || document.querySelector('[aria-label=Code]').value === ''"
        )
    expect(theirs.get_by_role("link", name="job file")).to_be_visible()
    theirs.context.close()

    bench.reload()
    expect(bench.get_by_test_id("sessions").get_by_role("button", name="sign out there")).to_be_visible()
    bench.get_by_test_id("sessions").get_by_role("button", name="sign out there").click()
    expect(bench.get_by_test_id("sessions").get_by_role("button", name="sign out there")).to_have_count(0)
    factor.get_by_role("textbox", name="My password").fill(PASSWORD)
    factor.get_by_role("button", name="take it away").click()
    expect(factor.get_by_role("button", name="Set it up")).to_be_visible()


def test_a_workshop_comes_in_by_its_first_link_and_does_three_things(server: Server, browser: Browser) -> None:
    said = in_database(server, "from workshop.people.accounts import first_link; print(first_link())")
    link = said.split("/welcome#")[1]
    page = other(browser, server, f"/welcome#{link}")
    form = page.get_by_role("form", name="The workshop")
    expect(form.locator("input")).to_have_count(5)
    form.get_by_label("Workshop", exact=True).fill("Fen Street Rings")
    form.get_by_label("Name", exact=True).fill("Rook Ember")
    form.get_by_label("Name to sign in with").fill("rook")
    form.get_by_label("New password", exact=True).fill("copper and bronze")
    form.get_by_label("New password once more").fill("copper and bronze")
    form.get_by_role("button", name="Come in").click()
    first = page.get_by_test_id("first")
    expect(first.get_by_role("listitem")).to_have_count(3)
    assert "#" not in page.url
    first.get_by_role("link", name="How you say sizes and lengths").click()
    ways = page.get_by_role("form", name="The workshop")
    expect(ways).to_be_visible()
    assert ways.locator("input:visible, select:visible").count() <= 12
    ways.get_by_label("Home scale").select_option("uk")
    ways.get_by_role("button", name="Keep these ways").click()
    expect(ways.get_by_text("Kept.")).to_be_visible()
    page.goto(server.url)
    expect(first.get_by_text("done")).to_have_count(1)
    page.goto(f"{server.url}/ways#keeping")
    expect(page.get_by_text("no backup was ever made")).to_be_visible()

    second = other(browser, server, f"/welcome#{link}")
    for label, text in (("Workshop", "Another"), ("Name to sign in with", "crow"), ("New password", "tin and lead too"),
                        ("New password once more", "tin and lead too")):  # fmt: skip
        second.get_by_label(label, exact=True).fill(text)
    second.get_by_role("button", name="Come in").click()
    expect(second.get_by_text("This link was used already")).to_be_visible()
    second.context.close()
    page.context.close()
