"""What a customer is told and signs for: the risks of this very ring, in plain words."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from ringcraft.resize.advice import Judged
from ringcraft.resize.case import Case
from ringcraft.resize.methods import COLD
from ringcraft.resize.stones import StoneAdvice
from ringcraft.tables import rows

Stones = Sequence[StoneAdvice]
#: When a risk is told, by the name that the table uses.
RISKS: dict[str, Callable[[Case, Judged, Stones], bool]] = {
    "always": lambda case, judged, stones: True,
    "torch": lambda case, judged, stones: judged.method.torch,
    "inserted": lambda case, judged, stones: judged.weighed.insert is not None,
    "stretched": lambda case, judged, stones: judged.method.key == "stretch",
    "stones_stay": lambda case, judged, stones: any(not one.comes_out for one in stones) and _worked(judged),
    "stones_out": lambda case, judged, stones: any(one.care == "out" for one in stones) and _worked(judged),
    "stones_loose": lambda case, judged, stones: any(one.care == "loose" for one in stones) and _worked(judged),
    "stones_off": lambda case, judged, stones: any(one.care == "off" for one in stones) and _worked(judged),
    "glued": lambda case, judged, stones: any(one.glued and not one.comes_out for one in stones),
    "treated": lambda case, judged, stones: any(one.treated for one in case.order.stones),
    "unknown_stone": lambda case, judged, stones: any(one.kind == "unknown" for one in case.order.stones),
    "engraved_cut": lambda case, judged, stones: case.has("engraved-inside") and judged.method.torch,
    "engraved_cold": lambda case, judged, stones: case.has("engraved-inside") and judged.method.key in COLD,
    "pattern": lambda case, judged, stones: case.has("pattern-all-round") and judged.method.torch,
    "plated": lambda case, judged, stones: case.is_plated and _worked(judged),
    "unknown_metal": lambda case, judged, stones: not case.is_known,
    "hollow": lambda case, judged, stones: case.has("hollow") and _worked(judged),
    "cracked": lambda case, judged, stones: case.has("cracked") and _worked(judged),
    "soft_solder": lambda case, judged, stones: case.has("soft-solder"),
    "head": lambda case, judged, stones: case.head is not None and _worked(judged),
    "overridden": lambda case, judged, stones: judged.view.advice == "never" and _worked(judged),
    "offcut_returned": lambda case, judged, stones: _has_offcut(judged) and case.order.offcut == "returned",
    "offcut_credited": lambda case, judged, stones: _has_offcut(judged) and case.order.offcut == "credited",
}
ROWS: tuple[Mapping[str, Any], ...] = tuple(rows("risks"))


def _worked(judged: Judged) -> bool:
    return judged.method.key not in ("refuse", "true-first")


def _has_offcut(judged: Judged) -> bool:
    return bool(judged.weighed.figures.get("piece_mm")) or judged.method.key == "reshank"


def risks_of(case: Case, judged: Judged, stones: Stones) -> tuple[str, ...]:
    """The risks of this ring by the way that is chosen for it, in the order of the table."""
    return tuple(row["text"] for row in ROWS if RISKS[row["when"]](case, judged, stones))
