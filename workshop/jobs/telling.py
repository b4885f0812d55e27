"""A line of a job's history, as one says it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from ringcraft.learning.causes import TITLES
from ringcraft.learning.places import PLACES as AT
from ringcraft.learning.places import READINGS, STATES
from ringcraft.work.kept import KeptPlanError
from ringcraft.work.plan import WorkPlan
from ringcraft.work.telling import changed_words
from ringcraft.works import WORKS
from workshop.core.models import Event
from workshop.jobs.models import PLACES, Job
from workshop.jobs.plans import kept_plan

SOON = timedelta(minutes=1)
PLAIN = {
    "created": "put on the bench",
    "closed": "taken off the bench",
    "looked-again": "looked at again",
    "reopened": "put back on the bench",
    "planned-anew": "planned anew by today’s rules",
    "solder-decided": "decided whether its solder is taken from the drawer",
}
DETAILS = {"title": "name of the job", "customer_name": "customer", "note": "note", "ticket": "ticket"}


@dataclass(frozen=True)
class Promised:
    """When it was promised for, and when it is."""

    before: datetime | None
    after: datetime | None


@dataclass(frozen=True)
class Told:
    """What happened. ``done_at`` is when it was really done, if that was another time, ``until`` a day, ``due`` what
    was promised. The screen tells these by its own clock.
    """

    says: str
    done_at: datetime | None = None
    until: date | None = None
    due: Promised | None = None


class History:
    """Tells the lines of one job's history, in a shop of these units, its estimates to who may see them."""

    def __init__(self, job: Job, units: str, *, estimates: bool) -> None:
        self.job, self.units, self.estimates = job, units, estimates
        try:
            self.plan: WorkPlan | None = kept_plan(job)
        except KeptPlanError:
            self.plan = None

    def estimate(self, after: Mapping[str, Any]) -> str:
        """An estimate that was given, with its sum where that may be seen."""
        total = f": {_text(after.get('total'))}" if self.estimates else ""
        return f"an estimate in {_text(after.get('metal'))}{total}"

    def told(self, event: Event) -> Told:
        """One line; what is not known here is told by its own name."""
        before, after = _row(event.before), _row(event.after)
        if event.what == "changed":
            return self._changed(before, after)
        if event.what == "closed" and after.get("without"):
            return Told(f"off the bench without being read: {_text(after['without'])}")
        if event.what == "looked-again" and after.get("found"):
            return Told(f"looked at again: {_text(after['found'])}")
        if event.what == "placed":
            title = PLACES[str(after["place"])].title if after.get("place") in PLACES else "on the bench"
            note = f", {_text(after['note'])}" if after.get("note") else ""
            return Told(f"{title}{note}", until=_day(after.get("until")))
        tell = TELL.get(event.what)
        says = tell(self, before, after) if tell else PLAIN.get(event.what, event.what)
        done = _time(after.get("at")) if event.what in ("ticked", "unticked", "measured") else None
        return Told(says, done if done and abs(done - event.at) > SOON else None)

    def step(self, after: Mapping[str, Any]) -> str:
        """A step as it was called when it was done; in an older line without its figure, which may be another now."""
        if after.get("title"):
            return _text(after["title"])
        found = next((step for step in self.plan.route if step.key == after.get("step")), None) if self.plan else None
        return found.title.replace(found.figure, "").strip() if found else _text(after.get("step"))

    def measure(self, after: Mapping[str, Any]) -> str:
        """How a measure is called."""
        key = after.get("measure")
        asked = (ask for step in self.plan.route for ask in step.measure) if self.plan else iter(())
        return next((ask.title for ask in asked if ask.key == key), _text(key))

    def joint(self, before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
        """What was seen of a joint, or chosen for it."""
        at = self.step(after)
        if after.get("solder") and after["solder"] != before.get("solder"):
            return f"{at}: with {_text(after.get('with'))}"
        return f"seen: {at}" if "passes_made" in after or "views" in after else f"{at}: as planned again"

    def _changed(self, before: Mapping[str, Any], after: Mapping[str, Any]) -> Told:
        said = [
            f"{label}: {_text(before.get(name))} → {_text(after[name])}"
            for name, label in DETAILS.items()
            if name in after
        ]
        if "order" in after and self.job.work in WORKS:
            words = WORKS[self.job.work].words(_row(after["order"]))
            said += changed_words(before.get("order"), after["order"], words, self.units)
        due = Promised(_time(before.get("due")), _time(after.get("due"))) if "due" in after else None
        return Told("; ".join(said) or ("" if due else "saved again"), due=due)


def _row(data: object) -> Mapping[str, Any]:
    return data if isinstance(data, dict) else {}


def _text(value: object) -> str:
    return "nothing" if value is None or value == "" else str(value)


def _time(value: object) -> datetime | None:
    try:
        when = datetime.fromisoformat(str(value))
    except ValueError:
        return None
    return when if when.tzinfo else None


def _day(value: object) -> date | None:
    try:
        return date.fromisoformat(str(value))
    except ValueError:
        return None


def _there(after: Mapping[str, Any]) -> str:
    """What was read at a place, where, and in which state."""
    what = READINGS[after["measure"]].title if after.get("measure") in READINGS else _text(after.get("measure"))
    told = (what, AT.get(str(after.get("place")), ""), STATES.get(str(after.get("state")), ""))
    return ", ".join(part for part in told if part)


def _reason(after: Mapping[str, Any]) -> str:
    return f" ({after['note']})" if after.get("note") else ""


def _causes(keys: Any) -> str:
    named = [TITLES.get(key, str(key)) for key in keys] if isinstance(keys, list) else []
    return " and ".join(named) or "nothing after all"


Tell = Callable[[History, Mapping[str, Any], Mapping[str, Any]], str]
TELL: dict[str, Tell] = {
    "ticked": lambda of, before, after: f"done: {of.step(after)}",
    "unticked": lambda of, before, after: f"not done after all: {of.step(after)}",
    "measured": lambda of, before, after: f"{of.measure(after)}: {_text(after.get('text'))}",
    "measure-removed": lambda of, before, after: f"{of.measure(after)}: does not hold any more",
    "joint-seen": lambda of, before, after: of.joint(before, after),
    "read-at": lambda of, before, after: f"{_there(after)}: {_text(after.get('text'))}{_reason(after)}",
    "reading-removed": lambda of, before, after: f"{_there(after)}: does not hold any more",
    "found": lambda of, before, after: f"found: {_causes(after.get('keys'))}{_reason(after)}",
    "photographed": lambda of, before, after: f"a photograph, {_text(after.get('side'))}",
    "photograph-removed": lambda of, before, after: f"a photograph taken away, {_text(after.get('side'))}",
    "estimated": lambda of, before, after: of.estimate(after),
    "once-more": lambda of, before, after: f"once more: {of.step(after)}; {_text(after.get('heats'))} heats so far",
}
