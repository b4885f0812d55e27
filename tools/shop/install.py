"""Installing for real: a system user, the settings, a release of its own, the database, what systemd starts.

Run again it changes nothing that a person has set: settings stay, the key stays, the records stay.
"""

from __future__ import annotations

import os
import pwd
import secrets
import shutil
import subprocess
import sys
from pathlib import Path

from ringcraft import __version__
from tools.shop.in_use import CURRENT, RELEASE
from tools.shop.places import (
    BACKUPS,
    LEAST_KEY,
    OWN_DATABASE,
    PREFIX,
    Places,
    ShopError,
    read_settings,
    write_settings,
)
from tools.shop.units import COMMAND, USER, units

ROOT = Path(__file__).resolve().parents[2]
SKIPPED = {".git", ".venv", ".tools", "var", "node_modules", "tests", "__pycache__", ".mypy_cache", ".ruff_cache",
           ".pytest_cache", ".hypothesis", "docs"}  # fmt: skip
WRAPPER = """#!/bin/sh
# Plain Shank: the release that is in use does what is asked, as its own user. `plain-shank help` lists it.
if [ "$(id -u)" = 0 ]; then exec /sbin/runuser -u {user} -- "$0" "$@"; fi
cd "$(readlink -f {current})" && exec ./.venv/bin/python -m tools.shop "$@"
"""


def system_user() -> tuple[int, int]:
    """The user that everything runs as, made where it is not there."""
    try:
        found = pwd.getpwnam(USER)
    except KeyError:
        command = ["useradd", "--system", "--home-dir", "/var/lib/plain-shank", "--shell", "/usr/sbin/nologin", USER]
        subprocess.run(command, check=True, env={**os.environ, "PATH": "/usr/sbin:/usr/bin:/sbin:/bin"})
        found = pwd.getpwnam(USER)
    return found.pw_uid, found.pw_gid


def first_settings(places: Places, given: dict[str, str]) -> dict[str, str]:
    """The settings of a new installation: the owner's server where ``given`` names one, else a private one."""
    settings = {
        PREFIX + "SECRET_KEY": secrets.token_urlsafe(48),
        PREFIX + "PORT": "8420",
        PREFIX + "LOG": "1",
        PREFIX + BACKUPS: str(places.backups),
    }
    if any(given.get(f"{PREFIX}DB_{name}") for name in ("HOST", "SOCKET")):
        return {**settings, PREFIX + OWN_DATABASE: "0", **given}
    private = {
        PREFIX + OWN_DATABASE: "1",
        PREFIX + "DB_NAME": "plain_shank",
        PREFIX + "DB_USER": "plain_shank",
        PREFIX + "DB_PASSWORD": secrets.token_urlsafe(32),
        PREFIX + "DB_SOCKET": str(places.data / "database.sock"),
    }
    return {**settings, **private, **given}


def put_settings(places: Places, owner: int, group: int) -> dict[str, str]:
    """The settings in force: those that are there, else new ones from what stands in this environment."""
    if places.settings.exists():
        return read_settings(places.settings)
    given = {name: value for name, value in os.environ.items() if name.startswith(PREFIX) and "\n" not in value}
    settings = first_settings(places, given)
    if len(settings[PREFIX + "SECRET_KEY"]) < LEAST_KEY:
        raise ShopError(f"{PREFIX}SECRET_KEY must have at least {LEAST_KEY} letters; left out, one is made.")
    write_settings(places.settings, settings, owner, group)
    return settings


def release_name() -> str:
    """How the release of this folder is called: by version, and by its commit where there is one."""
    command = ["git", "-C", str(ROOT), "-c", f"safe.directory={ROOT}", "rev-parse", "--short=8", "HEAD"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    commit = done.stdout.strip()
    return f"{__version__}-{commit}" if commit else __version__


def put_release(places: Places, name: str) -> Path:
    """A release with a Python environment and static files of its own; one of that name is made anew unless whole."""
    folder = places.programs / "releases" / name
    if (folder / ".whole").exists():
        return folder
    if not (ROOT / "web/dist/index.html").exists():
        raise ShopError("The front end is not built: run make build.")
    making = folder.with_name(name + ".new")
    shutil.rmtree(making, ignore_errors=True)
    making.parent.mkdir(parents=True, exist_ok=True)
    shutil.copytree(ROOT, making, ignore=lambda _, names: [one for one in names if one in SKIPPED])
    uv = ROOT / ".tools/bin/uv"
    python = making / ".venv/bin/python"
    # Debian's own Python: one of root's home could not be run by the shop's own user
    base = next(one for one in (Path("/usr/bin/python3"), Path(sys.base_prefix) / "bin/python3") if one.exists())
    _run([str(uv), "venv", "-q", "--relocatable", "--python", str(base), str(making / ".venv")])
    _run([str(uv), "pip", "sync", "-q", "--compile-bytecode", "--link-mode", "copy", "--python", str(python),
          "--require-hashes", str(making / "requirements.txt")])  # fmt: skip
    environment = {**os.environ, PREFIX + "SECRET_KEY": "x" * 50, PREFIX + "STATIC_ROOT": str(making / "static")}
    _run([str(python), "manage.py", "collectstatic", "--no-input", "-v0"], cwd=making, env=environment)
    _run([str(python), "-m", "compileall", "-q", "ringcraft", "workshop", "tools"], cwd=making)
    _run(["chmod", "-R", "a+rX,go-w", str(making)])
    (making / ".whole").touch()
    shutil.rmtree(folder, ignore_errors=True)
    making.rename(folder)
    return folder


def put_units(places: Places, settings: dict[str, str]) -> list[str]:
    """Write the units; their names."""
    target = settings.get(PREFIX + BACKUPS) or str(places.backups)
    writable = (str(places.data), target)
    made = units(settings.get(PREFIX + OWN_DATABASE) == "1", writable)
    places.units.mkdir(parents=True, exist_ok=True)
    for name, text in made.items():
        (places.units / name).write_text(text, encoding="utf8")
    return list(made)


def put_wrapper(places: Places) -> Path:
    """The command ``plain-shank``."""
    path = places.root / COMMAND.lstrip("/")
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(WRAPPER.format(current=places.data / CURRENT / RELEASE, user=USER), encoding="utf8")
    path.chmod(0o755)
    return path


def folders(places: Places, settings: dict[str, str], owner: int, group: int) -> None:
    """The folders of the records and of the backups, for the shop's own user alone."""
    for folder in (places.data, Path(settings.get(PREFIX + BACKUPS) or places.backups)):
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        folder.chmod(0o700)
        if os.getuid() == 0:
            os.chown(folder, owner, group)


def is_systemd() -> bool:
    """Whether systemd runs this machine."""
    return Path("/run/systemd/system").is_dir()


def start_units(names: list[str]) -> None:
    """Let systemd start what is to run, now and with the machine."""
    _run(["systemctl", "daemon-reload"])
    services = ("plain-shank.service", "plain-shank-database.service")
    wanted = [name for name in names if name.endswith(".timer") or name in services]
    _run(["systemctl", "enable", "--now", *wanted])


def _run(command: list[str], cwd: Path | None = None, env: dict[str, str] | None = None) -> None:
    done = subprocess.run(command, cwd=cwd, env=env, capture_output=True, text=True, check=False)
    if done.returncode:
        raise ShopError(f"{' '.join(command[:3])} failed:\n{done.stdout}{done.stderr}")
