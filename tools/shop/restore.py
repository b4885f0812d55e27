"""A restore: into a new database beside the one in use, checked, brought up to this version, then put in its place.

Until the link to what is in use is switched nothing of what is there has changed; the database before stays until
somebody drops it.
"""

from __future__ import annotations

import json
import tempfile
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from tools.shop.archive import DUMP, ERASURES, FILES, read_dump, unpack
from tools.shop.backup import differences, manage
from tools.shop.in_use import release_in_use, switch
from tools.shop.places import PREFIX, Places, ShopError
from tools.shop.server import Server

DATABASE = "plain_shank"


@dataclass(frozen=True)
class Put:
    """What a restore did: of when the records are, into which database, which one is left, what was found."""

    made_at: str
    database: str
    before: str
    rows: int
    lost: int
    found: dict[str, Any]


def restore(places: Places, settings: dict[str, str], path: Path, now: datetime, key: str = "") -> Put:
    """Restore a backup; the application must not run. Raises ShopError, and then nothing has changed."""
    if not path.is_file():
        raise ShopError(f"{path} is not there.")
    server = Server(settings)
    name = f"{DATABASE}_{now:%Y%m%d_%H%M%S}"
    places.data.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="restore-", dir=places.data) as folder:
        manifest = unpack(path, Path(folder), key)
        server.make(name)
        try:
            found = _put(server, settings, name, Path(folder), manifest)
        except BaseException:
            server.drop(name)
            raise
    lost = lost_since(server, manifest["last_event"])
    switch(places, release_in_use(places), name, now)
    rows = sum(manifest["rows"].values())
    return Put(manifest["made_at"], name, server.name, rows, lost, found)


def lost_since(server: Server, last_event: int) -> int:
    """How many changes there were since a backup, by the history; -1 where the records cannot be asked."""
    try:
        return int(server.ask(f"SELECT COUNT(*) FROM core_event WHERE id > {int(last_event)}", server.name))  # noqa: S608
    except ShopError:
        return -1


def _put(
    server: Server, settings: dict[str, str], name: str, folder: Path, manifest: dict[str, Any]
) -> dict[str, Any]:
    server.load(name, read_dump(folder / DUMP))
    if wrong := differences(manifest["rows"], server.rows(name)):
        raise ShopError(f"What was loaded is not what was backed up: {wrong}.")
    there = {**settings, PREFIX + "DB_NAME": name}
    manage(there, "migrate", "--no-input")
    if manifest.get("photographs"):
        if not settings.get(PREFIX + "FILE_STORAGE"):
            raise ShopError(f"This backup has photographs of another storage: set {PREFIX}FILE_STORAGE as it was.")
        manage(there, "copy_files", "--back", str(folder / FILES))
    for listed in (folder / ERASURES, Path(settings[PREFIX + "ERASURES"])):
        if listed.exists():
            manage(there, "erase_again", str(listed))
    found: dict[str, Any] = json.loads(manage(there, "check_copy"))
    manage(there, "after_restore", manifest["made_at"])
    return found
