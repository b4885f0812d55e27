"""A plan made better by small changes of its order: a counted number, so that any machine finds the same."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from random import Random

from ringcraft.day.dispatch import Rule, dispatch
from ringcraft.day.setting import FLAME, Setting, Task
from ringcraft.day.walk import LATE, SESSION, Walk

PLACEMENTS = 90_000  # about a second's worth here: a move that goes through more steps counts for more
OVERHEAD = 12  # what a move costs whatever it goes through, in steps
EVERY = 12  # steps between the places from which a walk is taken up again
MEMORY = 24
RULES = (Rule(), Rule(gate=1), Rule(gate=2, by_due=0.6), Rule(gate=1, by_due=1.0))


@dataclass
class Way:
    """An order of jobs, each named once for each step, who is meant for which step, and what follows from both.

    The first ``kept`` places stay; ``held`` are times before which a step of theirs does not begin.
    """

    order: list[int]
    force: dict[Task, int]
    kept: int = 0
    held: Mapping[Task, float] = field(default_factory=dict)
    walk: Walk | None = None

    def cost(self) -> float:
        """What it costs."""
        return self.walk.cost() if self.walk else math.inf


@dataclass
class _Marks:
    """Walks on the way through an order, to go on from; every so many places one."""

    walks: list[Walk]

    def before(self, place: int) -> tuple[int, Walk]:
        nth = min(place // EVERY, len(self.walks) - 1)
        return nth * EVERY, self.walks[nth].copy()


def walked(s: Setting, way: Way) -> tuple[Walk, _Marks]:
    """The plan of a way, with marks to go on from."""
    walk, marks = Walk(s), []
    for place, job in enumerate(way.order):
        if place % EVERY == 0:
            marks.append(walk.copy())
        walk.place(job, way.force, way.held.get((job, walk.nxt[job]), 0.0) if place < way.kept else 0.0)
    return walk, _Marks(marks or [walk.copy()])


def settled(s: Setting, way: Way) -> Way:
    """The same plan told in the order in which its steps begin, so that it follows from itself again."""
    for _ in range(6):
        walk = way.walk or walked(s, way)[0]
        steps = sorted((at, at + s.hands[job][step], job, step, who) for job, step, at, who, _ in walk.starts)
        begun = {(job, step) for job, step, _, _, _ in s.begun}
        rows = [row for row in steps if (row[2], row[3]) not in begun]
        order = _in_order([row[2] for row in rows], way)
        force = {(job, step): who for _, _, job, step, who in rows}
        again = Way(order, force, way.kept, way.held)
        again.walk = walked(s, again)[0]
        if again.cost() > way.cost() + 1e-6:
            return way
        if sorted(again.walk.starts) == sorted(walk.starts):
            return again
        way = again
    return way


def _in_order(order: list[int], way: Way) -> list[int]:
    """The kept places first, as they were; what found no hour last."""
    head = way.order[: way.kept]
    gone = Counter(head)
    whole = list(head)
    for job in order:
        if gone[job]:
            gone[job] -= 1
        else:
            whole.append(job)
    missing = Counter(way.order) - Counter(whole)
    return whole + [job for job in sorted(missing) for _ in range(missing[job])]


def improved(s: Setting, way: Way, moves: int, seed: int) -> tuple[Way, int]:
    """The best way found from this one, and how many moves were tried."""
    best = way
    walk, marks = walked(s, way)
    best.walk = walk
    size = len(way.order)
    if size - way.kept < 2 or not moves:
        return best, 0
    rng = Random(seed)  # noqa: S311 - the order of trying, no secret
    now = Way(list(way.order), dict(way.force), way.kept, way.held, walk)
    best_cost = now_cost = way.cost()
    spent = tried = 0
    slack = 30_000.0 if walk.late > 0 else 2 * SESSION
    memory = [now_cost + slack * max(0.0, 1 - nth / MEMORY) for nth in range(MEMORY)]
    while tried < moves and spent < PLACEMENTS:
        tried += 1
        order, force, place = _moved(s, now, rng)
        if place >= size:
            continue
        bar = max(memory[tried % MEMORY], now_cost)
        walked_on, steps = _from(s, order, force, now, marks, place, bar)
        spent += steps + OVERHEAD
        cost = walked_on.cost() if walked_on else math.inf
        if walked_on is not None and cost <= bar:
            now = Way(order, force, way.kept, way.held, walked_on)
            now_cost = cost
            _, marks = walked(s, now)
            spent += size
            if cost < best_cost - 1e-9:
                best, best_cost = now, cost
        memory[tried % MEMORY] = now_cost
    return best, tried


def _from(
    s: Setting, order: list[int], force: dict[Task, int], now: Way, marks: _Marks, place: int, bar: float
) -> tuple[Walk | None, int]:
    """The walk through a changed order, from the last mark before the change; None once the bar is passed."""
    at, walk = marks.before(place)
    first = at
    limit = bar / LATE
    for nth in range(at, len(order)):
        job = order[nth]
        walk.place(job, force, now.held.get((job, walk.nxt[job]), 0.0) if nth < now.kept else 0.0)
        if walk.late > limit:
            return None, nth - first + 1
    return walk, len(order) - first


def _moved(s: Setting, now: Way, rng: Random) -> tuple[list[int], dict[Task, int], int]:
    """A small change of an order: the order, who is meant, and the first place that changed."""
    order, size, kept = now.order, len(now.order), now.kept
    pick = rng.random()
    if len(s.people) > 1 and pick < 0.2:
        return _other_hands(s, now, rng)
    if pick < 0.45 and (found := _pulled(now, rng)) is not None:
        return found
    if pick < 0.6 and (found := _to_the_flame(s, now, rng)) is not None:
        return found
    near = kept + (min(size - kept, 160) if rng.random() < 0.7 else size - kept)
    here = rng.randrange(kept, near)
    reach = min(size - kept, max(3, int(rng.expovariate(1 / 8)) + 1))
    there = max(kept, min(size - 1, here + rng.choice((-1, 1)) * rng.randint(1, reach)))
    if order[here] == order[there]:
        return order, now.force, size
    changed = list(order)
    if rng.random() < 0.5:
        changed[here], changed[there] = changed[there], changed[here]
    else:
        changed.insert(there, changed.pop(here))
    return changed, now.force, min(here, there)


def _other_hands(s: Setting, now: Way, rng: Random) -> tuple[list[int], dict[Task, int], int]:
    """Another person for one step."""
    size = len(now.order)
    place = rng.randrange(now.kept, size)
    job = now.order[place]
    step = s.first[job] + now.order[:place].count(job)
    if step >= len(s.codes[job]):
        return now.order, now.force, size
    able = s.who[s.codes[job][step]]
    if len(able) < 2:
        return now.order, now.force, size
    force = dict(now.force)
    force[(job, step)] = rng.choice(able)
    return now.order, force, place


def _pulled(now: Way, rng: Random) -> tuple[list[int], dict[Task, int], int] | None:
    """A job that comes late, or any, done earlier from some place on: several of its steps move up."""
    walk = now.walk
    if walk is None:
        return None
    s, size = walk.s, len(now.order)
    late = [job for job, due in enumerate(s.due) if due is not None and walk.ready[job] > due and job in now.order]
    job = rng.choice(late) if late and rng.random() < 0.8 else now.order[rng.randrange(now.kept, size)]
    places = [place for place in range(now.kept, size) if now.order[place] == job]
    if not places:
        return None
    nth = rng.randrange(len(places))
    count = rng.randint(1, len(places) - nth)
    back = rng.randint(1, 12)
    moving = places[nth : nth + count]
    gone = set(moving)
    rest = [one for place, one in enumerate(now.order) if place not in gone]
    changed, shift = rest, max(now.kept, moving[0] - back)
    for far, place in enumerate(moving):
        changed.insert(min(len(changed), max(shift + far, place - back)), job)
    return changed, now.force, shift


def _to_the_flame(s: Setting, now: Way, rng: Random) -> tuple[list[int], dict[Task, int], int] | None:
    """A step at the flame put beside another one, so that one lighting does for both."""
    counts = list(s.first)
    flames: list[int] = []
    tasks: list[Task] = []
    for place, job in enumerate(now.order):
        if counts[job] < len(s.codes[job]) and s.codes[job][counts[job]] == FLAME and place >= now.kept:
            flames.append(place)
            tasks.append((job, counts[job]))
        counts[job] += 1
    if len(flames) < 2:
        return None
    at = rng.randrange(len(flames) - 1)
    first, second = flames[at], flames[at + 1]
    changed = list(now.order)
    if rng.random() < 0.5:
        changed.insert(first + 1, changed.pop(second))
    else:
        changed.insert(second - 1, changed.pop(first))
    if len(s.who[FLAME]) < 2 or rng.random() < 0.4:
        return changed, now.force, first
    same = rng.choice(s.who[FLAME])
    return changed, {**now.force, tasks[at]: same, tasks[at + 1]: same}, first


def first_plan(s: Setting, rules: Sequence[Rule] = RULES[:1]) -> Way:
    """The best of the plans that these rules give."""
    ways = []
    for rule in rules:
        order, walk = dispatch(s, rule)
        ways.append(Way(order, {}, walk=walk))
    return min(ways, key=Way.cost)
