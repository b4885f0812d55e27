"""A day as the walk through it needs it: everything that is asked, by number, with what cannot be done left out."""

from __future__ import annotations

from dataclasses import dataclass, field

from ringcraft.day.asking import DayJob, DayRequest, DayStep, hours_of

FLAME_GAP_MIN = 30.0  # a torch that nobody used for so long has been put out
FROZEN_MIN = 30.0
#: What a step is to a lit torch: other work puts it out, the flame needs it, the rest may go on beside it.
WORK, BESIDE, FLAME = 0, 1, 2
AT_THE_FLAME, BESIDE_THE_FLAME = ("solder", "anneal"), ("flux", "pickle", "rinse")
_CODES = {**dict.fromkeys(AT_THE_FLAME, FLAME), **dict.fromkeys(BESIDE_THE_FLAME, BESIDE)}
IN_A_POT, IN_A_TUMBLER = "pickle", "tumble"

Begun = tuple[int, int, float, int, int]  # job, step, when, by whom, in which vessel
Task = tuple[int, int]  # a job and a step of it, by their places in the request


@dataclass(frozen=True)
class Pin:
    """A step put at a time, and by whom."""

    job: int
    step: int
    at: float
    person: int


@dataclass
class Setting:
    """A day by number. Times in minutes; ``vessels`` are how many each pot and tumbler holds.

    ``first`` is the first step that is left of each job, ``ready`` from when it can begin; ``dead`` are jobs that
    cannot be done at all, with the reason.
    """

    now: float
    light: float
    torches: int
    people: list[str]
    windows: list[list[tuple[float, float]]]
    who: tuple[list[int], list[int], list[int]]
    vessels: list[int]
    vessel_keys: list[str]
    jobs: list[DayJob]
    hands: list[list[float]]
    waits: list[list[float]]
    codes: list[list[int]]
    places: list[list[tuple[int, ...]]]
    due: list[float | None]
    weight: list[float]
    first: list[int]
    ready: list[float]
    begun: list[Begun]
    lit: dict[int, tuple[float, float, float]]
    pins: list[Pin]
    dead: dict[int, str]
    tails: list[list[float]] = field(default_factory=list)
    free: list[float] = field(default_factory=list)

    @property
    def last(self) -> float:
        """The end of the last hour in which anybody works."""
        return max((window[-1][1] for window in self.windows if window), default=self.now)

    def count(self) -> int:
        """How many steps are to be placed."""
        return sum(len(row) - first for row, first in zip(self.hands, self.first, strict=True))


def compile_day(asked: DayRequest) -> Setting:
    """The day by number."""
    people = [person.key for person in asked.people]
    windows = [[(a, b) for a, b in hours_of(person) if b > asked.now_min] for person in asked.people]
    everybody = list(range(len(people)))
    torch = [at for at, person in enumerate(asked.people) if person.torch] if asked.torches else []
    vessels, keys, pots, tumblers = _vessels(asked)
    steps = [job.steps for job in asked.jobs]
    out = Setting(
        now=asked.now_min,
        light=asked.light_min,
        torches=asked.torches,
        people=people,
        windows=windows,
        who=(everybody, everybody, torch),
        vessels=vessels,
        vessel_keys=keys,
        jobs=list(asked.jobs),
        hands=[[one.hands_min for one in row] for row in steps],
        waits=[[one.wait_min for one in row] for row in steps],
        codes=[[_CODES.get(one.kind, WORK) for one in row] for row in steps],
        places=[[_places(one, pots, tumblers) for one in row] for row in steps],
        due=[job.due_min for job in asked.jobs],
        weight=[job.weight for job in asked.jobs],
        first=[0] * len(steps),
        ready=[max(asked.now_min, asked.now_min if job.from_min is None else job.from_min) for job in asked.jobs],
        begun=[],
        lit={},
        pins=[],
        dead={},
        free=[asked.now_min] * len(people),
    )
    _begin(out, asked)
    for at, job in enumerate(asked.jobs):
        if why := _impossible(out, at, job, asked):
            out.dead[at] = why
    out.tails = [_tails(out.hands[at], out.waits[at]) for at in range(len(steps))]
    _pin(out, asked)
    return out


def _vessels(
    asked: DayRequest,
) -> tuple[list[int], list[str], dict[str, tuple[int, ...]] | None, tuple[int, ...] | None]:
    """What each vessel holds, their names, the pots by their bath (none said: no limit), the tumblers."""
    vessels: list[int] = []
    keys: list[str] = []
    pots: dict[str, tuple[int, ...]] | None = None
    if asked.pots:
        pots = {}
        for pot in asked.pots:
            held = pots.get(pot.bath, ())
            pots[pot.bath] = (*held, len(vessels)) if pot.holds else held
            vessels.append(pot.holds)
            keys.append(pot.key)
        pots.setdefault("", pots[asked.pots[0].bath])
    elif asked.pot_holds is not None:
        pots = {"*": (0,)} if asked.pot_holds else {}
        vessels.append(asked.pot_holds)
        keys.append("pot")
    tumblers = None
    if asked.tumblers:
        tumblers = tuple(len(vessels) + nth for nth, one in enumerate(asked.tumblers) if one.holds)
        vessels += [one.holds for one in asked.tumblers]
        keys += [one.key for one in asked.tumblers]
    return vessels, keys, pots, tumblers


