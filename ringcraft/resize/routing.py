"""How a ring is resized: the facts of the case for its route, and how its pieces stand when it comes in."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from ringcraft.metals import UNKNOWN_SOLDER
from ringcraft.planning.blank import Blank
from ringcraft.planning.context import length_model
from ringcraft.planning.finished_size import finished_size_of
from ringcraft.planning.joints import HEAD_SEAM, OLD_SEAM, Joint
from ringcraft.planning.tolerance import spread_of
from ringcraft.resize.advice import Judged
from ringcraft.resize.case import Case
from ringcraft.resize.made import file_facts, passes_made
from ringcraft.resize.methods import COLD
from ringcraft.resize.stones import StoneAdvice, words_of
from ringcraft.routes.building import facts_of, start_of, times
from ringcraft.routes.facts import Facts, StyleFacts
from ringcraft.units import Length, capital
from ringcraft.vbench.pieces import TEXTURED, Faces, Piece, stock_piece

RING, INSERT = "ring", "insert"
CAME_IN, WORN = "as it came in", "worn"
BLEED_SHARE = 1 / 12  # of the outer circle, beside the third on either side; our own judgement
GUARD = "boric acid and anti-flux"


@dataclass(frozen=True, kw_only=True)
class ResizeFacts(StyleFacts):
    """What the route of a ring that is resized knows beside every ring's."""

    unknown_metal: bool
    tested_words: str
    thinnest: Length
    thinnest_said: bool
    thinnest_not_said: bool
    engraved: bool
    now: str
    now_gauge: str
    unset_words: str
    unsets: bool
    mark_outside: Length
    mark_inside: Length
    take_out: Length
    offcut: Length
    where: str
    cutter_words: str
    has_cutter: bool
    takes_piece: bool
    opens_once: bool
    cuts_mm: float
    through: str
    piece_mm: float
    close_strain: float
    is_set: bool
    reshanks: bool
    keep: Length
    keep_outside: Length
    lower_mm: float
    files_faces: bool
    faces: Length
    faces_mm: float
    adds: bool
    gap: Length
    hand_words: str
    end_angle: str
    insert: Length
    insert_outside: Length
    insert_inside: Length
    part_mm: float
    saws_seams: bool
    seams_whole: bool
    seam_times: str
    seam_mm: float
    seam_passes: int
    guards: bool
    guards_again: bool
    coats: bool
    coat_words: str
    water_words: str
    seam_words: str
    again_words: str
    again_title: str
    guard_with: str
    hold_words: str
    quench_words: str
    sizing_cool: str
    pickles_whole: bool
    pickles_part: bool
    dry_words: str
    pattern: bool
    has_offcut: bool
    third: Length
    bleed: Length
    holds: str
    head_words: str
    plates: bool
    washes_soft: bool
    washes_any: bool
    no_bath_words: str
    to_gauge: str
    seam_closed: bool
    anneals_first: bool
    refuse_words: str
    instead_words: str
    saw_mm: float
    saw_passes: int
    saw_times: str
    sawn_joint: bool
    untouched_joint: bool
    file_mm: float
    file_passes: int
    file_times: str
    filed_joint: bool


def start_pieces(case: Case, judged: Judged, blanks: Sequence[Blank]) -> dict[str, Piece]:
    """How its pieces stand when it comes in: the worn ring, closed, with the seams it has; the stock of an insert."""
    seams = {OLD_SEAM: UNKNOWN_SOLDER} if case.has("old-seam") else {}
    if case.is_set:
        seams[HEAD_SEAM] = UNKNOWN_SOLDER
    opened = judged.method.key == "rejoin" and case.order.seam_open
    outside = TEXTURED if case.has("pattern-all-round") else WORN
    ring = stock_piece(case.metal.key, case.section, case.neutral[0]).with_(
        shape="open" if opened else "round",
        shut=not opened,
        joined=seams,
        faces=Faces(WORN, WORN, outside),
    )
    return {RING: ring, **start_of(case.context, blanks)}


def route_facts(
    case: Case,
    judged: Judged,
    blanks: Sequence[Blank],
    shank: Blank,
    joints: Sequence[Joint],
    stones: Sequence[StoneAdvice],
) -> Facts:
    """The facts of the case for its route; ``shank`` is the ring itself as a strip, where nothing is set in."""
    context, weighed = case.context, judged.weighed
    turn = length_model(context)
    spread = spread_of(context.used.scatter, turn.thickness_gain, 1.0, context.used.join.saw_passes, context.length)
    off = math.pi * (weighed.closes_mm - case.inside[1])
    closing = replace(finished_size_of(context, turn, spread, off), text=context.target.named(weighed.closes_mm))
    textured = ("outside",) if case.has("pattern-all-round") else ()
    own = _own(case, judged, joints, stones)
    over = {blank.name: {"trim": Length(own.faces_mm, case.order.units, ".2f")} for blank in blanks}
    return facts_of(context, blanks or (shank,), joints, closing, weighed.sizing, own, textured, over=over)


