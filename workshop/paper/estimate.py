"""An estimate as it was given, on one page."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm

from workshop.jobs.models import KeptEstimate
from workshop.paper.blank import BLUE, GRAPHITE, new_canvas
from workshop.paper.type import draw, width, wrapped

LEFT, RIGHT, TOP = 20 * mm, A4[0] - 20 * mm, A4[1] - 24 * mm
AMOUNT = LEFT + 30 * mm


def estimate_pdf(shop: str, kept: KeptEstimate, lines: Sequence[Mapping[str, str]]) -> bytes:
    """An estimate as PDF, with these lines of it."""
    file, job = io.BytesIO(), kept.job
    canvas = new_canvas(file, f"{shop}: estimate {job.number}/{kept.nth}")
    y = TOP
    draw(canvas, LEFT, y, shop, "strong", 17)
    draw(canvas, LEFT, y - 8 * mm, f"Estimate {job.number}/{kept.nth}, {kept.at:%d %b %Y}", "body", 11)
    y -= 16 * mm
    for line in wrapped(f"{job.name}: {job.summary}. In {kept.metal}.", "body", 11, RIGHT - LEFT):
        draw(canvas, LEFT, y, line, "body", 11)
        y -= 5.2 * mm
    y -= 6 * mm
    canvas.setStrokeColorRGB(*BLUE)
    canvas.line(LEFT, y + 6 * mm, RIGHT, y + 6 * mm)
    for row in lines:
        draw(canvas, AMOUNT - width(row["amount"], "figure", 12), y, row["amount"], "figure", 12)
        draw(canvas, AMOUNT + 6 * mm, y, row["title"], "strong", 11)
        draw(canvas, AMOUNT + 46 * mm, y, row["why"], "body", 10)
        y -= 7 * mm
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.line(LEFT, y + 4 * mm, RIGHT, y + 4 * mm)
    y -= 3 * mm
    draw(canvas, AMOUNT - width(kept.total_text, "figure", 16), y, kept.total_text, "figure", 16)
    draw(canvas, AMOUNT + 6 * mm, y, f"{kept.currency} in all", "strong", 12)
    y -= 9 * mm
    for said in (
        *(f"Not in it: {one}." for one in kept.missing),
        "An estimate: what shows only at the bench is asked first.",
    ):
        for line in wrapped(said, "body", 10, RIGHT - LEFT):
            draw(canvas, LEFT, y, line, "body", 10)
            y -= 4.8 * mm
    canvas.showPage()
    canvas.save()
    return file.getvalue()
