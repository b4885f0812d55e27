"""Putting a plan together: what every style answers in the same way, and what it adds of its own."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

from ringcraft import __version__
from ringcraft.drawing import rings
from ringcraft.drawing.shapes import Drawing, drawing
from ringcraft.errors import ImpossibleSectionError
from ringcraft.gauges import GaugedScale
from ringcraft.planning.blank import PLAIN, Blank, BlankSpec, make_blank
from ringcraft.planning.closing import Closing, WhatIf, closing_of, rule_views, sensitivity_of, what_ifs
from ringcraft.planning.frame import Frame, Turn, stock_words
from ringcraft.planning.joints import Joint, Seam, joints_of
from ringcraft.planning.ledger import Term, total
from ringcraft.planning.request import RingRequest
from ringcraft.planning.terms import eaten_mm, joint_terms, policy_terms, round_terms, rounding_terms
from ringcraft.planning.tolerance import Spread, spread_of
from ringcraft.planning.wanted import Wanted
from ringcraft.routes import route
from ringcraft.routes.building import facts_of, times
from ringcraft.routes.facts import StyleFacts
from ringcraft.sections import PROFILES
from ringcraft.sizes import FingerSize
from ringcraft.styles.base import (
    Figure,
    Fits,
    MetalView,
    OwnFields,
    RingPlan,
    Style,
    Taper,
    TaperMark,
    Target,
    Thumb,
)

P = TypeVar("P", bound=RingPlan)
NOTHING = StyleFacts()


@dataclass(frozen=True)
class Sized:
    """The size step of a plan: the ledger of the blank that sets the size, and where it closes.

    ``cut_mm`` is the sum of the terms, ``exact_mm`` its length before joint and policy, ``formed_mm`` what the ring
    keeps along its neutral line.
    """

    frame: Frame
    turn: Turn
    terms: tuple[Term, ...]
    cut_mm: float
    exact_mm: float
    formed_mm: float
    closing: Closing

    def draw(self, spec: BlankSpec = PLAIN) -> Blank:
        """The drawing step: the blank itself, with what was made for its length."""
        return make_blank(self.frame, self.terms, self.formed_mm, spec)


@dataclass(frozen=True, kw_only=True)
class Told:
    """What a style tells of its plan beside every plan's own: words, figures, drawings, facts for its route."""

    title: str = ""
    summary: str = ""
    says: Sequence[str] = ()
    figures: Sequence[Figure] = ()
    thumbs: Sequence[Thumb] = ()
    slips: Sequence[WhatIf] = ()
    warnings: Sequence[str] = ()
    ring: Drawing | None = None
    across: Drawing | None = None
    fit_table: Fits | None = None
    facts: StyleFacts = NOTHING
    plus_mm: float = 0.0


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
    frame: Frame,
    turn: Turn,
    more: Sequence[Term] = (),
    *,
    formed_mm: float | None = None,
    gives_mm: float = 0.0,
    spread: Spread | None = None,
) -> Sized:
    """The blank that sets the size: once round, what the style adds, the joint, the policy, the rounding.

    ``formed_mm`` is what the ring keeps along its neutral line, where that is not the sum before the joint;
    ``gives_mm`` is what of the style's own terms makes the ring larger than asked for.
    """
    terms = [*round_terms(frame, turn), *more]
    exact = math.fsum(term.mm for term in terms)
    terms += joint_terms(frame.used)
    saws = frame.used.join.saw_passes
    if spread is None:
        spread = spread_of(frame.used.scatter, turn.thickness_gain, 1 / turn.cut_per_round, saws, frame.length)
    so_far = math.fsum(term.mm for term in terms)
    terms += policy_terms(frame.used, spread.bias_mm * turn.cut_per_round, so_far)
    cut = total(tuple(terms))
    beyond = cut - eaten_mm(tuple(terms)) - exact + gives_mm
    closing = closing_of(frame, turn, spread, beyond)
    return Sized(frame, turn, tuple(terms), cut, exact, exact if formed_mm is None else formed_mm, closing)


def side_blank(frame: Frame, terms: Sequence[Term], spec: BlankSpec, *, joined: bool = True) -> Blank:
    """A blank beside the one that sets the size: its terms, the joint where it has one, the nearest rounding."""
    exact = math.fsum(term.mm for term in terms)
    rest = joint_terms(frame.used) if joined else []
    rest += rounding_terms(frame.used, exact + math.fsum(term.mm for term in rest))
    return make_blank(frame, [*terms, *rest], exact, spec)


