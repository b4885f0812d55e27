"""What can be cut from what: stock of one metal, one section and one owner, and the blanks that want it.

A drawer of any size is added up in the database: what is read here is a row for each stock, never one for each piece.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Count, Max, Min, QuerySet, Sum

from ringcraft.planning.context import stock_words
from ringcraft.sections import Section
from ringcraft.stock.drawer import KINDS, SAME_MM, same_section
from ringcraft.units import Length
from workshop.stock.demand import OpenBlank
from workshop.stock.models import StockItem

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


def groups_of(workshop_id: int) -> list[Group]:
    """The stocks of a drawer, in the order of their keys."""
    sums = list(
        stock_of(workshop_id)
        .order_by()
        .values("stock", "job_id")
        .annotate(first=Min("pk"), pieces=Count("pk"), mm=Sum("length_mm"), longest=Max("length_mm"), g=Sum("mass_g"))
    )
    firsts = StockItem.objects.in_bulk([row["first"] for row in sums])
    found = [_group(firsts[row["first"]], row) for row in sums if row["stock"]]
    return sorted((one for one in found if one is not None), key=lambda one: (one.stock, str(one.job_id or 0)))


def _group(first: StockItem, row: Mapping[str, Any]) -> Group | None:
    section = first.section
    if section is None:
        return None
    return Group(
        stock=first.stock,
        metal=first.metal,
        metal_title=first.metal_title,
        section=section,
        sheet=first.kind == "sheet",
        owner=first.owner if first.job_id else "",
        job_id=first.job_id,
        pieces=row["pieces"],
        length_mm=float(row["mm"]),
        longest_mm=float(row["longest"]),
        mass_g=float(row["g"]),
    )


class Demand:
    """The blanks that are wanted, asked of one stock after the other."""

    def __init__(self, groups: Sequence[Group], blanks: Sequence[OpenBlank]) -> None:
        self._own = {(one.job_id, one.stock) for one in groups if one.job_id is not None}
        self._by_metal: dict[str, list[OpenBlank]] = {}
        for blank in blanks:
            self._by_metal.setdefault(blank.metal, []).append(blank)

    def of(self, group: Group) -> list[OpenBlank]:
        """The blanks that a stock serves. A job with metal of its own in that section takes it from there."""
        return [
            blank
            for blank in self._by_metal.get(group.metal, ())
            if group.suits(blank) and (group.job_id is not None or (blank.job_id, group.stock) not in self._own)
        ]
