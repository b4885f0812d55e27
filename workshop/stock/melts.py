"""A melt booked: scrap goes into the crucible, a poured bar comes out, what burns and sticks is lost."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.stock.drawer import AnyPiece, StockPiece, figures_of
from ringcraft.stock.melt.mixing import Scrap, refusal
from workshop.core.history import Actor, record
from workshop.stock.booking import Booking, decimal_of, new_item
from workshop.stock.models import StockItem

__all__ = ["AnyPiece", "Into", "book_melt"]
MOST_LOSS = 0.25  # of a melt: more is a bar that was not weighed, or metal on the floor


@dataclass(frozen=True)
class Into:
    """What goes into the crucible from a piece of the drawer [g]."""

    item_id: int
    mass_g: float


@transaction.atomic
def book_melt(actor: Actor, into: list[Into], poured: StockPiece, note: str = "") -> StockItem:
    """Book a melt: its parts leave the drawer, the poured bar comes in, the difference is lost.

    Raises BadRequest at its field where metal does not go together, or more comes out than went in.
    """
    if not into:
        raise BadRequest([UnreadableError("into", "Nothing goes into the crucible yet.", "Choose scrap for it.")])
    figures = figures_of(poured)
    ids = sorted({one.item_id for one in into})
    if len(ids) != len(into):
        raise BadRequest([UnreadableError("into", "One piece stands here twice.", "Once, with all of it.")])
    rows = StockItem.objects.select_for_update().filter(pk__in=ids, workshop_id=actor.workshop_id).order_by("pk")
    items = {item.pk: item for item in rows}
    errors: list[CraftError] = []
    first = items.get(into[0].item_id)
    owner, job = (first.owner, first.job) if first else ("", None)
    for place, one in enumerate(into):
        errors += _wrong(f"into.{place}", items.get(one.item_id), one, poured.metal, owner, job.pk if job else None)
    went = sum(one.mass_g for one in into)
    if not errors and not (1 - MOST_LOSS) * went <= figures.mass_g <= went + 0.005:
        said = f"{went:.2f} g went in, {figures.mass_g:.2f} g came out."
        errors.append(OutOfRangeError("poured.mass_g", said, "Weigh the bar; what ran over is scrap of its own."))
    if errors:
        raise BadRequest(errors)
    bar = _bar(poured, owner, items[into[0].item_id])
    new_item(actor, bar)
    booking = Booking(actor)
    for one in into:
        item = items[one.item_id]
        section = item.section
        length = None if section is None else -one.mass_g / item.g_of(section.area_mm2)
        booking.move(item, "melt", -one.mass_g, length, other=bar, note=note)
    booking.move(bar, "melt", figures.mass_g, figures.length_mm, note=note)
    record(actor, bar, "created", after={"melted": round(went, 4), "mass_g": round(figures.mass_g, 4)})
    return bar


def _wrong(
    field: str, item: StockItem | None, one: Into, metal: str, owner: str, job_id: int | None
) -> list[CraftError]:
    if item is None:
        return [UnreadableError(f"{field}.item_id", "That piece is not in this drawer.", "Choose another.")]
    if not 0 < one.mass_g <= float(item.mass_g) + 0.0005:
        return [OutOfRangeError(f"{field}.mass_g", f"{item.mass_g:.2f} g of it are there.", "More than nothing.")]
    whose = owner if item.job_id == job_id else f"{item.owner} "
    why = refusal(metal, owner, Scrap(metal=item.metal, mass_g=one.mass_g, state=item.state, owner=whose))
    return [UnreadableError(f"{field}.item_id", f"{item.called}: {why}", "Leave it out.")] if why else []


def _bar(poured: StockPiece, owner: str, like: StockItem) -> StockItem:
    section = figures_of(poured).section
    bar = StockItem(
        kind=poured.kind,
        metal=poured.metal,
        poured=True,
        lot=poured.lot,
        place=poured.place,
        owner=owner,
        job=like.job,
        density_g_cm3=like.density_g_cm3,
        length_mm=None if section is None else 0,
    )
    if section is not None:
        bar.profile, bar.thickness_mm = section.profile, decimal_of(section.thickness_mm)
        bar.width_mm = None if section.equal_sided else decimal_of(section.width_mm)
    return bar
