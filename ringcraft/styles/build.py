"""Putting a plan together: what every style answers in the same way, and what it adds of its own."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from ringcraft import __version__
from ringcraft.drawing.shapes import Drawing
from ringcraft.errors import ImpossibleSectionError
from ringcraft.metals import BLADES
from ringcraft.parts.adding import Beside, parts_beside
from ringcraft.parts.base import ROLE, Host
from ringcraft.planning.blank import PLAIN, Blank, BlankSpec, make_blank
from ringcraft.planning.context import THICKEST_SHARE, LengthModel, RingContext, length_model, stock_words
from ringcraft.planning.finished_size import (
    FinishedSize,
    WhatIf,
    finished_size_of,
    rule_off_mm,
    rule_views,
    sensitivity_of,
    what_ifs,
)
from ringcraft.planning.joints import Joint, Seam, joints_of
from ringcraft.planning.ledger import Term, total
from ringcraft.planning.request import RingRequest
from ringcraft.planning.rules import OWN
from ringcraft.planning.sizing import CAREFUL_STRAIN, Can, Sizing, sizing_of
from ringcraft.planning.surfaces import check as check_surfaces
from ringcraft.planning.terms import (
    eaten_mm,
    joint_terms,
    learnt_term,
    policy_term,
    policy_why,
    round_terms,
    rounding_terms,
)
from ringcraft.planning.tolerance import Spread, spread_of
from ringcraft.routes.building import as_own, facts_of, start_of
from ringcraft.routes.facts import Fact, Facts, StageFacts, StyleFacts
from ringcraft.routes.steps import Step, route
from ringcraft.sections import PROFILES, Section
from ringcraft.styles.base import (
    Choices,
    Figure,
    FinishedRing,
    MetalView,
    OwnFields,
    RingPlan,
    Style,
    Thumb,
)
from ringcraft.styles.own_route import by_own_steps
from ringcraft.styles.telling import read_as, round_ring, rule_warning, says_of, taper_of, target_of
from ringcraft.vbench.pieces import Piece
from ringcraft.vbench.thing import PLAIN_STRAIN, size_strain_limit
from ringcraft.work.fields import FieldSpec, Option
from ringcraft.work.taken import taken_section

P = TypeVar("P", bound=RingPlan)
NOTHING = StyleFacts()
MOST_LEFT = 0.75  # of what a ring is stretched without a thought: left smaller it could not be brought back


@dataclass(frozen=True)
class Growth:
    """What working the blank after it is cut gives back: its line of the ledger, and how much does not grow [mm].

    ``joint_too``: what saw and file take later is worked thinner first.
    """

    key: str
    title: str
    why: str
    stays_mm: float = 0.0
    joint_too: bool = False


@dataclass(frozen=True)
class Sized:
    """The size step of a plan: the ledger of the blank that sets the size, and where it closes.

    ``cut_mm`` is the sum of the terms, ``exact_mm`` its length before joint and policy, ``formed_mm`` what the ring
    keeps along its neutral line by its rule; ``closed_mm`` is how long it really is when it is closed, ``grows_mm``
    how much of that came of working it after it was cut; ``own_mm`` is what the shop's rings come out longer by.
    """

    context: RingContext
    turn: LengthModel
    terms: tuple[Term, ...]
    cut_mm: float
    exact_mm: float
    formed_mm: float
    closed_mm: float
    grows_mm: float
    closing: FinishedSize
    own_mm: float = 0.0

    @property
    def trued_mm(self) -> float:
        """How long it is once it is trued [mm], as the shop's own rings come out."""
        return self.closed_mm + self.own_mm

    @property
    def eaten_mm(self) -> float:
        """What saw, file and trim take [mm]."""
        return eaten_mm(self.terms)

    def inside_mm(self, can: Can = "plain") -> float:
        """The inside diameter [mm] it will have once it is brought to its size."""
        return sizing_of(self.context, self.closing, can).to_mm

    def draw(self, spec: BlankSpec = PLAIN) -> Blank:
        """The drawing step: the blank itself, with what was made for its length."""
        return make_blank(self.context, self.terms, self.formed_mm, spec)


