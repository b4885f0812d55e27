"""What can be cut from what: stock of one metal, one section and one owner, and the blanks that want it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import QuerySet

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

    ``stock`` is what it is of, whoever owns it; ``key`` names the owner too.
    """

    stock: str
    metal: str
    metal_title: str
    section: Section
    sheet: bool
    owner: str
    job_id: int | None
    items: tuple[StockItem, ...]

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


def stock_key(item: StockItem, section: Section) -> str:
    """What a piece is of: its metal and its section."""
    if item.kind == "sheet":
        return f"{item.metal}:sheet:{section.thickness_mm:.2f}"
    profile = "rectangle" if section.profile in ("sheet", "square") else section.profile
    return f"{item.metal}:{profile}:{section.width_mm:.2f}x{section.thickness_mm:.2f}:{section.side_mm:.2f}"


def group_key(item: StockItem, section: Section) -> str:
    """The key of the group that a piece stands in: its stock and whose it is."""
    return f"{stock_key(item, section)}:{item.job_id or 0}"


def groups_of(items: Sequence[StockItem]) -> list[Group]:
    """Pieces by their stock and owner, in the order of their keys."""
    found: dict[tuple[str, int], list[StockItem]] = {}
    sections: dict[str, Section] = {}
    for item in items:
        section = item.section
        if section is None:
            continue
        stock = stock_key(item, section)
        found.setdefault((stock, item.job_id or 0), []).append(item)
        sections.setdefault(stock, section)
    return [
        Group(
            stock=stock,
            metal=listed[0].metal,
            metal_title=listed[0].metal_title,
            section=sections[stock],
            sheet=listed[0].kind == "sheet",
            owner=listed[0].owner if listed[0].job_id else "",
            job_id=listed[0].job_id,
            items=tuple(listed),
        )
        for (stock, _), listed in sorted(found.items(), key=lambda one: (one[0][0], str(one[0][1])))
    ]


def wanted_from(group: Group, groups: Sequence[Group], blanks: Sequence[OpenBlank]) -> list[OpenBlank]:
    """The blanks that a stock serves. A job with metal of its own in that section takes it from there."""
    own = {(one.job_id, one.stock) for one in groups if one.job_id is not None}
    return [
        blank
        for blank in blanks
        if group.suits(blank) and (group.job_id is not None or (blank.job_id, group.stock) not in own)
    ]
