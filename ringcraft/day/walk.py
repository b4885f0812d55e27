"""A walk through the day: steps placed one after another, each as early as hands, hours, flame and vessels let it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from ringcraft.day.setting import FLAME, FLAME_GAP_MIN, WORK, Begun, Pin, Setting, Task

NEVER = float("inf")
LATE, SESSION, MISSED, UNPLACED, ENDS = 1000.0, 60.0, 100_000.0, 1_000_000.0, 1e-5

Start = Begun
Offer = tuple[float, float, float, int, int]  # ends, begins, lights from (or nan), by whom, in which vessel


class Walk:
    """Where everybody and everything stands while steps are placed; a copy goes another way from there.

    Who places a step places it after all that the same person has been given: what is in between is waiting.
    """

    __slots__ = (
        *("s", "free", "win", "lit", "ready", "nxt", "used", "sessions", "starts"),
        *("pins", "late", "ends", "missed", "left"),
    )

    def __init__(self, s: Setting) -> None:
        self.s = s
        self.free = list(s.free)
        self.win = [0] * len(s.people)
        self.lit: list[int] = [-1] * len(s.people)  # the session that is still lit, by its place
        self.ready = list(s.ready)
        self.nxt = list(s.first)
        self.used: list[tuple[tuple[float, float], ...]] = [()] * len(s.vessels)
        self.sessions: list[tuple[int, float, float, float]] = []
        self.starts: list[Start] = []
        self.pins: list[tuple[Pin, ...]] = [
            tuple(pin for pin in s.pins if pin.person == p) for p in range(len(s.people))
        ]
        self.late = 0.0
        self.ends = 0.0
        self.missed = 0
        self.left: dict[int, str] = {}
        for who, (begins, lit, last) in s.lit.items():
            self.lit[who] = len(self.sessions)
            self.sessions.append((who, begins, lit, last))
        for job, step, at, who, known in s.begun:
            self._begin(job, step, at, who, known)

    def _begin(self, job: int, step: int, at: float, who: int, known: int) -> None:
        s = self.s
        until = max(at + s.hands[job][step], s.now + 1) + s.waits[job][step]
        places = [v for v in s.places[job][step] if v >= 0]
        places = [known] if known in places else places
        free = [v for v in places if self._vessel(v, s.now, until - s.now) == s.now]
        vessel = next(iter(free or places), -1)
        if vessel >= 0:
            self.used[vessel] = (*self.used[vessel], (at, until))
        self.starts.append((job, step, at, who, vessel))
        self._done(job)

    def copy(self) -> Walk:
        """The same place, to go on from in another way."""
        other = Walk.__new__(Walk)
        other.s = self.s
        other.free, other.win, other.lit = self.free[:], self.win[:], self.lit[:]
        other.ready, other.nxt, other.used = self.ready[:], self.nxt[:], self.used[:]
        other.sessions, other.starts, other.pins = self.sessions[:], self.starts[:], self.pins[:]
        other.late, other.ends, other.missed, other.left = self.late, self.ends, self.missed, dict(self.left)
        return other

    def cost(self) -> float:
        """What the plan so far costs: late minutes, sessions, the last end; what missed its pin or found no hour."""
        last = max((end for end in self._job_ends()), default=self.s.now)
        return self.burden() + last + ENDS * self.ends

    def burden(self) -> float:
        """What weighs on a plan whatever its length: what is late, lit, missed or left."""
        return LATE * self.late + SESSION * len(self.sessions) + MISSED * self.missed + UNPLACED * len(self.left)

    def _job_ends(self) -> Iterable[float]:
        return (self.ready[job] for job in range(len(self.nxt)) if self.nxt[job] > 0 and job not in self.left)

    def place(self, job: int, force: Mapping[Task, int], not_before: float = 0.0) -> None:
        """Give the next step of a job to whoever ends it first, or to the one that it is meant for."""
        s = self.s
        step = self.nxt[job]
        if job in self.left or step >= len(s.hands[job]):
            return
        if s.pins and any(pin.job == job and pin.step == step for row in self.pins for pin in row):
            self._place_pin(job, step)
            return
        code = s.codes[job][step]
        meant = force.get((job, step), -1)
        able: Sequence[int] = s.who[code]
        if meant >= 0 and meant in able:
            able = (meant,)
        ready = self.ready[job]
        ready = max(ready, not_before)
        best = self._best(able, job, step, ready)
        if best is None and len(able) == 1 and len(s.who[code]) > 1:
            best = self._best(s.who[code], job, step, ready)
        if best is None:
            self._leave(job)
            return
        if s.pins and (pin := self._in_the_way(best, code)) is not None:
            if self.nxt[pin.job] == pin.step:
                self._place_pin(pin.job, pin.step)
            else:
                self._drop(pin)
                self.missed += 1
            self.place(job, force, not_before)
            return
        self._take(job, step, best)

    def _in_the_way(self, offer: Offer, code: int) -> Pin | None:
        ends, _, _, who, _ = offer
        if not self.pins[who]:
            return None
        pin = self.pins[who][0]
        flame = self.s.codes[pin.job][pin.step] == FLAME
        goes_on = self.lit[who] >= 0 and code != WORK and self.sessions[self.lit[who]][3] + FLAME_GAP_MIN >= pin.at
        lead = self.s.light if flame and not goes_on else 0.0
        return pin if ends > pin.at - lead else None

    def _place_pin(self, job: int, step: int) -> None:
        """Put a pinned step at its time; where that cannot be, it comes as early as it can and has missed its pin."""
        pin = next(pin for row in self.pins for pin in row if pin.job == job and pin.step == step)
        self._drop(pin)
        offer = self._best((pin.person,), job, step, max(self.ready[job], pin.at))
        if offer is None:
            offer = self._best(self.s.who[self.s.codes[job][step]], job, step, self.ready[job])
        if offer is None:
            self._leave(job)
            return
        if abs(offer[1] - pin.at) > 1e-6:
            self.missed += 1
            offer = self._best(self.s.who[self.s.codes[job][step]], job, step, self.ready[job]) or offer
        self._take(job, step, offer)

    def _drop(self, pin: Pin) -> None:
        self.pins[pin.person] = tuple(one for one in self.pins[pin.person] if one is not pin)

    def _leave(self, job: int) -> None:
        """No hour is left for it: it counts as late by all that is missing."""
        s = self.s
        self.left[job] = "no hour is left for it"
        due = s.due[job]
        if due is not None:
            self.late += s.weight[job] * max(0.0, s.last + s.tails[job][self.nxt[job]] - due)
        self.nxt[job] = len(s.hands[job])

    def _best(self, able: Sequence[int], job: int, step: int, ready: float) -> Offer | None:
        s = self.s
        hands, code, places = s.hands[job][step], s.codes[job][step], s.places[job][step]
        best: Offer | None = None
        for who in able:
            if code == FLAME:
                offer = self._at_the_flame(who, ready, hands)
            elif places:
                offer = self._in_a_vessel(who, ready, hands, s.waits[job][step], places)
            else:
                at = self._open(who, ready, hands)
                offer = (at + hands, at, NEVER, who, -1)
            if offer[0] < NEVER and (best is None or offer[0] < best[0] - 1e-9):
                best = offer
        return best

    def _open(self, who: int, ready: float, hands: float) -> float:
        """The first minute from which somebody has so long without a break."""
        free = self.free[who]
        at = free if free > ready else ready
        for begins, closes in self.s.windows[who][self.win[who] :]:
            start = at if at > begins else begins
            if start + hands <= closes + 1e-9:
                return start
        return NEVER

    def _window(self, who: int, at: float) -> int:
        """The place of the hours in which a minute lies."""
        windows = self.s.windows[who]
        place = self.win[who]
        while place < len(windows) and windows[place][1] < at - 1e-9:
            place += 1
        return place

    def _at_the_flame(self, who: int, ready: float, hands: float) -> Offer:
        s = self.s
        free = self.free[who]
        if self.lit[who] >= 0:
            last = self.sessions[self.lit[who]][3]
            at = free if free > ready else ready
            place = self._window(who, last)
            inside = (
                place < len(s.windows[who])
                and s.windows[who][place][0] <= last
                and at + hands <= s.windows[who][place][1] + 1e-9
            )
            if inside and at <= last + FLAME_GAP_MIN and self._torch_at(who, last, at + hands) == last:
                return (at + hands, at, NEVER, who, -1)
        at = ready if ready > free + s.light else free + s.light
        while True:
            begins = self._open(who, at - s.light, s.light + hands)
            if begins == NEVER:
                return (NEVER, NEVER, NEVER, who, -1)
            later = self._torch_at(who, begins, begins + s.light + hands)
            if later == begins:
                return (begins + s.light + hands, begins + s.light, begins, who, -1)
            at = later + s.light

    def _torch_at(self, who: int, begins: float, ends: float) -> float:
        """From when on there is a torch for so long; ``begins`` itself where there is."""
        s = self.s
        if s.torches >= len(s.who[FLAME]):
            return begins
        busy = [(a, b) for other, a, _, b in self.sessions if other != who and a < ends - 1e-9 and b > begins + 1e-9]
        if len(busy) < s.torches or _most(busy, begins) < s.torches:
            return begins
        return min(b for _, b in busy)

    def _in_a_vessel(self, who: int, ready: float, hands: float, wait: float, places: tuple[int, ...]) -> Offer:
        best: Offer = (NEVER, NEVER, NEVER, who, -1)
        for vessel in places:
            at = ready
            while True:
                at = self._open(who, at, hands)
                if at == NEVER:
                    break
                later = self._vessel(vessel, at, hands + wait)
                if later == at:
                    if at + hands < best[0]:
                        best = (at + hands, at, NEVER, who, vessel)
                    break
                at = later
        return best

    def _vessel(self, vessel: int, at: float, span: float) -> float:
        """The first minute from which a vessel has room for so long."""
        holds = self.s.vessels[vessel]
        while True:
            busy = [(a, b) for a, b in self.used[vessel] if a < at + span - 1e-9 and b > at + 1e-9]
            if len(busy) < holds or _most(busy, at) < holds:
                return at
            at = min(b for _, b in busy)

    def _take(self, job: int, step: int, offer: Offer) -> None:
        s = self.s
        ends, at, lights, who, vessel = offer
        code = s.codes[job][step]
        if code == FLAME:
            if lights < NEVER:
                self.lit[who] = len(self.sessions)
                self.sessions.append((who, lights, at, ends))
            else:
                held = self.lit[who]
                _, begins, lit, _ = self.sessions[held]
                self.sessions[held] = (who, begins, lit, ends)
        elif code == WORK and ends > at:
            self.lit[who] = -1
        if vessel >= 0:
            self.used[vessel] = (*self.used[vessel], (at, ends + s.waits[job][step]))
        self.free[who] = ends
        if ends > at or code == FLAME:
            windows, place = s.windows[who], self.win[who]
            while place < len(windows) and windows[place][1] < at:
                place += 1
            self.win[who] = place
        self.ready[job] = ends + s.waits[job][step]
        self.starts.append((job, step, at, who, vessel))
        self.nxt[job] = step + 1
        self._done(job)

    def _done(self, job: int) -> None:
        """Count what a job that is at its end comes late."""
        s = self.s
        if self.nxt[job] < len(s.hands[job]):
            return
        self.ends += self.ready[job]
        due = s.due[job]
        if due is not None and self.ready[job] > due:
            self.late += s.weight[job] * (self.ready[job] - due)


def _most(spans: Sequence[tuple[float, float]], begins: float) -> int:
    """How many of these run at once at most, from a minute on."""
    most = 0
    for at in (max(a, begins) for a, _ in spans):
        running = sum(1 for a, b in spans if a <= at + 1e-9 and b > at + 1e-9)
        most = max(most, running)
    return most


def walk_through(
    s: Setting, order: Iterable[int], force: Mapping[Task, int], held: Mapping[Task, float] | None = None
) -> Walk:
    """The plan that follows from an order of jobs, each named once for each of its steps."""
    walk = Walk(s)
    for job in order:
        walk.place(job, force, held.get((job, walk.nxt[job]), 0.0) if held else 0.0)
    return walk
