"""What a root shell with everything installed cannot see: a new user with nothing, from clone to signed-in bench.

Run as root (``make fresh-test``). It makes a user with an empty home, clones the last commit into a folder with a
blank in its name, runs ``make demo``, signs in, stops it and looks that nothing is left. The user and all it made are
removed afterwards. What Debian lacks is installed by the very line that ``make`` says. A shop's own lines are tried
by ``make shop-test``. On a bare Debian it runs as it is: ``chroot DIR make -C /root/plain-shank fresh-test``, with
make, git and python3 there.
"""

from __future__ import annotations

import http.cookiejar
import json
import os
import pwd
import re
import secrets
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import IO

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tools.mariadb import free_port  # noqa: E402

# how this machine reaches its registries; a machine with nothing of its own passes nothing on
WAY_OUT = ("PIP_CERT", "PIP_INDEX_URL", "NODE_EXTRA_CA_CERTS", "SSL_CERT_FILE", "HTTPS_PROXY", "https_proxy")
PATIENCE = 900
CHOSEN = secrets.token_urlsafe(12)


class Newcomer:
    """An ordinary user who has nothing yet."""

    def __init__(self) -> None:
        self.name = f"ps-fresh-{os.getpid()}"
        subprocess.run(
            ["useradd", "--create-home", "--skel", "/nowhere", "--shell", "/bin/bash", self.name], check=True
        )
        self.known = pwd.getpwnam(self.name)
        self.home = Path(self.known.pw_dir)
        self.clone = self.home / "my shop"
        self.environment = {
            "PATH": "/usr/local/bin:/usr/bin:/bin",
            "HOME": str(self.home),
            "USER": self.name,
            "LOGNAME": "somebody-else",  # what a shell after su leaves behind
            "TERM": "dumb",
            **{name: os.environ[name] for name in WAY_OUT if name in os.environ},
        }

    def start(self, command: str, folder: Path, output: int | IO[str] = subprocess.PIPE) -> subprocess.Popen[str]:
        """Start a command of bash as this user, in a session of its own."""
        return subprocess.Popen(
            ["/bin/bash", "-c", command] if command else ["/bin/bash"],
            cwd=folder,
            env=self.environment,
            user=self.known.pw_uid,
            group=self.known.pw_gid,
            extra_groups=[],
            stdin=subprocess.DEVNULL if command else subprocess.PIPE,
            stdout=output,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )

    def run(self, command: str, folder: Path) -> None:
        """Run a command to its end; raises SystemExit with its words where it fails."""
        process = self.start(command, folder)
        said, _ = process.communicate(timeout=PATIENCE)
        if process.returncode:
            raise SystemExit(f"{command} failed:\n{said}")

    def processes(self) -> dict[int, str]:
        """What runs as this user: process ids with their command lines."""
        found = {}
        for path in Path("/proc").iterdir():
            if path.name.isdecimal():
                try:
                    if path.stat().st_uid == self.known.pw_uid and (line := (path / "cmdline").read_bytes()):
                        found[int(path.name)] = line.replace(b"\0", b" ").decode(errors="replace")
                except OSError:
                    continue  # it ended meanwhile
        return found

    def leave(self) -> None:
        """End whatever of this user still runs and remove the user with its home."""
        for pid in self.processes():
            os.kill(pid, signal.SIGKILL)
        wait_until("the newcomer's processes are gone", lambda: not self.processes(), 30)
        subprocess.run(["userdel", "--remove", self.name], check=True, capture_output=True)


