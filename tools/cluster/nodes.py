"""A group of MariaDB nodes (Galera 4, as Debian brings it): started, looked at, stopped; nothing of it is Debian's.

Each node has a folder that belongs to the nodes' own user (``mysql`` where root starts them: the state transfer's
receiver gives root's rights up; otherwise whoever starts them). A node that comes back is given what it missed by the
one that is asked last, never by the one that serves.
"""

from __future__ import annotations

import contextlib
import os
import pwd
import re
import secrets
import shutil
import signal
import subprocess
import time
from dataclasses import dataclass, field
from pathlib import Path

from tools.mariadb import SQL_MODE, tool

PROVIDER = Path("/usr/lib/galera/libgalera_smm.so")
OWN_USER = "mysql"
#: When the group takes a node for lost, as Galera's own settings say it: how often each is heard of, how long silence
#: is suspect, after how long it is out whatever the others think, how often that is looked at, how long they agree.
#: The shortest that a busy machine of two cores bears; with Galera's own (5 s, 15 s) a frozen node stalls every
#: commit of the others for 5 to 6.5 s.
TIMES = {
    "evs.keepalive_period": "PT0.5S",
    "evs.suspect_timeout": "PT2S",
    "evs.inactive_timeout": "PT4S",
    "evs.inactive_check_period": "PT0.25S",
    "evs.install_timeout": "PT4S",
    "gmcast.peer_timeout": "PT2S",
}
SYNCED, READY_S = "Synced", 120.0


def own_user() -> str:
    """The user that the nodes run as."""
    return OWN_USER if os.getuid() == 0 else pwd.getpwuid(os.getuid()).pw_name


@dataclass
class Node:
    """One node: where it keeps its data, where it is reached, and in which network it runs (``within``)."""

    name: str
    folder: Path
    host: str
    port: int
    group_port: int
    within: tuple[str, ...] = ()
    durable: bool = True
    process: subprocess.Popen[bytes] | None = field(default=None, repr=False)

    @property
    def address(self) -> str:
        """Where the application reaches it."""
        return f"{self.host}:{self.port}"

    @property
    def socket(self) -> Path:
        """Its door for whoever keeps it."""
        return self.folder / "sock"

    def query(self, sql: str, seconds: float = 20) -> str:
        """Run SQL as its own superuser, one row a line; raises RuntimeError."""
        command = [*_as_command(), tool("mariadb"), "--no-defaults", f"--socket={self.socket}",
                   f"--user={own_user()}", "--connect-timeout=5", "--batch", "--skip-column-names"]  # fmt: skip
        try:
            done = subprocess.run(command, input=sql, capture_output=True, text=True, check=False, timeout=seconds)
        except subprocess.TimeoutExpired:
            raise RuntimeError(f"{self.name} does not answer") from None
        if done.returncode:
            raise RuntimeError(f"{self.name} refused: {done.stderr.strip()[:300]}")
        return done.stdout

    def status(self, name: str) -> str:
        """One word of its status; empty where it does not answer."""
        with contextlib.suppress(RuntimeError):
            return self.query(f"SHOW GLOBAL STATUS LIKE '{name}'", 5).partition("\t")[2].strip()
        return ""

    def is_synced(self) -> bool:
        """Whether it has caught up with the others."""
        return self.status("wsrep_local_state_comment") == SYNCED

    def signal(self, number: int) -> None:
        """Send its server a signal."""
        if self.process is not None and self.process.poll() is None:
            self.process.send_signal(number)

    def kill(self) -> None:
        """End it at once, as a power cut would, with all that it started."""
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()

    def stop(self) -> None:
        """Stop it cleanly: it leaves the group."""
        if self.process is None or self.process.poll() is not None:
            return
        self.signal(signal.SIGTERM)
        try:
            self.process.wait(timeout=60)
        except subprocess.TimeoutExpired:
            self.kill()

    def said(self) -> str:
        """The end of its log."""
        log = self.folder / "log.err"
        return log.read_text(errors="replace")[-3000:] if log.exists() else ""


