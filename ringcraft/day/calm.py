"""A plan that is made again while the day goes on: the rest moves only where that saves much."""

from __future__ import annotations

from dataclasses import replace

from ringcraft.day.asking import DayRequest
from ringcraft.day.dispatch import Rule, dispatch
from ringcraft.day.search import PLACEMENTS, RULES, Way, first_plan, improved, settled
from ringcraft.day.setting import FROZEN_MIN, Setting, Task
from ringcraft.day.walk import walk_through

WORTH_LATE_MIN = 10.0  # weighted late minutes that a reshuffle must save
#: A ring that is ready so long after it was to be worked on (it went to the setter) has lost its place.
LOST_PLACE_MIN = 15.0
#: Whose hands are not there for so long after a step was to begin (they went home) has lost it to who is.
LOST_HANDS_MIN = 180.0
TRIES = 12
MOST_SEARCHED = 1200  # steps


def planned(s: Setting, asked: DayRequest) -> tuple[Way, Way | None, int]:
    """The plan, the plan as it was shown if another takes its place, and how many moves were tried.

    Of more steps than are searched, the jobs that press most are planned; the rest follows by its order.
    """
    rest = by_order(s)
    if not rest:
        return _planned(s, asked)
    way, instead_of, tried = _planned(replace(s, dead={**s.dead, **dict.fromkeys(rest, "")}), asked)
    whole = Way(
        [*way.order, *(job for job in rest for _ in s.hands[job][s.first[job] :])], way.force, way.kept, way.held
    )
    whole.walk = walk_through(s, whole.order, whole.force, whole.held)
    return whole, instead_of, tried


def by_order(s: Setting) -> list[int]:
    """The jobs beyond those that are searched, by what they have to spare; none where all are."""
    jobs = [job for job in range(len(s.hands)) if job not in s.dead and s.first[job] < len(s.hands[job])]
    held = {pin.job for pin in s.pins}
    jobs.sort(
        key=lambda job: (job not in held, s.due[job] is None, (s.due[job] or 0.0) - s.tails[job][s.first[job]], job)
    )
    steps = 0
    for place, job in enumerate(jobs):
        steps += len(s.hands[job]) - s.first[job]
        if steps > MOST_SEARCHED and place:
            return jobs[place:]
    return []


