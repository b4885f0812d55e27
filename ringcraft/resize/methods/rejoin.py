"""The same size again: an open seam, or a bad joint cut out. What the passes take is given back."""

from __future__ import annotations

import math

from ringcraft.planning.ledger import Term
from ringcraft.planning.sizing import Sizing
from ringcraft.resize.case import US_MM, Case
from ringcraft.resize.methods.base import Method, Weighed, lead, taper_words, true_up
from ringcraft.routes.building import times
from ringcraft.units import capital


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
        facts={"not_given_back": sizing.by == "left"},
    )  # fmt: skip


def _back(case: Case, closes: float, lost: float, strain: float) -> tuple[Sizing, str]:
    """How what is lost comes back: a stretch where the ring bears one, else a slip of stock, which is said."""
    text = case.context.target.text
    if lost < 0.01:
        return true_up(case, case.inside[0]), "nothing is lost"
    at = case.context.target.named(closes)
    why = _not_stretched(case, strain)
    if not why:
        says = f"It closes at {at}. {taper_words(case.told(lost))}"
        back = f"a stretch of {100 * strain:.1f} % brings it back to {text}"
        return Sizing(case.inside[0], "stretch", lost, text, says), back
    back = f"it stays at {at}, or a slip of stock {case.told(lost)} thick goes into the joint: {why}"
    return Sizing(closes, "left", 0.0, at, f"It should read {at}, and stays so: {why}."), back


def _not_stretched(case: Case, strain: float) -> str:
    """Why what was lost is not stretched back; empty where it is."""
    if not case.is_plain:
        return "it is not stretched with what is on it"
    if case.has("cracked"):
        return "it is not stretched, its crack would run on"
    if strain > case.stretch_limits[0]:
        return f"a stretch of {100 * strain:.1f} % is more than it bears as it is"
    return ""


METHOD = Method("rejoin", "join it again", True, 2, "resize-rejoin", _suits, _weigh)
