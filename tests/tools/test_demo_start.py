"""The start command: killed and started again, a database that died alone, nothing open to others, nothing left behind."""

from __future__ import annotations

import http.client
import json
import os
import pwd
import shutil
import signal
import stat
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tools import mariadb
from tools.mariadb import Database, free_port, runs

ROOT = Path(__file__).resolve().parents[2]
PATIENCE = 240  # a ceiling for a busy machine, never waited for


def wait_until(what: str, holds: Callable[[], object]) -> None:
    until = time.monotonic() + PATIENCE
    while time.monotonic() < until:
        if holds():
            return
        time.sleep(0.05)
    raise AssertionError(f"waited in vain: {what}")


class Demo:
    """The start command over a folder of its own."""

    def __init__(self, folder: Path) -> None:
        self.var, self.port, self.log = folder / "var", free_port(), folder / "log"
        self.environment = {**os.environ, "PLAIN_SHANK_VAR": str(self.var)}
        self.environment.pop("DJANGO_SETTINGS_MODULE", None)

    def start(self) -> subprocess.Popen[bytes]:
        self.process = self.run("--port", str(self.port), "--small")
        wait_until("the demo is up", lambda: "is at" in self.log.read_text() or self.process.poll() is not None)
        assert "is at" in self.log.read_text(), self.log.read_text()
        return self.process

    def run(self, *arguments: str) -> subprocess.Popen[bytes]:
        with self.log.open("w") as log:
            return subprocess.Popen(
                [sys.executable, "-m", "tools.demo", *arguments],
                cwd=ROOT,
                env=self.environment,
                stdout=log,
                stderr=log,
                start_new_session=True,
            )

    def refused(self, *arguments: str) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "tools.demo", *arguments],
            cwd=ROOT, env=self.environment, capture_output=True, text=True, check=False,
        )  # fmt: skip
        return done.stdout + done.stderr if done.returncode else ""

    def pids(self) -> dict[str, int]:
        files = {name: self.var / f"{name}.pid" for name in ("application", "feed")}
        files["database"] = self.var / "db" / "pid"
        return {name: int(path.read_text()) for name, path in files.items()}

    def ask(self, path: str) -> tuple[int, dict[str, object]]:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        try:
            connection.request("GET", path)
            answer = connection.getresponse()
            return answer.status, json.loads(answer.read())
        finally:
            connection.close()

    def sign_in(self) -> str:
        hint = self.ask("/api/session")[1]["demo"]
        assert isinstance(hint, dict)
        return str(hint["password"])


def is_there(pid: int) -> bool:
    return any(runs(pid, name) for name in ("workshop.wsgi:application", "demo.price_feed")) or any(
        word.startswith("--datadir=") for word in _words(pid)
    )  # fmt: skip


def _words(pid: int) -> list[str]:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes().decode().split("\0")
    except OSError:
        return []


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Demo]:
    """One folder for all: it is loaded once, and each test starts it where the one before left it."""
    made = Demo(tmp_path_factory.mktemp("demo"))
    yield made
    if made.process.poll() is None:
        made.process.send_signal(signal.SIGINT)
        made.process.wait(timeout=PATIENCE)


def test_killed_and_started_again_it_ends_its_orphans_and_goes_on(demo: Demo) -> None:
    demo.start()
    assert stat.S_IMODE(demo.var.stat().st_mode) == 0o700
    assert stat.S_IMODE((demo.var / "db").stat().st_mode) == 0o700
    version = demo.ask("/health")[1]["version"]
    assert demo.ask("/ready") == (200, {"ready": True, "version": version, "backup_age_h": None})
    password, before = demo.sign_in(), demo.pids()
    assert "runs already" in demo.refused("--port", str(free_port()))
    assert "runs already" in demo.refused("--reset")

    demo.process.kill()
    demo.process.wait()
    assert all(is_there(pid) for pid in before.values())
    demo.start()
    assert "A database that was left running is ended first." in demo.log.read_text()
    assert "An application that was left running is ended first." in demo.log.read_text()
    assert "is taken" not in demo.log.read_text()
    assert not any(is_there(pid) for pid in before.values())
    assert (demo.sign_in(), demo.ask("/ready")[0]) == (password, 200)

    database = demo.pids()["database"]
    os.kill(database, signal.SIGKILL)
    wait_until("the database is revived", lambda: "it is started again" in demo.log.read_text())
    wait_until("it is ready again", lambda: demo.ask("/ready")[0] == 200)
    assert demo.pids()["database"] != database

    last = demo.pids()
    demo.process.send_signal(signal.SIGINT)
    assert demo.process.wait(timeout=PATIENCE) == 0
    assert not any(is_there(pid) for pid in last.values())


