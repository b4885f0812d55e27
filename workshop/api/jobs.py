"""Jobs: list, search, read, save, plan anew, close, say where it is, take out and bring in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import Body, Router
from ninja.responses import Status

from ringcraft.errors import BadRequest, UnknownNameError
from ringcraft.work.fields import fields_of
from ringcraft.work.hardening import hardening
from ringcraft.work.kept import KeptPlanError, bare_figures, without_states
from ringcraft.work.sheets import opens
from ringcraft.works import WORKS, Work, is_current
from workshop.api.job_shapes import (
    AnewIn,
    BesideOut,
    ClosedIn,
    DetailsIn,
    JobIn,
    JobLine,
    JobLines,
    JobOut,
    LookedIn,
    PlaceIn,
)
from workshop.api.signed_in import actor, person, shop
from workshop.api.ways import WaysOf
from workshop.core.pages import MOST, page_of
from workshop.customers.models import Customer
from workshop.jobs import actions, files, reading
from workshop.jobs.details import JobDetails, Place
from workshop.jobs.measures import measures_now, values_of
from workshop.jobs.models import Job, JobPhoto, Measure
from workshop.jobs.plans import followed, kept_plan, planned_anew
from workshop.jobs.progress import heats_of, progress_of, steps_done
from workshop.jobs.search import find_jobs
from workshop.people.preferences import preferences_of
from workshop.stock.demand import is_poured

router = Router(by_alias=True)  # a deed of a step has a field called "with"


def jobs_of(request: HttpRequest) -> QuerySet[Job]:
    """The jobs of the asker's workshop, and no others."""
    return Job.objects.filter(workshop=shop(request))


def one_job(request: HttpRequest, job_id: int) -> Job:
    """One job of the asker's workshop with what belongs to it; raises DoesNotExist."""
    return reading.one_job(shop(request).pk, job_id)


PLAIN = (
    "id", "number", "ticket", "work", "title", "customer_name", "note", "due", "version", "engine",
    "closed_at", "place", "place_note", "place_until", "place_version",
)  # fmt: skip


def job_out(job: Job, units: str, poured: bool, together: Sequence[int]) -> dict[str, Any]:
    """A job with what belongs to it as the API answers it to a shop of these units."""
    own = {field.name: getattr(job, field.name) for field in job._meta.concrete_fields}
    rows = [row for row in job.measures.all() if row.value is not None]
    return {
        **{name: own[name] for name in PLAIN},
        **_followed(job, poured),
        "poured": poured,
        "comes_in": job.work in WORKS and WORKS[job.work].comes_in,
        "for_customer": job.work not in WORKS or WORKS[job.work].for_customer,
        "customer_id": job.customer_id,
        "order": job.order if isinstance(job.order, dict) else {},
        "fields": fields_of(job.order, units) if isinstance(job.order, dict) else {},
        "done": _done(job),
        "measures": [
            _measure(row, sum((one.key, one.route_key) == (row.key, row.route_key) for one in rows))
            for row in measures_now(job).values()
        ],
        "photos": [_photo(row) for row in job.photos.all()],
        "together": together,
        "standing": progress_of(job),
        "heats": _heats(job),
    }


def _photo(row: JobPhoto) -> dict[str, Any]:
    photo = row.photo
    return {"id": row.pk, "side": row.side, "width": photo.width, "height": photo.height, "at": photo.at,
            "by": str(photo.by or "")}  # fmt: skip


def answered(request: HttpRequest, job: Job | int) -> dict[str, Any]:
    """A job of the asker's workshop as it is answered: by its id, or as it was just changed."""
    row = one_job(request, job) if isinstance(job, int) else reading.whole(job)
    units = preferences_of(person(request), shop(request)).units
    return job_out(row, units, is_poured(row.pk), reading.together(row))


