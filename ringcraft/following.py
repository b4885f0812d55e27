"""Following a job: what was measured against what was planned, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from ringcraft.border import to_json
from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError
from ringcraft.metals import METALS
from ringcraft.planning.blank import Blank
from ringcraft.planning.request import RingRequest
from ringcraft.reading import read_length, read_number, tidy
from ringcraft.routes import MeasureAsk, Step
from ringcraft.sizes import SCALES, FingerSize, read_size
from ringcraft.styles import STYLES, plan_ring, read_ring
from ringcraft.styles.base import RingPlan
from ringcraft.styles.orders import set_path, taken
from ringcraft.tables import rows

KINDS: dict[str, str] = {row["key"]: row["kind"] for row in rows("measures")}
OF_STOCK = {row["key"] for row in rows("measures") if row["of"] == "stock"}
CLOSE_ENOUGH_MM = 0.16  # of circumference, a sixteenth of a US size: finer than a mandrel reads
STRETCH_STRAIN_EASY = 0.025  # about half a size on a usual band; common practice, no published source
_PLAUSIBLE = 0.35  # a measure further than this share from the plan is questioned, not refused


@dataclass(frozen=True)
class Reading:
    """A measure as read: its value [mm of length, mm of inside diameter, or g] and how it reads back."""

    key: str
    value: float
    text: str


@dataclass(frozen=True)
class Verdict:
    """What a measure means: ``tone`` is good, note or act; ``says`` one line in the craft's words."""

    key: str
    tone: str
    says: str


def read_measure(
    key: str, text: str, home: str = "us", zero_mm: float = 0.0, on: Callable[[str], FingerSize] | None = None
) -> Reading:
    """A measure as typed at the bench; raises CraftError at field ``text``.

    ``zero_mm`` is what the caliper reads closed, taken off a length; ``on`` reads a size on a gauge.
    """
    kind = KINDS.get(key.partition("@")[0])
    if kind is None:
        raise UnknownNameError("key", f"“{key}” is not measured here.", f"It can be {', '.join(KINDS)}.")
    try:
        if kind == "size":
            size = on(text) if on else read_size(text, home=home)
            return Reading(key, size.inside_diameter_mm, size.text)
        if kind == "mass":
            return _mass(key, text)
        value = read_length(text) - zero_mm
    except CraftError as problem:
        raise problem.at("text") from None
    if not 0.05 <= value <= 400:
        raise OutOfRangeError("text", f"{value:g} mm is no measure of a ring.", "Write it in mm.")
    return Reading(key, value, f"{value:.2f}")


def is_of_stock(key: str) -> bool:
    """Whether a measure is one of the stock, which holds whatever is made of it."""
    return key.partition("@")[0] in OF_STOCK


def _mass(key: str, text: str) -> Reading:
    grams = read_number(tidy(text).removesuffix("grams").removesuffix("g").strip())
    if not 0.01 <= grams <= 500:
        raise OutOfRangeError("", f"{grams:g} g is no ring.", "Write it in grams.")
    return Reading(key, grams, f"{grams:.2f}")


def as_measured(order: RingRequest, measured: Mapping[str, float]) -> RingRequest:
    """The same order with what was measured [mm] in place of the nominal, by the style's own table.

    Raises BadRequest where what was measured makes no order.
    """
    fields = taken(STYLES[order.style].takes, measured)
    if not fields:
        return order
    data = to_json(order)
    for path, value in fields.items():
        set_path(data, path, f"{value:.4f} mm ID" if path == "size" else value)
    for path in fields:
        stock = _stock_at(data, path)
        if stock is not None and stock["profile"] in ("round", "square"):
            stock["width_mm"] = None
    return read_ring(data)


def _stock_at(data: dict[str, Any], path: str) -> dict[str, Any] | None:
    """The stock that a path lies in, if it does; one not given before is the ring's own."""
    at: Any = data
    for step in path.split(".")[:-1]:
        at = at[int(step)] if isinstance(at, list) else at[step]
    if not isinstance(at, dict) or not path.endswith(("thickness_mm", "width_mm")) or "stock" not in path:
        return None
    for name, value in data["stock"].items():
        at.setdefault(name, value)
    return at


def sets_the_plan(order: RingRequest, measured: Mapping[str, float]) -> bool:
    """Whether any of the measures changes the plan."""
    return bool(taken(STYLES[order.style].takes, measured))


def replan(order: RingRequest, measured: Mapping[str, float]) -> RingPlan:
    """The plan for the stock as measured; raises CraftError or BadRequest where that stock cannot be.

    A step that asks for a measure goes on saying what was planned before that very reading, not what was read.
    """
    now = plan_ring(as_measured(order, measured))
    return replace(now, route=tuple(_as_asked(order, measured, step) for step in now.route))


def _as_asked(order: RingRequest, measured: Mapping[str, float], step: Step) -> Step:
    own = {ask.key: measured[ask.key] for ask in step.measure if ask.key in measured}
    if not own or not sets_the_plan(order, own):
        return step
    others = {key: value for key, value in measured.items() if key not in own}
    try:
        before = plan_ring(as_measured(order, others))
    except (CraftError, BadRequest):
        return step  # only together do the measures make stock that can be
    return next((one for one in before.route if one.key == step.key), step)


