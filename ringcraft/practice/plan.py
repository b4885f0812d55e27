"""The plan of a practice: a piece for each round, its steps as the virtual bench works them, what is read at each."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import TypeAdapter

from ringcraft import __version__
from ringcraft.errors import BadRequest, CraftError, ImpossibleSectionError, OutOfRangeError, UnreadableError
from ringcraft.metals import SOLDERS, Metal, Solder
from ringcraft.planning.blank import Blank, BlankSpec, make_blank
from ringcraft.planning.context import THICKEST_SHARE, RingContext, nobodys_context, stock_words
from ringcraft.planning.joints import Joint, Seam, joints_of
from ringcraft.planning.ledger import Term
from ringcraft.planning.own_steps import without_steps
from ringcraft.planning.ways import takes_ways
from ringcraft.practice.asking import EXERCISES, MOST_ROUNDS, ROUND, PracticeRequest
from ringcraft.routes.building import as_own, blank_facts, joining_facts, metal_facts, seam_facts, start_of
from ringcraft.routes.facts import Facts, StyleFacts
from ringcraft.routes.steps import check_route, route
from ringcraft.schema import IN_OWN_UNITS, read_request
from ringcraft.sections import Section, section_of
from ringcraft.units import Length
from ringcraft.work.plan import Figure, MetalView, OnBench, WorkPlan
from ringcraft.work.sanity import LONGEST_MM, SHORTEST_MM

LEAST_INSIDE_MM, MOST_INSIDE_MM = 10.0, 30.0  # of what is bent and closed: else it is no shank
LEAST_SHARE, MOST_SHARE = 0.1, 0.8  # of the inside in water: less is none, more drowns the joint's flame
FINE_MM = 0.01  # a length that is asked for is cut as it is asked for, rounded to nothing coarser
CHIP_OVER_K = 30.0  # a chip flows so far above the anneal at least, or it tells nothing; our own judgement
TITLES = {f"{ROUND}-{n}": f"round {n}" for n in range(1, MOST_ROUNDS + 1)}


@dataclass(frozen=True, kw_only=True)
class PracticeFacts(StyleFacts):
    """What the steps of a practice say beside every piece's own."""

    chip_solder: str
    chip_flows: str
    water_share: float
    water_share_words: str
    water_deep: Length


@dataclass(frozen=True, kw_only=True)
class PracticePlan(WorkPlan):
    """The plan of a practice. ``exercise`` is what is practised, ``rounds`` how often."""

    work: Literal["practice"] = "practice"
    exercise: str
    rounds: int
    length_mm: float
    units: str
    chip_flows_c: float | None
    learns: str

    def route_key(self) -> str:
        """Each exercise has a route of its own, and what was read at one length says nothing of another."""
        return f"{self.work}/{self.exercise}/{self.length_mm:.3f}"

    def sets_size(self, piece: str) -> bool:
        """Nothing is made to a size."""
        return False

    def on_bench(self) -> OnBench:
        """A strip of its metal."""
        section = self.section
        return OnBench(
            metal_family=self.metal.family,
            profile=section.profile,
            inside_mm=self.wanted_mm,
            thickness_mm=section.thickness_mm,
            width_mm=section.width_mm,
            cut_mm=self.length_mm,
        )


AnyPractice = Annotated[PracticeRequest, IN_OWN_UNITS, takes_ways(PracticeRequest, without_steps)]
_READER: TypeAdapter[PracticeRequest] = TypeAdapter(AnyPractice)


def read_practice(data: object) -> PracticeRequest:
    """An order from plain JSON data; raises BadRequest with every error and its field."""
    return read_request(_READER, data)


def practice(data: object) -> PracticePlan:
    """From plain JSON data to a plan; raises BadRequest."""
    order = read_practice(data)
    try:
        return plan_practice(order)
    except CraftError as problem:
        raise BadRequest([problem]) from None


def plan_practice(order: PracticeRequest) -> PracticePlan:
    """Plan a practice; raises CraftError naming the field, its lengths in the order's own units."""
    try:
        return _plan(order)
    except CraftError as problem:
        raise problem.in_units(order.units) from None


def _plan(order: PracticeRequest) -> PracticePlan:
    section = section_of(order.stock)
    inside = _checked(order, section)
    context = nobodys_context(
        "practice", inside, order.stock, order.metal, units=order.units, degrees=order.degrees, join=order.join,
        round_to_mm=FINE_MM, solders=order.solders, own=order.own, made=order.made,
        seam_solders=order.seam_solders, from_ways=order.from_ways,
    )  # fmt: skip
    metal = context.metal
    blanks = tuple(_blank(context, order, n) for n in range(1, order.times + 1))
    chip = _chip(metal) if order.exercise == "colours" else None
    seams = [Seam(blank.name, f"the joint of {blank.title}", section.width_mm, area_mm2=section.area_mm2)
             for blank in blanks if order.of.closes]  # fmt: skip
    joints = tuple(
        joint for seam in seams for joint in joints_of(metal, [seam], context.book, order.seam_solders)
    )  # each is a ring of its own: none lies in another's heat
    start = as_own(context, start_of(context, blanks))
    steps = route(
        order.of.route, _facts(context, order, blanks, joints, chip, inside), start, TITLES, book=context.book
    )  # fmt: skip
    return PracticePlan(
        title=f"practice: {order.of.title}",
        summary=f"{metal.title} {stock_words(section, order.units)}, {_rounds(order.times)}",
        metal=MetalView(metal.key, metal.title, metal.family),
        says=(order.of.says, f"It teaches {order.of.learns}."),
        section=section,
        wanted_mm=inside,
        wanted_text=f"{context.length(order.long_mm):.2f}",
        figures=_figures(context, order, blanks, chip),
        blanks=blanks,
        joints=joints,
        warnings=(),
        ring=blanks[0].drawing,
        across=None,
        start=start,
        route=steps,
        engine=__version__,
        exercise=order.exercise,
        rounds=order.times,
        length_mm=order.long_mm,
        units=order.units,
        chip_flows_c=chip.flows_c if chip else None,
        learns=order.of.learns,
    )


