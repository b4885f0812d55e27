"""Which blanks the open jobs still want cut, for the stock as measured.

Worked out when a job changes and kept beside it, so that a look at the drawer plans nothing. What an engine before
this one worked out is caught up when the application starts (``catch_up``); until then it is said how many wait.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Q, QuerySet
from django.dispatch import receiver

from ringcraft import __version__
from ringcraft.sections import Section
from ringcraft.stock.wanted import INSERT, stock_wanted
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.taken import section_taken
from workshop.jobs import catching_up
from workshop.jobs.measures import values_of
from workshop.jobs.models import Job, StepDone, name_of_job
from workshop.jobs.plans import followed
from workshop.jobs.progress import job_stands
from workshop.stock.models import JobBlanks, Movement, TakenBack

SHAPE = "5"  # of what is kept; raise it with each change of it
BY = f"{SHAPE}.{__version__}"


@dataclass(frozen=True)
class OpenBlank:
    """A blank that a job wants cut: its metal and the section of its stock, its length as it is cut from it [mm], how
    many of it; ``needs_mm`` is what a piece at hand must measure to serve all the same. ``ticked``: its cut is done
    on the card, though nothing was booked. ``along``: it has a direction and is not turned on a sheet.
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
    along: bool

    @property
    def is_insert(self) -> bool:
        """Whether it is set into a ring that came in: then any piece serves that is no smaller in section."""
        return self.role == INSERT

    @property
    def key(self) -> str:
        """What it is called in a cut plan."""
        return f"{self.job_id}:{self.name}"


@receiver(job_stands)
def reckon(job: Job, **_: object) -> None:
    """Work out what a job wants cut, and keep it; nothing where its plan cannot be read."""
    try:
        plan = followed(job, values_of(job)).now
        found = [{**asdict(one), "metal": one.metal or plan.metal.key} for one in stock_wanted(plan)]
    except KeptPlanError:
        found = []
    JobBlanks.objects.update_or_create(job=job, defaults={"stamp": BY, "blanks": found})


def unreckoned(jobs: QuerySet[Job]) -> QuerySet[Job]:
    """Those of some jobs of which this engine has not worked out yet what they want."""
    return jobs.filter(~Q(blanks_wanted__stamp=BY) | Q(blanks_wanted=None))


def catch_up() -> int:
    """Work out what the open jobs want where another engine did so before; how many that were."""
    return catching_up.catch_up(
        lambda jobs: unreckoned(jobs.filter(closed_at__isnull=True)), reckon, "what is wanted"
    )


def open_blanks(jobs: QuerySet[Job]) -> list[OpenBlank]:
    """The blanks that these jobs still want: not booked yet; one cut at the bench without booking says so."""
    kept = JobBlanks.objects.filter(job__in=jobs, stamp=BY).order_by("job__number")
    rows = [_Row(*row) for row in kept.values_list(*_ROW)]
    booked = booked_counts(jobs.order_by().values("pk"))
    ticked = _ticked(jobs.order_by().values("pk"), rows)
    out = []
    for row in rows:
        for said in row.blanks:
            left = said["count"] - booked.get((row.job_id, said["name"]), 0)
            if left > 0:
                out.append(_open(row, said, left, ticked))
    return out


class _Row(NamedTuple):
    """What a job wants, with as much of the job as is told of it."""

    job_id: int
    blanks: list[dict[str, Any]]
    number: int
    title: str
    customer_name: str
    due: datetime | None
    route_key: str


_ROW = (
    "job_id", "blanks", "job__number", "job__title", "job__customer_name", "job__due", "job__route_key"
)  # fmt: skip


def _open(row: _Row, said: dict[str, Any], count: int, ticked: set[tuple[int, str]]) -> OpenBlank:
    return OpenBlank(
        job_id=row.job_id,
        job_name=name_of_job(row.title, row.customer_name),
        who=row.customer_name or row.title,
        number=row.number,
        due=row.due,
        name=said["name"],
        title=said["title"],
        metal=said["metal"],
        section=section_taken(said["profile"], said["width_mm"], said["thickness_mm"], said["side_mm"]),
        length_mm=said["length_mm"],
        count=count,
        waits=said["waits"],
        ticked=any((row.job_id, key) in ticked for key in said["cut_steps"]),
        role=said["role"],
        needs_mm=said["needs_mm"],
        along=said["along"],
    )


def cut_for(job_id: int) -> QuerySet[Movement]:
    """What was cut for a job, in the order it was booked; what was taken back is not among it."""
    booked = Movement.objects.filter(job_id=job_id, kind="cut", mass_g__lt=0).order_by("at", "id")
    return booked.exclude(batch__in=TakenBack.objects.values("batch"))


def is_poured(job_id: int) -> bool:
    """Whether a job was cut from metal that was melted and poured here."""
    return cut_for(job_id).filter(item__poured=True).exists()


def booked_counts(jobs: Collection[int] | QuerySet[Any, Any]) -> dict[tuple[int, str], int]:
    """How many of each blank of these jobs were booked as cut; what was taken back does not count."""
    out: dict[tuple[int, str], int] = {}
    rows = Movement.objects.filter(job_id__in=jobs, kind="cut").order_by().values_list("job_id", "blank", "mass_g")
    for job_id, blank, mass in rows:
        assert job_id is not None
        out[job_id, blank] = out.get((job_id, blank), 0) + (1 if mass < 0 else -1)
    return out


def _ticked(jobs: QuerySet[Any, Any], rows: Iterable[_Row]) -> set[tuple[int, str]]:
    """Which steps that cut a blank are done, by job: of the job's own route, and not taken back."""
    routes = {row.job_id: row.route_key for row in rows}
    steps = {key for row in rows for said in row.blanks for key in said["cut_steps"]}
    done = StepDone.objects.filter(
        job_id__in=jobs, key__in=steps, taken_back_at__isnull=True, once_more_at__isnull=True
    ).values_list("job_id", "key", "route_key")
    return {(job_id, key) for job_id, key, route in done if routes.get(job_id) == route}
