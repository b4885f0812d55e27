"""Where a job stands on its route: its next step, what waits, what is left, and the shape it has by now.

Pure: the times that steps were done are an argument.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ringcraft.routes.steps import Step


@dataclass(frozen=True)
class JobProgress:
    """A job's place on its route. ``waiting`` is the step that runs by itself until ``ready_at``."""

    next_key: str
    next_title: str
    station: str
    torch: bool
    next_wait_min: float
    hands_left_min: float
    wait_left_min: float
    steps_left: int
    ready_at: datetime | None
    waiting: str
    shape: str


def progress(
    route: Sequence[Step],
    done: Mapping[str, datetime],
    shape: str = "strip",
    waits: Mapping[str, datetime] | None = None,
) -> JobProgress:
    """Where a route stands, from its steps and the times they were done; ``shape`` is what it began as.

    ``waits`` is when the wait after a step ends, where that is known otherwise than from its minutes.
    """
    left = [step for step in route if step.key not in done]
    for step in route:
        if step.key in done and step.becomes:
            shape = step.becomes
    if not left:
        return JobProgress("", "Done", "hand-over", False, 0, 0, 0, 0, None, "", shape)
    following = left[0]
    ready_at, waiting = _wait_before(route, following.key, done, waits or {})
    return JobProgress(
        next_key=following.key,
        next_title=following.title,
        station=following.station,
        torch=following.torch,
        next_wait_min=following.wait_min,
        hands_left_min=sum(step.hands_min for step in left),
        wait_left_min=sum(step.wait_min for step in left),
        steps_left=len(left),
        ready_at=ready_at,
        waiting=waiting,
        shape=shape,
    )


def _wait_before(
    route: Sequence[Step], next_key: str, done: Mapping[str, datetime], waits: Mapping[str, datetime]
) -> tuple[datetime | None, str]:
    before: Step | None = None
    for step in route:
        if step.key == next_key:
            break
        before = step
    if before is None or not before.wait_min or before.key not in done:
        return None, ""
    if before.key in waits:
        return waits[before.key], before.key
    try:
        return done[before.key] + timedelta(minutes=before.wait_min), before.key
    except OverflowError:
        return None, ""  # a time at the end of the calendar: no wait can follow it
