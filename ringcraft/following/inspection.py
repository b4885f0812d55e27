"""Following a job: what was measured against what was planned, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ringcraft.errors import CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.following.answers import Differs
from ringcraft.following.judging import DAYLIGHT, JUDGES, PLAUSIBLE, Case, Tone
from ringcraft.measure.sizes import SCALES, FingerSize, read_size
from ringcraft.parts.adding import overrides
from ringcraft.planning.request import RingRequest
from ringcraft.reading import read_length, read_number, tidy
from ringcraft.routes.steps import MEASURES, MeasureAsk
from ringcraft.schema import to_json
from ringcraft.sections import PROFILES
from ringcraft.styles import STYLES, plan_ring, read_ring
from ringcraft.styles.base import RingPlan
from ringcraft.styles.orders import overridden
from ringcraft.units import Length
from ringcraft.work.fields import set_path

KINDS: dict[str, str] = {key: row["kind"] for key, row in MEASURES.items()}
US_MM = SCALES["us"].circumference_per_size_mm
SLIP_MM = 0.05  # of a length that was cut: less is as marked
OF_STOCK = {key for key, row in MEASURES.items() if row["of"] == "stock"}


@dataclass(frozen=True)
class Reading:
    """A measure as read: its value [mm of length, mm of inside diameter, or g].

    ``text`` is it as typed, with its unit where a bare figure was inches.
    """

    key: str
    value: float
    text: str


@dataclass(frozen=True)
class Verdict:
    """What a measure means: ``tone`` is good, note or act; ``says`` one line in the craft's words."""

    key: str
    tone: Tone
    says: str


def read_measure(
    key: str,
    text: str,
    home: str = "us",
    zero_mm: float = 0.0,
    on: Callable[[str], FingerSize] | None = None,
    bare: str = "mm",
) -> Reading:
    """A measure as typed at the bench; raises CraftError at field ``text``.

    ``zero_mm`` is what the caliper reads closed, taken off a length; ``on`` reads a size on a gauge; ``bare`` is the
    caliper's unit, in which a length is that names none.
    """
    kind = KINDS.get(key.partition("@")[0])
    if kind is None:
        raise UnknownNameError("key", f"“{key}” is not measured here.", f"It can be {', '.join(KINDS)}.")
    try:
        if kind == "size":
            size = on(text) if on else read_size(text, home=home, units=bare)
            return Reading(key, size.inside_diameter_mm, with_unit(kind, text, size.inside_diameter_mm))
        if kind == "mass":
            return _mass(key, text)
        if kind == "yes-no":
            return _yes_no(key, text)
        value = read_length(text, bare=bare) - zero_mm
    except CraftError as problem:
        raise problem.at("text").in_units(bare) from None
    if not 0.05 <= value <= 400:
        said, hint = "{read:g mm} is no measure of a ring.", "In which unit is it?"
        raise OutOfRangeError("text", said, hint, read=value).in_units(bare)
    return Reading(key, value, with_unit(kind, text, value, zero_mm))


def with_unit(kind: str, text: str, value: float, zero_mm: float = 0.0) -> str:
    """A reading's text so that it says the same wherever it is read: a bare figure that was inches gets its unit.

    ``value`` is what it was read as [mm], with what the caliper reads closed taken off.

    >>> with_unit("length", "2.4", 60.96), with_unit("length", "16 ga", 1.2908)
    ('2.4 in', '16 ga')
    """
    text = text.strip()
    if kind not in ("length", "size"):
        return text

    def off(bare: str) -> float:
        try:
            mm = read_length(text, bare=bare) - zero_mm if kind == "length" else _inside_mm(text, bare)
        except CraftError:
            return math.inf
        return abs(mm - value)

    return f"{text} in" if off("in") < off("mm") else text


def _inside_mm(text: str, bare: str) -> float:
    return read_size(text, units=bare).inside_diameter_mm