def progress(job: Job) -> dict[str, Any]:
    """Where a job stands that was just changed."""
    reading.steps_of(job)
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
        "headline": "",
        "opens": {},
        "fires": (),
        "hardness": [],
    }
    try:
        seen = followed(job, values_of(job))
    except KeptPlanError as problem:
        said = f"{problem.message} {problem.hint}".strip()
        return {**nothing, "trouble": said, "figures": [{"title": t, "text": x} for t, x in bare_figures(job.plan)]}
    return {
        "plan": without_states(seen.plan),
        "now": None if seen.now is seen.plan else without_states(seen.now),
        "wrong": seen.wrong,
        "older": seen.older,
        "verdicts": list(seen.verdicts),
        "current": is_current(seen.plan),
        "headline": seen.now.headline(),
        "opens": opens(seen.now),
        "fires": [step.key for step in seen.now.route if step.is_heat],
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
    found = jobs_of(request).filter(closed_at__isnull=not closed).defer("plan", "order", "note", "left")
    return page_of(found, ("-number",), limit, offset)


@router.get("/find", response=JobLines, operation_id="find_jobs")
def search_jobs(request: HttpRequest, q: str, limit: int = 20, offset: int = 0) -> Any:
    """The jobs whose customer, name, number or ticket has these words, newest first, a page at a time."""
    return find_jobs(shop(request).pk, q, limit, offset)


@router.get("/by-number/{int:number}", response=JobLine, operation_id="job_by_number")
def job_by_number(request: HttpRequest, number: int) -> Job:
    """The job of a number: where the code on its slip leads."""
    return jobs_of(request).defer("plan", "order", "note", "left").get(number=number)


def _work(key: str) -> Work:
    if key not in WORKS:
        said = f"“{key[:20]}” is no kind of work known here."
        raise BadRequest([UnknownNameError("work", said, f"It can be {', '.join(WORKS)}.")])
    return WORKS[key]


def _order(work: Work, data: dict[str, Any]) -> Any:
    """The typed order of a body; raises BadRequest at its fields there."""
    try:
        return work.read(data)
    except BadRequest as problem:
        raise problem.under("order") from None


@router.post("", response={201: JobOut}, operation_id="create_job")
def create_job(request: HttpRequest, body: JobIn) -> Status[Any]:
    """Save a new job of any kind of work."""
    work = _work(body.work)
    job = actions.create_job(actor(request), _details(request, body), _order(work, body.order), work)
    return Status(201, answered(request, job))


@router.post("/import", response={201: JobOut}, operation_id="import_job")
def import_job(request: HttpRequest, body: Body[dict[str, Any]]) -> Status[Any]:
    """Bring in a job from its file."""
    return Status(201, answered(request, files.bring_in(actor(request), body)))


@router.get("/{int:job_id}", response=JobOut, operation_id="read_job")
def read_job(request: HttpRequest, job_id: int) -> dict[str, Any]:
    """One job."""
    return answered(request, job_id)


@router.put("/{int:job_id}", response=JobOut, operation_id="edit_job")
def edit_job(request: HttpRequest, job_id: int, body: JobIn, ways_of: WaysOf = "") -> dict[str, Any]:
    """Save a job again; a stale version is refused with theirs. Its ways stay unless ``ways_of`` says ``today``."""
    work = _work(body.work)
    order = _order(work, body.order)
    job = actions.edit_job(actor(request), job_id, body.version, _details(request, body), order, work)
    return answered(request, job)


@router.get("/{int:job_id}/anew", response=BesideOut, operation_id="plan_beside")
def plan_beside(request: HttpRequest, job_id: int) -> Any:
    """The same order as today's rules plan it, beside the kept plan; nothing is changed."""
    return planned_anew(one_job(request, job_id))


@router.put("/{int:job_id}/anew", response=JobOut, operation_id="plan_anew")
def plan_anew(request: HttpRequest, job_id: int, body: AnewIn) -> dict[str, Any]:
    """Take today's plan in place of the kept one, which stays among the past ones."""
    return answered(request, actions.plan_anew(actor(request), job_id, body.version))


@router.put("/{int:job_id}/closed", response=JobOut, operation_id="close_job")
def close_job(request: HttpRequest, job_id: int, body: ClosedIn) -> dict[str, Any]:
    """Take a job off the bench, or put it back."""
    return answered(request, actions.close_job(actor(request), job_id, body.closed, body.without))


@router.put("/{int:job_id}/place", response=JobOut, operation_id="put_job")
def put_job(request: HttpRequest, job_id: int, body: PlaceIn) -> dict[str, Any]:
    """Say where a job is when it is not on the bench."""
    place = Place(body.place, body.note, body.until)
    return answered(request, actions.put_job(actor(request), job_id, body.version, place))


@router.post("/{int:job_id}/looked", response=JobOut, operation_id="look_at_again")
def looked(request: HttpRequest, job_id: int, body: LookedIn) -> dict[str, Any]:
    """Say that a finished ring was looked at again."""
    return answered(request, actions.look_at_again(actor(request), job_id, body.found))


@router.get("/{int:job_id}/file", operation_id="job_file")
def job_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The job as a file: open JSON, to keep or to bring in elsewhere."""
    job = one_job(request, job_id)
    answer = JsonResponse(files.take_out(job), json_dumps_params={"indent": 2, "ensure_ascii": False})
    answer["Content-Disposition"] = f'attachment; filename="ring-{job.number}.json"'
    return answer
