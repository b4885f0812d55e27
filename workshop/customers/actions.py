"""Every change of a customer or a finger: check, then execute."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.core.saving import refuse_stale
from workshop.customers.models import Customer, Finger
from workshop.gauges.models import Gauge
from workshop.gauges.reading import read_size_on

FIRST_YEAR, LAST_YEAR = 1950, 2100
NARROWEST_MM, WIDEST_MM = 0.5, 40.0  # of a band on a finger


@dataclass(frozen=True)
class FingerDetails:
    """One measuring of a finger as it was said."""

    which: str
    text: str
    taken_on: date
    gauge: Gauge | None = None
    width_worn_mm: float | None = None
    note: str = ""


def of_customer(customer: Customer) -> dict[str, Any]:
    """The fields of a customer that people edit."""
    return {"name": customer.name, "note": customer.note}


def _checked(name: str, note: str) -> dict[str, Any]:
    name = " ".join(name.split())
    errors: list[CraftError] = []
    if not name or len(name) > 120:
        errors.append(UnreadableError("name", "A customer has a name.", "At most 120 letters."))
    if len(note) > 4000:
        errors.append(OutOfRangeError("note", "That is too long to keep.", "At most 4000 letters."))
    if errors:
        raise BadRequest(errors)
    return {"name": name, "note": note.strip()}


@transaction.atomic
def create_customer(actor: Actor, name: str, note: str = "") -> Customer:
    """A new customer; raises BadRequest."""
    said = _checked(name, note)
    customer = Customer.objects.create(workshop_id=actor.workshop_id, **said)
    record(actor, customer, "created", after=said)
    return customer


@transaction.atomic
def edit_customer(actor: Actor, customer_id: int, version: int | None, name: str, note: str) -> Customer:
    """Describe a customer anew; raises BadRequest or Stale."""
    said = _checked(name, note)
    customer = hold_one(Customer.objects.filter(pk=customer_id, workshop_id=actor.workshop_id))
    before = of_customer(customer)
    refuse_stale(customer, version, said, before, customer.version)
    if said == before:
        return customer
    customer.name, customer.note = said["name"], said["note"]
    customer.version += 1
    customer.save()
    record(actor, customer, "changed", before, said)
    return customer


@transaction.atomic
def forget_finger(actor: Actor, customer: Customer, finger_id: int) -> None:
    """Take a measuring away that was a mistake; the history still says what it was. Raises DoesNotExist."""
    finger = Finger.objects.get(pk=finger_id, customer=customer)
    before = {"which": finger.which, "text": finger.text, "inside_mm": float(finger.inside_mm), "note": finger.note}
    record(actor, customer, "finger-forgotten", before=before)
    finger.delete()


@transaction.atomic
def measure_finger(actor: Actor, customer: Customer, details: FingerDetails, home: str, units: str = "mm") -> Finger:
    """Keep one measuring of a finger, its bare lengths in ``units``; raises BadRequest at its field."""
    which = " ".join(details.which.split())
    errors: list[CraftError] = []
    if not which or len(which) > 60:
        errors.append(UnreadableError("which", "Which finger?", "Such as: left ring."))
    if len(details.note) > 400:
        errors.append(OutOfRangeError("note", "That is too long to keep.", "At most 400 letters."))
    if not FIRST_YEAR <= details.taken_on.year <= LAST_YEAR:
        errors.append(OutOfRangeError("taken_on", "No finger was measured then.", "Write day, month and year."))
    if details.width_worn_mm is not None and not NARROWEST_MM <= details.width_worn_mm <= WIDEST_MM:
        errors.append(
            OutOfRangeError(
                "width_worn_mm",
                "No band is that wide.",
                "From {least:g} to {most:g mm}.",
                least=NARROWEST_MM,
                most=WIDEST_MM,
            )
        )
    inside = Decimal(0)
    try:
        size = read_size_on(details.gauge, details.text, home, units)
        inside = Decimal(f"{size.inside_diameter_mm:.4f}")
    except CraftError as problem:
        errors.append(problem.at("text"))
    if errors:
        raise BadRequest(errors).in_units(units)
    finger = Finger.objects.create(
        customer=customer,
        which=which,
        text=details.text.strip(),
        inside_mm=inside,
        gauge=details.gauge,
        gauge_name=details.gauge.name if details.gauge else "",
        taken_on=details.taken_on,
        width_worn_mm=details.width_worn_mm,
        note=details.note.strip(),
        by_id=actor.user_id,
    )
    record(
        actor, customer, "finger-measured", after={"which": which, "text": finger.text, "inside_mm": float(inside)}
    )
    return finger
