"""Jobs as the API reads and answers them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from ninja import Schema

from ringcraft.following.inspection import Verdict
from ringcraft.following.progress import JobProgress
from ringcraft.work.hardening import Hardness
from ringcraft.work.sheets import Opens
from workshop.api.plan import AnyWorkPlan


class DetailsIn(Schema):
    """What is saved of a job of any kind; ``version`` is the one that was read, left out for a new job."""

    title: str
    customer_name: str = ""
    customer_id: int | None = None
    ticket: str = ""
    note: str = ""
    due: datetime | None = None
    version: int | None = None


class JobIn(DetailsIn):
    """A job as it is saved: its kind of work, and its order as ``plan`` takes that kind's."""

    work: str = "make"
    order: dict[str, Any]


class MeasureOut(Schema):
    """A measure as typed and as read [mm or g], by whom, and how often it was read on this route so far."""

    key: str
    text: str
    value: float
    zero_mm: float
    gauge_id: int | None
    gauge_name: str
    at: datetime
    by: str
    readings: int


class DoneOut(Schema):
    """A step that was done: when, by whom, for the how manyeth time."""

    key: str
    at: datetime
    by: str
    nth: int


class FigureKept(Schema):
    """A figure that can still be told of a plan that cannot be read."""

    title: str
    text: str


class PhotoOut(Schema):
    """A photograph of a job: which side of the work it shows, its size in pixels, when it was taken in."""

    id: int
    side: str
    width: int
    height: int
    at: datetime
    by: str


class JobOut(Schema):
    """A job with its plan then, its plan now, and where it stands.

    ``headline`` is what it is in one line, ``comes_in`` whether it is a customer's own thing, ``for_customer``
    whether it is made for anybody at all.
    ``fields`` are its order as the asker's shop would type it, by dotted paths. ``now`` is null where it is the plan
    itself: nothing that was measured has moved it. ``plan`` is null too where the kept plan cannot be read:
    ``trouble`` says why, ``figures`` are the cut lengths that can still be told. ``together`` are the open jobs of
    the same customer that came in as this one did, it first: one slip for all. ``older`` is what an older plan cannot
    answer; ``current`` whether it is today's. ``opens`` says which steps open a joint, a heat or an annealing,
    ``fires`` which are heats with solder, ``hardness`` how hard the metal is after each step that works it;
    ``poured``: it was cut from metal that was melted and poured here, which hardens faster.
    """

    id: int
    number: int
    ticket: str
    work: str
    comes_in: bool
    for_customer: bool
    headline: str
    title: str
    customer_name: str
    customer_id: int | None
    note: str
    due: datetime | None
    version: int
    engine: str
    current: bool
    closed_at: datetime | None
    place: str
    place_note: str
    place_until: date | None
    place_version: int
    order: dict[str, Any]
    fields: dict[str, str]
    plan: AnyWorkPlan | None
    now: AnyWorkPlan | None
    wrong: str
    older: str
    trouble: str
    figures: list[FigureKept]
    verdicts: list[Verdict]
    done: list[DoneOut]
    measures: list[MeasureOut]
    photos: list[PhotoOut]
    together: list[int]
    standing: JobProgress
    heats: int
    fires: list[str]
    opens: dict[str, Opens]
    poured: bool
    hardness: list[Hardness]


class JobLine(Schema):
    """A job in a list."""

    id: int
    number: int
    ticket: str
    title: str
    customer_name: str
    summary: str
    place: str
    due: datetime | None
    closed_at: datetime | None


class JobLines(Schema):
    """Some jobs of a list, and how many there are in all."""

    items: list[JobLine]
    count: int


class ProgressOut(Schema):
    """What a tick changes of a job: the steps done, where it stands, the heats it has had.

    ``told`` is what has to be said of it: somebody else ticked that step already.
    """

    done: list[DoneOut]
    standing: JobProgress
    heats: int
    solder: str = ""
    told: str = ""


class SolderAsk(Schema):
    """What is asked about the solder of a job, in words; empty for nothing."""

    says: str


class SolderIn(Schema):
    """Whether a job's solder is taken from the drawer."""

    take: bool


class ClosedIn(Schema):
    """Whether the job is off the bench; ``without`` is why it goes without what is read before that."""

    closed: bool
    without: str = ""


class PlaceIn(Schema):
    """Where the job is: a place, or nothing for the bench; ``version`` is the one that was read."""

    place: str = ""
    note: str = ""
    until: date | None = None
    version: int | None = None


class AnewIn(Schema):
    """The version of the job that was read."""

    version: int | None = None


class BesideOut(Schema):
    """The same order planned by today's rules, and what became different."""

    plan: AnyWorkPlan
    changes: list[str]


class LookedIn(Schema):
    """What was found when a finished ring was looked at again; empty where nothing showed."""

    found: str = ""
