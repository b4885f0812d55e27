"""What can be cut from what: stock of one metal, one section and one owner, and the blanks that want it.

A drawer of any size is added up in the database: what is read here is a row for each stock, never one for each piece.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from collections.abc import Set as AbstractSet
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
#: The stocks that jobs have of their own.
Own = AbstractSet[tuple[int | None, str]]
CUT_FROM = [key for key, kind in KINDS.items() if kind.cut_from]


def key_of(stock: str, job_id: int | None) -> str:
    """The key of a group: what it is of, and whose it is."""
    return f"{stock}:{job_id or 0}"


class Measures(NamedTuple):
    """What a stock is, as its key says it, lengths to a hundredth of a millimetre; a sheet has no width."""

    metal: str
    profile: str
    width_mm: float
    thickness_mm: float
    side_mm: float


@lru_cache(maxsize=50_000)
def measures_of(stock: str) -> Measures:
    """What a stock is, read off its key."""
    metal, profile, *rest = stock.split(":")
    if profile == "sheet":
        return Measures(metal, profile, 0.0, float(rest[0]), 0.0)
    wide, _, thick = rest[0].partition("x")
    return Measures(metal, profile, float(wide), float(thick), float(rest[1]))


class StockSum(NamedTuple):
    """The pieces of one stock and owner added up, as the database does it.

    ``length_mm`` and ``mass_g`` are of all its ``pieces`` together, ``longest_mm`` of the longest; ``first`` is one
    of them. What it is of is read off its key, so that thousands are told apart without one of them being drawn.
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
        return key_of(self.stock, self.job_id)

    @property
    def measures(self) -> Measures:
        """What it is."""
        return measures_of(self.stock)

    def may_serve(self, blank: OpenBlank) -> bool:
        """Whether it could be a blank's stock, by the figures alone; its section decides."""
        it, section = self.measures, blank.section
        if it.metal != blank.metal or self.job_id not in (None, blank.job_id):
            return False
        if abs(it.thickness_mm - section.thickness_mm) > NEAR_MM:
            return False
        if it.profile == "sheet":
            return True
        return abs(it.width_mm - section.width_mm) <= NEAR_MM and abs(it.side_mm - section.side_mm) <= NEAR_MM


@dataclass(frozen=True)
class Group:
    """Pieces of one stock and whose they are, with their section: blanks are cut from them."""

    sums: StockSum
    metal_title: str
    section: Section
    owner: str

    @property
    def key(self) -> str:
        """The stock and whose it is."""
        return self.sums.key

    @property
    def metal(self) -> str:
        """The key of its metal."""
        return self.sums.measures.metal

    @property
    def sheet(self) -> bool:
        """Whether blanks of its thickness are cut from it in strips."""
        return self.sums.measures.profile == "sheet"

    def title(self, units: str) -> str:
        """The stock in words: sterling half-round 4 × 1.8."""
        if self.sheet:
            return f"{self.metal_title} sheet {Length(round(self.section.thickness_mm, 2), units):g}"
        return f"{self.metal_title} {stock_words(self.section, units)}"

    def suits(self, blank: OpenBlank) -> bool:
        """Whether a blank can be cut from this stock: its own metal and section, and nobody else's."""
        if blank.metal != self.metal or self.sums.job_id not in (None, blank.job_id):
            return False
        if self.sheet:
            flat = blank.section.flat or blank.section.profile == "square"
            return flat and abs(blank.section.thickness_mm - self.section.thickness_mm) <= SAME_MM
        return same_section(self.section, blank.section)

    def serves(self, blank: OpenBlank, own: Own) -> bool:
        """Whether a blank is cut from it: a job with metal of its own in that section takes it from there."""
        return self.suits(blank) and (self.sums.job_id is not None or (blank.job_id, self.sums.stock) not in own)


def stock_of(workshop_id: int) -> QuerySet[StockItem]:
    """The pieces of a workshop that something can be cut from."""
    return StockItem.objects.filter(workshop_id=workshop_id, kind__in=CUT_FROM, length_mm__gt=0).order_by("number")


def pieces_of(workshop_id: int, stocks: Iterable[Group]) -> QuerySet[StockItem]:
    """The pieces of some stocks, whoever owns them."""
    return stock_of(workshop_id).filter(stock__in={group.sums.stock for group in stocks})


def pieces_in(workshop_id: int, group: Group) -> QuerySet[StockItem]:
    """The pieces of one group."""
    found = pieces_of(workshop_id, [group])
    job_id = group.sums.job_id
    return found.filter(job__isnull=True) if job_id is None else found.filter(job_id=job_id)


def group_key(item: StockItem) -> str:
    """The key of the group that a piece stands in: its stock and whose it is."""
    return key_of(item.stock, item.job_id)


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
        Group(one, first.metal_title, section, first.owner if one.job_id else "")
        for one, first, section in made
        if section is not None
    ]


def own_of(sums: Iterable[StockSum]) -> Own:
    """What of it belongs to jobs."""
    return {(one.job_id, one.stock) for one in sums if one.job_id is not None}


class Demand:
    """The blanks that are wanted, asked of one stock after the other."""

    def __init__(self, sums: Sequence[StockSum], blanks: Sequence[OpenBlank]) -> None:
        self._own = own_of(sums)
        self._alike: dict[str, dict[tuple[str, float, float, float | None], list[OpenBlank]]] = {}
        for blank in blanks:
            section = blank.section
            like = (section.profile, section.width_mm, section.thickness_mm, section.side_mm)
            self._alike.setdefault(blank.metal, {}).setdefault(like, []).append(blank)

    def of(self, group: Group) -> list[OpenBlank]:
        """The blanks that a stock serves."""
        alike = self._alike.get(group.metal, {}).values()
        mine = [listed for listed in alike if group.sums.job_id is not None or group.suits(listed[0])]
        return [blank for listed in mine for blank in listed if group.serves(blank, self._own)]
