"""The start command: killed and started again, a database that died alone, nothing open to others, nothing left behind."""

from __future__ import annotations

import http.client
import json
import os
import signal
import stat
import subprocess
import sys
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
        self.process = self.run("--port", str(self.port))
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
        files = {"database": self.var / "db" / "pid", "application": self.var / "application.pid"}
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
    return runs(pid, "workshop.wsgi:application") or any(
        word.startswith("--datadir=") for word in _words(pid)
    )  # fmt: skip


def _words(pid: int) -> list[str]:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes().decode().split("\0")
    except OSError:
        return []


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[Demo]:
    made = Demo(tmp_path)
    yield made
    if made.process.poll() is None:
        made.process.send_signal(signal.SIGINT)
        made.process.wait(timeout=PATIENCE)


def test_killed_and_started_again_it_ends_its_orphans_and_goes_on(demo: Demo) -> None:
    demo.start()
    assert stat.S_IMODE(demo.var.stat().st_mode) == 0o700
    assert stat.S_IMODE((demo.var / "db").stat().st_mode) == 0o700
    assert demo.ask("/ready") == (200, {"ready": True, "version": demo.ask("/health")[1]["version"]})
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


def test_a_pid_file_of_something_else_ends_nothing(tmp_path: Path) -> None:
    folder = tmp_path / "db"
    folder.mkdir()
    (folder / "pid").write_text(str(os.getpid()))
    assert mariadb.orphan_of(folder) is None
    assert not mariadb.end_orphan(folder)
    for bad in ("", "x", "-1", "999999999"):
        (folder / "pid").write_text(bad)
        assert mariadb.orphan_of(folder) is None


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
