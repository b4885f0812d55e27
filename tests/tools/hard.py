"""An application of its own over a server of its own, at which a script works whose every acknowledged act is noted."""

from __future__ import annotations

import http.client
import http.cookiejar
import json
import os
import signal
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tests.orders import order
from tests.tools.test_demo_start import wait_until
from tools import demo
from tools.mariadb import Database, free_port, start

WORD = "a word for the hard tests"
GONE = (OSError, http.client.HTTPException, ValueError)


@dataclass
class Hard:
    """A database whose every commit is on the disk, and the application before it."""

    database: Database
    environment: dict[str, str]
    port: int
    process: Any = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = demo.serve(self.environment, self.port)
        demo.wait_for(self.port, self.process)

    def end(self) -> None:
        demo.stop(self.process)
        self.database.stop()

    def workers(self) -> list[int]:
        """The processes that answer."""
        children = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text()
        return [int(pid) for pid in children.split()]

    def kill_a_worker(self) -> None:
        os.kill(self.workers()[0], signal.SIGKILL)

    def kill_the_application(self) -> None:
        """The master and all that answer, as a power cut would; then it is started again."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()
        self.start()

    def kill_the_database(self) -> None:
        self.database.kill()
        self.database.revive()


def hard(folder: Path, data: Path | None = None, **more: str) -> Hard:
    """Start it over a folder, with the small demo in it; ``data`` is where the database lies."""
    database = start(data or folder / "db")
    environment = demo.application(
        database, PLAIN_SHANK_DEMO=f"wren:{WORD}", PLAIN_SHANK_STATIC_ROOT=str(folder / "static"), **more
    )
    environment.pop("DJANGO_SETTINGS_MODULE", None)
    try:
        demo.prepare(environment, small=True)
        made = Hard(database, environment, free_port())
        made.start()
    except BaseException:
        database.stop()
        raise
    return made


@dataclass
class Person:
    """Somebody at the door: cookies kept, the token sent along."""

    url: str
    jar: http.cookiejar.CookieJar = field(default_factory=http.cookiejar.CookieJar)

    def __post_init__(self) -> None:
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(self, method: str, path: str, body: Any = None, key: str = "") -> tuple[int, Any]:
        """Status and answer; raises one of GONE where nobody answers."""
        sent = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self.url + path, sent, method=method)
        request.add_header("Content-Type", "application/json")
        request.add_header("X-CSRFToken", next((c.value or "" for c in self.jar if c.name == "csrftoken"), ""))
        if key:
            request.add_header("Idempotency-Key", key)
        try:
            with self.opener.open(request, timeout=60) as answer:
                status, said = answer.status, answer.read()
        except urllib.error.HTTPError as problem:
            status, said = problem.code, problem.read()
        return status, json.loads(said) if said[:1] in b"{[" else said

    def sign_in(self, username: str = "wren") -> Person:
        self.ask("GET", "/api/session")
        status, said = self.ask("POST", "/api/session", {"username": username, "password": WORD})
        assert status == 200, said
        return self


class Work:
    """A bench that works: each act is sent until it is acknowledged, under one key, as a device does."""

    def __init__(self, person: Person, name: str, acts: int) -> None:
        self.person, self.name, self.acts = person, name, acts
        self.acknowledged: list[tuple[str, int]] = []
        self.broken: list[str] = []
        self.thread = threading.Thread(target=self._run)
        self.thread.start()

    def _run(self) -> None:
        for nth in range(self.acts):
            title = f"{self.name} {nth}"
            body = {"title": title, "order": order()}
            while True:
                try:
                    status, said = self.person.ask(
                        "POST", "/api/jobs", body, f"{self.name}-act-{nth}".replace(" ", "-")
                    )
                except GONE:
                    time.sleep(0.05)
                    continue
                if status == 201:
                    self.acknowledged.append((title, int(said["id"])))
                    break
                if status not in (502, 503):
                    self.broken.append(f"{title}: {status} {said}")
                    return
                time.sleep(0.05)

    def has(self, acts: int) -> None:
        """Wait until so many are acknowledged."""
        wait_until(f"{acts} acts", lambda: len(self.acknowledged) >= acts or not self.thread.is_alive())
        assert not self.broken, self.broken
