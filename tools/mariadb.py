"""A private MariaDB on loopback: own data folder, own socket, a free port, nothing shared.

Used by the start command (data in var/) and by the tests (data in memory).
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import pwd
import secrets
import shutil
import signal
import socket
import stat
import subprocess
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

SQL_MODE = (
    "STRICT_TRANS_TABLES,STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,"
    "ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION"
)
LOG = "log.err"  # the server would add the ending by itself
INSTALLS = 2  # tries at the tables of a new database
LONGEST_SOCKET = 100  # the system allows 108 bytes
SBIN = "/usr/sbin:/usr/bin:/sbin:/bin"  # not all of it is on a normal user's PATH


def tool(name: str) -> str:
    """Where a program of Debian's MariaDB is; ends the program where it is not installed."""
    found = shutil.which(name, path=f"{os.environ.get('PATH', '')}:{SBIN}")
    if found is None:
        raise SystemExit(
            f"{name} is not installed: run make system, or install Debian's mariadb-server-core and mariadb-client."
        )
    return found


def whoever_starts() -> str:
    """The user that this process runs as, by the kernel: what LOGNAME says is another's after ``su``."""
    try:
        return pwd.getpwuid(os.getuid()).pw_name
    except KeyError:
        raise SystemExit(
            f"User {os.getuid()} has no name on this machine: MariaDB cannot know who signs in."
        ) from None


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

    def query(self, sql: str) -> str:
        """Run SQL as the server's own superuser and answer its output, one row a line; raises RuntimeError."""
        done = _client(self, sql)
        if done.returncode:
            raise RuntimeError(f"The private database refused:\n{done.stderr}")
        return done.stdout

    def kill(self) -> None:
        """End it at once, as a power cut would."""
        self.process.kill()
        self.process.wait()

    def revive(self) -> None:
        """Start it again after a kill, with the same socket and password."""
        self.socket.unlink(missing_ok=True)
        again = _launch(self.folder, self.folder / "data", self.for_tests)
        self.process, self.port = again.process, again.port
        with ended_if_it_fails(self):
            _wait(self)

    def is_alive(self) -> bool:
        """Whether the server still runs."""
        return self.process.poll() is None

    def stop(self) -> None:
        """Stop it cleanly."""
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGTERM)
            try:
                self.process.wait(timeout=30)
            except subprocess.TimeoutExpired:
                self.kill()


@contextlib.contextmanager
def ended_if_it_fails(database: Database) -> Iterator[None]:
    """A start that fails, or is ended while it waits, leaves no server running."""
    try:
        yield
    except BaseException:
        database.stop()
        raise


def _as_root() -> list[str]:
    return ["--user=root"] if os.getuid() == 0 else []


def _socket_for(folder: Path) -> Path:
    """Where the socket of a folder is: in it, or, where the path is too long for one, always at the same short place.

    A short place belongs to this user alone; one that does not is not used.
    """
    path = folder / "sock"
    if len(str(path).encode()) < LONGEST_SOCKET:
        return path
    name = hashlib.sha256(str(folder).encode()).hexdigest()[:12]
    short = Path(tempfile.gettempdir()) / f"ps-{os.getuid()}-{name}"
    short.mkdir(mode=0o700, exist_ok=True)
    found = short.lstat()
    if found.st_uid != os.getuid() or not stat.S_ISDIR(found.st_mode) or found.st_mode & 0o077:
        raise SystemExit(f"{short} is not ours alone: remove it, then start again.")
    return short / "sock"