def test_reset_after_a_kill_ends_the_orphans_too(demo: Demo) -> None:
    demo.start()
    left = demo.pids()
    demo.process.kill()
    demo.process.wait()
    assert demo.refused("--reset") == ""
    assert not any(is_there(pid) for pid in left.values())
    assert not (demo.var / "db").exists()


def test_only_a_server_over_this_very_folder_is_an_orphan_of_it(mariadb: Database, tmp_path: Path) -> None:
    from tools import mariadb as module

    assert module.orphan_of(mariadb.folder) == mariadb.process.pid
    pid_file = mariadb.folder / "pid"
    kept = pid_file.read_text()
    pid_file.unlink()  # ended so early that it wrote none
    assert module.orphan_of(mariadb.folder) == mariadb.process.pid
    pid_file.write_text(kept)
    assert module.orphan_of(tmp_path / "db") is None
    assert not module.end_orphan(tmp_path / "db")


def test_no_password_stands_on_a_command_line(mariadb: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    from tools import mariadb as module

    seen: list[list[str]] = []
    real = subprocess.run

    def watched(command: list[str], **options: object) -> object:
        seen.append(command)
        return real(command, **options)  # type: ignore[call-overload]

    monkeypatch.setattr(subprocess, "run", watched)
    module._grant(mariadb)
    assert seen
    assert not any(mariadb.password in word for command in seen for word in command)
    environ = Path(f"/proc/{mariadb.process.pid}/cmdline").read_bytes().decode()
    assert mariadb.password not in environ


def test_a_log_is_shown_where_the_server_does_not_start(tmp_path: Path) -> None:
    folder = tmp_path / "db"
    (folder / "data" / "mysql").mkdir(parents=True)
    with pytest.raises(SystemExit) as problem:
        mariadb.start(folder, for_tests=True)
    assert "its log says" in str(problem.value)
    assert len(str(problem.value)) > 200


def test_a_short_place_that_another_could_look_into_is_not_used(tmp_path: Path) -> None:
    deep = tmp_path / ("d" * 60) / ("e" * 60)
    short = mariadb._socket_for(deep).parent
    assert stat.S_IMODE(short.stat().st_mode) == 0o700
    assert mariadb._socket_for(deep).parent == short
    short.chmod(0o755)
    with pytest.raises(SystemExit, match="not ours alone"):
        mariadb._socket_for(deep)
    short.rmdir()


ORDINARY = """
import sys
from pathlib import Path
from tools.mariadb import start
database = start(Path(sys.argv[1]), for_tests=True)
try:
    print(database.query("SELECT CURRENT_USER()").strip())
    print(database.query("SELECT user FROM mysql.user WHERE user = 'plain_shank'").strip())
finally:
    database.stop()
"""


def test_an_ordinary_user_starts_it_whatever_the_environment_says_of_their_name() -> None:
    root = os.getuid() == 0
    someone = pwd.getpwnam("nobody") if root else pwd.getpwuid(os.getuid())
    folder = Path(tempfile.mkdtemp(prefix="ps my shop "))  # tmp_path is closed to others
    try:
        (folder / "tools").mkdir()
        for name in ("__init__.py", "mariadb.py"):
            shutil.copy(ROOT / "tools" / name, folder / "tools" / name)
        become = {"user": someone.pw_uid, "group": someone.pw_gid, "extra_groups": list[int]()} if root else {}
        if root:
            os.chown(folder, someone.pw_uid, someone.pw_gid)
        done = subprocess.run(
            ["/usr/bin/python3" if root else sys.executable, "-c", ORDINARY, str(folder / "db")],
            cwd=folder, env={"PATH": "/usr/bin:/bin", "LOGNAME": "somebody-else", "USER": "root"},
            capture_output=True, text=True, check=False, **become,
        )  # fmt: skip
        assert done.stdout.split() == [f"{someone.pw_name}@localhost", "plain_shank"], done.stdout + done.stderr
    finally:
        shutil.rmtree(folder)


@pytest.mark.parametrize("moment", ["_wait", "_grant"])
def test_a_start_that_fails_or_is_ended_while_it_waits_leaves_no_server(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, moment: str
) -> None:
    left: list[Database] = []

    def ended(database: Database) -> None:
        assert database.is_alive()
        left.append(database)
        raise KeyboardInterrupt

    monkeypatch.setattr(mariadb, moment, ended)
    with pytest.raises(KeyboardInterrupt):
        mariadb.start(tmp_path / "db", for_tests=True)
    assert not left[0].is_alive()
    assert mariadb.orphan_of(tmp_path / "db") is None


@pytest.mark.parametrize("fails", [1, 9], ids=["once", "always"])
def test_a_database_that_could_not_be_made_is_tried_once_more(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, fails: int
) -> None:
    """Debian's script can fail though nothing is wrong: once that costs a second, twice it is said."""
    real, script, tries = mariadb.tool("mariadb-install-db"), tmp_path / "install", tmp_path / "tries"
    script.write_text(
        f"""#!/bin/bash
echo >> '{tries}'; if [ $(wc -l < '{tries}') -le {fails} ]; then
  for one in "$@"; do case "$one" in --datadir=*) mkdir -p "${{one#--datadir=}}/mysql";; esac; done
  echo 'the server went away'; exit 1
fi
exec '{real}' "$@"
"""
    )
    script.chmod(0o755)
    monkeypatch.setattr(
        mariadb, "tool", lambda name, real=mariadb.tool: str(script) if "install" in name else real(name)
    )
    if fails > 1:
        with pytest.raises(SystemExit, match="the server went away"):
            mariadb.start(tmp_path / "db", for_tests=True)
        assert not (tmp_path / "db" / "data.new").exists()
        return
    database = mariadb.start(tmp_path / "db", for_tests=True)
    try:
        assert database.query("SELECT 1").strip() == "1"
    finally:
        database.stop()


def test_a_folder_with_a_blank_serves_whoever_runs_this_too(tmp_path: Path) -> None:
    """Root's way through Debian's script is another than a user's."""
    database = mariadb.start(tmp_path / "my shop" / "db", for_tests=True)
    try:
        assert database.query("SELECT 1").strip() == "1"
    finally:
        database.stop()


def test_without_sudo_it_says_in_one_line_what_root_runs(tmp_path: Path) -> None:
    """A machine that has nothing of it, and a user who may not install: the tools it asks for are not on its PATH."""
    for name in ("dirname", "id", "sort", "printf", "python3"):
        (tmp_path / name).symlink_to(f"/usr/bin/{name}")
    script = (ROOT / "tools" / "system.sh").read_text().replace('PATH="$PATH:/usr/sbin:/sbin"', "id() { echo 1000; }")
    (tmp_path / "tools").mkdir()
    (tmp_path / "tools" / "system.sh").write_text(script)
    done = subprocess.run(
        ["/bin/bash", str(tmp_path / "tools" / "system.sh"), "app"],
        env={"PATH": str(tmp_path)}, stdin=subprocess.DEVNULL, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 1
    asked = "Run as root, then again: apt-get update && apt-get install -y --no-install-recommends "
    assert done.stderr.startswith(asked)
    assert done.stderr.count("\n") == 1
    assert {"mariadb-server-core", "mariadb-client", "libmariadb-dev", "gcc"} <= set(done.stderr.split())
    assert "mariadb-server" not in done.stderr.split()


def test_a_folder_may_have_a_blank_in_its_name() -> None:
    """A path of a URL is no path of a file: it has %20 where the file has a blank."""
    for config in (ROOT / "web").glob("*.config.*"):
        assert ".pathname" not in config.read_text(), config.name