class Group:
    """Three nodes, in the order in which the application prefers them."""

    def __init__(self, name: str, nodes: list[Node]) -> None:
        self.name, self.nodes, self.password = name, nodes, secrets.token_hex(24)

    @property
    def addresses(self) -> str:
        """What PLAIN_SHANK_DB_HOST says."""
        return ",".join(node.address for node in self.nodes)

    def start(self) -> None:
        """Start all of it: the node that stopped last first, the others after it; raises SystemExit."""
        if not PROVIDER.exists():
            raise SystemExit("Galera is not installed: run tools/system.sh cluster.")
        first = self._last_to_stop()
        self.launch(first, begins=True)
        self.wait(first)
        for node in self.nodes:
            if node is not first:
                self.launch(node)
                self.wait(node)
        self._grant(first)

    def launch(self, node: Node, *, begins: bool = False) -> None:
        """Start one node; ``begins`` a group, where there is none."""
        _own_folder(node.folder)
        _own_folder(node.folder / "tmp")
        if begins and not (node.folder / "data" / "mysql").exists():
            _installed(node)
        _own_folder(node.folder / "data")
        node.socket.unlink(missing_ok=True)
        command = [*node.within, *_as_command(), tool("mariadbd"), *self.options(node)]
        command += ["--wsrep-new-cluster"] if begins else []
        quiet = subprocess.DEVNULL
        node.process = subprocess.Popen(command, stdout=quiet, stderr=quiet, start_new_session=True)

    def options(self, node: Node) -> list[str]:
        """The options of a node's server."""
        others = [one.name for one in reversed(self.nodes) if one is not node]
        provider = {
            "gmcast.listen_addr": f"tcp://{node.host}:{node.group_port}",
            "ist.recv_addr": f"{node.host}:{node.group_port + 1}",
            "gcache.size": "128M",
            **TIMES,
        }
        options = [
            "--no-defaults",
            f"--datadir={node.folder / 'data'}",
            f"--socket={node.socket}",
            f"--pid-file={node.folder / 'pid'}",
            f"--tmpdir={node.folder / 'tmp'}",
            f"--log-error={node.folder / 'log.err'}",
            f"--bind-address={node.host}",
            f"--port={node.port}",
            "--skip-name-resolve",
            "--skip-log-bin",
            "--binlog-format=ROW",
            "--binlog-annotate-row-events=OFF",  # each statement would be sent along in words, photographs twice
            "--innodb-autoinc-lock-mode=2",
            "--character-set-server=utf8mb4",
            "--collation-server=utf8mb4_unicode_520_ci",
            f"--sql-mode={SQL_MODE}",
            "--transaction-isolation=READ-COMMITTED",
            "--performance-schema=OFF",
            "--max-allowed-packet=64M",
            "--wsrep-on=ON",
            f"--wsrep-provider={PROVIDER}",
            f"--wsrep-cluster-name={self.name}",
            f"--wsrep-cluster-address=gcomm://{','.join(f'{one.host}:{one.group_port}' for one in self.nodes)}",
            f"--wsrep-node-name={node.name}",
            f"--wsrep-node-address={node.host}:{node.group_port}",
            f"--wsrep-node-incoming-address={node.address}",
            "--wsrep-sst-method=rsync",
            f"--wsrep-sst-receive-address={node.host}:{node.group_port + 2}",
            f"--wsrep-provider-options={';'.join(f'{key}={value}' for key, value in provider.items())}",
        ]
        if others:  # the one that is asked last; any other where it is away
            options.append(f"--wsrep-sst-donor={others[0]},")
        return options if node.durable else [*options, "--innodb-flush-log-at-trx-commit=0"]

    def wait(self, node: Node, seconds: float = READY_S) -> None:
        """Wait until a node has caught up; raises SystemExit with its log."""
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            if node.process is None or node.process.poll() is not None:
                break
            if node.socket.exists() and node.is_synced():
                return
            time.sleep(0.1)
        raise SystemExit(f"{node.name} did not join the group; its log says:\n{node.said()}")

    def whole(self, seconds: float = READY_S) -> None:
        """Wait until every node has caught up and sees all the others; raises SystemExit.

        One that was frozen says for a moment that it has caught up: what the others see of it decides.
        """
        until = time.monotonic() + seconds
        for node in self.nodes:
            while node.status("wsrep_cluster_size") != str(len(self.nodes)) and time.monotonic() < until:
                time.sleep(0.2)
        for node in self.nodes:
            self.wait(node, max(1.0, until - time.monotonic()))

    def stop(self) -> None:
        """Stop all of it, the preferred node last, which begins the next time."""
        for node in reversed(self.nodes):
            node.signal(signal.SIGCONT)
            node.stop()

    def _last_to_stop(self) -> Node:
        """The node that has everything: it stopped last, or is ahead of the others where all were ended at once."""
        there = [node for node in self.nodes if (node.folder / "data" / "grastate.dat").exists()]
        if not there:
            return self.nodes[0]
        safe = [node for node in there if re.search(r"safe_to_bootstrap:\s*1", _state(node).read_text())]
        if safe:
            return safe[0]
        found = max(there, key=lambda node: (_position(node, self.options(node)), -self.nodes.index(node)))
        state = _state(found)
        state.write_text(re.sub(r"safe_to_bootstrap:\s*0", "safe_to_bootstrap: 1", state.read_text()))
        return found

    def _grant(self, node: Node) -> None:
        node.query(
            "CREATE DATABASE IF NOT EXISTS plain_shank;"
            f"CREATE OR REPLACE USER plain_shank@'%' IDENTIFIED BY '{self.password}';"
            "GRANT ALL ON plain_shank.* TO plain_shank@'%';"
            r"GRANT ALL ON `load\_%`.* TO plain_shank@'%';"
        )


def _state(node: Node) -> Path:
    return node.folder / "data" / "grastate.dat"


def _position(node: Node, options: list[str]) -> int:
    """How far a node that was ended came, as it finds out itself."""
    log = node.folder / "recovered.err"
    kept = [one for one in options if not one.startswith(("--log-error", "--wsrep-cluster-address"))]
    command = [*_as_command(), tool("mariadbd"), *kept, f"--log-error={log}", "--wsrep-recover"]
    subprocess.run(command, capture_output=True, check=False, timeout=READY_S)
    found = re.findall(r"Recovered position: [0-9a-f-]+:(-?\d+)", log.read_text() if log.exists() else "")
    return int(found[-1]) if found else -1


def _as_command() -> list[str]:
    """What runs a command as the nodes' own user."""
    return ["setpriv", f"--reuid={OWN_USER}", f"--regid={OWN_USER}", "--init-groups"] if os.getuid() == 0 else []


def _own_folder(folder: Path) -> None:
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    folder.chmod(0o700)
    if os.getuid() == 0:
        shutil.chown(folder, OWN_USER, OWN_USER)


def _installed(node: Node) -> None:
    command = [
        tool("mariadb-install-db"), "--no-defaults", f"--datadir={node.folder / 'data'}",
        "--auth-root-authentication-method=socket", f"--auth-root-socket-user={own_user()}",
        "--skip-test-db", "--skip-name-resolve",
    ]  # fmt: skip
    done = subprocess.run([*_as_command(), *command], capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"The first node could not be made ready:\n{done.stdout}{done.stderr}")
