"""Not to be sized here: said with its reasons, and with what can be done instead."""

from __future__ import annotations

from ringcraft.metals import BARRED
from ringcraft.planning.sizing import Sizing
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import Lead, Method, Weighed


def instead(case: Case) -> tuple[str, ...]:
    """What can be done for this finger and this ring instead of sizing it."""
    out = []
    if not case.is_known:
        out.append("test the metal, then ask again")
    if any(stone.glued for stone in case.order.stones):
        out.append("have the glued stone taken off and set anew")
    barred = case.metal.key in BARRED
    if case.change_mm < 0:
        out.append("a spring insert inside" if barred else "two sizing beads inside the shank")
        if not barred and not case.has("inlay"):
            out.append("a spring insert that opens over the knuckle")
    out.append("make it anew in the right size" + (", with its stones" if case.order.stones else ""))
    return tuple(out)


def _weigh(case: Case) -> Weighed:
    ways = instead(case)
    text = case.now_named(case.inside[0])
    return Weighed(
        why=(f"instead: {'; '.join(ways)}",),
        lead=Lead("leave it", "as it is", "not to be sized"),
        says=("Do not size it.", f"Instead: {'; '.join(ways)}."),
        closes_mm=case.inside[0],
        sizing=Sizing(case.inside[0], "left", 0.0, text, f"It stays at {text}."),
    )


METHOD = Method("refuse", "refuse", False, 4, "resize-refuse", lambda case: True, _weigh)
