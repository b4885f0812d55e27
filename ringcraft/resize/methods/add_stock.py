"""Larger by setting a piece in: one cut, opened, a piece of the same alloy, two joints."""

from __future__ import annotations

import math

from ringcraft.planning.ledger import Term
from ringcraft.resize.case import US_MM, Case
from ringcraft.resize.inserts import cut_terms, how_words, insert_figures, losses, read_off_mm, straight
from ringcraft.resize.methods.base import Insert, Method, Value, Weighed, lead, true_up
from ringcraft.resize.serving import CLOSE_MM, SAME_SECTION_MM


def _suits(case: Case) -> bool:
    return case.change_mm > 0 and not case.is_same_size


def _weigh(case: Case) -> Weighed:
    change, at = case.change_mm, case.now_named(case.inside[0])
    target, cuts = case.context.target.text, 0 if case.order.seam_open else 1
    planned = change + math.fsum(term.mm for term in losses(case, cuts))
    off = read_off_mm(case, planned, 1)
    terms = (
        Term("change", "change", change, f"from {at} to {target}, along the neutral line"),
        *losses(case, cuts, off),
    )
    length = math.fsum(term.mm for term in terms)
    figures: dict[str, Value] = {
        "insert_mm": length,
        "insert_cut_mm": length + 2 * case.order.join.faces_mm,
        **insert_figures(case, length),
        "gap_mm": length,
    }
    words, notes = _at_hand(case, length, figures)
    opens = f"Cut it {case.seam_place}, open" if cuts else "Its seam is open: open"
    where = case.seam_place if cuts else "at its open seam"
    return Weighed(
        figures=figures,
        terms=terms,
        why=(
            f"two joints, {where}; {case.metal.title if case.is_known else 'metal'} of the same alloy and "
            "colour, at least as wide and thick",
            *notes,
        ),
        lead=lead(case, length, "in", "to set in"),
        says=(
            f"{opens} it to {case.told(length)} and set in a piece {case.told(length)} long at the neutral line.",
            how_words(case, length),
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
    section, one = case.section, straight(case, length)
    thick = one.thick_mm if one else section.thickness_mm
    notes, unfit = [], []
    for name, has, needs in (("narrow", piece.width_mm, section.width_mm), ("thin", piece.thickness_mm, thick)):
        if has is None or has >= needs - 0.005:
            continue
        than = {"narrow": "narrower", "thin": "thinner"}[name]
        notes.append(f"the piece at hand is {than} than what it takes: {case.told(has)} for {case.told(needs)}")
        if has < needs - SAME_SECTION_MM:
            unfit.append(f"too {name}, {case.told(has)} for {case.told(needs)}")
    if unfit:
        return (f"The piece at hand does not serve: {' and '.join(unfit)}.",), tuple(notes)
    if short <= CLOSE_MM:
        return ("The piece at hand is long enough: file it to that.",), tuple(notes)
    then = case.context.target.named(case.inside[1] - short / math.pi)
    said = f"The piece at hand is {case.told(short)} short: with it this ring would come out at {then}."
    return (said,), tuple(notes)


METHOD = Method("add-stock", "add a piece", True, 2, "resize-insert", _suits, _weigh)
