"""The papers of a job: blanks as PDF, SVG and DXF, ticket as PDF, for the stock as measured."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import Router

from ringcraft.errors import BadRequest, OutOfRangeError, UnreadableError
from ringcraft.resize.plan import ResizePlan
from ringcraft.work.plan import WorkPlan
from workshop.api.estimates import lines_seen
from workshop.api.jobs import one_job
from workshop.api.signed_in import shop, who_may
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job, KeptEstimate
from workshop.jobs.plans import followed
from workshop.jobs.reading import MOST_ON_SLIP
from workshop.paper.blank import blank_pdf
from workshop.paper.dxf import blank_dxf
from workshop.paper.estimate import estimate_pdf
from workshop.paper.slip import SlipRing, slip_pdf
from workshop.paper.svg import blank_svg
from workshop.paper.ticket import ticket_pdf

router = Router()
slips = Router()


def _job_and_plan(request: HttpRequest, job_id: int) -> tuple[Job, WorkPlan]:
    job = one_job(request, job_id)
    return job, followed(job, values_of(job)).now


def _with_blanks(request: HttpRequest, job_id: int) -> tuple[Job, WorkPlan]:
    """A job and its plan, where something is cut for it; raises BadRequest where nothing is."""
    job, plan = _job_and_plan(request, job_id)
    if not plan.blanks:
        raise BadRequest(
            [UnreadableError("", "Nothing is cut from stock for this job.", "Its ticket has its figures.")]
        )
    return job, plan


def _file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'inline; filename="{name}"'
    return answer


@router.get("/{int:job_id}/blank.pdf", operation_id="blank_pdf")
def blank_as_pdf(request: HttpRequest, job_id: int) -> HttpResponse:
    """The blank at true size."""
    job, plan = _with_blanks(request, job_id)
    return _file(blank_pdf(plan, job.name), "application/pdf", f"blank-{job.number}.pdf")


@router.get("/{int:job_id}/blank.svg", operation_id="blank_svg")
def blank_as_svg(request: HttpRequest, job_id: int) -> HttpResponse:
    """The blank at true size, one unit a millimetre."""
    job, plan = _with_blanks(request, job_id)
    return _file(blank_svg(plan, job.name), "image/svg+xml", f"blank-{job.number}.svg")


@router.get("/{int:job_id}/blank.dxf", operation_id="blank_dxf")
def blank_as_dxf(request: HttpRequest, job_id: int) -> HttpResponse:
    """The blank for a cutting machine, in millimetres."""
    job, plan = _with_blanks(request, job_id)
    answer = _file(blank_dxf(plan), "image/vnd.dxf", f"blank-{job.number}.dxf")
    answer["Content-Disposition"] = f'attachment; filename="blank-{job.number}.dxf"'
    return answer


@router.get("/{int:job_id}/ticket.pdf", operation_id="ticket_pdf")
def ticket_as_pdf(request: HttpRequest, job_id: int) -> HttpResponse:
    """The ticket that goes with the ring."""
    job, plan = _job_and_plan(request, job_id)
    return _file(ticket_pdf(job, plan, _address(request, job)), "application/pdf", f"ticket-{job.number}.pdf")


@router.get("/{int:job_id}/estimate-{int:nth}.pdf", auth=who_may("estimate"), operation_id="estimate_pdf")
def estimate_as_pdf(request: HttpRequest, job_id: int, nth: int) -> HttpResponse:
    """An estimate as it was given."""
    kept = KeptEstimate.objects.select_related("job").get(job=one_job(request, job_id), nth=nth)
    name = f"estimate-{kept.job.number}-{kept.nth}.pdf"
    return _file(estimate_pdf(shop(request).name, kept, lines_seen(request, kept)), "application/pdf", name)


@slips.get("/{numbers}.pdf", operation_id="slip_pdf")
def slip_as_pdf(request: HttpRequest, numbers: str) -> HttpResponse:
    """One intake slip for several rings, by their job ids apart by commas: to be signed."""
    ids = [part for part in numbers.split(",") if part.isascii() and part.isdecimal() and len(part) < 12]
    if not ids or len(ids) != len(numbers.split(",")) or len(ids) > MOST_ON_SLIP:
        raise BadRequest([OutOfRangeError("numbers", "That is no list of jobs.", f"One to {MOST_ON_SLIP} of them.")])
    rings = [_on_slip(request, int(one)) for one in dict.fromkeys(ids)]
    return _file(slip_pdf(shop(request).name, rings), "application/pdf", f"slip-{rings[0].job.number}.pdf")


def _on_slip(request: HttpRequest, job_id: int) -> SlipRing:
    job, plan = _job_and_plan(request, job_id)
    if not isinstance(plan, ResizePlan):
        said = f"Job {job.number} is a ring to make: it has a ticket, and no slip."
        raise BadRequest([UnreadableError("numbers", said, "Choose rings that came in.")])
    return SlipRing(job, plan, _address(request, job))


def _address(request: HttpRequest, job: Job) -> str:
    """What the code on a job's papers says: where it opens."""
    return request.build_absolute_uri(f"/ticket/{job.number}")
