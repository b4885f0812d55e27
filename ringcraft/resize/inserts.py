"""A piece that is set in: how long by the plan and by the gap as it was read, bent to the curve or left straight."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.errors import OutOfRangeError
from ringcraft.planning.ledger import Term
from ringcraft.resize.case import Case, Value

STRAIGHT_MM = 0.1  # that a straight piece may stand off the inner curve, to be filed; our own judgement
FAR_OFF_MM = 1.5  # a gap read further off than this is asked about, not worked in; our own judgement


def seams_mm(case: Case) -> float:
    """What is sawn out of both closed seams of a piece set in [mm]."""
    return 2 * case.order.join.seam_passes * case.kerf_mm


def opened_radius_mm(case: Case) -> float:
    """The radius of the neutral line [mm] that the ring is bent to for the piece, with what the seams lose."""
    return (case.neutral[1] + seams_mm(case)) / math.tau


def losses(case: Case, cuts: int, read_mm: float = 0.0) -> tuple[Term, ...]:
    """What cuts, squaring and passes through the seams take from the old ring, which the piece set in makes good.

    ``read_mm`` is how much more saw and file really took, by the gap as it was read.
    """
    join, kerf = case.order.join, case.kerf_mm
    out = []
    if cuts:
        opening = "the opening cut" if cuts == 1 else "the two opening cuts"
        out.append(Term("kerf", "opening", cuts * kerf, f"{opening} with {join.blade}"))
    faces = 2 * join.faces_mm + read_mm
    if read_mm:
        out.append(Term("file", "faces", faces, "what squaring its two faces really took, by the gap as it was read"))
    elif faces:
        out.append(Term("file", "faces", faces, "squaring the ring's two faces with the file"))
    if join.seam_passes:
        out.append(Term("seam", "seams", seams_mm(case), "sawn through each of the two closed seams"))
    return tuple(out)


def read_off_mm(case: Case, length_mm: float, cuts: int) -> float:
    """How much longer [mm] the piece must be than planned, by what was read of the opened ring; nought unread.

    The gap is read straight across its inside, on the ring bent to its new size; of a ring that gets a new lower part
    the kept part is read round its outside, for a chord near the diameter says nothing.
    """
    order, radius = case.order, opened_radius_mm(case)
    e, t = case.section.neutral_mm, case.section.thickness_mm
    if cuts == 2:
        if order.kept_outside_mm is None:
            return 0.0
        off = math.tau * radius - order.kept_outside_mm * radius / (radius - e + t) - length_mm
        field = "kept_outside_mm"
    else:
        if order.gap_inside_mm is None:
            return 0.0
        share = order.gap_inside_mm / (2 * (radius - e))
        if share >= 1:
            raise OutOfRangeError(
                "gap_inside_mm", "A gap that wide leaves no ring.", "Across its inside, edge to edge."
            )
        off, field = 2 * radius * math.asin(share) - length_mm, "gap_inside_mm"
    if 2 * order.join.faces_mm + off < -1e-9:
        said = "That is less than the saw alone took: it is not bent to its new size yet."
        raise OutOfRangeError(field, said, "Bend it to its size first, then read it.")
    return off


@dataclass(frozen=True)
class Straight:
    """A piece left straight [mm]: how thick its stock is at least, and how long on its two sides."""

    thick_mm: float
    inside_mm: float
    outside_mm: float


def straight(case: Case, length_mm: float) -> Straight | None:
    """A piece so short that it is left straight, its ends filed to the radial faces; None for one that is bent.

    With half its angle a at the new ring its under side is the chord 2 Ri sin a and its stock reaches from that to
    the outside, Ro - Ri cos a; its upper side is longer by 2 t tan a.
    """
    radius = opened_radius_mm(case)
    angle = length_mm / radius / 2
    inner = radius - case.section.neutral_mm
    if inner * (1 - math.cos(angle)) > STRAIGHT_MM + 1e-9:
        return None
    thick = inner + case.section.thickness_mm - inner * math.cos(angle)
    chord = 2 * inner * math.sin(angle)
    return Straight(thick, chord, chord + 2 * thick * math.tan(angle))


def insert_figures(case: Case, length_mm: float) -> dict[str, Value]:
    """A piece set in [mm] at the three radii of the new ring, its ends' angle to the middle [degrees], and whether it
    is bent with square ends or left straight with its ends filed off square.
    """
    radius = opened_radius_mm(case)
    inner, one = radius - case.section.neutral_mm, straight(case, length_mm)
    out: dict[str, Value] = {
        "insert_outside_mm": length_mm * case.outside_share(True),
        "insert_inside_mm": length_mm * case.inside_share(True),
        "end_angle_deg": math.degrees(length_mm / case.radius[1] / 2),
        "insert": "straight" if one else "bent",
        "gap_inside_mm": 2 * inner * math.sin(min(length_mm / radius / 2, math.pi / 2)),
    }
    if one:
        out |= {
            "straight_thick_mm": one.thick_mm,
            "straight_inside_mm": one.inside_mm,
            "straight_outside_mm": one.outside_mm,
        }
    return out


def cut_terms(case: Case, terms: tuple[Term, ...]) -> tuple[Term, ...]:
    """The ledger of the blank: the finished piece, what a straight one is longer outside, what its own ends take."""
    length = math.fsum(term.mm for term in terms)
    faces, one, out = case.order.join.faces_mm, straight(case, length), list(terms)
    if one:
        why = "left straight, its ends are filed off square: it is so much longer on its outside"
        out.append(Term("bevel", "outer edge", one.outside_mm - length, why))
    if faces:
        out.append(Term("trim", "own ends", 2 * faces, "its own two ends, squared"))
    return tuple(out)


def how_words(case: Case, length_mm: float) -> str:
    """Whether a piece is bent or left straight, and why, in words."""
    one = straight(case, length_mm)
    if one is None:
        return "Bent to the new curve its square ends meet the ring's faces flat."
    deg = math.degrees(length_mm / opened_radius_mm(case) / 2)
    return (
        f"So short it is not bent: left straight, {case.told(one.inside_mm)} long inside and "
        f"{case.told(one.outside_mm)} outside, its ends {deg:.1f}° off square, of stock at least "
        f"{case.told(one.thick_mm)} thick, it is filed to both curves."
    )
