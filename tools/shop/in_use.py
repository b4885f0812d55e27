"""What is in use: one release and one database, switched together by one link.

``current`` leads to a folder with a link to the release and the name of its database. A restore or an upgrade makes
another such folder beside it and lets the link lead there: whoever looks sees the one pair or the other.
"""

from __future__ import annotations

import os
import shutil
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from tools.shop.places import PREFIX, Places, ShopError, read_settings

STATES, CURRENT = "in-use", "current"
RELEASE, DATABASE = "release", "database"


@dataclass(frozen=True)
class InUse:
    """A release and the database that goes with it."""

    release: Path
    database: str


def in_use(places: Places) -> InUse | None:
    """What is in use; None before anything was installed."""
    folder = places.data / CURRENT
    if not (folder / DATABASE).exists():
        return None
    return InUse((folder / RELEASE).readlink(), (folder / DATABASE).read_text(encoding="utf8").strip())


def switch(places: Places, release: Path, database: str, now: datetime) -> None:
    """Use this release with this database, at once and together."""
    states = places.data / STATES
    states.mkdir(parents=True, exist_ok=True)
    name = f"{now:%Y%m%d-%H%M%S-%f}"
    made = states / name
    made.mkdir()
    (made / RELEASE).symlink_to(release)
    with (made / DATABASE).open("w", encoding="utf8") as file:
        file.write(database + "\n")
        file.flush()
        os.fsync(file.fileno())
    link, new = places.data / CURRENT, places.data / (CURRENT + ".new")
    new.unlink(missing_ok=True)
    new.symlink_to(made)
    new.replace(link)
    for old in states.iterdir():
        if old != made:
            shutil.rmtree(old)


def settings_in_use(places: Places) -> dict[str, str]:
    """The settings of the file, with the database that is in use; raises ShopError."""
    settings, found = read_settings(places.settings), in_use(places)
    if found is not None:
        settings[PREFIX + "DB_NAME"] = found.database
    settings[PREFIX + "HOLD"] = str(hold_of(places))
    settings[PREFIX + "IN_USE"] = str(places.data / CURRENT / DATABASE)
    settings[PREFIX + "ERASURES"] = str(erasures_of(places))
    return settings


def served_by(release: Path, settings: dict[str, str]) -> dict[str, str]:
    """The settings with which a release serves: its own static files, whatever is in use meanwhile."""
    static = release / "static"
    return {**settings, PREFIX + "STATIC_ROOT": str(static)} if static.is_dir() else settings


def release_in_use(places: Places) -> Path:
    """The release in use; raises ShopError where nothing was installed."""
    found = in_use(places)
    if found is None:
        raise ShopError("Nothing is installed here yet: sudo make install.")
    return found.release


def erasures_of(places: Places) -> Path:
    """The list, outside the database, of who was erased."""
    return places.data / "erasures.jsonl"


def hold_of(places: Places) -> Path:
    """The file that, kept fresh, lets the application refuse what changes anything."""
    return places.data / "writes-stopped"
