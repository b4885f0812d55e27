"""A workshop's day as a plan is asked for: who works when, what is open, what has begun, from columns alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from ringcraft.day.asking import (
    MOST_PEOPLE,
    DayJob,
    DayPerson,
    DayPot,
    DayRequest,
    DayStep,
    DayTumbler,
    PlacedStep,
    ShownSession,
)
from ringcraft.day.setting import AT_THE_FLAME, BESIDE_THE_FLAME, FLAME_GAP_MIN, FROZEN_MIN
from ringcraft.day.ways import ShopDay, may_light, pots_of, tumblers_of, windows
from ringcraft.following.look_again import LOOK_AGAIN
from workshop.day.leaving import Span, gone_home, is_somebody_back, without
from workshop.day.minutes import InForce, in_force
from workshop.day.models import Pin, ShownPlan, Took
from workshop.day.taking import now_taken
from workshop.jobs.models import Job, StepDone
from workshop.people.models import User, Workshop, bench_people
from workshop.people.preferences import Preferences, day_of, shop_preferences

DAYS = 30  # so far ahead a plan looks
MOST_PLANNED, MOST_STEPS = 60, 1000
COLUMNS = (
    "id", "number", "title", "customer_name", "due", "metal_family", "place", "place_until", "ready_at", "waiting",
    "next_key", "hands_left_min", "wait_left_min", "moved", "left", "route_key",
)  # fmt: skip
AWAY = {"setter": "with the setter", "plater": "at the plater’s"}
ELSEWHERE = {"asked": "the customer was asked", "ready": "ready to be collected"}
OVERDUE_MIN = 15.0
FLAME_GAP = timedelta(minutes=FLAME_GAP_MIN)
MOVES, SEED = 20_000, 25


@dataclass(frozen=True)
class StepName:
    """A step of a job as the plan numbers it: its key, its words and what it is."""

    key: str
    title: str
    kind: str
    hands_min: float
    wait_min: float


Starts = dict[tuple[int, str], tuple[datetime, int]]


@dataclass
class Bench:
    """All that a plan follows from, and what its numbers stand for.

    ``steps`` are by job; the first of a job that stands in a vessel is that wait (its key is empty). ``not_planned``
    are left to the plain order: how many; ``aside`` are elsewhere without a date, with the reason.
    """

    shop: Workshop
    ways: Preferences
    day: ShopDay
    now: datetime
    origin: datetime
    people: dict[int, User]
    minutes: InForce
    jobs: dict[int, Job] = field(default_factory=dict)
    steps: dict[int, list[StepName]] = field(default_factory=dict)
    not_planned: int = 0
    aside: dict[int, str] = field(default_factory=dict)
    taken: Sequence[Took] = ()
    gone: Mapping[int, Span] = field(default_factory=dict)
    pins: Sequence[Pin] = ()

    def minute(self, at: datetime) -> float:
        """A time as minutes of the plan."""
        return round((at - self.origin).total_seconds() / 60, 3)

    def time(self, minute: float) -> datetime:
        """A minute of the plan as a time."""
        return self.origin + timedelta(minutes=minute)

    @property
    def zone(self) -> ZoneInfo:
        """The shop's time zone."""
        return ZoneInfo(self.day.zone)


def bench_of(
    shop: Workshop, now: datetime, zone: str = "", *, shown: ShownPlan | None = None
) -> tuple[Bench, DayRequest]:
    """A workshop's day and what is asked of it, in a bounded number of queries."""
    ways = shop_preferences(shop)
    day = day_of(ways, zone)
    local = now.astimezone(ZoneInfo(day.zone))
    origin = local.replace(hour=0, minute=0, second=0, microsecond=0).astimezone(UTC)
    people = {user.pk: user for user in bench_people(shop).order_by("pk")[:MOST_PEOPLE]}
    bench = Bench(shop, ways, day, now, origin, people, in_force(shop.pk, ways))
    bench.taken, bench.gone = now_taken(shop.pk, now), gone_home(shop.pk, now)
    _take_in(bench)
    bench.pins = list(Pin.objects.filter(workshop=shop, job_id__in=list(bench.jobs)).order_by("at", "id"))
    return bench, _asked(bench, shown)


