"""The start command: a private database, the demo workshop, the application; Ctrl-C stops all of it."""

from __future__ import annotations

import argparse
import contextlib
import fcntl
import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from types import FrameType

from tools.mariadb import Database, end, end_orphan, free_port, private, runs, start

ROOT = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("PLAIN_SHANK_VAR") or ROOT / "var")
APPLICATION = "workshop.wsgi:application"
FEED = "demo.price_feed"


def secret(name: str) -> str:
    """A secret of this machine, made once and kept outside the repository."""
    path = private(VAR) / name
    if not path.exists() or not path.read_text().strip():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(9 if name.endswith("password") else 48))
    return path.read_text().strip()


def is_taken(port: int) -> bool:
    """Whether somebody listens on a loopback port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return True
    return False


def choose_port(wanted: int) -> int:
    """The wanted port, or the next free one, said aloud."""
    for port in range(wanted, wanted + 50):
        if not is_taken(port):
            if port != wanted:
                print(f"Port {wanted} is taken; using {port}.")
            return port
    raise SystemExit(f"Ports {wanted} to {wanted + 49} are all taken: choose one with make demo PORT=...")


def run(environment: dict[str, str], *arguments: str) -> None:
    """Run one of our own Python commands, showing its words only if it fails."""
    done = subprocess.run(
        [sys.executable, *arguments], cwd=ROOT, env=environment, capture_output=True, text=True, check=False
    )
    if done.returncode:
        raise SystemExit(f"{' '.join(arguments)} failed:\n{done.stdout}{done.stderr}")


def application(database: Database, *, demo: bool = True, **more: str) -> dict[str, str]:
    """The environment of the application over this database."""
    environment = {**os.environ, **database.environment(), "PLAIN_SHANK_SECRET_KEY": secret("secret-key")}
    environment.setdefault("PLAIN_SHANK_STATIC_ROOT", str(VAR / "static"))
    environment.pop("PLAIN_SHANK_DB_TIMEOUT", None)
    if demo:
        environment["PLAIN_SHANK_DEMO"] = f"wren:{secret('demo-password')}"
    return {**environment, **more}


def serve(environment: dict[str, str], port: int, pid: Path | None = None) -> subprocess.Popen[bytes]:
    """Start gunicorn on a loopback port; its process id goes into the file ``pid``."""
    command = [
        sys.executable, "-m", "gunicorn", APPLICATION,
        "--bind", f"127.0.0.1:{port}", "--workers", "2", "--threads", "4", "--log-level", "warning",
        "--worker-tmp-dir", str(VAR),
        "--no-control-socket",
        "--preload",  # its Python is read once, not by each worker
        *(("--pid", str(pid)) if pid else ()),
    ]  # fmt: skip
    return subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True)


def price_feed(port: int) -> subprocess.Popen[bytes]:
    """Start the made-up feed of metal prices on a loopback port; its process id goes into ``feed.pid``."""
    command = [sys.executable, "-m", FEED, "--port", str(port)]
    feed = subprocess.Popen(command, cwd=ROOT, start_new_session=True)
    (VAR / "feed.pid").write_text(str(feed.pid))
    return feed


def wait_for(port: int, server: subprocess.Popen[bytes], seconds: float = 180) -> None:
    """Wait until the application answers."""
    until = time.monotonic() + seconds
    while time.monotonic() < until and server.poll() is None:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/health", timeout=10):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    raise SystemExit("The application did not start.")


def stop(server: subprocess.Popen[bytes] | None) -> None:
    """Stop gunicorn cleanly."""
    if server is not None and server.poll() is None:
        server.send_signal(signal.SIGTERM)
        try:
            server.wait(timeout=15)
        except subprocess.TimeoutExpired:
            server.kill()


def prepare(environment: dict[str, str], *, small: bool = False) -> None:
    """Bring the database to this version, gather the front end, load the demo (``small``: the tests' part of it)."""
    run({**environment, "PLAIN_SHANK_DB_TIMEOUT": "3600"}, "-m", "demo.load", *(["--small"] if small else []))


class Stopped(Exception):
    """Somebody asked to stop."""


def _stopping(number: int, frame: FrameType | None) -> None:
    raise Stopped


@contextlib.contextmanager
def alone() -> Iterator[None]:
    """Hold the demo's lock: the system lets go of it when this process ends, however it ends."""
    with (private(VAR) / "demo.lock").open("a+") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise SystemExit("The demo runs already: stop it with Ctrl-C first.") from None
        yield


def end_orphans() -> None:
    """End what an earlier demo left running when it was killed: its application first, then its database."""
    for name, command, what in (("application", APPLICATION, "An application"), ("feed", FEED, "A feed of prices")):
        pid_file = VAR / f"{name}.pid"
        with contextlib.suppress(OSError, ValueError):
            pid = int(pid_file.read_text().strip())
            if runs(pid, command) and Path(f"/proc/{pid}/cwd").resolve() == ROOT:
                print(f"{what} that was left running is ended first.")
                end(pid, command)
        pid_file.unlink(missing_ok=True)
    end_orphan(VAR / "db")


def watch(server: subprocess.Popen[bytes], database: Database) -> int:
    """Wait until the application ends; a database that died alone is started again under it."""
    while True:
        try:
            return server.wait(timeout=1)
        except subprocess.TimeoutExpired:
            if not database.is_alive():
                print("The database died; it is started again.", flush=True)
                database.revive()


def demo(port: int, *, small: bool = False) -> int:
    """Run the demo until Ctrl-C; ``small``: the part of it that the tests stand on."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, _stopping)
    database: Database | None = None
    server: subprocess.Popen[bytes] | None = None
    feed: subprocess.Popen[bytes] | None = None
    try:
        end_orphans()
        port = choose_port(port)
        database = start(VAR / "db")
        feed_port = free_port()
        feed = price_feed(feed_port)
        environment = application(database, PLAIN_SHANK_PRICE_FEED=f"http://127.0.0.1:{feed_port}/prices")
        prepare(environment, small=small)
        server = serve(environment, port, VAR / "application.pid")
        wait_for(port, server)
        run(environment, "manage.py", "read_prices")
        print(
            f"\n  Plain Shank is at  http://127.0.0.1:{port}\n  The sign-in page says how. Ctrl-C stops it.\n",
            flush=True,
        )
        return watch(server, database)
    except Stopped:
        print("\nStopping.")
        return 0
    finally:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        stop(server)
        stop(feed)
        (VAR / "feed.pid").unlink(missing_ok=True)
        if database is not None:
            database.stop()


def main() -> int:
    """Read the arguments and run, or forget the demo's data."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8420)
    parser.add_argument("--reset", action="store_true")
    parser.add_argument("--small", action="store_true", help="the part of the demo that the tests stand on")
    chosen = parser.parse_args()
    if chosen.reset:
        with alone():
            end_orphans()
            shutil.rmtree(VAR / "db", ignore_errors=True)
            (VAR / "demo-password").unlink(missing_ok=True)
        print("The demo's data is gone; make demo starts afresh.")
        return 0
    if not 1024 <= chosen.port <= 65_000:
        raise SystemExit("Choose a port between 1024 and 65000.")
    with alone():
        return demo(chosen.port, small=chosen.small)


if __name__ == "__main__":
    raise SystemExit(main())
