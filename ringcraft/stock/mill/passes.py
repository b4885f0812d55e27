"""Rolling a bar down pass by pass: settings, lengths, where to anneal. Area times length stays."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ringcraft.errors import BadRequest, CraftError, ImpossibleSectionError, UnreadableError
from ringcraft.metals import METALS, Metal
from ringcraft.planning.context import stock_words
from ringcraft.schema import read_request
from ringcraft.sections import Section, Stock, section_of
from ringcraft.stock.mill.asking import EVEN, GROOVE_LEAST, GROOVE_MOST, GROOVE_SPARE, MILL, STRIPS, MillRequest
from ringcraft.units import Length, capital, counted, format_power

MOST_PASSES = 400
_END = 1e-9
HAIR = 1e-3  # of an area: a caliper does not tell less
APART = 0.03  # length and section may differ by the caliper's doubt


@dataclass(frozen=True)
class MillPass:
    """One pass: what to set the rolls to [mm], how long the bar is after it [mm] (None where nobody knows).

    ``area_reduction_since_anneal`` [share] is after the pass; ``anneal_before`` says that it is annealed first.
    """

    n: int
    width_mm: float
    thickness_mm: float
    length_mm: float | None
    area_mm2: float
    area_reduction_since_anneal: float
    anneal_before: bool
    rolls: str
    says: str


@dataclass(frozen=True)
class Annealing:
    """How the metal is annealed between passes: range [C], the colour it shows, how it is cooled."""

    low_c: float
    high_c: float
    look: str
    cooling: str


@dataclass(frozen=True)
class MilledNow:
    """A bar half-way: its area [mm2], its length by its volume [mm], what it lost since its last anneal [share]."""

    area_mm2: float
    thickness_mm: float
    length_mm: float | None
    worked: float
    says: str


@dataclass(frozen=True)
class MillPlan:
    """A bar rolled down. Lengths [mm]; ``length_mm`` is what the bar runs out to, ``start_length_needed_mm`` what the
    wanted length takes of it; ``profile_from`` is the section that goes into profile rolls, where the last pass is
    theirs. ``step`` is the reduction of each pass as it comes out, less than what was asked where it divides so.
    """

    passes: tuple[MillPass, ...]
    anneals: int
    length_mm: float | None
    start_length_needed_mm: float | None
    start_text: str
    target_text: str
    profile_from: Stock | None
    profile_from_text: str
    mass_g: float | None
    start_mass_needed_g: float | None
    anneal: Annealing
    anneal_at: float
    start: Section
    target: Section
    now: MilledNow | None
    says: tuple[str, ...]


@dataclass(frozen=True)
class _Stage:
    """From one section to the next, evenly on all sides or in its thickness alone."""

    start: Section
    end: Section
    even: bool
    rolls: str


def mill(data: object) -> MillPlan:
    """Roll a bar down, from plain JSON data; raises BadRequest."""
    return answer_mill(read_request(MILL, data))


def answer_mill(asked: MillRequest) -> MillPlan:
    """Roll a bar down, or on from where it is; raises BadRequest naming the field."""
    whole = _answer(asked)
    if asked.now is None:
        return whole
    try:
        worked, length = _half_way(asked, whole)
    except CraftError as problem:
        raise BadRequest([problem.in_units(asked.units)]) from None
    rest = _answer(replace(asked, start=replace(asked.now, length_mm=length), worked_so_far=worked, now=None), "now")
    said = "" if length is None else f", {Length(length, asked.units):.1f mm} long by its volume"
    told = f"It is {format_power(rest.start.area_mm2, 2, asked.units, '.2f')} now{said}: "
    told += f"{counted(len(rest.passes), 'pass', 'passes')} and {counted(rest.anneals, 'anneal')} left."
    now = MilledNow(rest.start.area_mm2, rest.start.thickness_mm, length, worked, told)
    needed = (whole.start_length_needed_mm, whole.start_mass_needed_g, whole.mass_g, whole.start_text)
    return replace(
        rest,
        now=now,
        start=whole.start,
        start_length_needed_mm=needed[0],
        start_mass_needed_g=needed[1],
        mass_g=needed[2],
        start_text=needed[3],
    )


def _half_way(asked: MillRequest, whole: MillPlan) -> tuple[float, float | None]:
    """What a bar half-way has lost since its last anneal by the plan [share], and its length by its volume [mm].

    Raises CraftError where it cannot be on the way from the one to the other.
    """
    now = asked.now
    assert now is not None
    area, start = now.section("now").area_mm2, whole.start.area_mm2
    if not whole.target.area_mm2 * (1 + HAIR) < area <= start * (1 + HAIR):
        raise ImpossibleSectionError(
            "now.thickness_mm", "That is not between what it was and what it becomes.", "Measure it again."
        )
    annealed, before = start / (1 - asked.worked_so_far), start
    for one in whole.passes:
        if one.anneal_before and before > area * (1 + HAIR):
            annealed = before
        before = one.area_mm2
    length = None if asked.start.length_mm is None else asked.start.length_mm * start / area
    if now.length_mm is not None:
        if length is not None and abs(now.length_mm / length - 1) > APART:
            raise ImpossibleSectionError(
                "now.length_mm",
                "By its volume it is {by:.1f} long, by the caliper {now:.1f}.",
                "Measure its section again.",
                by=length,
                now=now.length_mm,
            )
        length = now.length_mm
    return min(0.99, max(0.0, 1 - area / annealed)), length


def _answer(asked: MillRequest, name: str = "start") -> MillPlan:
    try:
        start, target = asked.start.section(name), asked.target.section("target")
        stages = tuple(_stages(asked, start, target))
    except CraftError as problem:
        raise BadRequest([problem.in_units(asked.units)]) from None
    metal = asked.own.metal(METALS[asked.metal])
    passes = tuple(_passes(asked, stages))
    length, wanted = asked.start.length_mm, asked.target.length_mm
    runs = None if length is None else length * start.area_mm2 / target.area_mm2
    needed = length if wanted is None else wanted * target.area_mm2 / start.area_mm2
    last = stages[-1].start if stages and stages[-1].rolls == "profile rolls" else None
    anneals = sum(one.anneal_before for one in passes)
    return MillPlan(
        passes=passes,
        anneals=anneals,
        length_mm=runs,
        start_length_needed_mm=needed,
        start_text=stock_words(start, asked.units),
        target_text=stock_words(target, asked.units),
        profile_from=None if last is None else _as_stock(last),
        profile_from_text="" if last is None else stock_words(last, asked.units),
        mass_g=None if length is None else metal.mass_g(length * start.area_mm2),
        start_mass_needed_g=None if needed is None else metal.mass_g(needed * start.area_mm2),
        anneal=annealing(metal),
        anneal_at=asked.bears,
        start=start,
        target=target,
        now=None,
        says=_says(asked, target, passes, anneals, length, needed, metal.mass_g((needed or 0.0) * start.area_mm2)),
    )


def _as_stock(section: Section) -> Stock:
    width = None if section.equal_sided else section.width_mm
    return Stock(profile=section.profile, thickness_mm=section.thickness_mm, width_mm=width)


def annealing(metal: Metal) -> Annealing:
    """How a metal is annealed, by its row."""
    return Annealing(metal.anneal_low_c, metal.anneal_high_c, metal.anneal_look, metal.quenching.annealed)


def _stages(asked: MillRequest, start: Section, target: Section) -> Iterator[_Stage]:
    """The ways through the rolls; raises CraftError where there is none."""
    if target.area_mm2 >= start.area_mm2 * (1 - 1e-6):
        raise ImpossibleSectionError(
            "target.thickness_mm",
            "Rolls only make it smaller, and the bar holds no more than that.",
            "A smaller section.",
        )
    if target.profile == start.profile and (target.profile in EVEN or asked.mode == "square"):
        _check_mode(asked, start, target)
        yield _Stage(start, target, True, "drawplate" if target.profile == "round" else "square rolls")
    elif target.profile in STRIPS and start.profile in (*STRIPS, "square"):
        yield _strip(asked, start, target)
    else:
        yield from _to_profile(asked, start, target)


def _check_mode(asked: MillRequest, start: Section, target: Section) -> None:
    if asked.mode == "strip" and target.profile in EVEN:
        raise ImpossibleSectionError(
            "mode", f"{capital(target.title)} stock is rolled on both sides.", "square, or a strip as the target."
        )
    for name in ("width_mm", "thickness_mm"):
        was, wanted = getattr(start, name), getattr(target, name)
        if wanted > was + 0.005:
            raise ImpossibleSectionError(
                f"target.{name}",
                "Rolls make nothing greater: {was:g} stays {was:g} or less.",
                "A smaller one.",
                was=was,
            )


def _strip(asked: MillRequest, start: Section, target: Section) -> _Stage:
    """Thickness alone: sheet spreads little, so its width stays."""
    if asked.mode == "square":
        raise ImpossibleSectionError("mode", "A strip is rolled in its thickness alone.", "strip.")
    if abs(target.width_mm - start.width_mm) > 0.005:
        raise ImpossibleSectionError(
            "target.width_mm",
            "Flat rolls leave the width: {was:g} stays {was:g}.",
            "Roll it square to that width first, or trim it after.",
            was=start.width_mm,
        )
    return _Stage(start, target, False, "flat rolls")


def _to_profile(asked: MillRequest, start: Section, target: Section) -> Iterator[_Stage]:
    """A profile comes last, from a bar as wide as it that holds a little more metal than it."""
    if asked.mode == "square" and target.profile not in EVEN:
        raise ImpossibleSectionError("mode", "Profile rolls come last, after the bar is down.", "Leave it out.")
    if start.profile not in ("square", *STRIPS):
        raise ImpossibleSectionError(
            "start.profile",
            f"How {start.title} stock is rolled to {target.title} is not planned here.",
            "Begin with a square bar or a strip.",
        )
    wide = _groove_wide(start, target)
    thick = min(start.thickness_mm, _fills(target, wide))
    side = max(wide, thick)
    if start.profile == "square" and start.thickness_mm > side * (1 + 1e-6):
        square = section_of(Stock(profile="square", thickness_mm=side))
        yield _Stage(start, square, True, "square rolls")
        start = square
    before = start
    if thick < start.thickness_mm * (1 - 1e-6) or wide < start.width_mm * (1 - 1e-6):
        before = section_of(Stock(profile="rectangle", thickness_mm=thick, width_mm=wide))
        yield _Stage(start, before, True, "flat rolls")
    yield _Stage(before, target, False, "profile rolls")


def _groove_wide(start: Section, target: Section) -> float:
    """How wide the bar is that goes into the groove [mm]; raises CraftError where this one does not, or holds too
    little.
    """
    least, most = GROOVE_LEAST * target.width_mm, GROOVE_MOST * target.width_mm
    wide = min(start.width_mm, most) if start.profile == "square" else start.width_mm
    if wide > most + 0.005:
        raise ImpossibleSectionError(
            "start.width_mm",
            "A strip wider than its groove, {groove:g}, comes out with fins.",
            "Trim it first, to {least:.1f} to {most:g}.",
            groove=target.width_mm,
            least=least,
            most=most,
        )
    thin = start.thickness_mm < target.thickness_mm - 0.005
    if wide < least - 0.005 or thin or start.thickness_mm * wide < target.area_mm2 * (1 - 1e-6):
        wants = max(least, min(wide, most))
        raise ImpossibleSectionError(
            "start.thickness_mm" if start.profile == "square" or wide >= least - 0.005 else "start.width_mm",
            "No roll makes it wider or thicker, so it does not fill that groove, {groove:g} wide: it wants a bar "
            "{least:.1f} to {most:g} wide that holds as much metal.",
            "Begin with {w:.1f} × {t:.1f} at least.",
            groove=target.width_mm,
            least=least,
            most=most,
            w=wants,
            t=_up(_fills(target, wants)),
        )
    return wide


def _fills(target: Section, wide: float) -> float:
    """How thick a bar of this width is that fills a groove [mm]: its metal and a little more, no lower than it."""
    return max(GROOVE_SPARE * target.area_mm2 / wide, target.thickness_mm)


def _up(mm: float) -> float:
    """A least measure, never told less than it is."""
    return math.ceil(mm * 10 - 1e-9) / 10


def _passes(asked: MillRequest, stages: tuple[_Stage, ...]) -> Iterator[MillPass]:
    first, since, n = stages[0].start, 1 - asked.worked_so_far, 0
    before = first.area_mm2
    for stage in stages:
        whole = stage.end.area_mm2 / stage.start.area_mm2
        keep = 1 - asked.reduction_per_pass
        count = max(1, math.ceil(math.log(whole) / math.log(keep) - _END))
        if stage.rolls == "profile rolls":
            count = 1
        if count > MOST_PASSES:
            raise BadRequest([UnreadableError("reduction_per_pass", "That is hundreds of passes.", "Larger ones.")])
        for at in range(1, count + 1):
            share = whole if at == count else keep**at
            n, area = n + 1, stage.start.area_mm2 * share
            anneal = 1 - since * area / before > asked.bears + _END
            since = area / before if anneal else since * area / before
            before = area
            width, thick = _setting(stage, share)
            length = None if asked.start.length_mm is None else asked.start.length_mm * first.area_mm2 / area
            said = _pass_says(asked, stage, width, thick, length)
            yield MillPass(n, width, thick, length, area, 1 - since, anneal, stage.rolls, said)


def _setting(stage: _Stage, share: float) -> tuple[float, float]:
    if stage.rolls == "profile rolls":
        return stage.end.width_mm, stage.end.thickness_mm
    if stage.even:
        begin, end = stage.start, stage.end
        way = math.log(share) / math.log(end.area_mm2 / begin.area_mm2)  # each side by its own share of it
        wide, thick = end.width_mm / begin.width_mm, end.thickness_mm / begin.thickness_mm
        return begin.width_mm * wide**way, begin.thickness_mm * thick**way
    return stage.start.width_mm, stage.start.thickness_mm * share


def _pass_says(asked: MillRequest, stage: _Stage, width: float, thick: float, length: float | None) -> str:
    w, t = Length(width, asked.units), Length(thick, asked.units)
    said = f"{t:.2f}" if stage.even and stage.end.equal_sided else f"{w:.2f} × {t:.2f}"
    turned = ", turned a quarter" if stage.even and stage.rolls == "square rolls" else ""
    runs = "" if length is None else f", {Length(length, asked.units):.1f} long"
    return f"{stage.rolls} to {said}{turned}{runs}"


def _says(
    asked: MillRequest,
    target: Section,
    passes: tuple[MillPass, ...],
    anneals: int,
    length: float | None,
    needed: float | None,
    weighs: float,
) -> tuple[str, ...]:
    count = counted(len(passes), "pass", "passes")
    often = "one anneal" if anneals == 1 else f"{anneals} anneals"
    bears = f"{100 * asked.bears:.0f} % of the area"
    said = [f"{count}, {often} between them: after {bears}." if anneals else f"{count}, no anneal: it bears {bears}."]
    if asked.poured and asked.anneal_at is None:
        said.append("Poured metal hardens faster than bought, so it is annealed sooner.")
    if needed is not None and asked.target.length_mm is not None:
        wanted = Length(asked.target.length_mm, asked.units)
        said.append(f"{Length(needed, asked.units):.1f mm} of the bar, {weighs:.1f} g, run out to {wanted:.1f}.")
        if length is not None and length < needed - 0.005:
            said.append(f"The bar is {Length(needed - length, asked.units):.1f mm} short of that.")
    if passes[-1].rolls == "profile rolls":
        said.append(f"The {target.title} comes last, in its own rolls.")
    return tuple(said)
