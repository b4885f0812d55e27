"""A rule by which the next step is picked: what presses first, and the torch waits for several where nothing does."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ringcraft.day.setting import BESIDE, FLAME, FLAME_GAP_MIN, WORK, Setting, Task
from ringcraft.day.walk import NEVER, Walk

#: Common practice, no published source: with hours to spare the flame waits until several rings can share it.
GATE, GATE_SLACK_MIN = 3, 240.0
A_WHILE_MIN = 3 * 1440.0  # as much slack as a job without a date is given


@dataclass(frozen=True)
class Rule:
    """How the rule is set: rings that the flame waits for, and how far a due time outweighs the work left."""

    gate: int = GATE
    by_due: float = 0.0
    long_wait_min: float = 60.0


def dispatch(
    s: Setting,
    rule: Rule = Rule(),
    begin: Iterable[int] = (),
    force: Mapping[Task, int] | None = None,
    held: Mapping[Task, float] | None = None,
) -> tuple[list[int], Walk]:
    """An order of jobs by the rule, after the places that ``begin`` gives, and the plan that follows from it."""
    walk, order, meant = Walk(s), [], force or {}
    for job in begin:
        order.append(job)
        walk.place(job, meant, held.get((job, walk.nxt[job]), 0.0) if held else 0.0)
    open_jobs = [job for job in range(len(s.hands)) if job not in s.dead and walk.nxt[job] < len(s.hands[job])]
    while open_jobs:
        job = _next(s, walk, rule, open_jobs)
        before = walk.nxt[job]
        walk.place(job, meant)
        order += [job] * (1 if job not in walk.left else len(s.hands[job]) - before)
        if walk.nxt[job] >= len(s.hands[job]):
            open_jobs.remove(job)
        open_jobs = [one for one in open_jobs if walk.nxt[one] < len(s.hands[one])]
    return order, walk


def _next(s: Setting, walk: Walk, rule: Rule, open_jobs: list[int]) -> int:
    frees = [_first_free(s, walk, who) for who in range(len(s.people))]
    anybody = min(frees, default=NEVER)
    torch = min((frees[who] for who in s.who[FLAME]), default=NEVER)
    begins = {}
    for job in open_jobs:
        hands = torch if s.codes[job][walk.nxt[job]] == FLAME else anybody
        ready = walk.ready[job]
        begins[job] = ready if ready > hands else hands
    soonest = min(begins.values())
    ripe = [job for job in open_jobs if begins[job] <= soonest + 1e-9]
    if len(ripe) == 1:
        return ripe[0]
    at_flame = [job for job in ripe if s.codes[job][walk.nxt[job]] == FLAME]
    lit = any(
        walk.lit[who] >= 0 and walk.sessions[walk.lit[who]][3] + FLAME_GAP_MIN >= soonest for who in s.who[FLAME]
    )
    waits = not lit and len(at_flame) < min(rule.gate, len(open_jobs))
    due = _due_by_pins(s, walk) if walk.s.pins else s.due
    soon = lit and any(
        s.codes[job][walk.nxt[job]] == FLAME and walk.ready[job] <= soonest + FLAME_GAP_MIN / 2 for job in open_jobs
    )
    state = _State(soonest, lit, waits, soon, due)
    return min(ripe, key=lambda job: (_score(s, walk, rule, job, state), job))


@dataclass(frozen=True)
class _State:
    """What holds for every step that could be next: the time, a lit torch, a flame that waits for more or is near."""

    now: float
    lit: bool
    waits: bool
    flame_soon: bool
    due: list[float | None]


def _due_by_pins(s: Setting, walk: Walk) -> list[float | None]:
    """The due times, earlier where a step that is pinned makes the work before it press."""
    due = list(s.due)
    for row in walk.pins:
        for pin in row:
            if pin.step >= walk.nxt[pin.job]:
                by = pin.at + s.tails[pin.job][pin.step]
                known = due[pin.job]
                due[pin.job] = by if known is None else min(known, by)
    return due


def _first_free(s: Setting, walk: Walk, who: int) -> float:
    free = walk.free[who]
    for begins, closes in s.windows[who][walk.win[who] :]:
        if closes > free + 1e-9:
            return free if free > begins else begins
    return NEVER


def _score(s: Setting, walk: Walk, rule: Rule, job: int, state: _State) -> float:
    """Minutes of slack, less what speaks for it now; the least goes first."""
    step = walk.nxt[job]
    due, tail, code = state.due[job], s.tails[job][step], s.codes[job][step]
    slack = A_WHILE_MIN if due is None else due - state.now - tail
    if rule.by_due and due is not None:
        slack += rule.by_due * tail
    score = min(slack, A_WHILE_MIN)
    score = score / s.weight[job] if score > 0 else score * s.weight[job]
    if state.lit:
        score += {FLAME: -120, BESIDE: -60, WORK: 90 if state.flame_soon else 0}[code]
    elif state.waits and code == FLAME and slack > GATE_SLACK_MIN:
        score += A_WHILE_MIN
    wait = s.waits[job][step]
    if slack > 0 and wait:
        score -= min(wait, 480.0) * (1.0 if wait >= rule.long_wait_min else 0.5)
    return score
