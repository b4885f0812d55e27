"""A shop's own, run in the foreground: each file of tests has one of its own."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import pytest

if TYPE_CHECKING:
    from tests.tools.test_shop import Installed


@pytest.fixture(scope="module")
def shop() -> Iterator[Installed]:
    """An installation over a folder in memory, started; gone afterwards."""
    from tests.tools.test_shop import Installed

    folder = Path(tempfile.mkdtemp(prefix="ps-", dir="/dev/shm" if Path("/dev/shm").is_dir() else None))
    made = Installed(folder)
    try:
        made.ask("manage", "collectstatic", "--no-input", "-v0")
        made.start()
        yield made
    finally:
        made.stop()
        shutil.rmtree(folder, ignore_errors=True)