def _places(
    step: DayStep, pots: dict[str, tuple[int, ...]] | None, tumblers: tuple[int, ...] | None
) -> tuple[int, ...]:
    """The vessels that may hold it; (-1,) where none that is said may."""
    if step.kind == IN_A_POT and pots is not None:
        return pots.get("*") or pots.get(step.bath) or (-1,)
    if step.kind == IN_A_TUMBLER and tumblers is not None:
        return tumblers or (-1,)
    return ()


def _tails(hands: list[float], waits: list[float]) -> list[float]:
    """Minutes from the begin of each step to the end of the job, were it worked through."""
    out, left = [], 0.0
    for hand, wait in zip(reversed(hands), reversed(waits), strict=True):
        left += hand + wait
        out.append(left)
    return out[::-1]


def _begin(out: Setting, asked: DayRequest) -> None:
    """Take in what has begun: the last such step of a job runs on, what stands before it is done."""
    number = {job.id: at for at, job in enumerate(asked.jobs)}
    person = {key: at for at, key in enumerate(out.people)}
    vessel = {key: at for at, key in enumerate(out.vessel_keys)}
    rows = [
        (number[row.job], row.step, row.at_min, person.get(row.person, -1), vessel.get(row.vessel, -1))
        for row in asked.begun
    ]
    running: dict[int, Begun] = {}
    for row in rows:
        if row[0] not in running or row[1] > running[row[0]][1]:
            running[row[0]] = row
    for job, step, at, who, known in running.values():
        ends = max(at + out.hands[job][step], out.now + 1)
        out.begun.append((job, step, at, who, known))
        out.first[job] = step + 1
        out.ready[job] = max(ends + out.waits[job][step], asked.jobs[job].from_min or ends)
        if who >= 0:
            out.free[who] = max(out.free[who], ends)
    _lit(out, asked, rows, running)


def _lit(out: Setting, asked: DayRequest, rows: list[Begun], running: dict[int, Begun]) -> None:
    """Whose torch is lit now: by a session that the plan shows, or by a step at the flame that has begun."""
    for session in asked.sessions:
        if session.person in out.people and session.from_min <= out.now <= max(session.to_min, session.lit_min):
            who = out.people.index(session.person)
            used = min(out.now, session.to_min) if session.flame_min is None else session.flame_min
            last = max(session.lit_min, used)
            if last + FLAME_GAP_MIN < out.now:
                continue
            out.lit[who] = (session.from_min, session.lit_min, last)
            out.free[who] = max(out.free[who], session.lit_min)
    for who in range(len(out.people)):
        mine = sorted((at, job, step) for job, step, at, by, _ in rows if by == who)
        held: tuple[float, float, float] | None = None
        for at, job, step in mine:
            ends = at + out.hands[job][step]
            if running[job][1] == step:
                ends = max(ends, out.now + 1)
            if out.codes[job][step] == FLAME:
                goes_on = held is not None and at <= held[2] + FLAME_GAP_MIN
                held = (held[0], held[1], ends) if held and goes_on else (at - out.light, at, ends)
            elif out.codes[job][step] == WORK and ends > at:
                held = None
                out.lit.pop(who, None)
        if held is not None and held[2] + FLAME_GAP_MIN >= out.now:
            shown = out.lit.get(who, held)
            out.lit[who] = (min(held[0], shown[0]), min(held[1], shown[1]), held[2])


def _impossible(out: Setting, at: int, job: DayJob, asked: DayRequest) -> str:
    """Why a job cannot be done at all; empty where it can."""
    longest = max((b - a for hours in out.windows for a, b in hours), default=0.0)
    flame = max((b - a for who in out.who[FLAME] for a, b in out.windows[who]), default=0.0)
    for step in range(out.first[at], len(job.steps)):
        hands, code = out.hands[at][step], out.codes[at][step]
        if not longest:
            return "nobody works in these hours"
        if code == FLAME and not out.who[FLAME]:
            return "there is no torch for it" if not asked.torches else "nobody here uses the torch"
        if out.places[at][step] == (-1,):
            bath = job.steps[step].bath
            if job.steps[step].kind == IN_A_TUMBLER:
                return "no tumbler holds anything"
            return f"no pot holds the bath {bath}" if bath else "no pot holds anything"
        if hands > longest or (code == FLAME and hands + out.light > flame):
            return f"{job.steps[step].key} takes {hands:g} min of hands, longer than any of the hours"
    return ""


def _pin(out: Setting, asked: DayRequest) -> None:
    """The pins that can be tried, by who is to do them."""
    number = {job.id: at for at, job in enumerate(asked.jobs)}
    shown = {(number.get(row.job, -1), row.step): row.person for row in asked.before}
    for row in asked.pinned:
        job = number[row.job]
        if row.step < out.first[job] or job in out.dead:
            continue
        named = row.person or shown.get((job, row.step), "")
        able = out.who[out.codes[job][row.step]]
        there = [p for p in able if any(a <= row.at_min < b for a, b in out.windows[p])]
        who = out.people.index(named) if named in out.people else -1
        if who not in able:
            who = (there or able)[0]
        out.pins.append(Pin(job, row.step, row.at_min, who))
    out.pins.sort(key=lambda pin: pin.at)
