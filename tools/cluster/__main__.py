"""``make cluster``: three nodes, two processes of the application, a balancer, the demo on it; Ctrl-C stops it all.

What dies is started again and caught up, as systemd would: kill a node or a process by its number and go on working.
"""

from __future__ import annotations

import argparse
import contextlib
import hashlib
import os
import shutil
import signal
import time
from pathlib import Path

from tools import demo
from tools.cluster.nodes import Group, Node
from tools.cluster.serving import APPLICATION, Application, Balancer, until_ready
from tools.mariadb import end, free_port, private, runs

AT_ROOT = Path("/var/lib/plain-shank-cluster")
NAMES = ("application-1", "application-2")


def folder() -> Path:
    """Where the nodes keep everything: a place of this clone's own, as its demo's password is."""
    if os.getuid() != 0:
        return demo.VAR / "cluster"
    return AT_ROOT / hashlib.sha256(demo.secret("cluster").encode()).hexdigest()[:12]


def group_on_loopback() -> Group:
    """Three nodes on this machine, at ports that nobody listens on."""
    ports = [free_port() for _ in range(3)]
    nodes = []
    for nth, port in enumerate(ports, 1):
        nodes.append(Node(f"node-{nth}", folder() / f"node-{nth}", "127.0.0.1", port, _three_free_ports()))
    return Group("plain-shank", nodes)


def _three_free_ports() -> int:
    """The first of three ports that nobody listens on: for the group, and for what it transfers."""
    while True:
        first = free_port()
        if first < 65_000 and not any(demo.is_taken(first + more) for more in range(3)):
            return first


def end_orphans(group: Group) -> None:
    """End what an earlier run left running when it was killed: what serves first, then the nodes."""
    for name, argument in (*((name, APPLICATION) for name in NAMES), ("haproxy", str(demo.VAR / "haproxy.cfg"))):
        pid_file = demo.VAR / f"{name}.pid"
        with contextlib.suppress(OSError, ValueError):
            pid = int(pid_file.read_text().strip())
            if runs(pid, argument) and Path(f"/proc/{pid}/cwd").resolve() == demo.ROOT:
                print(f"{name} was left running; it is ended first.")
                end(pid, argument)
        pid_file.unlink(missing_ok=True)
    for node in group.nodes:
        data = f"--datadir={node.folder / 'data'}"
        for path in Path("/proc").iterdir():
            if path.name.isdecimal() and int(path.name) != os.getpid() and runs(int(path.name), data):
                print(f"{node.name} was left running; it is ended first.")
                end(int(path.name), data)


def environment(group: Group, **more: str) -> dict[str, str]:
    """What the application has to know to run over the group."""
    return {
        **os.environ,
        "PLAIN_SHANK_SECRET_KEY": demo.secret("secret-key"),
        "PLAIN_SHANK_DEMO": f"wren:{demo.secret('demo-password')}",
        "PLAIN_SHANK_STATIC_ROOT": str(demo.VAR / "static"),
        "PLAIN_SHANK_DB_HOST": group.addresses,
        "PLAIN_SHANK_DB_PASSWORD": group.password,
        "PLAIN_SHANK_PROXY_ADDRESSES": "127.0.0.1",
        **more,
    }


def watch(group: Group, applications: list[Application], balancer: Balancer) -> None:
    """Start again what died, until somebody stops it."""
    while True:
        time.sleep(1)
        for node in group.nodes:
            if node.process is not None and node.process.poll() is not None:
                print(f"{node.name} died; it is started again and given what it missed.", flush=True)
                group.launch(node)
        for one in applications:
            if not one.is_alive():
                print(f"{one.name} died; it is started again.", flush=True)
                one.start()
        if not balancer.is_alive():
            balancer.start()


def cluster(port: int) -> int:
    """Run it until Ctrl-C."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, demo._stopping)
    private(demo.VAR)
    group = group_on_loopback()
    applications: list[Application] = []
    balancer: Balancer | None = None
    try:
        end_orphans(group)
        port = demo.choose_port(port)
        print("Three nodes are started, one after the other.", flush=True)
        group.start()
        own = environment(group)
        demo.prepare(own)
        applications = [Application(name, "127.0.0.1", free_port(), own) for name in NAMES]
        for one in applications:
            one.log, one.pid = demo.VAR / f"{one.name}.log", demo.VAR / f"{one.name}.pid"
            one.start()
        until_ready(applications)
        balancer = Balancer(demo.VAR, f"127.0.0.1:{port}", applications)
        balancer.start()
        print(f"\n  Plain Shank is at  http://127.0.0.1:{port}\n")
        for name, at, process in [
            *((node.name, node.address, node.process) for node in group.nodes),
            *((one.name, one.address, one.process) for one in applications),
        ]:
            print(f"  {name:14} {at:18} process {process.pid if process else ''}")
        print("\n  Kill one of them and go on. The sign-in page says how; Ctrl-C stops all of it.\n", flush=True)
        watch(group, applications, balancer)
        return 0
    except demo.Stopped:
        print("\nStopping.")
        return 0
    finally:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        if balancer is not None:
            balancer.stop()
        for one in applications:
            one.stop()
        group.stop()


def main() -> int:
    """Read the arguments and run, or forget the records."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--reset", action="store_true")
    chosen = parser.parse_args()
    with demo.alone():
        if not chosen.reset:
            return cluster(chosen.port)
        end_orphans(group_on_loopback())
        with contextlib.suppress(FileNotFoundError):
            shutil.rmtree(folder())
        print("The cluster's records are gone.")
        return 0


if __name__ == "__main__":
    raise SystemExit(main())
