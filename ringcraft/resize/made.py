"""What saw and file really took at the joint of a ring that is resized, and where it closes then."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ringcraft.planning.ledger import total, worded
from ringcraft.planning.made import made_at
from ringcraft.resize.advice import Judged
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import Weighed, bring
from ringcraft.resize.passes import RING, beyond, passes_made
from ringcraft.routes.building import times
from ringcraft.units import capital


def as_made(case: Case, judged: Judged) -> Judged:
    """A way as it was really made: it closes where its joint lets it, and is brought to its size from there.

    A ring that is only joined again is told anew, for what is lost is its whole story.
    """
    off = beyond(case, judged.method, judged.weighed)
    if not off or not judged.method.torch:
        return judged
    if judged.method.key == "rejoin":
        passes = passes_made(case, case.order.join.saw_passes)
        join = replace(case.order.join, saw_passes=passes)
        return _told(case, judged, judged.method.weigh(replace(case, order=replace(case.order, join=join))))
    was = judged.weighed
    closes = was.closes_mm - off / math.pi
    sizing = bring(case, closes)
    says = tuple(sizing.says if one == was.sizing.says else one for one in was.says)
    return _told(case, judged, replace(was, closes_mm=closes, sizing=sizing, says=says))


def _told(case: Case, judged: Judged, weighed: Weighed) -> Judged:
    """A way with another outcome: its view tells that."""
    view = replace(
        judged.view,
        figures=weighed.figures,
        terms=worded(weighed.terms, case.order.units),
        sum_text=f"{case.length(total(weighed.terms)):.2f}",
        lead=weighed.lead,
        says=weighed.says,
    )
    if judged.method.key == "rejoin":
        view = replace(view, why=tuple(capital(one) for one in weighed.why))
    return replace(judged, weighed=weighed, view=view)


def file_facts(case: Case) -> dict[str, Any]:
    """What the file took at the closed joint, where it took anything."""
    filed = made_at(case.order.made, RING).filed_mm
    count = 1 if filed else 0
    return {"file_mm": filed, "file_passes": count, "file_times": times(count), "filed_joint": filed > 0}
