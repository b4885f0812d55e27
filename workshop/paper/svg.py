"""The blanks of a ring at true size as SVG: one user unit is a millimetre."""

from __future__ import annotations

from xml.sax.saxutils import escape, quoteattr

from ringcraft.drawing.paths import svg
from ringcraft.planning.blank import Blank
from ringcraft.work.plan import WorkPlan
from workshop.paper.blank import leftmost_mm

MARGIN_MM, GAP_MM = 5.0, 14.0


def blank_svg(plan: WorkPlan, title: str) -> str:
    """The blanks of a plan, one over another, the square end left."""
    spare = max(0.0, *(-leftmost_mm(blank) for blank in plan.blanks))
    wide = max(blank.cut_length_mm for blank in plan.blanks) + 2 * (MARGIN_MM + spare)
    tall = MARGIN_MM + sum(blank.width_mm + GAP_MM for blank in plan.blanks)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{tall:.3f}mm" '
        f'viewBox="0 0 {wide:.3f} {tall:.3f}" fill="none" stroke="#20242a" stroke-width="0.1">',
        f"<title>{escape(_printable(title))}</title>",
    ]
    y = MARGIN_MM
    for blank in plan.blanks:
        parts += _blank(blank, MARGIN_MM + spare, y)
        y += blank.width_mm + GAP_MM
    return "\n".join([*parts, "</svg>"]) + "\n"


def _blank(blank: Blank, x: float, y: float) -> list[str]:
    high = blank.width_mm
    parts = [f'<g id={quoteattr(blank.name)} transform="translate({x} {y})">']
    for shape in blank.drawing.shapes:
        data = "".join(svg(path, True, high) for path in shape.paths)
        parts.append(f'<path class="{shape.key} {shape.tone}" d="{data}"/>')
    for stretch in blank.stretches:
        if not stretch.off and stretch.from_mm > 0:
            parts.append(f'<path class="{stretch.key}" d="M{stretch.from_mm:.4f} 0V{high:.4f}" stroke="#1f3f8c"/>')
    for line in blank.drawing.lines:
        parts.append(f'<path class="line {line.kind}" d="{svg(line.path, False, high)}" stroke="#1f3f8c"/>')
    for label in blank.drawing.labels:
        parts.append(
            f'<text class="letter" x="{label.x_mm:.4f}" y="{high - label.y_mm:.4f}" text-anchor="middle" '
            f'font-size="{label.height_mm / 0.7:.3f}" font-family="sans-serif" fill="#20242a" stroke="none">'
            f"{escape(label.text)}</text>"
        )
    for mark in blank.marks:
        parts.append(f'<path class="mark {mark.key}" d="M{mark.x_mm:.4f} -1V{high + 1:.4f}"/>')
    cut = next(mark for mark in blank.marks if mark.key == "cut")
    said = f"{blank.title}, {blank.stock}: {cut.text}"
    parts.append(
        f'<text y="{high + 4:.3f}" font-size="3" font-family="sans-serif" fill="#20242a" stroke="none">'
        f"{escape(said)}</text></g>"
    )
    return parts


def _printable(text: str) -> str:
    return "".join(char if char.isprintable() else " " for char in text)
