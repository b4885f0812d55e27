"""Pieces that would serve as an insert, and what to do where a blank's stock is not in the drawer."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from django.db.models import Q, Sum, Window
from django.db.models.functions import RowNumber

from ringcraft.resize.serving import held_against, serves
from ringcraft.sections import Section
from ringcraft.stock.near import AtHandStock, NearWay, Need, near_ways
from ringcraft.units import Length
from workshop.stock.booking import decimal_of
from workshop.stock.demand import OpenBlank
from workshop.stock.groups import Group, group_key, groups_of, pieces_in, pieces_of, stock_of
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


MOST_OF_A_STOCK = 3  # pieces of one stock that are looked at: its longest ones


@dataclass(frozen=True)
class DrawerNow:
    """A shop's drawer as it is read once, to ask what of it would serve; words in the shop's units."""

    workshop_id: int
    kerf_mm: float
    units: str

    @cached_property
    def groups(self) -> list[Group]:
        """What lies in it, by stock and owner."""
        return groups_of(self.workshop_id)

    @cached_property
    def _by_metal(self) -> dict[str, list[Group]]:
        out: dict[str, list[Group]] = {}
        for group in self.groups:
            out.setdefault(group.metal, []).append(group)
        return out

    @cached_property
    def _own(self) -> set[tuple[int, str]]:
        return {(one.job_id, one.stock) for one in self.groups if one.job_id is not None}

    @cached_property
    def _sheets(self) -> dict[str, list[tuple[float, float]]]:
        """Length and width of every sheet, by its group."""
        out: dict[str, list[tuple[float, float]]] = {}
        rows = pieces_of(self.workshop_id, [one for one in self.groups if one.sheet])
        for stock, job_id, long, wide in rows.values_list("stock", "job_id", "length_mm", "width_mm"):
            out.setdefault(f"{stock}:{job_id or 0}", []).append((float(long or 0), float(wide or 0)))
        return out

    def serving(self, blank: OpenBlank) -> list[Group]:
        """The stocks that a blank is cut from; a job with metal of its own in that section takes it from there."""
        return [
            group
            for group in self._by_metal.get(blank.metal, ())
            if group.suits(blank) and (group.job_id is not None or (blank.job_id, group.stock) not in self._own)
        ]

    def is_there(self, blank: OpenBlank) -> bool:
        """Whether a piece of its very stock is large enough for a blank."""
        return any(self._holds(group, blank) for group in self.serving(blank))

    def _holds(self, group: Group, blank: OpenBlank) -> bool:
        if not group.sheet:
            return group.longest_mm >= blank.length_mm
        return any(goes_on(long, wide, blank) for long, wide in self._sheets.get(group.key, ()))

    def there(self, blank: OpenBlank) -> list[str]:
        """The pieces of a blank's very stock that are large enough for it, as far as a card lists them."""
        found = []
        for group in self.serving(blank):
            if self._holds(group, blank):
                pieces = pieces_in(self.workshop_id, group)
                if not group.sheet:
                    pieces = pieces.filter(length_mm__gte=decimal_of(blank.length_mm))[:MOST_OFFERS]
                found += [
                    one.called
                    for one in pieces
                    if not group.sheet or goes_on(float(one.length_mm or 0), float(one.width_mm or 0), blank)
                ]
        return found[:MOST_OFFERS]

    def inserts(self, metal: str, shank: Section, need_mm: float, job_id: int | None) -> list[Offer]:
        """Pieces that could be an insert: the shop's own or the job's, of the same metal and profile, no thinner and
        no narrower than the shank. The shortest that is long enough comes first, then the ones that are short.
        """
        stocks = [
            one
            for one in self.groups
            if one.metal == metal and not one.sheet and one.job_id in (None, job_id) and serves(one.section, shank)
        ]
        mine = pieces_of(self.workshop_id, stocks).filter(Q(job_id=None) | Q(job_id=job_id))
        need = decimal_of(need_mm)
        enough = mine.filter(length_mm__gte=need).order_by("length_mm", "number")[:MOST_OFFERS]
        short = mine.filter(length_mm__lt=need).order_by("-length_mm", "number")[:MOST_OFFERS]
        sections = {one.stock: one.section for one in stocks}
        out = [self._offer(item, sections[item.stock], need_mm) for item in (*enough, *short)] if stocks else []
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
            need = Need(blank.metal, blank.section, blank.length_mm, self.kerf_mm, self.units)
            scrap = scrap_of(self.workshop_id, blank.metal, blank.job_id)
            ways = near_ways(need, self._at_hand(blank.metal, blank.job_id), scrap)
        return BlankStock(blank.name, blank.title, blank.length_mm, tuple(there), ways)

    def _at_hand(self, metal: str, job_id: int) -> list[AtHandStock]:
        """The longest pieces of each stock of a metal: the shop's, and this job's."""
        mine = [one for one in self._by_metal.get(metal, ()) if one.job_id in (None, job_id)]
        return [piece for group in mine for piece in self._longest[group.key]]

    @cached_property
    def _longest(self) -> dict[str, list[AtHandStock]]:
        sections = {one.key: one.section for one in self.groups}
        rank = Window(RowNumber(), partition_by=["stock", "job_id"], order_by=["-length_mm", "number"])
        rows = stock_of(self.workshop_id).order_by().annotate(rank=rank).filter(rank__lte=MOST_OF_A_STOCK)
        out: dict[str, list[AtHandStock]] = {key: [] for key in sections}
        for item in rows:
            if (key := group_key(item)) in out:
                # a sheet's section is its own: its width is not the stock's
                section = (item.section if item.kind == "sheet" else None) or sections[key]
                out[key].append(AtHandStock(item.pk, item.called, section, float(item.length_mm or 0), item.poured))
        return out

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


def goes_on(long_mm: float, wide_mm: float, blank: OpenBlank) -> bool:
    """Whether a blank goes on a sheet: along it, or turned where it has no direction."""
    length, width = blank.length_mm, blank.section.width_mm
    return (length <= long_mm and width <= wide_mm) or (not blank.along and length <= wide_mm and width <= long_mm)


def scrap_of(workshop_id: int, metal: str, job_id: int | None = None) -> float:
    """Clean scrap of a metal [g]: the job's own where its customer brought some, else the shop's."""
    found = StockItem.objects.filter(
        workshop_id=workshop_id, kind__in=("scrap", "filings"), metal=metal, state__in=("clean", "filings")
    )
    own = found.filter(job_id=job_id, mass_g__gt=0) if job_id is not None else found.none()
    return float((own if own.exists() else found.filter(job=None)).aggregate(all=Sum("mass_g"))["all"] or 0)