def _own(case: Case, judged: Judged, joints: Sequence[Joint], stones: Sequence[StoneAdvice]) -> ResizeFacts:
    key = judged.method.key
    out = [one for one in stones if one.comes_out]
    stay = [one for one in stones if not one.comes_out]
    return ResizeFacts(
        unknown_metal=not case.is_known,
        tested_words=tested_words(case),
        thinnest=Length(case.thinnest_mm, case.order.units, ".2f"),
        thinnest_said=case.order.shank.thinnest_mm is not None,
        thinnest_not_said=case.order.shank.thinnest_mm is None,
        engraved=case.has("engraved-inside"),
        now=case.now_named(case.inside[0]),
        now_gauge=_gauge(case.present.gauge),
        to_gauge=_gauge(case.context.target.gauge),
        unset_words=words_of(out),
        unsets=bool(out),
        is_set=case.is_set,
        close_strain=_close_strain(case),
        seam_closed=not case.order.seam_open,
        anneals_first=_anneals(case, judged),
        refuse_words=" ".join(f"{one}." for one in judged.view.why[:-1]) if key == "refuse" else "",
        instead_words=" ".join(judged.weighed.says[1:]) if key == "refuse" else "",
        **_cutting(case, judged),
        **_inserting(case, judged),
        **_protecting(case, joints, stay, stones),
        **_finishing(case, stones),
    )


def _lengths(case: Case, judged: Judged) -> Callable[[str], Length]:
    """The figures of the way as lengths by their names; nought where it has none."""
    figures = judged.weighed.figures
    return lambda name: Length(float(figures.get(name) or 0.0), case.order.units, ".2f")


def _cutting(case: Case, judged: Judged) -> dict[str, Any]:
    """Where it is marked and sawn, how often, and what falls out of it."""
    key, kerf, length = judged.method.key, case.kerf_mm, _lengths(case, judged)
    figures = judged.weighed.figures
    no_piece = "saw_times" in figures
    planned = int(figures["saw_times"] or 1) - 1 if no_piece else case.order.join.saw_passes
    passes = planned if judged.weighed.insert else passes_made(case, planned)
    opens_once = no_piece or key == "add-stock" or (key == "rejoin" and not case.order.seam_open)
    cut = key in ("take-out", "add-stock", "rejoin", "reshank")
    takes_piece = key == "take-out" and not no_piece
    return {
        "mark_outside": length("mark_outside_mm"),
        "mark_inside": length("mark_inside_mm"),
        "take_out": length("take_out_mm"),
        "offcut": length("piece_mm"),
        "where": case.seam_place,
        "cutter_words": _cutter_words(case, judged),
        "has_cutter": bool(figures.get("cutter_gap_mm")),
        "takes_piece": takes_piece,
        "has_offcut": takes_piece or key == "reshank",
        "opens_once": opens_once,
        "cuts_mm": kerf if opens_once else 2 * kerf if cut else 0.0,
        "through": OLD_SEAM if cut else "",
        "piece_mm": length("piece_mm").mm,
        "lower_mm": length("lower_mm").mm,
        "keep": length("keep_mm"),
        "keep_outside": length("keep_outside_mm"),
        "reshanks": key == "reshank",
        "saw_mm": passes * kerf,
        "saw_passes": passes,
        "saw_times": times(passes),
        "sawn_joint": passes > 0,
        "untouched_joint": planned == 0 and not no_piece,
        **file_facts(case),
    }


def _inserting(case: Case, judged: Judged) -> dict[str, Any]:
    """What is set in, and what its seams take."""
    join, piece, length = case.order.join, judged.weighed.insert, _lengths(case, judged)
    adds = judged.method.key == "add-stock"
    finished = piece.finished_mm if piece else 0.0
    seams = passes_made(case, 2 * join.seam_passes)
    return {
        "files_faces": piece is not None and join.faces_mm > 0,
        "faces": Length(2 * join.faces_mm, case.order.units, ".2f"),
        "faces_mm": 2 * join.faces_mm,
        "adds": adds,
        "gap": length("gap_mm"),
        "hand_words": " ".join(judged.weighed.says[1:]) if adds else "",
        "end_angle": f"{float(judged.weighed.figures.get('end_angle_deg') or 0.0):.1f}",
        "insert": Length(finished, case.order.units, ".2f"),
        "insert_outside": length("insert_outside_mm"),
        "insert_inside": length("insert_inside_mm"),
        "part_mm": finished,
        "saws_seams": piece is not None and seams > 0,
        "seams_whole": join.seam_passes == 0,
        "seam_times": times(join.seam_passes),
        "seam_mm": seams * case.kerf_mm,
        "seam_passes": seams,
    }


