"""No advice from a size read through daylight, or one that differs from side to side: it is trued and read again."""

from __future__ import annotations

from ringcraft.planning.sizing import Sizing
from ringcraft.resize.case import SIDES_MM, US_MM, Case
from ringcraft.resize.methods.base import Lead, Method, Weighed


def needed(case: Case) -> bool:
    """Whether its present size cannot be believed yet; what no hand sizes is not trued for it."""
    return not case.is_barred and (case.order.daylight or case.sides_apart_mm > SIDES_MM)


#: How a ring is trued: struck, or by hand where it bears no blow.
TRUE_BY = {
    False: "Push it on the mandrel, strike the gaps first, flip it, until no daylight shows; read both sides.",
    True: "Press it round on the mandrel by hand, no blow, flip it, until no daylight shows; read both sides.",
}


def _weigh(case: Case) -> Weighed:
    if case.order.daylight:
        why = "daylight shows under it: what is not round reads up to a size small"
    else:
        why = f"its two sides read {case.sides_apart_mm / US_MM:.2f} of a US size apart: it is not round, or a taper"
    text = case.now_named(case.inside[0])
    return Weighed(
        why=(why,),
        lead=Lead("true it", "first", "before any advice"),
        says=(TRUE_BY[bool(case.not_struck)],
              f"Then say what it reads: no advice follows from {text} yet."),
        closes_mm=case.inside[0],
        sizing=Sizing(case.inside[0], "true", 0.0, text, "Read it again."),
    )  # fmt: skip


METHOD = Method("true-first", "true it first", False, 0, "resize-true", needed, _weigh)
