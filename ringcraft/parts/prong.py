"""Prongs: straight pieces of round wire, each with a notch for the stone's edge where one is wanted."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.drawing.blanks import across, strip
from ringcraft.drawing.paths import line
from ringcraft.drawing.shapes import Drawing, Shape, drawing
from ringcraft.errors import OutOfRangeError
from ringcraft.parts.base import (
    HOLDS_A_STONE,
    Host,
    MadePart,
    PartFacts,
    PartKind,
    length_figure,
    of_part,
    part_blank,
    spec_of,
    stock,
)
from ringcraft.planning.context import RingContext
from ringcraft.planning.ledger import Mark, Term
from ringcraft.planning.part_orders import ProngOrder
from ringcraft.units import Length
from ringcraft.work.plan import Figure

MOST_PRONGS = 12
DEEPEST = 0.5  # of the wire: a notch beyond it leaves too little over the stone; common practice, no published source
#: Half the angle of the notch: it is as wide at the skin as it is deep twice over. Common practice, no source.
HALF_ANGLE = math.pi / 4


@dataclass(frozen=True, kw_only=True)
class ProngFacts(PartFacts):
    """What the steps of prongs say."""

    height: Length
    notched: bool
    notch: Length
    notch_at: Length
    left_over: Length
    notch_mm3: float
    single: bool
    them: str


def make(context: RingContext, order: ProngOrder, name: str, host: Host | None) -> MadePart:
    """Plan prongs of round wire; raises CraftError naming their field."""
    part = of_part(context, order.metal, stock("round", order.wire_mm), 20 * order.wire_mm)
    at = _notch_at(order)
    units, high, wire, notch = part.used.units, order.height_mm, order.wire_mm, order.notch_mm
    marks = [Mark("notch", at, f"notch {part.length(at):.2f}")] if notch else []
    lines = [across("notch", "scribe", at, wire)] if notch else []
    term = Term("height", "length of a prong", high, "straight: nothing is bent before it is set")
    spec = spec_of(
        "prong", name, strip(high, wire, lines), _view(order, at), marks=marks, count=order.count
    )  # fmt: skip
    figures: tuple[Figure, ...] = ()
    if notch:
        figures = (
            length_figure(
                part, "notch", "notch", notch, f"{100 * notch / wire:.0f} % of the wire: it bends over there"
            ),
        )
    return MadePart(
        context=part,
        blank=part_blank(part, [term], high, spec),
        numbers={"count": order.count, "height_mm": high, "notch_mm": notch, "notch_at_mm": at if notch else 0.0},
        figures=figures,
        says=((f"{order.count} of one length, filed together.",) if order.count > 1 else ()) + (HOLDS_A_STONE,),
        facts=ProngFacts(
            height=Length(high, units, ".2f"),
            notched=notch > 0,
            notch=Length(notch, units, ".2f"),
            notch_at=Length(at, units, ".2f"),
            left_over=Length(wire - notch, units, ".2f"),
            notch_mm3=notch_mm3(wire, notch),
            single=order.count == 1,
            them="it" if order.count == 1 else "them",
        ),
    )


def _notch_at(order: ProngOrder) -> float:
    if order.count > MOST_PRONGS:
        raise OutOfRangeError("count", f"{order.count} prongs are a fence.", f"At most {MOST_PRONGS}.")
    if order.wire_mm > order.height_mm / 2:
        raise OutOfRangeError("wire_mm", "A prong is longer than it is thick.", "At most {most:g mm}.",
                              most=order.height_mm / 2)  # fmt: skip
    if order.notch_mm > DEEPEST * order.wire_mm:
        raise OutOfRangeError("notch_mm", "So deep a notch leaves a prong that breaks as it is pushed over.",
                              "At most {most:.2f mm}, half the wire.", most=DEEPEST * order.wire_mm)  # fmt: skip
    at = 0.75 * order.height_mm if order.notch_at_mm is None else order.notch_at_mm
    room = order.notch_mm / math.tan(HALF_ANGLE)
    if order.notch_mm and not room <= at <= order.height_mm - room:
        raise OutOfRangeError("notch_at_mm", "There the notch runs off the prong.",
                              "From {low:.2f} to {high:.2f mm}.",
                              low=room, high=order.height_mm - room)  # fmt: skip
    return at


def notch_mm3(wire_mm: float, deep_mm: float) -> float:
    """What a notch with sides at 45 degrees takes out of a round wire [mm3], its depth [mm] from the skin.

    The chord at depth x is 2 sqrt(r^2 - (r - x)^2), the notch there 2 (deep - x) wide. Source: plane geometry; by
    Simpson's rule after x = deep sin^2, which has no corner at the skin.
    """
    if deep_mm <= 0:
        return 0.0
    radius, count = wire_mm / 2, 64

    def slice_at(i: int) -> float:
        turn = math.pi / 2 * i / count
        x = deep_mm * math.sin(turn) ** 2
        chord = 2 * math.sqrt(max(0.0, radius**2 - (radius - x) ** 2))
        return chord * 2 * (deep_mm - x) * 2 * deep_mm * math.sin(turn) * math.cos(turn)

    weights = [1, *(4 if i % 2 else 2 for i in range(1, count)), 1]
    return math.pi / 2 / count / 3 * math.fsum(w * slice_at(i) for i, w in enumerate(weights))


def _view(order: ProngOrder, at: float) -> Drawing:
    """A prong standing, its notch to the right."""
    wide, high, deep = order.wire_mm, order.height_mm, order.notch_mm
    points = [(0.0, 0.0), (wide, 0.0)]
    if deep:
        points += [(wide, at - deep), (wide - deep, at), (wide, at + deep)]
    return drawing([Shape("prong", "metal", (line(*points, (wide, high), (0.0, high)),))])


KIND = PartKind(key="prong", title="prong", make=make, route="part-prong", facts=ProngFacts, stock_field="wire_mm")
