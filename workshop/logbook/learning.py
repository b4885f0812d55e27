"""What a workshop's rings have taught, and the corrections that follow where the shop says yes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.learning.answer import Learnt, LearntGroup, answer_learn, gross_misses
from ringcraft.learning.asking import LearnRequest, RingMiss
from ringcraft.learning.came_out import title_of_group
from ringcraft.learning.hands import LEAST_CUTS, Hand, hand_of
from ringcraft.planning.own import GROUPS, OwnCorrection
from ringcraft.units import Length
from workshop.core.history import Actor
from workshop.logbook.models import RingRecord
from workshop.people.keeping import set_some
from workshop.people.models import User, Workshop
from workshop.people.preferences import overrides_of, preferences_of, shop_preferences

OTHERS = "the others"
MOST_CUTS_DRAWN = 200
MOST_RINGS = 4000  # the newest that count: what a shop did before is another hand
SAME_MM = 0.005
LEAST_FOR_SCATTER, SCATTER_MATTERS = 20, 0.15  # rings, and the share of what is in force; our own judgement
#: By what the rings are looked at, as one says it.
VIEWS = {
    "group": "profile and metal",
    "thickness": "thickness",
    "style": "style",
    "person": "person",
    "gauge": "gauge",
}
#: What of a record a look goes by, where it is called otherwise.
COLUMN_OF = {"thickness": "thickness_class", "person": "person_name"}
_COLUMNS = (
    "job_id", "number", "at", "group", "thickness_class", "style", "person_name", "gauge", "calibrated", "z_mm",
    "residual_mm",
)  # fmt: skip


@dataclass(frozen=True)
class Dot:
    """A ring that counts, as the picture shows it: what it missed [mm round], whether it was set aside as gross."""

    job_id: int
    number: int
    at: datetime
    label: str
    z_mm: float
    residual_mm: float
    aside: bool


@dataclass(frozen=True)
class CutDot:
    """A cut of one's own: when, and how far it was off [mm]."""

    at: datetime
    z_mm: float


@dataclass(frozen=True)
class ScatterFound:
    """How far rings scatter here [mm round], beside the truing that is in force; whether it is offered."""

    sd_mm: float
    in_force_mm: float
    suggest: bool
    says: str


@dataclass(frozen=True)
class WhatIsLearnt:
    """What the rings teach by one look, the dots it comes from, and how many count in all.

    Which misses are gross, what drifts and how far rings scatter is the same whatever the look: ``whole`` is that by
    profile and metal, ``learnt`` this look's own.
    """

    learnt: Learnt
    whole: Learnt
    dots: tuple[Dot, ...]
    count: int
    in_force: dict[str, OwnCorrection]


def corrections_of(workshop: Workshop) -> dict[str, OwnCorrection]:
    """The corrections that a workshop has in force, by their groups."""
    return {one.group: one for one in shop_preferences(workshop).corrections}


def what_is_learnt(workshop: Workshop, view: str, units: str, alone: str | None = None) -> WhatIsLearnt:
    """What the newest rings of a workshop teach; raises BadRequest at ``by``.

    ``alone``: by person, only this one is named, and the others are one hand.
    """
    if view not in VIEWS:
        raise BadRequest([UnknownNameError("by", "Rings are not looked at by that.", f"By {', '.join(VIEWS)}.")])
    rows, count = _newest(workshop)
    in_force = corrections_of(workshop)
    forces = {title_of_group(group): one.round_mm for group, one in in_force.items()}
    whole = answer_learn(LearnRequest(misses=_misses(rows, "group"), in_force=forces, units=units))
    misses = _misses(rows, view)
    if view == "person" and alone is not None:
        misses = tuple(one if one.group == alone else replace(one, group=OTHERS) for one in misses)
    aside = set(whole.outliers)
    learnt = whole if view == "group" else answer_learn(LearnRequest(misses=misses, units=units), aside)
    dots = tuple(
        Dot(row["job_id"], row["number"], row["at"], one.group, row["z_mm"], row["residual_mm"], at in aside)
        for at, (row, one) in enumerate(zip(rows, misses, strict=True))
    )
    return WhatIsLearnt(learnt, whole, dots, count, in_force)


def _newest(workshop: Workshop) -> tuple[list[dict[str, Any]], int]:
    """The newest rings that count, in time, and how many count in all."""
    counted = RingRecord.objects.filter(workshop=workshop, counts=True)
    rows = list(counted.order_by("-at", "-number").values(*_COLUMNS)[:MOST_RINGS])[::-1]
    return rows, len(rows) if len(rows) < MOST_RINGS else counted.count()


def _misses(rows: Sequence[dict[str, Any]], view: str) -> tuple[RingMiss, ...]:
    return tuple(
        RingMiss(
            group=_label(row, view),
            mm=row["z_mm"],
            at=row["at"].date().isoformat(),
            gauge=row["gauge"],
            calibrated=row["calibrated"],
            person=row["person_name"],
        )
        for row in rows
    )


