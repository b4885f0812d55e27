"""A new version brought in over a shop that works: killed at every step, with a bad migration, and well."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest

from tests.tools.test_demo_start import ROOT
from tests.tools.test_shop import PREFIX, WORD, Installed, new_job
from tools.fresh import Browser
from tools.shop.assets import keep_assets
from tools.shop.in_use import hold_of, in_use, settings_in_use
from tools.shop.places import ShopError
from tools.shop.rolling import is_group, roll
from tools.shop.server import Server
from tools.shop.upgrade import Hold

#: Does what ``plain-shank upgrade`` does as the shop's own user; killed before or after one of its steps.
DRIVER = """
import os, signal, sys
from datetime import UTC, datetime

from pathlib import Path
from tools.shop import upgrade as up
from tools.shop.in_use import settings_in_use
from tools.shop.places import Places

places, release, step = Places(Path(sys.argv[1])), Path(sys.argv[2]), sys.argv[3]
when, _, name = step.partition(":")
if name:
    real = getattr(up, name)
    def killed(*given, **named):
        if when == "before":
            os.kill(os.getpid(), signal.SIGKILL)
        if when == "full":
            raise OSError(28, "No space left on device")
        done = real(*given, **named)
        os.kill(os.getpid(), signal.SIGKILL)
        return done
    setattr(up, name, killed)
done = up.upgrade(places, settings_in_use(places), release, datetime.now(UTC), under_way_s=0)
print(done.database)
"""
STEPS = ("back_up", "_copied", "of_release", "asked_ready", "switch")
BAD = """
from django.db import migrations

class Migration(migrations.Migration):
    dependencies = [("safekeeping", "0001_backups")]
    operations = [
        migrations.RunSQL("ALTER TABLE jobs_job ADD COLUMN half INT NULL"),
        migrations.RunSQL("ALTER TABLE no_such_table ADD COLUMN other INT NULL"),
    ]
"""


def release_of(folder: Path, *, bad: bool = False) -> Path:
    """A release as the install makes them: a folder with our own code and Python."""
    folder.mkdir(parents=True)
    for name in ("ringcraft", "workshop", "tools", "demo"):
        shutil.copytree(ROOT / name, folder / name, ignore=shutil.ignore_patterns("__pycache__"))
    for name in ("manage.py", "gunicorn.conf.py"):
        shutil.copy(ROOT / name, folder / name)
    (folder / ".venv").symlink_to(ROOT / ".venv")
    (folder / "web").symlink_to(ROOT / "web")
    if bad:
        (folder / "workshop/safekeeping/migrations/0002_bad.py").write_text(BAD)
    return folder


@pytest.fixture(scope="module")
def owner(shop: Installed) -> Browser:
    link = shop.ask("first-link").strip().split("#")[1]
    browser = Browser(shop.url)
    browser.ask("/api/session")
    browser.ask("/api/session/shop", {"link": link, "shop": "Fen Street", "username": "rook", "password": WORD})
    new_job(browser)
    return browser


def driven(shop: Installed, release: Path, step: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-c", DRIVER, str(shop.places.root), str(release), step],
        cwd=ROOT, capture_output=True, text=True, check=False,
    )  # fmt: skip


def databases(shop: Installed) -> set[str]:
    return set(Server(settings_in_use(shop.places)).ask(r"SHOW DATABASES LIKE 'plain\_shank%'").split())


def titles(browser: Browser) -> list[str]:
    listed: Any = browser.ask("/api/jobs")
    return sorted(one["title"] for one in listed["items"])


@pytest.mark.parametrize("step", [f"before:{name}" for name in STEPS] + [f"after:{name}" for name in STEPS[:-1]])
def test_killed_before_the_switch_the_version_before_goes_on(shop: Installed, owner: Browser, step: str) -> None:
    before = in_use(shop.places)
    done = driven(shop, ROOT, step)
    assert done.returncode == -signal.SIGKILL, done.stderr
    assert in_use(shop.places) == before
    hold = hold_of(shop.places)
    assert hold.exists()  # it was killed while writes were stopped
    os.utime(hold, (time.time() - 60, time.time() - 60))  # and nobody keeps that fresh any more
    new_job(owner, f"after {step}")
    assert f"after {step}" in titles(owner)
    assert shop.is_ready()


@pytest.mark.parametrize("name", STEPS)
def test_a_full_disk_leaves_the_version_before_at_work(shop: Installed, owner: Browser, name: str) -> None:
    before, there = in_use(shop.places), titles(owner)
    done = driven(shop, ROOT, f"full:{name}")
    assert done.returncode == 1
    assert "No space left" in done.stderr
    assert in_use(shop.places) == before
    assert not hold_of(shop.places).exists()
    new_job(owner, f"after a full disk at {name}")
    assert titles(owner) == sorted([*there, f"after a full disk at {name}"])


def test_a_migration_that_fails_at_its_second_statement_changes_nothing(shop: Installed, owner: Browser) -> None:
    before, there = in_use(shop.places), titles(owner)
    release = release_of(shop.places.programs / "releases/bad", bad=True)
    done = driven(shop, release)
    assert done.returncode == 1
    assert "no_such_table" in done.stderr
    assert "the old one goes on" in done.stderr
    assert in_use(shop.places) == before
    columns = Server(settings_in_use(shop.places)).ask("SHOW COLUMNS FROM jobs_job LIKE 'half'", "plain_shank")
    assert columns == ""
    assert not hold_of(shop.places).exists()
    new_job(owner, "after the bad one")
    assert len(titles(owner)) == len(there) + 1
    assert databases(shop) == {"plain_shank"}  # what was left by those that were killed is gone too


def test_while_it_is_brought_in_writes_are_refused_and_reads_go_on(shop: Installed, owner: Browser) -> None:
    with Hold(hold_of(shop.places)) as hold:
        with pytest.raises(urllib.error.HTTPError) as refused:
            new_job(owner, "refused")
        assert refused.value.code == 503
        assert json.loads(refused.value.read())["kind"] == "held"
        assert "refused" not in titles(owner)
        assert hold.held()
    new_job(owner, "and on")


def test_a_machine_that_stood_still_does_not_switch(tmp_path: Path) -> None:
    with Hold(tmp_path / "hold", each_s=600) as hold:
        hold._last -= 20
        assert not hold.held()


def test_brought_in_well_nothing_is_lost_and_both_switch(shop: Installed, owner: Browser) -> None:
    there = titles(owner)
    release = release_of(shop.places.programs / "releases/next")
    done = driven(shop, release)
    assert done.returncode == 0, done.stderr
    now = in_use(shop.places)
    assert now is not None
    assert (now.release, now.database) == (release, done.stdout.strip())
    assert settings_in_use(shop.places)[PREFIX + "DB_NAME"] == now.database
    with pytest.raises(urllib.error.HTTPError) as refused:  # the process of before still runs
        new_job(owner, "into the records of before")
    assert (refused.value.code, json.loads(refused.value.read())["kind"]) == (503, "held")
    assert titles(owner) == there
    shop.stop()
    shop.start()
    assert titles(owner) == there  # signed in still: nothing was restored
    assert owner.ask("/api/session")["epoch"] == 0
    new_job(owner, "in the new one")
    old = Server(settings_in_use(shop.places)).ask("SELECT COUNT(*) FROM jobs_job", "plain_shank")
    assert int(old) == len(there)
    with pytest.raises(ShopError):
        Server(settings_in_use(shop.places)).make("no name; at all")


MORE = """
from django.db import migrations, models

