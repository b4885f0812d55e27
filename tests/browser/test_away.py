"""The server or the database is away, or its answer is lost: what was typed waits, is said, and is carried out once."""

from __future__ import annotations

import signal
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import Server, in_database
from tests.browser.test_nothing_lost import open_sheet

AWAY = ["ERR_CONNECTION_REFUSED", "Failed to load resource", "503", "ERR_EMPTY_RESPONSE", "ERR_CONNECTION_RESET"]


def server_away(server: Server) -> Callable[[], None]:
    server.stop()
    return server.start


def database_dead(server: Server) -> Callable[[], None]:
    server.database.kill()
    return server.database.revive


def database_frozen(server: Server) -> Callable[[], None]:
    server.database.process.send_signal(signal.SIGSTOP)
    return lambda: server.database.process.send_signal(signal.SIGCONT)


OUTAGES = [server_away, database_dead, database_frozen]


@pytest.mark.parametrize("outage", OUTAGES, ids=lambda outage: outage.__name__)
def test_a_new_job_waits_for_the_server_and_is_made_once(
    server: Server, bench: Page, expected_errors: list[str], outage: Callable[[Server], Callable[[], None]]
) -> None:
    expected_errors += AWAY
    title = f"through {outage.__name__}"
    open_sheet(server, bench, "/ring")
    bench.get_by_label("Name of the job").fill(title)
    end = outage(server)
    try:
        bench.get_by_role("button", name="Put it on the bench").click()
        expect(bench.get_by_test_id("pending")).to_be_visible()
        expect(bench.get_by_test_id("outbox")).to_contain_text("On its way since at")
        expect(bench.get_by_label("Name of the job")).to_have_value(title)
    finally:
        end()
    expect(bench.get_by_role("heading", name=title)).to_be_visible()
    expect(bench.get_by_test_id("outbox")).to_be_empty()
    made = in_database(
        server, f"from workshop.jobs.models import Job; print(Job.objects.filter(title={title!r}).count())"
    )
    assert made == "1"
    bench.keyboard.press("n")
    expect(bench.get_by_label("Name of the job")).to_have_value("")


@pytest.mark.parametrize("outage", OUTAGES[1:], ids=lambda outage: outage.__name__)
def test_a_card_is_worked_through_an_outage_and_a_reload(
    server: Server, bench: Page, expected_errors: list[str], outage: Callable[[Server], Callable[[], None]]
) -> None:
    expected_errors += AWAY
    bench.get_by_test_id("bench-line").get_by_role("link", name="trial ring").click()
    bench.evaluate("sessionStorage.setItem('caliper-zero', '0')")
    bench.reload()
    step = bench.get_by_test_id("step")
    expect(step.get_by_role("heading", name="Measure the")).to_be_visible()
    end = outage(server)
    try:
        bench.get_by_label("thickness as measured").fill("0.91")
        bench.get_by_label("thickness as measured").press("Enter")
        expect(step.get_by_text("on its way, not judged yet")).to_be_visible()
        expect(bench.get_by_label("width as measured")).to_be_focused()
        bench.keyboard.press("Enter")
        expect(step.get_by_role("button", name="Done, next")).to_be_focused()
        bench.keyboard.press("Enter")
        expect(step.get_by_role("heading", name="Square one end")).to_be_visible()
        expect(bench.locator("[data-step=measure-stock]")).to_have_attribute("data-done", "true")
        expect(bench.get_by_test_id("outbox")).to_contain_text("thickness as measured 0.91")
        expect(bench.get_by_test_id("outbox")).to_contain_text("done")
        bench.reload()
        expect(bench.get_by_test_id("kept")).to_contain_text("The records do not answer.")
        expect(bench.locator("[data-step=measure-stock]")).to_have_attribute("data-done", "true")
    finally:
        end()
    expect(bench.locator("[data-step=measure-stock]")).to_have_attribute("data-done", "true", timeout=30_000)
    bench.locator("[data-step=measure-stock]").click()
    expect(bench.get_by_label("thickness as measured")).to_have_value("0.91")
    expect(bench.locator("[data-verdict=stock-thickness]")).to_be_visible()
    expect(bench.get_by_test_id("outbox")).not_to_contain_text("On its way")
    kept = "from workshop.jobs.models import *; print(Measure.objects.filter(job_id=7).count(), StepDone.objects.filter(job_id=7).count())"
    assert in_database(server, kept) == "1 1"
    in_database(
        server,
        "from workshop.jobs.models import *; from workshop.jobs.progress import place_on_bench\n"
        "Measure.objects.filter(job_id=7).delete(); StepDone.objects.filter(job_id=7).delete()\n"
        "job = Job.objects.get(pk=7); place_on_bench(job); job.save()",
    )


