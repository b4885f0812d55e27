"""A backup: one dump of one moment, counted as it is written, loaded into a scratch server and looked through.

It is written under another name and gets its own once it is checked: what has the name is whole. A disk that fills up
leaves the backups before as they were.
"""

from __future__ import annotations

import contextlib
import fcntl
import gzip
import json
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from ringcraft import __version__
from tools.mariadb import Database, start
from tools.shop.archive import (
    DUMP,
    ERASURES,
    FILES,
    FORMAT,
    MANIFEST,
    SETTINGS,
    name_of,
    pack,
    prune,
    read_dump,
    sha_of,
)
from tools.shop.in_use import erasures_of
from tools.shop.places import BACKUPS, PREFIX, RECIPIENT, Places, ShopError, environment_of
from tools.shop.server import Server, data_folder

ROOT = Path(__file__).resolve().parents[2]
SAME_DISK = "The backup lies on the disk that the records are on: that disk lost, both are."
NO_KEY = "The key and the settings are not in it, since it is not encrypted: keep them elsewhere."


@dataclass(frozen=True)
class Made:
    """A backup that was made: where it is, its manifest, and what an owner has to know of it."""

    path: Path
    manifest: dict[str, Any]
    said: list[str]


def target_of(places: Places, settings: dict[str, str]) -> Path:
    """Where backups go."""
    return Path(settings.get(PREFIX + BACKUPS) or places.backups)


def back_up(places: Places, settings: dict[str, str], now: datetime, why: str = "hour") -> Made:
    """Make a backup, check it and note it; raises ShopError, and then those before are as they were."""
    target = target_of(places, settings)
    try:
        target.mkdir(mode=0o700, parents=True, exist_ok=True)
        with _alone(target):
            for left in target.glob(".part-*"):  # of one that was broken off
                shutil.rmtree(left, ignore_errors=True)
            part = target / f".part-{os.getpid()}"
            part.mkdir(mode=0o700)
            try:
                made = _make(places, settings, target, part, now, why)
            finally:
                shutil.rmtree(part, ignore_errors=True)
            prune(target)
    except OSError as problem:
        raise ShopError(f"The backup was not made: {problem.strerror or problem} ({target}).") from None
    note(settings, made, now)
    return made


def _make(places: Places, settings: dict[str, str], target: Path, part: Path, now: datetime, why: str) -> Made:
    server, recipient = Server(settings), settings.get(PREFIX + RECIPIENT, "")
    rows = _dump(server, part / DUMP)
    if not rows.get("django_migrations"):
        raise ShopError(f"There are no records in the database {server.name}: is it the right one?")
    files = _files(settings, part / FILES)
    data = data_folder(places) if server.is_private else places.data
    said = [SAME_DISK] if same_device(target, data) else []
    if recipient:
        text = "".join(f"{name}={value}\n" for name, value in settings.items())
        (part / SETTINGS).write_text(text, encoding="utf8")
    else:
        said.append(NO_KEY)
    if erasures_of(places).exists():
        shutil.copy(erasures_of(places), part / ERASURES)
    with scratch(part / "scratch") as copy:
        load(copy, server.name, part / DUMP)
        found = _looked_through(settings, copy, server.name, rows, part / FILES)
    said += found["found"]["wrong"]
    sums = {path.name: sha_of(path) for path in sorted(part.iterdir()) if path.is_file()}
    manifest: dict[str, Any] = {
        "format": FORMAT,
        "engine": __version__,
        "made_at": now.isoformat(),
        "why": why,
        "database": server.name,
        "rows": rows,
        "photographs": files,
        **found,
        "sha256": sums,
        "said": said,
    }
    (part / MANIFEST).write_text(json.dumps(manifest, indent=1), encoding="utf8")
    return Made(pack(part, target / name_of(now), recipient), manifest, said)


def _dump(server: Server, path: Path) -> dict[str, int]:
    """Write the dump, and count its rows by table as they go by."""
    rows: dict[str, int] = {}
    with server.dump() as lines, gzip.open(path, "wb", compresslevel=5) as file:
        for line in counted(lines, rows):
            file.write(line)
    return rows


