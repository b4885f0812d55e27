"""The blanks of a ring at true size, as PDF with a 50 mm check bar: to wrap on the mandrel or glue on the sheet."""

from __future__ import annotations

import io

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ringcraft.drawing.paths import Path, flattened
from ringcraft.drawing.shapes import Drawing
from ringcraft.planning.blank import Blank
from ringcraft.planning.ledger import Mark
from ringcraft.work.plan import WorkPlan
from workshop.paper.type import draw, width, wrapped

CHECK_BAR_MM = 50.0
LEFT_MM = 20.0
RIGHT_MM = A4[0] / mm - 15.0
BOTTOM_MM = 22.0
BLUE = (0.122, 0.247, 0.549)
GRAPHITE = (0.125, 0.141, 0.165)
SOFT = (0.55, 0.55, 0.55)
CAP_SHARE = 0.7  # height of a capital over the size of the type, of the shipped typeface
HEAD_MM, FOOT_MM = 16.0, 14.0  # of a strip: its marks above, its ruler below


def new_canvas(file: io.BytesIO, title: str) -> Canvas:
    """A canvas that prints without scaling and is the same for the same job."""
    canvas = Canvas(file, pagesize=A4, invariant=1)
    canvas.setTitle(title)
    canvas.setViewerPreference("PrintScaling", "None")
    return canvas


def blank_pdf(plan: WorkPlan, title: str) -> bytes:
    """The blanks of a plan at true size with their marks, then the finished ring at true size."""
    file = io.BytesIO()
    canvas = new_canvas(file, title)
    y = _head(canvas, plan, title)
    for blank in plan.blanks:
        needs = HEAD_MM + blank.width_mm + FOOT_MM + _listed_mm(blank)
        if y - needs < BOTTOM_MM:
            _turn(canvas)
            y = A4[1] / mm - 20
        left = LEFT_MM - leftmost_mm(blank)
        draw_blank(canvas, plan, blank, left, y - HEAD_MM - blank.width_mm)
        y -= needs + 4
    if y - plan.ring.height_mm - 12 < BOTTOM_MM:
        _turn(canvas)
        y = A4[1] / mm - 20
    _finished(canvas, plan, y - 8)
    check_bar(canvas, LEFT_MM * mm, 12 * mm)
    canvas.showPage()
    canvas.save()
    return file.getvalue()


def leftmost_mm(blank: Blank) -> float:
    """How far left of the square end the drawing begins [mm]: nought, or less where an offcut lies there."""
    return min(x for shape in blank.drawing.shapes for x, _ in flattened(shape.paths[0], closed=True))


def _turn(canvas: Canvas) -> None:
    check_bar(canvas, LEFT_MM * mm, 12 * mm)
    canvas.showPage()


def _head(canvas: Canvas, plan: WorkPlan, title: str) -> float:
    """The job's name and what to do; answers where the page goes on [mm]."""
    y = A4[1] / mm - 25
    draw(canvas, LEFT_MM * mm, y * mm, title, "strong", 15)
    y -= 6
    for line in wrapped(f"{plan.headline()}. {plan.says[0]}", "body", 10, (RIGHT_MM - LEFT_MM) * mm):
        draw(canvas, LEFT_MM * mm, y * mm, line, "body", 10)
        y -= 4.6
    return y - 4


def draw_blank(canvas: Canvas, plan: WorkPlan, blank: Blank, x_mm: float, y_mm: float) -> None:
    """One blank at true size: its lower left corner at (x, y) [mm], the square end left."""
    high = blank.width_mm
    draw_drawing(canvas, blank.drawing, x_mm, y_mm)
    name = blank.title if blank.count == 1 else f"{blank.title}, {blank.count} of them"
    note = f". Planned until {blank.waits}." if blank.waits else ""
    draw(canvas, x_mm * mm, (y_mm + high + 12) * mm, f"{name}, {blank.stock}{note}", "strong", 9)
    draw(canvas, x_mm * mm, (y_mm + high + 2) * mm, "square end", "body", 8)
    canvas.setStrokeColorRGB(*BLUE)
    canvas.setLineWidth(0.25)
    for stretch in blank.stretches:
        if not stretch.off and stretch.from_mm > 0:
            at = (x_mm + stretch.from_mm) * mm
            canvas.line(at, y_mm * mm, at, (y_mm + high) * mm)
    canvas.setStrokeColorRGB(*GRAPHITE)
    _ruler(canvas, x_mm * mm, (y_mm - 1.5) * mm, blank.cut_length_mm)
    _marks(canvas, blank.marks, x_mm, y_mm, high)
    y = y_mm - 11.0
    for line in _listed(blank):
        draw(canvas, x_mm * mm, y * mm, line, "body", 8)
        y -= 3.8


