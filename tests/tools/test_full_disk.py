"""The disk of the records is full: writes say why, reads go on, and it works again without a start."""

from __future__ import annotations

import contextlib
import subprocess
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.orders import order
from tests.tools.hard import Hard, Person, hard

SIZE_MB = 400


@pytest.fixture(scope="module")
def small_disk() -> Iterator[Path]:
    """A file system in memory that is soon full; only root can have one."""
    with tempfile.TemporaryDirectory(prefix="ps-full-") as folder:
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", f"size={SIZE_MB}m", "tmpfs", folder], capture_output=True, check=False
        )
        if mounted.returncode:
            pytest.skip("no file system of its own can be mounted here")
        try:
            yield Path(folder)
        finally:
            subprocess.run(["umount", "--lazy", folder], check=True)


@pytest.fixture(scope="module")
def running(small_disk: Path) -> Iterator[Hard]:
    with tempfile.TemporaryDirectory(prefix="ps-hard-") as folder:
        made = hard(Path(folder), small_disk / "db")
        try:
            yield made
        finally:
            made.end()


def fill(folder: Path) -> Path:
    """Take all that is left."""
    filler = folder / "filler"
    with filler.open("ab", buffering=0) as file, contextlib.suppress(OSError):
        for size in (1 << 20, 1 << 12, 1):
            with contextlib.suppress(OSError):
                while True:
                    file.write(b"\0" * size)
    return filler


def test_writes_say_why_reads_go_on_and_it_works_again_without_a_start(running: Hard, small_disk: Path) -> None:
    person = Person(running.url).sign_in()
    body = {"title": "before", "order": order(), "note": "n" * 1500}
    status, made = person.ask("POST", "/api/jobs", body)
    assert status == 201, made
    filler = fill(small_disk)
    acknowledged, said = [], None
    for nth in range(400):  # what the files have room for is taken first
        status, said = person.ask("POST", "/api/jobs", {**body, "title": f"full {nth}"}, f"on-a-full-disk-{nth}")
        if status != 201:
            break
        acknowledged.append(f"full {nth}")
    assert status == 503, said
    assert said["kind"] == "full"
    assert "disk" in said["errors"][0]["message"]
    for path in (
        "/api/session",
        "/api/bench",
        f"/api/jobs/{made['id']}",
        "/api/customers",
        "/api/stock",
        "/api/logbook",
    ):
        status, answer = person.ask("GET", path)
        assert status == 200, (path, answer)
    other = running.database.query("SELECT COUNT(*) FROM plain_shank.jobs_job WHERE title LIKE 'full %'")
    assert int(other) == len(acknowledged)
    before = running.process.pid, running.workers()
    filler.unlink()
    nth = len(acknowledged)
    status, said = person.ask("POST", "/api/jobs", {**body, "title": f"full {nth}"}, f"on-a-full-disk-{nth}")
    assert status == 201, said
    assert (running.process.pid, running.workers()) == before
    assert running.database.query(
        "SELECT COUNT(*) FROM plain_shank.jobs_job WHERE title LIKE 'full %'"
    ).strip() == str(nth + 1)
