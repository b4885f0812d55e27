"""When nobody answers: the bench after a reload, whose it is and for how long, what never stays on a device."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import APIResponse, BrowserContext, Page, Route, expect

from tests.browser.conftest import COLLEAGUE, PASSWORD, SIZE, USER, Server, in_database, sign_in
from tests.tools.test_demo_start import wait_until

#: Everything that this origin keeps in caches, in the browser's databases, in its storage, as text.
ALL_KEPT = """async () => {
  const out = []
  for (const name of await caches.keys())
    for (const request of await (await caches.open(name)).keys()) {
      const answer = await (await caches.open(name)).match(request)
      out.push(request.url, request.url.includes('/static/') ? '' : await answer.text())
    }
  for (const { name } of await indexedDB.databases()) {
    const held = await new Promise((done) => {
      const asked = indexedDB.open(name)
      asked.onsuccess = () => done(asked.result)
    })
    for (const store of held.objectStoreNames) {
      const rows = held.transaction(store).objectStore(store)
      for (const what of ['getAllKeys', 'getAll'])
        out.push(JSON.stringify(await new Promise((done) => {
          const asked = rows[what]()
          asked.onsuccess = () => done(asked.result)
        })))
    }
    held.close()
  }
  return [...out, JSON.stringify({ ...localStorage }), JSON.stringify({ ...sessionStorage })].join('\\n')
}"""
OLDER = """async () => {
  const held = await new Promise((done) => {
    const asked = indexedDB.open('plain-shank-kept')
    asked.onsuccess = () => done(asked.result)
  })
  const rows = held.transaction('answers', 'readwrite').objectStore('answers')
  const last = await new Promise((done) => {
    const asked = rows.get('last')
    asked.onsuccess = () => done(asked.result)
  })
  await new Promise((done) => (rows.put({ ...last, at: last.at + BY }, 'last').onsuccess = done))
  held.close()
}"""
FIGURE = re.compile(r"^[0-9]+\.[0-9]$")
STRANGER = """
from workshop.people.models import User, Workshop
shop = Workshop.objects.create(name='Far Away Rings')
User.objects.create_user('stray', password='%s', workshop=shop, role='owner')
"""


@pytest.fixture
def own(server: Server, page: Page) -> Iterator[BrowserContext]:
    """A device of its own, on which the page may keep itself."""
    browser = page.context.browser
    assert browser is not None
    context = browser.new_context(viewport=SIZE, timezone_id="UTC", locale="en-GB")
    yield context
    context.close()
    if server.process is None or server.process.poll() is not None:
        server.start()


def at_home(server: Server, own: BrowserContext, user: str = USER) -> Page:
    """Signed in, the page's own files kept."""
    page = sign_in(server, own.new_page(), user)
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    expect(page.get_by_test_id("now")).to_be_visible()
    assert page.evaluate("navigator.serviceWorker.controller !== null")
    return page


def first_card(page: Page) -> str:
    """The address of a job on the bench."""
    return str(page.evaluate("fetch('/api/bench').then(a => a.json()).then(b => '/job/' + b.rings[0].id)"))


def seen(page: Page, address: str) -> None:
    """Go there, and wait until all of it is on the device."""
    page.goto(address)
    page.wait_for_load_state("networkidle")


def all_kept(page: Page) -> str:
    return str(page.evaluate(ALL_KEPT))


