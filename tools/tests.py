"""All checks and tests side by side on two cores, with one exit status.

One line is the tools' tests and the browser's, with the front end's checks before them; the other is Python's checks,
the front end's own tests, the heart's and the workshop's. More lines than cores make each slower, and all of them
together too. Each part says in a line how it went; what it said is printed whole at the end.
``--quick`` runs the checks and the heart alone.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

ROOT = Path(__file__).resolve().parent.parent
PYTEST = [sys.executable, "-m", "pytest"]
VENV = ROOT / ".venv" / "bin"
#: name, command, folder
PYTHON: list[tuple[str, list[str], str]] = [
    ("formatting", [str(VENV / "ruff"), "format", "--check", "."], "."),
    ("lint", [str(VENV / "ruff"), "check", "."], "."),
    ("layers", [str(VENV / "lint-imports")], "."),
    ("types", [str(VENV / "mypy")], "."),
    ("schema", [sys.executable, "-m", "tools.types", "--check"], "."),
]
WEB: list[tuple[str, list[str], str]] = [
    ("front end", ["npm", "run", "check", "--silent"], "web"),
    ("front end's tests", ["npm", "test", "--silent"], "web"),
]
HEART = [*PYTEST, "ringcraft", "tests/ringcraft", "tests/reference"]
WORKSHOP = [*PYTEST, *(f"--ignore=tests/{name}" for name in ("browser", "tools", "ringcraft", "reference")), "tests"]
TOOLS = [*PYTEST, "tests/tools"]
# a browser test waits more than it works: two at a time, each with a server and a browser of its own
BROWSER = [*PYTEST, "tests/browser", "-n", "2", "--dist", "loadfile"]


@dataclass
class Part:
    """One command of a line and how it went."""

    name: str
    command: list[str]
    folder: str = "."
    seconds: float = 0
    status: int | None = None


class Line:
    """Commands that run one after the other, their words in a file."""

    def __init__(self, parts: list[Part]) -> None:
        self.parts, self.at = parts, -1
        self.words = tempfile.TemporaryFile("w+", encoding="utf8", errors="replace")  # noqa: SIM115 (lives as long)
        self.process: subprocess.Popen[str] | None = None
        self.begun = 0.0

    def step(self) -> bool:
        """Look after the running command, start the next; False once all are done."""
        if self.process is not None:
            status = self.process.poll()
            if status is None:
                return True
            part = self.parts[self.at]
            part.seconds, part.status, self.process = time.monotonic() - self.begun, status, None
            print(f"{'passed' if status == 0 else 'FAILED'}  {part.seconds:6.1f} s  {part.name}", flush=True)
        if self.at + 1 == len(self.parts):
            return False
        self.at += 1
        part, self.begun = self.parts[self.at], time.monotonic()
        # what is compiled once serves all the processes that the tests start
        environment = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
        self.process = subprocess.Popen(
            part.command,
            cwd=ROOT / part.folder,
            env=environment,
            stdout=self.words,
            stderr=subprocess.STDOUT,
            text=True,
        )
        return True

    def said(self) -> str:
        """All that its commands said."""
        self.words.seek(0)
        return self.words.read()


def lines(quick: bool) -> list[Line]:
    """What runs side by side."""
    python, web = ([Part(*check) for check in checks] for checks in (PYTHON, WEB))
    if quick:
        return [Line([*web, *python]), Line([Part("the heart", HEART)])]
    checked, tested = web
    front = Line([checked, Part("tools", TOOLS), Part("browser", BROWSER)])
    return [front, Line([*python, tested, Part("heart, reference", HEART), Part("workshop", WORKSHOP)])]


def _stopping(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


def main() -> int:
    """Run both lines; 0 where everything passed."""
    signal.signal(signal.SIGTERM, _stopping)
    begun, running = time.monotonic(), lines("--quick" in sys.argv)
    print(f"Slice of the sweeps: {os.environ.get('SLICE') or 'all'}", flush=True)
    try:
        while [line for line in running if line.step()]:
            time.sleep(0.2)
    except BaseException as ended:
        for line in running:
            if line.process is not None:
                line.process.send_signal(signal.SIGINT)
                line.process.wait(timeout=60)
        if isinstance(ended, KeyboardInterrupt):
            return 130
        raise
    parts = [part for line in running for part in line.parts]
    for line in running:
        print(line.said(), flush=True)
    failed = [part.name for part in parts if part.status]
    print(f"{time.monotonic() - begun:.0f} s in all; failed: {', '.join(failed) or 'nothing'}")
    return 1 if failed else 0


if __name__ == "__main__":
    raise SystemExit(main())
