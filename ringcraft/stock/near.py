"""Not in the drawer: which near stock would do, what changes, or from what bar or melt it can be made."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ringcraft.errors import BadRequest, CraftError
from ringcraft.metals import METALS, Metal
from ringcraft.resize.case import US_MM
from ringcraft.resize.serving import held_against
from ringcraft.sections import Section
from ringcraft.stock.drawer import SAME_MM, same_section
from ringcraft.stock.melt.melting import needed_g
from ringcraft.stock.mill.asking import Bar, MillRequest
from ringcraft.stock.mill.passes import answer_mill
from ringcraft.units import Length, counted

FILED_MM = 0.6  # of thickness or width: more is rolled or another stock; our own judgement
FACES_MM = 0.1  # squaring of a face; common practice
SHORTEST_MM = 8.0  # of either of two pieces that are soldered to one; our own judgement
MOST_WAYS = 8


@dataclass(frozen=True)
class AtHandStock:
    """A piece at hand: its id and how it is called, its section, its length [mm]."""

    id: int
    name: str
    section: Section
    length_mm: float
    poured: bool = False


@dataclass(frozen=True)
class NearWay:
    """How a blank comes from other stock: which pieces, how much of it [mm] (nought for a melt), what changes."""

    key: str
    ids: tuple[int, ...]
    title: str
    takes_mm: float
    says: str


@dataclass(frozen=True)
class Need:
    """A blank that is wanted: metal, section, cut length [mm], the kerf of the saw [mm], units of its words."""

    metal: str
    section: Section
    length_mm: float
    kerf_mm: float
    units: str = "mm"

    def length(self, mm: float) -> Length:
        """A length in the blank's own units."""
        return Length(mm, self.units)


def near_ways(need: Need, pieces: Sequence[AtHandStock], scrap_g: float = 0.0) -> tuple[NearWay, ...]:
    """The ways to a blank from what is at hand, the simplest first, the melt last."""
    same = [one for one in pieces if same_section(one.section, need.section)]
    ways: list[NearWay] = [*_short(need, same), *_two(need, same)]
    others = sorted((one for one in pieces if one not in same), key=lambda one: one.section.area_mm2)
    for one in others:
        way = next((made for make in (_filed, _trimmed, _rolled) if (made := make(need, one)) is not None), None)
        if way is not None:
            ways.append(way)
    return (*ways[:MOST_WAYS], _melted(need, METALS[need.metal], scrap_g))


def _short(need: Need, same: Sequence[AtHandStock]) -> Iterator[NearWay]:
    """The longest piece of the very stock, too short: what the ring would come out at."""
    if not same:
        return
    longest = max(same, key=lambda one: one.length_mm)
    short = need.length_mm - longest.length_mm
    if 0 < short <= 2 * US_MM:
        said = held_against(longest.length_mm, need.length_mm, need.units).says
        yield NearWay("short", (longest.id,), longest.name, longest.length_mm, said)


def _two(need: Need, same: Sequence[AtHandStock]) -> Iterator[NearWay]:
    """Two pieces of the very stock, soldered: one joint more, and two faces squared."""
    extra = 2 * FACES_MM
    long_first = sorted(same, key=lambda one: -one.length_mm)
    for one in long_first:
        fits = [
            other
            for other in long_first
            if other.id != one.id
            and one.length_mm + other.length_mm >= need.length_mm + extra
            and min(one.length_mm, other.length_mm) >= SHORTEST_MM
        ]
        if one.length_mm < need.length_mm and fits:
            other = min(fits, key=lambda piece: piece.length_mm)
            takes = need.length_mm + extra
            said = f"two soldered: one joint more, {need.length(extra):.1f} for its two faces; keep the seams apart"
            yield NearWay("two", (one.id, other.id), f"{one.name} and {other.name}", takes, said)
            return


def _filed(need: Need, one: AtHandStock) -> NearWay | None:
    """The same profile and width, thicker: filed or papered down, at the same length."""
    want, have = need.section, one.section
    more = have.thickness_mm - want.thickness_mm
    same = have.profile == want.profile and abs(have.width_mm - want.width_mm) <= SAME_MM and not have.equal_sided
    if not same or not SAME_MM < more <= FILED_MM or one.length_mm < need.length_mm:
        return None
    lost = METALS[need.metal].mass_g((have.area_mm2 - want.area_mm2) * need.length_mm)
    thick = f"{need.length(have.thickness_mm):.2f} filed to {need.length(want.thickness_mm):.2f}"
    said = f"{thick}: {lost:.2f} g to the filings; left thick it is cut {_thicker(need, have):.1f} longer"
    return NearWay("filed", (one.id,), one.name, need.length_mm, said)


def _thicker(need: Need, have: Section) -> Length:
    return need.length(2 * math.pi * (have.neutral_mm - need.section.neutral_mm))


def _trimmed(need: Need, one: AtHandStock) -> NearWay | None:
    """The same thickness, wider and flat: trimmed to width."""
    want, have = need.section, one.section
    if not (want.flat and have.flat) or abs(have.thickness_mm - want.thickness_mm) > SAME_MM:
        return None
    if have.width_mm <= want.width_mm + SAME_MM or one.length_mm < need.length_mm:
        return None
    rest = have.width_mm - want.width_mm - need.kerf_mm
    left = f", a strip {need.length(rest):.1f} wide stays" if rest > 0.3 else ""
    said = f"{need.length(have.width_mm):.1f} trimmed to {need.length(want.width_mm):.1f}{left}"
    return NearWay("trimmed", (one.id,), one.name, need.length_mm, said)


def _rolled(need: Need, one: AtHandStock) -> NearWay | None:
    """A heavier bar or strip: rolled down to it, and through profile rolls where it has a dome."""
    want, have = need.section, one.section
    try:
        asked = MillRequest(
            metal=need.metal,
            start=_bar(have, one.length_mm),
            target=_bar(want, need.length_mm),
            poured=one.poured,
            units=need.units,
        )
        plan = answer_mill(asked)
    except (BadRequest, CraftError):
        return None
    takes = plan.start_length_needed_mm or 0.0
    if takes > one.length_mm:
        return None
    often = {0: "no anneal", 1: "one anneal"}.get(plan.anneals, f"{plan.anneals} anneals")
    count = counted(len(plan.passes), "pass", "passes")
    said = f"{need.length(takes):.1f} of it rolled out: {count}, {often}"
    return NearWay("rolled", (one.id,), one.name, takes, said)


def _bar(section: Section, length_mm: float) -> Bar:
    return Bar(
        profile=section.profile,
        thickness_mm=section.thickness_mm,
        width_mm=None if section.equal_sided else section.width_mm,
        side_mm=section.side_mm or None,
        length_mm=length_mm,
    )


def _melted(need: Need, metal: Metal, scrap_g: float) -> NearWay:
    needed = needed_g(metal, need.section.area_mm2 * need.length_mm)
    short = needed - scrap_g
    have = f"{scrap_g:.1f} g of scrap are at hand" if scrap_g > 0 else "no scrap of it is at hand"
    said = f"{needed:.1f} g melted and rolled; {have}" + (f", {short:.1f} g short" if short > 0.05 else "")
    return NearWay("melted", (), "from the crucible", 0.0, said)
