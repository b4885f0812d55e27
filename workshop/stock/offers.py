"""Pieces that would serve as an insert, and what to do where a blank's stock is not in the drawer."""

from __future__ import annotations

import math
from dataclasses import dataclass

from django.db.models import Sum

from ringcraft.sections import Section
from ringcraft.stock.near import AtHandStock, NearWay, Need, near_ways
from ringcraft.units import Length
from workshop.stock.demand import OpenBlank
from workshop.stock.groups import groups_of, stock_of, wanted_from
from workshop.stock.models import StockItem

US_MM = math.pi * 0.8128  # of circumference a US size
SAME_MM = 0.02
MOST_OFFERS = 8
CLOSE_MM = 0.01


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
    says: str


def inserts(
    workshop_id: int, metal: str, shank: Section, need_mm: float, units: str, job_id: int | None
) -> list[Offer]:
    """Pieces that could be an insert: the shop's own or the job's, of the same metal and profile, no thinner and no
    narrower than the shank. The shortest that is long enough comes first, then the ones that are short.
    """
    out = []
    for item in stock_of(workshop_id).filter(metal=metal).exclude(kind="sheet"):
        section = item.section
        if section is None or (item.job_id is not None and item.job_id != job_id):
            continue
        fits = (
            section.profile == shank.profile
            and section.width_mm >= shank.width_mm - SAME_MM
            and section.thickness_mm >= shank.thickness_mm - SAME_MM
        )
        if fits:
            out.append(_offer(item, section, need_mm, units))
    out.sort(key=lambda one: (one.short_mm > CLOSE_MM, one.short_mm if one.short_mm > CLOSE_MM else one.length_mm))
    return out[:MOST_OFFERS]


def _offer(item: StockItem, section: Section, need_mm: float, units: str) -> Offer:
    length = float(item.length_mm or 0)
    short = max(0.0, need_mm - length)
    much = f"{Length(short, units):.2f mm} short: the ring would come out {short / US_MM:.2f} US sizes small"
    return Offer(
        id=item.pk,
        name=item.called,
        place=item.place,
        length_mm=length,
        width_mm=section.width_mm,
        thickness_mm=section.thickness_mm,
        short_mm=short,
        short_us=short / US_MM,
        says=much if short > CLOSE_MM else "long enough",
    )


@dataclass(frozen=True)
class BlankStock:
    """Where a blank of a job can come from: the pieces of its very stock that are long enough, else near ways."""

    blank: str
    title: str
    length_mm: float
    there: tuple[str, ...]
    ways: tuple[NearWay, ...]


def stock_for(workshop_id: int, blank: OpenBlank, kerf_mm: float, units: str) -> BlankStock:
    """What the drawer has for one blank."""
    if blank.is_insert:
        return _insert_stock(workshop_id, blank, units)
    items = list(stock_of(workshop_id).filter(metal=blank.metal))
    groups = groups_of(items)
    there = [
        item.called
        for group in groups
        if wanted_from(group, groups, [blank])
        for item in group.items
        if float(item.length_mm or 0) >= blank.length_mm and _wide(group.sheet, item, blank)
    ]
    ways: tuple[NearWay, ...] = ()
    if not there:
        pieces = [
            AtHandStock(item.pk, item.called, section, float(item.length_mm or 0), item.poured)
            for item in items
            if item.job_id in (None, blank.job_id) and (section := item.section) is not None
        ]
        need = Need(blank.metal, blank.section, blank.length_mm, kerf_mm, units)
        ways = near_ways(need, pieces, scrap_of(workshop_id, blank.metal, blank.job_id))
    return BlankStock(blank.name, blank.title, blank.length_mm, tuple(there), ways)


def _wide(sheet: bool, item: StockItem, blank: OpenBlank) -> bool:
    return not sheet or float(item.width_mm or 0) >= blank.section.width_mm


def _insert_stock(workshop_id: int, blank: OpenBlank, units: str) -> BlankStock:
    """What could be an insert: pieces that are long enough, else the ones that are short, with what that costs."""
    found = inserts(workshop_id, blank.metal, blank.section, blank.needs_mm, units, blank.job_id)
    there = tuple(one.name for one in found if one.short_mm <= CLOSE_MM)
    short = tuple(NearWay("short", (one.id,), one.name, one.length_mm, one.says) for one in found)
    return BlankStock(blank.name, blank.title, blank.length_mm, there, () if there else short)


def scrap_of(workshop_id: int, metal: str, job_id: int | None = None) -> float:
    """Clean scrap of a metal [g]: the job's own where its customer brought some, else the shop's."""
    found = StockItem.objects.filter(
        workshop_id=workshop_id, kind__in=("scrap", "filings"), metal=metal, state__in=("clean", "filings")
    )
    own = found.filter(job_id=job_id, mass_g__gt=0) if job_id is not None else found.none()
    return float((own if own.exists() else found.filter(job=None)).aggregate(all=Sum("mass_g"))["all"] or 0)


def serves(stock: BlankStock, blank: OpenBlank, found: dict[int, str], workshop_id: int, units: str) -> None:
    """Say of each piece what it could do for a blank without stock of its own, unless it serves another already."""
    if blank.is_insert:
        for one in inserts(workshop_id, blank.metal, blank.section, blank.needs_mm, units, blank.job_id)[:2]:
            short = f"{Length(one.short_mm, units):.2f} short for {blank.who}: {one.short_us:.2f} US sizes small"
            found.setdefault(one.id, short if one.short_mm > CLOSE_MM else f"long enough for {blank.who}")
        return
    for way in stock.ways:
        for item_id in way.ids:
            found.setdefault(item_id, f"for {blank.who}: {way.says}")
