"""Passes of the saw at the joints of a ring that is resized: planned, made, and what that takes."""

from __future__ import annotations

from ringcraft.planning.made import beyond_mm, made_at
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import Method, Weighed

RING = "ring"


def planned_passes(case: Case, weighed: Weighed) -> int:
    """How many passes of the saw through closed joints a way plans, of both seams of an insert in all."""
    sawn = weighed.figures.get("saw_times")
    if sawn is not None:  # the first of them opens it, unless its seam is open already
        return int(sawn) if case.order.seam_open else int(sawn) - 1
    if weighed.insert is not None:
        return 2 * case.order.join.seam_passes
    return case.order.join.saw_passes


def beyond(case: Case, method: Method, weighed: Weighed) -> float:
    """What saw and file took beyond the plan [mm]; nothing of a way without a joint."""
    if not method.torch:
        return 0.0
    return beyond_mm(made_at(case.order.made, RING), planned_passes(case, weighed), case.kerf_mm)


def passes_made(case: Case, planned: int) -> int:
    """The passes that were made, or that are planned."""
    made = made_at(case.order.made, RING).passes
    return planned if made is None else made
