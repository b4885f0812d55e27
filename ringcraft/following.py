"""Following a job: what was measured against what was planned, and what to do about it."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from ringcraft.errors import CraftError, OutOfRangeError, UnknownNameError
from ringcraft.metals import METALS
from ringcraft.planning.request import RingRequest
from ringcraft.reading import read_length, read_number, tidy
from ringcraft.sizes import SCALES, FingerSize, read_size
from ringcraft.styles import plan_ring
from ringcraft.styles.base import RingPlan
from ringcraft.tables import rows

KINDS: dict[str, str] = {row["key"]: row["kind"] for row in rows("measures")}
TITLES: dict[str, str] = {row["key"]: row["title"] for row in rows("measures")}
SIZE_KEYS = tuple(key for key, kind in KINDS.items() if kind == "size")
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
    kind = KINDS.get(key)
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


def _mass(key: str, text: str) -> Reading:
    grams = read_number(tidy(text).removesuffix("grams").removesuffix("g").strip())
    if not 0.01 <= grams <= 500:
        raise OutOfRangeError("", f"{grams:g} g is no ring.", "Write it in grams.")
    return Reading(key, grams, f"{grams:.2f}")


def as_measured(order: RingRequest, measured: Mapping[str, float]) -> RingRequest:
    """The same order with the stock as it was measured [mm] in place of the nominal."""
    stock = order.stock
    if "stock-thickness" in measured:
        stock = replace(stock, thickness_mm=measured["stock-thickness"])
        if stock.profile in ("round", "square"):
            stock = replace(stock, width_mm=None)
    if "stock-width" in measured and stock.profile not in ("round", "square"):
        stock = replace(stock, width_mm=measured["stock-width"])
    return replace(order, stock=stock)


def replan(order: RingRequest, measured: Mapping[str, float]) -> RingPlan:
    """The plan for the stock as measured; raises CraftError where that stock cannot be."""
    return plan_ring(as_measured(order, measured))


def verdicts(plan: RingPlan, now: RingPlan, measured: Mapping[str, float]) -> tuple[Verdict, ...]:
    """What each measure says of the job. ``now`` is the plan for the stock as measured."""
    out: list[Verdict] = []
    for key in KINDS:
        if key in measured:
            made = _verdict(key, plan, now, measured[key])
            if made:
                out.append(made)
    return tuple(out)


def _verdict(key: str, plan: RingPlan, now: RingPlan, value: float) -> Verdict | None:
    if key in ("stock-thickness", "stock-width"):
        return _stock_verdict(key, plan, now, value)
    if key == "cut-length":
        return _cut_verdict(now, value)
    if KINDS[key] == "size":
        return _size_verdict(key, now, value)
    return _mass_verdict(key, now, value)


def _stock_verdict(key: str, plan: RingPlan, now: RingPlan, value: float) -> Verdict:
    thick = key == "stock-thickness"
    planned = plan.section.thickness_mm if thick else plan.section.width_mm
    off = value - planned
    if abs(off) < 0.005:
        return Verdict(key, "good", "as planned")
    more = ("thicker" if off > 0 else "thinner") if thick else ("wider" if off > 0 else "narrower")
    if abs(off) > _PLAUSIBLE * planned:
        return Verdict(key, "act", f"{abs(off):.2f} {more} than planned: is that this stock?")
    before, after = plan.blanks[0].cut_text, now.blanks[0].cut_text
    then = f"mark {after}, not {before}" if before != after else f"{after} still holds"
    return Verdict(key, "note" if before != after else "good", f"{abs(off):.2f} {more}: {then}")


def _cut_verdict(now: RingPlan, value: float) -> Verdict:
    blank = now.blanks[0]
    off = value - blank.cut_length_mm
    if abs(off) < 0.05:
        return Verdict("cut-length", "good", f"as marked: it closes at {now.closing.text}")
    scale = SCALES.get(now.target.read_as, SCALES[now.used.home_scale])
    closes = now.closing.inside_diameter_mm + off / math.pi
    where = scale.text(closes, scale.fine_step)
    if abs(off) > _PLAUSIBLE * blank.cut_length_mm:
        return Verdict("cut-length", "act", f"{value:.1f} against {blank.cut_text}: is that this piece?")
    if off > 0:
        return Verdict("cut-length", "note", f"{off:.2f} long: it would close at {where}; file to the line")
    return Verdict("cut-length", "act", f"{-off:.2f} short: it closes at {where}")


def _size_verdict(key: str, now: RingPlan, value: float) -> Verdict:
    off = (value - now.wanted_mm) * math.pi
    scale = SCALES.get(now.target.read_as, SCALES[now.used.home_scale])
    sizes = abs(off) / scale.circumference_per_size_mm
    told = f"{sizes:.2f} {scale.unit if sizes != 1 else scale.unit.removesuffix('s')}"
    if abs(off) <= CLOSE_ENOUGH_MM:
        return Verdict(key, "good", f"on {now.wanted_text}, within a sixteenth of a US size")
    if off > 0:
        cure = "a reducing die if it stays plain, or take that out at the joint"
        return Verdict(key, "act", f"{told} large, {off:.2f} round: {cure}")
    neutral = math.pi * (value + 2 * now.section.neutral_mm)
    strain = -off / neutral
    if strain > STRETCH_STRAIN_EASY:
        return Verdict(
            key,
            "act",
            f"{told} small, {-off:.2f} round: {100 * strain:.1f} % is much; anneal before stretching",
        )
    return Verdict(
        key, "note", f"{told} small: stretch {-off:.2f} round; the wall thins by about {100 * strain:.1f} %"
    )


def _mass_verdict(key: str, now: RingPlan, value: float) -> Verdict:
    planned = now.blanks[0].mass_g
    off = value - planned
    if abs(off) > _PLAUSIBLE * planned:
        metal = METALS[now.metal.key].title
        return Verdict(key, "act", f"{value:.2f} g against {planned:.2f} cut: is it {metal}?")
    way = "lost to the file and the papers" if off < 0 else "heavier than it was cut: solder, or the scale"
    return Verdict(key, "good" if off < 0 else "note", f"{abs(off):.2f} g {way}")
