"""Debian's headless Chromium under Playwright, as the tests, the screenshots and the benchmarks start it."""

from __future__ import annotations

import os
import shutil
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


def launch_arguments() -> dict[str, Any]:
    """Arguments of ``chromium.launch``."""
    found = shutil.which("chromium", path=f"{os.environ.get('PATH', '')}:/usr/bin")
    if found is None:
        raise SystemExit("chromium is not installed: run make system-test, or install Debian's chromium.")
    sandbox = ["--no-sandbox"] if os.getuid() == 0 else []
    return {"executable_path": found, "args": [*FLAGS, *sandbox], "headless": True}
