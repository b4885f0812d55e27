"""Pieces that would serve as an insert, and what to do where a blank's stock is not in the drawer."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from django.db.models import Sum

from ringcraft.resize.serving import held_against, serves
from ringcraft.sections import Section
from ringcraft.stock.near import AtHandStock, NearWay, Need, near_ways
from ringcraft.units import Length
from workshop.stock.demand import OpenBlank
from workshop.stock.groups import Group, groups_of, stock_of, wanted_from
from workshop.stock.models import StockItem

MOST_OFFERS = 8


@dataclass(frozen=True)
class Offer:
    """A piece for an insert: how long it is [mm], how far it is short [mm, US sizes], and what that means."""

    id: int
    name: str
    place: str
    length_mm: float
    width_mm: float
    thickness_mm: float
    short_mm: float
    short_us: float
    enough: bool
    says: str


@dataclass(frozen=True)
class BlankStock:
    """Where a blank of a job can come from: the pieces of its very stock that are long enough, else near ways."""

    blank: str
    title: str
    length_mm: float
    there: tuple[str, ...]
    ways: tuple[NearWay, ...]


@dataclass(frozen=True)
class DrawerNow:
    """A shop's drawer as it is read once, to ask what of it would serve; words in the shop's units."""

    workshop_id: int
    kerf_mm: float
    units: str

    @cached_property
    def items(self) -> list[StockItem]:
        """The pieces that something can be cut from."""
        return list(stock_of(self.workshop_id))

    @cached_property
    def groups(self) -> list[Group]:
        """The same by their stock and owner."""
        return groups_of(self.items)

    @cached_property
    def sections(self) -> dict[int, Section]:
        """Their sections, by the piece."""
        return {item.pk: section for group in self.groups for item in group.items if (section := item.section)}

    def inserts(self, metal: str, shank: Section, need_mm: float, job_id: int | None) -> list[Offer]:
        """Pieces that could be an insert: the shop's own or the job's, of the same metal and profile, no thinner and
        no narrower than the shank. The shortest that is long enough comes first, then the ones that are short.
        """
        out = []
        for item in self.items:
            section = self.sections.get(item.pk)
            if section is None or item.metal != metal or item.kind == "sheet" or item.job_id not in (None, job_id):
                continue
            if serves(section, shank):
                out.append(self._offer(item, section, need_mm))
        out.sort(key=lambda one: (not one.enough, one.short_mm if not one.enough else one.length_mm))
        return out[:MOST_OFFERS]

    def _offer(self, item: StockItem, section: Section, need_mm: float) -> Offer:
        length = float(item.length_mm or 0)
        held = held_against(length, need_mm, self.units)
        return Offer(
            id=item.pk,
            name=item.called,
            place=item.place,
            length_mm=length,
            width_mm=section.width_mm,
            thickness_mm=section.thickness_mm,
            short_mm=held.short_mm,
            short_us=held.short_us,
            enough=held.enough,
            says=held.says,
        )

    def stock_for(self, blank: OpenBlank) -> BlankStock:
        """What the drawer has for one blank."""
        if blank.is_insert:
            return self._insert_stock(blank)
        there = self.there(blank)
        ways: tuple[NearWay, ...] = ()
        if not there:
            pieces = [
                AtHandStock(item.pk, item.called, self.sections[item.pk], float(item.length_mm or 0), item.poured)
                for item in self.items
                if item.metal == blank.metal and item.job_id in (None, blank.job_id) and item.pk in self.sections
            ]
            need = Need(blank.metal, blank.section, blank.length_mm, self.kerf_mm, self.units)
            ways = near_ways(need, pieces, scrap_of(self.workshop_id, blank.metal, blank.job_id))
        return BlankStock(blank.name, blank.title, blank.length_mm, tuple(there), ways)

    def there(self, blank: OpenBlank) -> list[str]:
        """The pieces of a blank's very stock that are long enough for it."""
        return [
            item.called
            for group in self.groups
            if wanted_from(group, self.groups, [blank])
            for item in group.items
            if float(item.length_mm or 0) >= blank.length_mm and _wide(group.sheet, item, blank)
        ]

    def _insert_stock(self, blank: OpenBlank) -> BlankStock:
        """What could be an insert: pieces that are long enough, else the short ones, with what that costs."""
        found = self.inserts(blank.metal, blank.section, blank.needs_mm, blank.job_id)
        there = tuple(one.name for one in found if one.enough)
        short = tuple(NearWay("short", (one.id,), one.name, one.length_mm, one.says) for one in found)
        return BlankStock(blank.name, blank.title, blank.length_mm, there, () if there else short)

    def serves(self, stock: BlankStock, blank: OpenBlank, found: dict[int, str]) -> None:
        """Say of each piece what it could do for a blank without stock, unless it serves another already."""
        if blank.is_insert:
            for one in self.inserts(blank.metal, blank.section, blank.needs_mm, blank.job_id)[:2]:
                short = f"{Length(one.short_mm, self.units):.2f} short for {blank.who}: "
                told = f"{short}{one.short_us:.2f} US sizes small"
                found.setdefault(one.id, f"long enough for {blank.who}" if one.enough else told)
            return
        for way in stock.ways:
            for item_id in way.ids:
                found.setdefault(item_id, f"for {blank.who}: {way.says}")


def _wide(sheet: bool, item: StockItem, blank: OpenBlank) -> bool:
    return not sheet or float(item.width_mm or 0) >= blank.section.width_mm


def scrap_of(workshop_id: int, metal: str, job_id: int | None = None) -> float:
    """Clean scrap of a metal [g]: the job's own where its customer brought some, else the shop's."""
    found = StockItem.objects.filter(
        workshop_id=workshop_id, kind__in=("scrap", "filings"), metal=metal, state__in=("clean", "filings")
    )
    own = found.filter(job_id=job_id, mass_g__gt=0) if job_id is not None else found.none()
    return float((own if own.exists() else found.filter(job=None)).aggregate(all=Sum("mass_g"))["all"] or 0)
