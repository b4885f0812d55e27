"""Why a step is next, and what would save a job that comes late, in words."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ringcraft.day.answer import DayAnswer
from ringcraft.day.asking import DayRequest
from ringcraft.day.saving import Saving
from ringcraft.day.setting import AT_THE_FLAME

DAY_MIN = 1440.0
LONG_WAIT_MIN = 60.0
LITTLE = 0.1
Name = Callable[[str], str]
Clock = Callable[[float], str]


def span_words(minutes: float) -> str:
    """A span of time as one says it.

    >>> span_words(25), span_words(95), span_words(3000)
    ('25 min', '1 h 35', '2 days')
    """
    whole = max(1, round(minutes))
    if whole < 60:
        return f"{whole} min"
    if whole < 2 * DAY_MIN:
        hours, rest = divmod(whole, 60)
        return f"{hours} h {rest:02d}" if rest else f"{hours} h"
    return f"{round(whole / DAY_MIN)} days"


def and_words(names: Sequence[str]) -> str:
    """Names in a row.

    >>> and_words(["Pym", "Arden", "Fenn"])
    'Pym, Arden and Fenn'
    """
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def why_next(asked: DayRequest, answer: DayAnswer, job: str, step: int, name: Name) -> str:
    """Why a step is where the plan has it: the first of the reasons that is true of it."""
    row = next(one for one in asked.jobs if one.id == job)
    if any(pin.job == job and pin.step == step for pin in asked.pinned) and not any(
        missed.job == job and missed.step == step for missed in answer.missed_pins
    ):
        return "it was put there"
    late = next((one.min for one in answer.late if one.job == job), None)
    if late is not None:
        return f"it comes {span_words(late)} late"
    start = next((one for one in answer.starts if one.job == job and one.step == step), None)
    shared = _shared(asked, answer, job, step)
    if start is not None and row.steps[step].kind in AT_THE_FLAME and len(shared) > 1:
        return f"one torch does for {and_words([name(one) for one in shared])}"
    if row.due_min is not None and row.due_min - answer.ends[job] < DAY_MIN:
        return f"it is done {span_words(row.due_min - answer.ends[job])} before it is promised"
    if row.steps[step].wait_min >= LONG_WAIT_MIN:
        return f"its wait of {span_words(row.steps[step].wait_min)} then runs by itself"
    if row.steps[step].wait_min:
        return f"{span_words(row.steps[step].wait_min)} then run by themselves"
    return "it is the next by its promise" if row.due_min is not None else "nothing that is promised can go on now"


def _shared(asked: DayRequest, answer: DayAnswer, job: str, step: int) -> list[str]:
    """The jobs at the flame in the same session as a step, in its order."""
    start = next((one for one in answer.starts if one.job == job and one.step == step), None)
    if start is None:
        return []
    for session, jobs in zip(answer.sessions, session_jobs(asked, answer), strict=True):
        if session.person == start.person and session.lit_min <= start.at_min <= session.to_min:
            return jobs
    return []


def session_jobs(asked: DayRequest, answer: DayAnswer) -> list[list[str]]:
    """The jobs at the flame of each session, in its order."""
    kinds = {(one.id, nth): row.kind for one in asked.jobs for nth, row in enumerate(one.steps)}
    flames = [one for one in answer.starts if kinds[one.job, one.step] in AT_THE_FLAME]
    return [
        list(
            dict.fromkeys(
                one.job
                for one in flames
                if one.person == session.person and session.lit_min <= one.at_min <= session.to_min
            )
        )
        for session in answer.sessions
    ]


def saving_words(saving: Saving, title: str, name: Name, clock: Clock) -> str:
    """What taking a late job first would come to; nothing else was looked at."""
    saved = saving.late_min - saving.first_late_min
    if saving.first_late_min >= 1 and saved < LITTLE * saving.late_min:
        little = f"only {span_words(saved)}" if saved >= 1 else "nothing"
        return f"Taking it first saves {little}: it can be promised {clock(saving.ends_min)}."
    gained = (
        "it is on time"
        if saving.first_late_min < 1
        else f"it is still {span_words(saving.first_late_min)} late, ready {clock(saving.ends_min)}"
    )
    if not saving.others:
        return f"Taken first ({title}), {gained}, and nobody else comes later than promised for it."
    pay = [f"{name(one.job)} {span_words(one.min)} late, ready {clock(one.ends_min)}" for one in saving.others[:3]]
    more = f" and {len(saving.others) - 3} more" if len(saving.others) > 3 else ""
    return f"Taken first ({title}), {gained}; then {and_words(pay)}{more}."
