"""A melt booked: scrap goes into the crucible, a poured bar comes out, what burns and sticks is lost."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.stock.drawer import StockPiece, figures_of
from ringcraft.stock.melt.alloying import AlloyRequest, Part, answer_alloy, fineness_of
from ringcraft.stock.melt.mixing import Scrap, incompatible_to_alloy, refusal
from workshop.core.history import Actor, record
from workshop.stock.booking import Booking, decimal_of, new_item
from workshop.stock.models import StockItem

APART = 0.03  # of what the mass balance asks for: more is another fineness
MOST_LOSS = 0.25  # of a melt: more is a bar that was not weighed, or metal on the floor


@dataclass(frozen=True)
class Added:
    """Metal from outside the drawer that was weighed in for a fineness: so much of it [g]."""

    mass_g: float = 0.0


@dataclass(frozen=True)
class Into:
    """What goes into the crucible from a piece of the drawer [g]."""

    item_id: int
    mass_g: float


@transaction.atomic
def book_melt(
    actor: Actor, into: list[Into], poured: StockPiece, note: str = "", added: Added | None = None
) -> StockItem:
    """Book a melt: its parts leave the drawer, the poured bar comes in, the difference is lost.

    ``added`` says that it was alloyed: finenesses of one colour may differ, what was weighed in brings them to the
    metal of the bar. Raises BadRequest at its field where metal does not go together, or more comes out than went in.
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
        errors += _wrong(
            f"into.{place}", items.get(one.item_id), one, poured.metal, owner, job.pk if job else None, added
        )
    if added is not None and not errors:
        errors += _alloyed(items, into, poured.metal, added)
    went = sum(one.mass_g for one in into) + (added.mass_g if added else 0.0)
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
    left_g, left_mm = figures.mass_g, figures.length_mm or 0.0
    for place, one in enumerate(into, 1):  # each part of it by its share, so that the bar can be followed back
        share = one.mass_g / sum(part.mass_g for part in into)
        mass = round(figures.mass_g * share, 4) if place < len(into) else left_g
        long = round((figures.length_mm or 0.0) * share, 4) if place < len(into) else left_mm
        left_g, left_mm = left_g - mass, left_mm - long
        length = None if figures.length_mm is None else long
        booking.move(bar, "melt", mass, length, other=items[one.item_id], note=note)
    record(actor, bar, "created", after={"melted": round(went, 4), "mass_g": round(figures.mass_g, 4)})
    return bar


def _wrong(
    field: str,
    item: StockItem | None,
    one: Into,
    metal: str,
    owner: str,
    job_id: int | None,
    added: Added | None,
) -> list[CraftError]:
    if item is None:
        return [UnreadableError(f"{field}.item_id", "That piece is not in this drawer.", "Choose another.")]
    if not 0 < one.mass_g <= float(item.mass_g) + 0.0005:
        return [OutOfRangeError(f"{field}.mass_g", f"{item.mass_g:.2f} g of it are there.", "More than nothing.")]
    whose = owner if item.job_id == job_id else f"{item.owner} "
    as_metal = metal if added is not None and not incompatible_to_alloy(metal, item.metal) else item.metal
    why = refusal(metal, owner, Scrap(metal=as_metal, mass_g=one.mass_g, state=item.state, owner=whose))
    return [UnreadableError(f"{field}.item_id", f"{item.called}: {why}", "Leave it out.")] if why else []


def _alloyed(items: dict[int, StockItem], into: list[Into], metal: str, added: Added) -> list[CraftError]:
    """What was weighed in against the mass balance that gives the bar its fineness."""
    target = fineness_of(metal)
    if target is None:
        return [UnreadableError("poured.metal", "That metal has no fineness.", "A precious one.")]
    parts = tuple(Part(metal=items[one.item_id].metal, mass_g=one.mass_g) for one in into)
    plan = answer_alloy(AlloyRequest(parts=parts, target_fineness=target))
    if abs(plan.mass_g - added.mass_g) > max(0.02, APART * plan.mass_g):
        said = f"{added.mass_g:.2f} g were added, {plan.mass_g:.2f} g of {plan.add} bring it to {target:.0f}."
        return [OutOfRangeError("added_g", said, "Weigh it in before it is molten.")]
    return []


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
