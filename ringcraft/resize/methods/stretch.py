"""Larger without heat: driven down the mandrel. Only plain, unset, sound bands, about half a size."""

from __future__ import annotations

from ringcraft.planning.ledger import Term
from ringcraft.planning.sizing import Sizing
from ringcraft.resize.case import Case
from ringcraft.resize.methods.base import Method, Weighed, lead, taper_words


def _suits(case: Case) -> bool:
    return case.change_mm > 0 and not case.is_same_size


def _weigh(case: Case) -> Weighed:
    change, strain = case.change_mm, case.strain
    target, at = case.context.target.text, case.now_named(case.inside[0])
    after = case.told(case.thickness_after_mm)
    return Weighed(
        figures={"strain": strain, "thickness_after_mm": case.thickness_after_mm},
        terms=(Term("change", "change", change, f"from {at} to {target}, along the neutral line"),),
        why=(f"no heat and no joint: {100 * strain:.1f} % longer, the wall {after} after",),
        lead=lead(case, change, "round", "to stretch"),
        says=(f"Stretch it from {at} to {target}: {100 * strain:.1f} %. Its thinnest place comes to {after}.",),
        closes_mm=case.inside[0],
        sizing=Sizing(case.inside[1], "stretch", change, target, f"It reads {at}. {taper_words(case.told(change))}"),
    )


METHOD = Method("stretch", "stretch", False, 0, "resize-cold", _suits, _weigh)
