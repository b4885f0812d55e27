"""Larger by setting a piece in: one cut, opened, a piece of the same alloy, two joints."""

from __future__ import annotations

import math

from ringcraft.planning.ledger import Term
from ringcraft.resize.case import US_MM, Case
from ringcraft.resize.methods.base import Insert, Method, Value, Weighed, lead, true_up


def _suits(case: Case) -> bool:
    return case.change_mm > 0 and not case.is_same_size


def insert_figures(case: Case, length_mm: float) -> dict[str, Value]:
    """A piece set in [mm] at the three radii of the new ring, and its ends' angle off square [degrees]."""
    return {
        "insert_outside_mm": length_mm * case.outside_share(True),
        "insert_inside_mm": length_mm * case.inside_share(True),
        "end_angle_deg": math.degrees(length_mm / case.radius[1] / 2),
    }


def joint_losses(case: Case, cuts: int) -> tuple[Term, ...]:
    """What cuts, squaring and passes through the seams take from the old ring, which the piece set in makes good."""
    join, kerf = case.order.join, case.kerf_mm
    opening = "the opening cut" if cuts == 1 else "the two opening cuts"
    out = [Term("kerf", "opening", cuts * kerf, f"{opening} with {join.blade}")]
    if join.faces_mm:
        out.append(Term("file", "faces", 2 * join.faces_mm, "squaring the ring's two faces with the file"))
    if join.seam_passes:
        out.append(Term("seam", "seams", 2 * join.seam_passes * kerf, "sawn through each of the two closed seams"))
    return tuple(out)


def cut_terms(case: Case, terms: tuple[Term, ...]) -> tuple[Term, ...]:
    """The ledger of the blank: the finished piece, and what squaring its own two ends takes."""
    faces = case.order.join.faces_mm
    return (*terms, Term("trim", "own ends", 2 * faces, "its own two ends, squared")) if faces else terms


def _weigh(case: Case) -> Weighed:
    change, at = case.change_mm, case.now_named(case.inside[0])
    target = case.context.target.text
    terms = (
        Term("change", "change", change, f"from {at} to {target}, along the neutral line"),
        *joint_losses(case, 1),
    )
    length = math.fsum(term.mm for term in terms)
    figures: dict[str, Value] = {
        "insert_mm": length,
        "insert_cut_mm": length + 2 * case.order.join.faces_mm,
        **insert_figures(case, length),
        "gap_mm": length,
    }
    words, notes = _at_hand(case, length, figures)
    outside = figures["insert_outside_mm"] or 0.0
    return Weighed(
        figures=figures,
        terms=terms,
        why=(
            f"two joints, {case.seam_place}; {case.metal.title if case.is_known else 'metal'} of the same alloy and "
            "colour, at least as wide and thick",
            *notes,
        ),
        lead=lead(case, length, "in", "to set in"),
        says=(
            f"Cut it {case.seam_place}, open it to {case.told(length)} and set in a piece {case.told(length)} "
            f"long at the neutral line, {case.told(outside)} outside; "
            f"its ends {figures['end_angle_deg']:.1f}° off square.",
            *words,
        ),
        closes_mm=case.inside[1],
        sizing=true_up(case, case.inside[1]),
        insert=Insert("insert", length, cut_terms(case, terms)),
        facts={"insert_over_third": length > case.neutral[1] / 3},
        words={"insert": case.told(length)},
    )


def _at_hand(case: Case, length: float, figures: dict[str, Value]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What a piece at hand would do: how much it is short, and at which size the ring would then come out."""
    piece = case.order.piece
    if piece is None:
        return (), ()
    have = piece.length_mm / (case.outside_share(True) if piece.at == "outside" else 1.0)
    short = max(length - have, 0.0)
    figures["piece_short_mm"], figures["piece_short_us"] = short, short / US_MM
    notes = []
    section = case.section
    for name, has, needs in (
        ("narrower", piece.width_mm, section.width_mm),
        ("thinner", piece.thickness_mm, section.thickness_mm),
    ):
        if has is not None and has < needs - 0.005:
            notes.append(f"the piece at hand is {name} than the shank: {case.told(has)} for {case.told(needs)}")
    if short <= 0.01:
        return ("The piece at hand is long enough: file it to that.",), tuple(notes)
    then = case.context.target.named(case.inside[1] - short / math.pi)
    said = f"The piece at hand is {case.told(short)} short: with it this ring would come out at {then}."
    return (said,), tuple(notes)


METHOD = Method("add-stock", "add a piece", True, 2, "resize-insert", _suits, _weigh)
