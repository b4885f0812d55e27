"""What stands before the nodes: processes of the application, and HAProxy, which sends on to those that are ready."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path

from tools.mariadb import SBIN

ROOT = Path(__file__).resolve().parents[2]
APPLICATION = "workshop.wsgi:application"
#: HAProxy asks each process once a second whether it is ready: two answers that are none take it out, one brings it
#: back. A request that no process has been given yet goes to another one; what one had begun is never sent twice by
#: it: whoever asked sends it again, with its key.
BALANCER = """\
global
  maxconn 400
  log stderr format raw local0 err
defaults
  mode http
  timeout connect 1s
  timeout client 75s
  timeout server 40s
  timeout check 4s
  option redispatch 1
  retries 2
frontend address
  bind {listen}
  default_backend application
backend application
  balance roundrobin
  option forwardfor
  option httpchk
  http-check send meth GET uri /ready hdr Host {host}
  http-check expect status 200
  default-server check inter 1s fall 2 rise 1 on-marked-down shutdown-sessions
{servers}
"""


@dataclass
class Application:
    """One process of the application, with its workers: where it listens, and in which network it runs."""

    name: str
    host: str
    port: int
    environment: dict[str, str] = field(repr=False)
    within: tuple[str, ...] = ()
    source: Path = ROOT
    log: Path = Path(os.devnull)
    pid: Path | None = None
    process: subprocess.Popen[bytes] | None = field(default=None, repr=False)

    @property
    def address(self) -> str:
        """Where the balancer reaches it."""
        return f"{self.host}:{self.port}"

    def start(self) -> None:
        """Start it; whoever asks waits for ``/ready``."""
        command = [
            *self.within, sys.executable, "-m", "gunicorn", APPLICATION,
            "--config", str(self.source / "gunicorn.conf.py"), "--bind", self.address,
            "--workers", "2", "--threads", "8", "--preload", "--no-control-socket", "--log-level", "warning",
            "--graceful-timeout", "20", *(("--pid", str(self.pid)) if self.pid else ()),
        ]  # fmt: skip
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(
                command, cwd=self.source, env=self.environment, start_new_session=True, stderr=log, stdout=log
            )

    def why_not(self) -> str:
        """Why it cannot serve, in its own words; empty where it can."""
        try:
            with urllib.request.urlopen(f"http://{self.address}/ready", timeout=10):
                return ""
        except urllib.error.HTTPError as problem:
            return problem.read().decode(errors="replace")[:300]
        except OSError as problem:
            return str(problem) or "it does not answer"

    def is_alive(self) -> bool:
        """Whether its process is there."""
        return self.process is not None and self.process.poll() is None

    def kill(self) -> None:
        """End it at once, its workers too, as a machine that is switched off would."""
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()

    def stop(self) -> None:
        """Stop it: what it has begun is answered first."""
        if self.process is not None and self.process.poll() is None:
            self.process.send_signal(signal.SIGTERM)
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(timeout=40)
        self.kill()


def until_ready(applications: list[Application], seconds: float = 180) -> None:
    """Wait until all of them can serve; raises SystemExit with the words of one that cannot."""
    until = time.monotonic() + seconds
    for one in applications:
        while (why := one.why_not()) and one.is_alive() and time.monotonic() < until:
            time.sleep(0.2)
        if why:
            raise SystemExit(f"{one.name} is not ready: {why}")


def _haproxy() -> str:
    found = shutil.which("haproxy", path=f"{os.environ.get('PATH', '')}:{SBIN}")
    if found is None:
        raise SystemExit("HAProxy is not installed: run tools/system.sh cluster.")
    return found


class Balancer:
    """HAProxy on one address, before some processes of the application."""

    def __init__(self, folder: Path, listen: str, applications: list[Application]) -> None:
        servers = "\n".join(f"  server {one.name} {one.address}" for one in applications)
        self.config, self.pid = folder / "haproxy.cfg", folder / "haproxy.pid"
        self.config.write_text(BALANCER.format(listen=listen, servers=servers, host=applications[0].host))
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start it in the foreground of this program."""
        self.process = subprocess.Popen(
            [_haproxy(), "-db", "-f", str(self.config), "-p", str(self.pid)], start_new_session=True,
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip

    def is_alive(self) -> bool:
        """Whether its process is there."""
        return self.process is not None and self.process.poll() is None

    def stop(self) -> None:
        """End it."""
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()
            self.process.wait(timeout=20)
