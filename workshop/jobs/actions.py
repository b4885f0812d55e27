"""Every change of a job is one action here: check, then execute in a transaction, with its history.

The API, the demo loader and the import use the same ones.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from ringcraft.day.kinds import kind_of
from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.following.inspection import is_of_stock
from ringcraft.schema import to_json
from ringcraft.work.kept import KeptPlanError
from ringcraft.works import MAKE, Work
from workshop.core.history import Actor, record
from workshop.core.saving import refuse_stale
from workshop.core.turns import take_turn
from workshop.jobs.details import (
    JobDetails,
    Place,
    checked,
    checked_place,
    checked_time,
    of_details,
    of_job,
    of_place,
)
from workshop.jobs.locking import locked
from workshop.jobs.measures import measures_now, put_aside, values_of
from workshop.jobs.models import Job, PastPlan, StepDone
from workshop.jobs.plans import keep_plan, kept_plan, plan_order, planned_anew, work_of
from workshop.jobs.progress import (
    heat_steps,
    heats_of,
    job_stands,
    place_on_bench,
    stand_as_measured,
    step_ticked,
    step_unticked,
    steps_done,
)

MOST_MINUTES = 6000
ORDER_SAVES = ("created", "changed", "planned-anew")  # what raises a job's version
PLACE_SAVES = ("placed", "reopened")
AT_ONCE = timedelta(seconds=3)  # told later than that it was back-dated, or had waited on a device


@transaction.atomic
def create_job(actor: Actor, details: JobDetails, order: Any, work: Work = MAKE) -> Job:
    """A new job with its plan; raises BadRequest."""
    details, plan = checked(details, work), plan_order(work, order)
    after = take_turn(actor.workshop_id, "jobs")  # one number at a time
    last = Job.objects.filter(workshop_id=actor.workshop_id).aggregate(last=Max("number"))["last"] or 0
    job = Job(
        workshop_id=actor.workshop_id,
        number=max(last, after) + 1,
        title=details.title,
        ticket=details.ticket,
        customer=details.customer,
        customer_name=details.customer_name,
        note=details.note,
        due=details.due,
        work=work.key,
        order=to_json(order),
    )
    keep_plan(job, plan)
    job.save()
    place_on_bench(job)
    job.save()
    job_stands.send(Job, job=job)
    record(actor, job, "created", after={**of_job(job), "cut": plan.main_figure()[0]})
    return job


@transaction.atomic
def edit_job(
    actor: Actor, job_id: int, version: int | None, details: JobDetails, order: Any, work: Work = MAKE
) -> Job:
    """Save a job again, planned anew where its order changed; raises Stale, or BadRequest.

    The plan before stays among the past ones. Steps done on another style's route do not count on this one, and
    measures of another profile of stock are put aside; neither is lost.
    """
    details = checked(details, work)
    job = locked(actor, job_id)
    if job.work != work.key:
        raise BadRequest([UnknownNameError("work", f"This job is not {work.title}.", "Open it from its card.")])
    before, after = of_job(job), of_details(details, to_json(order))
    refuse_stale(job, version, after, before, job.version, ORDER_SAVES)
    changed = [name for name in after if after[name] != before[name]]
    if not changed:
        return job
    job.title, job.ticket, job.note, job.due = details.title, details.ticket, details.note, details.due
    job.customer, job.customer_name = details.customer, details.customer_name
    if "order" in changed:
        _keep_past(actor, job)
        was = _profile(before["order"])
        job.order = after["order"]
        keep_plan(job, plan_order(work_of(job), order))
        if _profile(job.order) != was:
            put_aside(actor, job, [key for key in measures_now(job) if is_of_stock(key)])
    job.version += 1
    stand_as_measured(job, values_of(job))
    record(actor, job, "changed", before, after)
    return job


def _profile(order: Any) -> object:
    stock = order.get("stock") if isinstance(order, dict) else None
    return stock.get("profile") if isinstance(stock, dict) else None


def _keep_past(actor: Actor, job: Job) -> None:
    PastPlan.objects.create(
        job=job,
        order=job.order,
        plan=job.plan,
        plan_version=job.plan_version,
        engine=job.engine,
        by_id=actor.user_id,
    )


@transaction.atomic
def plan_anew(actor: Actor, job_id: int, version: int | None) -> Job:
    """Take today's plan of the same order in place of the kept one, which stays among the past ones.

    Raises Stale, BadRequest or CraftError where today's rules refuse the order.
    """
    job = locked(actor, job_id)
    refuse_stale(job, version, {}, of_job(job), job.version, ORDER_SAVES)
    beside = planned_anew(job)
    cuts = [{"engine": job.engine}, {"engine": beside.plan.engine, "cut": beside.plan.main_figure()[0]}]
    _keep_past(actor, job)
    keep_plan(job, beside.plan)
    job.version += 1
    stand_as_measured(job, values_of(job))
    record(actor, job, "planned-anew", *cuts)
    return job


@transaction.atomic
def tick_step(
    actor: Actor,
    job: Job | int,
    key: str,
    done: bool,
    at: datetime | None = None,
    *,
    again: bool = False,
    minutes: float | None = None,
) -> Job:
    """Say that a step of the job's route is done, done again, or not done after all. Answers the job then.

    Raises BadRequest for a step that is not on the route or a time that cannot have been.
    """
    at = checked_time(at, "at")
    live = timezone.now() - at <= AT_ONCE
    if minutes is not None and not 0 <= minutes <= MOST_MINUTES:
        raise BadRequest([OutOfRangeError("minutes", "No step takes that many minutes of hands.", "From 0 to 6000.")])
    row = locked(actor, job)
    try:
        steps = {step.key: step for step in kept_plan(row).route}
    except KeptPlanError as problem:
        raise BadRequest([problem.at("key")]) from None
    if key not in steps:
        raise BadRequest([UnknownNameError("key", f"“{key[:60]}” is not a step of this job.", "")])
    if done and "" in row.moved and key in row.moved:
        why = f"As it was read it does not go on to “{steps[key].title[:80]}”."
        raise BadRequest([OutOfRangeError("key", why, f"{row.moved['']}.")])
    times = list(StepDone.objects.filter(job=row, route_key=row.route_key, key=key).order_by("nth"))
    stands = [time for time in times if time.taken_back_at is None and time.once_more_at is None]
    ticked: StepDone | None = None
    if done and (again or not stands):
        wait = steps[key].wait_min
        ticked = StepDone.objects.create(
            job=row,
            route_key=row.route_key,
            key=key,
            nth=times[-1].nth + 1 if times else 1,
            at=at,
            turn=row.turns,
            by_id=actor.user_id,
            minutes=None if minutes is None else round(minutes, 1),
            kind=kind_of(steps[key]),
            live=live,
            ready_at=at + timedelta(minutes=wait) if wait else None,
        )
    elif not done and stands:
        last = stands[-1]
        last.taken_back_at, last.taken_back_by_id = timezone.now(), actor.user_id
        last.save(update_fields=["taken_back_at", "taken_back_by"])
        step_unticked.send(Job, job=row, done=last)
    else:
        if done and stands and stands[-1].by_id not in (None, actor.user_id):
            row.told = f"{stands[-1].by} ticked this already: it counts once."
        return row
    _stand_anew(row)
    if ticked is not None:
        step_ticked.send(Job, actor=actor, job=row, done=ticked, step=steps[key])
    # a title may hold a figure of the stock as measured, so the history keeps the one that was read
    said = {"step": key, "title": row.moved.get(key, steps[key].title), "at": at.isoformat()}
    record(actor, row, "ticked" if done else "unticked", after=said)
    return row


@transaction.atomic
def once_more(actor: Actor, job: Job | int, key: str) -> Job:
    """Say that a heat has to be made once more: its step and the pickling after it are open again, and it counts.

    Answers the job then.

    Raises BadRequest for a step that is no heat, or was not done.
    """
    row = locked(actor, job)
    try:
        route = kept_plan(row).route
    except KeptPlanError as problem:
        raise BadRequest([problem.at("key")]) from None
    group = heat_steps(route, key)
    done = steps_done(row)
    if not group or key not in done:
        said = "Only a heat that was made can be made once more."
        raise BadRequest([UnknownNameError("key", said, "Such as the soldering, once it is done.")])
    now = timezone.now()
    for one in group:
        if one in done:
            done[one].once_more_at = now
            done[one].save(update_fields=["once_more_at"])
    _stand_anew(row)
    title = row.moved.get(key) or next(step.title for step in route if step.key == key)
    record(actor, row, "once-more", after={"step": key, "title": title, "heats": heats_of(row, route)})
    return row


def _stand_anew(job: Job) -> None:
    place_on_bench(job)
    job.save()


@transaction.atomic
def close_job(actor: Actor, job: Job | int, closed: bool, without: str = "") -> Job:
    """Take a job off the bench, or put it back; raises BadRequest where something is to be read before it is closed.

    ``without`` is why it goes all the same: it stays in the history.
    """
    row = locked(actor, job)
    if (row.closed_at is not None) == closed:
        return row
    why = _checked_closing(row, without) if closed else ""
    row.closed_at = timezone.now() if closed else None
    if not closed and row.place == "collected":
        row.place, row.place_note, row.place_until = "", "", None
        row.place_version += 1
    row.save(update_fields=["closed_at", "place", "place_note", "place_until", "place_version"])
    job_stands.send(Job, job=row)
    record(actor, row, "closed" if closed else "reopened", after={"without": why} if why else {})
    return row


def _checked_closing(job: Job, without: str) -> str:
    """Why a job is closed without what is read before that; raises BadRequest where no reason is given."""
    without = " ".join(without.split())
    if len(without) > 200:
        raise BadRequest([OutOfRangeError("without", "That is too long to keep.", "At most 200 characters.")])
    try:
        plan = kept_plan(job)
    except KeptPlanError:
        return without
    read = measures_now(job)
    missing = [key for key in plan.to_close() if key not in read]
    if not missing:
        return ""
    if not without:
        titles = {ask.key: ask.title for step in plan.route for ask in step.measure}
        said = f"Not read yet: {' and '.join(titles[key] for key in missing)}."
        hint = "Read it on its gauge, or say why it goes without."
        raise BadRequest([UnreadableError("without", said, hint)])
    return without


@transaction.atomic
def look_at_again(actor: Actor, job_id: int, found: str = "") -> Job:
    """Say that a finished ring was looked at again, with what was found, if anything.

    Once is enough; what another finds later is kept too. Raises BadRequest where there is nothing to look at yet.
    """
    job = locked(actor, job_id)
    found = " ".join(found.split())
    if len(found) > 200:
        raise BadRequest([OutOfRangeError("found", "That is too long to keep.", "At most 200 characters.")])
    if job.look_again is None:
        raise BadRequest([UnreadableError("found", "There is nothing to look at again yet.", "Finish it first.")])
    first = job.looked_at is None
    if first:
        job.looked_at = timezone.now()
        job.save(update_fields=["looked_at"])
    if first or found:
        record(actor, job, "looked-again", after={"found": found})
    return job


@transaction.atomic
def put_job(actor: Actor, job_id: int, version: int | None, place: Place) -> Job:
    """Say where a job is; collected takes it off the bench. Raises Stale or BadRequest."""
    place = checked_place(place)
    job = locked(actor, job_id)
    before = of_place(job)
    after = {"place": place.place, "note": place.note, "until": place.until.isoformat() if place.until else None}
    refuse_stale(job, version, after, before, job.place_version, PLACE_SAVES)
    if before == after:
        return job
    if place.place == "collected" and job.closed_at is None:
        _checked_closing(job, place.note)
    job.place, job.place_note, job.place_until = place.place, place.note, place.until
    job.place_version += 1
    if place.place == "collected":
        job.closed_at = job.closed_at or timezone.now()
    elif before["place"] == "collected":
        job.closed_at = None
    job.save(update_fields=["place", "place_note", "place_until", "place_version", "closed_at"])
    if "collected" in (before["place"], job.place):
        job_stands.send(Job, job=job)
    record(actor, job, "placed", {"was": before}, after)
    return job
