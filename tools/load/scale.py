"""``python -m tools.load.scale``: what a job, a photograph and a working minute cost, and how many people it bears.

Bytes are those that a group of nodes sends to each other for it (the write set), and those of its rows in the tables;
queries are those that the server counted. People work at a bench's pace (``tools.load.people``), more and more of
them, until 95 of 100 answers of a kind but photographs take 300 ms: a thread stands for several. Figures of this
machine on this day.
"""

from __future__ import annotations

import argparse
import os
import shutil
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from tools.bench_nodes import WORD, Side, group_in
from tools.cluster.nodes import Group
from tools.load.people import A_MINUTE, Measured, all_at_work
from tools.mariadb import start

TIMES, MOST_MS, SECONDS = 20, 300.0, 20.0
HEAVY = "photograph"  # drawn anew by the processor, some tenths of a second however few people work: told by itself
ROUNDS = (1.0, 2.0, 4.0, 8.0, 12.0, 16.0, 24.0, 32.0)
TABLES = ("jobs_job", "jobs_stepdone", "jobs_measure", "core_event", "core_sent", "photos_storedfile")


def counted(group: Group) -> tuple[int, int, int]:
    """Bytes and write sets that the first node has sent, and queries that it was asked."""
    node = group.nodes[0]
    return (
        int(node.status("wsrep_replicated_bytes")),
        int(node.status("wsrep_replicated")),
        int(node.status("Questions")),
    )


def cost(group: Group, what: str, do: Callable[[], None]) -> None:
    """Print what one of a kind costs, from twenty of them."""
    do()  # what is worked out once
    before = counted(group)
    for _ in range(TIMES):
        do()
    after = counted(group)
    own = 6  # what the counting itself asks
    sent, sets, asked = (b - a for a, b in zip(before, after, strict=True))
    bytes_, sets_, queries = sent / TIMES, sets / TIMES, (asked - own) / TIMES
    print(f"{what:<14}{bytes_:10,.0f} bytes in {sets_:4.1f} write sets, {queries:5.1f} queries", flush=True)


def row_of(group: Group, table: str) -> None:
    """Print what a row of a table takes, as the server reckons it."""
    sizes = "SELECT table_rows, data_length + index_length FROM information_schema.tables"
    this = f"table_schema = 'plain_shank' AND table_name = '{table}'"
    said = group.nodes[0].query(f"ANALYZE TABLE plain_shank.{table}; {sizes} WHERE {this}")
    count, length = map(int, said.strip().split("\n")[-1].split("\t"))
    print(f"{table:<20}{count:7,} rows, {length / max(1, count):10,.0f} bytes a row with its indexes", flush=True)


def most(side: Side) -> None:
    """Print p95 for more and more people, until some kind takes too long."""
    for faster in ROUNDS:
        measured = Measured()
        all_at_work(side.people, SECONDS, faster, measured)
        slowest = max((kind for kind in A_MINUTE if kind != HEAVY and measured.took[kind]), key=measured.p95)
        people, ms = round(len(side.people) * faster), 1000 * measured.p95(slowest)
        sent = sum(len(took) for took in measured.took.values()) / SECONDS
        said = f"{people:4} people, {sent:5.1f} requests a second, p95 {ms:5.0f} ms ({slowest})"
        if measured.took[HEAVY]:
            said += f"; {HEAVY} {1000 * measured.p95(HEAVY):.0f} ms"
        print(f"{side.title}: {said}", flush=True)
        if ms > MOST_MS or measured.wrong:
            print(f"  {len(measured.wrong)} not answered: {measured.wrong[:2]}", flush=True)
            return


@contextmanager
def sides(folder: Path) -> Iterator[tuple[Side, Side, Group]]:
    """The application over one server, and over three nodes of a group, all on this machine."""
    database, group = start(folder / "db"), group_in(folder, 3)
    made: list[Side] = []
    try:
        group.start()
        made.append(Side("a server", database.environment(), folder))
        said = {"PLAIN_SHANK_DB_HOST": group.addresses, "PLAIN_SHANK_DB_PASSWORD": group.password}
        made.append(Side("three nodes", said, folder))
        yield made[0], made[1], group
    finally:
        for side in made:
            side.application.stop()
        group.stop()
        database.stop()


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--costs", action="store_true", help="only what one of a kind costs")
    given = parser.parse_args()
    os.environ.setdefault("PLAIN_SHANK_DEMO", f"wren:{WORD}")
    folder = Path(tempfile.mkdtemp(prefix="ps-scale-"))
    folder.chmod(0o711)
    try:
        with sides(folder) as (server, three, group):
            person = three.people[0]
            cost(group, "a job", person.begin)
            for kind in ("tick", "measure", "photograph", "pulse", "bench", "card", "plan"):
                person.begin()
                cost(group, kind, lambda kind=kind: person.do(kind))  # type: ignore[misc]
            for table in TABLES:
                row_of(group, table)
            if not given.costs:
                most(server)
                most(three)
    finally:
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
