"""The database of a shop's own: its private server, and what is asked of whichever server the settings name.

No password stands on a command line: a file that only this user can read says it to Debian's clients.
"""

from __future__ import annotations

import contextlib
import os
import re
import socket
import subprocess
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from tools.mariadb import LOG, SQL_MODE, made_ready, private, tool, whoever_starts
from tools.shop.places import OWN_DATABASE, PREFIX, Places, ShopError
from workshop.environment import hosts_and_ports

NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]{0,50}")
PACKET = "--max-allowed-packet=256M"


def data_folder(places: Places) -> Path:
    """Where the private server keeps everything."""
    return places.data / "database"


def private_command(places: Places, settings: dict[str, str]) -> list[str]:
    """The command that is the private server, durable at every commit; its tables are made ready first."""
    folder = private(data_folder(places))
    made_ready(folder / "data")
    private(folder / "tmp")
    return [
        tool("mariadbd"),
        "--no-defaults",
        *(["--user=root"] if os.getuid() == 0 else []),
        f"--datadir={folder / 'data'}",
        f"--socket={settings[PREFIX + 'DB_SOCKET']}",
        f"--pid-file={folder / 'pid'}",
        f"--tmpdir={folder / 'tmp'}",
        f"--log-error={folder / LOG}",
        "--skip-networking",
        "--skip-log-bin",
        "--character-set-server=utf8mb4",
        "--collation-server=utf8mb4_unicode_520_ci",
        f"--sql-mode={SQL_MODE}",
        "--transaction-isolation=READ-COMMITTED",
        "--innodb-flush-log-at-trx-commit=1",
        PACKET,
    ]


def grant(settings: dict[str, str], seconds: float = 120) -> None:
    """The application's user on the private server, with the password of the settings, on our databases alone.

    Asked as the server's own superuser, who is the system user that runs it. Waits until the server is up.
    """
    name, password = settings[PREFIX + "DB_NAME"], settings[PREFIX + "DB_PASSWORD"]
    if not NAME.fullmatch(name) or not re.fullmatch(r"[A-Za-z0-9_-]{20,}", password):
        raise ShopError("The database's name or password in the settings is not one that the install made.")
    sql = (
        f"CREATE DATABASE IF NOT EXISTS {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;"
        "CREATE USER IF NOT EXISTS plain_shank@localhost;"
        f"ALTER USER plain_shank@localhost IDENTIFIED BY '{password}';"
        r"GRANT ALL ON `plain\_shank%`.* TO plain_shank@localhost;"
    )
    login = ["--no-defaults", f"--socket={settings[PREFIX + 'DB_SOCKET']}", f"--user={whoever_starts()}"]
    until = time.monotonic() + seconds
    while True:
        done = subprocess.run([tool("mariadb"), *login], input=sql, capture_output=True, text=True, check=False)
        if not done.returncode:
            return
        if time.monotonic() > until:
            raise ShopError(f"The application's database user could not be made: {done.stderr.strip()}")
        time.sleep(0.2)


