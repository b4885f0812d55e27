"""What holds whichever process and node answer, looked at from outside: sessions, keys, timers, throttle, rows."""

from __future__ import annotations

import json
import re
import statistics
import subprocess
import sys
import time
import urllib.error
import uuid
from typing import TYPE_CHECKING, Any

from tools.cluster.networks import HERE
from tools.cluster.nodes import Node
from tools.cluster.work import Worker

if TYPE_CHECKING:
    from tools.cluster.test import Machines

ASK = """
import json, sys, urllib.error, urllib.request
request = urllib.request.Request(sys.argv[1], headers={'Cookie': sys.argv[2]})
try:
    print(urllib.request.urlopen(request, timeout=20).status)
except urllib.error.HTTPError as problem:
    print(problem.code, problem.read().decode())
"""
TRIES, ALONE, MOST_SMALL = 60, "has lost the others", 3


def same(what: str, one: Any, other: Any) -> None:
    """Raises SystemExit where two things that should be the same are not."""
    if one != other:
        raise SystemExit(f"{what}: {str(one)[:400]} and {str(other)[:400]}")


def another_process_knows(machines: Machines, word: str) -> None:
    """What one process did the other knows: who is signed in, what was sent, what waits, who guesses passwords."""
    first, second = (f"http://{one.address}" for one in machines.applications)
    worker = Worker(f"http://{HERE}:8420", "load0", word, 0)
    for url in (first, second):
        same("a session", worker.send("GET", "/api/session", url=url)["username"], "load0")
    key, name = uuid.uuid4().hex, f"once {uuid.uuid4().hex[:8]}"
    made = worker.send("POST", "/api/customers", {"name": name}, key, first)
    same("a key", worker.send("POST", "/api/customers", {"name": name}, key, second), made)
    same("what a key stands for", _count(machines.group.nodes[2], "customers_customer", f"name = '{name}'"), 1)
    worker.begin()
    for step in worker.job["plan"]["route"]:
        worker.send(
            "PUT", f"/api/jobs/{worker.job['id']}/steps/{step['key']}", {"done": True}, uuid.uuid4().hex, first
        )
        if step["wait_min"]:
            break
    here, there = (worker.send("GET", f"/api/jobs/{worker.job['id']}", url=url) for url in (second, first))
    same("a job with a wait", here, there)
    if not re.search(r'"ready_at": "\d', json.dumps(here)):
        raise SystemExit("no timer runs after a step with a wait")
    _same_streams(machines, worker, first, second)
    for url, times in ((first, 8), (second, 1)):
        said = [_wrong_password(worker, url) for _ in range(times)]
    same("a throttle", said, [429])
    print("  sessions, keys, timers, screens, files and the throttle hold over both processes", flush=True)


def _same_streams(machines: Machines, worker: Worker, first: str, second: str) -> None:
    """A screen that asks whether anything changed goes on at the other process; a file comes whole from either."""
    tag = worker.raw("/api/day/pulse", first).headers["ETag"]
    try:
        status = worker.raw("/api/day/pulse", second, tag).status
        raise SystemExit(f"a screen was told that something changed: {status}")
    except urllib.error.HTTPError as answer:
        same("a screen that has seen it already", answer.code, 304)
    files = [worker.raw("/api/stock/movements.csv", url).read() for url in (first, second)]
    same("a file", files[0], files[1])
    if len(files[0].splitlines()) < MOST_SMALL:
        raise SystemExit("a file of movements has none")


def _wrong_password(worker: Worker, url: str) -> int:
    try:
        worker.send("POST", "/api/session", {"username": "nobody-here", "password": "a guess"}, url=url)
    except urllib.error.HTTPError as problem:
        return problem.code
    return 200