class Migration(migrations.Migration):
    dependencies = [("core", "{before}")]
    operations = [migrations.{operation}]
"""


def rolling(folder: Path, operation: str) -> Path:
    """A release that does one thing more to the records."""
    release = release_of(folder)
    before = sorted(path.stem for path in (release / "workshop/core/migrations").glob("0*.py"))[-1]
    (release / "workshop/core/migrations/0098_more.py").write_text(MORE.format(before=before, operation=operation))
    return release


def test_where_others_serve_the_same_records_only_what_adds_comes_in(shop: Installed, owner: Browser) -> None:
    """One machine after the other: the version before goes on, over the same records."""
    settings, there = settings_in_use(shop.places), titles(owner)
    before = in_use(shop.places)
    stops = rolling(shop.places.programs / "releases/stops", "RemoveField('turn', 'after')")
    with pytest.raises(
        ShopError, match=r"must not come in while another machine serves.*after.*make upgrade STOPPED=1"
    ):
        roll(shop.places, settings, stops, datetime.now(UTC))
    assert in_use(shop.places) == before
    adds = rolling(
        shop.places.programs / "releases/adds", "AddField('turn', 'more', models.IntegerField(db_default=7))"
    )
    done = roll(shop.places, settings, adds, datetime.now(UTC))
    assert done.backup.exists()
    assert before is not None
    assert (done.database, done.before) == (before.database, before.database)
    now = in_use(shop.places)
    assert now is not None
    assert (now.release, now.database) == (adds, before.database)
    new_job(owner, "by the version before")  # whose process goes on
    assert len(titles(owner)) == len(there) + 1
    assert roll(shop.places, settings, adds, datetime.now(UTC)).database == before.database  # the next machine


def test_where_every_machine_has_stopped_any_version_comes_in(shop: Installed, owner: Browser) -> None:
    release = rolling(shop.places.programs / "releases/stopped", "RunSQL('SELECT 1')")
    (release / "workshop/core/migrations/0098_more.py").rename(release / "workshop/core/migrations/0099_more.py")
    settings = settings_in_use(shop.places)
    with pytest.raises(ShopError):
        roll(shop.places, settings, release, datetime.now(UTC))
    roll(shop.places, settings, release, datetime.now(UTC), stopped=True)
    found = in_use(shop.places)
    assert found is not None
    assert found.release == release


@pytest.mark.parametrize(("said", "wanted"), [("", False), ("db1", False), ("db1:3306,db2:3306", True)])
def test_several_addresses_are_a_group(said: str, wanted: bool) -> None:
    assert is_group({PREFIX + "DB_HOST": said}) is wanted


def test_what_pages_of_the_version_before_ask_for_stays(tmp_path: Path) -> None:
    assets, static = tmp_path / "before/web/dist/assets", tmp_path / "static"
    assets.mkdir(parents=True)
    (static / "assets").mkdir(parents=True)
    for name in ("page-old.js", "shared-1.css"):
        (assets / name).write_text("before")
    (static / "assets/shared-1.css").write_text("now")
    assert keep_assets(tmp_path / "before", static) == 1
    assert (static / "assets/page-old.js").read_text() == "before"
    assert (static / "assets/shared-1.css").read_text() == "now"
    assert keep_assets(tmp_path / "before", static) == 0
