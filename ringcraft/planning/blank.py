"""One piece of metal to cut: its ledger, its marks, its drawing, its mass."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.drawing.blanks import strip
from ringcraft.drawing.shapes import Drawing, Label, Line
from ringcraft.planning.frame import Frame, stock_words
from ringcraft.planning.ledger import Mark, Stretch, Term, places_for, stretches, total, worded
from ringcraft.planning.request import Used
from ringcraft.planning.words import nearest_fraction, told
from ringcraft.sections import Section


@dataclass(frozen=True)
class Blank:
    """One piece of metal to cut, ``count`` times. Lengths [mm], volume [mm3], mass [g] of one piece as cut.

    ``role`` says what it is in its ring (band, outer, flank, plate). ``waits`` says which measure it is still
    planned without; empty where nothing is waited for.
    """

    name: str
    title: str
    role: str
    count: int
    section: Section
    stock: str
    cut_length_mm: float
    cut_text: str
    unit: str
    fraction: str
    sum_text: str
    formed_length_mm: float
    outside_mm: float
    terms: tuple[Term, ...]
    stretches: tuple[Stretch, ...]
    marks: tuple[Mark, ...]
    volume_mm3: float
    mass_g: float
    width_mm: float
    drawing: Drawing
    waits: str


def make_blank(
    frame: Frame,
    terms: Sequence[Term],
    formed_mm: float,
    *,
    name: str = "band",
    title: str = "band",
    role: str = "band",
    count: int = 1,
    section: Section | None = None,
    outside_mm: float = 0.0,
    marks: Sequence[Mark] = (),
    lines: Sequence[Line] = (),
    labels: Sequence[Label] = (),
    width_mm: float | None = None,
    drawing: Drawing | None = None,
    area_mm2: float | None = None,
    waits: str = "",
) -> Blank:
    """A blank from its ledger; what is not said is that of a strip of the frame's own stock.

    ``area_mm2`` is the mean cross-section of a blank whose sides are not parallel.
    """
    section = section or frame.section
    done = worded(tuple(terms), frame.used.units)
    cut = total(done)
    wide = section.width_mm if width_mm is None else width_mm
    volume = (section.area_mm2 if area_mm2 is None else area_mm2) * cut
    return Blank(
        name=name,
        title=title,
        role=role,
        count=count,
        section=section,
        stock=stock_words(section),
        cut_length_mm=cut,
        cut_text=told(cut, frame.used.units, places_for(frame.used.round_to_mm)),
        unit=frame.used.units,
        fraction=nearest_fraction(cut) if frame.used.units == "in" else "",
        sum_text=told(cut, frame.used.units),
        formed_length_mm=formed_mm,
        outside_mm=outside_mm,
        terms=done,
        stretches=stretches(done),
        marks=(*marks, *cut_marks(frame.used, cut, any(mark.key == "cut" for mark in marks))),
        volume_mm3=volume,
        mass_g=frame.metal.mass_g(volume),
        width_mm=wide,
        drawing=drawing or strip(cut, wide, list(lines), list(labels)),
        waits=waits,
    )


def told_at(used: Used, mm: float) -> str:
    """A place on a strip, as exactly as lengths are marked."""
    return told(mm, used.units, places_for(used.round_to_mm))


def cut_marks(used: Used, cut_mm: float, has_cut: bool = False) -> tuple[Mark, ...]:
    """Where to cut, and where the end is filed back to."""
    marks = []
    if used.join.trim_mm:
        back = cut_mm - used.join.trim_mm
        marks.append(Mark("trim", back, f"file back to {told_at(used, back)}"))
    if not has_cut:
        marks.append(Mark("cut", cut_mm, cut_words(used, cut_mm)))
    return tuple(marks)


def cut_words(used: Used, cut_mm: float) -> str:
    """What is said at the cut."""
    return f"scribe {told_at(used, cut_mm)}, cut right of the line"
