"""kill -9 of each process under a working script: nothing that was acknowledged is lost, nothing is there twice."""

from __future__ import annotations

import tempfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.tools.hard import Hard, Person, Work, hard

ACTS = 20


@pytest.fixture(scope="module")
def running() -> Iterator[Hard]:
    with tempfile.TemporaryDirectory(prefix="ps-hard-") as folder:
        made = hard(Path(folder))
        try:
            yield made
        finally:
            made.end()


def test_the_servers_that_are_killed_write_every_commit_to_the_disk(running: Hard) -> None:
    said = running.database.query("SELECT @@innodb_flush_log_at_trx_commit, @@innodb_doublewrite").split()
    assert said == ["1", "1"]


def test_nothing_acknowledged_is_lost_and_nothing_is_there_twice(running: Hard) -> None:
    people = [Person(running.url).sign_in(name) for name in ("wren", "linnet")]
    works = [Work(person, f"script {nth}", ACTS) for nth, person in enumerate(people)]
    for at, strike in (
        (2, running.kill_a_worker),
        (5, running.kill_the_database),
        (9, running.kill_the_application),
        (13, running.kill_the_database),
        (16, running.kill_a_worker),
        (18, running.kill_the_application),
    ):
        works[0].has(at)
        strike()
    for work in works:
        work.thread.join()
        assert work.broken == []
        assert len(work.acknowledged) == ACTS
    rows = running.database.query("SELECT title, id, number FROM plain_shank.jobs_job WHERE title LIKE 'script %'")
    kept = [line.split("\t") for line in rows.splitlines()]
    assert sorted((title, int(row)) for title, row, _ in kept) == sorted(
        one for work in works for one in work.acknowledged
    )
    assert set(Counter(number for _, _, number in kept).values()) == {1}
    created = running.database.query(
        "SELECT COUNT(*) FROM plain_shank.core_event e JOIN plain_shank.jobs_job j ON j.id = e.thing_id"
        " WHERE e.kind = 'job' AND e.what = 'created' AND j.title LIKE 'script %'"
    )
    assert int(created) == 2 * ACTS
