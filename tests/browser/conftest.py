"""The real application: gunicorn over a private MariaDB with the demo workshop, driven in Chromium."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Page, Request, expect

from tests.conftest import private_server
from tools import demo
from tools.browser import SIZE, launch_arguments
from tools.mariadb import Database, free_port

USER, PASSWORD = "wren", "a word for the tests"
COLLEAGUE = "linnet"  # the demo gives both the same password
# a busy machine is slow, not wrong; a person looking for a fault may be in more of a hurry
expect.set_options(timeout=float(os.environ.get("PLAIN_SHANK_PATIENCE_MS", "30000")))
# Questions that keep nothing and are asked while a person types: on a slow machine of half a number too.
ASKED_WHILE_TYPING = (
    "/api/plan",
    "/api/conversion",
    "/api/charts/read",
    "/api/stock/plan",
    "/api/logbook/diagnose",
    "/api/worth/ring",
    "/api/day/ready",
)
BLOCKED = "Service Worker registration blocked by Playwright"  # a page of its own shows that it works: test_offline
LISTENS = "/api/day/pulse"  # asked all the time, of a server that a test has stopped too


@dataclass
class Server:
    """The running application; it can be stopped and started again on its port."""

    environment: dict[str, str]
    port: int
    database: Database
    process: subprocess.Popen[bytes] | None = field(default=None)
    snapshot: Snapshot | None = None
    dirty: bool = False
    helper: subprocess.Popen[str] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = demo.serve(self.environment, self.port)
        demo.wait_for(self.port, self.process)

    def stop(self) -> None:
        demo.stop(self.process)

    def restart(self) -> None:
        self.stop()
        self.start()


@pytest.fixture(scope="session")
def mariadb() -> Iterator[Database]:
    """A server of the browser's own: its tests kill and freeze it, and no database test may be on it then."""
    with private_server() as database:
        yield database


@pytest.fixture(scope="session")
def server(mariadb: Database) -> Iterator[Server]:
    with tempfile.TemporaryDirectory() as static:
        environment = demo.application(mariadb, PLAIN_SHANK_DEMO=f"{USER}:{PASSWORD}", PLAIN_SHANK_STATIC_ROOT=static)
        environment.pop("DJANGO_SETTINGS_MODULE", None)
        demo.prepare(environment, small=True)
        running = Server(environment, free_port(), mariadb)
        snapshot = Snapshot(mariadb, "plain_shank")
        try:
            running.start()
            running.snapshot = snapshot
            yield running
        finally:
            running.stop()
            if running.helper is not None:
                running.helper.kill()
                running.helper.wait()


class Snapshot:
    """The demo workshop as it was loaded, kept in a database beside the application's, to begin each test with."""

    KEEP = {
        "django_session",
        "django_migrations",
    }  # a sign-in outlives a test: a password is slow to check on purpose

    def __init__(self, database: Database, name: str) -> None:
        self.database, self.name, self.kept = database, name, f"{name}_as_loaded"
        listed = database.query(f"SELECT table_name FROM information_schema.tables WHERE table_schema = '{name}'")
        self.tables = [table for table in listed.split() if table not in self.KEEP]
        copies = [f"CREATE TABLE `{self.kept}`.`{one}` AS SELECT * FROM `{name}`.`{one}`;" for one in self.tables]
        database.query(f"CREATE DATABASE `{self.kept}`; {' '.join(copies)}")

    def restore(self) -> None:
        """Lay the workshop back; a request that the test before left under way is waited for, all tables at once."""
        held = [f"`{self.name}`.`{one}` WRITE, `{self.kept}`.`{one}` READ" for one in self.tables]
        back = [
            f"DELETE FROM `{self.name}`.`{one}`; INSERT INTO `{self.name}`.`{one}` SELECT * FROM `{self.kept}`.`{one}`;"
            for one in self.tables
        ]
        self.database.query(
            f"SET foreign_key_checks = 0; LOCK TABLES {', '.join(held)}; {' '.join(back)} UNLOCK TABLES;"
        )


@pytest.fixture(autouse=True)
def as_loaded(request: pytest.FixtureRequest) -> None:
    """Each browser test begins with the demo workshop as it was loaded."""
    if "server" in request.fixturenames:
        running = request.getfixturevalue("server")
        if running.snapshot and running.dirty:
            running.snapshot.restore()
        running.dirty = True


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return launch_arguments()


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": SIZE, "timezone_id": "UTC", "locale": "en-GB", "service_workers": "block"}


