"""The plan of the day as a screen draws it: blocks by person, sessions, vessels, what is late and what saves it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from ringcraft.day.answer import DayAnswer
from ringcraft.day.asking import DayRequest
from ringcraft.day.reasons import saving_words, session_jobs, span_words, why_next
from ringcraft.day.ways import pots_of, tumblers_of
from workshop.day.bench import AWAY, Bench

MOST_LATE = 12


@dataclass(frozen=True)
class Block:
    """A step in somebody's hands, and until when it then waits by itself."""

    job_id: int
    number: int
    name: str
    key: str
    title: str
    kind: str
    family: str
    person_id: int
    begins: datetime
    ends: datetime
    waits_until: datetime | None
    begun: bool
    pinned: bool
    late: bool


@dataclass(frozen=True)
class LitTorch:
    """A torch that somebody lights, and the jobs that share it."""

    person_id: int
    begins: datetime
    lit: datetime
    ends: datetime
    jobs: tuple[str, ...]


@dataclass(frozen=True)
class InVessel:
    """A ring in a pot or a tumbler."""

    job_id: int
    name: str
    family: str
    begins: datetime
    ends: datetime


@dataclass(frozen=True)
class Vessel:
    """A pot or a tumbler, how many rings it holds, and what is in it when."""

    name: str
    holds: int
    rings: tuple[InVessel, ...]


@dataclass(frozen=True)
class Late:
    """A job that comes late: by so many minutes, when it will be ready, and what would save it."""

    job_id: int
    number: int
    name: str
    due: datetime
    ready: datetime
    late_min: float
    says: str


@dataclass(frozen=True)
class Beside:
    """A job that the plan does not hold, or a pin that cannot, and why."""

    job_id: int
    number: int
    name: str
    says: str


@dataclass(frozen=True)
class Next:
    """What somebody does next, and why that."""

    person_id: int
    job_id: int
    key: str
    title: str
    name: str
    begins: datetime
    why: str


@dataclass(frozen=True)
class DayView:
    """The whole plan: of all days that it reaches."""

    blocks: tuple[Block, ...]
    sessions: tuple[LitTorch, ...]
    vessels: tuple[Vessel, ...]
    late: tuple[Late, ...]
    more_late: int
    beside: tuple[Beside, ...]
    missed: tuple[Beside, ...]
    nexts: tuple[Next, ...]
    not_planned: int
    moves: int


def view_of(bench: Bench, asked: DayRequest, answer: DayAnswer) -> DayView:
    """The plan as a screen draws it."""
    late = {one.job: one.min for one in answer.late}
    begun = {(one.job, one.step) for one in asked.begun}
    pinned = {(one.job, one.step) for one in asked.pinned} - {(one.job, one.step) for one in answer.missed_pins}
    blocks, soaking = [], []
    for one in answer.starts:
        job, step = bench.jobs[int(one.job)], bench.steps[int(one.job)][one.step]
        begins = bench.time(one.at_min)
        ends = begins + timedelta(minutes=step.hands_min)
        if (one.job, one.step) in begun:
            ends = max(ends, bench.now + timedelta(minutes=1))
        until = ends + timedelta(minutes=step.wait_min) if step.wait_min else None
        if step.kind in ("pickle", "tumble"):
            since = begins if step.key or job.ready_at is None else min(begins, job.ready_at)
            soaking.append((step.kind, InVessel(job.pk, job.name, job.metal_family, since, until or ends)))
        if not step.key:
            continue
        blocks.append(
            Block(
                job_id=job.pk,
                number=job.number,
                name=job.name,
                key=step.key,
                title=step.title,
                kind=step.kind,
                family=job.metal_family,
                person_id=int(one.person or 0),
                begins=begins,
                ends=ends,
                waits_until=until,
                begun=(one.job, one.step) in begun,
                pinned=(one.job, one.step) in pinned,
                late=one.job in late,
            )
        )
    worst = sorted(answer.late, key=lambda one: (-one.min, one.job))
    return DayView(
        blocks=tuple(blocks),
        sessions=_sessions(bench, asked, answer),
        vessels=_vessels(bench, soaking),
        late=tuple(_late(bench, answer, one.job, one.min) for one in worst[:MOST_LATE]),
        more_late=max(0, len(worst) - MOST_LATE),
        beside=tuple(_besides(bench, answer)),
        missed=tuple(
            Beside(
                int(one.job),
                bench.jobs[int(one.job)].number,
                bench.jobs[int(one.job)].name,
                f"cannot be at {_clock(bench, one.wanted_min)}: {one.why}",
            )
            for one in answer.missed_pins
        ),
        nexts=tuple(_nexts(bench, asked, answer, blocks)),
        not_planned=bench.not_planned,
        moves=answer.moves,
    )


