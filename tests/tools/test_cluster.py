"""The parts of ``make cluster``: what each node is told, who begins after all were ended, what the balancer is told.

That a group of them holds is ``make cluster-test``; here one real node is asked, where Galera is installed.
"""

from __future__ import annotations

import os
import pwd
import re
import shutil
import subprocess
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import MySQLdb
import pytest

from tools.cluster import nodes as cluster
from tools.cluster.nodes import PROVIDER, TIMES, Group, Node
from tools.cluster.serving import Application, Balancer
from tools.cluster.work import Asked, Worker, longest_wait
from tools.mariadb import free_port
from workshop.nodes.serving import ALONE, BEHIND, why_not


def three(folder: Path) -> Group:
    return Group("test", [Node(f"n{nth}", folder / f"n{nth}", f"10.0.0.{nth}", 3306, 4567) for nth in (1, 2, 3)])


def option(group: Group, node: Node, name: str) -> str:
    return next(one.partition("=")[2] for one in group.options(node) if one.startswith(f"--{name}="))


def test_a_node_that_comes_back_is_given_what_it_missed_by_the_one_asked_last(tmp_path: Path) -> None:
    group = three(tmp_path)
    donors = [option(group, node, "wsrep-sst-donor") for node in group.nodes]
    assert donors == ["n3,", "n3,", "n2,"]  # with a comma behind: any other where it is away


def test_the_groups_times_are_said_and_in_an_order_that_it_takes(tmp_path: Path) -> None:
    said = option(three(tmp_path), three(tmp_path).nodes[0], "wsrep-provider-options")
    assert all(f"{name}={time}" in said for name, time in TIMES.items())
    seconds = {name: float(re.sub(r"[^0-9.]", "", time)) for name, time in TIMES.items()}
    order = ("evs.inactive_check_period", "evs.keepalive_period", "evs.suspect_timeout", "evs.inactive_timeout")
    assert sorted(order, key=seconds.__getitem__) == list(order)
    assert seconds["evs.inactive_timeout"] < 5  # so that whoever waits for a commit is answered within ten


@pytest.mark.parametrize(
    ("states", "positions", "begins"),
    [
        ({}, {}, "n1"),
        ({"n1": 0, "n2": 1, "n3": 0}, {}, "n2"),
        ({"n1": 0, "n2": 0, "n3": 0}, {"n1": 17, "n2": 17, "n3": 19}, "n3"),
        ({"n1": 0, "n2": 0, "n3": 0}, {"n1": 17, "n2": 17, "n3": 9}, "n1"),
        ({"n1": 0, "n3": 0}, {"n1": -1, "n3": 4}, "n3"),
    ],
)
def test_the_node_that_is_ahead_begins(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, states: dict[str, int], positions: dict[str, int], begins: str
) -> None:
    group = three(tmp_path)
    for name, safe in states.items():
        (tmp_path / name / "data").mkdir(parents=True)
        (tmp_path / name / "data/grastate.dat").write_text(f"# GALERA saved state\nsafe_to_bootstrap: {safe}\n")
    monkeypatch.setattr(cluster, "_position", lambda node, options: positions[node.name])
    found = group._last_to_stop()
    assert found.name == begins
    if states:
        assert "safe_to_bootstrap: 1" in (found.folder / "data/grastate.dat").read_text()


def balancer(folder: Path) -> Balancer:
    both = [Application(f"application-{nth}", "127.0.0.1", 8000 + nth, {}) for nth in (1, 2)]
    return Balancer(folder, f"127.0.0.1:{free_port()}", both)


def test_the_balancer_asks_each_process_whether_it_is_ready(tmp_path: Path) -> None:
    said = balancer(tmp_path).config.read_text()
    assert "uri /ready" in said
    assert "  server application-1 127.0.0.1:8001\n  server application-2 127.0.0.1:8002" in said


@pytest.mark.skipif(shutil.which("haproxy", path="/usr/sbin:/usr/bin") is None, reason="HAProxy is not installed")
def test_the_balancer_takes_its_configuration(tmp_path: Path) -> None:
    made = balancer(tmp_path)
    done = subprocess.run(["/usr/sbin/haproxy", "-c", "-f", made.config], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def is_there() -> bool:
    """Whether a node can run here: Galera, and the nodes' own user where root starts it."""
    try:
        return PROVIDER.exists() and (os.getuid() != 0 or bool(pwd.getpwnam(cluster.OWN_USER)))
    except KeyError:
        return False


@pytest.fixture
def for_anybody() -> Iterator[Path]:
    """A folder that the nodes' own user comes into."""
    with tempfile.TemporaryDirectory(prefix="ps-node-") as folder:
        Path(folder).chmod(0o711)
        yield Path(folder)


@pytest.mark.skipif(not is_there(), reason="Galera is not installed: tools/system.sh cluster")
def test_a_real_node_says_whether_it_serves(for_anybody: Path) -> None:
    folder = for_anybody
    group = Group("one", [Node("n1", folder / "n1", "127.0.0.1", free_port(), free_port(), durable=False)])
    node = group.nodes[0]
    try:
        group.start()
        given: dict[str, Any] = {
            "host": node.host,
            "port": node.port,
            "user": "plain_shank",
            "passwd": group.password,
        }
        connection = MySQLdb.connect(**given)
        assert why_not(connection) == ""
        node.query("SET GLOBAL wsrep_desync = ON")  # as while it gives another what that missed
        assert why_not(connection) == BEHIND
        node.query("SET GLOBAL wsrep_desync = OFF")
        until = time.monotonic() + 60
        while why_not(connection) and time.monotonic() < until:
            time.sleep(0.1)
        assert why_not(connection) == ""
        node.query("SET GLOBAL wsrep_cluster_address = ''", 60)  # it leaves the group, and its guests
        assert why_not(MySQLdb.connect(**given)) == ALONE
    finally:
        node.kill()


class Silent(Worker):
    """A worker without a server: what it sends fails so often before it is answered."""

    def __init__(self, fails: int) -> None:
        self.asked, self.done, self.titles, self.refusals, self.waits_since = [], Counter(), [], Counter(), None
        self.fails, self.keys = fails, list[str]()

    def send(self, method: str, path: str, body: Any = None, key: str = "", url: str = "") -> Any:
        self.keys.append(key)
        if self.fails:
            self.fails -= 1
            raise ConnectionResetError("gone")
        return {"answer": 7}


def test_what_was_not_answered_is_sent_again_with_its_key(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("tools.cluster.work.PAUSE_S", 0)
    worker = Silent(fails=3)
    assert worker.ask("POST", "/api/jobs", {}) == {"answer": 7}
    assert (len(set(worker.keys)), worker.asked[0].times) == (1, 4)
    assert worker.refusals == {"ConnectionResetError": 3}


def test_the_longest_wait_counts_an_answer_that_has_not_come_yet() -> None:
    """Or nobody who was never answered would have waited at all."""
    worker, now = Silent(fails=0), time.monotonic()
    assert longest_wait([worker], now) == 0.0
    worker.asked = [Asked(now - 9, now - 5, 1), Asked(now - 4, now - 1, 2)]
    assert longest_wait([worker], now - 3) == pytest.approx(2.0)
    worker.waits_since = now - 30
    assert longest_wait([worker], now - 60) == pytest.approx(30.0, abs=5)
    assert 2.0 < longest_wait([worker], now - 3) < 10.0
