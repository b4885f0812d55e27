"""Figures and rules as data. One row a record, the unit in the column's name, a source in each row."""

from __future__ import annotations

import tomllib
from functools import cache
from pathlib import Path
from typing import Any

HERE = Path(__file__).parent


@cache
def rows(table: str, key: str = "row") -> tuple[dict[str, Any], ...]:
    """The rows of ``tables/<table>.toml``, in their order."""
    with (HERE / f"{table}.toml").open("rb") as file:
        return tuple(tomllib.load(file)[key])


@cache
def record(table: str) -> dict[str, Any]:
    """The whole of ``tables/<table>.toml``, for tables that are one record."""
    with (HERE / f"{table}.toml").open("rb") as file:
        return tomllib.load(file)
