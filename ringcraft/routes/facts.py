"""The facts of a case that a route's lines are filled with: words, conditions and expected figures."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Facts:
    """``words`` fill {names}, ``holds`` decide {when}, ``expected`` are figures with their text."""

    words: Mapping[str, str]
    holds: Mapping[str, bool]
    expected: Mapping[str, tuple[float | None, str]]
    papers: tuple[str, ...]
