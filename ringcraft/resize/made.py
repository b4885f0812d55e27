"""What saw and file really took at the joint of a ring that is resized, and where it closes then."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ringcraft.planning.made import beyond_mm, made_at
from ringcraft.resize.advice import Judged
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import bring
from ringcraft.routes.building import times

RING = "ring"


def planned_passes(case: Case, judged: Judged) -> int:
    """How many passes of the saw through closed joints the way plans, of both seams of an insert in all."""
    sawn = judged.weighed.figures.get("saw_times")
    if sawn is not None:
        return int(sawn) - 1
    if judged.weighed.insert is not None:
        return 2 * case.order.join.seam_passes
    return case.order.join.saw_passes


def beyond(case: Case, judged: Judged) -> float:
    """What saw and file took beyond the plan [mm]."""
    return beyond_mm(made_at(case.order.made, RING), planned_passes(case, judged), case.kerf_mm)


def as_made(case: Case, judged: Judged) -> Judged:
    """A way as it was really made: it closes where its joint lets it, and is brought to its size from there."""
    off = beyond(case, judged)
    if not off or not judged.method.torch:
        return judged
    closes = judged.weighed.closes_mm - off / math.pi
    weighed = replace(judged.weighed, closes_mm=closes, sizing=bring(case, closes))
    return replace(judged, weighed=weighed)


def passes_made(case: Case, planned: int) -> int:
    """The passes that were made, or that are planned."""
    made = made_at(case.order.made, RING).passes
    return planned if made is None else made


def file_facts(case: Case) -> dict[str, Any]:
    """What the file took at the closed joint, where it took anything."""
    filed = made_at(case.order.made, RING).filed_mm
    count = 1 if filed else 0
    return {"file_mm": filed, "file_passes": count, "file_times": times(count), "filed_joint": filed > 0}
