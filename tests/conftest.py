"""The tests' private MariaDB, started only when a test wants a database; the slice of the sweeps; how hypothesis runs."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from hypothesis import settings

from tests.slices import SLICE, chosen, tries
from tools.mariadb import Database, start

settings.register_profile("plain-shank", max_examples=tries(40), deadline=None)
settings.load_profile("plain-shank")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out the cases of sweeps that belong to other slices; a test that is named runs whatever its slice."""
    if any("[" in argument for argument in config.args):
        return
    swept = [item for item in items if item.get_closest_marker("sweep")]
    taken = chosen([item.nodeid for item in swept], SLICE)
    left = {item for item in swept if item.nodeid not in taken}
    if left:
        config.hook.pytest_deselected(items=list(left))
        items[:] = [item for item in items if item not in left]


@contextmanager
def private_server() -> Iterator[Database]:
    """A private server with its data in memory, gone afterwards."""
    memory = Path("/dev/shm")
    folder = Path(tempfile.mkdtemp(prefix="ps-test-", dir=memory if memory.is_dir() else None))
    try:
        database = start(folder, for_tests=True)
        try:
            yield database
        finally:
            database.stop()
    finally:
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def mariadb() -> Iterator[Database]:
    """The server of a worker's own database tests."""
    with private_server() as database:
        yield database


@pytest.fixture(scope="session")
def django_db_modify_db_settings(mariadb: Database) -> None:
    """Point Django's tests at it."""
    from django.db import connections

    found = connections["default"].settings_dict
    found["HOST"] = str(mariadb.socket)
    found["PASSWORD"] = mariadb.password
