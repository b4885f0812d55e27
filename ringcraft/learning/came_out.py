"""How one ring came out: what it is, planned against measured at each stage, and whether it counts for learning.

What is told of it are plain figures, so that a shop keeps them beside the job and no plan is loaded to draw its
logbook.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ringcraft.following.judging import PLAUSIBLE
from ringcraft.measure.sizes import SCALES
from ringcraft.planning.own import GROUPS, group_of
from ringcraft.routes.steps import MeasureAsk
from ringcraft.styles.base import RingPlan
from ringcraft.work.joining import NO_LOOKS, JointLook, joints_at
from ringcraft.work.plan import WorkPlan

#: From which thickness on [mm] a ring belongs to which class; our own judgement.
CLASSES = ((0.0, "under 1.2"), (1.2, "1.2 to 1.8"), (1.8, "1.8 to 2.5"), (2.5, "2.5 and more"))
RIGHT_MM = 0.32  # round: an eighth of a US size, about what a mandrel tells; nearer, it came out right
LENGTHS = ("length-worked", "cut-length")
THICKNESSES = ("thickness-worked", "stock-thickness")
SIZES = ("size-rounded", "size-soldered", "size-finished")
#: Styles whose rings never teach the neutral line, and why.
NEVER = {"adjustable": "it is let out to its size, not closed at it"}


@dataclass(frozen=True)
class ReadAt:
    """A reading that holds: what was read [mm inside, mm or g], and which step came next when it was."""

    value: float
    next_key: str = ""


@dataclass(frozen=True)
class StageRead:
    """One stage of a ring: planned against measured [mm or g]; None for what was not read."""

    key: str
    title: str
    planned: float
    read: float


@dataclass(frozen=True)
class RingOut:
    """What a shop's record keeps of a ring.

    ``off_mm`` is how far its last size is off what was planned there [mm round], ``cut_off_mm`` the same of its cut.
    ``z_mm`` is what the neutral line alone would have missed, ``residual_mm`` that without the correction in force;
    both None where it does not count: ``why_not`` says why. ``odd`` names what was read and cannot be: it is asked
    about, not learnt from. ``passes_known``: somebody looked at the joint.
    """

    style: str
    profile: str
    family: str
    metal: str
    group: str
    thickness_class: str
    thickness_mm: float
    width_mm: float
    wanted_mm: float
    cut_planned_mm: float | None
    cut_read_mm: float | None
    cut_off_mm: float | None
    size_planned_mm: float | None
    size_read_mm: float | None
    off_mm: float | None
    z_mm: float | None
    residual_mm: float | None
    in_force_mm: float
    passes_known: bool
    why_not: str
    odd: str
    stages: tuple[StageRead, ...]

    @property
    def verdict(self) -> str:
        """How it came out, in a word: large, small or right; empty where no size was read."""
        if self.off_mm is None:
            return ""
        return "right" if abs(self.off_mm) < RIGHT_MM else "large" if self.off_mm > 0 else "small"


def came_out(
    plan: WorkPlan,
    now: WorkPlan,
    read: Mapping[str, ReadAt],
    looks: Mapping[str, JointLook] = NO_LOOKS,
) -> RingOut:
    """What is kept of a ring: ``plan`` as it was kept, ``now`` for what was measured, the readings that hold."""
    asks = {ask.key: ask for step in now.route for ask in step.measure}
    first = plan.main_blank
    section = now.section
    cut = _of(LENGTHS[1], plan, asks, read)
    size = _last_size(asks, read)
    z, why, odd = _counts(now, asks, read)
    in_force = in_force_mm(now)
    known = passes_seen(plan, looks) is not None
    cut_planned = (cut[0].expected if cut else None) or (first.cut_length_mm if first else None)
    return RingOut(
        style=now.style if isinstance(now, RingPlan) else "resize",
        profile=section.profile,
        family=now.metal.family,
        metal=now.metal.key,
        group=group_of(section.profile, now.metal.family),
        thickness_class=class_of(section.thickness_mm),
        thickness_mm=section.thickness_mm,
        width_mm=section.width_mm,
        wanted_mm=now.wanted_mm,
        cut_planned_mm=cut_planned,
        cut_read_mm=cut[1] if cut else None,
        cut_off_mm=cut[1] - cut[0].expected if cut and cut[0].expected and _plausible(*cut) else None,
        size_planned_mm=size[0].expected if size else None,
        size_read_mm=size[1] if size else None,
        off_mm=math.pi * (size[1] - size[0].expected) if size and size[0].expected else None,
        z_mm=z,
        residual_mm=None if z is None else z - in_force,
        in_force_mm=in_force,
        passes_known=known,
        why_not=why,
        odd=odd,
        stages=_stages(asks, read),
    )


def passes_seen(plan: WorkPlan, looks: Mapping[str, JointLook]) -> int | None:
    """The passes that were really made at the joint of the piece that sets the size; None where nobody looked."""
    names = plan.order_names(plan.main_blank.name) if plan.main_blank else ("",)
    seen = [looks[at.step.key].passes for at in joints_at(plan) if at.step.key in looks and at.piece in names]
    return next((passes for passes in reversed(seen) if passes is not None), None)


def class_of(thickness_mm: float) -> str:
    """The class of a thickness [mm]."""
    return next(title for least, title in reversed(CLASSES) if thickness_mm >= least)


def title_of_group(group: str) -> str:
    """How a group of rings is called: half-round silver."""
    return GROUPS.get(group, group.replace("/", " "))


def in_force_mm(plan: WorkPlan) -> float:
    """The own correction that a ring was planned with [mm round], more than nothing where rings close large."""
    if not isinstance(plan, RingPlan):
        return 0.0
    if plan.closing.neutral_mm is None:  # kept before it was worked out: only a typed figure was there then
        return plan.by_rule["centroid"] - plan.by_rule["own"] if "own" in plan.by_rule else 0.0
    return math.pi * (plan.closing.inside_diameter_mm - plan.closing.neutral_mm)


def _keys(base: str, plan: WorkPlan) -> tuple[str, ...]:
    """A measure of the piece that sets the size: plain, or by the piece's name."""
    return (base, f"{base}@{plan.main_blank.name}") if plan.main_blank else (base,)


