"""A new version comes in on one machine after the other while people work; one that must not says so."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tools.cluster.networks import HERE
from tools.cluster.serving import until_ready
from tools.cluster.work import longest_wait
from tools.shop.assets import keep_assets
from tools.shop.install import SKIPPED

if TYPE_CHECKING:
    from tools.cluster.test import Machines

LEFT_OUT = shutil.ignore_patterns("static", *SKIPPED)
MIGRATION = """\
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("core", {before!r})]
    operations = [{operation}]
"""
MOST_S = 5.0


def roll(machines: Machines, folder: Path, seed: int) -> None:
    """Make a version out of the one that runs, look that it may come in, and bring it in; raises SystemExit."""
    before = machines.applications[0].source
    shutil.copytree(before, folder, ignore=LEFT_OUT, symlinks=True)
    stops = _migration(folder, f"009{seed + 1}_stops", "migrations.RemoveField('turn', 'after')")
    said = _may_roll(machines, folder)
    if said["rolls"] or "after" not in str(said["why"]):
        raise SystemExit(f"a version that takes a column away was let in: {said}")
    stops.unlink()
    adds = f"migrations.AddField('turn', 'trial_{seed}', models.IntegerField(db_default=7))"
    _migration(folder, f"009{seed}_trial", adds)
    said = _may_roll(machines, folder)
    if not said["rolls"] or len(said["waiting"]) != 1:
        raise SystemExit(f"a version that only adds was not let in: {said}")
    gone = next((folder / "web/dist/assets").glob("*.js"))
    gone.unlink()  # a page of the version before still asks for it
    begun = time.monotonic()
    _manage(machines, folder, "migrate", "--no-input")
    _manage(machines, folder, "collectstatic", "--no-input", "-v0")
    if keep_assets(before, folder / "static") < 1:
        raise SystemExit("no file of the version before was kept")
    for one in machines.applications:
        one.stop()
        one.source, one.environment = folder, {**one.environment, "PLAIN_SHANK_STATIC_ROOT": str(folder / "static")}
        one.start()
        until_ready([one])
        time.sleep(2.5)  # the balancer has seen that it is back
    with urllib.request.urlopen(f"http://{HERE}:8420/static/assets/{gone.name}", timeout=20) as answer:
        if answer.status != 200:
            raise SystemExit("a file of the version before is gone")
    longest = longest_wait(machines.workers or [], begun)
    print(f"  a version rolls over both: the longest wait {longest:4.1f} s (at most {MOST_S:g})", flush=True)
    if longest > MOST_S:
        raise SystemExit("somebody waited too long for the new version")


def _migration(folder: Path, name: str, operation: str) -> Path:
    others = sorted(path.stem for path in (folder / "workshop/core/migrations").glob("0*.py"))
    path = folder / "workshop/core/migrations" / f"{name}.py"
    path.write_text(MIGRATION.format(before=others[-1], operation=operation))
    return path


def _may_roll(machines: Machines, folder: Path) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(_manage(machines, folder, "may_roll"))
    return found


def _manage(machines: Machines, folder: Path, *arguments: str) -> str:
    environment = {**machines.environment(2, timeout=3600), "PLAIN_SHANK_STATIC_ROOT": str(folder / "static")}
    command = [sys.executable, "manage.py", *arguments]
    done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=False)
    if done.returncode:
        raise SystemExit(f"{arguments[0]} of the new version failed: {done.stderr[-800:]}")
    return done.stdout
