"""A melt booked: scrap goes into the crucible, a poured bar comes out, what burns and sticks is lost."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.metals import METALS
from ringcraft.stock.drawer import PieceFigures, StockPiece, figures_of
from ringcraft.stock.melt.alloying import AlloyRequest, MeltPart, answer_alloy, fineness_of
from ringcraft.stock.melt.mixing import Scrap, incompatible_to_alloy, refusal
from workshop.core.history import Actor, record
from workshop.stock.booking import Booking, decimal_of, hold_drawer, new_item
from workshop.stock.models import StockItem

APART = 0.03  # of what the mass balance asks for: more is another fineness
MOST_BARS = 6
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
    actor: Actor, into: list[Into], poured: list[StockPiece], note: str = "", added: Added | None = None
) -> StockItem:
    """Book a melt: its parts leave the drawer, what was poured comes in, the difference is lost; the first bar of it.

    ``poured`` are its bars, one a mould, and what ran over, as scrap. ``added`` says that it was alloyed: finenesses
    of one colour may differ, what was weighed in brings them to the metal of the bar. Raises BadRequest at its field
    where metal does not go together, or more comes out than went in.
    """
    if not into or not poured or len(poured) > MOST_BARS:
        raise BadRequest([UnreadableError("into", "Nothing goes into the crucible yet.", "Choose scrap for it.")])
    ids = [one.item_id for one in into]
    hold_drawer(actor, StockItem.objects.filter(pk__in=ids).values_list("job_id", flat=True))
    items = _held(actor, into)
    figures = [_figures(place, one) for place, one in enumerate(poured)]
    went = sum(one.mass_g for one in into) + (added.mass_g if added else 0.0)
    errors = _refused(items, into, poured, added)
    came = sum(one.mass_g for one in figures)
    if not errors and not (1 - MOST_LOSS) * went <= came <= went + 0.005:
        said = f"{went:.2f} g went in, {came:.2f} g came out."
        errors.append(OutOfRangeError("poured.0.mass_g", said, "Weigh the bar, and what ran over."))
    if errors:
        raise BadRequest(errors)
    bars = [new_item(actor, _bar(one, items[into[0].item_id])) for one in poured]
    booking = Booking(actor)
    for one in into:
        item = items[one.item_id]
        length = None if item.length_mm is None else -one.mass_g / item.g_per_mm
        booking.move(item, "melt", -one.mass_g, length, other=bars[0], note=note)
    for bar, made in zip(bars, figures, strict=True):
        _filled(booking, bar, made, [(items[one.item_id], one.mass_g) for one in into], note)
        record(actor, bar, "created", after={"melted": round(went, 4), "mass_g": round(made.mass_g, 4)})
    return bars[0]


def _held(actor: Actor, into: list[Into]) -> dict[int, StockItem]:
    ids = sorted({one.item_id for one in into})
    if len(ids) != len(into):
        raise BadRequest([UnreadableError("into", "One piece stands here twice.", "Once, with all of it.")])
    rows = StockItem.objects.filter(pk__in=ids, workshop_id=actor.workshop_id)
    return {item.pk: item for item in rows}


def _figures(place: int, one: StockPiece) -> PieceFigures:
    try:
        return figures_of(one)
    except BadRequest as problem:
        raise BadRequest([error.at(f"poured.{place}.{error.field}") for error in problem.errors]) from None


def _refused(
    items: dict[int, StockItem], into: list[Into], poured: list[StockPiece], added: Added | None
) -> list[CraftError]:
    """Why a melt cannot be; empty where it can."""
    metal, first = poured[0].metal, items.get(into[0].item_id)
    owner, job = (first.owner, first.job_id) if first else ("", None)
    errors: list[CraftError] = [
        UnreadableError(f"poured.{place}.metal", "One melt is one metal.", "The same for all of it.")
        for place, one in enumerate(poured)
        if one.metal != metal
    ]
    for place, one in enumerate(into):
        errors += _wrong(f"into.{place}", items.get(one.item_id), one, metal, owner, job, added)
    if added is not None and not errors:
        errors += _alloyed(items, into, metal, added)
    return errors


def _filled(
    booking: Booking, bar: StockItem, made: PieceFigures, parts: list[tuple[StockItem, float]], note: str
) -> None:
    """What came into a bar, each part of it by its share, so that it can be followed back."""
    left_g, left_mm = made.mass_g, made.length_mm or 0.0
    went = sum(mass for _, mass in parts)
    for place, (item, part) in enumerate(parts, 1):
        last = place == len(parts)
        mass = left_g if last else round(made.mass_g * part / went, 4)
        long = left_mm if last else round((made.length_mm or 0.0) * part / went, 4)
        left_g, left_mm = left_g - mass, left_mm - long
        booking.move(bar, "melt", mass, None if made.length_mm is None else long, other=item, note=note)


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
        return [UnreadableError("poured.0.metal", "That metal has no fineness.", "A precious one.")]
    parts = tuple(MeltPart(metal=items[one.item_id].metal, mass_g=one.mass_g) for one in into)
    plan = answer_alloy(AlloyRequest(parts=parts, target_fineness=target))
    if abs(plan.mass_g - added.mass_g) > max(0.02, APART * plan.mass_g):
        said = f"{added.mass_g:.2f} g were added, {plan.mass_g:.2f} g of {plan.add} bring it to {target:.0f}."
        return [OutOfRangeError("added_g", said, "Weigh it in before it is molten.")]
    return []


def _bar(poured: StockPiece, like: StockItem) -> StockItem:
    section = figures_of(poured).section
    bar = StockItem(
        kind=poured.kind,
        metal=poured.metal,
        poured=poured.kind != "scrap",
        lot=poured.lot,
        place=poured.place,
        owner=like.owner,
        job=like.job,
        density_g_cm3=decimal_of(poured.own.metal(METALS[poured.metal]).density_g_cm3),
        length_mm=None if section is None else 0,
    )
    if section is not None:
        bar.profile, bar.thickness_mm = section.profile, decimal_of(section.thickness_mm)
        bar.width_mm = None if section.equal_sided else decimal_of(section.width_mm)
    return bar