def _finishing(case: Case, stones: Sequence[StoneAdvice]) -> dict[str, Any]:
    """How it is finished by zones, washed, looked over and plated."""
    outer = math.pi * (case.inside[1] + 2 * case.section.thickness_mm)
    soft = any(not one.ultrasonic for one in stones)
    return {
        "pattern": case.has("pattern-all-round"),
        "third": Length(outer / 3, case.order.units, ".0f"),
        "bleed": Length(outer * BLEED_SHARE, case.order.units, ".0f"),
        "holds": case.holds,
        "head_words": f"The head keeps its old curve: {case.lift_words} the new one." if case.lift_words else "",
        "plates": case.is_plated,
        "washes_soft": soft,
        "washes_any": not soft,
        "no_bath_words": _no_bath(stones),
    }


def _close_strain(case: Case) -> float:
    """How far closing over or opening up strains the outer skin [share]: from the one curve to the other."""
    beyond = max(case.section.neutral_mm, case.section.thickness_mm - case.section.neutral_mm)
    return beyond * abs(1 / case.radius[0] - 1 / case.radius[1])


def _anneals(case: Case, judged: Judged) -> bool:
    """Whether it is annealed before it is stretched or pressed: far to go, and it bears the torch."""
    return judged.method.key in COLD and case.strain > case.stretch_limits[0] and not case.not_annealed


def _gauge(gauge: object) -> str:
    name = getattr(gauge, "name", "")
    return f"the {name}" if name else "the mandrel"


def tested_words(case: Case) -> str:
    """What the tests of its metal found, in a sentence; empty where none was kept."""
    test = case.order.tested
    if test is None:
        return ""
    said = [f"its mark reads “{test.mark}”"] if test.mark else []
    if test.magnet:
        said.append("a magnet pulls it" if test.magnet == "yes" else "no magnet pulls it")
    if test.touch:
        said.append(f"touch says “{test.touch}”")
    return f"So far: {', '.join(said)}." if said else ""


def _cutter_words(case: Case, judged: Judged) -> str:
    figures = judged.weighed.figures
    gap = figures.get("cutter_gap_mm")
    if not gap:
        return ""
    inside, outside = figures["cutter_rest_inside_mm"] or 0.0, figures["cutter_rest_outside_mm"] or 0.0
    return (
        f"Or the {case.told(float(gap), 'g mm')} cutter: its faces are parallel, so {case.told(inside)} inside and "
        f"{case.told(outside)} outside are left to file, to the lines."
    )


def _no_bath(stones: Sequence[StoneAdvice]) -> str:
    wet = [one for one in stones if not one.ultrasonic]
    if not wet:
        return ""
    steam = [one for one in stones if not one.steam]
    also = ", nor steam" if steam == wet else ""
    return f"No ultrasonic for {words_of(wet)}{also}."


def _again(case: Case, guards: bool, first: bool) -> str:
    """What is coated before the second seam: what was coated before the first, that one where it flows as early."""
    lost = (
        "The pickle took the coat off: coat it all again."
        if case.metal.of_family.fluxed
        else ("Where the coat flaked off in the heat, coat it again.")
    )
    seam = "Coat the first seam: it flows as early as the second."
    return " ".join(text for text in (lost if guards else "", seam if first else "") if text)


def _protecting(
    case: Case, joints: Sequence[Joint], stay: Sequence[StoneAdvice], stones: Sequence[StoneAdvice]
) -> dict[str, Any]:
    """What is protected from the torch and the acid, and with what."""
    wet = [one for one in stay if one.care == "water"]
    coated = [one for one in stay if one.care in ("stay", "shield")]
    dry = [one for one in stay if not one.pickle]
    guards = case.is_set
    again = len(joints) > 1 and (guards or joints[1].guarded)
    coat = f"Coat {words_of(coated)} with boric acid: dip, burn off, let it glaze." if coated else ""
    water = (
        f"{words_of(wet)[:1].upper()}{words_of(wet)[1:]}: under water, all of it, as long as the torch burns."
        if wet
        else ""
    )
    seam = "Anti-flux on the seams of the head; keep it off the joint." if case.is_set else ""
    hold = "The joint straight above, in the open; the shank held, the joint not."
    if wet:
        hold = "Hang it with the head in water and the joint straight above it."
    elif case.is_set:
        hold = "The joint straight above, the head below, away from the flame."
    return {
        "guards": guards,
        "guards_again": again,
        "coats": bool(coated),
        "coat_words": coat,
        "water_words": water,
        "seam_words": seam,
        "again_words": _again(case, guards, again and joints[1].guarded),
        "again_title": "Protect it again" if guards else "Protect the first seam",
        "guard_with": GUARD,
        "hold_words": hold,
        "quench_words": "Do not quench it: the stone would crack." if stay else case.metal.quenching.soldered,
        "sizing_cool": "cool" if stay else case.metal.quenching.op,
        "pickles_whole": not dry,
        "pickles_part": bool(dry),
        "dry_words": capital(words_of(dry)),
    }
