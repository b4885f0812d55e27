"""A bar thinned in its middle, or at its ends: how long it is before, and where to stop. Area times length stays."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.errors import BadRequest, CraftError, ImpossibleSectionError, OutOfRangeError
from ringcraft.metals import METALS
from ringcraft.planning.rolling import thinned
from ringcraft.resize.case import US_MM
from ringcraft.schema import read_request
from ringcraft.stock.mill.asking import THIN, ThinRequest, bears
from ringcraft.stock.mill.passes import Annealing, annealing
from ringcraft.units import Length, format_power

NARROW_MM = 3.0  # of each end, where a bar is thinned further than it should be: what that costs is told
APART = 0.03  # width times thickness and what volume says may differ by the caliper's doubt
SAME_MM = 0.05


@dataclass(frozen=True)
class ThinnedNow:
    """A bar half-way: its middle's area [mm2] and thickness [mm] by its volume, and what is left to roll [mm].

    ``worked`` is what the middle has lost of its area so far [share], ``done`` how far along it is [share].
    """

    middle_area_mm2: float
    middle_thickness_mm: float
    middle_width_mm: float
    left_mm: float
    worked: float
    done: float
    says: str


@dataclass(frozen=True)
class ThinPlan:
    """How much of a bar to thin [mm], how long the bar is before, what it grows by, what it runs out to.

    ``wide_mm`` is what it would run out to [mm] if all but 3 mm of each end were thinned, ``wide_us_sizes`` how many
    sizes that is too long.
    """

    middle_before_mm: float
    bar_length_mm: float
    growth_mm: float
    final_length_mm: float
    ratio: float
    thick_mm: float
    thinned_thick_mm: float
    stays_mm: float
    wide_mm: float | None
    wide_us_sizes: float | None
    anneals: int
    anneal: Annealing
    anneal_at: float
    now: ThinnedNow | None
    says: tuple[str, ...]


def thin(data: object) -> ThinPlan:
    """Thin a bar in one place, from plain JSON data; raises BadRequest."""
    return answer_thin(read_request(THIN, data))


def answer_thin(asked: ThinRequest) -> ThinPlan:
    """Thin a bar in one place; raises BadRequest naming the field."""
    ratio, stays, final = asked.thinned.mm2 / asked.bar.mm2, asked.stays_mm, asked.final_length_mm
    made = thinned(asked.bar.mm2, asked.thinned.mm2, final, stays / 2)
    share = bears(asked.metal, asked.poured)
    anneals = max(0, math.ceil(math.log(ratio) / math.log(1 - share) - 1e-9) - 1)
    wide = None
    if asked.form == "thin-middle" and stays > 2 * NARROW_MM:
        wide = 2 * NARROW_MM + (made.bar_length_mm - 2 * NARROW_MM) / ratio
    try:
        now = _now(asked, made.bar_length_mm)
    except CraftError as problem:
        raise BadRequest([problem.in_units(asked.units)]) from None
    return ThinPlan(
        middle_before_mm=stays if asked.form == "thick-middle" else made.middle_before_mm,
        bar_length_mm=made.bar_length_mm,
        growth_mm=made.growth_mm,
        final_length_mm=final,
        ratio=ratio,
        thick_mm=asked.bar.thickness_mm,
        thinned_thick_mm=asked.thinned.thickness_mm,
        stays_mm=stays,
        wide_mm=wide,
        wide_us_sizes=None if wide is None else (wide - final) / US_MM,
        anneals=anneals,
        anneal=annealing(METALS[asked.metal]),
        anneal_at=share,
        now=now,
        says=tuple(_says(asked, made.bar_length_mm, made.middle_before_mm, wide, anneals)),
    )


def _now(asked: ThinRequest, bar_mm: float) -> ThinnedNow | None:
    """What the bar is half-way; raises OutOfRangeError where the caliper says what volume forbids."""
    now = asked.now
    if now is None:
        return None
    stays, final = asked.stays_mm, asked.final_length_mm
    if not bar_mm - SAME_MM <= now.length_mm <= 2 * final:
        raise OutOfRangeError(
            "now.length_mm",
            "It was {bar:.1f} and runs out to {final:.1f}: it cannot be {now:.1f}.",
            "Measure it from end to end.",
            bar=bar_mm,
            final=final,
            now=now.length_mm,
        )
    area = (bar_mm - stays) * asked.bar.mm2 / max(now.length_mm - stays, 1e-6)
    width, thick = _both(asked, area)
    _check_now(asked, width, thick)
    left = final - now.length_mm
    whole = final - bar_mm
    return ThinnedNow(
        middle_area_mm2=area,
        middle_thickness_mm=thick,
        middle_width_mm=width,
        left_mm=left,
        worked=max(0.0, 1 - area / asked.bar.mm2),
        done=min(1.0, max(0.0, 1 - left / whole)) if whole else 1.0,
        says=_now_says(asked, area, thick, left),
    )


def _check_now(asked: ThinRequest, width: float, thick: float) -> None:
    """Refuse a middle that rolls cannot have made: wider or thicker than the bar was; raises CraftError."""
    now = asked.now
    assert now is not None
    for name, here, was, other in (
        ("width_mm", width, asked.bar.width_mm, "thickness_mm"),
        ("thickness_mm", thick, asked.bar.thickness_mm, "width_mm"),
    ):
        if here <= was * (1 + APART) + SAME_MM:
            continue
        measured = getattr(now, name) is not None
        told = getattr(now, other) is not None
        what = name.removesuffix("_mm")
        raise ImpossibleSectionError(
            f"now.{name}" if measured else f"now.{other if told else 'length_mm'}",
            "{here:.2f} is more than the bar's own " + what + ", {was:.2f}: rolls make none greater."
            if measured
            else "By its length it would be {here:.2f} in " + what + ", and the bar was {was:.2f}.",
            "Measure the middle again, and its whole length.",
            here=here,
            was=was,
        )


def _both(asked: ThinRequest, area: float) -> tuple[float, float]:
    """Width and thickness of what is thinned: one by the caliper, the other by the volume."""
    now = asked.now
    assert now is not None
    if now.width_mm is not None and now.thickness_mm is not None:
        if abs(now.width_mm * now.thickness_mm / area - 1) > APART:
            said = [format_power(one, 2, asked.units, ".2f") for one in (now.width_mm * now.thickness_mm, area)]
            raise ImpossibleSectionError(
                "now.thickness_mm",
                f"Width times thickness is {said[0]}, the length says {said[1]}.",
                "Measure the middle again, and what stays at each end.",
            )
        return now.width_mm, now.thickness_mm
    if now.width_mm is not None:
        return now.width_mm, area / now.width_mm
    if now.thickness_mm is not None:
        return area / now.thickness_mm, now.thickness_mm
    return asked.thinned.width_mm, area / asked.thinned.width_mm


def _now_says(asked: ThinRequest, area: float, thick: float, left: float) -> str:
    stop = Length(asked.final_length_mm, asked.units)
    what = "The ends are" if asked.form == "thick-middle" else "The middle is"
    what += f" {format_power(area, 2, asked.units, '.2f')} now, {Length(thick, asked.units):.2f mm} thick"
    if left > SAME_MM:
        return f"{what}. {Length(left, asked.units):.1f mm} left: stop at {stop:.1f}."
    if left >= -SAME_MM:
        return f"{what}. Stop: it is as long as it should be."
    over = -left
    return (
        f"{what}. It is {Length(over, asked.units):.1f mm} past {stop:.1f}: "
        f"{over / US_MM:.2f} US sizes. Take that off its ends, half each."
    )


def _says(asked: ThinRequest, bar: float, before: float, wide: float | None, anneals: int) -> list[str]:
    def length(mm: float) -> Length:
        return Length(mm, asked.units)

    stop = f"stop at {length(asked.final_length_mm):.1f}"
    if asked.form == "thick-middle":
        ends = length((bar - asked.stays_mm) / 2)
        said = [f"Cut {length(bar):.1f}; leave {length(asked.stays_mm):.1f} in its middle, thin {ends:.1f} each end"]
    else:
        end = length(asked.stays_mm / 2)
        said = [f"Cut {length(bar):.1f}; thin {length(before):.1f} of its middle, {end:.1f} at each end stay"]
    said = [f"{said[0]}; {stop}."]
    if wide is not None and wide - asked.final_length_mm > SAME_MM:
        sizes = (wide - asked.final_length_mm) / US_MM
        said.append(
            f"Thinned to {length(NARROW_MM):g mm} from each end it would run out to {length(wide):.1f}, "
            f"{sizes:.1f} US sizes too long."
        )
    often = {0: "No anneal on the way", 1: "Anneal once on the way"}.get(
        anneals, f"Anneal {anneals} times on the way"
    )
    said.append(f"{often}.")
    return said
