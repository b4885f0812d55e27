"""Customers and their fingers."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from ninja.responses import Status

from ringcraft.schema import read_at
from ringcraft.units import Length
from workshop.api.gauges import one_gauge
from workshop.api.signed_in import actor, person, shop, typed_in, who_may
from workshop.core.pages import page_of
from workshop.customers import actions
from workshop.customers.models import Customer, Finger
from workshop.people.preferences import preferences_of
from workshop.safekeeping.erasing import erase_customer

router = Router()
A_PAGE = 20


class CustomerIn(Schema):
    """A customer; ``version`` is the one that was read, left out for a new one."""

    name: str
    note: str = ""
    version: int | None = None


class FingerIn(Schema):
    """One measuring of a finger."""

    which: str
    text: str
    gauge_id: int | None = None
    taken_on: date | None = None
    width_worn_mm: float | str | None = None
    note: str = ""
    typed_in: str | None = None


class FingerOut(Schema):
    """A finger as measured, the inside [mm] that it means, and the width it wears as the shop writes it."""

    id: int
    which: str
    text: str
    inside_mm: float
    gauge_id: int | None
    gauge_name: str
    taken_on: date
    width_worn_mm: float | None
    width_worn: str
    note: str


class CustomerOut(Schema):
    """A customer with the fingers, newest measuring first."""

    id: int
    name: str
    note: str
    version: int
    fingers: list[FingerOut]


class Customers(Schema):
    """Some customers, and how many there are in all."""

    items: list[CustomerOut]
    count: int


def _customers(request: HttpRequest) -> QuerySet[Customer]:
    return Customer.objects.filter(workshop=shop(request)).prefetch_related("fingers")


def _answered(request: HttpRequest, customer_id: int) -> dict[str, Any]:
    return _out(request, _customers(request).get(pk=customer_id))


def _out(request: HttpRequest, customer: Customer) -> dict[str, Any]:
    units = preferences_of(person(request), shop(request)).units
    kept = ("id", "name", "note", "version")
    return {
        **{name: getattr(customer, name) for name in kept},
        "fingers": [_finger(f, units) for f in customer.fingers.all()],
    }


def _finger(finger: Finger, units: str) -> dict[str, Any]:
    kept = ("id", "which", "text", "inside_mm", "gauge_id", "gauge_name", "taken_on", "width_worn_mm", "note")
    wide = "" if finger.width_worn_mm is None else f"{Length(float(finger.width_worn_mm), units):g mm}"
    return {**{name: getattr(finger, name) for name in kept}, "width_worn": wide}


class ErasedOut(Schema):
    """By which token somebody is called now; ``listed`` whether a restore of an older backup will know of it."""

    token: str
    listed: bool


@router.get("", response=Customers, operation_id="find_customers")
def find_customers(request: HttpRequest, q: str = "", limit: int = A_PAGE, offset: int = 0) -> Any:
    """The customers whose names hold the words, by name, a page at a time."""
    found = _customers(request)
    for word in q[:200].split()[:6]:
        found = found.filter(name__icontains=word)
    return page_of(found, ("name", "id"), limit, offset).map(lambda one: _out(request, one))


@router.post("", response={201: CustomerOut}, operation_id="create_customer")
def create_customer(request: HttpRequest, body: CustomerIn) -> Status[Any]:
    """A new customer."""
    customer = actions.create_customer(actor(request), body.name, body.note)
    return Status(201, _answered(request, customer.pk))


@router.get("/{int:customer_id}", response=CustomerOut, operation_id="read_customer")
def read_customer(request: HttpRequest, customer_id: int) -> dict[str, Any]:
    """One customer."""
    return _answered(request, customer_id)


@router.put("/{int:customer_id}", response=CustomerOut, operation_id="edit_customer")
def edit_customer(request: HttpRequest, customer_id: int, body: CustomerIn) -> dict[str, Any]:
    """Describe a customer anew; a stale version is refused with theirs."""
    actions.edit_customer(actor(request), customer_id, body.version, body.name, body.note)
    return _answered(request, customer_id)


@router.delete("/{int:customer_id}", auth=who_may("erase"), response=ErasedOut, operation_id="erase_customer")
def erase(request: HttpRequest, customer_id: int) -> ErasedOut:
    """Erase a customer: a token in the place of the name, notes and photographs gone, figures stay."""
    done = erase_customer(actor(request), customer_id)
    return ErasedOut(token=done.token, listed=done.listed)


@router.post("/{int:customer_id}/fingers", response={201: CustomerOut}, operation_id="measure_finger")
def measure_finger(request: HttpRequest, customer_id: int, body: FingerIn) -> Status[Any]:
    """Keep one measuring of a finger."""
    mine = preferences_of(person(request), shop(request))
    units = typed_in(body.typed_in, mine.units)
    wide = None if body.width_worn_mm in (None, "") else read_at("width_worn_mm", body.width_worn_mm, units)
    details = actions.FingerDetails(
        which=body.which,
        text=body.text,
        taken_on=body.taken_on or timezone.now().date(),
        gauge=one_gauge(request, body.gauge_id) if body.gauge_id else None,
        width_worn_mm=wide,
        note=body.note,
    )
    actions.measure_finger(actor(request), _customers(request).get(pk=customer_id), details, mine.home_scale, units)
    return Status(201, _answered(request, customer_id))


@router.delete(
    "/{int:customer_id}/fingers/{int:finger_id}",
    auth=who_may("correct"),
    response=CustomerOut,
    operation_id="forget_finger",
)
def forget_finger(request: HttpRequest, customer_id: int, finger_id: int) -> dict[str, Any]:
    """Take a measuring away that was a mistake."""
    actions.forget_finger(actor(request), _customers(request).get(pk=customer_id), finger_id)
    return _answered(request, customer_id)