def _take_in(bench: Bench) -> None:
    """The open jobs that press most, as far as a plan goes; the rest is counted."""
    rows = Job.objects.filter(workshop=bench.shop, closed_at=None, trouble="").exclude(next_key="")
    slack = {
        job.pk: _slack(job, bench.now)
        for job in rows.only("id", "due", "hands_left_min", "wait_left_min", "place", "place_until").order_by("pk")
    }
    pressing = sorted(slack, key=lambda pk: (slack[pk], pk))[:MOST_PLANNED]
    found = {job.pk: job for job in rows.filter(pk__in=pressing).only(*COLUMNS)}
    count = 0
    for pk in pressing:
        job = found.get(pk)
        if job is None:
            continue
        steps = _steps(job, bench.minutes)
        if job.place in ELSEWHERE or (job.place in AWAY and job.place_until is None):
            why = ELSEWHERE.get(job.place) or f"{AWAY[job.place]}, no day said"
            bench.aside[pk] = why
            bench.jobs[pk] = job
            continue
        if count + len(steps) > MOST_STEPS:
            break
        count += len(steps)
        bench.jobs[pk], bench.steps[pk] = job, steps
    bench.not_planned = len(slack) - len(bench.jobs)


def _slack(job: Job, now: datetime) -> float:
    """Minutes to spare; what has no date comes after all that has."""
    if job.due is None:
        return 1e9
    return (job.due - now).total_seconds() / 60 - job.hands_left_min - job.wait_left_min


def _steps(job: Job, minutes: InForce) -> list[StepName]:
    """What is left of a job, with the minutes in force."""
    out = []
    for key, title, _, kind, hands, wait, _ in job.left.get("steps", ()):
        mine = minutes.of(job.metal_family, key, float(hands), float(wait))
        out.append(StepName(key, job.moved.get(key, title), kind, *mine))
    return out


def _asked(bench: Bench, shown: ShownPlan | None) -> DayRequest:
    starts = _shown_starts(shown)
    jobs: list[DayJob] = []
    begun: list[PlacedStep] = []
    for pk, job in bench.jobs.items():
        if pk in bench.steps:
            jobs.append(_job(bench, job, begun))
    begun += _begun(bench, starts)
    index = {pk: {step.key: at for at, step in enumerate(rows)} for pk, rows in bench.steps.items()}
    pots, tumblers = pots_of(bench.day), tumblers_of(bench.day)
    return DayRequest(
        now_min=bench.minute(bench.now),
        people=tuple(_person(bench, user) for user in bench.people.values()),
        torches=bench.day.torches,
        light_min=bench.day.light_min,
        pots=tuple(
            DayPot(key=_vessel_key(nth, row.name), holds=row.holds, bath=row.bath) for nth, row in enumerate(pots)
        ),
        tumblers=tuple(
            DayTumbler(key=_vessel_key(nth, row.name), holds=row.holds) for nth, row in enumerate(tumblers, len(pots))
        ),
        jobs=tuple(jobs),
        begun=tuple(begun),
        pinned=_pinned(bench, index),
        before=_before(bench, starts, index, shown),
        sessions=_sessions(bench, shown),
        pull=True,
        moves=MOVES,
        seed=SEED,
    )


def _vessel_key(nth: int, name: str) -> str:
    """How the plan knows a pot or a tumbler: two may have one name."""
    return f"{nth} {name}"


def vessel_name(key: str) -> str:
    """What the shop calls it."""
    return key.partition(" ")[2]