def test_after_a_reload_without_a_server_the_bench_goes_on_and_what_is_done_arrives(
    server: Server, own: BrowserContext
) -> None:
    page = at_home(server, own)
    card = first_card(page)
    page.goto(f"{server.url}{card}")
    done = page.get_by_role("button", name="Done, next")
    expect(done).to_be_visible()
    step = page.get_by_test_id("step").locator("h2").first.inner_text()
    page.goto(f"{server.url}/ring")
    expect(page.get_by_test_id("figure")).to_have_text(FIGURE)
    figure = page.get_by_test_id("figure").inner_text()
    server.stop()
    page.reload()
    expect(page.get_by_test_id("kept")).to_contain_text("The records do not answer.")
    expect(page.get_by_test_id("figure")).to_have_text(figure)
    page.goto(server.url)
    expect(page.get_by_test_id("kept")).to_be_visible()
    expect(page.get_by_test_id("now")).to_be_visible()
    page.goto(f"{server.url}{card}")
    expect(page.get_by_role("heading", name=step)).to_be_visible()
    done.click()
    expect(page.get_by_test_id("outbox")).to_contain_text("On its way")
    page.reload()
    expect(page.get_by_test_id("outbox")).to_contain_text("On its way")
    server.start()
    expect(page.get_by_test_id("kept")).to_have_count(0)
    expect(page.get_by_test_id("outbox")).not_to_contain_text("On its way")
    number = card.rpartition("/")[2]
    count = (
        "from workshop.core.models import Event; "
        f"print(Event.objects.filter(kind='job', thing_id={number}, what='ticked', by__isnull=False).count())"
    )
    assert in_database(server, count) == "1"


