"""What is told of a ring that is resized beside its route: figures with their reasons, warnings, sizes that fit."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ringcraft.resize.advice import Judged
from ringcraft.resize.case import US_MM, Case
from ringcraft.resize.marks import mark_warnings
from ringcraft.resize.methods.take_out import pitch_mm
from ringcraft.resize.stones import StoneAdvice
from ringcraft.styles.base import Choice, Choices
from ringcraft.units import capital
from ringcraft.work.plan import Figure

_TOLD = {
    "mark_outside_mm": ("on the outside", "the same angle at the old ring's outside: set the dividers to it"),
    "mark_inside_mm": ("at the inside", "the same angle at the old ring's inside"),
    "piece_mm": ("to the drawer", "what lands there: two kerfs less, one for each cut"),
    "insert_outside_mm": ("outside", "the piece at the new ring's outside"),
    "insert_inside_mm": ("inside", "the piece at the new ring's inside"),
    "gap_mm": ("open to", "the gap at the neutral line"),
    "gap_inside_mm": ("gap inside", "straight across at the inside: read it before the piece is cut"),
    "straight_thick_mm": ("stock thick", "left straight, it is filed to both curves: no thinner than that"),
    "straight_outside_mm": ("outer edge", "left straight, its ends off square: its longest side"),
    "keep_outside_mm": ("stays, outside", "what is kept of the old ring, on its outside"),
    "thickness_after_mm": ("wall after", "its thinnest place, width kept: the careful side"),
    "lost_mm": ("lost", "what the passes take of the ring"),
}


def figures_told(case: Case, chosen: Judged) -> tuple[Figure, ...]:
    """The figures beside the leading one, each with its reason."""
    out = []
    for key, (title, why) in _TOLD.items():
        value = chosen.weighed.figures.get(key)
        if value:
            if key == "gap_inside_mm" and chosen.method.key != "add-stock":
                continue  # a gap as wide as the ring is not read across
            out.append(Figure(key, title, float(value), case.told(float(value)), why))
    return tuple(out)


def warnings_of(case: Case, chosen: Judged, stones: Sequence[StoneAdvice]) -> tuple[str, ...]:
    """What has to be known of this very ring before it is begun."""
    out = []
    if case.read_as_d:
        side = case.told(case.section.thickness_mm - case.section.width_mm / 2)
        out.append(f"A half-round thicker than half its width has straight sides: read as a D with sides of {side}.")
    if case.head is not None and case.lift_words and chosen.method.key not in ("refuse", "true-first"):
        out.append(
            f"The head spans {case.head.angle_deg:.0f}° after; it keeps its curve, so {case.lift_words}: "
            f"{f'check every {case.holds}' if case.order.stones else 'look where it meets the shank'}."
        )
    if chosen.view.advice == "never":
        out.append(f"Never done, and done all the same: {case.order.override_reason.strip()}")
    out += [f"{capital(one.name)}: {one.advice}. {one.why}." for one in stones if one.stuck]
    if case.order.stones:
        out.append("What a stone bears is from memory: a gemmologist goes before it.")
    return (*out, *mark_warnings(case))


def fits_of(case: Case) -> Choices | None:
    """The sizes at which whole elements of its pattern go out or in: choosing one asks for that size."""
    pitch = pitch_mm(case)
    if pitch is None or case.is_same_size:
        return None
    way = -1 if case.change_mm < 0 else 1
    near = max(1, round(abs(case.change_mm) / pitch))
    rows = []
    for count in (near - 1, near, near + 1):
        inside = case.inside[0] + way * count * pitch / math.pi
        if count < 1 or inside < 10:
            continue
        off = (inside - case.inside[1]) * math.pi / US_MM
        text = case.context.target.named(inside)
        miss = "as wanted" if abs(off) < 0.02 else f"{abs(off):.2f} US sizes {'large' if off > 0 else 'small'}"
        rows.append(Choice("to", f"{inside:.4f} mm ID", (str(count), text, miss), abs(off) < 0.02))
    return Choices("Whole elements", ("elements", "size", "against what is wanted"), tuple(rows))
