"""The day: worked through, moved by the keyboard, seen by two people at once, timers that outlive the server."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Server, in_database
from tools.browser import at_work

#: the bench is open round the clock, and midnight is far: a test runs at whatever hour it runs
OPEN = """
from ringcraft.day.ways import WEEKDAYS
from workshop.core.history import Actor
from workshop.people.keeping import set_some
from workshop.people.models import Workshop
from workshop.people.preferences import read_overrides
from ringcraft.day.ways import OpenDay
shop = Workshop.objects.order_by('pk').first()
hours = tuple(OpenDay(weekday=day, opens='0:00', closes='24:00') for day in WEEKDAYS)
set_some(Actor(shop.pk), shop, shop.preferences_version, {{'opening': hours, 'time_zone': '{zone}'}})
"""
#: so many minutes have passed for all that was ticked, taken and planned
PASS = """
from datetime import timedelta
from django.db.models import F
from workshop.jobs.models import Job, StepDone
from workshop.day.models import ShownPlan, Took
gone = timedelta(minutes={minutes})
StepDone.objects.update(at=F('at') - gone, ready_at=F('ready_at') - gone)
Job.objects.filter(ready_at__isnull=False).update(ready_at=F('ready_at') - gone)
Took.objects.update(at=F('at') - gone, until=F('until') - gone)
ShownPlan.objects.all().delete()
"""
#: the demo's waits end while a suite runs: of one ring, one that does not
SOAKS = """
from datetime import timedelta
from django.utils import timezone
from workshop.jobs.models import Job, StepDone
ends = timezone.now() + timedelta(minutes=20)
waits = StepDone.objects.filter(job__number={number}, ready_at__isnull=False).order_by('-pk').first()
StepDone.objects.filter(pk=waits.pk).update(ready_at=ends)
Job.objects.filter(number={number}).update(ready_at=ends)
"""


def opened(server: Server, bench: Page) -> Page:
    in_database(server, OPEN.format(zone=at_work()))
    bench.goto(server.url)
    expect(bench.locator("[data-testid=day][data-settled=true]")).to_be_visible()
    return bench


def blocks(page: Page, **which: object) -> str:
    picked = "".join(f"[data-{name}='{value}']" for name, value in which.items())
    return f"[data-testid=day-drawing] rect[role=option]{picked}"


def test_the_bench_says_the_first_block_of_the_plan_and_why(server: Server, bench: Page) -> None:
    opened(server, bench)
    first = bench.locator(blocks(bench)).first
    job, key = first.get_attribute("data-job"), first.get_attribute("data-key")
    now = bench.get_by_test_id("now").get_by_role("link")
    expect(now).to_have_attribute("href", f"/job/{job}")
    expect(bench.get_by_test_id("now")).to_contain_text("Now:")
    expect(bench.get_by_test_id("why-now")).to_contain_text("Space opens its card")
    assert key
    bench.keyboard.press("Space")
    expect(bench).to_have_url(re.compile(f"/job/{job}"))


def test_a_day_worked_through_with_the_clock_moved(server: Server, bench: Page) -> None:
    opened(server, bench)
    for _ in range(4):
        now = bench.get_by_test_id("now").get_by_role("link")
        was = now.inner_text()
        bench.keyboard.press("Space")
        heading = bench.get_by_test_id("step").get_by_role("heading").first
        title = heading.inner_text()
        expect(bench.get_by_test_id("act").get_by_role("button", name=re.compile("^Done"))).to_be_enabled()
        bench.keyboard.press("Enter")  # a button may move while a drawing above it still comes
        expect(heading).not_to_have_text(title)
        in_database(server, PASS.format(minutes=6))
        bench.goto(server.url)
        expect(bench.locator("[data-testid=day][data-settled=true]")).to_be_visible()
        expect(now).not_to_have_text(was)
    assert int(in_database(server, "from workshop.core.models import Event\n"
                                   "print(Event.objects.filter(what='ticked', by__isnull=False).count())")) >= 4  # fmt: skip


def test_who_goes_home_leaves_the_plan_until_they_are_back(server: Server, bench: Page) -> None:
    opened(server, bench)
    who = bench.get_by_role("group", name="Who is gone home")
    name = who.get_by_role("button").first.inner_text()
    expect(bench.get_by_role("listbox", name=f"The steps of {name}")).to_be_visible()
    who.get_by_role("button", name=name).click()
    expect(who).to_contain_text(re.compile(f"{name} went home \\d+:\\d\\d"))
    expect(bench.get_by_test_id("replanned")).to_contain_text(f"{name} went home")
    bench.reload()
    expect(who).to_contain_text(f"{name} went home")
    expect(bench.get_by_role("listbox", name=f"The steps of {name}")).to_have_count(0)
    who.get_by_role("button", name="back at the bench").click()
    expect(who.get_by_role("button", name=name)).to_be_visible()
    expect(bench.get_by_role("listbox", name=f"The steps of {name}")).to_be_visible()


def test_a_block_is_moved_by_the_keyboard_and_the_rest_follows(server: Server, bench: Page) -> None:
    opened(server, bench)
    block = bench.get_by_role("listbox").first.get_by_role("option").nth(5)
    job, key = block.get_attribute("data-job"), block.get_attribute("data-key")
    mine = bench.locator(blocks(bench, job=job, key=key))
    before = mine.get_attribute("x")
    row = bench.get_by_role("listbox").first
    row.focus()
    for _ in range(5):
        bench.keyboard.press("ArrowDown")
    expect(mine).to_have_attribute("aria-selected", "true")
    for _ in range(3):
        bench.keyboard.press("Shift+ArrowRight")
    expect(mine).to_have_attribute("data-pinned", "true")
    expect(bench.locator("[data-testid=day][data-settled=true]")).to_be_visible()
    assert float(mine.get_attribute("x") or 0) > float(before or 0) + 20
    bench.reload()
    expect(mine).to_have_attribute("data-pinned", "true")
    row.focus()
    for _ in range(400):
        if mine.get_attribute("aria-selected") == "true":
            break
        bench.keyboard.press("ArrowDown")
    bench.keyboard.press("Delete")
    expect(mine).to_have_attribute("data-pinned", "false")


def test_a_block_is_dragged_with_the_mouse(server: Server, bench: Page) -> None:
    opened(server, bench)
    block = bench.locator(blocks(bench, job=8, key="hand-over"))
    block.scroll_into_view_if_needed()
    box = block.bounding_box()
    assert box is not None
    bench.mouse.move(box["x"] + 1, box["y"] + 8)
    bench.mouse.down()
    bench.mouse.move(box["x"] + 31, box["y"] + 8, steps=4)
    bench.mouse.up()
    expect(block).to_have_attribute("data-pinned", "true")


def test_two_people_see_what_the_other_takes_and_ticks(server: Server, bench: Page, colleague: Page) -> None:
    opened(server, bench)
    colleague.goto(f"{server.url}/job/1")
    bench.goto(f"{server.url}/job/1")
    bench.get_by_role("button", name="take it in hand").click()
    expect(bench.get_by_role("button", name="give it back")).to_be_visible()
    expect(colleague.get_by_test_id("held")).to_have_text("Wren Ashdown has it in hand.")
    bench.get_by_role("button", name="give it back").click()
    expect(colleague.get_by_role("button", name="take it in hand")).to_be_visible()
    for page in (bench, colleague):
        expect(page.get_by_test_id("step")).to_be_visible()
    title = bench.get_by_test_id("step").get_by_role("heading").first.inner_text()
    bench.get_by_role("button", name=re.compile("^Done")).click()
    expect(bench.get_by_test_id("step").get_by_role("heading").first).not_to_have_text(title)
    colleague.get_by_role("button", name=re.compile("^Done")).click()
    expect(colleague.get_by_test_id("told")).to_contain_text("Wren Ashdown ticked this already")


def test_the_bench_hears_of_a_tick_elsewhere_without_a_reload(server: Server, bench: Page, colleague: Page) -> None:
    opened(server, bench)
    was = bench.get_by_role("list", name="Open jobs by due date").locator("[data-job='1']").inner_text()
    colleague.goto(f"{server.url}/job/1")
    colleague.get_by_role("button", name=re.compile("^Done")).click()
    expect(bench.get_by_role("list", name="Open jobs by due date").locator("[data-job='1']")).not_to_have_text(was)


def test_a_timer_outlives_a_reload_and_a_restart_and_its_end_is_told_on_every_screen(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["ERR_CONNECTION_REFUSED", "ERR_CONNECTION_RESET", "ERR_EMPTY_RESPONSE", "503", "502"]
    in_database(server, SOAKS.format(number=3))
    opened(server, bench)
    waits = bench.get_by_role("list", name="What ends by itself")
    expect(waits).to_contain_text("Sarr")
    server.restart()
    bench.reload()
    expect(waits).to_contain_text("Sarr")
    bench.goto(f"{server.url}/gauges")
    in_database(server, PASS.format(minutes=30))
    in_database(server, "from workshop.day.taking import tell; from workshop.core.history import Actor\n"
                        "from workshop.jobs.models import Job\n"
                        "job = Job.objects.get(number=3); tell(Actor(job.workshop_id), job, 'timer-longer', '')")  # fmt: skip
    mark = bench.get_by_test_id("ended")
    expect(mark).to_contain_text("Out of the pickle now")
    expect(bench).to_have_title(re.compile(r"^\(\d+ ready\) Gauges"))
    last = mark.locator("p").first
    for _ in range(20):  # others of the demo may end meanwhile
        label = last.get_by_role("button").first.get_attribute("aria-label") or ""
        seen = bench.get_by_role("button", name=label, exact=True)
        seen.click()
        expect(seen).to_have_count(0)
        if not mark.count():
            break
    expect(bench).to_have_title("Gauges · Plain Shank")


def test_what_is_in_the_pot_and_what_only_cools_are_told_apart(server: Server, bench: Page) -> None:
    in_database(server, SOAKS.format(number=3))
    opened(server, bench)
    rows = bench.get_by_role("list", name="Open jobs by due date")
    expect(rows.locator("[data-job='3']")).to_contain_text("in the pickle until")
    in_the_pot = [one for one in bench.request.get(f"{server.url}/api/day/pulse").json()["timers"]
                  if one["kind"] == "pickle"]  # fmt: skip
    expect(bench.get_by_test_id("waits-for")).to_contain_text(f"in the pot, {len(in_the_pot)} rings")
    in_database(server, SOAKS.format(number=9))  # it was annealed, and pickling is its next step
    bench.reload()
    expect(rows.locator("[data-job='9']")).to_contain_text("cooling until")
    expect(bench.get_by_test_id("waits-for")).to_contain_text(f"in the pot, {len(in_the_pot)} rings")


def test_when_it_can_be_ready_goes_into_the_order_by_one_key(server: Server, bench: Page) -> None:
    opened(server, bench)
    bench.goto(f"{server.url}/ring")
    bench.get_by_test_id("strip").first.wait_for()
    bench.get_by_label("Finger size").press("Escape")
    bench.keyboard.press("y")
    ready = bench.get_by_test_id("ready")
    expect(ready).to_contain_text("nine in ten")
    expect(ready).to_contain_text("Unsure: from our minutes")
    bench.keyboard.press("y")
    expect(bench.get_by_label("Due day")).not_to_have_value("")
    expect(bench.get_by_label("Due hour")).to_have_value(re.compile(r"^\d\d:\d\d$"))
    bench.get_by_label("Finger size").fill("US 9")
    expect(ready).not_to_contain_text("nine in ten")


def test_a_calendar_is_made_read_and_withdrawn(server: Server, bench: Page) -> None:
    bench.goto(f"{server.url}/ways#day")
    bench.get_by_role("button", name="make an address").click()
    address = bench.get_by_label("Address of your calendar").input_value()
    read = bench.request.get(address)
    assert read.headers["content-type"].startswith("text/calendar")
    assert "Pym" in read.text()
    bench.get_by_role("button", name="withdraw it").click()
    expect(bench.get_by_role("button", name="make an address")).to_be_visible()
    assert bench.request.get(address).status == 404


def test_where_no_plan_is_wanted_the_order_by_slack_stays(server: Server, bench: Page) -> None:
    bench.goto(f"{server.url}/ways#day")
    bench.get_by_label("Plan of the day").first.select_option("no")
    bench.get_by_role("button", name="Keep these ways").first.click()
    expect(bench.get_by_text("Kept.").first).to_be_visible()
    bench.goto(server.url)
    expect(bench.get_by_test_id("now")).to_contain_text("Now:")
    expect(bench.get_by_test_id("day")).to_have_count(0)
