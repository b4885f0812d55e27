"""A cut plan at true size: bars with their scribe marks from the left end, folded where they are too long."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from workshop.paper.blank import BLUE, GRAPHITE, SOFT, check_bar
from workshop.paper.type import draw, width, wrapped
from workshop.stock.cuts import Proposed
from workshop.stock.words import mark_text, scribe, sheet_stays, stays, strip_words

PAGE = landscape(A4)
LEFT_MM, BOTTOM_MM = 15.0, 24.0
ROOM_MM = math.floor(PAGE[0] / mm - 2 * LEFT_MM)
BAR_MM, ROW_MM = 6.0, 26.0


@dataclass(frozen=True)
class PaperCut:
    """A blank on a bar: from where to where [mm from the left end], whose it is."""

    from_mm: float
    to_mm: float
    who: str
    mark: str


@dataclass(frozen=True)
class PaperBar:
    """A bar, or a strip of a sheet: its name, its length [mm], its blanks, what is left of it in words."""

    name: str
    length_mm: float
    cuts: Sequence[PaperCut]
    rest: str


def plan_pdf(made: Proposed, units: str) -> bytes:
    """The cut plan of a stock at true size as PDF."""
    names = {key: item.called for key, item in made.items.items()}
    bars = [
        PaperBar(
            names[one.stock_id],
            one.length_mm,
            _cuts(made, one.cuts, one.lengths_mm, one.marks_mm, units),
            stays(made, one.stock_id, one.offcut_mm, units),
        )
        for one in made.plan.pieces
    ]
    bars += [
        PaperBar(
            f"{names[strip.sheet_id]}, {strip_words(strip, made.plan.strips, units)}",
            strip.length_mm,
            _cuts(made, strip.cuts, strip.lengths_mm, strip.marks_mm, units),
            "",
        )
        for strip in made.plan.strips
        if strip.cuts
    ]
    sheets = dict.fromkeys(strip.sheet_id for strip in made.plan.strips)
    left = [f"{names[key]}: {sheet_stays(made, key, units)}." for key in sheets]
    says = " ".join([*made.plan.says, *left, f"From the squared left end: {scribe(made)}."])
    return cuts_pdf(f"Cut {made.group.title(units)}", says, bars)


def _cuts(
    made: Proposed, cuts: Iterable[str], lengths: Iterable[float], marks: Iterable[float], units: str
) -> list[PaperCut]:
    return [
        PaperCut(mark - length, mark, made.blanks[key].job_name, mark_text(mark, units))
        for key, length, mark in zip(cuts, lengths, marks, strict=True)
    ]


def cuts_pdf(title: str, says: str, bars: Sequence[PaperBar]) -> bytes:
    """The bars of a plan at true size, with a bar to check the printer by."""
    file = io.BytesIO()
    canvas = Canvas(file, pagesize=PAGE, invariant=1)
    canvas.setTitle(title)
    canvas.setViewerPreference("PrintScaling", "None")
    y = PAGE[1] / mm - 18
    draw(canvas, LEFT_MM * mm, y * mm, title, "strong", 15)
    for line in wrapped(says, "body", 10, ROOM_MM * mm):
        y -= 5
        draw(canvas, LEFT_MM * mm, y * mm, line, "body", 10)
    y -= 6
    for bar in bars:
        rows = rows_of(bar)
        for place, start in enumerate(rows):
            if y - ROW_MM < BOTTOM_MM:
                check_bar(canvas, LEFT_MM * mm, 12 * mm)
                canvas.showPage()
                y = PAGE[1] / mm - 18
            _row(canvas, bar, start, y, last=place == len(rows) - 1)
            y -= ROW_MM
    check_bar(canvas, LEFT_MM * mm, 12 * mm)
    canvas.showPage()
    canvas.save()
    return file.getvalue()


def rows_of(bar: PaperBar) -> list[float]:
    """Where each row of a folded bar begins [mm]: no further than where it is marked last, with a little beyond."""
    last = max((cut.to_mm for cut in bar.cuts), default=0.0) + 15
    return [at * ROOM_MM for at in range(max(1, math.ceil(min(bar.length_mm, last) / ROOM_MM)))]


def _row(canvas: Canvas, bar: PaperBar, start: float, top: float, *, last: bool) -> None:
    end = min(bar.length_mm, start + ROOM_MM)
    y = top - 14
    go_on = f", goes on from {start:g}" if start else ""
    draw(canvas, LEFT_MM * mm, (top - 2) * mm, f"{bar.name}, {bar.length_mm:.1f}{go_on}", "strong", 9)
    canvas.setLineWidth(0.3)
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.rect(LEFT_MM * mm, y * mm, (end - start) * mm, BAR_MM * mm)
    for cut in bar.cuts:
        if start <= cut.to_mm <= end + 1e-9:
            at = (LEFT_MM + cut.to_mm - start) * mm
            canvas.setStrokeColorRGB(*BLUE)
            canvas.setLineWidth(0.35)
            canvas.line(at, (y - 3) * mm, at, (y + BAR_MM + 2) * mm)
            draw(canvas, at - width(cut.mark, "strong", 9) / 2, (y - 7) * mm, cut.mark, "strong", 9)
        if start <= cut.from_mm < end:
            room = (min(cut.to_mm, end) - cut.from_mm - 2) * mm
            for line in wrapped(cut.who, "body", 8, max(room, 10 * mm))[:1]:
                draw(canvas, (LEFT_MM + cut.from_mm - start + 1) * mm, (y + 2) * mm, line, "body", 8)
    canvas.setStrokeColorRGB(*SOFT)
    if last and bar.rest:
        draw(canvas, LEFT_MM * mm, (y - 11) * mm, bar.rest, "body", 8)
