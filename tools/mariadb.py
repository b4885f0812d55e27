"""A private MariaDB on loopback: own data folder, own socket, a free port, nothing shared.

Used by the start command (data in var/) and by the tests (data in memory).
"""

from __future__ import annotations

import getpass
import os
import secrets
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

SQL_MODE = (
    "STRICT_TRANS_TABLES,STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,"
    "ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION"
)
LONGEST_SOCKET = 100  # the system allows 108 bytes
SBIN = "/usr/sbin:/usr/bin:/sbin:/bin"  # not all of it is on a normal user's PATH


def _tool(name: str) -> str:
    found = shutil.which(name, path=f"{os.environ.get('PATH', '')}:{SBIN}")
    if found is None:
        raise SystemExit(f"{name} is not installed: run make system, or install Debian's mariadb-server.")
    return found


def free_port() -> int:
    """A port on loopback that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass
class Database:
    """A running private server."""

    folder: Path
    socket: Path
    port: int
    process: subprocess.Popen[bytes]
    password: str
    for_tests: bool = False

    def environment(self) -> dict[str, str]:
        """What the settings need to reach it."""
        return {"PLAIN_SHANK_DB_SOCKET": str(self.socket), "PLAIN_SHANK_DB_PASSWORD": self.password}

    def kill(self) -> None:
        """End it at once, as a power cut would."""
        self.process.kill()
        self.process.wait()

    def revive(self) -> None:
        """Start it again after a kill, with the same socket and password."""
        self.socket.unlink(missing_ok=True)
        self.process = _launch(self.folder, self.folder / "data", self.for_tests).process
        _wait(self)

    def stop(self) -> None:
        """Stop it cleanly."""
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGTERM)
            self.process.wait(timeout=30)


def _as_root() -> list[str]:
    return ["--user=root"] if os.getuid() == 0 else []


def _socket_for(folder: Path) -> Path:
    path = folder / "sock"
    if len(str(path).encode()) < LONGEST_SOCKET:
        return path
    short = Path(tempfile.gettempdir()) / f"ps-{os.getuid()}-{abs(hash(str(folder))) % 10**8:08d}"
    short.mkdir(mode=0o700, exist_ok=True)
    return short / "sock"


def start(folder: Path, *, for_tests: bool = False) -> Database:
    """Start the server of ``folder``, made ready first if it is new."""
    folder = folder.resolve()
    data = folder / "data"
    new = not (data / "mysql").exists()
    if new:
        if data.exists():
            shutil.rmtree(data)  # an installation that was broken off
        folder.mkdir(parents=True, exist_ok=True)
        _install(data)
    (folder / "tmp").mkdir(exist_ok=True)
    database = _launch(folder, data, for_tests)
    _wait(database)
    _grant(database)
    return database


def _install(data: Path) -> None:
    making = data.with_name("data.new")
    if making.exists():
        shutil.rmtree(making)
    command = [
        _tool("mariadb-install-db"),
        "--no-defaults",
        f"--datadir={making}",
        "--auth-root-authentication-method=socket",
        f"--auth-root-socket-user={getpass.getuser()}",
        "--skip-test-db",
        "--skip-name-resolve",
        *_as_root(),
    ]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"The database could not be made ready:\n{done.stdout}{done.stderr}")
    making.rename(data)


def _launch(folder: Path, data: Path, for_tests: bool) -> Database:
    port, path = free_port(), _socket_for(folder)
    command = [
        _tool("mariadbd"),
        "--no-defaults",
        *_as_root(),
        f"--datadir={data}",
        f"--socket={path}",
        f"--pid-file={folder / 'pid'}",
        f"--tmpdir={folder / 'tmp'}",
        f"--log-error={folder / 'log'}",
        "--bind-address=127.0.0.1",
        f"--port={port}",
        "--skip-name-resolve",
        "--skip-log-bin",
        "--character-set-server=utf8mb4",
        "--collation-server=utf8mb4_unicode_520_ci",
        f"--sql-mode={SQL_MODE}",
        "--transaction-isolation=READ-COMMITTED",
        "--performance-schema=OFF",
    ]
    if for_tests:
        command += ["--innodb-flush-log-at-trx-commit=0", "--innodb-doublewrite=0"]
    # a session of its own, so that Ctrl-C reaches the start command first and it stops things in order
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)
    return Database(folder, path, port, process, secrets.token_hex(24), for_tests)


def _client(database: Database, sql: str) -> subprocess.CompletedProcess[str]:
    command = [
        _tool("mariadb"),
        "--no-defaults",
        f"--socket={database.socket}",
        f"--user={getpass.getuser()}",
    ]
    if os.getuid() != 0:
        command[-1] = "--user=root"
    return subprocess.run([*command, "--execute", sql], capture_output=True, text=True, check=False)


def _wait(database: Database, seconds: float = 60) -> None:
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if database.process.poll() is not None:
            break
        if database.socket.exists() and _client(database, "SELECT 1").returncode == 0:
            return
        time.sleep(0.1)
    log = database.folder / "log"
    tail = log.read_text(errors="replace")[-2000:] if log.exists() else ""
    raise SystemExit(f"The private database did not start; its log says:\n{tail}")


def _grant(database: Database) -> None:
    """The application's user, on its database and its tests' only, with a password made here."""
    done = _client(
        database,
        "CREATE DATABASE IF NOT EXISTS plain_shank;"
        "CREATE USER IF NOT EXISTS plain_shank@localhost;"
        f"ALTER USER plain_shank@localhost IDENTIFIED BY '{database.password}';"
        "GRANT ALL ON plain_shank.* TO plain_shank@localhost;"
        r"GRANT ALL ON `test\_plain\_shank%`.* TO plain_shank@localhost;",
    )
    if done.returncode:
        raise SystemExit(f"The application's database user could not be made:\n{done.stderr}")