def verdicts(plan: RingPlan, now: RingPlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of the job, in the order of its route. ``now`` is the plan for the stock as measured."""
    asked = {ask.key: ask for step in now.route for ask in step.measure}
    return tuple(_verdict(plan, now, ask, measured[ask.key]) for ask in asked.values() if ask.key in measured)


def _verdict(plan: RingPlan, now: RingPlan, ask: MeasureAsk, value: float) -> Verdict:
    base, _, name = ask.key.partition("@")
    blank = next((one for one in now.blanks if one.name == name), now.blanks[0])
    before = next((one for one in plan.blanks if one.name == blank.name), plan.blanks[0])
    if base in ("stock-thickness", "stock-width", "thickness-worked", "outside"):
        return _stock_verdict(ask.key, _Change(plan, now, before, blank), ask.expected or 0.0, value)
    if base in ("cut-length", "length-worked"):
        return _cut_verdict(ask, now, blank, value)
    if KINDS[base] == "size":
        return _size_verdict(ask, now, value)
    return _mass_verdict(ask.key, now, value)


@dataclass(frozen=True)
class _Change:
    """The plan before a measure and after it, and the blank that it is about in both."""

    plan: RingPlan
    now: RingPlan
    before: Blank
    after: Blank


_MORE = {"thickness": ("thicker", "thinner"), "width": ("wider", "narrower"), "outside": ("larger", "smaller")}


def _stock_verdict(key: str, change: _Change, planned: float, value: float) -> Verdict:
    off = value - planned
    if abs(off) < 0.005:
        return Verdict(key, "good", "as planned")
    kind = next(name for name in _MORE if name in key)
    more = _MORE[kind][0 if off > 0 else 1]
    if abs(off) > _PLAUSIBLE * planned:
        return Verdict(key, "act", f"{abs(off):.2f} {more} than planned: is that this stock?")
    then = _follows(change)
    return Verdict(key, "note" if "not" in then else "good", f"{abs(off):.2f} {more}: {then}")


def _follows(change: _Change) -> str:
    """What follows for the lengths to mark: of the blank itself, or of those that are cut after it."""
    pairs = [
        (old, new)
        for old in change.plan.blanks
        for new in change.now.blanks
        if old.name == new.name and old.cut_text != new.cut_text
    ]
    for old, new in pairs:
        if new.name == change.after.name:
            return f"mark {new.cut_text}, not {old.cut_text}"
    if pairs:
        return "; ".join(f"{new.title}: mark {new.cut_text}, not {old.cut_text}" for old, new in pairs)
    return f"{change.after.cut_text} still holds"


def _cut_verdict(ask: MeasureAsk, now: RingPlan, blank: Blank, value: float) -> Verdict:
    wanted = ask.expected or blank.cut_length_mm
    off, main = value - wanted, blank.name == now.blanks[0].name
    if abs(off) < 0.05:
        return Verdict(ask.key, "good", f"as marked: it closes at {now.closing.text}" if main else "as marked")
    if abs(off) > _PLAUSIBLE * wanted:
        return Verdict(ask.key, "act", f"{value:.1f} against {ask.expected_text}: is that this piece?")
    scale = SCALES.get(now.target.read_as, SCALES[now.used.home_scale])
    per_mm = now.sensitivity.us_sizes_per_mm_length * SCALES["us"].step_mm
    if ask.key == "length-worked":  # it has run out already: what is sawn off now counts in full
        per_mm = 1 / math.pi
    where = scale.text(now.closing.inside_diameter_mm + off * per_mm, scale.fine_step)
    if off > 0:
        then = f"it would close at {where}; file to the line" if main else "file to the line"
        return Verdict(ask.key, "note", f"{off:.2f} long: {then}")
    return Verdict(
        ask.key, "act", f"{-off:.2f} short: it closes at {where}" if main else f"{-off:.2f} short: cut it again"
    )


def _size_verdict(ask: MeasureAsk, now: RingPlan, value: float) -> Verdict:
    wanted = ask.expected if ask.expected is not None else now.wanted_mm
    off = (value - wanted) * math.pi
    scale = SCALES.get(now.target.read_as, SCALES[now.used.home_scale])
    sizes = abs(off) / scale.circumference_per_size_mm
    told = f"{sizes:.2f} {scale.unit if sizes != 1 else scale.unit.removesuffix('s')}"
    if abs(off) <= CLOSE_ENOUGH_MM:
        return Verdict(ask.key, "good", f"on {ask.expected_text}, within a sixteenth of a US size")
    if off > 0:
        cure = "a reducing die if it stays plain, or take that out at the joint"
        return Verdict(ask.key, "act", f"{told} large, {off:.2f} round: {cure}")
    neutral = math.pi * (value + 2 * now.section.neutral_mm)
    strain = -off / neutral
    if strain > STRETCH_STRAIN_EASY:
        said = f"{told} small, {-off:.2f} round: {100 * strain:.1f} % is much; anneal before stretching"
        return Verdict(ask.key, "act", said)
    return Verdict(
        ask.key, "note", f"{told} small: stretch {-off:.2f} round; the wall thins by about {100 * strain:.1f} %"
    )


def _mass_verdict(key: str, now: RingPlan, value: float) -> Verdict:
    planned = math.fsum(blank.mass_g * blank.count for blank in now.blanks)
    off = value - planned
    if abs(off) > _PLAUSIBLE * planned:
        metal = METALS[now.metal.key].title
        return Verdict(key, "act", f"{value:.2f} g against {planned:.2f} cut: is it {metal}?")
    way = "lost to the file and the papers" if off < 0 else "heavier than it was cut: solder, or the scale"
    return Verdict(key, "good" if off < 0 else "note", f"{abs(off):.2f} g {way}")
