"""What can be cut from what: stock of one metal, one section and one owner, and the blanks that want it.

A drawer of any size is added up in the database: what is read here is a row for each stock, never one for each piece.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from django.db.models import Count, Max, Min, QuerySet, Sum

from ringcraft.planning.context import stock_words
from ringcraft.sections import Section
from ringcraft.stock.drawer import KINDS, SAME_MM, same_section
from ringcraft.units import Length
from workshop.stock.demand import OpenBlank
from workshop.stock.models import StockItem

NEAR_MM = SAME_MM + 0.0051  # as near as two sections may be, and what a key is rounded by
CUT_FROM = [key for key, kind in KINDS.items() if kind.cut_from]


@dataclass(frozen=True)
class Group:
    """Pieces of one stock and whose they are; ``sheet``: blanks of its thickness are cut from it in strips.

    ``stock`` is what it is of, whoever owns it; ``key`` names the owner too. ``length_mm`` and ``mass_g`` are of all
    its ``pieces`` together, ``longest_mm`` of the longest.
    """

    stock: str
    metal: str
    metal_title: str
    section: Section
    sheet: bool
    owner: str
    job_id: int | None
    pieces: int
    length_mm: float
    longest_mm: float
    mass_g: float

    @property
    def key(self) -> str:
        """The stock and whose it is."""
        return f"{self.stock}:{self.job_id or 0}"

    def title(self, units: str) -> str:
        """The stock in words: sterling half-round 4 × 1.8."""
        if self.sheet:
            return f"{self.metal_title} sheet {Length(round(self.section.thickness_mm, 2), units):g}"
        return f"{self.metal_title} {stock_words(self.section, units)}"

    def suits(self, blank: OpenBlank) -> bool:
        """Whether a blank can be cut from this stock: its own metal and section, and nobody else's."""
        if blank.metal != self.metal or (self.job_id is not None and blank.job_id != self.job_id):
            return False
        if self.sheet:
            flat = blank.section.flat or blank.section.profile == "square"
            return flat and abs(blank.section.thickness_mm - self.section.thickness_mm) <= SAME_MM
        return same_section(self.section, blank.section)


def stock_of(workshop_id: int) -> QuerySet[StockItem]:
    """The pieces of a workshop that something can be cut from."""
    return StockItem.objects.filter(workshop_id=workshop_id, kind__in=CUT_FROM, length_mm__gt=0).order_by("number")


def pieces_of(workshop_id: int, stocks: Iterable[Group]) -> QuerySet[StockItem]:
    """The pieces of some stocks, whoever owns them."""
    return stock_of(workshop_id).filter(stock__in={group.stock for group in stocks})


def pieces_in(workshop_id: int, group: Group) -> QuerySet[StockItem]:
    """The pieces of one group."""
    found = pieces_of(workshop_id, [group])
    return found.filter(job__isnull=True) if group.job_id is None else found.filter(job_id=group.job_id)


def group_key(item: StockItem) -> str:
    """The key of the group that a piece stands in: its stock and whose it is."""
    return f"{item.stock}:{item.job_id or 0}"


@lru_cache(maxsize=50_000)
def measures_of(stock: str) -> tuple[str, str, float, float, float]:
    """Metal, profile, width, thickness and side [mm] of a stock, read off its key; a sheet has no width."""
    metal, profile, *rest = stock.split(":")
    if profile == "sheet":
        return metal, profile, 0.0, float(rest[0]), 0.0
    wide, _, thick = rest[0].partition("x")
    return metal, profile, float(wide), float(thick), float(rest[1])


class StockSum(NamedTuple):
    """The pieces of one stock and owner added up, as the database does it: lengths [mm], mass [g].

    What it is of is read off its key, so that thousands are told apart without one of them being drawn.
    """

    stock: str
    job_id: int | None
    first: int
    pieces: int
    length_mm: float
    longest_mm: float
    mass_g: float

    @property
    def key(self) -> str:
        """The key of its group."""
        return f"{self.stock}:{self.job_id or 0}"

    @property
    def measures(self) -> tuple[str, str, float, float, float]:
        """Metal, profile, width, thickness and side [mm], to a hundredth; a sheet has no width."""
        return measures_of(self.stock)

    def may_serve(self, blank: OpenBlank) -> bool:
        """Whether it could be a blank's stock, by the figures alone; its section decides."""
        metal, profile, wide, thick, side = self.measures
        section = blank.section
        if metal != blank.metal or self.job_id not in (None, blank.job_id):
            return False
        if abs(thick - section.thickness_mm) > NEAR_MM:
            return False
        if profile == "sheet":
            return True
        return abs(wide - section.width_mm) <= NEAR_MM and abs(side - section.side_mm) <= NEAR_MM


def sums_of(workshop_id: int) -> list[StockSum]:
    """What lies in a drawer, by stock and owner, in the order of their keys."""
    # whatever has a stock is cut from: so it is all read from one index
    rows = (
        StockItem.objects.filter(workshop_id=workshop_id, stock__gt="", length_mm__gt=0)
        .order_by("stock", "job_id")
        .values_list("stock", "job_id")
        .annotate(Min("pk"), Count("pk"), Sum("length_mm"), Max("length_mm"), Sum("mass_g"))
    )
    return [
        StockSum(stock, job_id, first, pieces, float(mm), float(longest), float(g))
        for stock, job_id, first, pieces, mm, longest, g in rows
    ]


def groups_from(sums: Sequence[StockSum]) -> list[Group]:
    """The groups of some sums, each with its section."""
    firsts = StockItem.objects.in_bulk([one.first for one in sums])
    made = [(one, firsts[one.first], firsts[one.first].section) for one in sums]
    return [
        Group(
            stock=one.stock,
            metal=first.metal,
            metal_title=first.metal_title,
            section=section,
            sheet=first.kind == "sheet",
            owner=first.owner if one.job_id else "",
            job_id=one.job_id,
            pieces=one.pieces,
            length_mm=one.length_mm,
            longest_mm=one.longest_mm,
            mass_g=one.mass_g,
        )
        for one, first, section in made
        if section is not None
    ]


class Demand:
    """The blanks that are wanted, asked of one stock after the other."""

    def __init__(self, sums: Sequence[StockSum], blanks: Sequence[OpenBlank]) -> None:
        self._own = {(one.job_id, one.stock) for one in sums if one.job_id is not None}
        self._alike: dict[str, dict[tuple[str, float, float, float | None], list[OpenBlank]]] = {}
        for blank in blanks:
            section = blank.section
            like = (section.profile, section.width_mm, section.thickness_mm, section.side_mm)
            self._alike.setdefault(blank.metal, {}).setdefault(like, []).append(blank)

    def of(self, group: Group) -> list[OpenBlank]:
        """The blanks that a stock serves. A job with metal of its own in that section takes it from there."""
        return [
            blank
            for listed in self._alike.get(group.metal, {}).values()
            if group.job_id is not None or group.suits(listed[0])
            for blank in listed
            if group.suits(blank) and (group.job_id is not None or (blank.job_id, group.stock) not in self._own)
        ]
