"""The ledger: named terms, each with its reason, that add up to the cut length."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ringcraft.units import format_length


@dataclass(frozen=True)
class Term:
    """One line of the ledger [mm]; negative where it is taken off."""

    key: str
    title: str
    mm: float
    why: str
    text: str = ""


@dataclass(frozen=True)
class Stretch:
    """Where a term lies on the strip, from the square end [mm]. ``off`` for what is left off."""

    key: str
    from_mm: float
    to_mm: float
    off: bool


@dataclass(frozen=True)
class Handle:
    """How a mark is moved: moving it 1 mm to the right changes ``field`` of the order by ``per_mm``.

    ``field`` is the dotted path in the request, ``value`` what it is now, ``low`` and ``high`` where it ends.
    """

    field: str
    label: str
    value: float
    per_mm: float
    low: float
    high: float
    step: float = 0.1


@dataclass(frozen=True)
class Mark:
    """A line to scribe on the strip, from the square end [mm]; one with a handle can be moved."""

    key: str
    x_mm: float
    text: str = ""
    handle: Handle | None = None


def worded(terms: tuple[Term, ...], units: str) -> tuple[Term, ...]:
    """The terms with their figures as text: the first plain, the others signed, in mm or inches."""
    out = []
    for i, term in enumerate(terms):
        figure = format_length(abs(term.mm), units)
        sign = "" if i == 0 else "− " if term.mm < 0 else "+ "
        out.append(replace(term, text=sign + figure))
    return tuple(out)


def total(terms: tuple[Term, ...]) -> float:
    """The sum of the terms [mm]."""
    return math.fsum(term.mm for term in terms)


def stretches(terms: tuple[Term, ...]) -> tuple[Stretch, ...]:
    """Each term laid on the strip in the ledger's order; what is left off lies beyond the cut."""
    out, at = [], 0.0
    for term in terms:
        after = at + term.mm
        if abs(term.mm) > 1e-12:
            out.append(Stretch(term.key, min(at, after), max(at, after), term.mm < 0))
        at = after
    return tuple(out)


def round_for(length_mm: float, step_mm: float, leave: str) -> float:
    """A length [mm] rounded to ``step_mm`` in the direction of the policy; 0 leaves it as it is.

    >>> round_for(60.37, 0.1, "small"), round_for(60.31, 0.5, "large"), round_for(60.37, 0, "small")
    (60.3, 60.5, 60.37)
    """
    if step_mm <= 0:
        return length_mm
    steps = length_mm / step_mm
    if leave == "small":
        whole = math.floor(steps + 1e-9)
    elif leave == "large":
        whole = math.ceil(steps - 1e-9)
    else:
        whole = round(steps)
    return round(whole * step_mm, 9)


def places_for(step_mm: float) -> int:
    """How many decimals show a length rounded to ``step_mm``."""
    if step_mm <= 0:
        return 2
    for places in range(3):
        if abs(step_mm * 10**places - round(step_mm * 10**places)) < 1e-9:
            return places
    return 3