def counted(lines: Iterable[bytes], rows: dict[str, int]) -> Iterator[bytes]:
    """The lines of a dump, while ``rows`` counts by table what goes by."""
    for line in lines:
        if line.startswith(b"CREATE TABLE `"):
            rows[line.split(b"`")[1].decode()] = 0
        elif line.startswith(b"INSERT INTO `"):
            rows[line.split(b"`")[1].decode()] += 1
        yield line


def _files(settings: dict[str, str], folder: Path) -> int:
    """Photographs that another storage than the database holds: how many were put beside the dump."""
    if not settings.get(PREFIX + "FILE_STORAGE"):
        return 0
    folder.mkdir()
    return int(json.loads(manage(settings, "copy_files", str(folder)))["files"])


def same_device(one: Path, other: Path) -> bool:
    """Whether two folders are on one device."""
    return other.exists() and one.stat().st_dev == other.stat().st_dev


@contextlib.contextmanager
def scratch(folder: Path) -> Iterator[Database]:
    """A server for a moment, with nothing in it."""
    database = start(folder, for_tests=True)
    try:
        yield database
    finally:
        database.stop()
        shutil.rmtree(folder, ignore_errors=True)


def of_scratch(copy: Database, name: str) -> dict[str, str]:
    """The settings that name a scratch server."""
    return {
        PREFIX + "DB_NAME": name,
        PREFIX + "DB_USER": "plain_shank",
        PREFIX + "DB_PASSWORD": copy.password,
        PREFIX + "DB_SOCKET": str(copy.socket),
        PREFIX + "DB_HOST": "",
        PREFIX + "DB_PORT": "",
    }


def load(copy: Database, name: str, dump: Path) -> None:
    """Load a dump into a scratch server."""
    copy.query("SET GLOBAL max_allowed_packet = 268435456;")
    copy.query(f"CREATE DATABASE IF NOT EXISTS {name}; GRANT ALL ON {name}.* TO plain_shank@localhost;")
    Server(of_scratch(copy, name)).load(name, read_dump(dump))


def differences(rows: dict[str, int], loaded: dict[str, int]) -> str:
    """Where two counts differ, in words; empty where they do not."""
    wrong = [
        f"{table}: {rows.get(table)} written, {loaded.get(table)} there"
        for table in sorted({*rows, *loaded})
        if rows.get(table) != loaded.get(table)
    ]
    return "; ".join(wrong[:5])


def _looked_through(
    settings: dict[str, str], copy: Database, name: str, rows: dict[str, int], files: Path
) -> dict[str, Any]:
    """Compare the scratch server with what was counted, and look through it; raises ShopError where they differ."""
    reach = of_scratch(copy, name)
    there = Server(reach)
    if wrong := differences(rows, there.rows(name)):
        raise ShopError(f"The copy is not what was written: {wrong}.")
    migrations = there.ask("SELECT app, name FROM django_migrations ORDER BY id", name).splitlines()
    last = there.ask("SELECT COALESCE(MAX(id), 0) FROM core_event", name)
    options = ("--files", str(files)) if files.exists() else ()
    found = json.loads(manage({**settings, **reach}, "check_copy", *options))
    return {"migrations": [line.split("\t") for line in migrations], "last_event": int(last), "found": found}


def manage(settings: dict[str, str], *arguments: str, said: str = "") -> str:
    """Run a management command over a database and answer what it said; raises ShopError."""
    done = subprocess.run(
        [sys.executable, str(ROOT / "manage.py"), *arguments],
        cwd=ROOT,
        env={**environment_of(settings), PREFIX + "DB_TIMEOUT": "3600"},
        input=said,
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise ShopError(f"{arguments[0]} failed: {done.stderr.strip()[-600:]}")
    return done.stdout


def note(settings: dict[str, str], made: Made, now: datetime) -> None:
    """Note a backup in the records, for the owner's screen."""
    said = {
        "at": now.isoformat(),
        "name": made.path.name,
        "size": made.path.stat().st_size,
        "rows": sum(made.manifest["rows"].values()),
        "last_event": made.manifest["last_event"],
        "encrypted": made.path.name.endswith(".age"),
        "same_device": SAME_DISK in made.said,
        "said": made.said,
    }
    manage(settings, "note_backup", said=json.dumps(said))


@contextlib.contextmanager
def _alone(target: Path) -> Iterator[None]:
    with (target / ".lock").open("w") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise ShopError("Another backup is being made.") from None
        yield
