"""Clocks that are set back and the hour that comes twice, in the processes by libfaketime, never the machine's own."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from tests.orders import order
from tests.tools.hard import Hard, Person, hard
from tests.tools.test_demo_start import ROOT
from tools import demo

LIBRARY = next(iter(Path("/usr/lib").glob("*/faketime/libfaketimeMT.so.1")), None)
pytestmark = pytest.mark.skipif(
    LIBRARY is None, reason="libfaketime is not installed here: make system-test brings it"
)
#: The last minutes of summer time where this shop is: at 1:00 UTC the hour from 2:00 comes again.
ZONE = "Europe/Vienna"
TWICE = datetime(2026, 10, 25, 0, 40, tzinfo=UTC)


class Clock:
    """The clock of the processes: how far it is from the machine's, read anew each time they look."""

    def __init__(self, folder: Path) -> None:
        self.file = folder / "clock"
        self.ahead(timedelta(0))

    def environment(self) -> dict[str, str]:
        return {
            "LD_PRELOAD": str(LIBRARY),
            "FAKETIME_TIMESTAMP_FILE": str(self.file),
            "FAKETIME_NO_CACHE": "1",
            "FAKETIME_DONT_FAKE_MONOTONIC": "1",
            "NO_FAKE_STAT": "1",
        }

    def ahead(self, by: timedelta) -> None:
        self.file.write_text(f"{by.total_seconds():+.0f}\n")

    def at(self, when: datetime) -> None:
        self.ahead(when - datetime.now(UTC))


@pytest.fixture(scope="module")
def clock() -> Iterator[Clock]:
    with tempfile.TemporaryDirectory(prefix="ps-clock-") as folder:
        yield Clock(Path(folder))


@pytest.fixture(scope="module")
def running(clock: Clock) -> Iterator[Hard]:
    with tempfile.TemporaryDirectory(prefix="ps-hard-") as folder:
        made = hard(Path(folder))
        demo.stop(made.process)
        # Django's own server: gunicorn's sleeps are refused under the library where its other clock is the real one
        made.process = subprocess.Popen(
            [sys.executable, "manage.py", "runserver", "--noreload", f"127.0.0.1:{made.port}"],
            cwd=ROOT, env=made.environment | clock.environment(), stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        try:
            demo.wait_for(made.port, made.process)
            yield made
        finally:
            made.end()


@pytest.fixture(autouse=True)
def as_it_is(clock: Clock) -> Iterator[None]:
    yield
    clock.ahead(timedelta(0))


def now_there(person: Person) -> datetime:
    return datetime.fromisoformat(person.ask("GET", "/api/day/pulse")[1]["now"])


def new_job(person: Person, title: str) -> dict[str, Any]:
    status, job = person.ask("POST", "/api/jobs", {"title": title, "order": order()})
    assert status == 201, job
    return dict(job)


def step(person: Person, job: dict[str, Any], nth: int, key: str = "") -> tuple[int, Any]:
    name = job["plan"]["route"][nth]["key"]
    return person.ask("PUT", f"/api/jobs/{job['id']}/steps/{name}", {"done": True}, key)


def test_an_hour_back_loses_nothing_and_refuses_nothing(running: Hard, clock: Clock) -> None:
    person = Person(running.url).sign_in()
    job = new_job(person, "before it was set back")
    assert step(person, job, 0, "first-step-of-it")[0] == 200
    before = now_there(person)
    clock.ahead(timedelta(hours=-1))
    assert now_there(person) < before - timedelta(minutes=58)
    assert person.ask("GET", "/api/session")[1]["signed_in"] is True
    assert step(person, job, 0, "first-step-of-it")[1] == step(person, job, 0, "first-step-of-it")[1]
    for nth in (1, 2):
        status, said = step(person, job, nth)
        assert status == 200, said
    other = new_job(person, "while it was set back")
    assert other["number"] == job["number"] + 1
    for path in ("/api/bench", "/api/day", "/api/jobs", f"/api/jobs/{job['id']}", f"/api/jobs/{job['id']}/history"):
        status, answer = person.ask("GET", path)
        assert status == 200, (path, answer)
    clock.ahead(timedelta(0))
    done = [one["key"] for one in person.ask("GET", f"/api/jobs/{job['id']}")[1]["done"]]
    assert sorted(done) == sorted(one["key"] for one in job["plan"]["route"][:3])
    rows = running.database.query(
        f"SELECT COUNT(*), COUNT(DISTINCT `key`) FROM plain_shank.jobs_stepdone WHERE job_id = {job['id']} AND live"
    ).split()
    assert rows == ["3", "3"]


def test_somebody_signs_in_while_the_clock_is_set_back(running: Hard, clock: Clock) -> None:
    Person(running.url).sign_in()
    clock.ahead(timedelta(hours=-1))
    assert Person(running.url).sign_in("linnet").ask("GET", "/api/bench")[0] == 200


def test_in_the_hour_that_comes_twice_times_stay_in_their_order(running: Hard, clock: Clock) -> None:
    clock.at(TWICE)
    person = Person(running.url).sign_in()
    ways = person.ask("GET", "/api/ways")[1]
    body = {"version": ways["workshop_version"], **ways["workshop"], "time_zone": ZONE}
    status, said = person.ask("PUT", "/api/ways/workshop", body)
    assert status == 200, said
    job = new_job(person, "in the hour that comes twice")
    times = []
    for nth, minutes in enumerate((5, 25, 50, 75)):  # 2:45, 2:05 again, 2:30 again, 2:55 again by the wall
        clock.at(TWICE + timedelta(minutes=minutes))
        status, said = step(person, job, nth)
        assert status == 200, said
        times.append(now_there(person))
        for path in ("/api/bench", "/api/day", "/api/day/minutes", f"/api/jobs/{job['id']}/history"):
            status, answer = person.ask("GET", path)
            assert status == 200, (path, answer)
    assert times == sorted(times)
    history = person.ask("GET", f"/api/jobs/{job['id']}/history")[1]
    rows = history["items"] if isinstance(history, dict) else history
    told = [datetime.fromisoformat(row["at"]) for row in rows]
    assert told in (sorted(told), sorted(told, reverse=True))
    assert max(told) - min(told) > timedelta(minutes=60)
    promised = (TWICE + timedelta(minutes=20)).isoformat()
    status, due = person.ask("POST", "/api/jobs", {"title": "promised then", "order": order(), "due": promised})
    assert status == 201, due
    assert datetime.fromisoformat(due["due"]) == TWICE + timedelta(minutes=20)
