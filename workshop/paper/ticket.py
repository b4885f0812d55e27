"""The job's ticket: what goes with the ring in its envelope, on one page where it fits."""

from __future__ import annotations

import io

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ringcraft.work.plan import WorkPlan
from workshop.jobs.measures import measures_now
from workshop.jobs.models import Job
from workshop.jobs.progress import done_times
from workshop.paper.blank import BLUE, GRAPHITE, new_canvas
from workshop.paper.code import draw_code
from workshop.paper.type import draw, width, wrapped

CODE_MM = 14.0
LEFT, RIGHT, BOTTOM = 20 * mm, A4[0] - 20 * mm, 18 * mm


def ticket_pdf(job: Job, plan: WorkPlan, address: str) -> bytes:
    """The ticket of a job as PDF, with a code that opens it at its ``address``."""
    file = io.BytesIO()
    canvas = new_canvas(file, f"{job.number} {job.name}")
    y = _head(canvas, job, plan, A4[1] - 24 * mm)
    draw_code(canvas, address, RIGHT - CODE_MM * mm, 4 * mm, CODE_MM)  # in the foot, where no line ends
    y = _ledger(canvas, plan, y)
    done, measures = done_times(job), measures_now(job)
    y = _route_head(canvas, y)
    for step in plan.route:
        if y < BOTTOM + 8 * mm:
            canvas.showPage()
            y = _route_head(canvas, A4[1] - 20 * mm)
        canvas.setStrokeColorRGB(*GRAPHITE)
        canvas.setLineWidth(0.5)
        canvas.rect(LEFT, y - 0.5 * mm, 3 * mm, 3 * mm, fill=int(step.key in done))
        draw(canvas, LEFT + 6 * mm, y, step.station.replace("-", " "), "body", 9)
        draw(canvas, LEFT + 26 * mm, y, step.title, "strong", 9.5)
        at = LEFT + 96 * mm
        for ask in step.measure:
            kept = measures.get(ask.key)
            value = kept.text if kept else "........."
            at = draw(canvas, at, y, f"{ask.title} {value}   ", "body", 8.5)
        y -= 5.6 * mm
    canvas.showPage()
    canvas.save()
    return file.getvalue()


def _head(canvas: Canvas, job: Job, plan: WorkPlan, y: float) -> float:
    ticket = f", ticket {job.ticket}" if job.ticket else ""
    draw(canvas, LEFT, y, f"{job.number}  {job.name}{ticket}", "strong", 17)
    due = job.due.strftime("%a %d %b %Y, %H:%M UTC") if job.due else "no date promised"
    draw(canvas, LEFT, y - 6.5 * mm, f"{plan.headline()}. For {due}.", "body", 10.5)
    figure, unit = plan.main_figure()
    size = 54.0 if len(figure) < 8 else 30.0
    draw(canvas, RIGHT - width(figure, "figure", size) - 10 * mm, y - 14 * mm, figure, "figure", size)
    short = unit in ("mm", "in")  # beside the figure, else under it
    draw(canvas, RIGHT - 8 * mm if short else RIGHT - 10 * mm - width(unit, "body", 13),
         y - (14 if short else 20) * mm, unit, "body", 13)  # fmt: skip
    y -= 12 * mm
    for line in wrapped(" ".join(plan.says), "body", 10.5, 110 * mm):
        draw(canvas, LEFT, y, line, "body", 10.5)
        y -= 4.8 * mm
    for line in wrapped(job.note, "body", 10, 110 * mm)[:6]:
        draw(canvas, LEFT, y, line, "body", 10)
        y -= 4.6 * mm
    return y - 5 * mm


def _ledger(canvas: Canvas, plan: WorkPlan, y: float) -> float:
    ledgers = plan.ledgers()
    for one in ledgers:
        if len(ledgers) > 1:
            waits = f"; planned until {one.waits}" if one.waits else ""
            draw(canvas, LEFT, y, f"{one.title}, {one.about}{waits}", "strong", 10)
            y -= 5.2 * mm
        for term in one.terms:
            _row(canvas, y, f"{term.mm:+.2f}", term.title, term.why)
            y -= 4.8 * mm
        canvas.setStrokeColorRGB(*GRAPHITE)
        canvas.setLineWidth(0.8)
        canvas.line(LEFT, y + 3.2 * mm, LEFT + 120 * mm, y + 3.2 * mm)
        y -= 1.2 * mm
        _row(canvas, y, f"{one.sum_mm:.2f}", one.sum_title, one.says)
        y -= 7 * mm
    said = [f"{figure.title} {figure.text}" for figure in plan.figures]
    said += [f"{joint.title}: {joint.solder}" for joint in plan.joints if len(plan.joints) > 1]
    for line in wrapped("; ".join([*said, *plan.warnings]), "body", 9.5, RIGHT - LEFT):
        draw(canvas, LEFT, y, line, "body", 9.5)
        y -= 4.6 * mm
    return y - 4 * mm


def _row(canvas: Canvas, y: float, figure: str, title: str, why: str) -> None:
    draw(canvas, LEFT + 14 * mm - width(figure, "figure", 10.5), y, figure, "figure", 10.5)
    draw(canvas, LEFT + 18 * mm, y, title, "strong", 9.5)
    draw(canvas, LEFT + 56 * mm, y, why, "body", 9)


def _route_head(canvas: Canvas, y: float) -> float:
    canvas.setStrokeColorRGB(*BLUE)
    canvas.setLineWidth(1)
    canvas.line(LEFT, y, RIGHT, y)
    return y - 7 * mm
