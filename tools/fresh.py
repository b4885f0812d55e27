"""What a root shell with everything installed cannot see: a new user with nothing, from clone to signed-in bench.

Run as root (``make fresh-test``). It makes a user with an empty home, clones the last commit into a folder with a
blank in its name, runs ``make demo``, signs in, stops it and looks that nothing is left; then it runs the lines of
the README's "For a shop" as they stand, to a signed-in bench. The user and all it made are removed afterwards. What
Debian lacks is installed by the very line that ``make`` says; lines that begin with sudo are run by root. On a bare
Debian it runs as it is: ``chroot DIR make -C /root/plain-shank fresh-test``, with make, git and python3 there.
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
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import IO

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tools.mariadb import Database, free_port, start  # noqa: E402

# how this machine reaches its registries; a machine with nothing of its own passes nothing on
WAY_OUT = ("PIP_CERT", "PIP_INDEX_URL", "NODE_EXTRA_CA_CERTS", "SSL_CERT_FILE", "HTTPS_PROXY", "https_proxy")
SERVER = Path("/run/mysqld/mysqld.sock")  # where Debian's own server listens
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


class Shell:
    """The newcomer's shell, a line at a time."""

    def __init__(self, someone: Newcomer) -> None:
        self.process = someone.start("", someone.clone)

    def run(self, line: str) -> str:
        """Run a line and answer what it said; raises SystemExit where it fails."""
        assert self.process.stdin is not None
        assert self.process.stdout is not None
        self.process.stdin.write(f"{line}\necho; echo done=$?\n" if line.endswith("&") else f"{line}\necho done=$?\n")
        self.process.stdin.flush()
        said = ""
        for one in self.process.stdout:
            if (end := re.match(r"done=(\d+)$", one)) is not None:
                if end[1] != "0":
                    raise SystemExit(f"{line} failed:\n{said}")
                return said
            said += one
        raise SystemExit(f"the shell ended at: {line}\n{said}")


def try_shop(someone: Newcomer, standing_in: list[Database]) -> None:
    """The README's lines for a shop, to a signed-in bench."""
    shell, link = Shell(someone), ""
    for line in lines_for_a_shop():
        print(f"  {line}", flush=True)
        if line.startswith("sudo "):
            as_root(line.removeprefix("sudo "), someone.name)
            if not SERVER.exists():  # no service manager here: a server stands in for Debian's own
                standing_in.append(server_at_debians_place(Path(tempfile.mkdtemp(dir="/var/tmp"))))
        elif ".venv/bin/gunicorn" in line:
            port = free_port()
            shell.run(f"{re.sub('127.0.0.1:[0-9]+', f'127.0.0.1:{port}', line)} > gunicorn.log 2>&1 &")
        else:
            said = shell.run(line)
            link = next(iter(re.findall(r"/welcome#(\S+)", said)), link)
    browser = Browser(f"http://127.0.0.1:{port}")
    wait_until("gunicorn answers", lambda: _answers(browser), 60)
    assert browser.ask("/ready")["ready"]
    browser.ask("/api/session")
    browser.ask("/api/session/welcome", {"link": link, "password": CHOSEN})
    browser.sees_the_bench("username")
    print("  for a shop: the owner is at the bench", flush=True)


def _answers(browser: Browser) -> bool:
    try:
        return bool(browser.ask("/health"))
    except OSError:
        return False


def server_at_debians_place(folder: Path) -> Database:
    """A private server of root's where Debian's own would listen."""
    database = start(folder, for_tests=True)
    database.query("DROP DATABASE plain_shank")  # the lines make it
    folder.chmod(0o755)
    SERVER.parent.mkdir(exist_ok=True)
    SERVER.symlink_to(database.socket)
    return database


def main() -> int:
    """Make the newcomer, try both ways in, remove what was made."""
    if os.getuid() != 0:
        raise SystemExit("Run as root: it makes a user, and removes it again.")
    if shutil.which("git") is None or shutil.which("make") is None:
        raise SystemExit("git and make are needed, as the README's first line says.")
    someone, standing_in = Newcomer(), list[Database]()
    try:
        bundle = someone.home / "plain-shank.bundle"
        subprocess.run(["git", "-C", ROOT, "bundle", "create", "-q", bundle, "HEAD"], check=True)
        bundle.chmod(0o644)
        someone.run(f"git clone -q {bundle} '{someone.clone}'", someone.home)
        try_demo(someone)
        try_shop(someone, standing_in)
    finally:
        for database in standing_in:
            database.stop()
            SERVER.unlink(missing_ok=True)
            shutil.rmtree(database.folder)
        someone.leave()
    print("A newcomer's first command works, and so do a shop's ten lines.")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