def _planned(s: Setting, asked: DayRequest) -> tuple[Way, Way | None, int]:
    if not asked.before:
        rules = RULES if asked.moves else RULES[:1]
        way, tried = improved(s, first_plan(s, rules), asked.moves, asked.seed)
        return settled(s, way), None, tried
    stays = settled(s, as_before(s, asked))
    if not asked.moves:
        return stays, None, 0
    begin = stays.order[: stays.kept]
    ways = [stays]
    for rule in RULES:
        order, walk = dispatch(s, rule, begin, stays.force, stays.held)
        ways.append(Way(order, {task: stays.force[task] for task in stays.held}, stays.kept, stays.held, walk))
    better, tried = improved(s, min(ways, key=Way.cost), asked.moves // 3, asked.seed)
    better = settled(s, better)
    return (better, stays, tried) if _is_worth_it(better, stays) else (stays, None, tried)


def _is_worth_it(better: Way, stays: Way) -> bool:
    new, old = better.walk, stays.walk
    if new is None or old is None or better.cost() >= stays.cost() - 1e-6:
        return False
    if (len(new.left), new.missed) < (len(old.left), old.missed):
        return True
    return old.late - new.late >= WORTH_LATE_MIN or (
        len(new.sessions) < len(old.sessions) and new.late <= old.late + 1e-6
    )


def as_before(s: Setting, asked: DayRequest) -> Way:
    """The plan that is shown, for what is left of it, with what came in since put where it costs least."""
    number = {job.id: at for at, job in enumerate(asked.jobs)}
    person = {key: at for at, key in enumerate(s.people)}
    rows = []
    first_at: dict[int, float] = {}
    for row in asked.before:
        job = number.get(row.job, -1)
        if job < 0 or job in s.dead or not s.first[job] <= row.step < len(s.hands[job]):
            continue
        rows.append((row.at_min, row.step, job, person.get(row.person, -1)))
        first_at[job] = min(first_at.get(job, row.at_min), row.at_min)
    lost = {job for job, at in first_at.items() if s.ready[job] > max(at, s.now) + LOST_PLACE_MIN}
    rows = [_by_who_is_there(s, _not_before_its_pin(s, row)) for row in rows if row[2] not in lost]
    rows.sort(key=lambda row: (row[0], row[0] + s.hands[row[2]][row[1]], row[2], row[1]))
    shown = {(job, step): at for at, step, job, _ in rows}
    force: dict[Task, int] = {(job, step): who for _, step, job, who in rows if who >= 0}
    order = [job for _, _, job, _ in rows]
    held, kept = _frozen(s, rows, asked.pull)
    for job in {row[2] for row in rows}:
        left = len(s.hands[job]) - s.first[job]
        order += [job] * (left - order.count(job))
    way = Way(order, {task: who for task, who in force.items() if task in shown}, kept, held)
    new = [j for j in range(len(s.hands)) if j not in s.dead and s.first[j] < len(s.hands[j]) and j not in order]
    for job in sorted(new, key=lambda one: (s.due[one] is None, s.due[one] or 0.0, one)):
        way = inserted(s, way, job, max(2, TRIES // len(new)))
    way.walk = walk_through(s, way.order, way.force, way.held)
    return way


def _not_before_its_pin(s: Setting, row: tuple[float, int, int, int]) -> tuple[float, int, int, int]:
    """A start as it is shown, or as late as the pin of that step, or of one before it, makes it."""
    at, step, job, who = row
    for pin in s.pins:
        if pin.job == job and pin.step <= step:
            at = max(at, pin.at + s.tails[job][pin.step] - s.tails[job][step])
    return at, step, job, who


def _by_who_is_there(s: Setting, row: tuple[float, int, int, int]) -> tuple[float, int, int, int]:
    """A start as it is shown; by anybody, after the half hour that stays, where those hands are not there then."""
    at, step, job, who = row
    if who < 0:
        return row
    due = max(at, s.now)
    there = next((max(begins, due) for begins, ends in s.windows[who] if ends > due), None)
    if there is not None and there - due <= LOST_HANDS_MIN:
        return row
    return max(at, s.now + FROZEN_MIN), step, job, -1


def _frozen(s: Setting, rows: list[tuple[float, int, int, int]], pull: bool) -> tuple[dict[Task, float], int]:
    """What is shown for the next half hour: its times, unless it may begin sooner, and how many places that is."""
    held: dict[Task, float] = {}
    kept = 0
    nexts = dict(enumerate(s.first))
    for at, step, job, _ in rows:
        if at >= s.now + FROZEN_MIN or nexts[job] != step:
            break
        nexts[job] += 1
        kept += 1
        held[(job, step)] = 0.0 if pull else at
    return held, kept


def inserted(s: Setting, way: Way, job: int, tries: int) -> Way:
    """A way with one more job, its steps put where they cost least, then where the others keep their ends."""
    walk = way.walk or walk_through(s, way.order, way.force, way.held)
    begins: dict[Task, float] = {(at, step): when for at, step, when, _, _ in walk.starts}
    counts = list(s.first)
    times = []
    for one in way.order:
        times.append(begins.get((one, counts[one]), s.last))
        counts[one] += 1
    tries = max(2, min(tries, PLACEMENTS // 8 // max(1, len(way.order))))
    best: tuple[tuple[float, float, float], Way] | None = None
    others = [one for one in set(way.order) if one != job]
    for nth in range(tries):
        for stretch in (1.0, 3.0):
            at = s.ready[job] + (nth / max(1, tries - 1)) ** 2 * max(0.0, (times[-1] if times else s.now) - s.now)
            order = _merged(s, way, job, times, at, stretch)
            other = Way(order, way.force, way.kept, way.held)
            other.walk = walk_through(s, order, way.force, way.held)
            moved = sum(max(0.0, other.walk.ready[one] - walk.ready[one]) for one in others)
            key = (round(other.walk.burden(), 3), round(moved, 3), other.walk.ready[job])
            if best is None or key < best[0]:
                best = (key, other)
    if best is None:  # never: two tries are made at least
        raise ValueError("a job found no place")
    return best[1]


def _merged(s: Setting, way: Way, job: int, times: list[float], at: float, stretch: float) -> list[int]:
    """The order with a job's steps put in by the time at which each would begin, were its waits so much longer."""
    out: list[int] = []
    place = 0
    for step in range(s.first[job], len(s.hands[job])):
        while place < len(times) and (place < way.kept or times[place] <= at):
            out.append(way.order[place])
            place += 1
        out.append(job)
        at += s.hands[job][step] * stretch + s.waits[job][step]
    return out + way.order[place:]


def by_rule(s: Setting) -> Way:
    """The plan by the plain rule."""
    order, walk = dispatch(s, Rule())
    return Way(order, {}, walk=walk)
