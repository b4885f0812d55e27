"""A new lower part: for a shank worn thin, or more than about two sizes."""

from __future__ import annotations

import math

from ringcraft.planning.ledger import Term
from ringcraft.resize.case import LEAST_WALL_MM, Case
from ringcraft.resize.inserts import cut_terms, insert_figures, losses, read_off_mm
from ringcraft.resize.methods.base import Insert, Method, Value, Weighed, lead, true_up

HALF, THIRD = 0.5, 0.33  # of the new ring: the lower part that is replaced
FAR_SIZES = 3.0  # US sizes from which half of the ring is replaced; our own judgement
LEAST_UPPER = 1 / 3  # of the old ring: less to keep than this is a new ring; our own judgement


def _suits(case: Case) -> bool:
    return not case.is_same_size or case.thinnest_mm < LEAST_WALL_MM


def share_of(case: Case) -> float:
    """Which part of the new ring is replaced: half of it where it is thin or far, else a third."""
    fits_third = (1 - THIRD) * case.neutral[1] < case.neutral[0] - 2 * case.kerf_mm
    far = case.thinnest_mm < LEAST_WALL_MM or abs(case.us_sizes) > FAR_SIZES + 1e-9
    return HALF if far or not fits_third else THIRD


def _weigh(case: Case) -> Weighed:
    share = share_of(case)
    keep = (1 - share) * case.neutral[1]
    words = "half" if share == HALF else "third"
    own = Term("share", f"lower {words}", share * case.neutral[1], f"{share:g} of the new neutral line")
    planned = own.mm + math.fsum(term.mm for term in losses(case, 2))
    terms = (own, *losses(case, 2, read_off_mm(case, planned, 2)))
    length = math.fsum(term.mm for term in terms)
    figures: dict[str, Value] = {
        "share": share,
        "part_mm": length,
        "part_cut_mm": length + 2 * case.order.join.faces_mm,
        "keep_mm": keep,
        "lower_mm": case.neutral[0] - keep,
        "keep_outside_mm": keep * case.outside_share(False),
        **insert_figures(case, length),
    }
    impossible = keep >= case.neutral[0] - 2 * case.kerf_mm or keep < LEAST_UPPER * case.neutral[0]
    outside = keep * case.outside_share(False)
    return Weighed(
        figures=figures,
        terms=terms,
        why=(f"two joints; the lower {words} is new metal, at its full thickness",),
        lead=lead(case, length, "new", "of new lower part"),
        says=tuple(
            filter(
                None,
                (
                    f"Keep {case.told(keep)} of the old ring along the neutral line, {case.told(outside)} outside, "
                    f"its top in the middle; saw on the lines and set in a new part {case.told(length)} long.",
                    f"What is kept is {_bends(case)}ed to the new curve first." if abs(case.change_mm) > 0.01 else "",
                ),
            )
        ),
        closes_mm=case.inside[1],
        sizing=true_up(case, case.inside[1]),
        insert=Insert("new lower part", length, cut_terms(case, terms)),
        facts={"no_upper_part": impossible},
    )


def _bends(case: Case) -> str:
    return "open" if case.change_mm > 0 else "clos"


METHOD = Method("reshank", "new lower part", True, 3, "resize-insert", _suits, _weigh)
