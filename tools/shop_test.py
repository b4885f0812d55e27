"""A shop's own from nothing, as its owner would: installed, come in, worked, backed up, wiped, restored, upgraded.

Run as root (``make shop-test``), before a release, on a machine that is not a shop's: it makes the user
``plain-shank`` and removes it again with all it made. Without systemd what its units start is started by hand, as
they say it. On a bare Debian it runs as it is: ``chroot DIR make -C /root/plain-shank shop-test``, with make, git and
python3 there.
"""

from __future__ import annotations

import contextlib
import os
import pwd
import re
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tools.fresh import CHOSEN, PATIENCE, WAY_OUT, Browser, lines_for_a_shop, wait_until  # noqa: E402

USER, COMMAND = "plain-shank", "/usr/local/bin/plain-shank"
MADE = ("/etc/plain-shank", "/opt/plain-shank", "/var/lib/plain-shank", "/var/backups/plain-shank", COMMAND)
UNITS = Path("/etc/systemd/system")
PORT = "8431"
ORDER = {
    "style": "plain-band",
    "size": "US 6",
    "metal": "sterling",
    "stock": {"profile": "half-round", "width_mm": 5.0, "thickness_mm": 1.6},
}


def as_root(line: str, folder: Path = ROOT) -> str:
    """Run a line as root would type it; its words. Raises SystemExit where it fails."""
    print(f"  # {line}", flush=True)
    way_out = {name: os.environ[name] for name in WAY_OUT if name in os.environ}
    environment = {
        "PATH": "/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin",
        "DEBIAN_FRONTEND": "noninteractive",
        "HOME": "/root",
        "PLAIN_SHANK_PORT": PORT,
        **way_out,
    }
    done = subprocess.run(
        ["/bin/bash", "-c", line], cwd=folder, env=environment, stdin=subprocess.DEVNULL, capture_output=True,
        text=True, check=False, timeout=PATIENCE,
    )  # fmt: skip
    if done.returncode:
        raise SystemExit(f"{line} failed:\n{done.stdout}{done.stderr}")
    return done.stdout + done.stderr


class Running:
    """What the units start, started by hand as they say it, each as its user."""

    def __init__(self) -> None:
        self.processes: dict[str, subprocess.Popen[bytes]] = {}

    def start(self, *names: str) -> None:
        """Start these units."""
        for name in names:
            text = (UNITS / name).read_text()
            line = re.search(r"^ExecStart=(.*)$", text, re.MULTILINE)
            user = re.search(r"^User=(.*)$", text, re.MULTILINE)
            assert line
            assert user
            log = Path(f"/tmp/{name}.log").open("wb")  # noqa: S108, SIM115 (it lives as long as the process)
            known = pwd.getpwnam(user[1])
            self.processes[name] = subprocess.Popen(
                line[1].split(), user=known.pw_uid, group=known.pw_gid, extra_groups=[], stdout=log, stderr=log,
                env={"PATH": "/usr/sbin:/usr/bin:/sbin:/bin", "HOME": known.pw_dir}, cwd="/", start_new_session=True,
            )  # fmt: skip

    def stop(self, *names: str) -> None:
        """Stop these, or all."""
        for name in names or reversed(list(self.processes)):
            process = self.processes.pop(name)
            with contextlib.suppress(ProcessLookupError):
                process.send_signal(signal.SIGTERM)
            process.wait(timeout=120)


DATABASE, SERVICE = "plain-shank-database.service", "plain-shank.service"


def ready(browser: Browser) -> bool:
    """Whether it serves."""
    try:
        return bool(browser.ask("/ready")["ready"])
    except (OSError, urllib.error.HTTPError):
        return False


def come_in(browser: Browser) -> None:
    """The workshop and its owner, by the link; then a day's work."""
    link = as_root(f"{COMMAND} first-link").strip().split("#")[1]
    browser.ask("/api/session")
    who = {"link": link, "shop": "Fen Street Rings", "name": "Rook Ember", "username": "rook", "password": CHOSEN}
    assert browser.ask("/api/session/shop", who)["role"] == "owner"
    job: Any = {"title": "band", "order": ORDER, "version": 1}
    assert browser.ask("/api/jobs", job)["number"] == 1
    piece: Any = {"piece": {"kind": "scrap", "metal": "sterling", "mass_g": 12}}
    browser.ask("/api/stock", piece)
    invited: Any = {"username": "wick", "name": "Wick Tallow", "role": "bench"}
    assert browser.ask("/api/people", invited)["link"]


