"""What is kept from the torch, the acid and the mallet while a ring is resized, and how it is finished after."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from ringcraft.planning.joints import Joint
from ringcraft.resize.advice import Judged
from ringcraft.resize.case import SOLDERED_ON, Case
from ringcraft.resize.places import head_of, stones_of, unlisted_of
from ringcraft.resize.stones import StoneAdvice, words_of
from ringcraft.units import Length, capital, words_and
from ringcraft.vbench.coats import GLAZE
from ringcraft.vbench.deeds import BLOWS, BY_HAND
from ringcraft.vbench.thing import BOILS_C, StoneAt, blow_arc, moved_heads, moved_stones
from ringcraft.work.joining import WATER_SHARE

BLEED_SHARE = 1 / 12  # of the outer circle, beside the third on either side; our own judgement
ANTI_FLUX = "anti-flux"
NO_ROOM = "what is set in it leaves no room for one"
NEAR_MM = 1.0  # that a stone must be clear of the pickle's edge; our own judgement
CRACK = {fluxed: f"The crack too, {how}, in this heat, unless it was cut out."
         for fluxed, how in ((True, "cleaned and fluxed"), (False, "cleaned"))}  # fmt: skip
QUARTER = 0.25  # of the ring: what sits nearer to the back than this dips in with the shank


def _named(stones: Sequence[StoneAdvice]) -> str:
    return words_and([one.name for one in stones])


def stone_steps(case: Case, stones: Sequence[StoneAdvice]) -> dict[str, Any]:
    """Which stones come out, off their glue or loose, and when each goes back: before plating where it bears that."""
    by = {care: [one for one in stones if one.care == care] for care in ("out", "off", "loose")}
    plates = case.is_plated
    first = [one for one in by["out"] if one.plate or not plates]
    last = [one for one in by["out"] if one not in first]
    return {
        "unset_words": _named(by["out"]),
        "unsets": bool(by["out"]),
        "out_ids": _ids(by["out"]),
        "loose_ids": _ids(by["loose"]),
        "has_loose": bool(by["loose"]),
        "loose_words": _named(by["loose"]),
        "off_ids": _ids(by["off"]),
        "ungluing": bool(by["off"]),
        "off_words": _named(by["off"]),
        "set_ids": _ids(first),
        "sets_first": bool(first),
        "set_words": _named(first),
        "last_ids": _ids(last),
        "sets_last": bool(last),
        "last_words": _named(last),
        **_blows(case, stones),
    }


def _ids(stones: Sequence[StoneAdvice]) -> tuple[str, ...]:
    return tuple(one.id for one in stones)


def _blows(case: Case, stones: Sequence[StoneAdvice]) -> dict[str, Any]:
    """Where blows may fall on it, as it came in and as it will be: the arc that is clear in both; by hand where none.

    Once round differs between the two, so places are taken from nought and the arc is the narrower. A crack is struck
    no more than what is hollow until it was soldered.
    """
    out = {one.id for one in stones if one.comes_out}
    set_in = (*stones_of(case), *unlisted_of(case))
    kept = [one for one in set_in if one.id not in out or one.setting in SOLDERED_ON]
    head = head_of(case)
    heads = (head,) if head else ()
    arcs = []
    for place in (0, 1):
        by = case.neutral[place] - case.neutral[0]
        arcs.append(blow_arc(case.neutral[place], moved_heads(heads, by), moved_stones(kept, by)))
    known = [arc for arc in arcs if arc]
    whole = not heads and not kept
    arc = (max(a[0] for a in known), min(a[1] for a in known)) if len(known) == len(arcs) else None
    no_room = arc is None or arc[0] >= arc[1]
    mended = replace(
        case, order=replace(case.order, features=tuple(f for f in case.order.features if f != "cracked"))
    )
    before, after = (one.not_struck or (NO_ROOM if no_room else "") for one in (case, mended))
    beside = "" if whole else f"No blow on or beside {_beside(case, kept)}."
    return {
        "blow_arc": None if no_room or whole else arc,
        **_by(before, beside, ""),
        **_by(after, beside, "_after"),
    }


def _beside(case: Case, kept: Sequence[StoneAt]) -> str:
    """What no blow falls beside: its head, and what is set or stands elsewhere on it."""
    half = case.neutral[0] / 2
    apart = [one.id for one in kept if abs(one.at_mm) < half or not case.has_head]
    return words_and([*(["the head"] if case.has_head else []), *apart])


def _by(not_struck: str, beside: str, when: str) -> dict[str, Any]:
    """How it is rounded: by blows, or by hand with the reason."""
    return {
        f"round_by{when}": BY_HAND if not_struck else BLOWS,
        f"by_hand{when}": bool(not_struck),
        f"by_blows{when}": not not_struck,
        f"clear_words{when}": f"By hand, no blow: {not_struck}." if not_struck else beside,
    }


def protecting(case: Case, judged: Judged, joints: Sequence[Joint], stones: Sequence[StoneAdvice]) -> dict[str, Any]:
    """What is protected from the torch and the acid, and with what."""
    stay = [one for one in stones if not one.comes_out]
    wet = [one for one in stay if one.care == "water"]
    coated = [one for one in stay if one.care == "shield"] if judged.method.torch else []
    fluxed, together = case.metal.of_family.fluxed, case.order.join.heats == "together"
    seams = bool(case.soldered_words)
    again = len(joints) > 1 and not together
    seam_again = again and (joints[1].guarded or seams)
    coat = f"Coat {_named(coated)} with boric acid: dip, burn off, let it glaze." if coated else ""
    water = f"{capital(_named(wet))}: under water, all of it, as long as the torch burns." if wet else ""
    seam = f"Anti-flux on the seams of {case.soldered_words}; keep it off the joint." if seams else ""
    return {
        "guards": seams or bool(coated) or bool(wet) or bool(unlisted_of(case)),
        "unlisted_words": _unlisted_words(case),
        "guards_seams": seams,
        "guards_again": again and (bool(coated) or joints[1].guarded or seams),
        "guards_seams_again": seam_again,
        "coats": bool(coated),
        "coat_ids": _ids(coated),
        "coat_words": coat,
        "water_words": water,
        "seam_words": seam,
        "again_words": _again(case, bool(coated), again and joints[1].guarded),
        "again_title": "Protect it again" if seams or coated else "Protect the first seam",
        "glaze": GLAZE,
        "anti_flux": ANTI_FLUX,
        "has_wet": bool(wet),
        "hollow": case.has("hollow"),
        "wet_ids": _ids(wet),
        "water_share": WATER_SHARE,
        "uncoats": seams or seam_again,
        **_unglazing(case, judged, coated, stay),
        "hold_words": _hold_words(case, wet, stay, judged),
        "quench_words": _quench_words(case, stay),
        "sizing_cool": "cool" if stay or unlisted_of(case) or case.has("hollow") else case.metal.quenching.op,
        "together": together and len(joints) > 1,
        "one_by_one": not together,
        "besides": joints[1].key if together and len(joints) > 1 else "",
        "besides_mm": joints[1].at_mm if together and len(joints) > 1 else 0.0,
        "crack_words": CRACK[fluxed] if case.has("cracked") else "",
        **_pickling(case, judged, stay),
    }


def _unlisted_words(case: Case) -> str:
    names = words_and([one.id for one in unlisted_of(case)])
    return (
        f"{capital(names)}: nobody said of what kind, so nothing is known here that keeps the heat off."
        if names
        else ""
    )


def _again(case: Case, coats: bool, first: bool) -> str:
    """What is coated before the second seam: what was coated before the first, that one where it flows as early."""
    out = []
    if coats:
        out.append("The pickle took the glaze off: coat the stones again." if case.metal.of_family.fluxed else
                   "Where the glaze flaked off in the heat, coat it again.")  # fmt: skip
    if case.soldered_words:
        out.append(f"Anti-flux on the seams of {case.soldered_words} again, where it came off.")
    if first:
        out.append("Coat the first seam: it flows as early as the second.")
    return " ".join(out)


def _hold_words(case: Case, wet: Sequence[StoneAdvice], stay: Sequence[StoneAdvice], judged: Judged) -> str:
    both = "Both seams above" if case.order.join.heats == "together" and judged.weighed.insert else "The joint"
    if wet:
        return f"Hang it with {_named(wet)} in water and the joint straight above."
    straight = "straight above, " if both == "The joint" else ", "
    away = words_and([one.name for one in stay] + [one.id for one in unlisted_of(case)])
    if case.has_head:
        how = "the head below, away from the flame."
    else:
        how = f"{away} away from the flame." if away else "in the open; the shank held, the joint not."
    return f"{both} {straight}{how}".replace(" , ", ", ")


def _quench_words(case: Case, stay: Sequence[StoneAdvice]) -> str:
    if stay:
        return f"Do not quench it with {_named(stay)} in: let it cool in air."
    unlisted = unlisted_of(case)
    if unlisted:
        return f"Do not quench it with {words_and([one.id for one in unlisted])} in: let it cool in air."
    if case.has("hollow"):
        return "Do not quench it: water that gets in turns to steam. Let it cool in air."
    return case.metal.quenching.soldered


def _low(case: Case, judged: Judged, one: StoneAdvice) -> bool:
    """Whether a stone sits so near the back that it dips in with the shank, on the ring as it will be."""
    at = next(stone for stone in stones_of(case) if stone.id == one.id)
    return abs(judged.about.cut.moved(at.at_mm)) - at.span_mm / 2 < case.neutral[1] * QUARTER + NEAR_MM


def _dips(case: Case, judged: Judged, stay: Sequence[StoneAdvice]) -> str:
    """What is dipped in the pickle: all of it, its shank, or nothing where a stone near the back bears none."""
    dry = [one for one in stay if not one.pickle]
    unlisted = unlisted_of(case)
    if any(_low(case, judged, one) for one in dry) or any(one.span_mm for one in unlisted):
        return "none"
    return "shank" if dry or unlisted else "all"


def _pickling(case: Case, judged: Judged, stay: Sequence[StoneAdvice]) -> dict[str, Any]:
    """How it is pickled: all of it, the shank alone, or brushed on where a stone near the back bears no acid."""
    dips = _dips(case, judged, stay)
    words = [one.name for one in stay if not one.pickle] + [one.id for one in unlisted_of(case)]
    return {
        "pickles_whole": dips == "all",
        "pickles_part": dips == "shank",
        "pickles_brushed": dips == "none",
        "pickle_dips": dips,
        "dry_words": capital(words_and(words)) if words else "",
    }


def _unglazing(
    case: Case, judged: Judged, coated: Sequence[StoneAdvice], stay: Sequence[StoneAdvice]
) -> dict[str, Any]:
    """The stones whose glaze no pickle takes off, and how it comes off them."""
    dips = _dips(case, judged, stay) if case.metal.of_family.fluxed else "none"
    left = [one for one in coated if dips == "none" or (dips == "shank" and not _low(case, judged, one))]
    bears = {one.id: one.bears.wet_c for one in stones_of(case)}
    boils = all(bears[one.id] >= BOILS_C for one in stay) and not unlisted_of(case)
    how = (
        "in boiling water" if boils else "with hot water and a soft brush on it alone, for the others bear no boiling"
    )
    return {
        "unglazes": bool(left),
        "unglaze_ids": _ids(left),
        "unglaze_words": f"{capital(_named(left))}: the boric glaze comes off {how}." if left else "",
    }


#: What compound does at a joint that is finished by zones.
KISS = {
    True: "The bottom third only kissed: white gold and its solder wear unlike, compound digs a dip there.",
    False: "The bottom third only kissed, it is bright by now and solder dips; the rest may be worked, the top too.",
}


def finishing(case: Case, judged: Judged, stones: Sequence[StoneAdvice]) -> dict[str, Any]:
    """How it is finished by zones, washed, looked over and plated."""
    outer = math.pi * (case.inside[1] + 2 * case.section.thickness_mm)
    stay = [one for one in stones if not one.comes_out] if judged.method.torch else list(stones)
    washed = [one for one in stones if one.care not in ("off", "loose")]
    soft = any(not one.ultrasonic for one in washed) or bool(unlisted_of(case))
    pen = [one for one in stay if not one.plate]
    by_pen = bool(pen) or bool(unlisted_of(case))
    has = any(one.care not in ("off", "loose") for one in stones) or case.is_set_by_feature
    head = f"The head keeps its old curve: {case.lift_words} the new one." if case.lift_words else ""
    return {
        "pattern": case.has("pattern-all-round"),
        "third": Length(outer / 3, case.order.units, ".0f"),
        "bleed": Length(outer * BLEED_SHARE, case.order.units, ".0f"),
        "holds": case.holds,
        "check_title": f"Check every {case.holds}" if has else "Look the head over" if case.head else "Look it over",
        "has_stones": has,
        "head_only": not has,
        "head_words": head,
        "lies_words": "Nothing moves, and the head lies on the shank." if case.has_head else "Nothing moves.",
        "block_words": _block_words(case, stay),
        "kiss_words": KISS[case.metal.of_family.plated],
        "plates": case.is_plated or bool(case.order.surfaces and case.order.surfaces.faces_that("plate")),
        "plates_bath": not by_pen,
        "plates_pen": by_pen,
        "plate_dips": "none" if by_pen else "all",
        "plate_words": f"With the pen: {words_and([one.name for one in pen] or ['what is set in it'])} must not go "
        "into the bath."
        if by_pen
        else "",
        "wash_how": "soap" if soft else "ultrasonic",
        "washes_soft": soft,
        "washes_any": not soft,
        "no_bath_words": _no_bath(washed),
    }


def _block_words(case: Case, stay: Sequence[StoneAdvice]) -> str:
    """What no tap on the steel block may reach."""
    if case.has_head:
        return "The head stays off the block."
    names = words_and([one.name for one in stay] + [one.id for one in unlisted_of(case)])
    return f"No tap beside {names}." if names else ""


def _no_bath(stones: Sequence[StoneAdvice]) -> str:
    wet = [one for one in stones if not one.ultrasonic]
    if not wet:
        return ""
    steam = [one for one in stones if not one.steam]
    also = ", nor steam" if steam == wet else ""
    return f"No ultrasonic for {words_of(wet)}{also}."
