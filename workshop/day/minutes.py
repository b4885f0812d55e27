"""How long steps take in a workshop, by its ticks and its timers; kept so that a plan reads it in one query."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from ringcraft.day.learnt import ENOUGH, NEWEST, Scatter, gap_min, learnt_min, scatter_from, waited_min
from ringcraft.day.promise import our_scatter
from ringcraft.routes.steps import Step
from workshop.day.models import LearntMinutes, StepTime
from workshop.jobs.models import Job, StepDone
from workshop.people.preferences import Preferences

HANDS, WAIT = "hands", "wait"
NEWEST_RATIOS = 200
AT_ONCE_S = 20.0


def heard(job: Job, done: StepDone, step: Step) -> None:
    """Learn from a step that was just ticked: since the same person's last tick, on whatever job.

    Ticks within twenty seconds of one another were made afterwards, all of them: the first of them teaches nothing.
    """
    if done.by_id is None or not done.live:
        return
    before = StepDone.objects.filter(by_id=done.by_id, at__lte=done.at).exclude(pk=done.pk)
    last = before.order_by("-at", "-pk").first()
    if last is None or not last.live:
        return
    since = (done.at - last.at).total_seconds()
    if since <= AT_ONCE_S:
        unlearn(last)
        return
    took = gap_min(since / 60, step.hands_min)
    if took is not None:
        _keep(job, done, step.key, HANDS, took, step.hands_min)


def answered(job: Job, done: StepDone, at: datetime) -> None:
    """Learn from a timer that was answered: only where that was within two minutes of its end."""
    if done.ready_at is None or not done.live:
        return
    planned = (done.ready_at - done.at).total_seconds() / 60
    took = waited_min(planned, (at - done.ready_at).total_seconds() / 60)
    if took is not None:
        _keep(job, done, done.key, WAIT, round(took, 1), planned)


def unlearn(done: StepDone) -> None:
    """Forget what a tick taught: it was not done after all, or told afterwards."""
    rows = list(StepTime.objects.filter(done=done))
    StepTime.objects.filter(done=done).delete()
    for row in rows:
        _again(row.workshop_id, row.family, row.key, row.what)


def _keep(job: Job, done: StepDone, key: str, what: str, minutes: float, planned: float) -> None:
    named = key.partition("@")[0]
    StepTime.objects.update_or_create(
        done=done,
        what=what,
        defaults={
            "workshop_id": job.workshop_id,
            "family": job.metal_family,
            "key": named,
            "minutes": round(minutes, 2),
            "planned": planned,
            "at": timezone.now(),
        },
    )
    _again(job.workshop_id, job.metal_family, named, what)


def _again(workshop_id: int, family: str, key: str, what: str) -> None:
    """The median of a step anew, from its newest times."""
    of = {"workshop_id": workshop_id, "family": family, "key": key, "what": what}
    newest = list(StepTime.objects.filter(**of).order_by("-at", "-id").values_list("minutes", "planned")[:NEWEST])
    learnt = learnt_min([minutes for minutes, _ in reversed(newest)])
    if learnt is None:
        LearntMinutes.objects.filter(**of).delete()
        return
    LearntMinutes.objects.bulk_create(
        [LearntMinutes(**of, minutes=learnt, planned=newest[0][1], times=len(newest))],
        update_conflicts=True,
        update_fields=["minutes", "planned", "times"],
    )


Learnt = dict[tuple[str, str, str], float]


def learnt_of(workshop_id: int) -> Learnt:
    """The workshop's own minutes, by family, step and whether of hands or of a wait."""
    rows = LearntMinutes.objects.filter(workshop_id=workshop_id, times__gte=ENOUGH)
    return {(row.family, row.key, row.what): row.minutes for row in rows}


@dataclass(frozen=True)
class InForce:
    """Whose minutes a plan reckons with: a row of the shop's own before what was learnt, that before the plan's."""

    own: frozenset[str]
    learnt: Learnt

    def of(self, family: str, key: str, hands: float, wait: float) -> tuple[float, float]:
        """Minutes of hands and of waiting for a step of a plan that says these; a step without a wait gets none."""
        named = key.partition("@")[0]
        if named in self.own:
            return hands, wait
        waits = self.learnt.get((family, named, WAIT), wait) if wait else wait
        return self.learnt.get((family, named, HANDS), hands), waits


def in_force(workshop_id: int, ways: Preferences) -> InForce:
    """The minutes in force in a workshop with these ways."""
    learnt = learnt_of(workshop_id) if ways.learn_minutes else {}
    return InForce(frozenset(row.step for row in ways.step_minutes), learnt)


def scatter_of(workshop_id: int) -> Scatter:
    """How far the workshop's minutes scatter, from the newest of its steps; ours until there are enough."""
    rows = StepTime.objects.filter(workshop_id=workshop_id, what=HANDS).order_by("-at", "-id")
    newest = rows.values_list("minutes", "planned")[:NEWEST_RATIOS]
    return scatter_from([minutes / planned for minutes, planned in newest if planned > 0], our_scatter())