def _of(
    base: str, plan: WorkPlan, asks: Mapping[str, MeasureAsk], read: Mapping[str, ReadAt]
) -> tuple[MeasureAsk, float] | None:
    return next(((asks[key], read[key].value) for key in _keys(base, plan) if key in asks and key in read), None)


def _plausible(ask: MeasureAsk, value: float) -> bool:
    return ask.expected is None or abs(value - ask.expected) <= PLAUSIBLE * ask.expected


def _last_size(asks: Mapping[str, MeasureAsk], read: Mapping[str, ReadAt]) -> tuple[MeasureAsk, float] | None:
    """The last size that was read on its way, of the ring itself."""
    order = [key for key in asks if key.partition("@")[0] in (*SIZES, "size-side-a", "size-side-b") and key in read]
    return (asks[order[-1]], read[order[-1]].value) if order else None


def _counts(
    now: WorkPlan, asks: Mapping[str, MeasureAsk], read: Mapping[str, ReadAt]
) -> tuple[float | None, str, str]:
    """What the neutral line alone would have missed [mm round], or why it does not count, and what cannot be."""
    if not isinstance(now, RingPlan):
        return None, "a ring that was resized: it is no blank of ours", ""
    never = _never(now)
    if never:
        return None, never, ""
    size, thick = _of("size-rounded", now, asks, read), _thickness(now, asks, read)
    length = next((one for base in LENGTHS if (one := _of(base, now, asks, read))), None)
    odd = _odd(thick, length, size)
    if odd:
        return None, f"{odd} cannot be: it is asked about", odd
    if size is None or size[0].expected is None:
        return None, "no size was read on the round ring", ""
    if not _before_sized(now, read[size[0].key].next_key):
        return None, "its size was read after it was brought to size", ""
    if any(read[key].value for key in _keys("daylight", now) if key in read):
        return None, "it was read with daylight under it", ""
    if thick is None:
        return None, "its thickness was not read", ""
    if length is None or length[0].expected is None:
        return None, "its length was not read", ""
    if now.style == "tapered" and not length[0].key.startswith("length-worked"):
        return None, "its length was not read once it was thinned", ""
    off = (length[1] - length[0].expected) * _round_per_mm(now, length[0].key)
    return math.pi * (size[1] - size[0].expected) - off + in_force_mm(now), "", ""


def _never(now: RingPlan) -> str:
    if now.style in NEVER:
        return NEVER[now.style]
    if any(joint.key == "ends" for joint in now.joints):
        return "it is measured with its top on"
    if now.start and "finished" in now.start:
        return "it goes beside a finished ring"
    return ""


def _thickness(
    now: RingPlan, asks: Mapping[str, MeasureAsk], read: Mapping[str, ReadAt]
) -> tuple[MeasureAsk, float] | None:
    """The thickness that the length follows from: as worked where it is worked first."""
    worked = [key for key in _keys(THICKNESSES[0], now) if key in asks]
    return _of(THICKNESSES[0] if worked else THICKNESSES[1], now, asks, read)


def _odd(*pairs: tuple[MeasureAsk, float] | None) -> str:
    """What was read and cannot be."""
    return next((ask.title for one in pairs if one for ask, value in [one] if not _plausible(ask, value)), "")


def _before_sized(now: RingPlan, next_key: str) -> bool:
    """Whether a reading was taken before the ring was brought to its size: by the step that came next then."""
    places = {step.key: at for at, step in enumerate(now.route)}
    sized = next((at for at, step in enumerate(now.route) for deed in step.does if deed.op == "size"), None)
    return sized is None or (next_key in places and places[next_key] <= sized)


def _round_per_mm(now: RingPlan, key: str) -> float:
    """Inside circumference [mm] for a mm of a length that was read: of one that was worked it counts in full."""
    if key.startswith("length-worked") and now.style == "tapered":
        return 1.0
    return now.sensitivity.us_sizes_per_mm_length * SCALES["us"].circumference_per_size_mm


def _stages(asks: Mapping[str, MeasureAsk], read: Mapping[str, ReadAt]) -> tuple[StageRead, ...]:
    return tuple(
        StageRead(key, ask.title, ask.expected, read[key].value)
        for key, ask in asks.items()
        if key in read and ask.expected is not None
    )
