"""Jobs: list, search, read, save, plan anew, close, say where it is, take out and bring in."""

from __future__ import annotations

from typing import Any

from django.db.models import Prefetch, QuerySet
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import Body, Router
from ninja.responses import Status

from ringcraft.styles.orders import fields_of
from ringcraft.work.hardening import hardening
from ringcraft.work.kept import KeptPlanError, bare_figures
from ringcraft.work.sheets import opens
from ringcraft.works import MAKE, RESIZE, is_current
from workshop.api.job_shapes import (
    AnewIn,
    BesideOut,
    ClosedIn,
    DetailsIn,
    JobIn,
    JobLine,
    JobLines,
    JobOut,
    PlaceIn,
    ResizeIn,
)
from workshop.api.signed_in import actor, person, shop
from workshop.core.pages import MOST, page_of
from workshop.customers.models import Customer
from workshop.jobs import actions, files
from workshop.jobs.details import JobDetails, Place
from workshop.jobs.measures import measures_now, values_of
from workshop.jobs.models import Job, JobPhoto, JointLook, Measure, StepDone
from workshop.jobs.plans import followed, kept_plan, planned_anew
from workshop.jobs.progress import heats_of, progress_of, steps_done
from workshop.jobs.search import find_jobs
from workshop.people.preferences import preferences_of
from workshop.stock.models import Movement

router = Router(by_alias=True)  # a deed of a step has a field called "with"


def jobs_of(request: HttpRequest) -> QuerySet[Job]:
    """The jobs of the asker's workshop, and no others."""
    return Job.objects.filter(workshop=shop(request))


def one_job(request: HttpRequest, job_id: int) -> Job:
    """One job of the asker's workshop with what belongs to it; raises DoesNotExist."""
    steps = Prefetch("steps_done", StepDone.objects.select_related("by"))
    measures = Prefetch("measures", Measure.objects.select_related("by"))
    photos = Prefetch("photos", JobPhoto.objects.select_related("photo__by"))
    looks = Prefetch("looks", JointLook.objects.select_related("by"))
    return jobs_of(request).prefetch_related(steps, measures, photos, looks).get(pk=job_id)


MOST_ON_SLIP = 12
PLAIN = (
    "id", "number", "ticket", "work", "title", "customer_name", "note", "due", "version", "engine",
    "closed_at", "place", "place_note", "place_until", "place_version",
)  # fmt: skip


def job_out(job: Job, units: str) -> dict[str, Any]:
    """A job as the API answers it to a shop of these units."""
    own = {field.name: getattr(job, field.name) for field in job._meta.concrete_fields}
    rows = [row for row in job.measures.all() if row.value is not None]
    poured = Movement.objects.filter(job=job, kind="cut", item__poured=True, mass_g__lt=0).exists()
    return {
        **{name: own[name] for name in PLAIN},
        **_followed(job, poured),
        "poured": poured,
        "customer_id": job.customer_id,
        "order": job.order if isinstance(job.order, dict) else {},
        "fields": fields_of(job.order, units) if isinstance(job.order, dict) else {},
        "done": _done(job),
        "measures": [
            _measure(row, sum((one.key, one.route_key) == (row.key, row.route_key) for one in rows))
            for row in measures_now(job).values()
        ],
        "photos": [_photo(row) for row in job.photos.all()],
        "together": _together(job),
        "standing": progress_of(job),
        "heats": _heats(job),
    }


def _together(job: Job) -> list[int]:
    if job.work != RESIZE.key:
        return []
    others = Job.objects.filter(workshop_id=job.workshop_id, work=job.work, closed_at__isnull=True).exclude(pk=job.pk)
    if job.customer_id:
        others = others.filter(customer_id=job.customer_id)
    elif job.customer_name:
        others = others.filter(customer_name=job.customer_name)
    else:
        return [job.pk]
    return [job.pk, *others.order_by("number").values_list("pk", flat=True)[: MOST_ON_SLIP - 1]]


def _photo(row: JobPhoto) -> dict[str, Any]:
    photo = row.photo
    return {"id": row.pk, "side": row.side, "width": photo.width, "height": photo.height, "at": photo.at,
            "by": str(photo.by or "")}  # fmt: skip


def answered(request: HttpRequest, job_id: int) -> dict[str, Any]:
    """One job of the asker's workshop as it is answered; raises DoesNotExist."""
    return job_out(one_job(request, job_id), preferences_of(person(request), shop(request)).units)


def progress(request: HttpRequest, job_id: int) -> dict[str, Any]:
    """Where one job stands; raises DoesNotExist."""
    job = one_job(request, job_id)
    return {"done": _done(job), "standing": progress_of(job), "heats": _heats(job)}


def _heats(job: Job) -> int:
    try:
        return heats_of(job, kept_plan(job).route)
    except KeptPlanError:
        return 0


def _followed(job: Job, poured: bool) -> dict[str, Any]:
    nothing: dict[str, Any] = {
        "plan": None,
        "now": None,
        "wrong": "",
        "older": "",
        "verdicts": [],
        "current": False,
        "opens": {},
        "hardness": [],
    }
    try:
        seen = followed(job, values_of(job))
    except KeptPlanError as problem:
        said = f"{problem.message} {problem.hint}".strip()
        return {**nothing, "trouble": said, "figures": [{"title": t, "text": x} for t, x in bare_figures(job.plan)]}
    return {
        "plan": seen.plan,
        "now": seen.now,
        "wrong": seen.wrong,
        "older": seen.older,
        "verdicts": list(seen.verdicts),
        "current": is_current(seen.plan),
        "opens": opens(seen.now),
        "hardness": list(hardening(seen.now, poured)),
        "trouble": "",
        "figures": [],
    }