def _job(bench: Bench, job: Job, begun: list[PlacedStep]) -> DayJob:
    """A job as the plan asks for it; one that stands in a vessel begins with what is left of that wait."""
    rows = bench.steps[job.pk]
    steps = [
        DayStep(
            key=step.key,
            kind=step.kind,
            hands_min=step.hands_min,
            wait_min=step.wait_min,
            bath=bath if step.kind == "pickle" else "",
        )
        for step, bath in zip(rows, (row[6] for row in job.left.get("steps", ())), strict=True)
    ]
    free = None
    waits = str(job.left.get("waits") or "")
    if job.ready_at is not None and job.ready_at > bench.now and job.place == "":
        free = bench.minute(job.ready_at)
        if waits in ("pickle", "tumble"):
            left = max(0.0, free - bench.minute(bench.now) - 1)
            bath = str(job.left.get("bath") or "")
            steps.insert(0, DayStep(key="waits", kind=waits, wait_min=left, bath=bath))
            bench.steps[job.pk] = [StepName("", job.waiting, waits, 0.0, left), *rows]
            begun.append(PlacedStep(job=str(job.pk), step=0, at_min=bench.minute(bench.now)))
            free = None
    if job.place in AWAY and job.place_until is not None:
        back = datetime(job.place_until.year, job.place_until.month, job.place_until.day, tzinfo=bench.zone)
        free = max(free or 0.0, bench.minute(back.astimezone(UTC)))
    due = job.due
    if due is not None and bench.ways.look_again_moves and job.left.get("blooms"):
        due -= LOOK_AGAIN
    return DayJob(
        id=str(job.pk),
        steps=tuple(steps),
        due_min=None if due is None else bench.minute(due),
        from_min=free,
    )


def _person(bench: Bench, user: User) -> DayPerson:
    first = bench.now.astimezone(bench.zone).date()
    hours = without(windows(bench.day, user.username, first, DAYS), bench.gone.get(user.pk))
    return DayPerson(
        key=str(user.pk),
        hours=tuple((bench.minute(a), bench.minute(b)) for a, b in hours),
        torch=may_light(bench.day.works, user.username),
    )


def _begun(bench: Bench, starts: dict[tuple[int, str], tuple[datetime, int]]) -> list[PlacedStep]:
    """What somebody took; and for who took nothing, what the plan that is shown has them at."""
    out: list[PlacedStep] = []
    busy: set[int] = set(bench.gone)
    for row in bench.taken:
        place = _place(bench, row.job_id, row.key)
        if place is None or row.by_id not in bench.people or row.by_id in busy:
            continue
        if _can_begin(bench, row.job_id, place):
            busy.add(row.by_id)
            out.append(
                PlacedStep(job=str(row.job_id), step=place, at_min=bench.minute(row.at), person=str(row.by_id))
            )
    held = {row.job_id for row in bench.taken}
    for (pk, key), (since, who) in sorted(starts.items(), key=lambda one: one[1][0], reverse=True):
        nth = _place(bench, pk, key)
        if nth is None or who in busy or pk in held or who not in bench.people or since > bench.now:
            continue
        hands = bench.steps[pk][nth].hands_min
        if (
            (bench.now - since).total_seconds() / 60 - hands > OVERDUE_MIN
            or not hands
            or not _can_begin(bench, pk, nth)
        ):
            continue
        busy.add(who)
        held.add(pk)
        out.append(PlacedStep(job=str(pk), step=nth, at_min=bench.minute(since), person=str(who)))
    return out


def _place(bench: Bench, pk: int, key: str) -> int | None:
    return next((nth for nth, step in enumerate(bench.steps.get(pk, ())) if step.key == key), None)


def _can_begin(bench: Bench, pk: int, nth: int) -> bool:
    job = bench.jobs[pk]
    return nth == 0 and job.place == "" and (job.ready_at is None or job.ready_at <= bench.now)