def is_aside(workshop: Workshop, job_id: int) -> bool:
    """Whether a ring that counts is set aside among the newest: too far off to be scatter."""
    rows, _ = _newest(workshop)
    return any(rows[at]["job_id"] == job_id for at in gross_misses(_misses(rows, "group")))


def _label(row: dict[str, Any], view: str) -> str:
    said = row[COLUMN_OF.get(view, view)]
    return title_of_group(said) if view == "group" else str(said) or "not said"


@transaction.atomic
def take_offer(
    actor: Actor, workshop: Workshop, group: str, seen_mm: float, version: int | None, today: date, units: str
) -> LearntGroup:
    """Put what a group has taught in force as the shop's own correction, changed or taken back by the same test.

    ``seen_mm`` is the figure that was offered: where another ring has moved it since, nothing is done. Raises
    BadRequest at its field, or Stale where the ways were set meanwhile.
    """
    if group not in GROUPS:
        raise BadRequest([UnknownNameError("group", "Those rings are not known here.", "Such as half-round/silver.")])
    found = what_is_learnt(workshop, "group", units)
    one = next((one for one in found.whole.groups if one.group == title_of_group(group)), None)
    if one is None or not one.suggest or not abs(one.mean_mm - seen_mm) <= SAME_MM:
        raise BadRequest([CraftError("group", "The record says another thing by now.", "Look at it again.")])
    own = [row for row in overrides_of(workshop.preferences).corrections or () if row.group != group]
    if one.offer_mm:
        own.append(
            OwnCorrection(
                group=group,
                round_mm=one.offer_mm,
                since=today.isoformat(),
                rings=one.n,
                low_mm=round(one.low_mm, 3),
                high_mm=round(one.high_mm, 3),
            )
        )
    set_some(actor, workshop, version, {"corrections": tuple(own) or None})
    return one


def cuts_of(workshop: Workshop, user: User) -> list[CutDot]:
    """A person's own newest cuts, in time: when, and how far off each was [mm]."""
    mine = RingRecord.objects.filter(workshop=workshop, person=user, cut_off_mm__isnull=False)
    rows = mine.order_by("-at", "-number").values_list("at", "cut_off_mm")[:MOST_RINGS]
    return [CutDot(at, off) for at, off in rows if off is not None][::-1]


def hand_in_cutting(cuts: Sequence[CutDot], in_force_mm: float) -> Hand:
    """How far a person's own cuts scatter, beside what is in force for them."""
    return hand_of([cut.z_mm for cut in cuts], in_force_mm)


@transaction.atomic
def take_spread(
    actor: Actor, workshop: Workshop, user: User, kind: str, seen_mm: float, version: int | None, units: str
) -> None:
    """Put a scatter that was learnt in force: of truing for the shop, of cutting for the person alone.

    Raises BadRequest where the record says another thing by now, or Stale.
    """
    if kind == "truing":
        found = what_is_learnt(workshop, "group", units).whole.scatter_mm
        owner: User | Workshop = workshop
    elif kind == "cutting":
        now = preferences_of(user, workshop).cutting_spread_mm
        found, owner = hand_in_cutting(cuts_of(workshop, user), now).sd_mm, user
    else:
        raise BadRequest(
            [UnknownNameError("kind", "That scatter is not learnt here.", "It can be truing or cutting.")]
        )
    if not abs(found - seen_mm) <= SAME_MM:
        raise BadRequest([CraftError("kind", "The record says another thing by now.", "Look at it again.")])
    set_some(actor, owner, version, {f"{kind}_spread_mm": round(found, 3)})


def scatter_found(found: WhatIsLearnt, in_force_mm: float, units: str) -> ScatterFound:
    """How far rings scatter here, beside the truing that is in force, and whether that is offered."""
    n = sum(one.n for one in found.whole.groups)
    sd = found.whole.scatter_mm
    suggest = n >= LEAST_FOR_SCATTER and abs(sd - in_force_mm) > SCATTER_MATTERS * in_force_mm
    told, now = f"{Length(sd, units):.2f}", f"{Length(in_force_mm, units):.2f}"
    says = f"A ring scatters by {told} round here ({n} rings); {now} of truing is in force."
    return ScatterFound(sd, in_force_mm, suggest, says if n >= LEAST_FOR_SCATTER else "")


def hand_words(hand: Hand, units: str) -> str:
    """What a person's own cuts say; empty where there are too few."""
    if hand.n < LEAST_CUTS:
        return ""
    told, now = f"{Length(hand.sd_mm, units):.2f}", f"{Length(hand.in_force_mm, units):.2f}"
    return f"Your cuts scatter by {told} ({hand.n} of them); {now} is in force for you."
