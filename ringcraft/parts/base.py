"""What a part for a top is: a blank of its own, made beside its ring, with its figures and its steps."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from ringcraft.drawing.shapes import Drawing
from ringcraft.errors import UnreadableError
from ringcraft.metals import ALL_METALS, Metal
from ringcraft.planning.blank import Blank, BlankSpec, make_blank
from ringcraft.planning.context import NO_JOINT, RingContext
from ringcraft.planning.joints import Seam
from ringcraft.planning.ledger import Term, total
from ringcraft.planning.terms import rounding_terms
from ringcraft.routes.facts import RouteFacts
from ringcraft.sections import Stock, section_of
from ringcraft.work.plan import Figure

ROLE = "part"  # of a blank that is made beside its ring and never joined to it here
STAYS_BESIDE = "Joining it to the ring is not planned here."
HOLDS_A_STONE = "Joining it to the ring and setting the stone are not planned here."


@dataclass(frozen=True)
class Host:
    """The ring that a part is made for [mm]: its inside, its stock, how far it stands open (neutral line)."""

    inside_mm: float
    thickness_mm: float
    width_mm: float
    gap_mm: float
    metal: Metal


@dataclass(frozen=True, kw_only=True)
class PartFacts(RouteFacts):
    """What the steps of a part say beside every blank's own; a part with more derives its own from this."""


NO_FACTS = PartFacts()


@dataclass(frozen=True, kw_only=True)
class MadePart:
    """A part as it is planned. ``numbers`` are its figures by name, ``figures`` the same as they are told.

    ``blank`` is None for what is done to the ring's own ends; ``seam`` is where the part itself is closed.
    """

    context: RingContext
    blank: Blank | None
    numbers: Mapping[str, float]
    figures: tuple[Figure, ...]
    says: tuple[str, ...]
    facts: PartFacts = NO_FACTS
    seam: Seam | None = None


@dataclass(frozen=True)
class PartKind:
    """One kind of part: its key, its words, how it is made, its route, what a measure of it overrides.

    ``make`` takes the context of the job, the order, the name of its blank and the ring that it is for, if there is
    one. ``stock_field`` is what the measured thickness of its stock takes the place of.
    """

    key: str
    title: str
    make: Callable[[RingContext, Any, str, Host | None], MadePart]
    route: str
    facts: type[PartFacts] = PartFacts
    stock_field: str = ""
    more: Mapping[str, str] = field(default_factory=dict)


def of_part(context: RingContext, metal_key: str | None, stock: Stock, inside_mm: float) -> RingContext:
    """The context of a part: its own metal, its own section, bent to its own inside [mm]; no joint is sawn."""
    metal = context.metal if metal_key is None else context.order.own.metal(ALL_METALS[metal_key])
    if not metal.is_known:
        raise UnreadableError("metal", "Nobody knows what that ring is made of.", "Say the metal of the part.")
    join = replace(NO_JOINT, blade=context.used.join.blade)
    return replace(
        context,
        metal=metal,
        section=section_of(stock),
        target=replace(context.target, inside_mm=inside_mm, wide=None),
        used=replace(context.used, leave="exact", join=join),
    )


def part_blank(context: RingContext, terms: list[Term], formed_mm: float, spec: BlankSpec) -> Blank:
    """A part's blank: its terms, and the nearest rounding of their sum."""
    rest = rounding_terms(context.used, total(tuple(terms)))
    made = make_blank(context, [*terms, *rest], formed_mm, spec)
    return replace(made, metal=context.metal.key)


def spec_of(
    kind: str, name: str, drawing: Drawing | None = None, view: Drawing | None = None, **more: Any
) -> BlankSpec:
    """How a part's blank is called and drawn; ``view`` is the part as it will be."""
    return BlankSpec(name=name, title=kind, role=ROLE, drawing=drawing, view=view, **more)


def length_figure(context: RingContext, key: str, title: str, mm: float, why: str) -> Figure:
    """A figure that is a length [mm]."""
    return Figure(key, title, mm, f"{context.length(mm):.2f}", why)


def angle_figure(key: str, title: str, degrees: float, why: str) -> Figure:
    """A figure that is an angle [degrees]."""
    return Figure(key, title, degrees, f"{degrees:.1f}°", why)


def stock(profile: str, thickness_mm: float, width_mm: float | None = None) -> Stock:
    """Stock of a profile [mm]."""
    return Stock(profile=profile, thickness_mm=thickness_mm, width_mm=width_mm)