@dataclass(frozen=True, kw_only=True)
class Told:
    """What a style tells of its plan beside every plan's own: words, figures, drawings, facts for its route."""

    title: str = ""
    summary: str = ""
    says: Sequence[str] = ()
    figures: Sequence[Figure] = ()
    thumbs: Sequence[Thumb] = ()
    deviations: Sequence[WhatIf] = ()
    warnings: Sequence[str] = ()
    ring: Drawing | None = None
    across: Drawing | None = None
    fit_table: Choices | None = None
    facts: StyleFacts = NOTHING
    plus_mm: float = 0.0
    as_closed: str = ""
    sizing: Can | None = None
    textured: tuple[str, ...] = ()
    stages: tuple[StageFacts, ...] = ()
    over: Mapping[str, Mapping[str, Fact]] | None = None
    roles: Mapping[str, tuple[str, ...]] | None = None
    start: Mapping[str, Piece] | None = None


def check_profile(order: RingRequest, profiles: tuple[str, ...], why: str) -> None:
    """Refuse a profile that this style cannot be made from; raises ImpossibleSectionError."""
    if profiles and order.stock.profile not in profiles:
        titles = " or ".join(PROFILES[key].title for key in profiles)
        raise ImpossibleSectionError(
            "stock.profile", f"{why} {PROFILES[order.stock.profile].title}.", f"Use {titles}."
        )


def check_flat(order: RingRequest, why: str) -> None:
    """Refuse stock that is not flat; raises ImpossibleSectionError."""
    check_profile(order, tuple(key for key, profile in PROFILES.items() if profile.flat), why)


def size(
    context: RingContext,
    turn: LengthModel,
    more: Sequence[Term] = (),
    *,
    formed_mm: float | None = None,
    gives_mm: float = 0.0,
    grows: Growth | None = None,
    spread: Spread | None = None,
    as_small_as_stretched: bool = False,
    learns: bool = True,
    share: float = 1.0,
    joint_more: Sequence[Term] = (),
) -> Sized:
    """The blank that sets the size: once round, what the style adds, the joint, the policy, the rounding, the growth.

    ``formed_mm`` is what the ring keeps along its neutral line, where that is not the sum before the joint;
    ``gives_mm`` is what of the style's own terms makes the ring larger than asked for. Policy and rounding stand in
    the ledger as what they come to in the ring; a blank that is worked longer after it is cut grows by ``grows``.
    One whose ``spread`` is wide by its making is left no smaller than it can be stretched. ``learns``: what the
    shop's own rings close large by is taken off it, by the ``share`` of the round that it makes. ``joint_more``: what
    its joint eats beside saw, file and trim.
    """
    used, ratio = context.used, turn.cut_per_formed
    terms = [*round_terms(context, turn), *more]
    exact = math.fsum(term.mm for term in terms)
    if spread is None:
        spread = spread_of(
            used.scatter, turn.thickness_gain, 1 / turn.cut_per_round, used.join.saw_passes, context.length
        )
    bias = left_by_mm(context, spread) if as_small_as_stretched else spread.bias_mm
    why = policy_why(used, rule_off_mm(context, turn), spread, bias) if used.leave != "exact" else ""
    policy = policy_term(used, bias * turn.times, why) + (learnt_term(context, turn.times * share) if learns else [])
    learnt = -math.fsum(term.mm for term in policy if term.key == "own")
    joint = [*joint_terms(used), *joint_more]
    eaten = math.fsum(term.mm for term in joint)
    stays = grows.stays_mm if grows else 0.0
    grown = exact + math.fsum(term.mm for term in policy) - stays
    thinned = eaten - used.join.trim_mm if grows and grows.joint_too else 0.0
    grown += thinned
    rounding = rounding_terms(used, stays + eaten - thinned + grown * ratio, used.leave, 1 / ratio)
    grown += math.fsum(term.mm for term in rounding)
    terms += [*joint, *policy, *rounding]
    if grows:
        terms.append(Term(grows.key, grows.title, -grown * (1 - ratio), grows.why))
    cut = total(tuple(terms))
    closed = stays + grown - thinned - context.beyond_mm()
    typed = context.order.own_correction_mm if context.used.rule == OWN else None
    closes_large = learnt / turn.times if typed is None else -typed
    closing = finished_size_of(context, turn, spread, closed + learnt - exact + gives_mm, gives_mm, closes_large)
    return Sized(
        context, turn, tuple(terms), cut, exact, exact if formed_mm is None else formed_mm, closed,
        grown * (1 - ratio), closing, closes_large * turn.times,
    )  # fmt: skip


