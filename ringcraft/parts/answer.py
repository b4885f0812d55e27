"""A part for a top by itself: its blank with its ledger, its figures, its steps as the virtual bench works them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from functools import reduce
from operator import or_
from typing import Annotated, Any

from pydantic import Discriminator, TypeAdapter

from ringcraft import __version__
from ringcraft.errors import BadRequest, CraftError
from ringcraft.metals import MetalKey
from ringcraft.parts import PARTS
from ringcraft.parts.adding import parts_beside
from ringcraft.planning.blank import Blank
from ringcraft.planning.context import RingContext, nobodys_context
from ringcraft.planning.joints import Joint
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.part_orders import KINDS, PART_KEYS, PartOrder
from ringcraft.planning.solders import OwnSolders
from ringcraft.routes.building import joining_facts, metal_facts
from ringcraft.routes.facts import Facts
from ringcraft.routes.steps import Step, route
from ringcraft.schema import IN_OWN_UNITS, DegreesKey, Mm, UnitKey, read_request, request
from ringcraft.sections import Stock
from ringcraft.vbench.pieces import Piece, stock_piece
from ringcraft.work.plan import Figure

ENDS = "ends"  # the piece of which both ends are levelled, where no ring is there


@request
class AlonePart:
    """What a part that is asked for by itself has beside: its metal, its shop's units and figures."""

    metal: MetalKey = "sterling"
    units: UnitKey = "mm"
    degrees: DegreesKey = "c"
    round_to_mm: Mm = 0.1
    solders: OwnSolders = ()
    own: OwnFigures = OwnFigures()


def _alone(order: type[PartOrder]) -> type[Any]:
    """The request for a kind of part by itself: what it is asked with a ring, and what its ring would say."""
    name = f"Alone{order.__name__.removesuffix('Order')}"
    of = {"__annotations__": {"metal": MetalKey}, "metal": "sterling", "__module__": __name__,
          "__doc__": f"{order.__doc__} By itself."}  # fmt: skip
    made: type[Any] = request(type(name, (AlonePart, order), of))
    return made


PartRequest: Any = Annotated[reduce(or_, map(_alone, KINDS)), Discriminator("part"), IN_OWN_UNITS]
_READER: TypeAdapter[Any] = TypeAdapter(PartRequest)


@dataclass(frozen=True)
class PartPlan:
    """The answer of a part: its blanks, its figures by name [mm, degrees, shares], as told, and its steps."""

    part: str
    title: str
    blanks: tuple[Blank, ...]
    figures: Mapping[str, float]
    told: tuple[Figure, ...]
    says: tuple[str, ...]
    joints: tuple[Joint, ...]
    start: Mapping[str, Piece]
    route: tuple[Step, ...]
    engine: str


def part(data: object) -> PartPlan:
    """From plain JSON data to a plan; raises BadRequest."""
    asked = read_request(_READER, data, tags=PART_KEYS)
    try:
        return answer_part(asked)
    except CraftError as problem:
        raise BadRequest([problem]) from None


def answer_part(asked: Any) -> PartPlan:
    """Plan a part by itself; raises CraftError naming its field, its lengths in the order's own units."""
    try:
        return _plan(asked)
    except CraftError as problem:
        raise problem.at(problem.field.removeprefix("parts.0.")).in_units(asked.units) from None


def _plan(asked: Any) -> PartPlan:
    base = next(one for one in type(asked).__mro__ if issubclass(one, PartOrder) and not issubclass(one, AlonePart))
    order = base(**{one.name: getattr(asked, one.name) for one in fields(base)})
    context = _context(asked)
    beside = parts_beside(context, [order], None)
    made = beside.made[0][1]
    start = beside.start() or {ENDS: stock_piece(context.metal.key, context.section, 50.0)}
    bare = Facts(
        values={**metal_facts(made.context), **joining_facts(made.context)},
        papers=(),
        minutes=asked.own.minutes_of(),
        told=context.target.named,
        length=context.length,
    )
    kind = PARTS[order.part]
    titles = beside.titles()
    steps = route(kind.route, beside.with_facts(bare), start, titles, book=context.book)
    return PartPlan(
        part=order.part,
        title=kind.title,
        blanks=beside.blanks,
        figures=made.numbers,
        told=made.figures,
        says=made.says,
        joints=beside.joints,
        start=start,
        route=steps,
        engine=__version__,
    )


def _context(asked: Any) -> RingContext:
    return nobodys_context(
        "part", 18.0, Stock(profile="square", thickness_mm=2.0), asked.metal, units=asked.units,
        degrees=asked.degrees, round_to_mm=asked.round_to_mm, solders=asked.solders, own=asked.own,
    )  # fmt: skip