def _done(job: Job) -> list[dict[str, Any]]:
    rows = steps_done(job).values()
    return [{"key": row.key, "at": row.at, "by": str(row.by or ""), "nth": row.nth} for row in rows]


def _measure(row: Measure, readings: int) -> dict[str, Any]:
    plain = ("key", "text", "value", "zero_mm", "gauge_id", "gauge_name", "at")
    return {**{name: getattr(row, name) for name in plain}, "by": str(row.by or ""), "readings": readings}


def _details(request: HttpRequest, body: DetailsIn) -> JobDetails:
    customer = Customer.objects.get(pk=body.customer_id, workshop=shop(request)) if body.customer_id else None
    return JobDetails(body.title, body.customer_name, body.note, body.due, customer, body.ticket)


@router.get("", response=JobLines, operation_id="list_jobs")
def list_jobs(request: HttpRequest, closed: bool = False, limit: int = MOST, offset: int = 0) -> Any:
    """The workshop's jobs, newest first, a page at a time: open ones, or those off the bench."""
    found = jobs_of(request).filter(closed_at__isnull=not closed).defer("plan", "order", "note")
    return page_of(found, ("-number",), limit, offset)


@router.get("/find", response=JobLines, operation_id="find_jobs")
def search_jobs(request: HttpRequest, q: str, limit: int = 20, offset: int = 0) -> Any:
    """The jobs whose customer, name, number or ticket has these words, newest first, a page at a time."""
    return find_jobs(shop(request).pk, q, limit, offset)


@router.get("/by-number/{int:number}", response=JobLine, operation_id="job_by_number")
def job_by_number(request: HttpRequest, number: int) -> Job:
    """The job of a number: where the code on its slip leads."""
    return jobs_of(request).defer("plan", "order", "note").get(number=number)


@router.post("", response={201: JobOut}, operation_id="create_job")
def create_job(request: HttpRequest, body: JobIn) -> Status[Any]:
    """Save a new job."""
    job = actions.create_job(actor(request), _details(request, body), body.order)
    return Status(201, answered(request, job.pk))


@router.post("/resize", response={201: JobOut}, operation_id="create_resize")
def create_resize(request: HttpRequest, body: ResizeIn) -> Status[Any]:
    """Take in a ring to be resized."""
    job = actions.create_job(actor(request), _details(request, body), body.order, RESIZE)
    return Status(201, answered(request, job.pk))


@router.post("/import", response={201: JobOut}, operation_id="import_job")
def import_job(request: HttpRequest, body: Body[dict[str, Any]]) -> Status[Any]:
    """Bring in a job from its file."""
    job = files.bring_in(actor(request), body)
    return Status(201, answered(request, job.pk))


@router.get("/{int:job_id}", response=JobOut, operation_id="read_job")
def read_job(request: HttpRequest, job_id: int) -> dict[str, Any]:
    """One job."""
    return answered(request, job_id)


@router.put("/{int:job_id}", response=JobOut, operation_id="edit_job")
def edit_job(request: HttpRequest, job_id: int, body: JobIn) -> dict[str, Any]:
    """Save a job again; a stale version is refused with theirs."""
    actions.edit_job(actor(request), job_id, body.version, _details(request, body), body.order, MAKE)
    return answered(request, job_id)


@router.put("/{int:job_id}/resize", response=JobOut, operation_id="edit_resize")
def edit_resize(request: HttpRequest, job_id: int, body: ResizeIn) -> dict[str, Any]:
    """Save a ring to be resized again; a stale version is refused with theirs."""
    actions.edit_job(actor(request), job_id, body.version, _details(request, body), body.order, RESIZE)
    return answered(request, job_id)


@router.get("/{int:job_id}/anew", response=BesideOut, operation_id="plan_beside")
def plan_beside(request: HttpRequest, job_id: int) -> Any:
    """The same order as today's rules plan it, beside the kept plan; nothing is changed."""
    return planned_anew(one_job(request, job_id))


@router.put("/{int:job_id}/anew", response=JobOut, operation_id="plan_anew")
def plan_anew(request: HttpRequest, job_id: int, body: AnewIn) -> dict[str, Any]:
    """Take today's plan in place of the kept one, which stays among the past ones."""
    actions.plan_anew(actor(request), job_id, body.version)
    return answered(request, job_id)


@router.put("/{int:job_id}/closed", response=JobOut, operation_id="close_job")
def close_job(request: HttpRequest, job_id: int, body: ClosedIn) -> dict[str, Any]:
    """Take a job off the bench, or put it back."""
    actions.close_job(actor(request), one_job(request, job_id), body.closed, body.without)
    return answered(request, job_id)


@router.put("/{int:job_id}/place", response=JobOut, operation_id="put_job")
def put_job(request: HttpRequest, job_id: int, body: PlaceIn) -> dict[str, Any]:
    """Say where a job is when it is not on the bench."""
    actions.put_job(actor(request), job_id, body.version, Place(body.place, body.note, body.until))
    return answered(request, job_id)


@router.get("/{int:job_id}/file", operation_id="job_file")
def job_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The job as a file: open JSON, to keep or to bring in elsewhere."""
    job = one_job(request, job_id)
    answer = JsonResponse(files.take_out(job), json_dumps_params={"indent": 2, "ensure_ascii": False})
    answer["Content-Disposition"] = f'attachment; filename="ring-{job.number}.json"'
    return answer