def opening_cut(context: RingContext) -> Term:
    """What the blade takes where a small round is sawn open again at its joint."""
    kerf = BLADES[context.used.join.blade]
    why = f"the blade, once more through the joint: {context.length(kerf):.2f}"
    return Term("kerf", "sawn open again", kerf, why)


def small_round_word(otherwise: str, when: str = "") -> FieldSpec:
    """The word of an open shank that is first soldered into a small round; ``otherwise`` is what is done if not."""
    choices = (Option("no", otherwise), Option("yes", "soldered into a small round first"))
    return FieldSpec("small_round", "Small round first", ",", kind="yes", first="no", when=when, choices=choices)


def check_small_round(section: Section, small_mm: float) -> None:
    """Refuse a small round [mm inside] that its metal does not go round; raises ImpossibleSectionError."""
    if section.thickness_mm > small_mm * THICKEST_SHARE:
        raise ImpossibleSectionError(
            "small_round", "Closed it is only {small:.1f} inside: metal {thick:g} thick does not go round that.",
            "Leave the small round out.", small=small_mm, thick=section.thickness_mm,
        )  # fmt: skip


def share_round(context: RingContext, gap_mm: float) -> float:
    """How much of the round [-] a ring makes that is left open by a gap [mm] of its neutral line."""
    around = math.pi * context.target.inside_mm + length_model(context).adds(context.used.rule)[0]
    return max(0.0, 1 - gap_mm / around)


def left_by_mm(context: RingContext, spread: Spread) -> float:
    """How far it is left from its figure round [mm]: as its spread asks, no smaller than it can be stretched."""
    if context.used.leave != "small":
        return spread.bias_mm
    most = CAREFUL_STRAIN * size_strain_limit(context.metal.key) / PLAIN_STRAIN * MOST_LEFT
    return min(spread.bias_mm, most * math.pi * context.target.inside_mm)


def side_blank(context: RingContext, terms: Sequence[Term], spec: BlankSpec, *, joined: bool = True) -> Blank:
    """A blank beside the one that sets the size: its terms, the joint where it has one, the nearest rounding."""
    exact = math.fsum(term.mm for term in terms)
    rest = joint_terms(context.used) if joined else []
    rest += rounding_terms(context.used, exact + math.fsum(term.mm for term in rest))
    return make_blank(context, [*terms, *rest], exact, spec)


