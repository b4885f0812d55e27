"""Why a job's ring came out wrong, asked with all that is known of it; what it was in the end is kept and counts."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from django.db import transaction

from ringcraft.errors import BadRequest, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.following.inspection import as_measured
from ringcraft.following.judging import STAGE_OF
from ringcraft.learning.came_out import passes_seen
from ringcraft.learning.causes import KEYS
from ringcraft.learning.diagnosing import LEAST_SCATTER_MM, DiagnoseRequest, Observed
from ringcraft.schema import to_json
from ringcraft.styles.base import RingPlan
from ringcraft.units import capital
from ringcraft.works import Work
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.jobs.locking import locked
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job
from workshop.jobs.plans import kept_plan, looks_of, work_of
from workshop.logbook.models import Finding, RingRecord
from workshop.logbook.reckoning import SHAPE, newest_finding, reckon

MOST_FINDINGS, MOST_KEYS, LONGEST_NOTE = 200, 3, 200
MOST_COUNTED = 2000
USUAL_MM = 0.3  # round: how far a ring that was resized scatters; our own judgement
#: At which stage a size was read, by its measure.
STAGES: dict[str, str] = {**STAGE_OF, "size-side-a": "finished", "size-side-b": "finished"}


def found_so_far(workshop_id: int) -> dict[str, int]:
    """How often which cause it was in a workshop: the newest finding of each job, of the newest rings."""
    newest: dict[int, list[str]] = {}
    rows = Finding.objects.filter(workshop_id=workshop_id).order_by("-at", "-nth", "-id")
    for job_id, keys in rows.values_list("job_id", "keys")[:MOST_COUNTED]:
        newest.setdefault(job_id, keys)
    return dict(Counter(key for keys in newest.values() for key in keys if key in KEYS))


def question_of(job: Job, key: str, units: str) -> DiagnoseRequest:
    """What is asked about a job's ring, with what is known of it: a size that was read, or its cut where none was.

    ``key`` is the measure that is off; empty for the last that says something. Raises BadRequest, or KeptPlanError.
    """
    values, work = values_of(job), work_of(job)
    _refuse_practice(work)
    order = work.read(job.order)
    plan = work.measured(order, kept_plan(job), values)  # for the stock as measured, the joint as planned
    asks = {ask.key: ask for step in plan.route for ask in step.measure}
    main = plan.main_blank.name if plan.main_blank else ""
    if key and key not in values:
        raise BadRequest([UnknownNameError("key", "That was not read on this job.", "Read it first.")])
    cuts = ("cut-length", f"cut-length@{main}")
    sizes = [one for one in asks if one.partition("@")[0] in STAGES and one in values]
    size = key if key in sizes else "" if key in cuts or not sizes else sizes[-1]
    cut = next((values[one] for one in cuts if one in values), None)
    thick = next((values[one] for one in ("stock-thickness", f"stock-thickness@{main}") if one in values), None)
    observed = None
    if size:
        observed = Observed(inside_diameter_mm=values[size])
    made = passes_seen(plan, looks_of(job))
    if observed is None and cut is None:
        raise BadRequest([UnknownNameError("key", "No size and no length was read yet.", "Read one first.")])
    resized = work.comes_in
    return DiagnoseRequest(
        order=to_json(order if resized else as_measured(order, values)),
        observed=observed,
        cut_mm=None if resized else cut,
        thickness_mm=None if resized else thick,
        passes_made=None if resized else made,
        scatter_mm=max(LEAST_SCATTER_MM, plan.closing.spread.sd_mm) if isinstance(plan, RingPlan) else USUAL_MM,
        expected_mm=asks[size].expected if size else None,
        stage=STAGES.get(size.partition("@")[0], "round"),
        found=found_so_far(job.workshop_id),
        units=units,
    )


def _refuse_practice(work: Work) -> None:
    if not work.for_customer:
        said = f"{capital(work.title)} is no ring."
        raise BadRequest([UnreadableError("key", said, "Its rounds say what they teach.")])


@transaction.atomic
def keep_finding(actor: Actor, job: Job | int, keys: Sequence[str], note: str) -> Job:
    """Keep what it was in the end; no keys say that the one before does not hold. Raises BadRequest at its field."""
    note = " ".join(note.split())
    wrong = [key for key in keys if key not in KEYS]
    if wrong or len(keys) > MOST_KEYS:
        raise BadRequest([UnknownNameError("keys", "That is no cause known here.", f"It can be {', '.join(KEYS)}.")])
    if len(note) > LONGEST_NOTE:
        raise BadRequest(
            [OutOfRangeError("note", "That is too long to keep.", f"At most {LONGEST_NOTE} characters.")]
        )
    row = locked(actor, job)
    if keys:
        _refuse_practice(work_of(row))
    before = newest_finding(row)
    said = list(dict.fromkeys(keys))
    if (before.keys if before else []) == said and (before is None or before.note == note):
        return row
    nth = row.findings.count() + 1
    if nth > MOST_FINDINGS:
        raise BadRequest([OutOfRangeError("keys", "Found out more often than a ring can be.", "")])
    Finding.objects.create(job=row, workshop_id=row.workshop_id, nth=nth, keys=said, note=note, by_id=actor.user_id)
    record(actor, row, "found", {"keys": before.keys if before else []}, {"keys": said, "note": note})
    reckon(row)
    return row


def record_of(job: Job) -> RingRecord | None:
    """What the logbook has of a job; None where its plan cannot be read."""
    found = RingRecord.objects.filter(job=job, stamp=SHAPE).first()
    if found is None:  # not caught up yet: worked out now, under the lock that whoever changes the job takes
        with transaction.atomic():
            reckon(hold_one(Job.objects.filter(pk=job.pk)))
        found = RingRecord.objects.filter(job=job).first()
    return found if found and found.style else None