def assemble(
    style: Style[P],
    sized: Sized,
    blanks: Sequence[Blank],
    told: Told,
    own: OwnFields | None = None,
    joints: Sequence[Seam] | None = None,
) -> P:
    """The plan of a style. ``own`` holds what its answer has beside every plan's; ``joints`` are one by default."""
    frame, turn, closing = sized.frame, sized.turn, sized.closing
    wanted, metal = frame.wanted, frame.metal
    if joints is None:
        joints = (Seam("joint", "the joint", frame.section.width_mm),) if style.joined else ()
    seams: tuple[Joint, ...] = joints_of(metal, joints)
    views = rule_views(frame, turn, told.plus_mm)
    if type(told.facts) is not style.facts:
        raise TypeError(f"{style.key} tells its route {type(told.facts).__name__}, not {style.facts.__name__}")
    return style.answer(
        style=style.key,
        title=told.title or style.title,
        target=target_of(wanted.finger),
        metal=MetalView(metal.key, metal.title, metal.family),
        section=frame.section,
        used=frame.used,
        blanks=tuple(blanks),
        joints=seams,
        by_rule={view.key: view.formed_length_mm for view in views},
        rules=views,
        sensitivity=sensitivity_of(frame, turn),
        closing=closing,
        taper=taper_of(wanted),
        gauge=wanted.gauge,
        wide=wanted.wide,
        wanted_mm=wanted.inside_mm,
        wanted_text=wanted.text,
        wanted_fine_text=wanted.told(wanted.inside_mm),
        says=(*(told.says or (says_of(frame, closing.text),)), closing.says),
        summary=told.summary or f"{metal.title} {stock_words(frame.section, frame.used.units)}",
        figures=tuple(told.figures),
        thumbs=tuple(told.thumbs),
        fit_table=told.fit_table,
        what_if=(*told.slips, *what_ifs(frame, turn, closing)),
        warnings=tuple(told.warnings),
        ring=told.ring or round_ring(frame),
        across=told.across,
        route=route(style.route, facts_of(frame, blanks, seams, closing, told.facts)),
        engine=__version__,
        **(vars(own) if own else {}),
    )


def round_ring(frame: Frame) -> Drawing:
    """The finished ring of one closed band."""
    inner = frame.wanted.inside_mm / 2
    outer = inner + frame.section.thickness_mm
    return drawing([rings.band(inner, outer)], [rings.joint(inner, outer)])


def says_of(frame: Frame, closes: str, doing: str = "Mark and cut") -> str:
    """What to do with the figure, and where that leads."""
    join = frame.used.join
    if join.trim_mm:
        doing += f", file {frame.length(join.trim_mm):g} of trim off"
    if join.saw_passes:
        doing += f", then saw through the joint {times(join.saw_passes)}"
    return f"{doing}. It closes at {closes}."


def thumb(frame: Frame, title: str, thumb_mm: float, exact_mm: float, what: str = "") -> Thumb:
    """A rule of thumb beside the exact figure."""
    off = thumb_mm - exact_mm
    too = f"{frame.length(abs(off)):.1f mm} too {'much' if off > 0 else 'little'} here"
    says = "the same here" if abs(off) < 0.05 else too
    return Thumb(title, thumb_mm, exact_mm, off, f"{says}{what}")


def length_figure(frame: Frame, key: str, title: str, mm: float, spec: str, why: str) -> Figure:
    """A figure of a plan that is a length [mm], written as the shop writes it."""
    return Figure(key, title, mm, f"{frame.length(mm):{spec}}", why)


def target_of(size: FingerSize) -> Target:
    """The finger as the plan answers it."""
    return Target(size.inside_diameter_mm, size.circumference_mm, size.sizes, size.numbers, size.read_as, size.text)


def taper_of(wanted: Wanted) -> Taper:
    """The mandrel three sizes either side of the wanted one, with its halves; its own marks if it has a gauge."""
    scale = wanted.scale
    middle = round(scale.number(wanted.inside_mm))
    marks = []
    for half in range(-6, 7):
        number = middle + half / 2
        if scale.holds(number):
            label = scale.label(number) if half % 2 == 0 else ""
            marks.append(TaperMark(label, scale.diameter_mm(number)))
    title = scale.gauge_name if isinstance(scale, GaugedScale) else f"{scale.title} scale"
    return Taper(title, tuple(marks))
