"""Which blanks the open jobs still want cut, for the stock as measured; kept beside the job until it changes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from django.db.models import Max, QuerySet

from ringcraft.sections import Section
from ringcraft.stock.wanted import INSERT, StockWanted, stock_wanted
from ringcraft.work.kept import KeptPlanError
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job
from workshop.jobs.plans import followed
from workshop.jobs.progress import done_times
from workshop.stock.models import JobBlanks, Movement

SHAPE = "4"  # of what is kept; raise it with each change of it


@dataclass(frozen=True)
class OpenBlank:
    """A blank that a job wants cut: its metal and the section of its stock, its length as it is cut from it [mm], how
    many of it; ``needs_mm`` is what a piece at hand must measure to serve all the same. ``ticked``: its cut is done
    on the card, though nothing was booked.
    """

    job_id: int
    job_name: str
    who: str
    number: int
    due: datetime | None
    name: str
    title: str
    metal: str
    section: Section
    length_mm: float
    count: int
    waits: str
    ticked: bool
    role: str
    needs_mm: float

    @property
    def is_insert(self) -> bool:
        """Whether it is set into a ring that came in: then any piece serves that is no smaller in section."""
        return self.role == INSERT

    @property
    def key(self) -> str:
        """What it is called in a cut plan."""
        return f"{self.job_id}:{self.name}"


def open_blanks(jobs: QuerySet[Job]) -> list[OpenBlank]:
    """The blanks that these jobs still want: not booked yet; one cut at the bench without booking says so."""
    asked = jobs.annotate(last_measure=Max("measures__id"), last_look=Max("looks__id"))
    rows = {job.pk: job for job in asked}
    kept = {row.job_id: row for row in JobBlanks.objects.filter(job_id__in=rows)}
    stale = [pk for pk, job in rows.items() if pk not in kept or kept[pk].stamp != _stamp(job)]
    full = Job.objects.filter(pk__in=stale).prefetch_related("measures", "looks", "steps_done")
    for job in full:
        kept[job.pk], _ = JobBlanks.objects.update_or_create(
            job=job, defaults={"stamp": _stamp(rows[job.pk]), "blanks": _wanted(job)}
        )
    booked = booked_counts(rows)
    ticked = _ticked([pk for pk in rows if kept[pk].blanks])
    out = []
    for pk, job in rows.items():
        for row in kept[pk].blanks:
            left = row["count"] - booked.get((pk, row["name"]), 0)
            if left > 0:
                out.append(_open(job, row, left, ticked.get(pk, set())))
    return out


def _stamp(job: Any) -> str:
    return f"{SHAPE}.{job.version}.{job.engine}.{job.last_measure or 0}.{job.last_look or 0}"[:80]


def _wanted(job: Job) -> list[dict[str, Any]]:
    """What is kept of a job's blanks; nothing where its plan cannot be read."""
    try:
        plan = followed(job, values_of(job)).now
    except KeptPlanError:
        return []
    return [{**asdict(one), "metal": plan.metal.key} for one in stock_wanted(plan)]


def _open(job: Job, row: dict[str, Any], count: int, ticked: set[str]) -> OpenBlank:
    metal = row["metal"]
    wanted = StockWanted(**{name: value for name, value in row.items() if name != "metal"})
    return OpenBlank(
        job_id=job.pk,
        job_name=job.name,
        who=job.customer_name or job.title,
        number=job.number,
        due=job.due,
        name=wanted.name,
        title=wanted.title,
        metal=metal,
        section=wanted.section,
        length_mm=wanted.length_mm,
        count=count,
        waits=wanted.waits,
        ticked=bool(set(wanted.cut_steps) & ticked),
        role=wanted.role,
        needs_mm=wanted.needs_mm,
    )


def is_poured(job_id: int) -> bool:
    """Whether a job was cut from metal that was melted and poured here."""
    return Movement.objects.filter(job_id=job_id, kind="cut", item__poured=True, mass_g__lt=0).exists()


def booked_counts(jobs: Iterable[int]) -> dict[tuple[int, str], int]:
    """How many of each blank of these jobs were booked as cut; what was taken back does not count."""
    out: dict[tuple[int, str], int] = {}
    rows = Movement.objects.filter(job_id__in=list(jobs), kind="cut").values_list("job_id", "blank", "mass_g")
    for job_id, blank, mass in rows:
        assert job_id is not None
        out[job_id, blank] = out.get((job_id, blank), 0) + (1 if mass < 0 else -1)
    return out


def _ticked(jobs: list[int]) -> dict[int, set[str]]:
    return {
        job.pk: set(done_times(job))
        for job in Job.objects.filter(pk__in=jobs).only("pk", "route_key").prefetch_related("steps_done")
    }
