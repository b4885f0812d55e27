"""Putting a plan together: what every style answers in the same way, and what it adds of its own."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from ringcraft import __version__
from ringcraft.drawing import rings
from ringcraft.drawing.shapes import Drawing, drawing
from ringcraft.errors import ImpossibleSectionError
from ringcraft.gauges import GaugedScale
from ringcraft.planning.blank import Blank, make_blank
from ringcraft.planning.closing import Closing, WhatIf, closing_of, rule_views, sensitivity_of, what_ifs
from ringcraft.planning.frame import Frame, Turn, stock_words
from ringcraft.planning.joints import Joint, Seam, joints_of
from ringcraft.planning.ledger import Term, total
from ringcraft.planning.request import RingRequest
from ringcraft.planning.terms import eaten_mm, joint_terms, policy_terms, round_terms, rounding_terms
from ringcraft.planning.tolerance import Spread, spread_of
from ringcraft.planning.wanted import Wanted
from ringcraft.routes import route
from ringcraft.routes.building import Added, facts_of, times
from ringcraft.routes.facts import Expected
from ringcraft.sections import PROFILES
from ringcraft.sizes import FingerSize
from ringcraft.styles.base import Figure, MetalView, RingPlan, Style, Taper, TaperMark, Target, Thumb

P = TypeVar("P", bound=RingPlan)


@dataclass(frozen=True)
class Sized:
    """The blank that sets the size, with where it closes. ``exact_mm`` is its length before joint and policy."""

    blank: Blank
    turn: Turn
    closing: Closing
    exact_mm: float


def check_profile(order: RingRequest, profiles: tuple[str, ...], why: str) -> None:
    """Refuse a profile that this style cannot be made from; raises ImpossibleSectionError."""
    if profiles and order.stock.profile not in profiles:
        titles = " or ".join(PROFILES[key].title for key in profiles)
        raise ImpossibleSectionError(
            "stock.profile", f"{why} {PROFILES[order.stock.profile].title}.", f"Use {titles}."
        )


def sized_blank(
    frame: Frame,
    turn: Turn,
    more: Sequence[Term] = (),
    *,
    formed_mm: float | None = None,
    gives_mm: float = 0.0,
    spread: Spread | None = None,
    **blank: Any,
) -> Sized:
    """The blank that sets the size: once round, what the style adds, the joint, the policy, the rounding.

    ``formed_mm`` is what the ring keeps along its neutral line, where that is not the sum before the joint;
    ``gives_mm`` is what of the style's own terms makes the ring larger than asked for;
    ``blank`` is what :func:`make_blank` takes.
    """
    terms = [*round_terms(frame, turn), *more]
    exact = math.fsum(term.mm for term in terms)
    terms += joint_terms(frame.used)
    saws = frame.used.join.saw_passes
    spread = spread or spread_of(frame.used.scatter, turn.thickness_gain, 1 / turn.cut_per_round, saws)
    so_far = math.fsum(term.mm for term in terms)
    terms += policy_terms(frame.used, spread.bias_mm * turn.cut_per_round, so_far)
    cut = total(tuple(terms))
    beyond = cut - eaten_mm(tuple(terms)) - exact + gives_mm
    if callable(blank.get("drawing")):
        blank["drawing"] = blank["drawing"](cut)
    made = make_blank(frame, terms, exact if formed_mm is None else formed_mm, **blank)
    return Sized(made, turn, closing_of(frame, turn, spread, beyond), exact)


def side_blank(frame: Frame, terms: Sequence[Term], *, joined: bool = True, **blank: Any) -> Blank:
    """A blank beside the one that sets the size: its terms, the joint where it has one, the nearest rounding."""
    exact = math.fsum(term.mm for term in terms)
    rest = joint_terms(frame.used) if joined else []
    rest += rounding_terms(frame.used, exact + math.fsum(term.mm for term in rest))
    return make_blank(frame, [*terms, *rest], exact, **blank)


def assemble(
    frame: Frame,
    style: Style,
    kind: type[P],
    sized: Sized,
    *,
    title: str = "",
    blanks: Sequence[Blank] | None = None,
    joints: Sequence[Seam] | None = None,
    ring: Drawing | None = None,
    across: Drawing | None = None,
    figures: Sequence[Figure] = (),
    thumbs: Sequence[Thumb] = (),
    slips: Sequence[WhatIf] = (),
    warnings: Sequence[str] = (),
    words: Mapping[str, str] | None = None,
    holds: Mapping[str, bool] | None = None,
    expected: Mapping[str, Expected] | None = None,
    says: Sequence[str] = (),
    plus_mm: float = 0.0,
    summary: str = "",
    **own: Any,
) -> P:
    """The plan of a style. ``own`` are the fields that its answer has beside every plan's."""
    made = tuple(blanks or (sized.blank,))
    wanted, metal, turn = frame.wanted, frame.metal, sized.turn
    if joints is None:
        joints = (Seam("joint", "the joint", frame.section.width_mm),) if style.joined else ()
    seams: tuple[Joint, ...] = joints_of(metal, joints)
    views = rule_views(frame, turn, plus_mm)
    facts = facts_of(frame, made, seams, sized.closing, Added(words or {}, holds or {}, expected or {}))
    return kind(
        style=style.key,
        title=title or style.title,
        target=target_of(wanted.finger),
        metal=MetalView(metal.key, metal.title, metal.family),
        section=frame.section,
        used=frame.used,
        blanks=made,
        joints=seams,
        by_rule={view.key: view.formed_length_mm for view in views},
        rules=views,
        sensitivity=sensitivity_of(frame, turn),
        closing=sized.closing,
        taper=taper_of(wanted),
        gauge=wanted.gauge,
        wide=wanted.wide,
        wanted_mm=wanted.inside_mm,
        wanted_text=wanted.text,
        wanted_fine_text=wanted.told(wanted.inside_mm),
        says=(*(says or (says_of(frame, sized.closing.text),)), sized.closing.says),
        summary=summary or f"{metal.title} {stock_words(frame.section)}",
        figures=tuple(figures),
        thumbs=tuple(thumbs),
        what_if=(*slips, *what_ifs(frame, turn, sized.closing)),
        warnings=tuple(warnings),
        ring=ring or round_ring(frame),
        across=across,
        route=route(style.route, facts),
        engine=__version__,
        **own,
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
        doing += f", file {join.trim_mm:g} of trim off"
    if join.saw_passes:
        doing += f", then saw through the joint {times(join.saw_passes)}"
    return f"{doing}. It closes at {closes}."


def thumb(title: str, thumb_mm: float, exact_mm: float, what: str = "") -> Thumb:
    """A rule of thumb beside the exact figure."""
    off = thumb_mm - exact_mm
    too = f"{abs(off):.1f} mm too {'much' if off > 0 else 'little'} here"
    says = "the same here" if abs(off) < 0.05 else too
    return Thumb(title, thumb_mm, exact_mm, off, f"{says}{what}")


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
