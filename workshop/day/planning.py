"""The plan that a workshop's screens show: made calmly when something changes, better by search once it is asked for.

A first plan follows at once from the one that is shown; :func:`settle` then looks for a better one, apart from what
draws it, and keeps it. Of many screens that want the same one makes it: the claim is a row of the database.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Q
from pydantic import TypeAdapter

from ringcraft.day.answer import DayAnswer, plan_of
from ringcraft.day.asking import DayRequest
from workshop.core.holding import hold
from workshop.core.models import Event
from workshop.core.tries import run_again
from workshop.day.bench import Bench, bench_of
from workshop.day.models import ShownPlan
from workshop.day.view import DayView, moved_words, view_of
from workshop.jobs.models import Job, name_of_job
from workshop.people.models import Workshop

NEWEST = 50
CLAIM = timedelta(seconds=30)
LEAST_GOOD, MOST_GOOD, GRACE = timedelta(minutes=2), timedelta(minutes=20), timedelta(minutes=5)
MOVED_MIN = 5.0
FORM = 2  # of a kept plan: another form is made anew, not read
_VIEW: TypeAdapter[DayView] = TypeAdapter(DayView)
SAID = {
    "created": "{name} came in",
    "changed": "{name} was changed",
    "planned-anew": "{name} was planned anew",
    "ticked": "{name}: {step} is done",
    "unticked": "{name}: {step} was not done after all",
    "once-more": "{name} goes through the fire once more",
    "closed": "{name} is off the bench",
    "reopened": "{name} is back on the bench",
    "placed": "{name} is elsewhere, or back",
    "took": "{by} took {name}",
    "gave-back": "{by} gave {name} back",
    "timer-answered": "{name} is out",
    "timer-longer": "{name} waits longer",
    "pinned": "{by} put {name} at a time",
    "unpinned": "{name} may be at any time again",
    "ways-set": "the ways were changed",
    "went-home": "{person} went home",
    "came-back": "{person} is back at the bench",
}


@dataclass(frozen=True)
class Plan:
    """A plan as it is shown: whether it was searched for, whether somebody does so now, and what changed and why."""

    view: DayView
    settled: bool
    working: bool
    says: str


def version_of(workshop_id: int) -> str:
    """What a workshop's screens show follows from it: another after every change of anything in the workshop.

    From the newest lines of the history, so that no writer waits for another; several, since one that was begun
    earlier may be written later.
    """
    ids = Event.objects.filter(workshop_id=workshop_id).order_by("-id").values_list("id", flat=True)[:NEWEST]
    return hashlib.sha256(repr(list(ids)).encode()).hexdigest()[:24]


def shown_plan(workshop_id: int) -> ShownPlan | None:
    """The plan that was kept last."""
    return ShownPlan.objects.filter(workshop_id=workshop_id).first()


def shown_version(workshop_id: int) -> int:
    """How many plans were kept."""
    found = ShownPlan.objects.filter(workshop_id=workshop_id).values_list("version", flat=True).first()
    return found or 0


def plan_now(shop: Workshop, now: datetime, zone: str = "") -> Plan:
    """The plan as it stands: the kept one while nothing changed, else one that follows from it at once."""
    shown, stamp = shown_plan(shop.pk), version_of(shop.pk)
    if shown is not None and _holds(shown, stamp, now):
        return _kept(shown)
    bench, asked, answer = _planned(shop, now, zone, shown, moves=0)
    view = view_of(bench, asked, answer)
    claimed = shown.claimed_at if shown is not None and shown.claim == stamp else None
    working = claimed is not None and claimed > now - CLAIM
    return Plan(view, False, working, _says(shop.pk, shown, bench, answer))


def settle(shop: Workshop, now: datetime, zone: str = "") -> Plan:
    """Look for a better plan and keep it; where another request does that already, its plan is awaited."""
    stamp = version_of(shop.pk)
    shown, _ = ShownPlan.objects.get_or_create(workshop=shop)
    if _holds(shown, stamp, now):
        return _kept(shown)
    free = Q(claimed_at=None) | Q(claimed_at__lt=now - CLAIM) | ~Q(claim=stamp)
    if not run_again(lambda: ShownPlan.objects.filter(free, pk=shown.pk).update(claim=stamp, claimed_at=now)):
        return replace(plan_now(shop, now, zone), working=True)
    bench, asked, answer = _planned(shop, now, zone, shown if shown.made_at else None, moves=None)
    view, says = view_of(bench, asked, answer), _says(shop.pk, shown if shown.made_at else None, bench, answer)

    @transaction.atomic
    def keep() -> None:
        row = hold(ShownPlan.objects.filter(pk=shown.pk)).first()
        if row is not None and row.claim == stamp:
            row.stamp, row.made_at, row.version = stamp, now, row.version + 1
            row.good_until = _good_until(view, now)
            row.plan = _to_keep(bench, answer, view, says)
            row.claim, row.claimed_at = "", None
            row.save()

    run_again(keep)
    return Plan(view, True, False, says)


def _planned(
    shop: Workshop, now: datetime, zone: str, shown: ShownPlan | None, moves: int | None
) -> tuple[Bench, DayRequest, DayAnswer]:
    bench, asked = bench_of(shop, now, zone, shown=shown)
    asked = asked if moves is None else replace(asked, moves=moves)
    return bench, asked, plan_of(asked)


def _holds(shown: ShownPlan, stamp: str, now: datetime) -> bool:
    known = shown.plan.get("form") == FORM
    return known and shown.stamp == stamp and shown.good_until is not None and now < shown.good_until


def _kept(shown: ShownPlan) -> Plan:
    return Plan(_VIEW.validate_python(shown.plan["view"]), True, False, shown.plan.get("says", ""))


def _to_keep(bench: Bench, answer: DayAnswer, view: DayView, says: str) -> dict[str, Any]:
    """The plan as plain data: where each step is, in minutes of the epoch, and what is drawn of it."""
    origin = bench.origin.timestamp() / 60
    starts = [
        [int(one.job), bench.steps[int(one.job)][one.step].key, origin + one.at_min, int(one.person or 0)]
        for one in answer.starts
        if bench.steps[int(one.job)][one.step].key
    ]
    sessions = [[int(one.person), *(origin + at for at in (one.from_min, one.lit_min, one.to_min))]
                for one in answer.sessions]  # fmt: skip
    drawn = _VIEW.dump_python(view, mode="json")
    return {"form": FORM, "starts": starts, "sessions": sessions, "view": drawn, "says": says}


def _good_until(view: DayView, now: datetime) -> datetime:
    """Until when the plan holds by itself: then somebody is behind it."""
    first: dict[int, datetime] = {}
    for block in view.blocks:
        first.setdefault(block.person_id, block.ends)
    soonest = min(first.values(), default=now + MOST_GOOD) + GRACE
    return min(max(soonest, now + LEAST_GOOD), now + MOST_GOOD)


def _says(workshop_id: int, shown: ShownPlan | None, bench: Bench, answer: DayAnswer) -> str:
    """What changed since the plan that was shown, and why, in one line."""
    if shown is None or shown.made_at is None:
        return ""
    origin = bench.origin.timestamp() / 60
    before = {(job, key): (at, who) for job, key, at, who in shown.plan.get("starts", ())}
    moved = sum(
        abs(before[task][0] - origin - one.at_min) > MOVED_MIN
        for one in answer.starts
        if (task := (int(one.job), bench.steps[int(one.job)][one.step].key)) in before
    )
    anew = answer.says[0].rstrip(".") if answer.changed else ""
    why = _why(workshop_id, shown.made_at)
    at = bench.now.astimezone(bench.zone)
    return f"{at.hour}:{at.minute:02d} {why}: {moved_words(moved, anew)}."


def _why(workshop_id: int, since: datetime) -> str:
    """What happened last."""
    lines = Event.objects.filter(workshop_id=workshop_id, at__gte=since).select_related("by")
    event = lines.order_by("-at", "-id").first()
    if event is None or event.what not in SAID:
        return "time has passed"
    row = None
    if event.kind in ("job", "day"):
        row = Job.objects.filter(pk=event.thing_id).values_list("title", "customer_name").first()
    name = name_of_job(*row) if row else ""
    after = event.after if isinstance(event.after, dict) else {}
    step, person = str(after.get("title") or "a step"), str(after.get("person") or "somebody")
    words = {"name": name, "by": str(event.by or "somebody"), "step": step[:1].lower() + step[1:], "person": person}
    return SAID[event.what].format(**words)
