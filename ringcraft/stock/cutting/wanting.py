"""The blanks that are wanted, one by one, and who is served first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.stock.cutting.asking import CutRequest


@dataclass(frozen=True)
class Wanted:
    """A blank that is wanted, one of its count."""

    id: str
    length_mm: float
    width_mm: float
    due: str
    along: bool


def wanted_of(asked: CutRequest) -> list[Wanted]:
    """Every blank that is asked for."""
    return [
        Wanted(one.id, one.length_mm, one.width_mm or 0.0, one.due, one.direction == "along")
        for one in asked.blanks
        for _ in range(one.count)
    ]


def order_of(wanted: Sequence[Wanted]) -> list[int]:
    """Who is served first where not all go: what is due first, then the longest; what has no day comes last."""
    return sorted(range(len(wanted)), key=lambda at: (not wanted[at].due, wanted[at].due, -wanted[at].length_mm, at))


def marks(begin_mm: float, lengths: Sequence[float], kerf_mm: float) -> tuple[float, ...]:
    """Where each blank ends, from the left end: the saw goes on the right of the line and takes one kerf."""
    out, at = [], begin_mm
    for length in lengths:
        at += length
        out.append(round(at, 6))
        at += kerf_mm
    return tuple(out)
