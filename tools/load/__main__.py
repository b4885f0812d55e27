"""``python -m tools.load [--before COMMIT]``: p95 of each kind of request, of this version to that of one before.

Both run over one database server, each with a demo workshop and eight people of its own; rounds of work take
turns, so that what else the machine does meets both. Speeds are ratios of one run, never figures of another day.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from tools import demo
from tools.load.people import A_MINUTE, MAKE, Measured, Person, all_at_work
from tools.mariadb import Database, free_port, start

ROOT = Path(__file__).resolve().parents[2]
BEFORE = "58b545f"  # the commit before a shop could run it for real
PEOPLE, WORD = 8, "a word for the load alone"


class Version:
    """One version of the application, with records of its own."""

    def __init__(self, source: Path, database: Database, name: str, static: Path) -> None:
        self.source, self.port, self.measured, self.name = source, free_port(), Measured(), name
        database.query(f"CREATE DATABASE `{name}`; GRANT ALL ON `{name}`.* TO plain_shank@localhost;")
        self.environment = demo.application(
            database,
            PLAIN_SHANK_DEMO=f"wren:{WORD}",
            PLAIN_SHANK_STATIC_ROOT=str(static / name),
            PLAIN_SHANK_DB_NAME=name,
            DJANGO_SETTINGS_MODULE="workshop.settings",
        )
        self.run("-m", "demo.load")
        self.run("-c", MAKE.format(people=PEOPLE, word=WORD))
        self.process = subprocess.Popen(
            [sys.executable, "-m", "gunicorn", "workshop.wsgi:application", "--bind", f"127.0.0.1:{self.port}",
             "--workers", "2", "--threads", "4", "--log-level", "warning", "--preload", "--no-control-socket"],
            cwd=source, env=self.environment, start_new_session=True, stderr=subprocess.DEVNULL,
        )  # fmt: skip

    def people_come(self) -> None:
        """Eight of them sign in, each with a ring on the bench."""
        demo.wait_for(self.port, self.process)
        url = f"http://127.0.0.1:{self.port}"
        self.people = [Person(url, f"load{nth}", WORD, nth) for nth in range(PEOPLE)]
        for person in self.people:
            person.begin()
        print(f"{self.name}: eight people at work", flush=True)

    def run(self, *arguments: str) -> None:
        """Run Python of this version over its records."""
        patient = {**self.environment, "PLAIN_SHANK_DB_TIMEOUT": "3600"}
        subprocess.run([sys.executable, *arguments], cwd=self.source, env=patient, check=True, capture_output=True)


def git(*arguments: str) -> None:
    """Ask git for something in this clone."""
    subprocess.run(["git", *arguments], cwd=ROOT, check=True, capture_output=True)


def compare(before: str, rounds: int, seconds: float, faster: float) -> float:
    """Run both, print the ratios, answer the worst."""
    folder = Path(tempfile.mkdtemp(prefix="ps-load-"))
    database, versions = start(folder / "db"), list[Version]()
    older = folder / "before"
    try:
        git("worktree", "add", "--detach", str(older), before)
        if (ROOT / "web" / "dist").is_dir():
            shutil.copytree(ROOT / "web" / "dist", older / "web" / "dist")
        for source, name in ((older, "load_before"), (ROOT, "load_now")):
            versions.append(Version(source, database, name, folder))
        for version in versions:
            version.people_come()
        for version in versions:  # what is worked out at the first request of a kind is no one's wait
            all_at_work(version.people, seconds / 2, faster, Measured())
        for nth in range(rounds):
            for version in versions if nth % 2 else reversed(versions):
                all_at_work(version.people, seconds, faster, version.measured)
            print(f"round {nth + 1} of {rounds}", flush=True)
        return told(*versions)
    finally:
        for version in versions:
            demo.stop(version.process)
        database.stop()
        git("worktree", "remove", "--force", str(older))
        shutil.rmtree(folder, ignore_errors=True)


def told(before: Version, now: Version) -> float:
    """Print p95 of each kind, now to before; the worst ratio."""
    worst = 0.0
    print(f"{'':12}{'requests':>9}{'p95 before':>12}{'p95 now':>9}{'ratio':>7}")
    for kind in A_MINUTE:
        a, b = before.measured.p95(kind), now.measured.p95(kind)
        worst = max(worst, b / a)
        print(f"{kind:12}{len(now.measured.took[kind]):9}{1000 * a:9.0f} ms{1000 * b:6.0f} ms{b / a:7.2f}")
    for version, name in ((before, "before"), (now, "now")):
        for words in version.measured.wrong[:5]:
            print(f"{name}: not answered: {words}")
    return worst


def main() -> int:
    """Compare; 1 where something takes more than 1.2 times as long, or was not answered."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--before", default=BEFORE)
    parser.add_argument("--rounds", type=int, default=4)
    parser.add_argument("--seconds", type=float, default=20)
    parser.add_argument("--faster", type=float, default=4, help="how much faster than a bench works")
    given = parser.parse_args()
    os.chdir(ROOT)
    worst = compare(given.before, given.rounds, given.seconds, given.faster)
    print(f"the worst: {worst:.2f} (at most 1.20)")
    return int(worst > 1.2)


if __name__ == "__main__":
    sys.exit(main())