_ANSWERS = {"yes": 1.0, "y": 1.0, "some": 1.0, "no": 0.0, "n": 0.0, "none": 0.0}


def _yes_no(key: str, text: str) -> Reading:
    value = _ANSWERS.get(tidy(text))
    if value is None:
        raise UnreadableError("", "This is a yes or a no.", "Write yes or no.")
    return Reading(key, value, "yes" if value else "no")


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
    fields = overridden(_overrides(order), measured)
    if not fields:
        return order
    data = to_json(order)
    fields = {path: value for path, value in fields.items() if _is_believed(data, path, value)}
    for path, value in fields.items():
        set_path(data, path, f"{value:.4f} mm ID" if path == "size" else value)
    for path in fields:
        stock = _stock_at(data, path)
        if stock is not None and PROFILES[stock["profile"]].equal_sided:
            stock["width_mm"] = None
    return read_ring(data)


def _overrides(order: RingRequest) -> Mapping[str, str]:
    """Which measure takes the place of which field: by the style's own table, and by that of its parts."""
    return {**STYLES[order.style].overrides_from_measures, **overrides(order.parts)}


def _is_believed(data: dict[str, Any], path: str, value: float) -> bool:
    """Whether a measure is one of what was ordered: one that is far from it is asked about, not worked in."""
    at: Any = data
    for step in path.split("."):
        at = at[int(step)] if isinstance(at, list) else (at or {}).get(step)
    return not isinstance(at, (int, float)) or abs(value - at) <= PLAUSIBLE * at


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
    return bool(overridden(_overrides(order), measured))


def replan(order: RingRequest, measured: Mapping[str, float]) -> RingPlan:
    """The plan for the stock as measured; raises CraftError or BadRequest where that stock cannot be."""
    return plan_ring(as_measured(order, measured))


def verdicts(plan: RingPlan, now: RingPlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of the job, in the order of its route. ``now`` is the plan for the stock as measured."""
    asked = {ask.key: ask for step in now.route for ask in step.measure}
    return tuple(_verdict(plan, now, ask, measured) for ask in asked.values() if ask.key in measured)


def _verdict(plan: RingPlan, now: RingPlan, ask: MeasureAsk, measured: Mapping[str, float]) -> Verdict:
    base, _, name = ask.key.partition("@")
    after = next((one for one in now.blanks if one.name == name), now.blanks[0])
    before = next((one for one in plan.blanks if one.name == after.name), plan.blanks[0])
    through = DAYLIGHT.get(base, "")
    daylight = bool(measured.get(f"{through}@{name}" if name else through, 0.0))
    case = Case(ask, measured[ask.key], plan, now, before, after, daylight, _slips(now, ask, measured))
    tone, says = JUDGES[MEASURES[base]["judge"]](case)
    return Verdict(ask.key, tone, says)


def _slips(now: RingPlan, ask: MeasureAsk, measured: Mapping[str, float]) -> tuple[Differs, ...]:
    """What was read before that differs from the plan for it: the length of the band that sets the size.

    What a length cut short makes of the round is told once by its own verdict, and again at every size after it.
    """
    if "@" in ask.key and not now.sets_size(ask.key.partition("@")[2]):
        return ()
    asked = {one.key: one for step in now.route for one in step.measure}
    for key in ("length-worked", "cut-length"):
        for name in (key, f"{key}@{now.blanks[0].name}"):
            wanted = asked[name].expected if name in asked else None
            if name not in measured or wanted is None:
                continue
            off = measured[name] - wanted
            if off > -SLIP_MM or abs(off) > PLAUSIBLE * wanted:
                return ()  # what is long is filed to its line
            much, how = f"{Length(abs(off), now.used.units):.2f}", "short"
            round_mm = off * now.sensitivity.us_sizes_per_mm_length * US_MM
            return (Differs(round_mm, f"it was cut {much} {how}"),)
    return ()
