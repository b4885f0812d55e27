"""Jobs: list, read, save, tick, measure, close, take out and bring in."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import Body, Router, Schema
from ninja.responses import Status

from ringcraft.border import SignedMm
from ringcraft.following import Verdict
from ringcraft.styles import AnyPlan, AnyRing
from workshop.api.gauges import one_gauge
from workshop.api.problems import Conflict, Problem
from workshop.api.signed_in import doer
from workshop.customers.models import Customer
from workshop.jobs import actions, files
from workshop.jobs.models import Job
from workshop.jobs.standing import Standing, done_times, standing
from workshop.jobs.views import as_followed

router = Router()
FAILS = {401: Problem, 404: Problem, 422: Problem}


class JobIn(Schema):
    """A job as it is saved; ``version`` is the one that was read, left out for a new job."""

    title: str
    customer_name: str = ""
    customer_id: int | None = None
    note: str = ""
    due: datetime | None = None
    order: AnyRing
    version: int | None = None


class MeasureOut(Schema):
    """A measure as typed and as read [mm or g]."""

    key: str
    text: str
    value: float
    zero_mm: float
    gauge_id: int | None
    gauge_name: str
    at: datetime


class DoneOut(Schema):
    """A ticked step."""

    key: str
    at: datetime


class JobOut(Schema):
    """A job with its plan then, its plan now, and where it stands."""

    id: int
    number: int
    title: str
    customer_name: str
    customer_id: int | None
    note: str
    due: datetime | None
    version: int
    engine: str
    closed_at: datetime | None
    order: dict[str, Any]
    plan: AnyPlan
    now: AnyPlan
    wrong: str
    verdicts: list[Verdict]
    done: list[DoneOut]
    measures: list[MeasureOut]
    standing: Standing


class JobLine(Schema):
    """A job in a list."""

    id: int
    number: int
    title: str
    customer_name: str
    due: datetime | None
    closed_at: datetime | None


class StepIn(Schema):
    """Whether a step is done."""

    done: bool


class MeasureIn(Schema):
    """A measure as typed; empty takes it away."""

    text: str
    gauge_id: int | None = None
    gauge_name: str = ""
    zero_mm: SignedMm = 0.0


class ClosedIn(Schema):
    """Whether the job is off the bench."""

    closed: bool


def jobs_of(request: HttpRequest) -> QuerySet[Job]:
    """The jobs of the asker's workshop, and no others."""
    return Job.objects.filter(workshop=doer(request).workshop)


def one_job(request: HttpRequest, job_id: int) -> Job:
    """One job of the asker's workshop with what belongs to it; raises DoesNotExist."""
    return jobs_of(request).prefetch_related("steps_done", "measures").get(pk=job_id)


def job_out(job: Job) -> dict[str, Any]:
    """A job as the API answers it."""
    done = done_times(job)
    kept = (
        "id",
        "number",
        "title",
        "customer_name",
        "customer_id",
        "note",
        "due",
        "version",
        "engine",
        "closed_at",
        "order",
    )
    return {
        **{name: getattr(job, name) for name in kept},
        **as_followed(job),
        "done": [{"key": key, "at": at} for key, at in done.items()],
        "measures": [MeasureOut.from_orm(measure) for measure in job.measures.all()],
        "standing": standing(job.plan["route"], done),
    }


def _details(request: HttpRequest, body: JobIn) -> actions.JobDetails:
    shop = doer(request).workshop
    customer = Customer.objects.get(pk=body.customer_id, workshop=shop) if body.customer_id else None
    return actions.JobDetails(body.title, body.customer_name, body.note, body.due, customer)


@router.get("", response=list[JobLine], operation_id="list_jobs")
def list_jobs(request: HttpRequest, closed: bool = False) -> QuerySet[Job]:
    """The workshop's jobs, newest first: open ones, or those off the bench."""
    return jobs_of(request).filter(closed_at__isnull=not closed).order_by("-number")[:500]


@router.post("", response={201: JobOut, **FAILS}, operation_id="create_job")
def create_job(request: HttpRequest, body: JobIn) -> Status[Any]:
    """Save a new job."""
    job = actions.create_job(doer(request), _details(request, body), body.order)
    return Status(201, job_out(one_job(request, job.pk)))


@router.post("/import", response={201: JobOut, **FAILS}, operation_id="import_job")
def import_job(request: HttpRequest, body: Body[dict[str, Any]]) -> Status[Any]:
    """Bring in a job from its file."""
    job = files.bring_in(doer(request), body)
    return Status(201, job_out(one_job(request, job.pk)))


@router.get("/{int:job_id}", response={200: JobOut, 401: Problem, 404: Problem}, operation_id="read_job")
def read_job(request: HttpRequest, job_id: int) -> dict[str, Any]:
    """One job."""
    return job_out(one_job(request, job_id))


@router.put("/{int:job_id}", response={200: JobOut, 409: Conflict, **FAILS}, operation_id="edit_job")
def edit_job(request: HttpRequest, job_id: int, body: JobIn) -> dict[str, Any]:
    """Save a job again; a stale version is refused with what changed."""
    actions.edit_job(doer(request), job_id, body.version or 0, _details(request, body), body.order)
    return job_out(one_job(request, job_id))


@router.put("/{int:job_id}/steps/{key}", response={200: JobOut, **FAILS}, operation_id="tick_step")
def tick_step(request: HttpRequest, job_id: int, key: str, body: StepIn) -> dict[str, Any]:
    """Tick a step, or take the tick back."""
    actions.tick_step(doer(request), one_job(request, job_id), key, body.done)
    return job_out(one_job(request, job_id))


@router.put("/{int:job_id}/measures/{key}", response={200: JobOut, **FAILS}, operation_id="take_measure")
def take_measure(request: HttpRequest, job_id: int, key: str, body: MeasureIn) -> dict[str, Any]:
    """Keep a measure."""
    gauge = one_gauge(request, body.gauge_id) if body.gauge_id else None
    taken = actions.Taken(key, body.text, gauge, body.gauge_name, body.zero_mm)
    actions.take_measure(doer(request), one_job(request, job_id), taken)
    return job_out(one_job(request, job_id))


@router.put("/{int:job_id}/closed", response={200: JobOut, **FAILS}, operation_id="close_job")
def close_job(request: HttpRequest, job_id: int, body: ClosedIn) -> dict[str, Any]:
    """Take a job off the bench, or put it back."""
    actions.close_job(doer(request), one_job(request, job_id), body.closed)
    return job_out(one_job(request, job_id))


@router.get("/{int:job_id}/file", operation_id="job_file")
def job_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The job as a file: open JSON, to keep or to bring in elsewhere."""
    job = one_job(request, job_id)
    answer = JsonResponse(files.take_out(job), json_dumps_params={"indent": 2, "ensure_ascii": False})
    answer["Content-Disposition"] = f'attachment; filename="ring-{job.number}.json"'
    return answer
