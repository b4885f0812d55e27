"""A restore: into a new database beside the one in use, checked, brought up to this version, then put in its place.

Until the name in the settings is changed nothing of what is there has changed; the database before stays until
somebody drops it.
"""

from __future__ import annotations

import json
import tempfile
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from tools.shop.archive import DUMP, FILES, read_dump, unpack
from tools.shop.backup import differences, manage
from tools.shop.places import PREFIX, Places, ShopError, write_settings
from tools.shop.server import Server

DATABASE = "plain_shank"


@dataclass(frozen=True)
class Put:
    """What a restore did: of when the records are, into which database, which one is left, what was found."""

    made_at: str
    database: str
    before: str
    rows: int
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
    write_settings(places.settings, {**settings, PREFIX + "DB_NAME": name})
    rows = sum(manifest["rows"].values())
    return Put(manifest["made_at"], name, server.name, rows, found)


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
    found: dict[str, Any] = json.loads(manage(there, "check_copy"))
    manage(there, "after_restore", manifest["made_at"])
    return found