@dataclass(frozen=True)
class Server:
    """A database server as the settings name it."""

    settings: dict[str, str]

    @property
    def name(self) -> str:
        """The database that is in use."""
        return self.settings.get(PREFIX + "DB_NAME") or "plain_shank"

    @property
    def is_private(self) -> bool:
        """Whether it is the one that came with the installation."""
        return self.settings.get(PREFIX + OWN_DATABASE) == "1"

    @contextlib.contextmanager
    def _login(self) -> Iterator[str]:
        """The option that says who we are, by a file that only this user can read."""
        names = ("USER", "PASSWORD", "SOCKET", "HOST", "PORT")
        get = {name: self.settings.get(f"{PREFIX}DB_{name}", "") for name in names}
        with tempfile.NamedTemporaryFile("w", prefix="ps-login-", encoding="utf8") as file:
            quoted = get["PASSWORD"].replace("\\", "\\\\").replace('"', '\\"')
            file.write(f'[client]\nuser="{get["USER"] or "plain_shank"}"\npassword="{quoted}"\n')
            if get["SOCKET"]:
                file.write(f'socket="{get["SOCKET"]}"\n')
            else:
                host, port = self._address()
                file.write(f'host="{host}"\nport={port}\n')
            file.flush()
            yield f"--defaults-file={file.name}"

    def _address(self) -> tuple[str, int]:
        """Where it is; of several nodes the first that can be reached."""
        said = [part.strip() for part in self.settings.get(PREFIX + "DB_HOST", "").split(",") if part.strip()]
        port = int(self.settings.get(PREFIX + "DB_PORT") or 3306)
        try:
            there = hosts_and_ports(said or ["127.0.0.1"], port)
        except ValueError as problem:
            raise ShopError(f"{PREFIX}DB_HOST: {problem}") from None
        for host, number in there[:-1]:
            with contextlib.suppress(OSError), socket.create_connection((host, number), timeout=2):
                return host, number
        return there[-1]

    def ask(self, sql: str, database: str = "") -> str:
        """Run SQL, its rows one a line; raises ShopError with what the server said."""
        with self._login() as login:
            command = [tool("mariadb"), login, "--batch", "--skip-column-names", *([database] if database else [])]
            done = subprocess.run(command, input=sql, capture_output=True, text=True, check=False)
        if done.returncode:
            raise ShopError(f"The database refused: {done.stderr.strip()[:400]}")
        return done.stdout

    @contextlib.contextmanager
    def dump(self) -> Iterator[IO[bytes]]:
        """What is in the database at one moment, as SQL, one row a line; raises ShopError where it breaks off."""
        with self._login() as login, tempfile.TemporaryFile() as words:
            command = [
                tool("mariadb-dump"), login, "--single-transaction", "--quick", "--skip-lock-tables",
                "--skip-add-locks", "--skip-disable-keys", "--hex-blob", "--skip-extended-insert", "--no-autocommit",
                "--skip-comments", "--no-tablespaces", "--default-character-set=utf8mb4", PACKET, self.name,
            ]  # fmt: skip
            process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=words)
            assert process.stdout is not None
            try:
                yield process.stdout
            except BaseException:
                process.kill()
                raise
            finally:
                process.stdout.close()
                process.wait()
            if process.returncode:
                words.seek(0)
                raise ShopError(f"The dump broke off: {words.read().decode(errors='replace').strip()[:400]}")

    def load(self, database: str, pieces: Iterator[bytes]) -> None:
        """Load SQL into a database that is there; raises ShopError where the server refuses."""
        with self._login() as login, tempfile.TemporaryFile() as words:
            command = [tool("mariadb"), login, PACKET, "--default-character-set=utf8mb4", database]
            process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=words)
            assert process.stdin is not None
            with contextlib.suppress(BrokenPipeError):  # what the server said against it is read below
                for piece in pieces:
                    process.stdin.write(piece)
            with contextlib.suppress(BrokenPipeError):
                process.stdin.close()
            process.wait()
            if process.returncode:
                words.seek(0)
                raise ShopError(f"It could not be loaded: {words.read().decode(errors='replace').strip()[:400]}")

    def make(self, database: str) -> None:
        """A new empty database."""
        if not NAME.fullmatch(database):
            raise ShopError(f"{database} is no name for a database.")
        self.ask(f"CREATE DATABASE {database} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci")

    def drop(self, database: str) -> None:
        """Drop a database of ours."""
        if NAME.fullmatch(database):
            self.ask(f"DROP DATABASE IF EXISTS {database}")

    def rows(self, database: str) -> dict[str, int]:
        """How many rows each table has, counted."""
        listed = "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()"
        names = sorted(self.ask(listed, database).split())
        return {name: int(self.ask(f"SELECT COUNT(*) FROM `{name}`", database)) for name in names}  # noqa: S608


def wait_for(server: Server, seconds: float = 120) -> None:
    """Wait until the server answers; raises ShopError."""
    until = time.monotonic() + seconds
    while True:
        try:
            server.ask("SELECT 1")
            return
        except ShopError as problem:
            if time.monotonic() > until:
                raise ShopError(f"The database does not answer: {problem}") from None
        time.sleep(0.2)