def test_who_signs_out_while_nobody_answers_is_out_and_nothing_of_theirs_is_left(
    server: Server, own: BrowserContext
) -> None:
    page = at_home(server, own)
    seen(page, f"{server.url}{first_card(page)}")
    assert "half-round band" in all_kept(page)
    server.stop()
    page.reload()
    expect(page.get_by_test_id("kept")).to_be_visible()
    page.get_by_role("button", name="sign out").click()
    expect(page.get_by_text("You are signed out on this device")).to_be_visible()
    assert "half-round band" not in all_kept(page)
    page.reload()
    expect(page.get_by_text("You are signed out on this device")).to_be_visible()
    expect(page.get_by_role("navigation", name="Main")).to_have_count(0)
    server.start()
    expect(page.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    assert page.evaluate("fetch('/api/bench').then(answer => answer.status)") == 401
    page.reload()
    expect(page.get_by_role("heading", name="Whose bench is it?")).to_be_visible()


def test_an_answer_that_comes_after_the_sign_out_brings_nothing_back(server: Server, own: BrowserContext) -> None:
    page, other = at_home(server, own), own.new_page()
    held: list[tuple[Route, APIResponse]] = []
    other.route("**/api/session", lambda route: held.append((route, route.fetch())))
    other.route("**/api/catalogue", lambda _: None)  # whose 401 would wipe it once more
    with other.expect_request("**/api/session"):
        other.goto(server.url)
    expect(page.get_by_test_id("now")).to_be_visible()
    wait_until("its session is asked for", lambda: other.evaluate("true") and bool(held))
    page.get_by_role("button", name="sign out").click()
    expect(page.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    with other.expect_request("**/api/catalogue"):  # the page that it belongs to goes on with it
        held[0][0].fulfill(response=held[0][1])
    assert '"session"' not in all_kept(page)
    other.close()


def test_a_stranger_on_the_same_device_finds_nothing_in_caches_and_stores(
    server: Server, own: BrowserContext
) -> None:
    in_database(server, STRANGER % PASSWORD)
    page = at_home(server, own)
    for address in (first_card(page), "/customers", "/ring", "/drawer", "/ways", ""):
        seen(page, f"{server.url}/{address.removeprefix('/')}")
    page.get_by_role("button", name="sign out").click()
    expect(page.get_by_role("heading", name="Whose bench is it?")).to_be_visible()
    sign_in(server, page, "stray")
    server.stop()
    page.reload()
    expect(page.get_by_test_id("kept")).to_be_visible()
    expect(page.get_by_test_id("now")).to_be_visible()
    page.goto(f"{server.url}/job/1")
    expect(page.get_by_test_id("kept")).to_be_visible()
    kept = all_kept(page)
    assert "Far Away Rings" in kept
    for theirs in ("Tarn Lane", "Wren", "Pym", "half-round band", "Arden"):
        assert theirs not in kept, theirs
        assert theirs not in page.content(), theirs


def test_no_price_and_no_list_of_customers_stays_on_a_device(server: Server, own: BrowserContext) -> None:
    prices = {"hour_price": "917.31", "metal_more": "0.3719", "setting_price": "419.53", "solder_price": "613.37"}
    in_database(
        server,
        "from workshop.people.models import User\n"
        "shop = User.objects.get(username='wren').workshop\n"
        f"shop.preferences = {{**shop.preferences, **{json.dumps(prices)},"
        " 'metal_prices': [{'metal': 'sterling', 'price': '271.83'}]}; shop.save()\n"
        "from workshop.customers.models import Customer\n"
        "Customer.objects.create(workshop=shop, name='Quimbly Zorpax')\n"
        "from workshop.stock.models import StockItem\n"
        "StockItem.objects.filter(workshop=shop).update(price='161.803')",
    )
    page = at_home(server, own)
    assert page.evaluate("fetch('/api/session').then(a => a.json()).then(s => s.ways.hour_price)") in (
        917.31,
        "917.31",
    )
    card = first_card(page)
    for address in (
        "",
        card,
        "/customers",
        "/ring",
        "/resize",
        "/drawer",
        "/worth",
        "/ways",
        "/ways#prices",
        "/logbook",
    ):
        seen(page, f"{server.url}/{address.removeprefix('/')}")
    page.goto(f"{server.url}{card}")
    page.get_by_role("button", name="estimate").click()
    page.wait_for_load_state("networkidle")
    kept = all_kept(page)
    assert "sterling" in kept
    for price in (*prices.values(), "271.83", "161.803", "37.19", "Quimbly"):
        assert price not in kept, price


@pytest.mark.parametrize("by", [-12 * 3_600_000, 3_600_000])
def test_after_twelve_hours_and_from_another_time_nothing_is_shown(
    server: Server, own: BrowserContext, by: int
) -> None:
    page = at_home(server, own)
    server.stop()
    page.evaluate(OLDER.replace("BY", str(by)))
    page.reload()
    expect(page.get_by_text("The application does not answer.")).to_be_visible()
    expect(page.get_by_test_id("now")).to_have_count(0)
    assert "half-round band" not in all_kept(page)


CHANGES: dict[str, tuple[str, int]] = {
    "role": ("user.role = 'bench'; user.save()", 200),
    "let go": ("user.is_active = False; user.save()", 401),
    "signed out elsewhere": (
        "from django.contrib.sessions.models import Session; Session.objects.all().delete()",
        401,
    ),
}


@pytest.mark.parametrize("what", list(CHANGES))
def test_a_changed_role_and_an_end_wipe_it(server: Server, own: BrowserContext, what: str) -> None:
    page = at_home(server, own)
    seen(page, f"{server.url}{first_card(page)}")
    assert "half-round band" in all_kept(page)
    change, status = CHANGES[what]
    in_database(
        server, f"from workshop.people.models import User; user = User.objects.get(username='wren'); {change}"
    )
    page.goto(f"{server.url}/keys")
    asked = page.get_by_role("heading", name="Whose bench is it?")
    expect(asked if status == 401 else page.get_by_role("heading", name="There is no such place.")).to_be_visible()
    page.wait_for_load_state("networkidle")
    assert page.evaluate("fetch('/api/bench').then(answer => answer.status)") == status
    kept = all_kept(page)
    assert "half-round band" not in kept
    assert ("bench" in kept) is (status == 200) or "POST" in kept


def test_a_401_alone_wipes_it_whatever_the_session_says(server: Server, own: BrowserContext) -> None:
    page = at_home(server, own)
    assert "half-round band" in all_kept(page)
    page.route("**/api/session", lambda route: route.abort())
    in_database(
        server,
        "from workshop.people.models import User; User.objects.filter(username='wren').update(is_active=False)",
    )
    page.get_by_role("link", name="Gauges").click()
    expect(page.get_by_label("Password")).to_be_visible()
    assert "half-round band" not in all_kept(page)


def test_a_403_and_another_person_wipe_it(server: Server, own: BrowserContext, expected_errors: list[str]) -> None:
    page = at_home(server, own, COLLEAGUE)
    assert "half-round band" in all_kept(page)
    in_database(
        server, "from workshop.people.models import User; User.objects.filter(username='linnet').update(role='bench')"
    )
    page.goto(f"{server.url}/worth")
    page.wait_for_load_state("networkidle")
    assert '"role":"bench"' in all_kept(page)
    assert "half-round band" not in all_kept(page)


def test_a_new_version_is_offered_and_never_forced(server: Server, own: BrowserContext) -> None:
    page = at_home(server, own)
    page.goto(f"{server.url}/customers")
    page.get_by_label("Name of the customer").fill("Typed Meanwhile")
    page.evaluate("window.here = true")
    page.evaluate("navigator.serviceWorker.register('/sw.js?another')")  # by another address: another version
    expect(page.get_by_test_id("newer")).to_contain_text("A new version is here.")
    assert page.evaluate("window.here") is True
    assert not page.evaluate("navigator.serviceWorker.controller.scriptURL").endswith("another")
    with page.expect_event("load"):
        page.get_by_role("button", name="load it").click()
    expect(page.get_by_label("Name of the customer")).to_have_value("Typed Meanwhile")
    assert page.evaluate("navigator.serviceWorker.controller.scriptURL").endswith("another")


def test_over_plain_http_it_says_that_both_are_off(server: Server, own: BrowserContext) -> None:
    own.add_init_script("Object.defineProperty(window, 'isSecureContext', { value: false })")
    page = sign_in(server, own.new_page())
    page.goto(f"{server.url}/ways#mine")
    expect(page.get_by_test_id("this-device")).to_contain_text("came over plain http")
    assert page.evaluate("navigator.serviceWorker.getRegistrations().then(all => all.length)") == 0
    assert "half-round band" not in all_kept(page)


AWAKE = """
const said = (what) => (document.documentElement.dataset.asked = `${document.documentElement.dataset.asked ?? ''}${what} `)
Object.defineProperty(navigator, 'wakeLock', { value: { request: async (what) => {
  said(what)
  const lock = { released: false, release: async () => { lock.released = true; said('released') } }
  return lock
} } })
"""


def test_the_screen_stays_awake_at_a_card_where_the_way_says_so(server: Server, own: BrowserContext) -> None:
    own.add_init_script(AWAKE)
    page = sign_in(server, own.new_page())
    card = first_card(page)
    asked = page.locator("html")
    assert asked.get_attribute("data-asked") is None
    page.goto(f"{server.url}{card}")
    expect(asked).to_have_attribute("data-asked", "screen ")
    page.get_by_role("link", name="Bench", exact=True).click()
    expect(asked).to_have_attribute("data-asked", "screen released ")
    in_database(
        server,
        "from workshop.people.models import User; user = User.objects.get(username='wren'); "
        "user.preferences = {**user.preferences, 'stay_awake': False}; user.save()",
    )
    page.goto(f"{server.url}{card}")
    expect(page.get_by_role("button", name="Done, next")).to_be_visible()
    assert asked.get_attribute("data-asked") is None


def test_the_worker_and_the_manifest_are_as_a_browser_wants_them(server: Server, own: BrowserContext) -> None:
    answer = own.request.get(f"{server.url}/sw.js")
    assert answer.headers["cache-control"] == "no-cache"
    assert answer.headers["content-type"].startswith("text/javascript")
    assert "worker-src 'self'" in answer.headers["content-security-policy"]
    page = own.new_page()
    page.goto(server.url)
    assert page.locator("script:not([src])").count() == 0
    address = page.locator("link[rel=manifest]").get_attribute("href")
    told: dict[str, Any] = own.request.get(f"{server.url}{address}").json()
    assert (told["start_url"], told["scope"], told["display"]) == ("/", "/", "standalone")
    for icon in told["icons"]:
        assert own.request.get(f"{server.url}{icon['src']}").ok, icon