def _pinned(bench: Bench, index: dict[int, dict[str, int]]) -> tuple[PlacedStep, ...]:
    rows = [row for row in bench.pins if row.at > bench.now and row.key in index.get(row.job_id, {})]
    return tuple(
        PlacedStep(
            job=str(row.job_id),
            step=index[row.job_id][row.key],
            at_min=bench.minute(row.at),
            person=str(row.person_id) if row.person_id in bench.people else "",
        )
        for row in rows
        if row.route_key == bench.jobs[row.job_id].route_key
    )


def _before(
    bench: Bench, starts: Starts, index: dict[int, dict[str, int]], shown: ShownPlan | None
) -> tuple[PlacedStep, ...]:
    """The starts that the screens show. Where somebody came back since, what begins later than the half hour that
    stays is anybody's: else the hands that are here again would lie idle wherever nothing is late."""
    made = shown.made_at if shown else None
    back = made is not None and is_somebody_back(bench.shop.pk, made, bench.now, bench.zone)
    free = bench.now + timedelta(minutes=FROZEN_MIN) if back else None
    return tuple(
        PlacedStep(
            job=str(pk),
            step=index[pk][key],
            at_min=bench.minute(at),
            person=str(who) if who and (free is None or at < free) else "",
        )
        for (pk, key), (at, who) in starts.items()
        if pk in index and key in index[pk]
    )


def _shown_starts(shown: ShownPlan | None) -> Starts:
    """The starts that the screens show: by job and step, when and by whom."""
    rows = shown.plan.get("starts", ()) if shown else ()
    return {(job, key): (_epoch(at), who) for job, key, at, who in rows}


def _epoch(minutes: float) -> datetime:
    return datetime.fromtimestamp(minutes * 60, UTC)


def _sessions(bench: Bench, shown: ShownPlan | None) -> tuple[ShownSession, ...]:
    """The torches that are lit now: by a flame that was ticked with no other work since, or as the plan shows it."""
    out = []
    planned = {who: (begins, lit, to) for who, begins, lit, to in (shown.plan.get("sessions", ()) if shown else ())
               if _epoch(begins) <= bench.now <= _epoch(max(lit, to))}  # fmt: skip
    since = bench.now - timedelta(hours=8)
    ticks = StepDone.objects.filter(by_id__in=list(bench.people), at__gte=since, taken_back_at=None)
    last: dict[int, list[tuple[datetime, str]]] = {}
    for who, at, kind in ticks.order_by("-at", "-pk").values_list("by_id", "at", "kind")[:400]:
        last.setdefault(who or 0, []).append((at, kind))
    for who in bench.people:
        mine = last.get(who, [])
        flames = _last_flames(mine)
        begins, lit = (_epoch(one) for one in planned[who][:2]) if who in planned else (None, None)
        if flames and flames[0] + FLAME_GAP >= bench.now:
            first = min(flames[-1], lit or flames[-1])
            lights = min(begins or first, first - timedelta(minutes=bench.day.light_min))
            out.append(_session(bench, who, lights, first, flames[0]))
        elif begins and lit and not (mine and mine[0][0] > begins):
            out.append(_session(bench, who, begins, lit, lit))
    return tuple(out)


def _last_flames(ticks: Sequence[tuple[datetime, str]]) -> list[datetime]:
    """The flames of the last session, the newest first: other work, or half an hour without, was its end."""
    out: list[datetime] = []
    for at, kind in ticks:
        if kind not in AT_THE_FLAME + BESIDE_THE_FLAME or (out and out[-1] - at > FLAME_GAP):
            break
        if kind in AT_THE_FLAME:
            out.append(at)
    return out


def _session(bench: Bench, who: int, begins: datetime, lit: datetime, used: datetime) -> ShownSession:
    return ShownSession(
        person=str(who),
        from_min=bench.minute(begins),
        lit_min=bench.minute(lit),
        to_min=max(bench.minute(used), bench.minute(bench.now)),
        flame_min=bench.minute(used),
    )