def _checked(order: PracticeRequest, section: Section) -> float:
    """The inside [mm] of what is bent and closed, or one that plays no part; raises CraftError at its field."""
    if not SHORTEST_MM <= order.long_mm <= LONGEST_MM:
        raise OutOfRangeError(
            "length_mm", "Nobody practises on {long:g mm}.", "From {low:g} to {high:g mm}.",
            long=order.long_mm, low=SHORTEST_MM, high=LONGEST_MM,
        )  # fmt: skip
    if order.exercise == "water" and not LEAST_SHARE <= order.water_share <= MOST_SHARE:
        raise OutOfRangeError(
            "water_share", f"{100 * order.water_share:.0f} % of it in water teaches nothing.", "From 10 to 80 %."
        )
    inside = order.long_mm / math.pi - 2 * section.neutral_mm
    if not order.of.closes:
        return max(LEAST_INSIDE_MM, min(MOST_INSIDE_MM, inside))
    if not LEAST_INSIDE_MM <= inside <= MOST_INSIDE_MM:
        raise OutOfRangeError(
            "length_mm", "{long:g mm} makes no shank: it would be {inside:.1f mm} inside.",
            "Such as {usual:g mm}.", long=order.long_mm, inside=inside, usual=order.of.length_mm,
        )  # fmt: skip
    if section.thickness_mm > inside * THICKEST_SHARE:
        raise ImpossibleSectionError(
            "stock.thickness_mm", "{thick:g mm} does not go round so small an inside.", "Take it thinner.",
            thick=section.thickness_mm,
        )  # fmt: skip
    return inside


def _blank(context: RingContext, order: PracticeRequest, n: int) -> Blank:
    name = f"{ROUND}-{n}"
    term = Term("asked", "as long as asked", order.long_mm, "the same in every round")
    outside = context.target.inside_mm + 2 * context.section.thickness_mm if order.of.closes else 0.0
    return make_blank(
        context, [term], order.long_mm, BlankSpec(name=name, title=TITLES[name], role=ROUND, outside_mm=outside)
    )


def _chip(metal: Metal) -> Solder:
    """The solder of which a chip tells that an anneal was too hot: the lowest that flows well above it.

    Raises UnreadableError where none of the metal's own does.
    """
    series = metal.solder.rpartition("-")[0]
    known = [one for one in SOLDERS.values() if one.series == series and one.flows_c is not None]
    over = [one for one in known if (one.flows_c or 0.0) >= metal.anneal_high_c + CHIP_OVER_K]
    if not over:
        raise UnreadableError(
            "metal", f"No solder of {metal.title}, as far as its figures are known, flows above its anneal.",
            "Copper, brass or sterling do.",
        )  # fmt: skip
    return min(over, key=lambda one: one.flows_c or 0.0)


def _facts(
    context: RingContext,
    order: PracticeRequest,
    blanks: tuple[Blank, ...],
    joints: tuple[Joint, ...],
    chip: Solder | None,
    inside_mm: float,
) -> Facts:
    share = order.water_share
    own = PracticeFacts(
        chip_solder=chip.title if chip else "",
        chip_flows=f"{chip.flows_c:.0f}" if chip else "",
        water_share=share,
        water_share_words=f"{100 * share:.0f} %",
        water_deep=Length(inside_mm * share, order.units, ".1f"),
    )
    return Facts(
        values={**metal_facts(context), **joining_facts(context), **own.given()},
        papers=(),
        minutes=order.own.minutes_of(),
        told=context.target.named,
        length=context.length,
        blanks={blank.name: blank_facts(context, blank) for blank in blanks},
        joints={joint.key: seam_facts(context, joint) for joint in joints},
        roles={ROUND: tuple(blank.name for blank in blanks)},
    )


def _rounds(times: int) -> str:
    return "one round" if times == 1 else f"{times} rounds"


def _figures(
    context: RingContext, order: PracticeRequest, blanks: tuple[Blank, ...], chip: Solder | None
) -> tuple[Figure, ...]:
    stock = math.fsum(blank.cut_length_mm for blank in blanks)
    grams = math.fsum(blank.mass_g for blank in blanks)
    pieces = "one piece" if order.times == 1 else f"{order.times} pieces"
    why = f"{pieces} of {context.length(order.long_mm):.2f}, {grams:.1f} g; what the saw takes is not in it"
    out = [Figure("stock", "stock", stock, f"{context.length(stock):.1f}", why)]
    if chip:
        out.append(Figure("chip", "the chip flows at", chip.flows_c or 0.0, f"{chip.flows_c:.0f} °C", chip.source))
    if order.exercise == "water":
        deep = context.target.inside_mm * order.water_share
        out.append(Figure("water", "in water", deep, f"{context.length(deep):.1f}", "of its inside, the joint up"))
    return tuple(out)


for _one in EXERCISES.values():
    check_route(_one.route, PracticeFacts)
