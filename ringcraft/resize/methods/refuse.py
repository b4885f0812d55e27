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
    if case.has("soft-solder"):
        out.append("have all the soft solder taken off, with file and acid, then ask again")
    if case.change_mm < 0:
        if _bears_beads(case):
            out.append("two sizing beads inside the shank")
        out.append("a spring insert, pressed in cold")
    out.append("make it anew in the right size" + (", with its stones" if case.order.stones else ""))
    return tuple(out)


#: What speaks against a bead: it is soldered in, so it is no answer to heat.
NO_BEADS = {"soft-solder", "plated-base", "filled", "inlay", "eternity", "tension-set", "hollow",
            "two-tone", "two-tone-head", "unsizeable-metal"}  # fmt: skip


def _bears_beads(case: Case) -> bool:
    bare = not case.order.stones and not set(case.order.features) & NO_BEADS
    return bare and case.is_known and case.metal.key not in BARRED


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
