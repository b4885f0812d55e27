"""Smaller by taking a piece out of the back: two cuts inside their lines, one joint."""

from __future__ import annotations

import math

from ringcraft.planning.ledger import Term
from ringcraft.resize.case import US_MM, Case
from ringcraft.resize.methods.base import Lead, Method, Value, Weighed, bring, lead, true_up
from ringcraft.routes.building import times


def _suits(case: Case) -> bool:
    return case.change_mm < 0 and not case.is_same_size


def _weigh(case: Case) -> Weighed:
    change, kerf, passes = -case.change_mm, case.kerf_mm, case.order.join.saw_passes
    if change <= (passes + 2) * kerf:
        return _sawn_only(case, change, kerf)
    take = change - passes * kerf
    outside, inside = take * case.outside_share(False), take * case.inside_share(False)
    piece = take - 2 * kerf
    figures: dict[str, Value] = {
        "take_out_mm": take,
        "mark_outside_mm": outside,
        "mark_inside_mm": inside,
        "piece_mm": piece,
        **_cutter(case, take, inside, outside),
        **_elements(case, change),
    }
    how = f"Set the dividers to {case.told(outside)} on the outside, {case.seam_place}; both cuts inside the lines."
    if case.order.seam_open:
        how = f"Its seam is open: half of {case.told(outside)} on the outside from either face; saw inside the lines."
    says = [
        how,
        f"It is {case.told(take)} along the neutral line; the piece that lands in the drawer is {case.told(piece)}.",
    ]
    return Weighed(
        figures=figures,
        terms=_terms(case, change),
        why=(f"one joint, {'at its open seam' if case.order.seam_open else case.seam_place}",),
        lead=lead(case, take, "out", "to take out"),
        says=tuple(says),
        closes_mm=case.inside[1],
        sizing=true_up(case, case.inside[1]),
    )


def _terms(case: Case, change: float) -> tuple[Term, ...]:
    passes = case.order.join.saw_passes
    at, target = case.now_named(case.inside[0]), case.context.target.text
    out = [Term("change", "change", change, f"from {at} to {target}, along the neutral line")]
    if passes:
        how = "once" if passes == 1 else f"{passes} times"
        why = f"sawn through the closed joint {how} with {case.order.join.blade}: that goes out too"
        out.append(Term("saw", "saw", -passes * case.kerf_mm, why))
    return tuple(out)


def _cutter(case: Case, take: float, inside: float, outside: float) -> dict[str, Value]:
    """The shop's cutter whose gap comes nearest below what is marked at the inside, and what is left to file.

    Its faces are parallel, so it takes as much outside as inside: the wedge that is left is filed or sawn.
    """
    fits = [gap for gap in case.order.cutter_gaps_mm if gap <= inside]
    if not fits or case.order.seam_open:
        return {"cutter_gap_mm": None}
    gap = max(fits)
    return {
        "cutter_bites": max(1, math.floor(inside / gap + 1e-9)),
        "cutter_gap_mm": gap,
        "cutter_rest_mm": take - gap,
        "cutter_rest_outside_mm": outside - gap,
        "cutter_rest_inside_mm": inside - gap,
    }


def pitch_mm(case: Case) -> float | None:
    """The pitch of its pattern along the neutral line [mm], at the old ring; None without one."""
    pattern = case.order.pattern
    if pattern is None:
        return None
    return pattern.pitch_mm / (case.outside_share(False) if pattern.at == "outside" else 1.0)


def _elements(case: Case, change: float) -> dict[str, Value]:
    """How many whole elements come nearest to the change, and by how many US sizes it then misses.

    Above nought the ring comes out large, below it small.
    """
    pitch = pitch_mm(case)
    if pitch is None:
        return {}
    count = max(1, round(change / pitch))
    return {"elements": count, "element_error_us": (change - count * pitch) / US_MM}


def _sawn_only(case: Case, change: float, kerf: float) -> Weighed:
    """Less than the saws themselves would take: no piece comes out, the joint is sawn through so many times."""
    count = max(1, math.floor(change / kerf + 1e-9))
    left = count * kerf - change
    closes = case.inside[1] - left / math.pi
    sizing = bring(case, closes)
    at, target = case.now_named(case.inside[0]), case.context.target.text
    figures: dict[str, Value] = {
        "take_out_mm": 0.0,
        "piece_mm": 0.0,
        "mark_outside_mm": None,
        "mark_inside_mm": None,
        "cutter_gap_mm": None,
        "saw_times": count,
        "left_mm": left,
        **_elements(case, change),
    }
    far = f", {case.told(abs(left))} round {'small' if left > 0 else 'large'} yet" if abs(left) > 0.01 else ""
    return Weighed(
        figures=figures,
        terms=(
            Term("change", "change", change, f"from {at} to {target}, along the neutral line"),
            Term("saw", "saw", -count * kerf, f"sawn through {times(count)} with {case.order.join.blade}"),
            *((Term("left", "left over", left, "what the passes take beside it"),) if abs(left) > 1e-9 else ()),
        ),
        why=(f"no piece comes out: {times(count)} through with {case.order.join.blade} takes it",),
        lead=Lead(str(count), "pass" if count == 1 else "passes", "of the saw"),
        says=(f"Saw it through {times(count)} with {case.order.join.blade}, closing it each time: nothing else{far}.",
              sizing.says),
        closes_mm=closes,
        sizing=sizing,
        facts={"no_piece": True},
    )  # fmt: skip


METHOD = Method("take-out", "take out", True, 2, "resize-take-out", _suits, _weigh)
