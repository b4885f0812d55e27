"""The plan of the day as a screen draws it: blocks by person, sessions, vessels, what is late and what saves it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from ringcraft.day.answer import DayAnswer
from ringcraft.day.asking import DayRequest
from ringcraft.day.reasons import saving_words, session_jobs, span_words, why_next
from workshop.day.bench import AWAY, Bench, vessel_name

MOST_LATE = 12


@dataclass(frozen=True)
class Block:
    """A step in somebody's hands, and until when it then waits by itself."""

    job_id: int
    name: str
    key: str
    title: str
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
    name: str
    ready: datetime
    late_min: float
    says: str


@dataclass(frozen=True)
class Beside:
    """A job that the plan does not hold, or a pin that cannot, and why."""

    job_id: int
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


def view_of(bench: Bench, asked: DayRequest, answer: DayAnswer) -> DayView:
    """The plan as a screen draws it."""
    late = {one.job: one.min for one in answer.late}
    begun = {(one.job, one.step) for one in asked.begun}
    pinned = {(one.job, one.step) for one in asked.pinned} - {(one.job, one.step) for one in answer.missed_pins}
    blocks: list[Block] = []
    soaking: dict[str, list[InVessel]] = {}
    for one in answer.starts:
        job, step = bench.jobs[int(one.job)], bench.steps[int(one.job)][one.step]
        begins = bench.time(one.at_min)
        ends = begins + timedelta(minutes=step.hands_min)
        if (one.job, one.step) in begun:
            ends = max(ends, bench.now + timedelta(minutes=1))
        until = ends + timedelta(minutes=step.wait_min) if step.wait_min else None
        if one.vessel:
            ring = InVessel(job.pk, job.name, job.metal_family, begins, until or ends)
            soaking.setdefault(one.vessel, []).append(ring)
        if not step.key:
            continue
        blocks.append(
            Block(
                job_id=job.pk,
                name=job.name,
                key=step.key,
                title=step.title,
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
        vessels=_vessels(asked, soaking),
        late=tuple(_late(bench, answer, one.job, one.min) for one in worst[:MOST_LATE]),
        more_late=max(0, len(worst) - MOST_LATE),
        beside=tuple(_besides(bench, answer)),
        missed=tuple(
            Beside(
                int(one.job),
                bench.jobs[int(one.job)].name,
                f"cannot be at {_clock(bench, one.wanted_min)}: {one.why}",
            )
            for one in answer.missed_pins
        ),
        nexts=tuple(_nexts(bench, asked, answer, blocks)),
        not_planned=bench.not_planned,
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


def _vessels(asked: DayRequest, soaking: Mapping[str, list[InVessel]]) -> tuple[Vessel, ...]:
    """Pots and tumblers with what is in them, as the plan has put it there."""
    held = {one.key: one.holds for one in asked.pots} | {one.key: one.holds for one in asked.tumblers}
    return tuple(
        Vessel(vessel_name(key), holds, tuple(sorted(soaking[key], key=lambda one: (one.begins, one.job_id))))
        for key, holds in held.items()
        if key in soaking
    )


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
    return Late(job.pk, job.name, ready, late_min, says)


def _besides(bench: Bench, answer: DayAnswer) -> Iterable[Beside]:
    for left in answer.left_out:
        job = bench.jobs[int(left.job)]
        yield Beside(job.pk, job.name, left.why)
    for pk, why in bench.aside.items():
        job = bench.jobs[pk]
        if job.place in AWAY:
            yield Beside(pk, job.name, why)


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


def moved_words(count: int, anew: str) -> str:
    """How much of the plan is elsewhere than it was shown, or what planning it anew saves."""
    if anew:
        return anew[:1].lower() + anew[1:]
    return "the plan stays" if not count else f"{count} step{'s' if count > 1 else ''} moved"


def late_words(view: DayView) -> str:
    """Who comes late, in a sentence; of what is not planned nobody knows."""
    if not view.late:
        aside = view.beside or view.not_planned
        return "Of what is planned nobody comes late." if aside else "Nobody comes late."
    first = view.late[0]
    more = len(view.late) + view.more_late - 1
    said = f"{first.name} comes {span_words(first.late_min)} late"
    return f"{said}, and {more} more." if more else f"{said}."
