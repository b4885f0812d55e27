"""Debian's headless Chromium under Playwright, as the tests, the screenshots and the benchmarks start it.

Its shell without windows draws the same pages and starts fewer processes than the whole browser.
"""

from __future__ import annotations

import os
import shutil
from datetime import UTC, datetime
from typing import Any

from playwright.sync_api import ViewportSize

FLAGS = [
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--font-render-hinting=none",
]
SIZE: ViewportSize = {"width": 1280, "height": 800}


def at_work() -> str:
    """A time zone in which it is between ten and eleven now: a working day, far from midnight."""
    ahead = (10 - datetime.now(UTC).hour + 11) % 24 - 11
    return f"Etc/GMT{-ahead:+d}" if ahead else "Etc/GMT"


def launch_arguments() -> dict[str, Any]:
    """Arguments of ``chromium.launch``."""
    path = f"{os.environ.get('PATH', '')}:/usr/bin"
    found = shutil.which("chromium-headless-shell", path=path) or shutil.which("chromium", path=path)
    if found is None:
        raise SystemExit("chromium-headless-shell is not installed: run make system-test.")
    sandbox = ["--no-sandbox"] if os.getuid() == 0 else []
    return {"executable_path": found, "args": [*FLAGS, *sandbox], "headless": True}