def private(folder: Path) -> Path:
    """A folder that nobody else on this machine can look into, made if it is not there."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    folder.chmod(0o700)
    return folder


def start(folder: Path, *, for_tests: bool = False) -> Database:
    """Start the server of ``folder``, made ready first if it is new; one left running there is ended first."""
    folder = private(folder.resolve())
    end_orphan(folder)
    data = folder / "data"
    made_ready(data)
    private(folder / "tmp")
    database = _launch(folder, data, for_tests)
    with ended_if_it_fails(database):
        _wait(database)
        _grant(database)
    return database


def made_ready(data: Path) -> None:
    """The tables of a new server, where there are none; what was broken off is made anew."""
    if not (data / "mysql").exists():
        if data.exists():
            shutil.rmtree(data)  # an installation that was broken off
        _install(data)


def orphan_of(folder: Path) -> int | None:
    """The process id of a server that runs over this folder without anybody to stop it, if there is one.

    Every process of this user is looked at, since one that was ended early has written no pid file yet; only one
    that was started over this very folder counts.
    """
    ours = (int(path.name) for path in Path("/proc").iterdir() if path.name.isdecimal() and _is_ours(path))
    return next((pid for pid in ours if runs(pid, f"--datadir={folder / 'data'}")), None)


def _is_ours(process: Path) -> bool:
    try:
        return process.stat().st_uid == os.getuid()
    except OSError:
        return False  # it ended meanwhile


def runs(pid: int, argument: str) -> bool:
    """Whether a process is there, is no zombie, and was started with this argument.

    A server that names itself anew (setproctitle) keeps the argument within its title.
    """
    try:
        line = Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace")
    except OSError:
        return False
    return argument in line.split("\0") or f"[{argument}]" in line  # a zombie has no words


def end_orphan(folder: Path) -> bool:
    """End the server that was left running over this folder; True if there was one."""
    pid = orphan_of(folder)
    if pid is None:
        return False
    print("A database that was left running is ended first.")
    end(pid, f"--datadir={folder / 'data'}")
    (folder / "pid").unlink(missing_ok=True)
    _socket_for(folder).unlink(missing_ok=True)
    return True


def end(pid: int, argument: str, seconds: float = 30) -> None:
    """End a process of ours by its id: asked first, made to after a while; a frozen one is woken to hear it."""
    for number, patience in ((signal.SIGTERM, seconds), (signal.SIGKILL, 10)):
        for send in (number, signal.SIGCONT):
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, send)
        until = time.monotonic() + patience
        while time.monotonic() < until:
            if not runs(pid, argument):
                return
            time.sleep(0.05)
    raise SystemExit(f"Process {pid} cannot be ended: end it by hand, then start again.")


def _install(data: Path) -> None:
    making = data.with_name("data.new")
    with tempfile.TemporaryDirectory(prefix="ps-") as short:
        # as root, Debian's script takes a folder with a blank in its name for two: it is shown one without
        link = Path(short) / "folder"
        link.symlink_to(making.parent)
        command = [
            tool("mariadb-install-db"),
            "--no-defaults",
            f"--datadir={link / making.name}",
            "--auth-root-authentication-method=socket",
            f"--auth-root-socket-user={whoever_starts()}",
            "--skip-test-db",
            "--skip-name-resolve",
            *_as_root(),
        ]
        for _ in range(INSTALLS):  # it was seen to fail once though nothing was wrong
            if making.exists():
                shutil.rmtree(making)
            done = subprocess.run(command, capture_output=True, text=True, check=False)
            if not done.returncode:
                making.rename(data)
                return
    shutil.rmtree(making, ignore_errors=True)
    raise SystemExit(f"The database could not be made ready:\n{done.stdout}{done.stderr}")


def _launch(folder: Path, data: Path, for_tests: bool) -> Database:
    port, path = free_port(), _socket_for(folder)
    command = [
        tool("mariadbd"),
        "--no-defaults",
        *_as_root(),
        f"--datadir={data}",
        f"--socket={path}",
        f"--pid-file={folder / 'pid'}",
        f"--tmpdir={folder / 'tmp'}",
        f"--log-error={folder / LOG}",
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
    command = [tool("mariadb"), "--no-defaults", f"--socket={database.socket}", f"--user={whoever_starts()}"]
    # through standard input: a command line can be read by everybody on the machine
    return subprocess.run(
        [*command, "--batch", "--skip-column-names"], input=sql, capture_output=True, text=True, check=False
    )


def _wait(database: Database, seconds: float = 180) -> None:
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if database.process.poll() is not None:
            break
        if database.socket.exists() and _client(database, "SELECT 1").returncode == 0:
            return
        time.sleep(0.1)
    log = database.folder / LOG
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
