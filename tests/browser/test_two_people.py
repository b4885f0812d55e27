"""Two people: theirs beside yours on every screen, a tab that knows whose it is, a job that is elsewhere, a job found."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, in_database, sign_in
from tests.browser.test_every_screen import violations


def test_an_order_that_a_colleague_saved_meanwhile_stands_beside_mine(
    server: Server, bench: Page, colleague: Page, expected_errors: list[str], axe: str
) -> None:
    expected_errors.append("409")
    for page in (bench, colleague):
        page.goto(f"{server.url}/ring/2")
        expect(page.get_by_label("Finger size")).to_have_value("UK N")
    colleague.get_by_label("Note").fill("Allergy to nickel")
    colleague.get_by_label("Finger size").fill("UK N 1/2")
    colleague.get_by_role("button", name="Save the order").click()
    expect(colleague.get_by_test_id("step")).to_be_visible()
    bench.get_by_label("Note").fill("Engrave inside")
    bench.get_by_label("Thickness").fill("2.1")
    bench.get_by_role("button", name="Save the order").click()
    box = bench.get_by_test_id("theirs")
    expect(box).to_contain_text("Linnet Sorrel saved this at")
    expect(box.locator("[data-row]")).to_have_count(3)
    expect(box.locator("[data-row=note]")).to_contain_text("Allergy to nickel")
    expect(box.get_by_label("finger size: keep theirs")).to_be_checked()  # only they touched it
    expect(box.get_by_label("thickness: keep mine")).to_be_checked()
    expect(bench.get_by_role("button", name="Save the order")).to_have_count(0)
    assert violations(bench, axe) == []
    bench.reload()  # seen or not, it is there again
    box = bench.get_by_test_id("theirs")
    expect(box.locator("[data-row=note]")).to_contain_text("Engrave inside")
    box.get_by_label("note: keep theirs").check()
    box.get_by_role("button", name="Save what is chosen").click()
    expect(bench.get_by_text("Allergy to nickel")).to_be_visible()
    said = in_database(
        server,
        "from workshop.jobs.models import Job; j = Job.objects.get(pk=2)\n"
        "print(j.note, '|', j.order['size'], '|', j.order['stock']['thickness_mm'])",
    )
    assert said == "Allergy to nickel | UK N 1/2 | 2.1"


def test_another_style_of_theirs_is_chosen_whole(
    server: Server, bench: Page, colleague: Page, expected_errors: list[str]
) -> None:
    expected_errors.append("409")
    for page in (bench, colleague):
        page.goto(f"{server.url}/ring/5")
        expect(page.get_by_label("Finger size")).to_have_value("US 10 1/4")
    colleague.get_by_label("Style", exact=True).select_option("wishbone")
    expect(colleague.get_by_label("V", exact=False).first).to_be_visible()
    colleague.get_by_role("button", name="Save the order").click()
    expect(colleague.get_by_test_id("step")).to_be_visible()
    bench.get_by_label("Thickness").fill("2.2")
    bench.get_by_role("button", name="Save the order").click()
    box = bench.get_by_test_id("theirs")
    expect(box.locator("[data-row=order]")).to_contain_text("wishbone")
    box.get_by_label("order: keep mine").check()
    box.get_by_role("button", name="Save what is chosen").click()
    expect(bench.get_by_test_id("step")).to_be_visible()
    stood = in_database(
        server,
        "from workshop.jobs.models import Job; j = Job.objects.get(pk=5)\n"
        "print(j.order['style'], j.order['stock']['thickness_mm'], j.past_plans.count(), j.next_key)",
    )
    assert stood.startswith("plain-band 2.2 2 ")


#: screen, the field that both change, the button that saves it
SHARED = {
    "customer": ("/customers/2", "Note", "save"),
    "gauge": ("/gauges/2", "Where it lives", "save"),
    "ways": ("/ways#cutting", "Rounding", "Keep these ways"),
    "place": ("/job/12", "Note on the place", "Say so"),
}


@pytest.mark.sweep
@pytest.mark.parametrize("name", SHARED)
def test_theirs_stand_beside_mine_on_every_screen(
    server: Server, bench: Page, colleague: Page, expected_errors: list[str], name: str
) -> None:
    expected_errors.append("409")
    in_database(server, "from workshop.people.models import *; User.objects.update(role='owner')")
    path, label, button = SHARED[name]
    said = ("0.2", "0.3") if name == "ways" else ("theirs first", "mine second")
    for page in (bench, colleague):
        page.goto(server.url + path)
        expect(page.get_by_label(label, exact=True).first).to_be_visible()
    for page, text in ((colleague, said[0]), (bench, said[1])):
        page.get_by_label(label, exact=True).first.fill(text)
        page.get_by_role("button", name=button, exact=True).first.click()
        if page is colleague:
            done = (
                page.get_by_text("Kept.") if name == "ways" else page.get_by_role("button", name=button, exact=True)
            )
            expect(done).to_be_visible() if name in ("ways", "customer") else expect(done).to_have_count(0)
            page.wait_for_load_state("networkidle")
    box = bench.get_by_test_id("theirs")
    expect(box).to_contain_text(said[0])
    expect(box).to_contain_text(said[1])
    expect(box).to_contain_text("Linnet Sorrel saved this")
    bench.reload()  # seen but not chosen: another press shows them again and writes nothing over theirs
    expect(bench.get_by_label(label, exact=True).first).to_have_value(said[1])
    bench.get_by_role("button", name=button, exact=True).first.click()
    expect(box).to_contain_text(said[0])
    box.get_by_label(re.compile("keep theirs")).last.check()
    box.get_by_role("button", name="all mine").click()
    box.get_by_role("button", name="Save what is chosen").click()
    expect(box).to_have_count(0)
    bench.reload()
    expect(bench.get_by_label(label, exact=True).first).to_have_value(said[1])
    expect(bench.get_by_test_id("picked-up")).to_have_count(0)
    if name == "ways":  # other tests plan by the usual ways
        in_database(
            server, "from workshop.people.models import *; Workshop.objects.filter(pk=1).update(preferences={})"
        )


def test_a_tab_of_one_person_does_nothing_once_another_is_in(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["401", "403"]
    bench.goto(f"{server.url}/ring")
    bench.get_by_label("Name of the job").fill("typed as wren")
    other = bench.context.new_page()
    other.goto(server.url)
    other.get_by_role("button", name="sign out").click()
    expect(bench.get_by_role("heading", name="You were signed out")).to_be_visible()
    expect(other.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    sign_in(server, other, "linnet")
    expect(bench.get_by_test_id("now")).to_be_visible()  # cleared: this tab is linnet's now
    bench.goto(f"{server.url}/ring")
    expect(bench.get_by_test_id("figure")).to_be_visible()
    expect(bench.get_by_label("Name of the job")).to_have_value("")


def test_a_write_of_a_tab_that_does_not_know_it_yet_is_refused(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["401", "403", "Failed to load resource"]
    bench.goto(f"{server.url}/ring")
    bench.get_by_label("Name of the job").fill("in the wrong workshop")
    bench.evaluate("window.BroadcastChannel.prototype.postMessage = () => undefined")
    answer = bench.evaluate(
        """async () => {
          const token = () => /csrftoken=([^;]+)/.exec(document.cookie)[1]
          const ask = (method, body) => fetch('/api/session', { method, body: body && JSON.stringify(body),
            headers: { 'X-CSRFToken': token(), 'Content-Type': 'application/json' } })
          await ask('DELETE')
          return (await ask('POST', { username: 'linnet', password: 'a word for the tests' })).status
        }"""
    )
    assert answer == 200
    bench.get_by_role("button", name="Put it on the bench").click()
    expect(bench.get_by_test_id("now")).to_be_visible()
    made = "from workshop.jobs.models import Job; print(Job.objects.filter(title='in the wrong workshop').count())"
    assert in_database(server, made) == "0"
    bench.get_by_role("button", name="sign out").click()
    expect(bench.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    sign_in(server, bench)  # whose it was is back: it goes out for them
    expect(bench.get_by_test_id("outbox")).to_contain_text("Arrived: the order of in the wrong workshop")
    assert in_database(server, made) == "1"


def test_a_stranger_over_the_signed_out_sheet_sees_nothing_of_the_owner(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["401", "403", "Failed to load resource"]
    in_database(
        server,
        "from workshop.people.models import *\n"
        "s, _ = Workshop.objects.get_or_create(name='Fen Street Rings')\n"
        "User.objects.filter(username='rook').exists() or "
        "User.objects.create_user('rook', password='a word for the tests', workshop=s)",
    )
    bench.get_by_test_id("bench-line").get_by_role("link", name="Quill").click()
    expect(bench.get_by_role("heading", name="Quill, flat band")).to_be_visible()
    bench.context.clear_cookies(name="sessionid")
    bench.keyboard.press("Enter")
    expect(bench.get_by_role("heading", name="You were signed out")).to_be_visible()
    bench.get_by_label("Name", exact=True).fill("rook")
    bench.get_by_label("Password").fill("a word for the tests")
    bench.get_by_label("Password").press("Enter")
    expect(bench.get_by_text("Fen Street Rings")).to_be_visible()
    expect(bench.get_by_text("Nothing is on the bench.")).to_be_visible()
    expect(bench.get_by_text("Quill")).to_have_count(0)


def test_signed_out_elsewhere_the_sheet_waits_for_its_owner(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors.append("401")
    bench.goto(f"{server.url}/ring")
    bench.get_by_label("Name of the job").fill("signed out meanwhile")
    bench.context.clear_cookies(name="sessionid")
    bench.get_by_role("button", name="Put it on the bench").click()
    expect(bench.get_by_role("heading", name="You were signed out")).to_be_visible()
    expect(bench.get_by_label("Name of the job")).to_have_value("signed out meanwhile")
    bench.get_by_label("Name", exact=True).fill("wren")
    bench.get_by_label("Password").fill("a word for the tests")
    bench.get_by_label("Password").press("Enter")
    expect(bench.get_by_role("heading", name="signed out meanwhile")).to_be_visible()


def test_too_many_wrong_passwords_are_said_in_words(server: Server, screen: Page, expected_errors: list[str]) -> None:
    expected_errors += ["401", "429"]
    screen.goto(server.url)
    screen.get_by_label("Name").fill("nobody-at-all")
    for _ in range(9):
        screen.get_by_label("Password").fill("wrong again")
        screen.get_by_label("Password").press("Enter")
        expect(screen.get_by_role("button", name="Sign in")).to_be_enabled()
    expect(screen.get_by_text("Too many tries.")).to_be_visible()


def test_a_job_says_where_it_is_and_comes_back(bench: Page) -> None:
    bench.get_by_test_id("bench-line").get_by_role("link", name="Quill").click()
    where = bench.get_by_role("form", name="Where it is")
    where.get_by_label("Where it is").select_option(label="customer asked")
    where.get_by_label("Note on the place").fill("wider?")
    where.get_by_role("button", name="Say so").click()
    expect(where.get_by_role("button", name="Say so")).to_have_count(0)
    bench.keyboard.press("b")
    line = bench.get_by_test_id("bench-line")
    expect(line.get_by_role("link", name="Quill, flat band, customer asked")).to_have_attribute(
        "data-station", "asked"
    )
    row = bench.get_by_role("list", name="Open jobs by due date").get_by_role("listitem").filter(has_text="Quill")
    expect(row).to_contain_text("customer asked, wider?")
    row.get_by_role("link").click()
    where.get_by_label("Where it is").select_option(label="collected")
    where.get_by_role("button", name="Say so").click()
    expect(bench.get_by_role("button", name="put it back on the bench")).to_be_visible()
    bench.get_by_role("button", name="put it back on the bench").click()
    expect(where.get_by_label("Where it is")).to_have_value("")
    bench.get_by_role("button", name="history").click()
    expect(bench.get_by_test_id("history")).to_contain_text("customer asked, wider?")
    expect(bench.get_by_test_id("history")).to_contain_text("put back on the bench")


def test_a_step_is_done_once_more(bench: Page) -> None:
    bench.get_by_test_id("bench-line").get_by_role("link", name="Oduya").click()
    bench.locator("[data-step=anneal]").click()
    bench.get_by_role("button", name="done once more").click()
    expect(bench.get_by_text("for the second time")).to_be_visible()
    bench.get_by_role("button", name="not done after all").click()
    expect(bench.get_by_text("for the second time")).to_have_count(0)
    expect(bench.get_by_text("Done at")).to_be_visible()


def test_a_job_is_found_from_anywhere(bench: Page, axe: str) -> None:
    bench.keyboard.press("g")
    expect(bench.get_by_role("heading", name="The shop's gauges")).to_be_visible()
    bench.keyboard.press("Escape")
    bench.evaluate("document.activeElement.blur()")
    bench.keyboard.press("s")
    bench.keyboard.type("t-21")
    found = bench.get_by_role("listbox", name="Jobs found").get_by_role("option")
    expect(found).to_have_count(1)
    expect(found).to_contain_text("Lowmoor, oval shank (T-218)")
    assert violations(bench, axe) == []
    bench.keyboard.press("Control+A")
    bench.keyboard.type("band")
    expect(found.first).to_contain_text("band")
    expect(found.first).to_have_attribute("aria-selected", "true")
    bench.keyboard.press("ArrowDown")
    bench.keyboard.press("Enter")
    expect(bench.get_by_test_id("step")).to_be_visible()
    expect(bench.get_by_test_id("find")).to_have_count(0)


def test_a_kept_plan_that_cannot_be_read_is_said_and_can_be_planned_anew(server: Server, bench: Page) -> None:
    made = in_database(
        server,
        "from workshop.jobs.models import Job\n"
        "j = Job.objects.get(title='heavy half-round'); j.pk = None; j.number = 900; j.title = 'of long ago'\n"
        "j.plan = {'blanks': [{'title': 'band', 'cut_text': '59.9'}]}; j.save(); print(j.pk)",
    )
    bench.goto(f"{server.url}/job/{made}")
    older = bench.get_by_test_id("older")
    expect(older).to_contain_text("59.9")
    older.get_by_role("button", name="today's plan beside it").click()
    expect(older).to_contain_text("nothing can be compared")
    older.get_by_role("button", name="Take today's plan").click()
    expect(bench.get_by_test_id("step")).to_be_visible()
    in_database(server, f"from workshop.jobs.models import Job; Job.objects.filter(pk={made}).delete()")


def test_ones_own_password_is_changed_on_screen(server: Server, screen: Page, expected_errors: list[str]) -> None:
    expected_errors.append("422")
    in_database(
        server,
        "from workshop.people.models import *; u = User.objects.filter(username='tern').first() or "
        "User.objects.create_user('tern', workshop=Workshop.objects.first())\n"
        "u.set_password('a word for the tests'); u.save()",
    )
    sign_in(server, screen, "tern")
    screen.get_by_role("link", name="Ways", exact=True).click()
    screen.get_by_role("link", name="tern", exact=True).click()
    form = screen.get_by_role("form", name="My password")
    form.get_by_label("Password now").fill("a wrong one")
    form.get_by_label("New password", exact=True).fill("copper and bronze")
    form.get_by_label("New password once more").fill("copper and bronze")
    form.get_by_role("button", name="Change it").click()
    expect(form.get_by_text("That is not your password.")).to_be_visible()
    form.get_by_label("Password now").fill("a word for the tests")
    form.get_by_role("button", name="Change it").click()
    expect(form.get_by_text("Changed; other devices are signed out.")).to_be_visible()
    screen.keyboard.press("Escape")
    screen.reload()
    expect(screen.get_by_role("link", name="Ways", exact=True)).to_be_visible()


def test_a_new_shop_is_entered_by_its_link(server: Server, screen: Page) -> None:
    link = in_database(
        server,
        "from workshop.people.accounts import *; import secrets\n"
        "print(one_time_link(new_shop('Marsh Bench', 'sedge-' + secrets.token_hex(3), 'Sedge Reed')))",
    )
    screen.goto(server.url + "/welcome#" + link.partition("#")[2])
    expect(screen.get_by_role("heading", name="Welcome to the bench.")).to_be_visible()
    assert "#" not in screen.url
    screen.get_by_label("New password", exact=True).fill("copper and bronze")
    screen.get_by_label("New password once more").fill("copper and bronze")
    screen.get_by_role("button", name="Come in").click()
    expect(screen.get_by_text("Nothing is on the bench.")).to_be_visible()
    expect(screen.get_by_text("Marsh Bench")).to_be_visible()
