"""A new version: writes stop, a backup is made, a copy of the records is brought up to it and asked; both switch.

Before the switch going back is doing nothing: the release and the records in use were never touched. After it, going
back is a restore of the backup, which says what is lost. Killed at any step, writes go on by themselves: what stops
them has to be kept fresh by whoever stops them.
"""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from tools.mariadb import free_port
from tools.shop.backup import back_up, counted, differences
from tools.shop.in_use import hold_of, in_use, served_by, switch
from tools.shop.places import PREFIX, Places, ShopError, environment_of
from tools.shop.server import NAME, Server

DATABASE = "plain_shank"
FRESH_S = 30.0  # what stops writes is believed for so long after it was last kept fresh
UNDER_WAY_S = 10.0  # longer than any request of the application takes
READY_S = 180.0


@dataclass
class Upgraded:
    """What an upgrade did: from which release and database to which, and its backup."""

    release: Path
    database: str
    before: str
    backup: Path


class Hold:
    """Keeps writes stopped for as long as it lives, and knows whether it ever let go."""

    def __init__(self, path: Path, each_s: float = 3.0) -> None:
        self.path, self.each_s = path, each_s
        self._over = threading.Event()
        self._last, self._gap = time.monotonic(), 0.0
        self._thread = threading.Thread(target=self._keep, daemon=True)

    def __enter__(self) -> Hold:
        self.path.touch(mode=0o600)
        os.utime(self.path)
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join()
        self.path.unlink(missing_ok=True)

    def _keep(self) -> None:
        while not self._over.wait(self.each_s):
            self._note()
            os.utime(self.path)

    def _note(self) -> None:
        now = time.monotonic()
        self._gap, self._last = max(self._gap, now - self._last), now

    def held(self) -> bool:
        """Whether nothing can have been written meanwhile: it was kept fresh all along."""
        self._note()
        return self._gap < FRESH_S / 2 and self.path.exists()


def upgrade(
    places: Places, settings: dict[str, str], release: Path, now: datetime, under_way_s: float = UNDER_WAY_S
) -> Upgraded:
    """Bring a release that is put in its place into use; raises ShopError, and then nothing has changed."""
    server, name = Server(settings), f"{DATABASE}_{now:%Y%m%d_%H%M%S}"
    _drop_leftovers(server, places)
    with Hold(hold_of(places)) as hold:
        time.sleep(under_way_s)  # what had begun before is through by then
        made = back_up(places, settings, now, "upgrade")
        try:
            _copied(server, name)
            there = {**settings, PREFIX + "DB_NAME": name}
            of_release(release, there, "migrate", "--no-input")
            found = json.loads(of_release(release, there, "check_copy"))
            if found["wrong"] and found["wrong"] != made.manifest["found"]["wrong"]:
                raise ShopError(f"The new version does not read everything: {'; '.join(found['wrong'][:3])}.")
            asked_ready(release, there)
            if not hold.held():
                raise ShopError("This machine stood still for too long meanwhile: nothing was changed, do it again.")
            switch(places, release, name, now)
        except BaseException:
            _undone(server, places, name)
            raise
    return Upgraded(release, name, server.name, made.path)


def _undone(server: Server, places: Places, name: str) -> None:
    found = in_use(places)
    if found is None or found.database != name:
        with contextlib.suppress(ShopError):
            server.drop(name)


def _copied(server: Server, name: str) -> None:
    """The records of one moment, in a database beside them."""
    server.make(name)
    rows: dict[str, int] = {}
    with server.dump() as dump:
        server.load(name, counted(dump, rows))
    if wrong := differences(rows, server.rows(name)):
        raise ShopError(f"The copy is not what it was made of: {wrong}.")


def of_release(release: Path, settings: dict[str, str], *arguments: str) -> str:
    """Run a management command of a release with its own Python; raises ShopError with what it said."""
    done = subprocess.run(
        [str(release / ".venv/bin/python"), "manage.py", *arguments],
        cwd=release,
        env={**environment_of(settings), PREFIX + "DB_TIMEOUT": "3600"},
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise ShopError(f"The new version's {arguments[0]} failed; the old one goes on: {done.stderr.strip()[-600:]}")
    return done.stdout


def asked_ready(release: Path, settings: dict[str, str]) -> None:
    """Start a release over the copy and ask whether it is ready; raises ShopError."""
    port = free_port()
    own = {**served_by(release, settings), PREFIX + "HTTPS": "", PREFIX + "HOSTS": "127.0.0.1"}
    command = [str(release / ".venv/bin/python"), "-m", "gunicorn", "workshop.wsgi:application", "--bind",
               f"127.0.0.1:{port}", "--no-control-socket"]  # fmt: skip
    process = subprocess.Popen(
        command, cwd=release, env=environment_of(own), stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    try:
        said = next(_answers(f"http://127.0.0.1:{port}/ready", process), "it did not start")
    finally:
        process.terminate()
        process.wait(timeout=60)
    if said:
        raise ShopError(f"The new version is not ready; the old one goes on: {said}.")


def _answers(url: str, process: subprocess.Popen[bytes]) -> Iterator[str]:
    """What it says once it answers: nothing where it is ready."""
    until = time.monotonic() + READY_S
    while time.monotonic() < until and process.poll() is None:
        try:
            with urllib.request.urlopen(url, timeout=20) as answer:  # noqa: S310 (loopback)
                yield "" if json.load(answer)["ready"] else "it says so"
        except urllib.error.HTTPError as problem:
            yield problem.read().decode(errors="replace")[:300]
        except OSError:
            time.sleep(0.2)


def _drop_leftovers(server: Server, places: Places) -> None:
    """Copies that an upgrade or a restore which was ended left behind, but for the one before the one in use."""
    named = server.ask(rf"SHOW DATABASES LIKE '{DATABASE}\\_20%'").split()
    older = sorted(one for one in named if NAME.fullmatch(one) and one < server.name)
    keep = {server.name, *older[-1:]}
    found = in_use(places)
    for one in named:
        if one not in keep and (found is None or one != found.database):
            server.drop(one)