def wait_until(what: str, holds: Callable[[], object], seconds: float = PATIENCE) -> None:
    """Wait for a state; raises SystemExit where it does not come."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if holds():
            return
        time.sleep(0.2)
    raise SystemExit(f"waited in vain until {what}")


class Browser:
    """A person at the application's door: cookies kept, the token sent along."""

    def __init__(self, url: str) -> None:
        self.url, self.jar = url, http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(self, path: str, body: dict[str, str] | None = None) -> dict[str, object]:
        """Ask for a path, or post to it; raises HTTPError for anything but success."""
        request = urllib.request.Request(self.url + path, json.dumps(body).encode() if body else None)  # noqa: S310 (loopback)
        request.add_header("Content-Type", "application/json")
        request.add_header("X-CSRFToken", next((c.value or "" for c in self.jar if c.name == "csrftoken"), ""))
        with self.opener.open(request, timeout=60) as answer:
            said = answer.read()
        return json.loads(said) if said[:1] == b"{" else {"page": said.decode()}

    def sees_the_bench(self, person: str) -> None:
        """Raises SystemExit where this is not the signed-in bench of the person."""
        session, jobs, page = self.ask("/api/session"), self.ask("/api/jobs"), self.ask("/")
        script = re.search(r'src="(/static/assets/[^"]+\.js)"', str(page["page"]))
        if not session["signed_in"] or session["username"] != person or "items" not in jobs or script is None:
            raise SystemExit(f"no signed-in bench: {session}, {list(jobs)}, {page}")
        self.ask(script[1])


def with_what_debian_lacks(someone: Newcomer, command: str, ready: str, log: Path) -> subprocess.Popen[str]:
    """Start a command and wait for its word; what ``make`` says that root has to run is run, and it starts again."""
    for _ in range(3):
        with log.open("w") as output:
            process = someone.start(command, someone.clone, output)
        wait_until(f"{command} is up", lambda: ready in log.read_text() or process.poll() is not None)  # noqa: B023
        asked = re.search(r"Run as root, then again: (.*)", log.read_text())
        if asked is None:
            break
        as_root(asked[1])
    if ready not in log.read_text():
        raise SystemExit(f"{command} did not come up:\n{log.read_text()}")
    return process


def as_root(line: str, user: str = "") -> None:
    """Run what a README or ``make`` says that root runs."""
    print(f"  as root: {line}", flush=True)
    environment = {"PATH": "/usr/sbin:/usr/bin:/sbin:/bin", "DEBIAN_FRONTEND": "noninteractive", "USER": user}
    done = subprocess.run(
        ["/bin/bash", "-c", line],
        env=environment,
        stdin=subprocess.DEVNULL,
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise SystemExit(f"{line} failed:\n{done.stdout}{done.stderr}")


def try_demo(someone: Newcomer) -> None:
    """``make demo`` from nothing, signed in, stopped, nothing left."""
    log = someone.home / "demo.log"
    process = with_what_debian_lacks(someone, f"make demo PORT={free_port()}", "is at", log)
    browser = Browser(re.findall(r"http://\S+", log.read_text())[-1])
    hint = browser.ask("/api/session")["demo"]
    assert isinstance(hint, dict)
    browser.ask("/api/session", hint)
    browser.sees_the_bench(hint["username"])
    os.killpg(process.pid, signal.SIGINT)  # Ctrl-C
    process.wait(timeout=60)
    wait_until("nothing of the demo is left running", lambda: not someone.processes(), 30)
    print("  the demo: signed in, stopped, nothing left running", flush=True)


def lines_for_a_shop() -> list[str]:
    """The commands of the README's "For a shop", as they stand."""
    part = (ROOT / "README.md").read_text().split("\n## For a shop\n")[1].split("\n## ")[0]
    block = re.search(r"```sh\n(.*?)```", part, re.DOTALL)
    assert block is not None
    return block[1].splitlines()


def main() -> int:
    """Make the newcomer, try the way in, remove what was made."""
    if os.getuid() != 0:
        raise SystemExit("Run as root: it makes a user, and removes it again.")
    if shutil.which("git") is None or shutil.which("make") is None:
        raise SystemExit("git and make are needed, as the README's first line says.")
    someone = Newcomer()
    try:
        bundle = someone.home / "plain-shank.bundle"
        subprocess.run(["git", "-C", ROOT, "bundle", "create", "-q", bundle, "HEAD"], check=True)
        bundle.chmod(0o644)
        someone.run(f"git clone -q {bundle} '{someone.clone}'", someone.home)
        try_demo(someone)
    finally:
        someone.leave()
    print("A newcomer's first command works.")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