def test_a_lost_answer_makes_no_second_job(server: Server, bench: Page, expected_errors: list[str]) -> None:
    expected_errors += ["Failed to load resource", "ERR_FAILED"]
    lost: list[str] = []

    def lose(route: Route) -> None:
        if route.request.method == "POST" and not lost:
            lost.append(route.request.headers["idempotency-key"])
            route.fetch()  # it arrives there, and the answer never comes back
            route.abort()
        else:
            route.continue_()

    open_sheet(server, bench, "/ring")
    bench.get_by_label("Name of the job").fill("answered into nowhere")
    bench.route("**/api/jobs", lose)
    bench.get_by_role("button", name="Put it on the bench").click()
    expect(bench.get_by_role("heading", name="answered into nowhere")).to_be_visible()
    assert lost
    count = "from workshop.jobs.models import Job; print(Job.objects.filter(title='answered into nowhere').count())"
    assert in_database(server, count) == "1"


def test_what_is_on_its_way_outlives_a_closed_tab(server: Server, bench: Page, expected_errors: list[str]) -> None:
    expected_errors += AWAY
    open_sheet(server, bench, "/customers")
    bench.get_by_label("Name of the customer").fill("Brought By Post")
    server.database.kill()
    bench.get_by_role("button", name="Keep", exact=True).click()
    expect(bench.get_by_test_id("outbox")).to_contain_text("the new customer Brought By Post")
    bench.close()
    server.database.revive()
    again = bench.context.new_page()
    again.goto(server.url)
    expect(again.get_by_test_id("outbox")).to_contain_text("Arrived: the new customer Brought By Post")
    again.goto(f"{server.url}/customers")
    expect(again.get_by_label("Name of the customer")).to_have_value("")
    again.get_by_label("Look for").fill("brought by")
    expect(again.get_by_role("list", name="Customers found").get_by_role("listitem")).to_have_count(1)


def test_what_the_server_will_not_have_is_said_and_can_be_mended(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += [*AWAY, "422"]
    open_sheet(server, bench, "/gauges")
    bench.get_by_label("Name of the gauge").fill("long mandrel")  # there is one of that name
    server.database.kill()
    bench.get_by_role("button", name="Keep it").click()
    expect(bench.get_by_test_id("outbox")).to_contain_text("On its way")
    server.database.revive()
    box = bench.get_by_test_id("outbox")
    expect(box).to_contain_text("Not taken: the new gauge long mandrel.")
    expect(box).to_contain_text("There is a gauge called long mandrel already.")
    expect(bench.get_by_label("Name of the gauge")).to_have_value("long mandrel")
    box.get_by_role("button", name="drop it").click()
    expect(box).to_be_empty()


def test_a_frozen_database_is_said_while_it_is_still_frozen(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    """By the limits that the settings set, at most five seconds in all: a busy machine adds its own, so none are counted."""
    expected_errors += AWAY
    limits = in_database(
        server,
        "from django.conf import settings; told = settings.DATABASES['default']['OPTIONS']; "
        "print(told['connect_timeout'] + told['read_timeout'])",
    )
    assert int(limits) <= 5
    end = database_frozen(server)
    try:
        status = bench.evaluate("fetch('/api/bench').then(answer => answer.status)")
    finally:
        end()
    assert status == 503


def test_a_catalogue_that_fails_once_leaves_no_empty_page(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["Failed to load resource", "ERR_FAILED"]
    failed: list[int] = []

    def fail(route: Route) -> None:
        failed.append(1)
        route.abort() if len(failed) < 3 else route.continue_()

    line = bench.context.new_cdp_session(bench)  # a catalogue that was kept would do instead
    line.send("Storage.clearDataForOrigin", {"origin": server.url, "storageTypes": "indexeddb"})
    bench.route("**/api/catalogue", fail)
    bench.reload()
    expect(bench.get_by_test_id("now")).to_be_visible()
    assert len(failed) >= 3


def test_what_is_taken_back_after_it_arrived_unseen_makes_no_second_job_by_itself(
    server: Server, bench: Page, expected_errors: list[str]
) -> None:
    expected_errors += ["Failed to load resource", "ERR_FAILED", "422"]
    sent: list[int] = []

    def lose(route: Route) -> None:
        if route.request.method == "POST":
            if not sent:
                route.fetch()
            sent.append(1)
            route.abort()
        else:
            route.continue_()

    open_sheet(server, bench, "/ring")
    bench.get_by_label("Name of the job").fill("taken back")
    bench.route("**/api/jobs", lose)
    bench.get_by_role("button", name="Put it on the bench").click()
    bench.get_by_role("button", name="take it back to change it").click()
    bench.unroute("**/api/jobs")
    bench.get_by_label("Name of the job").fill("taken back and changed")
    bench.get_by_role("button", name="Put it on the bench").click()
    expect(bench.get_by_text("it had arrived after all and stands on the bench")).to_be_visible()
    count = "from workshop.jobs.models import Job; print(Job.objects.filter(title__startswith='taken back').count())"
    assert in_database(server, count) == "1"
    bench.get_by_role("button", name="Put it on the bench").click()
    expect(bench.get_by_role("heading", name="taken back and changed")).to_be_visible()
    assert in_database(server, count) == "2"
