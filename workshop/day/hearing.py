"""What the day does when a step is ticked, in the same transaction."""

from __future__ import annotations

from typing import Any

from django.dispatch import receiver

from ringcraft.routes.steps import Step
from workshop.day import leaving, minutes, taking, timers
from workshop.day.models import Pin
from workshop.jobs.models import Job, StepDone
from workshop.jobs.progress import step_ticked, step_unticked


@receiver(step_ticked)
def ticked(job: Job, done: StepDone, step: Step, **_: Any) -> None:
    """Nobody holds it any more, its pin is done with, the wait before it is answered, and its minutes teach."""
    taking.let_go(job, done.key)
    if done.live and done.by_id is not None:
        leaving.is_here(done.by_id)
    Pin.objects.filter(job=job, route_key=done.route_key, key=done.key).delete()
    timers.passed(job, done)
    minutes.heard(job, done, step)


@receiver(step_unticked)
def unticked(done: StepDone, **_: Any) -> None:
    """What was not done teaches nothing."""
    minutes.unlearn(done)
