"""The way up from two older commits, with records that their own code wrote: photographs, drawer, looks at joints."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest

from tests.resizes import picture
from tests.tools.hard import WORD, Person
from tests.tools.test_demo_start import ROOT
from tools import demo
from tools.mariadb import Database, free_port, start

#: The commit that wrote 0.1.0 into the changelog, and the one before a shop could run it for real.
FIRST, LAST = "e1fdd93", "58b545f"
#: The history of jobs became the one of all things.
MOVED = {"jobs_event": "core_event"}
HAS = "import django; django.setup(); "
#: What the version of that commit is asked to write beside its own demo.
MORE = (
    HAS
    + """
import base64, sys
from django.utils import timezone
from workshop.core.history import Actor
from workshop.jobs.models import Job, JointLook
from workshop.jobs.photos import add_photo
from workshop.people.models import User
user = User.objects.get(username='wren')
job = Job.objects.filter(closed_at=None).latest('pk')
add_photo(Actor(user.workshop_id, user.pk), job, 'before', base64.b64decode(sys.stdin.read()))
JointLook.objects.create(job=job, route_key=job.route_key, step_key='inspect', at=timezone.now(), by=user,
                         seen={'passes_made': 2, 'gap_mm': 0.05})
"""
)


@dataclass
class Older:
    """Records that an older version wrote, and how many rows each table had."""

    commit: str
    database: Database
    rows: dict[str, int]
    plans: str
    scale: str = ""


def has_history() -> bool:
    asked = [subprocess.run(["git", "cat-file", "-e", one], cwd=ROOT, check=False) for one in (FIRST, LAST)]
    return not any(one.returncode for one in asked)


pytestmark = pytest.mark.skipif(not has_history(), reason="this clone has no older commits")


def python(source: Path, environment: dict[str, str], *arguments: str, said: str = "") -> str:
    done = subprocess.run(
        [sys.executable, *arguments],
        cwd=source,
        env=environment,
        input=said,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


@pytest.fixture(scope="module", params=[FIRST, LAST])
def older(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Older]:
    folder = tmp_path_factory.mktemp("older")
    source = folder / "source"
    subprocess.run(
        ["git", "worktree", "add", "--detach", str(source), request.param], cwd=ROOT, check=True, capture_output=True
    )
    database = start(Path("/dev/shm") / f"ps-test-older-{os.getpid()}", for_tests=True)
    try:
        environment = demo.application(
            database, PLAIN_SHANK_DEMO=f"wren:{WORD}", PLAIN_SHANK_STATIC_ROOT=str(folder / "static"),
            DJANGO_SETTINGS_MODULE="workshop.settings", PLAIN_SHANK_DB_TIMEOUT="3600",
        )  # fmt: skip
        (source / "web" / "dist").mkdir(parents=True, exist_ok=True)
        python(source, environment, "manage.py", "migrate", "--no-input")
        python(source, environment, "-m", "demo.load", *([] if request.param == FIRST else ["--small"]))
        if request.param == LAST:
            python(source, environment, "-c", MORE, said=picture())
        tables = database.query(
            "SELECT table_name FROM information_schema.tables WHERE table_schema = 'plain_shank' AND table_name RLIKE"
            " '^(core|customers|day|gauges|jobs|logbook|people|photos|stock|worth)_'"
        ).split()
        rows = {one: int(database.query(f"SELECT COUNT(*) FROM plain_shank.{one}")) for one in tables}
        plans = database.query("SELECT id, MD5(plan), MD5(`order`) FROM plain_shank.jobs_job ORDER BY id")
        asked = "SELECT home_scale FROM plain_shank.people_workshop"
        scale = database.query(asked).strip() if request.param == FIRST else ""
        yield Older(request.param, database, rows, plans, scale)
    finally:
        database.stop()
        subprocess.run(
            ["git", "worktree", "remove", "--force", str(source)], cwd=ROOT, check=False, capture_output=True
        )
        subprocess.run(["rm", "-r", str(database.folder)], check=False)


def test_this_version_goes_on_with_all_of_it(older: Older, tmp_path: Path) -> None:
    environment = demo.application(
        older.database, demo=False, PLAIN_SHANK_STATIC_ROOT=str(tmp_path), PLAIN_SHANK_DB_TIMEOUT="3600"
    )
    environment.pop("DJANGO_SETTINGS_MODULE", None)
    python(ROOT, environment, "manage.py", "migrate", "--no-input")
    found: dict[str, Any] = json.loads(python(ROOT, environment, "manage.py", "check_copy"))
    assert found["wrong"] == []
    jobs = older.rows["jobs_job"]
    assert jobs > 5
    assert found["plans"] == jobs
    for table, count in older.rows.items():
        now = MOVED.get(table, table) if older.commit == FIRST else table
        assert int(older.database.query(f"SELECT COUNT(*) FROM plain_shank.{now}")) >= count, table
    if older.commit == LAST:
        assert (found["photographs"], found["pieces"] > 3) == (older.rows["photos_photo"], True)
        assert older.rows["jobs_jointlook"] > 0
    again = older.database.query("SELECT id, MD5(plan), MD5(`order`) FROM plain_shank.jobs_job ORDER BY id")
    assert again == older.plans, "no migration changes a kept plan"
    scale = older.database.query("SELECT preferences FROM plain_shank.people_workshop").strip()
    assert older.commit == LAST or json.loads(scale) == {"home_scale": older.scale}
    roles = older.database.query("SELECT DISTINCT role FROM plain_shank.people_user WHERE workshop_id IS NOT NULL")
    assert roles.split() == ["owner"]
    port = free_port()
    served = demo.serve(environment, port)
    try:
        demo.wait_for(port, served)
        person = Person(f"http://127.0.0.1:{port}").sign_in()
        status, bench = person.ask("GET", "/api/bench")
        assert status == 200
        assert bench["rings"]
        for ring in bench["rings"]:
            status, card = person.ask("GET", f"/api/jobs/{ring['id']}")
            assert (status, card["trouble"]) == (200, "")
            for photo in card["photos"]:
                status, content = person.ask("GET", f"/api/jobs/{ring['id']}/photos/{photo['id']}")
                assert (status, content[:3]) == (200, b"\xff\xd8\xff")
        key = bench["rings"][0]
        status, card = person.ask("GET", f"/api/jobs/{key['id']}")
        done = {one["key"] for one in card["done"]}
        step = next(one["key"] for one in card["plan"]["route"] if one["key"] not in done)
        assert person.ask("PUT", f"/api/jobs/{key['id']}/steps/{step}", {"done": True})[0] == 200
    finally:
        demo.stop(served)


SHAPE = (
    "SELECT table_name, column_name, column_type, is_nullable FROM information_schema.columns"
    " WHERE table_schema = '{0}' ORDER BY 1, 2",
    "SELECT table_name, MAX(non_unique), GROUP_CONCAT(column_name ORDER BY seq_in_index) AS c, index_name = 'PRIMARY'"
    " FROM information_schema.statistics WHERE table_schema = '{0}' GROUP BY table_name, index_name ORDER BY 1, 3, 2",
    "SELECT table_name, column_name, referenced_table_name FROM information_schema.key_column_usage"
    " WHERE table_schema = '{0}' AND referenced_table_name IS NOT NULL ORDER BY 1, 2",
)


def test_the_tables_are_those_that_a_new_database_has(older: Older, tmp_path: Path) -> None:
    environment = demo.application(
        older.database, demo=False, PLAIN_SHANK_STATIC_ROOT=str(tmp_path), PLAIN_SHANK_DB_TIMEOUT="3600"
    )
    environment.pop("DJANGO_SETTINGS_MODULE", None)
    python(ROOT, environment, "manage.py", "migrate", "--no-input")
    older.database.query("CREATE DATABASE test_plain_shank_new")
    python(ROOT, environment | {"PLAIN_SHANK_DB_NAME": "test_plain_shank_new"}, "manage.py", "migrate", "--no-input")
    for asked in SHAPE:
        found, wanted = (
            set(older.database.query(asked.format(name)).splitlines())
            for name in ("plain_shank", "test_plain_shank_new")
        )
        assert found == wanted