def own_writing_is_seen(machines: Machines, word: str) -> None:
    """What somebody wrote by one node they read by another, at once; what waiting for that costs is told."""
    first, second = (f"http://{one.address}" for one in machines.applications)
    worker = Worker(f"http://{HERE}:8420", "load0", word, 0)
    took: dict[bool, list[float]] = {True: [], False: []}
    missed = 0
    for nth in range(2 * TRIES):
        waits = bool(nth % 2)
        made = worker.send("POST", "/api/customers", {"name": f"seen {nth}"}, uuid.uuid4().hex, first)
        if not waits:
            worker.jar.clear(machines.applications[0].host, "/", "wrote")
        begun = time.perf_counter()
        try:
            worker.send("GET", f"/api/customers/{made['id']}", url=second)
        except urllib.error.HTTPError:
            if waits:
                raise SystemExit("what was written by one node was not seen by another") from None
            missed += 1
        took[waits].append(time.perf_counter() - begun)
    with_, without = (1000 * statistics.median(took[waits]) for waits in (True, False))
    print(f"  own writing is seen on the other node {TRIES} of {TRIES} times: {with_:.0f} ms a reading", flush=True)
    print(f"    without waiting {TRIES - missed} of {TRIES}: {without:.0f} ms", flush=True)


def minority_says_why(machines: Machines, nth: int, within_s: float) -> None:
    """A machine that is cut off answers those who reach it that it cannot, and why."""
    one, worker = machines.applications[nth], (machines.workers or [])[0]
    cookie, until = "; ".join(f"{c.name}={c.value}" for c in worker.jar), time.monotonic() + within_s
    for path in ("/ready", "/api/jobs"):
        while True:
            command = [*one.within, sys.executable, "-c", ASK, f"http://{one.address}{path}", cookie]
            said = subprocess.run(command, capture_output=True, text=True, check=False).stdout
            if said.startswith("503") and ALONE in said:
                break
            if time.monotonic() > until:
                raise SystemExit(f"{path} on a machine that is cut off says {said[:300]}")
            time.sleep(0.2)


def donor_is_not_serving(machines: Machines, nth: int) -> None:
    """The node that came back was given what it missed by one that no process prefers."""
    name, serving = machines.group.nodes[nth].name, {"node-1", "node-2"}
    others = [node.said() for node in machines.group.nodes if node.name != name]
    found = re.findall(rf"\({name}\) requested state transfer.*?Selected [\d.]+ \((node-\d)\)", "\n".join(others))
    if not found or found[-1] in serving:
        raise SystemExit(f"{name} came back by {found[-1:]}, which serves")


def all_is_there_once(machines: Machines, workers: list[Worker]) -> None:
    """Each acknowledged thing is there once, and every node holds the same rows; raises SystemExit."""
    node = machines.group.nodes[2]
    for worker in workers:
        named = ", ".join(f"'{title}'" for title in worker.titles)
        found = node.query(f"{_OF} SELECT title, COUNT(*) FROM jobs_job WHERE title IN ({named}) GROUP BY title")  # noqa: S608
        same("jobs", sorted(found.splitlines()), sorted(f"{title}\t1" for title in worker.titles))
        jobs = f"(SELECT id FROM jobs_job WHERE title IN ({named}))"  # noqa: S608
        for kind, (what, table) in KINDS.items():
            line = f"kind = 'job' AND what = '{what}' AND thing_id IN {jobs}"
            same(f"lines of {what}", _count(node, "core_event", line), worker.done[kind])
            same(table, _count(node, table, f"job_id IN {jobs}"), worker.done[kind])
    sums = [_sums(one) for one in machines.group.nodes]
    for other in sums[1:]:
        same("the rows of two nodes", other, sums[0])


def _count(node: Node, table: str, where: str) -> int:
    return int(node.query(f"{_OF} SELECT COUNT(*) FROM {table} WHERE {where}"))  # noqa: S608


#: What is done, as the history calls it, and where its rows are.
KINDS = {
    "tick": ("ticked", "jobs_stepdone"),
    "measure": ("measured", "jobs_measure"),
    "photograph": ("photographed", "jobs_jobphoto"),
}
_OF = "USE plain_shank; SET SESSION wsrep_sync_wait = 1;"


def _sums(node: Node) -> str:
    tables = node.query(f"{_OF} SHOW TABLES").split()
    return node.query(f"{_OF} CHECKSUM TABLE {', '.join(tables)} EXTENDED", 60)
