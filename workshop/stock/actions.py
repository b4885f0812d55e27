"""Every change of the drawer: check, then execute in a transaction, with its movement and its line of history."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnknownNameError, UnreadableError
from ringcraft.metals import METALS
from ringcraft.stock.drawer import KINDS, PieceFigures, StockPiece, figures_of
from workshop.core.history import Actor, record
from workshop.core.saving import refuse_stale
from workshop.jobs.models import Job
from workshop.stock.booking import Booking, decimal_of, held, hold_drawer, new_item
from workshop.stock.models import StockItem

WORDS = ("name", "lot", "place", "owner", "solder")
LONGEST = {"name": 80, "lot": 80, "place": 80, "owner": 120, "solder": 80}
#: Movements that a person books by hand; the others follow from plans.
BY_HAND = ("scrap", "filings", "used", "correct")


@dataclass(frozen=True)
class ItemWords:
    """What a person says of a piece beside what it is; ``job_id`` binds it to a job."""

    name: str = ""
    lot: str = ""
    place: str = ""
    owner: str = ""
    solder: str = ""
    price: Decimal | None = None
    job_id: int | None = None


def of_item(item: StockItem) -> dict[str, Any]:
    """The fields of a piece that people edit."""
    price = None if item.price is None else str(item.price.normalize())
    return {**{name: getattr(item, name) for name in WORDS}, "price": price, "job_id": item.job_id}


def _checked(actor: Actor, words: ItemWords) -> tuple[dict[str, Any], Job | None]:
    errors: list[CraftError] = []
    said: dict[str, Any] = {}
    for name in WORDS:
        said[name] = " ".join(getattr(words, name).split())
        if len(said[name]) > LONGEST[name]:
            errors.append(OutOfRangeError(name, "That is too long to keep.", "A few words do."))
    job = None
    if words.job_id is not None:
        job = Job.objects.filter(pk=words.job_id, workshop_id=actor.workshop_id).first()
        if job is None:
            errors.append(UnknownNameError("job_id", "That job is not on this bench.", "Choose an open one."))
    if said["owner"] and job is None and not errors:
        errors.append(UnreadableError("job_id", "For which job is it?", "Somebody's own metal is bound to its job."))
    if errors:
        raise BadRequest(errors)
    if job is not None and not said["owner"]:
        said["owner"] = job.customer_name or job.title
    price = None if words.price is None else str(Decimal(words.price).normalize())
    return {**said, "price": price, "job_id": words.job_id}, job


def _set(item: StockItem, said: dict[str, Any], job: Job | None) -> None:
    for name in WORDS:
        setattr(item, name, said[name])
    item.price = None if said["price"] is None else Decimal(said["price"])
    item.job = job


@transaction.atomic
def take_in(actor: Actor, piece: StockPiece, words: ItemWords, note: str = "") -> StockItem:
    """A new piece in the drawer, with the movement that it came in by; raises BadRequest at its field."""
    item, figures, said = described(actor, piece, words)
    hold_drawer(actor, [item.job_id])
    new_item(actor, item)
    Booking(actor).move(item, "in", figures.mass_g, figures.length_mm, note=note)
    record(actor, item, "created", after=came_in(figures, said))
    return item


def came_in(figures: PieceFigures, said: dict[str, Any]) -> dict[str, Any]:
    """What the history keeps of a piece that comes in."""
    return {**said, "what": figures.title, "mass_g": round(figures.mass_g, 4)}


def described(actor: Actor, piece: StockPiece, words: ItemWords) -> tuple[StockItem, PieceFigures, dict[str, Any]]:
    """A piece as it would be kept, not kept yet, what it comes to, and its words; raises BadRequest at its field."""
    figures = figures_of(piece)
    words = replace(
        words, **{name: getattr(words, name) or getattr(piece, name) for name in ("lot", "place", "solder")}
    )
    said, job = _checked(actor, words)
    metal = piece.own.metal(METALS[piece.metal])
    counted = KINDS[piece.kind].counted
    item = StockItem(
        kind=piece.kind,
        metal=piece.metal,
        profile="" if counted == "mass" else figures.section.profile if figures.section else "",
        state="filings" if piece.kind == "filings" else piece.state,
        poured=piece.poured,
        density_g_cm3=decimal_of(metal.density_g_cm3),
        length_mm=None if figures.length_mm is None else Decimal(0),
    )
    if figures.section is not None:
        item.thickness_mm = decimal_of(figures.section.thickness_mm)
        item.width_mm = None if figures.section.equal_sided else decimal_of(figures.section.width_mm)
        domed = figures.section.profile in ("d", "court")
        item.side_mm = decimal_of(figures.section.side_mm) if domed else None
    _set(item, said, job)
    return item, figures, said


@transaction.atomic
def describe(actor: Actor, item_id: int, version: int | None, words: ItemWords, *, priced: bool = True) -> StockItem:
    """Describe a piece anew; raises BadRequest, or Stale where somebody did so meanwhile.

    Not ``priced``, its price stays as it is: who describes it does not see it.
    """
    said, job = _checked(actor, words)
    hold_drawer(actor, [words.job_id])
    item = held(actor, item_id)
    before = of_item(item)
    if not priced:
        said["price"] = before["price"]
    refuse_stale(item, version, said, before, item.version)
    if said == before:
        return item
    _set(item, said, job)
    item.version += 1
    item.save()
    record(actor, item, "changed", before, said)
    return item


@dataclass(frozen=True)
class ByHand:
    """A movement by hand: how much leaves [mm or g], or for a count how much is there; ``moves`` is what was read."""

    kind: str
    length_mm: float | None = None
    mass_g: float | None = None
    note: str = ""
    moves: int | None = None


@transaction.atomic
def move_by_hand(actor: Actor, item_id: int, said: ByHand) -> StockItem:
    """Book a movement by hand; raises BadRequest at its field."""
    hold_drawer(actor, StockItem.objects.filter(pk=item_id).values_list("job_id", flat=True))
    item = held(actor, item_id)
    if said.kind not in BY_HAND:
        raise BadRequest(
            [UnknownNameError("kind", "That is not booked by hand.", f"It can be {', '.join(BY_HAND)}.")]
        )
    if len(said.note) > 200:
        raise BadRequest([OutOfRangeError("note", "That is too long to keep.", "At most 200 letters.")])
    if said.moves is not None and said.moves != item.moves:
        raise BadRequest(
            [OutOfRangeError("moves", "Somebody took from this piece meanwhile.", "Look at what is there now.")]
        )
    length, mass = _amount(item, said)
    booking = Booking(actor)
    note = " ".join(said.note.split())
    if said.kind == "correct":
        if not note:
            raise BadRequest([UnreadableError("note", "Why is it another amount?", "It stays in the history.")])
        change = None if length is None or item.length_mm is None else length - float(item.length_mm)
        booking.move(item, "correct", mass - float(item.mass_g), change, note=note)
    elif said.kind == "used":
        booking.move(item, "used", -mass, None if length is None else -length, note=note)
    else:
        booking.to_lot(item, said.kind, length, mass, note)
    record(actor, item, "moved", after={"move": said.kind, "length_mm": length, "mass_g": round(mass, 4)})
    return item


def _amount(item: StockItem, said: ByHand) -> tuple[float | None, float]:
    """How much a movement is of [mm, g]: by its length where it has one, or by its mass."""
    section = item.section
    if section is None or (said.length_mm is None and said.mass_g is not None):
        if said.mass_g is None:
            raise BadRequest([UnreadableError("mass_g", "How much of it?", "In grams.")])
        return None if section is None else said.mass_g / item.g_per_mm, said.mass_g
    if said.length_mm is None:
        raise BadRequest([UnreadableError("length_mm", "How much of it?", "In millimetres, or in grams.")])
    return said.length_mm, item.g_per_mm * said.length_mm
