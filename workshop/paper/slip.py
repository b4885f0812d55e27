"""The intake slip: what came in, what is done to it, what is risked by it, to be signed; a code opens the job."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ringcraft.resize.plan import ResizePlan
from workshop.jobs.models import Job
from workshop.paper.blank import BLUE, GRAPHITE, new_canvas
from workshop.paper.code import draw_code
from workshop.paper.type import draw, wrapped

LEFT, RIGHT, TOP, BOTTOM = 20 * mm, A4[0] - 20 * mm, A4[1] - 22 * mm, 24 * mm
QR_MM = 22.0
SIGN_MM = 34.0  # room for the date and two names
MOST_OF_NOTE = 8  # lines: a longer note is for the bench, not for the customer


@dataclass(frozen=True)
class SlipRing:
    """A ring on a slip: its job, its plan, the address that its code opens."""

    job: Job
    plan: ResizePlan
    address: str


def slip_pdf(shop: str, rings: Sequence[SlipRing]) -> bytes:
    """One slip for the rings of a customer as PDF, signed once at its end."""
    file = io.BytesIO()
    canvas = new_canvas(file, f"{shop}: slip of {', '.join(str(one.job.number) for one in rings)}")
    y = TOP
    draw(canvas, LEFT, y, shop, "strong", 17)
    who = next((one.job.customer_name for one in rings if one.job.customer_name), "")
    draw(canvas, LEFT, y - 7 * mm, f"Taken in from {who or 'a customer'}: {_count(len(rings))}", "body", 11)
    y -= 15 * mm
    for one in rings:
        lines = _lines(one)
        needs = max(QR_MM * mm, 14 * mm + 4.7 * mm * len(lines)) + 6 * mm
        if y - needs < BOTTOM:
            canvas.showPage()
            y = TOP
        y = _ring(canvas, one, lines, y)
    if y - SIGN_MM * mm < BOTTOM:
        canvas.showPage()
        y = TOP
    _sign(canvas, y - 6 * mm)
    canvas.showPage()
    canvas.save()
    return file.getvalue()


def _count(rings: int) -> str:
    return "one ring" if rings == 1 else f"{rings} rings"


def _lines(one: SlipRing) -> list[tuple[str, str]]:
    """The lines beside its code: style of type and text."""
    room = RIGHT - LEFT - (QR_MM + 6) * mm
    plan = one.plan
    if plan.method in ("refuse", "true-first"):
        todo = " ".join(plan.says)
    else:
        todo = f"Read on the {plan.sides.to_gauge}." if plan.sides.to_gauge else ""
    out = [("body", line) for line in wrapped(f"{plan.summary}. {todo}", "body", 10, room)]
    stones = ", ".join(f"{stone.title}: {stone.advice}" for stone in plan.stone_advice)
    for text in (stones, f"All the same: {plan.override}" if plan.override else ""):
        out += [("body", line) for line in wrapped(text, "body", 10, room)]
    note = wrapped(one.job.note, "body", 10, room)
    out += [("body", line) for line in note[:MOST_OF_NOTE]]
    if len(note) > MOST_OF_NOTE:
        out.append(("body", "(the rest of this note stands on the job's card)"))
    for risk in plan.risks:
        first, *rest = wrapped(risk, "body", 10, room - 5 * mm)
        out += [("risk", first), *(("more", line) for line in rest)]
    return out


def _ring(canvas: Canvas, one: SlipRing, lines: Sequence[tuple[str, str]], y: float) -> float:
    canvas.setStrokeColorRGB(*BLUE)
    canvas.setLineWidth(1)
    canvas.line(LEFT, y, RIGHT, y)
    left = LEFT + (QR_MM + 6) * mm
    draw_code(canvas, one.address, LEFT, y - (QR_MM + 2) * mm, QR_MM)
    ticket = f", ticket {one.job.ticket}" if one.job.ticket else ""
    due = f", for {one.job.due:%a %d %b %Y}" if one.job.due else ""
    draw(canvas, left, y - 7 * mm, f"{one.job.number}  {one.job.title}{ticket}{due}", "strong", 13)
    at = y - 13 * mm
    for kind, text in lines:
        if kind == "risk":
            draw(canvas, left, at, "–", "body", 10)
        draw(canvas, left + (0 if kind == "body" else 5 * mm), at, text, "body", 10)
        at -= 4.7 * mm
    return min(at, y - (QR_MM + 4) * mm) - 2 * mm


def _sign(canvas: Canvas, y: float) -> None:
    said = "I was told of the risks above and agree that the work is done so. Local law comes first."
    for line in wrapped(said, "body", 10, RIGHT - LEFT):
        draw(canvas, LEFT, y, line, "body", 10)
        y -= 4.8 * mm
    y -= 12 * mm
    canvas.setStrokeColorRGB(*GRAPHITE)
    canvas.setLineWidth(0.6)
    third = (RIGHT - LEFT) / 3
    for place, title in enumerate(("date", "customer", "for the shop")):
        x = LEFT + place * third
        canvas.line(x, y, x + third - 8 * mm, y)
        draw(canvas, x, y - 4.6 * mm, title, "body", 9)
