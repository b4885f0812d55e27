"""One piece of metal to cut: its ledger, its marks, its drawing, its mass."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.drawing.blanks import strip
from ringcraft.drawing.shapes import Drawing, Label, Line
from ringcraft.planning.context import RingContext, stock_words
from ringcraft.planning.ledger import Mark, Stretch, Term, places_for, stretches, total, worded
from ringcraft.planning.request import Used
from ringcraft.sections import Section
from ringcraft.units import Length, format_length, nearest_fraction


@dataclass(frozen=True)
class Blank:
    """One piece of metal to cut, ``count`` times. Lengths [mm], volume [mm3], mass [g] of one piece as cut.

    ``role`` says what it is in its ring (band, outer, flank, plate, part). ``waits`` says which measure it is still
    planned without; empty where nothing is waited for. ``metal`` is its own where it is not the ring's, ``view`` the
    piece as it will be, where that is not the ring.
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
    metal: str = ""
    view: Drawing | None = None


@dataclass(frozen=True, kw_only=True)
class BlankSpec:
    """What is said of a blank beside its ledger; what is not said is that of a strip of the order's own stock.

    ``area_mm2`` is the mean cross-section of a blank whose sides are not parallel.
    """

    name: str = "band"
    title: str = "band"
    role: str = "band"
    count: int = 1
    section: Section | None = None
    outside_mm: float = 0.0
    marks: Sequence[Mark] = ()
    lines: Sequence[Line] = ()
    labels: Sequence[Label] = ()
    width_mm: float | None = None
    drawing: Drawing | None = None
    area_mm2: float | None = None
    waits: str = ""
    view: Drawing | None = None


PLAIN = BlankSpec()


def make_blank(context: RingContext, terms: Sequence[Term], formed_mm: float, spec: BlankSpec = PLAIN) -> Blank:
    """A blank from its ledger and what is said of it beside."""
    section = spec.section or context.section
    done = worded(tuple(terms), context.used.units)
    cut = total(done)
    wide = section.width_mm if spec.width_mm is None else spec.width_mm
    volume = (section.area_mm2 if spec.area_mm2 is None else spec.area_mm2) * cut
    has_cut = any(mark.key == "cut" for mark in spec.marks)
    return Blank(
        name=spec.name,
        title=spec.title,
        role=spec.role,
        count=spec.count,
        section=section,
        stock=stock_words(section, context.used.units),
        cut_length_mm=cut,
        cut_text=format_length(cut, context.used.units, places_for(context.used.round_to_mm)),
        unit=context.used.units,
        fraction=nearest_fraction(cut) if context.used.units == "in" else "",
        sum_text=format_length(cut, context.used.units),
        formed_length_mm=formed_mm,
        outside_mm=spec.outside_mm,
        terms=done,
        stretches=stretches(done),
        marks=(*spec.marks, *cut_marks(context.used, done, has_cut)),
        volume_mm3=volume,
        mass_g=context.metal.mass_g(volume),
        width_mm=wide,
        drawing=spec.drawing or strip(cut, wide, list(spec.lines), list(spec.labels)),
        waits=spec.waits,
        view=spec.view,
    )


def format_place(used: Used, mm: float) -> str:
    """A place on a strip, as exactly as lengths are marked."""
    return f"{Length(mm, used.units):.{places_for(used.round_to_mm)}f}"


def cut_marks(used: Used, terms: tuple[Term, ...], has_cut: bool = False) -> tuple[Mark, ...]:
    """Where to cut, and where the end is filed back to, if trim was left on this piece."""
    marks, cut_mm = [], total(terms)
    trim = math.fsum(term.mm for term in terms if term.key == "trim")
    if trim:
        back = cut_mm - trim
        marks.append(Mark("trim", back, f"file back to {format_place(used, back)}"))
    if not has_cut:
        marks.append(Mark("cut", cut_mm, cut_words(used, cut_mm)))
    return tuple(marks)


def cut_words(used: Used, cut_mm: float) -> str:
    """What is said at the cut."""
    return f"scribe {format_place(used, cut_mm)}, cut right of the line"