def _clock(bench: Bench, minute: float) -> str:
    """A time as one says it in the shop: with its day where that is not today."""
    at, today = bench.time(minute).astimezone(bench.zone), bench.now.astimezone(bench.zone).date()
    hour = f"{at.hour}:{at.minute:02d}"
    if at.date() == today:
        return hour
    days = (at.date() - today).days
    day = "tomorrow" if days == 1 else f"{at:%A}" if 0 < days < 7 else f"{at.day} {at:%B}"
    return f"{day} {hour}"


def _named(bench: Bench, key: str) -> str:
    return bench.jobs[int(key)].name


def _sessions(bench: Bench, asked: DayRequest, answer: DayAnswer) -> tuple[LitTorch, ...]:
    return tuple(
        LitTorch(
            int(one.person),
            bench.time(one.from_min),
            bench.time(one.lit_min),
            bench.time(one.to_min),
            tuple(_named(bench, job) for job in jobs),
        )
        for one, jobs in zip(answer.sessions, session_jobs(asked, answer), strict=True)
    )


def _vessels(bench: Bench, soaking: Iterable[tuple[str, InVessel]]) -> tuple[Vessel, ...]:
    """Pots and tumblers with what is in them; rings of one bath stand at the first pot of it that has a place."""
    baths = {pk: str(job.left.get("bath") or "") for pk, job in bench.jobs.items()}
    for job in bench.jobs.values():
        for row in job.left.get("steps", ()):
            baths[job.pk] = baths[job.pk] or row[6]
    rows = [("pickle", pot.bath, pot.name, pot.holds) for pot in pots_of(bench.day)]
    rows += [("tumble", "", one.name, one.holds) for one in tumblers_of(bench.day)]
    rings: list[list[InVessel]] = [[] for _ in rows]
    for kind, ring in sorted(soaking, key=lambda one: (one[1].begins, one[1].job_id)):
        fits = [at for at, (what, bath, _, _) in enumerate(rows)
                if what == kind and (kind == "tumble" or bath == (baths[ring.job_id] or bath))]  # fmt: skip
        free = [at for at in fits if _room(rings[at], ring) < rows[at][3]]
        if fits:
            rings[(free or fits)[0]].append(ring)
    return tuple(
        Vessel(name, holds, tuple(inside)) for (_, _, name, holds), inside in zip(rows, rings, strict=True) if inside
    )


def _room(inside: list[InVessel], ring: InVessel) -> int:
    return sum(one.begins < ring.ends and one.ends > ring.begins for one in inside)


def _late(bench: Bench, answer: DayAnswer, key: str, late_min: float) -> Late:
    job = bench.jobs[int(key)]
    ready = bench.time(answer.ends[key])
    saving = next((one for one in answer.savings if one.job == key), None)
    says = ""
    if saving is not None:
        title = bench.steps[job.pk][saving.step].title
        says = saving_words(
            saving, title[:1].lower() + title[1:], lambda one: _named(bench, one), lambda at: _clock(bench, at)
        )
    return Late(job.pk, job.number, job.name, job.due or ready, ready, late_min, says)


def _besides(bench: Bench, answer: DayAnswer) -> Iterable[Beside]:
    for left in answer.left_out:
        job = bench.jobs[int(left.job)]
        yield Beside(job.pk, job.number, job.name, left.why)
    for pk, why in bench.aside.items():
        job = bench.jobs[pk]
        if job.place in AWAY:
            yield Beside(pk, job.number, job.name, why)


def _nexts(bench: Bench, asked: DayRequest, answer: DayAnswer, blocks: list[Block]) -> Iterable[Next]:
    """The first block of each person, with its reason."""
    seen: set[int] = set()
    places = {(one.job, bench.steps[int(one.job)][one.step].key): one.step for one in answer.starts}
    for block in sorted(blocks, key=lambda one: (one.begins, one.ends, one.job_id)):
        if block.person_id in seen or not block.person_id:
            continue
        seen.add(block.person_id)
        key = str(block.job_id)
        why = why_next(asked, answer, key, places[key, block.key], lambda one: _named(bench, one))
        yield Next(block.person_id, block.job_id, block.key, block.title, block.name, block.begins, why)


def moved_words(count: int, saved: str) -> str:
    """How much of the plan is elsewhere than it was shown."""
    if saved:
        return saved
    return "the plan stays" if not count else f"{count} step{'s' if count > 1 else ''} moved"


def late_words(view: DayView) -> str:
    """Who comes late, in a sentence."""
    if not view.late:
        return "Nobody comes late."
    first = view.late[0]
    more = len(view.late) + view.more_late - 1
    said = f"{first.name} comes {span_words(first.late_min)} late"
    return f"{said}, and {more} more." if more else f"{said}."
