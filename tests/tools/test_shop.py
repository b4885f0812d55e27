"""A shop's own, run for real over a folder of its own: its settings, its units, a backup, a restore, both attacked."""

from __future__ import annotations

import contextlib
import errno
import gzip
import json
import os
import signal
import subprocess
import sys
import tarfile
import tempfile
import urllib.error
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pyrage
import pytest

from tests.orders import order
from tests.tools.test_demo_start import ROOT, wait_until
from tools.fresh import Browser
from tools.mariadb import free_port
from tools.shop import archive, backup, install
from tools.shop.in_use import settings_in_use, switch
from tools.shop.places import PREFIX, Places, ShopError, write_settings
from tools.shop.server import Server

WORD = "copper and bronze"
NOW = datetime(2027, 3, 1, 9, 0, tzinfo=UTC)


class Installed:
    """An installation over a folder, run in the foreground."""

    def __init__(self, folder: Path, **more: str) -> None:
        self.places = Places(folder)
        given = {PREFIX + name: value for name, value in more.items()}
        self.settings = install.first_settings(self.places, {PREFIX + "PORT": str(free_port()), **given})
        self.settings[PREFIX + "STATIC_ROOT"] = str(folder / "static")  # a release has its own
        write_settings(self.places.settings, self.settings)
        install.folders(self.places, self.settings, os.getuid(), os.getgid())
        switch(self.places, ROOT, "plain_shank", datetime.now(UTC))
        self.url = f"http://127.0.0.1:{self.settings[PREFIX + 'PORT']}"
        self.process: subprocess.Popen[str] | None = None

    def ask(self, *arguments: str, fails: bool = False) -> str:
        environment = {**os.environ, "PLAIN_SHANK_ROOT": str(self.places.root)}
        done = subprocess.run(
            [sys.executable, "-m", "tools.shop", *arguments],
            cwd=ROOT, env=environment, capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert bool(done.returncode) == fails, done.stdout + done.stderr
        assert "Traceback" not in done.stderr, done.stderr
        return done.stdout + done.stderr

    def start(self) -> None:
        environment = {**os.environ, "PLAIN_SHANK_ROOT": str(self.places.root)}
        self.process = subprocess.Popen(
            [sys.executable, "-m", "tools.shop", "run"], cwd=ROOT, env=environment, text=True,
            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
        wait_until("it is ready", lambda: self.is_ready() or self.process.poll() is not None)
        assert self.is_ready()

    def is_ready(self) -> bool:
        try:
            return bool(Browser(self.url).ask("/ready")["ready"])
        except (OSError, urllib.error.HTTPError):
            return False

    def stop_application(self) -> None:
        """End gunicorn and leave the database, as before a restore: by starting the database alone."""
        self.stop()
        environment = {**os.environ, "PLAIN_SHANK_ROOT": str(self.places.root)}
        self.process = subprocess.Popen(
            [sys.executable, "-m", "tools.shop", "database"], cwd=ROOT, env=environment, text=True,
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
        wait_until("the database answers", self.answers)

    def answers(self) -> bool:
        with contextlib.suppress(ShopError):
            return bool(Server(settings_in_use(self.places)).ask("SELECT 1"))
        return False

    def stop(self) -> None:
        if self.process is not None:
            self.process.send_signal(signal.SIGTERM)
            self.process.wait(timeout=120)
            self.process = None

    def manage(self, code: str) -> str:
        return self.ask("manage", "shell", "-v0", "-c", code)


@pytest.fixture(scope="module")
def owner(shop: Installed) -> Browser:
    """The owner of a workshop that came in by the first link, with a ring on the bench."""
    link = shop.ask("first-link").strip().split("#")[1]
    browser = Browser(shop.url)
    browser.ask("/api/session")
    who = {"shop": "Fen Street Rings", "name": "Rook Ember", "username": "rook", "password": WORD}
    with pytest.raises(urllib.error.HTTPError):
        browser.ask("/api/session/shop", {**who, "link": link, "password": "short"})  # the link is good after that
    assert browser.ask("/api/session/shop", {**who, "link": link})["role"] == "owner"
    other = Browser(shop.url)
    other.ask("/api/session")
    with pytest.raises(urllib.error.HTTPError):
        other.ask("/api/session/shop", {**who, "username": "crow", "link": link})
    assert browser.ask("/api/first") == {"gauge": False, "ways": False, "ring": False}
    assert new_job(browser)["number"] == 1
    return browser


def new_job(browser: Browser, title: str = "band") -> dict[str, Any]:
    body: Any = {"title": title, "order": order(), "version": 1}
    return dict(browser.ask("/api/jobs", body))


def newest(shop: Installed) -> Path:
    return archive.backups_in(shop.places.backups)[0][1]


def test_a_backup_is_made_checked_noted_and_restored(shop: Installed, owner: Browser) -> None:
    """The whole of it: what came after the backup is gone, and no number and no id of it is given again."""
    said = shop.ask("backup")
    assert "checked." in said
    assert backup.SAME_DISK in said
    assert backup.NO_KEY in said
    keeping = owner.ask("/api/keeping")
    assert (keeping["lost"], keeping["same_device"], keeping["encrypted"]) == (0, True, False)
    assert owner.ask("/ready")["backup_age_h"] is not None
    path = newest(shop)
    assert path.stat().st_mode & 0o077 == 0
    after = new_job(owner, "printed after the backup")
    assert owner.ask("/api/keeping")["lost"] == 1
    assert "stop it first" in shop.ask("restore", str(path), fails=True)
    shop.stop_application()
    before = settings_in_use(shop.places)[PREFIX + "DB_NAME"]
    told = shop.ask("restore", str(path))
    assert "1 plans" in told
    assert f"in the database {before}" in told
    assert "Lost are 1 changes since then" in told
    shop.stop()
    shop.start()
    with pytest.raises(urllib.error.HTTPError) as out:
        owner.ask("/api/jobs")
    assert out.value.code == 401
    owner.ask("/api/session")
    session = owner.ask("/api/session", {"username": "rook", "password": WORD})
    assert session["epoch"] == 1
    listed: Any = owner.ask("/api/jobs")
    assert [one["title"] for one in listed["items"]] == ["band"]
    again = new_job(owner)
    assert again["number"] == 1 + 1000 + 1  # the first, so much further, and the next
    assert again["id"] > after["id"] + 900
    with pytest.raises(urllib.error.HTTPError):  # the ticket that was printed opens nobody's ring
        owner.ask(f"/api/jobs/by-number/{after['number']}")
    assert str(owner.ask("/api/keeping")["restored_of"])


def test_a_backup_is_consistent_while_the_shop_works(shop: Installed, owner: Browser) -> None:
    """Jobs are made while it is dumped: each is in it with its history, or not at all."""
    owner.ask("/api/session")
    owner.ask("/api/session", {"username": "rook", "password": WORD})
    environment = {**os.environ, "PLAIN_SHANK_ROOT": str(shop.places.root)}
    wait_until("another second", lambda: not (shop.places.backups / archive.name_of(datetime.now(UTC))).exists())
    process = subprocess.Popen([sys.executable, "-m", "tools.shop", "backup"], cwd=ROOT, env=environment)
    made = 0
    while process.poll() is None:
        new_job(owner, f"meanwhile {made}")
        made += 1
    assert process.returncode == 0
    assert made > 3
    with tempfile.TemporaryDirectory() as folder:
        manifest = archive.unpack(newest(shop), Path(folder))
        jobs, events = set(), set()
        with gzip.open(Path(folder) / archive.DUMP, "rt", encoding="utf8") as lines:
            for line in lines:
                if line.startswith("INSERT INTO `jobs_job` "):
                    jobs.add(int(line.split("(")[1].split(",")[0]))
                if line.startswith("INSERT INTO `core_event` ") and "'job'" in line and "'created'" in line:
                    events.add(int(line.split("'job',")[1].split(",")[0]))
    assert jobs == events
    assert manifest["rows"]["jobs_job"] == len(jobs)
    assert manifest["found"]["plans"] == len(jobs)


def test_an_encrypted_backup_opens_with_its_key_alone_and_has_the_settings(shop: Installed, owner: Browser) -> None:
    del owner
    key = pyrage.x25519.Identity.generate()
    settings = settings_in_use(shop.places) | {PREFIX + "BACKUP_RECIPIENT": str(key.to_public())}
    made = backup.back_up(shop.places, settings, NOW)
    assert made.path.name == "plain-shank-20270301T090000Z.tar.age"
    content = made.path.read_bytes()
    assert settings[PREFIX + "SECRET_KEY"].encode() not in content
    with tempfile.TemporaryDirectory() as folder:
        with pytest.raises(ShopError, match="private key is needed"):
            archive.unpack(made.path, Path(folder))
        with pytest.raises(ShopError, match="does not open it"):
            archive.unpack(made.path, Path(folder), str(pyrage.x25519.Identity.generate()))
        manifest = archive.unpack(made.path, Path(folder), f"# kept at home\n{key}\n")
        assert settings[PREFIX + "SECRET_KEY"] in (Path(folder) / archive.SETTINGS).read_text()
    assert manifest["rows"]["people_user"] == 1
    assert backup.NO_KEY not in made.said
    with pytest.raises(ShopError, match="no recipient"):
        backup.back_up(shop.places, settings | {PREFIX + "BACKUP_RECIPIENT": "age1nothing"}, NOW + timedelta(hours=1))
    assert not list(shop.places.backups.glob(".part-*"))


def test_a_full_disk_leaves_those_before_whole(
    shop: Installed, owner: Browser, monkeypatch: pytest.MonkeyPatch
) -> None:
    del owner
    settings = settings_in_use(shop.places)
    made = backup.back_up(shop.places, settings, NOW + timedelta(hours=2))
    before = {path.name: archive.sha_of(path) for _, path in archive.backups_in(shop.places.backups)}

    def full(*_: object, **__: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    for where in ("gzip.open", "tarfile.open", "os.fsync"):
        with monkeypatch.context() as broken:
            broken.setattr(where, full)
            with pytest.raises(ShopError, match="No space left"):
                backup.back_up(shop.places, settings, NOW + timedelta(hours=3))
        assert {path.name: archive.sha_of(path) for _, path in archive.backups_in(shop.places.backups)} == before
        assert not list(shop.places.backups.glob(".part-*"))
    assert made.path.name in before


def test_a_copy_that_lost_a_row_is_no_backup(
    shop: Installed, owner: Browser, monkeypatch: pytest.MonkeyPatch
) -> None:
    del owner
    settings = settings_in_use(shop.places)
    real = backup.load

    def loses(copy: Any, name: str, dump: Path) -> None:
        real(copy, name, dump)
        copy.query(f"DELETE FROM {name}.core_turn LIMIT 1")

    monkeypatch.setattr(backup, "load", loses)
    with pytest.raises(ShopError, match=r"core_turn: (2 written, 1|1 written, 0) there"):
        backup.back_up(shop.places, settings, NOW + timedelta(hours=4))


@pytest.mark.parametrize("harm", ["cut", "flipped", "other dump", "other format", "no archive", "climbs out"])
def test_a_broken_file_is_refused_and_changes_nothing(
    shop: Installed, owner: Browser, harm: str, tmp_path: Path
) -> None:
    del owner
    made = (
        newest(shop)
        if newest(shop).name.endswith(".tar")
        else backup.back_up(shop.places, settings_in_use(shop.places), NOW + timedelta(hours=5)).path
    )
    path = tmp_path / "plain-shank-20270301T120000Z.tar"
    content = bytearray(made.read_bytes())
    if harm == "cut":
        path.write_bytes(content[: len(content) // 2])
    elif harm == "flipped":
        content[len(content) // 2] ^= 0xFF
        path.write_bytes(content)
    elif harm == "no archive":
        path.write_bytes(b"nothing of the kind")
    else:
        with tarfile.open(made) as tar:
            tar.extractall(tmp_path / "in")
        manifest = json.loads((tmp_path / "in" / archive.MANIFEST).read_text())
        if harm == "other dump":
            with gzip.open(tmp_path / "in" / archive.DUMP, "wb") as file:
                file.write(b"DROP TABLE jobs_job;\n")
        if harm == "other format":
            manifest["format"] = 99
        (tmp_path / "in" / archive.MANIFEST).write_text(json.dumps(manifest))
        with tarfile.open(path, "w") as tar:
            for one in (tmp_path / "in").iterdir():
                tar.add(one, f"../../{one.name}" if harm == "climbs out" else one.name)
    with tempfile.TemporaryDirectory() as folder, pytest.raises(ShopError):
        archive.unpack(path, Path(folder))
    assert shop.is_ready()


def test_no_secret_stands_on_a_command_line(shop: Installed, owner: Browser) -> None:
    del owner
    secrets = [settings_in_use(shop.places)[PREFIX + name].encode() for name in ("SECRET_KEY", "DB_PASSWORD")]
    lines = []
    for path in Path("/proc").glob("[0-9]*/cmdline"):
        with contextlib.suppress(OSError):
            lines.append(path.read_bytes())
    assert any(str(shop.places.data).encode() in line for line in lines)
    assert not [line for line in lines for one in secrets if one in line]
