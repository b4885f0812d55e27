"""The blank at true size, as PDF with a 50 mm check bar and as SVG in millimetres."""

from __future__ import annotations

import io
from xml.sax.saxutils import escape

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ringcraft.planning.band import Blank
from ringcraft.styles.base import RingPlan
from workshop.paper.type import draw, width

CHECK_BAR_MM = 50.0
LEFT_MM = 20.0
BLUE = (0.122, 0.247, 0.549)
GRAPHITE = (0.125, 0.141, 0.165)


def new_canvas(file: io.BytesIO, title: str) -> Canvas:
    """A canvas that prints without scaling and is the same for the same job."""
    canvas = Canvas(file, pagesize=A4, invariant=1)
    canvas.setTitle(title)
    canvas.setViewerPreference("PrintScaling", "None")
    return canvas


def blank_pdf(plan: RingPlan, title: str) -> bytes:
    """The blanks of a plan at true size with their marks."""
    file = io.BytesIO()
    canvas = new_canvas(file, title)
    top = A4[1] - 25 * mm
    draw(canvas, LEFT_MM * mm, top, title, "strong", 15)
    draw(canvas, LEFT_MM * mm, top - 6 * mm, f"{plan.summary}, {plan.target.text}. {plan.says[0]}", "body", 10)
    y = top - 32 * mm
    for blank in plan.blanks:
        draw_strip(canvas, blank, plan.section.width_mm, LEFT_MM * mm, y)
        y -= (plan.section.width_mm + 40) * mm
    check_bar(canvas, LEFT_MM * mm, y + 10 * mm)
    canvas.showPage()
    canvas.save()
    return file.getvalue()


def draw_strip(canvas: Canvas, blank: Blank, width_mm: float, x: float, y: float) -> None:
    """One blank at true size: its lower left corner at (x, y) [pt], the square end left."""
    high = width_mm * mm
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setFillColorRGB(*GRAPHITE)
    canvas.setLineWidth(0.25)
    canvas.rect(x, y, blank.cut_length_mm * mm, high, stroke=1, fill=0)
    draw(canvas, x, y + high + 2 * mm, "square end", "body", 8)
    for stretch in blank.stretches:
        if stretch.off or stretch.from_mm == 0:
            continue
        canvas.setStrokeColorRGB(*BLUE)
        canvas.line(x + stretch.from_mm * mm, y, x + stretch.from_mm * mm, y + high)
    canvas.setStrokeColorRGB(*GRAPHITE)
    _ruler(canvas, x, y - 1.5 * mm, blank.cut_length_mm)
    for mark in blank.marks:
        at = x + mark.x_mm * mm
        canvas.setLineWidth(0.4)
        canvas.line(at, y - 1.5 * mm, at, y + high + (8 if mark.key == "cut" else 5) * mm)
        over = y + high + (6 if mark.key == "cut" else 3) * mm
        draw(canvas, at - width(mark.text, "strong", 9) - 1 * mm, over, mark.text, "strong", 9)


def _ruler(canvas: Canvas, x: float, y: float, length_mm: float) -> None:
    canvas.setLineWidth(0.2)
    for at in range(int(length_mm) + 1):
        long = 4 if at % 10 == 0 else 2.6 if at % 5 == 0 else 1.6
        canvas.line(x + at * mm, y, x + at * mm, y - long * mm)
        if at % 10 == 0:
            draw(canvas, x + at * mm - width(str(at), "body", 7) / 2, y - 7 * mm, str(at), "body", 7)


def check_bar(canvas: Canvas, x: float, y: float) -> None:
    """A bar of 50 mm to hold a caliper against."""
    canvas.setLineWidth(0.8)
    canvas.line(x, y, x + CHECK_BAR_MM * mm, y)
    for end in (x, x + CHECK_BAR_MM * mm):
        canvas.line(end, y - 1.5 * mm, end, y + 1.5 * mm)
    text = "This bar is 50 mm. If a caliper says otherwise, the printer has scaled the page: print at 100 %."
    draw(canvas, x, y - 5 * mm, text, "body", 8)


def blank_svg(plan: RingPlan, title: str) -> str:
    """The blanks of a plan at true size as SVG; one user unit is 1 mm."""
    margin, gap = 5.0, 12.0
    long = max(blank.cut_length_mm for blank in plan.blanks)
    high = plan.section.width_mm
    wide, tall = long + 2 * margin, margin + len(plan.blanks) * (high + gap)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{tall:.3f}mm" '
        f'viewBox="0 0 {wide:.3f} {tall:.3f}" fill="none" stroke="#20242a" stroke-width="0.1">',
        f"<title>{escape(_printable(title))}</title>",
    ]
    for index, blank in enumerate(plan.blanks):
        y = margin + index * (high + gap)
        parts.append(f'<g id="{escape(blank.name)}" transform="translate({margin} {y})">')
        parts.append(f'<rect class="blank" width="{blank.cut_length_mm:.4f}" height="{high:.4f}"/>')
        for stretch in blank.stretches:
            if not stretch.off and stretch.from_mm > 0:
                parts.append(
                    f'<path class="{stretch.key}" d="M{stretch.from_mm:.4f} 0V{high:.4f}" stroke="#1f3f8c"/>'
                )
        for mark in blank.marks:
            parts.append(f'<path class="mark {mark.key}" d="M{mark.x_mm:.4f} -1V{high + 1:.4f}"/>')
        parts.append(
            f'<text y="{high + 4:.3f}" font-size="3" font-family="sans-serif" fill="#20242a" stroke="none">'
            f"{escape(blank.marks[-1].text)}</text></g>"
        )
    return "\n".join([*parts, "</svg>"]) + "\n"


def _printable(text: str) -> str:
    return "".join(char if char.isprintable() else " " for char in text)
