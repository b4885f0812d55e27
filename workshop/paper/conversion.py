"""One finger on every scale and gauge, as upright rulers on a common axis, on one page."""

from __future__ import annotations

import io

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ringcraft.measure.conversion import Conversion, StripRow
from workshop.paper.blank import BLUE, GRAPHITE, check_bar, new_canvas
from workshop.paper.type import draw, width

LEFT, RIGHT = 20 * mm, A4[0] - 20 * mm
TOP, BOTTOM = A4[1] - 58 * mm, 34 * mm
_TICK = {"whole": 5 * mm, "half": 3 * mm, "quarter": 1.8 * mm}


def conversion_pdf(made: Conversion) -> bytes:
    """The conversion as PDF: one column a scale or gauge, the finger's line across all of them."""
    file = io.BytesIO()
    canvas = new_canvas(file, f"{made.text} on every scale")
    draw(canvas, LEFT, A4[1] - 24 * mm, made.text, "strong", 17)
    said = f"{made.inside_diameter_mm:.2f} mm inside, {made.circumference_mm:.2f} mm round. Ticks are quarter sizes."
    draw(canvas, LEFT, A4[1] - 30.5 * mm, said, "body", 10.5)
    step = (RIGHT - LEFT - 14 * mm) / max(len(made.rows), 1)
    for i, row in enumerate(made.rows):
        _column(canvas, made, row, LEFT + i * step, step)
    at = _y(made, made.inside_diameter_mm)
    canvas.setStrokeColorRGB(*BLUE)
    canvas.setLineWidth(1.2)
    canvas.line(LEFT - 4 * mm, at, RIGHT, at)
    check_bar(canvas, LEFT, 20 * mm)
    canvas.showPage()
    canvas.save()
    return file.getvalue()


def _y(made: Conversion, diameter_mm: float) -> float:
    return BOTTOM + (diameter_mm - made.low_mm) / (made.high_mm - made.low_mm) * (TOP - BOTTOM)


def _column(canvas: Canvas, made: Conversion, row: StripRow, x: float, room: float) -> None:
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(0.6)
    canvas.line(x, BOTTOM, x, TOP)
    title, size = row.title, 9.0
    while width(title, "strong", size) > room - 2 * mm and len(title) > 3:
        title = title[:-2].rstrip() + "."
    draw(canvas, x, TOP + 9 * mm, title, "strong", size)
    draw(canvas, x, TOP + 4 * mm, row.text, "body", 8.5)
    canvas.setLineWidth(0.35)
    for mark in row.marks:
        y = _y(made, mark.diameter_mm)
        canvas.line(x, y, x + _TICK[mark.kind], y)
        if mark.label:
            draw(canvas, x + 6 * mm, y - 2.4, mark.label, "body", 7.5)
