"""Every change of a customer or a finger: check, then execute."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from workshop.customers.models import Customer, Finger
from workshop.gauges.models import Gauge
from workshop.gauges.reading import read_size_on
from workshop.people.models import User, Workshop


class StaleCustomer(Exception):
    """The customer was changed by somebody else since it was read."""

    def __init__(self, customer: Customer) -> None:
        super().__init__(f"customer {customer.pk} is at version {customer.version}")
        self.customer = customer


@dataclass(frozen=True)
class FingerDetails:
    """One measuring of a finger as it was said."""

    which: str
    text: str
    taken_on: date
    gauge: Gauge | None = None
    width_worn_mm: float | None = None
    note: str = ""


@transaction.atomic
def save_customer(
    workshop: Workshop, name: str, note: str, customer_id: int | None = None, version: int | None = None
) -> Customer:
    """A new customer, or an old one described anew; raises BadRequest or StaleCustomer."""
    name = " ".join(name.split())
    errors: list[CraftError] = []
    if not name or len(name) > 120:
        errors.append(UnreadableError("name", "A customer has a name.", "At most 120 letters."))
    if len(note) > 4000:
        errors.append(OutOfRangeError("note", "That is too long to keep.", "At most 4000 letters."))
    if errors:
        raise BadRequest(errors)
    if customer_id is None:
        return Customer.objects.create(workshop=workshop, name=name, note=note.strip())
    customer = Customer.objects.select_for_update().get(pk=customer_id, workshop=workshop)
    if customer.version != version:
        raise StaleCustomer(customer)
    customer.name, customer.note = name, note.strip()
    customer.version += 1
    customer.save()
    return customer


def measure_finger(customer: Customer, details: FingerDetails, home: str, by: User | None = None) -> Finger:
    """Keep one measuring of a finger; raises BadRequest at its field."""
    which = " ".join(details.which.split())
    errors: list[CraftError] = []
    if not which or len(which) > 60:
        errors.append(UnreadableError("which", "Which finger?", "Such as: left ring."))
    if len(details.note) > 400:
        errors.append(OutOfRangeError("note", "That is too long to keep.", "At most 400 letters."))
    if details.width_worn_mm is not None and not 0.5 <= details.width_worn_mm <= 40:
        errors.append(OutOfRangeError("width_worn_mm", "No band is that wide.", "From 0.5 to 40 mm."))
    inside = Decimal(0)
    try:
        size = read_size_on(details.gauge, details.text, home)
        inside = Decimal(f"{size.inside_diameter_mm:.4f}")
    except CraftError as problem:
        errors.append(problem.at("text"))
    if errors:
        raise BadRequest(errors)
    return Finger.objects.create(
        customer=customer,
        which=which,
        text=details.text.strip(),
        inside_mm=inside,
        gauge=details.gauge,
        gauge_name=details.gauge.name if details.gauge else "",
        taken_on=details.taken_on,
        width_worn_mm=details.width_worn_mm,
        note=details.note.strip(),
        by=by,
    )