def assemble(
    style: Style[P],
    sized: Sized,
    blanks: Sequence[Blank],
    told: Told,
    own: OwnFields | None = None,
    joints: Sequence[Seam] | None = None,
) -> P:
    """The plan of a style. ``own`` holds what its answer has beside every plan's; ``joints`` are one by default."""
    context, turn, closing = sized.context, sized.turn, sized.closing
    wanted, metal = context.target, context.metal
    if joints is None:
        one = Seam("joint", "the joint", context.section.width_mm, area_mm2=context.section.area_mm2)
        joints = (one,) if style.joined else ()
    seams: tuple[Joint, ...] = joints_of(metal, joints, context.book, context.order.seam_solders)
    views = rule_views(context, turn, told.plus_mm)
    sizing = sizing_of(context, closing, told.sizing or style.sizing, told.as_closed)
    if context.order.surfaces:
        check_surfaces(context.order.surfaces, metal, told.textured, style.glued)
    beside = parts_beside(context, context.order.parts, _host(sized))
    start = as_own(context, told.start or start_of(context, blanks)) | beside.start()
    taken, steps = _worked(style, sized, blanks, told, seams, sizing, beside, start)
    return style.answer(
        style=style.key,
        title=told.title or style.title,
        target=target_of(wanted.finger),
        metal=MetalView(metal.key, metal.title, metal.family),
        section=context.section,
        used=context.used,
        blanks=taken,
        joints=(*seams, *beside.joints),
        by_rule={view.key: view.formed_length_mm for view in views},
        rules=views,
        sensitivity=sensitivity_of(context, turn),
        closing=closing,
        taper=taper_of(wanted),
        gauge=wanted.gauge,
        wide=wanted.wide,
        wanted_mm=wanted.inside_mm,
        wanted_text=wanted.text,
        wanted_fine_text=wanted.told(wanted.inside_mm),
        says=(*(told.says or (says_of(context, closing.text),)), closing.says, *read_as(context), *beside.says),
        summary=told.summary or f"{metal.title} {taken[0].stock}",
        figures=(*told.figures, *beside.figures),
        thumbs=tuple(told.thumbs),
        fit_table=told.fit_table,
        what_if=(*told.deviations, *what_ifs(context, turn, closing)),
        warnings=(*told.warnings, *rule_warning(context, turn, closing)),
        ring=told.ring or round_ring(context),
        across=told.across,
        finished=FinishedRing(sizing.to_mm, sizing.text, sizing.by, sizing.says),
        start=start,
        route=steps,
        engine=__version__,
        **(vars(own) if own else {}),
    )


def _host(sized: Sized) -> Host:
    """The ring that parts are made for: as it will be, open by its gap where it has one."""
    context = sized.context
    gap = -math.fsum(term.mm for term in sized.terms if term.key == "gap")
    section = context.section
    return Host(sized.closing.inside_diameter_mm, section.thickness_mm, section.width_mm, gap, context.metal)


def _worked(
    style: Style[P],
    sized: Sized,
    blanks: Sequence[Blank],
    told: Told,
    seams: tuple[Joint, ...],
    sizing: Sizing,
    beside: Beside,
    start: Mapping[str, Piece],
) -> tuple[tuple[Blank, ...], tuple[Step, ...]]:
    """The blanks of a ring and of its parts with their stock, and the route as the virtual bench works it."""
    context = sized.context
    titles = {blank.name: blank.title for blank in blanks} | {"ring": "ring", "finished": "finished ring"}
    if type(told.facts) is not style.facts:
        raise TypeError(f"{style.key} tells its route {type(told.facts).__name__}, not {style.facts.__name__}")

    def routed(all_blanks: Sequence[Blank]) -> tuple[Step, ...]:
        facts = facts_of(
            context, [one for one in all_blanks if one.role != ROLE], seams, sized.closing, sizing, told.facts,
            told.textured, told.stages, told.over, sized.own_mm, sized.turn.times, told.roles,
        )  # fmt: skip
        known = beside.with_facts(facts, all_blanks)

        def work(by: Facts) -> tuple[Step, ...]:
            return route(
                style.route, by, start, titles | beside.titles(), book=context.book, parts=beside.routes
            )  # fmt: skip

        return by_own_steps(style.route, known, work) if known.own_steps else work(known)

    return _with_stock(context, (*blanks, *beside.blanks), start, routed)


def _with_stock(
    context: RingContext,
    blanks: Sequence[Blank],
    start: Mapping[str, Piece],
    routed: Callable[[Sequence[Blank]], tuple[Step, ...]],
) -> tuple[tuple[Blank, ...], tuple[Step, ...]]:
    """The blanks with the stock that each is cut from, and the route, whose steps name it too."""
    steps = routed(blanks)
    taken = tuple(replace(one, stock=_taken_words(context, one, start, steps)) for one in blanks)
    same = [one.stock for one in taken] == [one.stock for one in blanks]
    return taken, steps if same else routed(taken)


def _taken_words(context: RingContext, blank: Blank, start: Mapping[str, Piece], steps: Sequence[Step]) -> str:
    """The stock to take out of the drawer for a blank, in words; one that is sawn from a bar keeps the bar's."""
    return stock_words(taken_section(blank, start, steps), context.used.units)
