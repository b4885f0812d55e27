"""Where a job stands: its next step, what waits, what is left, and the shape it has by now."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from ringcraft.scheduling import OpenJob
from workshop.jobs.models import Job


@dataclass(frozen=True)
class Standing:
    """A job's place on the bench. ``waiting`` is the step that runs by itself until ``ready_at``."""

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


def standing(route: list[dict[str, Any]], done: Mapping[str, datetime]) -> Standing:
    """Where a route stands, from its steps and the times they were ticked."""
    left = [step for step in route if step["key"] not in done]
    shape = "strip"
    for step in route:
        if step["key"] in done and step.get("becomes"):
            shape = step["becomes"]
    if not left:
        return Standing("", "Done", "hand-over", False, 0, 0, 0, 0, None, "", shape)
    following = left[0]
    ready_at, waiting = _wait_before(route, following["key"], done)
    return Standing(
        next_key=following["key"],
        next_title=following["title"],
        station=following["station"],
        torch=bool(following.get("torch")),
        next_wait_min=following["wait_min"],
        hands_left_min=sum(step["hands_min"] for step in left),
        wait_left_min=sum(step["wait_min"] for step in left),
        steps_left=len(left),
        ready_at=ready_at,
        waiting=waiting,
        shape=shape,
    )


def _wait_before(
    route: list[dict[str, Any]], next_key: str, done: Mapping[str, datetime]
) -> tuple[datetime | None, str]:
    before: dict[str, Any] | None = None
    for step in route:
        if step["key"] == next_key:
            break
        before = step
    if before is None or not before["wait_min"] or before["key"] not in done:
        return None, ""
    return done[before["key"]] + timedelta(minutes=before["wait_min"]), before["key"]


def done_times(job: Job) -> dict[str, datetime]:
    """When each ticked step of a job was ticked."""
    return {step.key: step.at for step in job.steps_done.all()}


def open_job(job: Job, stands: Standing) -> OpenJob:
    """The job as the scheduling knows it."""
    return OpenJob(
        id=job.pk,
        name=job.name,
        due=job.due,
        step=stands.next_key,
        title=stands.next_title,
        station=stands.station,
        torch=stands.torch,
        step_wait_min=stands.next_wait_min,
        hands_left_min=stands.hands_left_min,
        wait_left_min=stands.wait_left_min,
        ready_at=stands.ready_at,
    )
