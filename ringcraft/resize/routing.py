"""How a ring is resized: the facts of the case for its route, and how its pieces stand when it comes in."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from ringcraft.metals import UNKNOWN_SOLDER
from ringcraft.planning.blank import Blank
from ringcraft.planning.context import length_model
from ringcraft.planning.finished_size import finished_size_of
from ringcraft.planning.joints import HEAD_SEAM, OLD_SEAM, Joint
from ringcraft.planning.tolerance import spread_of
from ringcraft.resize.advice import Judged
from ringcraft.resize.case import SOLDERED_ON, Case
from ringcraft.resize.facts import ResizeFacts
from ringcraft.resize.inserts import Straight, opened_radius_mm, straight
from ringcraft.resize.made import file_facts
from ringcraft.resize.methods import COLD
from ringcraft.resize.passes import passes_made
from ringcraft.resize.places import head_of, stones_of, unlisted_of
from ringcraft.resize.protecting import finishing, protecting, stone_steps
from ringcraft.resize.stones import StoneAdvice
from ringcraft.routes.building import facts_of, start_of, times
from ringcraft.routes.facts import Facts
from ringcraft.units import Length, capital
from ringcraft.vbench.pieces import TEXTURED, Faces, Piece, stock_piece
from ringcraft.vbench.thing import Curve, Gap, SeamAt

RING, INSERT = "ring", "insert"
CAME_IN, WORN = "as it came in", "worn"
FILED_MM = 0.6  # that a cutter leaves for the file: more is sawn; our own judgement


def start_pieces(case: Case, judged: Judged, blanks: Sequence[Blank]) -> dict[str, Piece]:
    """How its pieces stand when it comes in: the worn ring with its seams, its head and its stones where they sit,
    closed, or open where its seam is; the stock of an insert.
    """
    half, radius = case.neutral[0] / 2, case.radius[0]
    opened = case.order.seam_open  # then that is its old seam, and nothing is joined there any more
    joined = {OLD_SEAM: UNKNOWN_SOLDER} if case.has("old-seam") and not opened else {}
    if case.soldered_words:
        joined[HEAD_SEAM] = UNKNOWN_SOLDER
    places = {OLD_SEAM: 0.0, HEAD_SEAM: half if case.has_head else _first_setting(case)}
    head = head_of(case)
    outside = TEXTURED if case.has("pattern-all-round") else WORN
    ring = stock_piece(case.metal.key, case.section, case.neutral[0]).with_(
        shape="open" if opened else "round",
        shut=not opened,
        joined=joined,
        seams=tuple(SeamAt(key, places[key], solder) for key, solder in joined.items()),
        faces=Faces(WORN, WORN, outside),
        curves=(Curve(-half, half, radius),),
        gap=Gap(0.0, 0.0) if opened else None,
        stones=(*stones_of(case), *unlisted_of(case)),
        heads=(head,) if head else (),
        frail=case.frail,
    )
    start = start_of(case.context, blanks)
    thick = float(judged.weighed.figures.get("straight_thick_mm") or 0.0)
    if thick:
        start = {name: _thicker(piece, thick) for name, piece in start.items()}
    return {RING: ring, **start}


def _first_setting(case: Case) -> float:
    """Where the nearest setting to the cut stands by its own seam [mm]."""
    return min((one.at_mm for one in stones_of(case) if one.setting in SOLDERED_ON), key=abs, default=0.0)


def _thicker(piece: Piece, thick_mm: float) -> Piece:
    """Stock that is filed to both curves: so much thicker, and so much more metal."""
    more = (thick_mm - piece.thickness_mm) * piece.width_mm * piece.length_mm
    return piece.with_(thickness_mm=thick_mm, volume_mm3=piece.volume_mm3 + more)


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


def _look_words(case: Case) -> str:
    """What is looked over as it comes in."""
    held = f"{case.holds}s" if case.order.stones or case.is_set_by_feature else ""
    held = held or ("where the head meets the shank" if case.has_head else "")
    looked = [held, "cracks, worn places, old seams"] if held else ["cracks, worn places, old seams"]
    return f"{capital(', '.join(looked))}; compare it with its photograph."


def _own(case: Case, judged: Judged, joints: Sequence[Joint], stones: Sequence[StoneAdvice]) -> ResizeFacts:
    key = judged.method.key
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
        is_set=case.is_set,
        look_words=_look_words(case),
        close_strain=_close_strain(case),
        seam_closed=not case.order.seam_open,
        seam_open=case.order.seam_open,
        anneals_first=_anneals(case, judged),
        refuse_words=" ".join(f"{one}." for one in judged.view.why[:-1]) if key == "refuse" else "",
        instead_words=" ".join(judged.weighed.says[1:]) if key == "refuse" else "",
        stop_words="",
        **stone_steps(case, stones),
        **_cutting(case, judged),
        **_inserting(case, judged),
        **protecting(case, judged, joints, stones),
        **finishing(case, judged, stones),
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
    opened = case.order.seam_open
    if no_piece and opened:
        planned += 1  # it is open already: each of its passes goes through the closed joint
    passes = planned if judged.weighed.insert else passes_made(case, planned)
    takes_piece = key == "take-out" and not no_piece
    opens_once = (no_piece or key in ("add-stock", "rejoin")) and not opened
    cuts = 2 * kerf if takes_piece or key == "reshank" else kerf if opens_once else 0.0
    piece = length("piece_mm").mm if takes_piece else 0.0
    radius = opened_radius_mm(case)
    kept_off = abs(radius - case.radius[0])
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
        "cuts_mm": cuts,
        "through": OLD_SEAM if judged.method.torch else "",
        "piece_mm": piece,
        "closed_radius": (case.neutral[0] - cuts - piece) / math.tau,
        "opened_radius": radius,
        "bends_kept": key == "reshank" and kept_off > 1e-6,
        "keep_words": "Open" if radius > case.radius[0] else "Close",
        "one_cut": takes_piece and not opened,
        "beside_seam": takes_piece and opened,
        "half_outside": Length(length("mark_outside_mm").mm / 2, case.order.units, ".2f"),
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
    faces = math.fsum(term.mm for term in judged.weighed.terms if term.key == "file") if piece else 0.0
    one = straight(case, finished) if adds else None
    radius = opened_radius_mm(case)
    outside = (radius - case.section.neutral_mm + case.section.thickness_mm) / radius
    deg = math.degrees(finished / radius / 2)
    planned = seams == 2 * join.seam_passes
    each = times(join.seam_passes if planned else seams)
    return {
        "files_faces": faces > 1e-9,
        "faces": Length(faces, case.order.units, ".2f"),
        "faces_mm": faces,
        "gap_inside": length("gap_inside_mm"),
        "kept_outside": Length((math.tau * radius - finished) * outside, case.order.units, ".2f"),
        "presses_size": judged.weighed.sizing.by in ("stretch", "compress"),
        "bent_insert": adds and not one,
        "straight_insert": adds and bool(one),
        "straight_thick": length("straight_thick_mm"),
        "straight_inside": length("straight_inside_mm"),
        "straight_outside": length("straight_outside_mm"),
        "insert_deg": deg,
        "extra_mm3": max(_extra_mm3(case, one, deg, finished), 0.0) if one else 0.0,
        "adds": adds,
        "gap": length("gap_mm"),
        "hand_words": " ".join(judged.weighed.says[2:]) if adds else "",
        "end_angle": f"{float(judged.weighed.figures.get('end_angle_deg') or 0.0):.1f}",
        "insert": Length(finished, case.order.units, ".2f"),
        "insert_outside": length("insert_outside_mm"),
        "insert_inside": length("insert_inside_mm"),
        "part_mm": finished,
        "saws_seams": piece is not None and seams > 0,
        "seams_whole": join.seam_passes == 0,
        "seams_title": f"both seams, {each}" if planned else f"the seams, {each} in all",
        "seams_how": f"each closed seam {each}" if planned else f"the closed seams {each} in all",
        "seam_mm": seams * case.kerf_mm,
        "seam_passes": seams,
    }


def _extra_mm3(case: Case, one: Straight, deg: float, finished_mm: float) -> float:
    """What is filed off a straight piece, once it is in, to bring it to both curves [mm3]."""
    section = case.section
    area = section.area_mm2 + (one.thick_mm - section.thickness_mm) * section.width_mm
    mean = one.outside_mm - one.thick_mm * math.tan(math.radians(deg))
    return area * mean - section.area_mm2 * finished_mm


def _close_strain(case: Case) -> float:
    """How far closing over or opening up strains the outer skin [share]: from the one curve to the other."""
    beyond = max(case.section.neutral_mm, case.section.thickness_mm - case.section.neutral_mm)
    most = max(abs(1 / case.radius[0] - 1 / one) for one in (case.radius[1], opened_radius_mm(case)))
    return beyond * most


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
    """The shop's cutter: named where what it leaves is a file's work, else by how many bites it takes."""
    figures = judged.weighed.figures
    gap, bites = figures.get("cutter_gap_mm"), int(figures.get("cutter_bites") or 1)
    if not gap:
        return ""
    inside, outside = float(figures["cutter_rest_inside_mm"] or 0.0), float(figures["cutter_rest_outside_mm"] or 0.0)
    left = (bites - 1) * float(gap)
    rest = f"{case.told(inside - left)} inside and {case.told(outside - left)} outside"
    named = f"{case.told(float(gap), 'g mm')} cutter"
    if bites == 1 and outside > FILED_MM:
        return f"The {named} takes only a part of it: {rest} stay, which is the saw's work."
    much = f"Or the {named}" if bites == 1 else f"Or the {named}, {bites} bites side by side"
    last = "to file, to the lines" if outside - left <= FILED_MM else "to saw, to the lines"
    return f"{much}: its faces are parallel, so {rest} are left {last}."