@pytest.fixture(scope="session")
def device(browser: Browser, browser_context_args: dict[str, Any]) -> Iterator[BrowserContext]:
    """The device of all tests: what it has fetched once it need not fetch again."""
    context = browser.new_context(**browser_context_args)
    yield context
    context.close()


@pytest.fixture
def page(device: BrowserContext, server: Server) -> Iterator[Page]:
    """A page of the device, on which nothing is kept of the tests before: no letter, no sign-in."""
    device.clear_cookies()
    device.set_offline(False)
    made = device.new_page()
    line = device.new_cdp_session(made)
    line.send("Storage.clearDataForOrigin", {"origin": server.url, "storageTypes": "local_storage,indexeddb"})
    yield made
    for one in device.pages:
        one.close()


@pytest.fixture
def expected_errors() -> list[str]:
    """Parts of console messages that this test provokes on purpose."""
    return []


@pytest.fixture
def screen(server: Server, page: Page, expected_errors: list[str]) -> Iterator[Page]:
    """A page that fails its test on any console error or any request to another host."""
    said: list[str] = []
    asked: list[str] = []

    def heard(message: ConsoleMessage) -> None:
        path = urlsplit(message.location["url"]).path
        if message.text == BLOCKED:
            return
        half_typed = "422" in message.text and path.startswith(ASKED_WHILE_TYPING)
        if message.type in ("error", "warning") and not half_typed and path != LISTENS:
            said.append(message.text)

    def requested(request: Request) -> None:
        if request.url.startswith("http") and urlsplit(request.url).port != server.port:
            asked.append(request.url)

    page.on("console", heard)
    page.on("pageerror", lambda error: said.append(str(error)))
    page.on("request", requested)
    yield page
    assert asked == []
    assert [text for text in said if not any(part in text for part in expected_errors)] == []


@pytest.fixture(scope="session")
def signed_in() -> list[Any]:
    """The cookies of the last sign-in: a password is slow to check on purpose, and few tests are about it."""
    return []


@pytest.fixture
def bench(server: Server, screen: Page, signed_in: list[Any]) -> Page:
    """Signed in, at the bench."""
    screen.context.add_cookies(signed_in)
    screen.goto(server.url)
    now, asked = screen.get_by_test_id("now"), screen.get_by_role("heading", name="Whose bench is it?")
    expect(now.or_(asked)).to_be_visible()
    if asked.is_visible():
        screen.get_by_label("Name").fill(USER)
        screen.get_by_label("Password").fill(PASSWORD)
        screen.get_by_label("Password").press("Enter")
        expect(now).to_be_visible()
        signed_in[:] = screen.context.cookies()
    return screen


def sign_in(server: Server, page: Page, user: str = USER) -> Page:
    """Sign a page in by hand, at the bench."""
    page.goto(server.url)
    page.get_by_label("Name").fill(user)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_label("Password").press("Enter")
    expect(page.get_by_test_id("now")).to_be_visible()
    return page


@pytest.fixture
def colleague(server: Server, page: Page) -> Iterator[Page]:
    """Another person of the same workshop, on another device."""
    browser = page.context.browser
    assert browser is not None
    context = browser.new_context(viewport=SIZE, timezone_id="UTC", locale="en-GB")
    yield sign_in(server, context.new_page(), COLLEAGUE)
    context.close()


@pytest.fixture(scope="session")
def axe() -> str:
    root = Path(__file__).resolve().parents[2]
    return (root / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()


HELPER = """
import io, json, sys, contextlib, django
django.setup()
from django.db import connections
for line in sys.stdin:
    connections.close_all()  # the database may have died since
    said = io.StringIO()
    with contextlib.redirect_stdout(said):
        exec(json.loads(line), {})
    print(json.dumps(said.getvalue()), flush=True)
"""


def in_database(server: Server, code: str) -> str:
    """Run Python over the application's models, in a process that is kept for it; raises where the code does."""
    if server.helper is None or server.helper.poll() is not None:
        environment = {**server.environment, "DJANGO_SETTINGS_MODULE": "workshop.settings"}
        server.helper = subprocess.Popen(
            [sys.executable, "-c", HELPER], env=environment, text=True, stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
    assert server.helper.stdin is not None
    assert server.helper.stdout is not None
    server.helper.stdin.write(json.dumps(code) + "\n")
    server.helper.stdin.flush()
    answer = server.helper.stdout.readline()
    assert answer, f"the helper ended at:\n{code}"
    return str(json.loads(answer)).strip()
