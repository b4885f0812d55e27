"""The answer to a ring that came in: its ways in their order, the route of the one that is chosen, its drawings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from typing import Annotated, Any, Literal

from pydantic import TypeAdapter

from ringcraft import __version__
from ringcraft.drawing.shapes import Drawing
from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from ringcraft.metals import BARRED
from ringcraft.parts.adding import parts_beside
from ringcraft.parts.base import ROLE
from ringcraft.planning.blank import Blank, BlankSpec, make_blank
from ringcraft.planning.context import stock_words
from ringcraft.planning.ledger import Term, total
from ringcraft.planning.own_steps import without_steps
from ringcraft.planning.part_orders import PART_KEYS
from ringcraft.planning.sizing import HAIR_MM
from ringcraft.planning.target_size import GaugeUsed
from ringcraft.planning.ways import takes_ways
from ringcraft.resize import drawing
from ringcraft.resize.advice import Judged, MethodView, judge
from ringcraft.resize.asking import ResizeRequest, SizingJoin
from ringcraft.resize.beside import host_of, parts_say, surfaces_fit
from ringcraft.resize.case import Case, case_of
from ringcraft.resize.facts import ResizeFacts
from ringcraft.resize.head import HeadFit
from ringcraft.resize.made import as_made
from ringcraft.resize.methods import METHODS
from ringcraft.resize.methods.base import Lead
from ringcraft.resize.risks import risks_of
from ringcraft.resize.routing import CAME_IN, INSERT, RING, route_facts, start_pieces
from ringcraft.resize.seats import heated_by
from ringcraft.resize.stones import StoneAdvice
from ringcraft.resize.told import figures_told, fits_of, warnings_of
from ringcraft.routes.building import as_own
from ringcraft.routes.steps import check_route, has_finish, worked
from ringcraft.schema import IN_OWN_UNITS, read_request
from ringcraft.styles.base import Choices, Target
from ringcraft.styles.telling import target_of
from ringcraft.units import also_fahrenheit, capital
from ringcraft.vbench.deeds import Size
from ringcraft.vbench.doing import Doing
from ringcraft.work.plan import Ledger, MetalView, OnBench, WorkPlan

STOP = "resize-stop"
for _route in (*(method.route for method in METHODS.values()), STOP):
    check_route(_route, ResizeFacts)


AnyResize = Annotated[ResizeRequest, IN_OWN_UNITS, takes_ways(ResizeRequest, without_steps)]
_READER: TypeAdapter[ResizeRequest] = TypeAdapter(AnyResize)
#: What is read on the finished ring before the job can be closed.
BOTH_SIDES = ("size-side-a", "size-side-b")


@dataclass(frozen=True)
class Sides:
    """The two sizes of a ring that is resized: inside diameter [mm] and text of each, on which gauge."""

    from_mm: float
    from_text: str
    from_gauge: str
    to_mm: float
    to_text: str
    to_gauge: str


@dataclass(frozen=True)
class ResizeUsed:
    """What a plan was made with beside what the ring asks for: the schools followed, and what came from the ways."""

    home_scale: str
    units: str
    half_size: str
    repair_solder: str
    delicate_stones: str
    glued_stones: str
    cutter_gaps_mm: tuple[float, ...]
    join: SizingJoin
    from_ways: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ResizePlan(WorkPlan):
    """The answer to a ring that is to be resized.

    ``change_mm`` is how much longer its neutral line gets; ``methods`` the ways, the best first, ``method`` the one
    whose route this is. ``before`` is the ring as it came in, ``ring`` as it will be. ``override`` is the reason for
    doing what is never done, ``stopped`` why the way that was chosen makes no sense any more as the ring was read:
    its route ends there. A plan of before does not know what was ``used``.
    """

    work: Literal["resize"] = "resize"
    method: str
    lead: Lead
    change_mm: float
    us_sizes: float
    methods: tuple[MethodView, ...]
    stone_advice: tuple[StoneAdvice, ...]
    head: HeadFit | None
    sides: Sides
    target: Target
    units: str
    gauge: GaugeUsed | None
    closes_mm: float
    before: Drawing
    override: str
    risks: tuple[str, ...]
    offcut: str
    offcut_g: float
    fits: Choices | None = None
    stopped: str = ""
    used: ResizeUsed | None = None

    def sets_size(self, piece: str) -> bool:
        """All of a ring that came in is the ring."""
        return True

    @property
    def chosen(self) -> MethodView:
        """The way whose route this is."""
        return next(one for one in self.methods if one.key == self.method)

    def headline(self) -> str:
        """What it is and what becomes of it."""
        return self.summary

    def route_key(self) -> str:
        """Each way has a route of its own."""
        return f"{self.work}/{self.method}"

    def main_figure(self) -> tuple[str, str]:
        """What is taken out or set in."""
        return self.lead.figure, self.lead.unit

    def ledgers(self) -> tuple[Ledger, ...]:
        """The ledger of what goes out or comes in; a piece that is cut has its own."""
        if any(blank.role != ROLE for blank in self.blanks):
            return super().ledgers()
        terms = self.chosen.terms
        if not terms:
            return super().ledgers()
        said = "along the neutral line"
        own = Ledger(self.chosen.title, "", terms, total(terms), self.lead.title, said, "")
        return (own, *super().ledgers())

    def to_close(self) -> tuple[str, ...]:
        """A ring that was resized is read from both sides before it is closed."""
        asked = {ask.key for step in self.route for ask in step.measure}
        return tuple(key for key in BOTH_SIDES if key in asked or self.stopped)

    def stops(self) -> str:
        """The step it stops with."""
        return self.route[-1].title if self.stopped else ""

    def stones_set(self) -> int:
        """The stones that come out for the torch and are set again."""
        return (
            sum(one.care in ("out", "off") for one in self.stone_advice)
            if self.does("set") or self.does("glue")
            else 0
        )

    def closes_to_mm(self) -> float | None:
        """The inside diameter [mm] at which its joint closes."""
        return self.closes_mm

    def is_plated(self) -> bool:
        """Whether its route plates it again."""
        return self.does("plate")

    def credited_g(self) -> float:
        """The piece or the old lower part that lands in the drawer, where the shop credits it."""
        return self.offcut_g if self.offcut == "credited" else 0.0

    @property
    def is_set(self) -> bool:
        """Whether anything is on it that bears no stretch and no press."""
        if self.stone_advice or self.head is not None:
            return True
        begun = next(iter(self.start.values()), None)
        return begun is not None and bool(begun.stones or begun.heads or begun.frail or "head-seam" in begun.joined)

    def last_size(self) -> Size | None:
        """How it is brought to its size; None for a way that does not bring it to one."""
        deeds = [deed for step in self.route for deed in step.does if isinstance(deed, Size)]
        return deeds[-1] if deeds else None

    def on_bench(self) -> OnBench:
        """The ring as it came in, in its metal and proportions."""
        return OnBench(
            metal_family=self.metal.family,
            profile=self.section.profile,
            inside_mm=self.sides.from_mm,
            thickness_mm=self.section.thickness_mm,
            width_mm=self.section.width_mm,
            cut_mm=next(iter(self.start.values())).length_mm if self.start else 1.0,
        )


def read_resize(data: object) -> ResizeRequest:
    """An order from plain JSON data; raises BadRequest with every error and its field."""
    return read_request(_READER, data, tags=PART_KEYS)


def resize(data: object) -> ResizePlan:
    """From plain JSON data to a plan; raises BadRequest."""
    order = read_resize(data)
    try:
        return plan_resize(order)
    except CraftError as problem:
        raise BadRequest([problem]) from None


def plan_resize(order: ResizeRequest, stopped: str = "") -> ResizePlan:
    """Plan the resizing of a ring; raises CraftError naming the field, its lengths in the order's own units.

    ``stopped`` is why the work stops once the ring was read: its route ends with that.
    """
    try:
        case = case_of(order)
        judged = judge(case)
        chosen = _left(judged, stopped) if stopped else as_made(case, _chosen(case, judged))
        return _plan(case, judged, chosen, stopped)
    except CraftError as problem:
        raise problem.in_units(order.units) from None


def stopped_plan(order: ResizeRequest, doing: str, why: str) -> ResizePlan:
    """The plan of a ring whose way makes no sense as it was read: it stops, says why and offers what fits now."""
    order = replace(order, join=replace(order.join, heats="one-by-one"))
    case = case_of(order)
    best = judge(case)[0]
    reads = f"It reads {case.now_named(case.inside[0])}"
    if abs(case.change_mm) < HAIR_MM:
        now = "that is the size that was wanted: nothing is done to it, unless its seam is to be joined again"
    elif best.view.advice in {"do", "possible"}:
        now = f"now {best.method.doing} fits, {best.view.lead.figure} {best.view.lead.unit}"
    else:
        now = f"now the best is {best.method.doing}: {best.view.why[0][:1].lower()}{best.view.why[0][1:]}"
    return plan_resize(order, f"{reads}: {doing} does not fit any more{f', {why}' if why else ''}; {now}.")


def _left(judged: Sequence[Judged], stopped: str) -> Judged:
    """A ring whose way ends here: nothing more is cut or set in, whatever fits it now."""
    as_it_is = next((one for one in judged if one.method.key == "refuse"), judged[0])
    lead = Lead("stop", "choose anew", "as it was read its way does not fit")
    return replace(as_it_is, weighed=replace(as_it_is.weighed, says=(stopped,), lead=lead))


def _chosen(case: Case, judged: Sequence[Judged]) -> Judged:
    """The way that was asked for, or the best; raises CraftError for one that cannot be."""
    asked = case.order.method
    if asked is None:
        return judged[0]
    found = next((one for one in judged if one.method.key == asked), None)
    if found is None:
        can = ", ".join(one.method.key for one in judged)
        raise UnknownNameError(
            "method", f"{capital(METHODS[asked].doing)} does not come into it here.", f"It can be {can}."
        )
    if found.view.advice == "never":
        if case.metal.key in BARRED:
            raise UnknownNameError("method", f"No reason makes {case.metal.title} take it.", "It can be refuse.")
        if not case.order.override_reason.strip():
            raise UnknownNameError(
                "override_reason",
                f"Never: {found.view.why[0]}.",
                "Say why it is done all the same; it prints on the ticket.",
            )
    return found


def _plan(case: Case, judged: Sequence[Judged], chosen: Judged, stopped: str = "") -> ResizePlan:
    order, weighed, context = case.order, chosen.weighed, case.context
    surfaces_fit(case)
    blanks = _blanks(case, chosen)
    if chosen.about.problem is not None:
        raise chosen.about.problem
    joints, stones = chosen.about.joints, chosen.about.stones
    method_route = STOP if stopped else chosen.method.route
    parts = parts_beside(context, order.parts if has_finish(method_route) else (), host_of(case))
    start = as_own(context, start_pieces(case, chosen, blanks)) | parts.start()
    shank = make_blank(
        context,
        [Term("ring", "ring", case.neutral[0], "its neutral line as it came in")],
        case.neutral[0],
        BlankSpec(name=RING, title="ring"),
    )
    facts = parts.with_facts(route_facts(case, chosen, blanks, shank, joints, stones))
    titles = {RING: "ring", "offcut": "the piece", **{blank.name: blank.title for blank in (*blanks, *parts.blanks)}}
    target, at = context.target.text, case.now_named(case.inside[0])
    never = chosen.view.advice == "never"
    bench = Doing(start, context.book, heated_by(case, context.book), order.override_reason if never else "")
    if stopped:
        facts = facts.with_({"stop_words": stopped})
    done = worked(method_route, facts, bench, titles, CAME_IN, parts.routes)
    return ResizePlan(
        title=f"resize, {chosen.method.title}",
        summary=f"{case.metal.title} {stock_words(case.section, order.units)}, {at} to {target}",
        metal=MetalView(case.metal.key, case.metal.title, case.metal.family),
        says=(*weighed.says, *parts_say(order, parts)),
        wanted_text=target,
        figures=(*figures_told(case, chosen), *parts.figures),
        blanks=(*blanks, *parts.blanks),
        joints=(*joints, *parts.joints),
        warnings=warnings_of(case, chosen, stones),
        ring=drawing.after(case, chosen),
        across=None,
        start=start,
        route=done.steps,
        unmet=done.unmet,
        engine=__version__,
        method=chosen.method.key,
        lead=weighed.lead,
        change_mm=case.change_mm,
        us_sizes=case.us_sizes,
        methods=tuple(_view((chosen if one.method is chosen.method else one).view, order) for one in judged),
        stone_advice=tuple(replace(one, why=_heats(one.why, order)) for one in stones),
        head=case.head,
        sides=_sides(case),
        target=target_of(context.target.finger),
        section=case.section,
        units=order.units,
        gauge=context.target.gauge,
        wanted_mm=case.inside[1],
        closes_mm=weighed.closes_mm,
        before=drawing.before(case, chosen),
        override=order.override_reason.strip() if never else "",
        risks=risks_of(case, chosen, stones),
        offcut=order.offcut,
        offcut_g=_offcut_mm(chosen) * case.section.area_mm2 * case.metal.density_g_cm3 / 1000,
        fits=fits_of(case),
        stopped=stopped,
        used=_used(order),
    )


def _heats(text: str, order: ResizeRequest) -> str:
    """A text with its temperatures as the shop tells them."""
    return also_fahrenheit(text) if order.degrees == "f" else text


def _view(view: MethodView, order: ResizeRequest) -> MethodView:
    return replace(view, why=tuple(_heats(one, order) for one in view.why))


def _used(order: ResizeRequest) -> ResizeUsed:
    return ResizeUsed(**{one.name: getattr(order, one.name) for one in fields(ResizeUsed)})


def _blanks(case: Case, chosen: Judged) -> tuple[Blank, ...]:
    piece = chosen.weighed.insert
    if piece is None:
        return ()
    spec = BlankSpec(name=INSERT, title=piece.title, role="insert")
    return (make_blank(case.context, piece.terms, piece.finished_mm, spec),)


def _offcut_mm(chosen: Judged) -> float:
    """How long the piece or the old lower part is that comes out [mm]; nought where nothing does."""
    figures = chosen.weighed.figures
    return float(figures.get("piece_mm") or figures.get("lower_mm") or 0.0)


def _sides(case: Case) -> Sides:
    def name(gauge: GaugeUsed | None) -> str:
        return gauge.name if gauge else ""

    return Sides(
        case.inside[0], case.now_named(case.inside[0]), name(case.present.gauge),
        case.inside[1], case.context.target.text, name(case.context.target.gauge),
    )  # fmt: skip


def answer_type() -> TypeAdapter[Any]:
    """How a kept plan of this work is read."""
    return TypeAdapter(ResizePlan)
