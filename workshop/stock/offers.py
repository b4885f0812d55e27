"""Pieces that would serve as an insert, and what to do where a blank's stock is not in the drawer."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
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
from workshop.stock.groups import (
    NEAR_MM,
    Group,
    Own,
    StockSum,
    group_key,
    groups_from,
    key_of,
    own_of,
    pieces_in,
    pieces_of,
    stock_of,
    sums_of,
)
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


MOST_STOCKS = 60  # of a metal that are tried for a blank that has none of its own
MOST_OF_A_STOCK = 3  # pieces of one stock that are looked at: its longest ones


def _thick(one: StockSum) -> float:
    return one.measures.thickness_mm


@dataclass(frozen=True)
class DrawerNow:
    """A shop's drawer as it is read once, to ask what of it would serve; words in the shop's units."""

    workshop_id: int
    kerf_mm: float
    units: str

    @cached_property
    def sums(self) -> list[StockSum]:
        """What lies in it, by stock and owner."""
        return sums_of(self.workshop_id)

    @cached_property
    def _by_metal(self) -> dict[str, list[StockSum]]:
        out: dict[str, list[StockSum]] = {}
        for one in self.sums:
            out.setdefault(one.measures.metal, []).append(one)
        for listed in out.values():
            listed.sort(key=_thick)
        return out

    def _near(self, blank: OpenBlank) -> list[StockSum]:
        """The stocks that could be a blank's, by their figures."""
        listed, thick = self._by_metal.get(blank.metal, []), blank.section.thickness_mm
        first = bisect_left(listed, thick - NEAR_MM, key=_thick)
        last = bisect_right(listed, thick + NEAR_MM, key=_thick)
        return [one for one in listed[first:last] if one.may_serve(blank)]

    @cached_property
    def _made(self) -> dict[str, Group]:
        return {}

    def groups(self, sums: Sequence[StockSum]) -> list[Group]:
        """The groups of some sums, each drawn once."""
        fresh = [one for one in sums if one.key not in self._made]
        for group in groups_from(fresh) if fresh else ():
            self._made[group.key] = group
        return [self._made[one.key] for one in sums if one.key in self._made]

    @cached_property
    def _own(self) -> Own:
        return own_of(self.sums)

    @cached_property
    def _owners(self) -> set[int | None]:
        """The jobs with metal of their own: the others are all served alike."""
        return {job_id for job_id, _ in self._own}

    @cached_property
    def _served(self) -> dict[tuple[object, ...], list[Group]]:
        return {}

    @cached_property
    def _sheets(self) -> dict[str, list[tuple[float, float]]]:
        return {}

    def _sheets_of(self, group: Group) -> list[tuple[float, float]]:
        """Length and width of every sheet of a group; those of all groups that were drawn are read at once."""
        if group.key not in self._sheets:
            fresh = [one for one in self._made.values() if one.sheet and one.key not in self._sheets]
            read: dict[str, list[tuple[float, float]]] = {one.key: [] for one in (group, *fresh)}
            rows = pieces_of(self.workshop_id, [group, *fresh]).order_by()
            for stock, job_id, long, wide in rows.values_list("stock", "job_id", "length_mm", "width_mm"):
                if (key := key_of(stock, job_id)) in read:
                    read[key].append((float(long or 0), float(wide or 0)))
            self._sheets.update(read)
        return self._sheets[group.key]

    def _like(self, blank: OpenBlank) -> tuple[object, ...]:
        """What blanks have in common that are served by the same stocks."""
        section, whose = blank.section, blank.job_id if blank.job_id in self._owners else 0
        return (blank.metal, section.profile, section.width_mm, section.thickness_mm, section.side_mm, whose)

    def serving(self, blank: OpenBlank) -> list[Group]:
        """The stocks that a blank is cut from; a job with metal of its own in that section takes it from there."""
        like = self._like(blank)
        if like not in self._served:
            near = self.groups(self._near(blank))
            self._served[like] = [group for group in near if group.serves(blank, self._own)]
        return self._served[like]

    def look_for(self, blanks: Sequence[OpenBlank]) -> set[str]:
        """Read at once whatever could serve some blanks; the keys of it."""
        alike = {self._like(one): one for one in blanks}
        near = {found.key: found for one in alike.values() for found in self._near(one)}
        self.groups(list(near.values()))
        return set(near)

    def is_there(self, blank: OpenBlank) -> bool:
        """Whether a piece of its very stock is large enough for a blank."""
        return any(self._holds(group, blank) for group in self.serving(blank))

    def _holds(self, group: Group, blank: OpenBlank) -> bool:
        if not group.sheet:
            return group.sums.longest_mm >= blank.length_mm
        return any(goes_on(long, wide, blank) for long, wide in self._sheets_of(group))

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
        near = [
            one
            for one in self._by_metal.get(metal, ())
            if one.measures.profile in (shank.profile, "rectangle")
            and one.job_id in (None, job_id)
            and one.measures.width_mm >= shank.width_mm - NEAR_MM
            and one.measures.thickness_mm >= shank.thickness_mm - NEAR_MM
        ]
        stocks = [one for one in self.groups(near) if not one.sheet and serves(one.section, shank)]
        mine = pieces_of(self.workshop_id, stocks).filter(Q(job_id=None) | Q(job_id=job_id))
        need = decimal_of(need_mm)
        enough = mine.filter(length_mm__gte=need).order_by("length_mm", "number")[:MOST_OFFERS]
        short = mine.filter(length_mm__lt=need).order_by("-length_mm", "number")[:MOST_OFFERS]
        sections = {one.sums.stock: one.section for one in stocks}
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
            ways = near_ways(need, self._at_hand(blank.metal, blank.job_id, blank.section.thickness_mm), scrap)
        return BlankStock(blank.name, blank.title, blank.length_mm, tuple(there), ways)

    def _at_hand(self, metal: str, job_id: int, thick_mm: float) -> list[AtHandStock]:
        """The longest pieces of each stock of a metal: the shop's, and this job's."""
        mine = [one for one in self._by_metal.get(metal, ()) if one.job_id in (None, job_id)]
        if len(mine) > MOST_STOCKS:  # those whose thickness is nearest could be filed, trimmed or rolled soonest
            mine = sorted(mine, key=lambda one: abs(one.measures.thickness_mm - thick_mm))[:MOST_STOCKS]
        sections = {group.key: group.section for group in self.groups(mine)}
        rank = Window(RowNumber(), partition_by=["stock", "job_id"], order_by=["-length_mm", "number"])
        rows = stock_of(self.workshop_id).filter(stock__in={one.stock for one in mine}).order_by()
        return [
            # a sheet's section is its own: its width is not the stock's
            AtHandStock(
                item.pk,
                item.called,
                (item.section if item.kind == "sheet" else None) or sections[group_key(item)],
                float(item.length_mm or 0),
                item.poured,
            )
            for item in rows.annotate(rank=rank).filter(rank__lte=MOST_OF_A_STOCK)
            if group_key(item) in sections
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
