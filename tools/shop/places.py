"""Where a shop's own lies on its machine, and its one file of settings, which is looked at before it is believed."""

from __future__ import annotations

import os
import re
import stat
from dataclasses import dataclass
from pathlib import Path

PREFIX = "PLAIN_SHANK_"
LEAST_KEY = 50
OWN_DATABASE, BACKUPS, RECIPIENT = "PRIVATE_DATABASE", "BACKUPS", "BACKUP_RECIPIENT"
_LINE = re.compile(r"([A-Z][A-Z0-9_]*)=(.*)")


class ShopError(SystemExit):
    """What cannot be done, in one sentence; the program ends with it."""


@dataclass(frozen=True)
class Places:
    """The folders of an installation. ``root`` is / on a real machine, any folder in a test."""

    root: Path = Path("/")

    @property
    def settings(self) -> Path:
        """The one file of settings."""
        return self.root / "etc/plain-shank/environment"

    @property
    def data(self) -> Path:
        """What is kept: the private database."""
        return self.root / "var/lib/plain-shank"

    @property
    def backups(self) -> Path:
        """Where backups go, unless the settings say otherwise: better another disk."""
        return self.root / "var/backups/plain-shank"

    @property
    def programs(self) -> Path:
        """The releases, each with its own environment, and ``current``."""
        return self.root / "opt/plain-shank"

    @property
    def units(self) -> Path:
        """Where systemd looks for what it starts."""
        return self.root / "etc/systemd/system"


def read_settings(path: Path) -> dict[str, str]:
    """The settings of the file, looked at first: it is there, nobody else can read it, each line is a setting.

    Raises ShopError with one line that names what is wrong.
    """
    try:
        found = path.stat()
        text = path.read_text(encoding="utf8")
    except FileNotFoundError:
        raise ShopError(f"{path} is missing: it holds the settings. Run the install command again.") from None
    except PermissionError:
        raise ShopError(f"{path} cannot be read by this user: run this as root, or as plain-shank.") from None
    except UnicodeDecodeError:
        raise ShopError(f"{path} is no text.") from None
    if found.st_mode & (stat.S_IRWXG | stat.S_IRWXO):
        raise ShopError(f"{path} can be read by others, and it holds the key: chmod 600 {path}")
    if found.st_uid not in (0, os.getuid()) and os.getuid() != 0:
        raise ShopError(f"{path} belongs to somebody else.")
    out: dict[str, str] = {}
    for nth, line in enumerate(text.splitlines(), 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        match = _LINE.fullmatch(line.strip())
        if match is None:
            raise ShopError(f"{path}, line {nth}, is no setting: it must be NAME=what it is.")
        out[match[1]] = match[2].strip().strip('"')
    key = out.get(PREFIX + "SECRET_KEY", "")
    if len(key) < LEAST_KEY:
        raise ShopError(f"{PREFIX}SECRET_KEY in {path} must have at least {LEAST_KEY} letters: it has {len(key)}.")
    return out


def write_settings(path: Path, settings: dict[str, str], owner: int = -1, group: int = -1) -> None:
    """Write the file of settings whole or not at all, for its owner's eyes alone."""
    path.parent.mkdir(parents=True, exist_ok=True)
    made = path.with_name(path.name + ".new")
    made.unlink(missing_ok=True)
    handle = os.open(made, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "w", encoding="utf8") as file:
        file.write("# Settings of Plain Shank, one a line; docs/operations.md says what each is. Keep it secret.\n")
        file.writelines(f"{name}={value}\n" for name, value in settings.items())
        file.flush()
        os.fsync(file.fileno())
    if os.getuid() == 0:
        before = path.stat() if path.exists() else None
        os.chown(made, *((before.st_uid, before.st_gid) if before and owner < 0 else (owner, group)))
    made.replace(path)


def environment_of(settings: dict[str, str]) -> dict[str, str]:
    """The environment of the application: this process's own, without settings of another, and those of the file."""
    own = {name: value for name, value in os.environ.items() if not name.startswith(PREFIX)}
    return {**own, **settings, "DJANGO_SETTINGS_MODULE": "workshop.settings"}
