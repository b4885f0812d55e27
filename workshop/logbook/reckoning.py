"""Works out how a job's ring came out whenever the job changes, and keeps it beside it.

What an engine before this one kept in another shape is caught up when the application starts; until then it is said
how many wait.
"""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from django.db.models import Q, QuerySet
from django.dispatch import receiver

from ringcraft.learning.came_out import ReadAt, RingOut, came_out, title_of_group
from ringcraft.learning.causes import TITLES
from ringcraft.metals import METALS
from ringcraft.sections import PROFILES
from ringcraft.styles import STYLES
from ringcraft.units import MONTHS
from ringcraft.work.kept import KeptPlanError
from ringcraft.works import WORKS
from workshop.jobs import catching_up, reading
from workshop.jobs.measures import measures_now
from workshop.jobs.models import LONGEST_WORDS, Job, Measure, StepDone, folded
from workshop.jobs.plans import followed, kept_plan, looks_of
from workshop.jobs.progress import job_stands, steps_done, times_done
from workshop.jobs.readings import came_back_of
from workshop.logbook.models import Finding, RingRecord

SHAPE = "1"  # of what is kept; raise it with each change of it
PLAIN = (
    "style", "profile", "family", "metal", "group", "thickness_class", "thickness_mm", "width_mm", "wanted_mm",
    "cut_planned_mm", "cut_read_mm", "cut_off_mm", "size_planned_mm", "size_read_mm", "off_mm", "z_mm",
    "residual_mm", "in_force_mm", "passes_known", "verdict",
)  # fmt: skip


#: What is kept of a job whose plan cannot be read: that there is nothing to tell.
NOTHING: dict[str, Any] = {"stamp": SHAPE, "listed": False, "counts": False, "style": "", "z_mm": None, "words": ""}


@receiver(job_stands)
def reckon(job: Job, **_: object) -> None:
    """Work out how a job's ring came out, and keep it; nothing where its plan cannot be read."""
    reading.whole(job)  # at once, and the answer that follows need not look again
    columns: dict[str, Any]
    if job.work in WORKS and not WORKS[job.work].for_customer:
        RingRecord.objects.filter(job=job).delete()
        RingRecord.objects.create(
            job=job, workshop_id=job.workshop_id, number=job.number, at=job.created_at, **NOTHING
        )
        return
    try:
        out, row = _out(job)
    except KeptPlanError:
        columns = {**NOTHING, "workshop_id": job.workshop_id, "number": job.number, "at": job.created_at}
    else:
        columns = _columns(job, out, row)
    if not RingRecord.objects.filter(job=job).update(**columns):
        RingRecord.objects.create(job=job, **columns)


def _out(job: Job) -> tuple[RingOut, Measure | None]:
    """How it came out, and the row of its last size."""
    rows = measures_now(job)
    values = {key: float(row.value) for key, row in rows.items() if row.value is not None}
    seen = followed(job, values)
    read = {key: ReadAt(value, rows[key].next_key) for key, value in values.items()}
    out = came_out(seen.plan, seen.now, read, looks_of(job))
    sizes = [row for key, row in rows.items() if key.startswith("size-") or key.startswith("cut-length")]
    return out, max(sizes, key=lambda row: (row.key.startswith("size-"), row.at), default=None)


def _columns(job: Job, out: RingOut, last: Measure | None) -> dict[str, Any]:
    plan: Any = kept_plan(job)
    done = steps_done(job)
    cutter = _who_cut(job, plan.route, done) or (last.by if last else None)
    back = came_back_of(job)
    person = str(cutter) if cutter else ""
    at: datetime = last.at if last else max((row.at for row in done.values()), default=job.created_at)
    plain = {name: getattr(out, name) for name in PLAIN}
    found = newest_finding(job)
    slips = [TITLES[key] for key in found.keys if key in TITLES and key != "scatter"] if found else []
    slip = f"it was found out: {' and '.join(slips)}" if slips else ""
    columns = {
        **plain,
        "workshop_id": job.workshop_id,
        "number": job.number,
        "stamp": SHAPE,
        "listed": bool(last or job.closed_at or back),
        "at": at,
        "work": job.work,
        "size_text": str(plan.target.text)[:60],
        "counts": out.z_mm is not None and not slip,
        "why_not": (out.why_not or slip)[:120],
        "odd": out.odd[:80],
        "came_back": back[:200],
        "person": cutter,
        "person_name": person[:150],
        "gauge": last.gauge_name if last else "",
        "calibrated": str(last.calibration_id or "") if last else "",
        "minutes": float(sum(row.minutes or 0 for row in times_done(job))),
        "stages": [asdict(one) for one in out.stages],
    }
    return columns | {"words": _words(job, out, columns, found)}


def _who_cut(job: Job, route: Any, done: dict[str, StepDone]) -> Any:
    """Who cut the piece that sets the size, by the steps that were ticked."""
    cuts = {step.key for step in route for deed in step.does if deed.op in ("cut", "square")}
    rows = [row for key, row in done.items() if key in cuts and row.by_id]
    return rows[-1].by if rows else None


def _words(job: Job, out: RingOut, columns: dict[str, Any], found: Finding | None) -> str:
    """What a ring is found by: as one says it at a bench."""
    at: datetime = columns["at"]
    texts = (
        PROFILES[out.profile].title if out.profile in PROFILES else out.profile,
        METALS[out.metal].title if out.metal in METALS else out.metal,
        title_of_group(out.group),
        STYLES[out.style].title if out.style in STYLES else out.style,
        job.work,
        columns["size_text"],
        f"{at.year} {MONTHS[at.month - 1]}",
        columns["person_name"],
        out.verdict,
        columns["gauge"],
        job.customer_name,
        job.title,
        job.ticket,
        "came back" if columns["came_back"] else "",
        " ".join(TITLES.get(key, key) for key in found.keys) if found else "",
    )
    return folded(" ".join(text for text in texts if text))[:LONGEST_WORDS]


def newest_finding(job: Job) -> Finding | None:
    """What a job's ring was found to have, as it stands."""
    last = job.findings.order_by("-nth").first()
    return last if last and last.keys else None


def unreckoned(jobs: QuerySet[Job]) -> QuerySet[Job]:
    """Those of some jobs whose rings are not in the logbook's present shape yet."""
    return jobs.filter(~Q(ring_record__stamp=SHAPE) | Q(ring_record=None))


def waiting(workshop_id: int) -> int:
    """How many rings of a workshop still wait to be worked out."""
    jobs = Job.objects.filter(workshop_id=workshop_id).count()
    return max(0, jobs - RingRecord.objects.filter(workshop_id=workshop_id, stamp=SHAPE).count())


def catch_up() -> int:
    """Work out how the rings of all jobs came out that were kept in another shape; how many that were."""
    return catching_up.catch_up(unreckoned, reckon, "how the ring came out")
