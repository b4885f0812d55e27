"""The same size again: an open seam, or a bad joint cut out. What the passes take is given back."""

from __future__ import annotations

import math
from dataclasses import replace

from ringcraft.planning.ledger import Term
from ringcraft.planning.made import made_at
from ringcraft.planning.sizing import HAIR_MM, Sizing
from ringcraft.resize.case import US_MM, Case
from ringcraft.resize.methods.base import Method, Weighed, bring, lead, not_stretched, true_up
from ringcraft.routes.building import times
from ringcraft.units import capital

RING = "ring"


def _suits(case: Case) -> bool:
    return case.is_same_size


def _weigh(case: Case) -> Weighed:
    join, kerf, opened = case.order.join, case.kerf_mm, not case.order.seam_open
    terms = []
    if opened:
        terms.append(Term("kerf", "opening", kerf, f"the old joint cut out with {join.blade}"))
    if join.saw_passes:
        why = f"sawn through the closed joint {times(join.saw_passes)} with {join.blade}"
        terms.append(Term("saw", "saw", join.saw_passes * kerf, why))
    filed = made_at(case.order.made, RING).filed_mm
    if filed:
        terms.append(Term("file", "filed", filed, "what the file took at the closed joint"))
    lost = math.fsum(term.mm for term in terms)
    closes = case.inside[0] - lost / math.pi
    strain = lost / (case.neutral[0] - lost)
    sizing, back = _back(case, closes, lost, strain)
    return Weighed(
        figures={"lost_mm": lost, "lost_us_sizes": lost / US_MM, "strain": strain},
        terms=tuple(terms),
        why=(f"one joint; the passes take {case.told(lost)}, {lost / US_MM:.2f} of a US size", back),
        lead=lead(case, lost, "lost", "by joining it again"),
        says=(f"Join it again: {case.told(lost)} is lost, so it closes at {case.context.target.named(closes)}.",
              f"{capital(back)}."),
        closes_mm=closes,
        sizing=sizing,
        facts={"not_given_back": sizing.by == "left" and lost > HAIR_MM},
    )  # fmt: skip


def _back(case: Case, closes: float, lost: float, strain: float) -> tuple[Sizing, str]:
    """How what is lost comes back: a stretch where the ring bears one, else a slip of stock, which is said."""
    text = case.context.target.text
    if lost < 0.01:
        return true_up(case, case.inside[0]), "nothing is lost"
    at, wanted = case.context.target.named(closes), replace(case, inside=(case.inside[0], case.inside[0]))
    sizing = bring(wanted, closes)
    if sizing.by == "stretch":
        return sizing, f"a stretch of {100 * strain:.1f} % brings it back to {text}"
    why = not_stretched(case, strain, case.thinnest_mm)
    slip = f", or a slip of stock {case.told(lost)} thick goes into the joint" if lost > HAIR_MM else ""
    return sizing, f"it stays at {at}{slip}: {why}"


METHOD = Method("rejoin", "join it again", True, 2, "resize-rejoin", _suits, _weigh)
