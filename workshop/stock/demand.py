"""Which blanks the open jobs still want cut, for the stock as measured; kept beside the job until it changes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db.models import Max, QuerySet

from ringcraft.errors import CraftError
from ringcraft.sections import PROFILES, Section, Stock, section_of
from ringcraft.stock.drawer import LONGEST_MM
from ringcraft.work.kept import KeptPlanError
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job
from workshop.jobs.plans import followed
from workshop.jobs.progress import done_times
from workshop.stock.models import JobBlanks, Movement

SHAPE = "3"  # of what is kept; raise it with each change of it


@dataclass(frozen=True)
class OpenBlank:
    """A blank that a job wants cut: its metal and section, its cut length [mm], how many of it; ``needs_mm`` is what
    a piece at hand must measure to serve all the same, as an insert is held against it.
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
        return self.role == "insert"

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
                out.append(_open(job, row, left, bool(set(row["cut_steps"]) & ticked.get(pk, set()))))
    return out


def _stamp(job: Any) -> str:
    return f"{SHAPE}.{job.version}.{job.engine}.{job.last_measure or 0}.{job.last_look or 0}"[:80]


def _wanted(job: Job) -> list[dict[str, Any]]:
    """What is kept of a job's blanks; nothing where its plan cannot be read."""
    try:
        plan = followed(job, values_of(job)).now
    except KeptPlanError:
        return []
    knows = any(step.does for step in plan.route)  # an older plan says only at which station it is cut
    out = []
    for blank in plan.blanks:
        steps = [s.key for s in plan.route if any(d.op == "cut" and d.piece == blank.name for d in s.does)]
        steps = steps if knows else [s.key for s in plan.route if s.station == "cut"][-1:]
        section = blank.section
        if not _is_stock(section, blank.cut_length_mm):
            continue
        out.append(
            {
                "name": blank.name,
                "title": blank.title,
                "role": blank.role,
                "needs_mm": blank.formed_length_mm if blank.role == "insert" else blank.cut_length_mm,
                "metal": plan.metal.key,
                "profile": section.profile,
                "width_mm": None if section.equal_sided else section.width_mm,
                "thickness_mm": section.thickness_mm,
                "side_mm": section.side_mm or None,
                "length_mm": blank.cut_length_mm,
                "count": blank.count,
                "waits": blank.waits,
                "cut_steps": steps,
            }
        )
    return out


def _is_stock(section: Section, length_mm: float) -> bool:
    """Whether a blank's section can be had as stock, as it is read back."""
    try:
        _section(section.profile, section.width_mm, section.thickness_mm, section.side_mm)
    except CraftError:
        return False
    return 0 < length_mm <= LONGEST_MM


def _section(profile: str, width_mm: float | None, thickness_mm: float, side_mm: float | None) -> Section:
    side = side_mm or None if profile in ("d", "court") else None
    equal = PROFILES[profile].equal_sided
    width = None if equal else width_mm
    return section_of(Stock(profile=profile, thickness_mm=thickness_mm, width_mm=width, side_mm=side))


def _open(job: Job, row: dict[str, Any], count: int, ticked: bool) -> OpenBlank:
    return OpenBlank(
        job_id=job.pk,
        job_name=job.name,
        who=job.customer_name or job.title,
        number=job.number,
        due=job.due,
        name=row["name"],
        title=row["title"],
        metal=row["metal"],
        section=_section(row["profile"], row["width_mm"], row["thickness_mm"], row["side_mm"]),
        length_mm=row["length_mm"],
        count=count,
        waits=row["waits"],
        ticked=ticked,
        role=row["role"],
        needs_mm=row["needs_mm"],
    )


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