def _marks(canvas: Canvas, marks: tuple[Mark, ...], x_mm: float, y_mm: float, high: float) -> None:
    """Every mark as a line over the strip, with its words where there is room for them."""
    free = RIGHT_MM + 100.0
    for mark in sorted(marks, key=lambda one: -one.x_mm):
        at = x_mm + mark.x_mm
        canvas.setLineWidth(0.4)
        canvas.line(at * mm, (y_mm - 1.5) * mm, at * mm, (y_mm + high + (8 if mark.key == "cut" else 5)) * mm)
        long = width(mark.text, "strong", 9) / mm
        if mark.text and at + 0.5 < free and (mark.key == "cut" or at + long + 1 < free):
            left = at - long - 1 if mark.key == "cut" else at - long - 1 if at - long > x_mm + 18 else at + 1
            draw(canvas, left * mm, (y_mm + high + (6 if mark.key == "cut" else 3)) * mm, mark.text, "strong", 9)
            free = left


def draw_drawing(canvas: Canvas, drawing: Drawing, x_mm: float, y_mm: float) -> None:
    """A drawing at true size, its origin at (x, y) [mm]."""
    for shape in drawing.shapes:
        canvas.setLineWidth(0.25)
        canvas.setStrokeColorRGB(*(SOFT if shape.tone == "ghost" else GRAPHITE))
        canvas.setDash([1, 1] if shape.tone == "ghost" else [])
        for path in shape.paths:
            _stroke(canvas, path, x_mm, y_mm, closed=True)
    for line in drawing.lines:
        canvas.setLineWidth(0.2)
        canvas.setStrokeColorRGB(*BLUE)
        canvas.setDash([2, 1.5] if line.kind in ("fold", "centre") else [])
        _stroke(canvas, line.path, x_mm, y_mm, closed=False)
    canvas.setDash([])
    canvas.setStrokeColorRGB(*GRAPHITE)
    for label in drawing.labels:
        size = label.height_mm / CAP_SHARE * mm
        left = (x_mm + label.x_mm) * mm - width(label.text, "strong", size) / 2
        draw(canvas, left, (y_mm + label.y_mm) * mm, label.text, "strong", size)


def _stroke(canvas: Canvas, path: Path, x_mm: float, y_mm: float, *, closed: bool) -> None:
    points = [((x_mm + x) * mm, (y_mm + y) * mm) for x, y in flattened(path, closed)]
    line = canvas.beginPath()
    line.moveTo(*points[0])
    for point in points[1:]:
        line.lineTo(*point)
    if closed:
        line.close()
    canvas.drawPath(line, stroke=1, fill=0)


def _listed(blank: Blank) -> list[str]:
    """The letters of a blank with each one's distance from the square end, as lines of text."""
    said = "   ".join(f"{label.text} {label.x_mm:.2f}" for label in blank.drawing.labels if label.height_mm)
    return wrapped(said, "body", 8, (RIGHT_MM - LEFT_MM) * mm) if said else []


def _listed_mm(blank: Blank) -> float:
    return 3.8 * len(_listed(blank))


def _finished(canvas: Canvas, plan: WorkPlan, top_mm: float) -> None:
    """The finished ring, and the cut across it where there is one, at true size."""
    x = LEFT_MM
    draw(canvas, x * mm, top_mm * mm, f"finished, {plan.wanted_text}", "body", 8)
    for drawing in (plan.ring, plan.across, *(blank.view for blank in plan.blanks)):
        if drawing is not None:
            draw_drawing(canvas, drawing, x - drawing.box[0], top_mm - 4 - drawing.box[3])
            x += drawing.length_mm + 12


def _ruler(canvas: Canvas, x: float, y: float, length_mm: float) -> None:
    canvas.setLineWidth(0.2)
    for at in range(int(length_mm) + 1):
        long = 4 if at % 10 == 0 else 2.6 if at % 5 == 0 else 1.6
        canvas.line(x + at * mm, y, x + at * mm, y - long * mm)
        if at % 10 == 0:
            draw(canvas, x + at * mm - width(str(at), "body", 7) / 2, y - 7 * mm, str(at), "body", 7)


def check_bar(canvas: Canvas, x: float, y: float) -> None:
    """A bar of 50 mm to hold a caliper against."""
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(0.8)
    canvas.line(x, y, x + CHECK_BAR_MM * mm, y)
    for end in (x, x + CHECK_BAR_MM * mm):
        canvas.line(end, y - 1.5 * mm, end, y + 1.5 * mm)
    text = "This bar is 50 mm. If a caliper says otherwise, the printer has scaled the page: print at 100 %."
    draw(canvas, x, y - 5 * mm, text, "body", 8)