def sign_in(browser: Browser) -> dict[str, Any]:
    """Sign in by name and password."""
    browser.ask("/api/session")
    return dict(browser.ask("/api/session", {"username": "rook", "password": CHOSEN}))


def titles(browser: Browser) -> list[str]:
    """The jobs there are."""
    listed: Any = browser.ask("/api/jobs")
    return sorted(one["title"] for one in listed["items"])


def newer(folder: Path) -> Path:
    """A newer clone: the same with a commit more, which adds a column."""
    subprocess.run(["git", "clone", "-q", str(ROOT), str(folder)], check=True)
    (folder / "workshop/safekeeping/migrations/0002_tried.py").write_text(
        "from django.db import migrations\n\n\nclass Migration(migrations.Migration):\n"
        '    dependencies = [("safekeeping", "0001_backups")]\n'
        '    operations = [migrations.RunSQL("ALTER TABLE safekeeping_restored ADD COLUMN tried INT NULL")]\n'
    )
    for command in (["add", "-A"], ["-c", "user.name=x", "-c", "user.email=x@example", "commit", "-qm", "newer"]):
        subprocess.run(["git", "-C", str(folder), *command], check=True)
    return folder


def whole_life(running: Running, other: Path) -> None:
    """From the README's lines to an upgrade."""
    for line in lines_for_a_shop():
        as_root(line.removeprefix("sudo "))
    browser = Browser(f"http://127.0.0.1:{PORT}")
    running.start(DATABASE, SERVICE)
    wait_until("it is ready", lambda: ready(browser))
    come_in(browser)
    assert "checked." in as_root(f"{COMMAND} backup")
    backup = as_root(f"{COMMAND} backups").split()[-1]
    as_root(f"{COMMAND} tidy")
    as_root(f"{COMMAND} prices")
    print("  installed, come in, worked, backed up", flush=True)

    running.stop()
    shutil.rmtree("/var/lib/plain-shank")
    as_root("make install")
    running.start(DATABASE)
    wait_until("the database answers", lambda: "WRONG  database" not in _check())
    assert "1,000 higher" in as_root(f"{COMMAND} restore {backup}")
    running.start(SERVICE)
    wait_until("it is ready again", lambda: ready(browser))
    session = sign_in(browser)
    assert (session["epoch"], titles(browser)) == (1, ["band"])
    print("  wiped and restored", flush=True)

    as_root("make upgrade", newer(other))
    running.stop(SERVICE)
    running.start(SERVICE)
    wait_until("the new version is ready", lambda: ready(browser))
    assert titles(browser) == ["band"]
    assert "newer" not in titles(browser)
    print("  upgraded; signed in still", flush=True)


def _check() -> str:
    done = subprocess.run([COMMAND, "check"], capture_output=True, text=True, check=False)
    return done.stdout + done.stderr if done.stdout else "WRONG  database"


def remove() -> None:
    """Remove all that it made."""
    for path in MADE:
        if Path(path).is_dir():
            shutil.rmtree(path)
        else:
            Path(path).unlink(missing_ok=True)
    for unit in UNITS.glob("plain-shank*"):
        unit.unlink()
    subprocess.run(["userdel", USER], check=False, capture_output=True)


def main() -> int:
    """Try a shop's whole life, and remove it."""
    if os.getuid() != 0:
        raise SystemExit("Run as root: it makes a system user, and removes it again.")
    if Path("/etc/plain-shank").exists():
        raise SystemExit("A shop is installed here: this is no machine to try on.")
    begun, running, other = time.monotonic(), Running(), Path("/root/plain-shank-newer")
    shutil.rmtree(other, ignore_errors=True)
    try:
        whole_life(running, other)
    finally:
        running.stop()
        shutil.rmtree(other, ignore_errors=True)
        remove()
    print(f"A shop's whole life went well, in {time.monotonic() - begun:.0f} s.")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
