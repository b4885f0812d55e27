"""The files that pages of the version before still ask for, kept beside those of the new one."""

from __future__ import annotations

import shutil
from pathlib import Path


def keep_assets(before: Path, static: Path) -> int:
    """Put the hashed files of a release's front end beside those in ``static``; how many were not there.

    Each bears a name of its own, so none is overwritten. Only the version before keeps its files: those that it kept
    of the one before that are not among its own.
    """
    kept = 0
    for path in sorted((before / "web/dist/assets").glob("*")):
        there = static / "assets" / path.name
        if path.is_file() and not there.exists():
            there.parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(path, there)
            there.chmod(0o644)
            kept += 1
    return kept
