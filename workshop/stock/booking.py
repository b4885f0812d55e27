"""Writing movements: the one place where what is there changes. All of it inside the caller's transaction."""

from __future__ import annotations

import math
import uuid
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime
from decimal import Decimal

from django.db.models import Max
from django.utils import timezone

from ringcraft.errors import BadRequest, OutOfRangeError
from ringcraft.stock.drawer import PieceFigures
from workshop.core.history import Actor
from workshop.core.turns import take_turn
from workshop.jobs.locking import hold_jobs
from workshop.jobs.models import Job
from workshop.stock.models import Movement, StockItem

HAIR_MM, HAIR_G = Decimal("0.0005"), Decimal("0.0005")
_STEP = Decimal("0.0001")


def decimal_of(value: float) -> Decimal:
    """A figure as it is kept, to a tenth of a thousandth."""
    return Decimal(repr(value)).quantize(_STEP)


@dataclass
class Booking:
    """What is booked together: who, when, and one mark on every row of it."""

    actor: Actor
    at: datetime = field(default_factory=timezone.now)
    batch: str = field(default_factory=lambda: uuid.uuid4().hex)

    def move(
        self,
        item: StockItem,
        kind: str,
        mass_g: float,
        length_mm: float | None = None,
        *,
        job: Job | None = None,
        blank: str = "",
        other: StockItem | None = None,
        note: str = "",
    ) -> Movement:
        """Add one movement to a piece of a held drawer; raises BadRequest where more would leave than is there."""
        mass = decimal_of(mass_g)
        length = None if item.length_mm is None else decimal_of(length_mm or 0.0)
        left_g = item.mass_g + mass
        left_mm = None if item.length_mm is None or length is None else item.length_mm + length
        if left_g < -HAIR_G or (left_mm is not None and left_mm < -HAIR_MM):
            raise BadRequest([_too_much(item)])
        if (left_mm is not None and left_mm <= HAIR_MM) or (left_mm is None and left_g <= HAIR_G):
            mass, length = -item.mass_g, None if item.length_mm is None else -item.length_mm  # what rounds to nothing
        item.mass_g += mass
        if item.length_mm is not None and length is not None:
            item.length_mm += length
        item.moves += 1
        item.save(update_fields=["mass_g", "length_mm", "moves"])
        return Movement.objects.create(
            item=item,
            nth=item.moves,
            kind=kind,
            length_mm=length,
            mass_g=mass,
            job=job,
            blank=blank[:60],
            other=other,
            batch=self.batch,
            note=note[:200],
            at=self.at,
            by_id=self.actor.user_id,
        )

    def came_in(self, item: StockItem, note: str) -> Movement:
        """The first movement of a new piece, to be kept with others at once: all that is there came in by it."""
        return Movement(
            item=item,
            nth=item.moves,
            kind="in",
            length_mm=item.length_mm,
            mass_g=item.mass_g,
            batch=self.batch,
            note=note,
            at=self.at,
            by_id=self.actor.user_id,
        )

    def lot(self, kind: str, like: StockItem) -> StockItem:
        """The shop's lot of scrap or filings of a metal and an owner; a new one where there is none yet."""
        state = "filings" if kind == "filings" else "clean"
        lots = StockItem.objects.filter(
            workshop_id=self.actor.workshop_id,
            kind=kind,
            metal=like.metal,
            job=like.job,
            owner=like.owner,
            state=state,
        )
        if (found := lots.order_by("number").first()) is not None:
            return found
        return new_item(
            self.actor,
            StockItem(
                kind=kind,
                metal=like.metal,
                owner=like.owner,
                job=like.job,
                state=state,
                density_g_cm3=like.density_g_cm3,
            ),
        )

    def to_lot(self, item: StockItem, kind: str, length_mm: float | None, mass_g: float, note: str = "") -> None:
        """Metal of a piece to the shop's scrap or filings: it leaves the one and comes to the other."""
        if mass_g <= 0 or math.isclose(mass_g, 0, abs_tol=float(_STEP) / 2):
            return
        to = self.lot(kind, item)
        gone = self.move(item, kind, -mass_g, None if length_mm is None else -length_mm, other=to, note=note)
        self.move(to, kind, float(-gone.mass_g), other=item, note=note)


def first_movement(item: StockItem, figures: PieceFigures) -> None:
    """Set on a new piece what is there after the movement that it comes in by."""
    item.mass_g, item.moves = decimal_of(figures.mass_g), 1
    item.length_mm = None if figures.length_mm is None else decimal_of(figures.length_mm)


def hold_drawer(actor: Actor, jobs: Iterable[int | None] = ()) -> None:
    """Hold the drawer of the actor's workshop until the transaction ends, and before it the jobs that it is about.

    Who changes what is there holds it first: bookings come one after the other, and none waits for another's pieces.
    """
    hold_jobs(actor, jobs)
    take_turn(actor.workshop_id, "drawer")


def new_item(actor: Actor, item: StockItem) -> StockItem:
    """Number a new piece and keep it; the caller holds the drawer."""
    last = StockItem.objects.filter(workshop_id=actor.workshop_id).aggregate(last=Max("number"))["last"] or 0
    after = take_turn(actor.workshop_id, "drawer")
    item.workshop_id, item.number, item.stock = actor.workshop_id, max(last, after) + 1, item.stock_key()
    item.save()
    return item


def _too_much(item: StockItem) -> OutOfRangeError:
    there = float(item.length_mm) if item.length_mm is not None else None
    if there is None:
        return OutOfRangeError("mass_g", f"Only {item.mass_g:.2f} g of {item.called} are there.", "Count it again.")
    message = "Only {there:.1f mm} of {called} are there."
    return OutOfRangeError("length_mm", message, "Count it again.", there=there, called=item.called)


def held(actor: Actor, item_id: int) -> StockItem:
    """One piece of the actor's workshop, whose drawer the caller holds; raises DoesNotExist."""
    return StockItem.objects.get(pk=item_id, workshop_id=actor.workshop_id)
