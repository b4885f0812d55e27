"""What a card opens at a joint and at a heat: the questions with all that is known of the work filled in."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ringcraft.heat.asking import HeatedSeam, HeatRequest
from ringcraft.heat.colours import GLOWS, Glow, glow_words
from ringcraft.heat.flux import KINDS, flux_of, stages
from ringcraft.heat.torch import Torches
from ringcraft.joint.asking import (
    ACROSS_VIEWS,
    SIDE_VIEWS,
    SIDES,
    TRIED_SO_FAR,
    VIEWS,
    Chip,
    JointRequest,
    OtherSeam,
    RingAtJoint,
)
from ringcraft.joint.chips import Amount, amounts, amounts_of
from ringcraft.joint.seams import metal_words, solidus_margin_c
from ringcraft.metals import BLADES, Metal, Solder, SolderBook
from ringcraft.planning.joints import CHIP_MM3, FIRST_SEAM, solder_book
from ringcraft.planning.made import beyond_mm, made_at
from ringcraft.routes.steps import Step
from ringcraft.sections import Stock
from ringcraft.units import capital
from ringcraft.vbench.thing import place_on
from ringcraft.work.joining import (
    NO_LOOKS,
    WATER_SHARE,
    AtJoint,
    JointLook,
    SeamLine,
    inner_piece,
    insert_mm,
    joint_at,
    joints_at,
    passes_planned,
    places_of,
    reckoned_flow_c,
    seam_lines,
    seam_title,
    seams_before,
    section_at,
    solder_of,
    stock_of,
)
from ringcraft.work.order import AtSheet, HeatedStone, WorkOrder
from ringcraft.work.plan import WorkPlan


@dataclass(frozen=True)
class SheetChoice:
    """Something a sheet can be set to; of a solder also where it melts and flows, in words."""

    key: str
    title: str
    flow: str = ""


@dataclass(frozen=True)
class ViewChoice:
    """One of the five views of a joint, with the words that it can show."""

    key: str
    title: str
    words: tuple[SheetChoice, ...]


@dataclass(frozen=True)
class AnnealView:
    """An annealing: how hot [C], which colour, how often the work has been in the fire so far.

    ``strip`` are the colours of heat up to a step beyond, for drawing beside the range.
    """

    low_c: float
    high_c: float
    range_text: str
    glow: str
    flux_cue: str
    heated: str
    too_hot: str
    strip: tuple[Glow, ...]


@dataclass(frozen=True)
class JoinSheet:
    """What a step opens: the joint as it is looked at, the ring in the flame, all seams, or an annealing.

    ``reckoned`` says where a flow is only reckoned; ``fluxes`` are the kinds there are. ``apart_mm`` is how far the
    two seams of an insert are apart, told at the first of them: the route solders one after the other. ``amounts``
    is how much solder, ``metal_says`` what the flow leaves to the metal itself. ``views`` and ``tried`` are the words
    of a joint.
    """

    step: str
    joint_title: str
    solder: str
    solders: tuple[SheetChoice, ...]
    joint: JointRequest | None
    heat: HeatRequest | None
    seams: tuple[SeamLine, ...]
    reckoned: str
    fluxes: tuple[SheetChoice, ...]
    anneal: AnnealView | None
    amounts: tuple[Amount, ...] = ()
    metal_says: str = ""
    views: tuple[ViewChoice, ...] = ()
    tried: tuple[SheetChoice, ...] = ()
    apart_mm: float = 0.0


def _choice_list(titles: Mapping[str, str]) -> tuple[SheetChoice, ...]:
    return tuple(SheetChoice(key, title) for key, title in titles.items())


VIEW_CHOICES = tuple(
    ViewChoice(key, title, _choice_list(SIDE_VIEWS if key in SIDES else ACROSS_VIEWS)) for key, title in VIEWS.items()
)
Opens = Literal["joint", "heat", "anneal"]


def opens(plan: WorkPlan) -> dict[str, Opens]:
    """What each step of a plan opens beside its words, by what it does; a step that opens nothing is not in."""
    out: dict[str, Opens] = {
        step.key: "anneal" for step in plan.route if any(deed.op == "anneal" for deed in step.does)
    }
    return out | {at.step.key: "joint" if at.deed is None else "heat" for at in joints_at(plan) if at.before}


@dataclass(frozen=True)
class _Open:
    """What is open: the order, what its kind of work answers, the plan then and now, the step, the looks taken."""

    order: WorkOrder
    about: AtSheet
    plan: WorkPlan
    now: WorkPlan
    looks: Mapping[str, JointLook]
    torches: Torches


def sheet_at(
    order: WorkOrder,
    about: AtSheet,
    plan: WorkPlan,
    now: WorkPlan,
    step_key: str,
    times: Mapping[str, int],
    looks: Mapping[str, JointLook] = NO_LOOKS,
    torches: Torches = (),
) -> JoinSheet | None:
    """What the step of a kept plan opens; None where it is no joint and no heat.

    ``order`` is the typed order, ``about`` what its kind of work answers of it, ``now`` the plan for what was
    measured and made, ``times`` how often each step was done; an older plan whose steps stand as they were kept opens
    what they say.
    """
    step = next((one for one in now.route if one.key == step_key), None)
    if step is None:
        return None
    at = joint_at(now, step_key)
    if at is not None and at.before:
        return _at_joint(_Open(order, about, plan, now, looks, torches), at)
    if any(deed.op == "anneal" for deed in step.does):
        return _annealing(order, now, step, times)
    return None


def _metal_of(order: WorkOrder, at: AtJoint) -> Metal:
    metal: Metal = order.own.metal(inner_piece(at).of)
    return metal


def _at_joint(case: _Open, at: AtJoint) -> JoinSheet:
    order, now = case.order, case.now
    book = solder_book(order.solders)
    solder = solder_of(now, at, book)
    metal = _metal_of(order, at)
    flow, reckoned = reckoned_flow_c(now, at, solder)
    title = seam_title(now, at.joint) if at.joint else "the joint"
    said = (
        f"Where {solder.title} flows is on its maker’s sheet: reckoned here with {flow:.0f}, until you write it."
        if reckoned
        else ""
    )
    return JoinSheet(
        step=at.step.key,
        joint_title=title,
        solder=solder.key,
        solders=_choices(solder, metal, book),
        joint=_joint(case, at, solder) if at.deed is None else None,
        heat=_heat(case, at, flow, solder) if at.deed is not None else None,
        seams=seam_lines(now, at.joint, book),
        reckoned=said if at.deed is not None else "",
        fluxes=tuple(SheetChoice(key, row["title"]) for key, row in KINDS.items()),
        anneal=None,
        amounts=_amounts(order.units, now, at, case.looks),
        views=VIEW_CHOICES if at.deed is None else (),
        tried=_choice_list(TRIED_SO_FAR),
        metal_says=metal_words(metal, solder, solidus_margin_c(metal, solder)),
        apart_mm=insert_mm(now, at) if at.joint == FIRST_SEAM else 0.0,
    )


def _choices(solder: Solder, metal: Metal, book: SolderBook) -> tuple[SheetChoice, ...]:
    """The grades of a series that this metal bears."""
    return tuple(
        SheetChoice(one.key, one.title, one.flow)
        for one in book.values()
        if one.series == solder.series and (one.flows_c is None or one.flows_c < metal.solidus_c)
    )


def _joint(case: _Open, at: AtJoint, solder: Solder) -> JointRequest:
    order, about, now = case.order, case.about, case.now
    piece, section = inner_piece(at), section_at(now, at)
    kept = joint_at(case.plan, at.step.key)
    planned = passes_planned(case.plan, kept) if kept else 0
    made = made_at(order.made, at.piece)
    beyond = beyond_mm(made, planned, BLADES[about.blade]) / piece.times
    sets_size = now.sets_size(at.piece)
    closes = now.closes_to_mm()
    return JointRequest(
        metal=piece.metal,
        ring=RingAtJoint(inside_diameter_mm=piece.inside_mm + beyond / math.pi, stock=Stock(**stock_of(section))),
        passes_made=planned if made.passes is None else made.passes,
        passes_planned=planned,
        filed_mm=made.filed_mm,
        blade=about.blade,
        seams=tuple(
            OtherSeam(key=key, title=seam_title(now, key), solder=old, guarded=guarded)
            for key, old, guarded in seams_before(now, at)
        ),
        solder=solder.key,
        wanted_mm=now.wanted_mm if sets_size else None,
        later_mm=closes - piece.inside_mm if sets_size and closes is not None else 0.0,
        solders=order.solders,
        own=order.own,
        home_scale=about.scale,
        gauge=about.gauge,
        units=order.units,
    )


def _amounts(units: str, now: WorkPlan, at: AtJoint, looks: Mapping[str, JointLook]) -> tuple[Amount, ...]:
    """How much solder the joint of a step wants, in every form: for its gap and its chips as they were seen."""
    joint = next((one for one in now.joints if one.key == at.joint), None)
    if at.deed is None or joint is None:
        return ()
    seen = [looks[one.step.key] for one in joints_at(now) if one.joint == at.joint and one.step.key in looks]
    look = next((one for one in reversed(seen) if one.chip), JointLook())
    chip, section = Chip(**look.chip) if look.chip else Chip(), section_at(now, at)
    fluxed = inner_piece(at).of.of_family.fluxed
    if len(at.deed.pieces) == 1 and abs(joint.length_mm - section.width_mm) < 1e-6:
        return amounts(section, look.gap_mm, chip, units, at.deed.side, fluxed)
    volume = joint.chips * CHIP_MM3
    count = max(joint.chips, math.ceil(volume / chip.mm3 - 1e-9))
    return amounts_of(volume, count, chip, None, units, at.deed.side, fluxed)


def _heat(case: _Open, at: AtJoint, flow_c: float, solder: Solder) -> HeatRequest:
    order, now = case.order, case.now
    stone = _stone_at(at) or (case.about.stone if not inner_piece(at).stones else None)
    piece, section, places = inner_piece(at), section_at(now, at), places_of(now, at)
    names = at.deed.pieces if at.deed else (at.piece,)
    all_mm3 = sum(at.before[name].volume_mm3 * at.before[name].count for name in names)
    book = solder_book(order.solders)
    return HeatRequest(
        metal=piece.metal,
        ring=RingAtJoint(inside_diameter_mm=max(piece.inside_mm, 4.0), stock=Stock(**stock_of(section))),
        water_share=WATER_SHARE if stone is not None and stone.in_water else None,
        flow_c=flow_c,
        seams=tuple(
            HeatedSeam(
                key=key,
                title=seam_title(now, key),
                at_mm=places[key],
                melts_c=book[old].melts_c,
                guarded=guarded,
                above=_is_above(book[old], solder),
            )
            for key, old, guarded in seams_before(now, at)
        ),
        stone=stone.kind if stone else None,
        stone_at_mm=stone.at_mm if stone else None,
        inlay=case.about.inlay,
        with_it_mm3=max(0.0, all_mm3 - piece.volume_mm3),
        solder=solder.key,
        torches=case.torches,
        solders=order.solders,
        own=order.own,
        units=order.units,
    )


def _stone_at(at: AtJoint) -> HeatedStone | None:
    """The stone that is nearest to what it bears while this very joint flows: its near edge, its water."""
    piece, deed = inner_piece(at), at.deed
    seats = {one.stone: one for one in deed.seats} if deed else {}
    there = [one for one in piece.stones_in if one.id in seats]
    if not there or deed is None:
        return None
    stone = max(there, key=lambda one: seats[one.id].high_c - one.limit_c)
    side = place_on(stone.at_mm - (deed.at_mm or 0.0), piece.length_mm)
    near = min(seats[stone.id].near_mm, piece.length_mm / 2)
    return HeatedStone(stone.kind, math.copysign(near, side), seats[stone.id].wet, bool(stone.coats))


def _is_above(old: Solder, new: Solder) -> bool:
    """Whether an earlier seam is of a higher grade, where no figure says how far."""
    return old.melts_c is None and old.series == new.series and old.rank < new.rank


def _annealing(order: WorkOrder, now: WorkPlan, step: Step, times: Mapping[str, int]) -> JoinSheet:
    names = [deed.piece for deed in step.does if deed.op == "anneal"]
    piece = step.after[names[0]]
    metal: Metal = order.own.metal(piece.of)
    view = anneal_view(metal, *heated(now, times))
    return JoinSheet(step.key, "", "", (), None, None, (), "", (), view)


def heated(now: WorkPlan, times: Mapping[str, int]) -> tuple[int, int]:
    """How often the work has been annealed, and how often soldered, so far."""
    annealed = sum(times.get(one.key, 0) for one in now.route if any(deed.op == "anneal" for deed in one.does))
    soldered = sum(times.get(one.key, 0) for one in now.route if any(deed.op == "solder" for deed in one.does))
    return annealed, soldered


def anneal_view(metal: Metal, annealed: int = 0, soldered: int = 0) -> AnnealView:
    """An annealing of a metal, as a bench sees it."""
    low, high = metal.anneal_low_c, metal.anneal_high_c
    cue = ""
    if metal.of_family.fluxed:
        stage = next(one for one in reversed(stages(flux_of(metal), None)[:-1]) if (one.from_c or 0.0) <= high)
        cue = f"A dab of flux on it is {stage.title} by then: {stage.look}."
    shown = [one for one in GLOWS if one.from_c <= high]
    melts = f"{metal.title} begins to melt at {metal.solidus_c:.0f}"
    beyond = GLOWS[min(len(shown), len(GLOWS) - 1)]
    before = []
    if annealed:
        before.append("once annealed" if annealed == 1 else f"annealed {annealed} times")
    if soldered:
        before.append("once soldered" if soldered == 1 else f"soldered {soldered} times")
    heated_words = f"In the fire so far: {', '.join(before)}." if before else "Not in the fire yet."
    return AnnealView(
        low_c=low,
        high_c=high,
        range_text=f"{low:.0f} to {high:.0f}",
        glow=glow_words(low if high < GLOWS[1].from_c else max(low, GLOWS[1].from_c), high),
        flux_cue=cue,
        heated=heated_words,
        too_hot=f"{capital(beyond.title)}, from {beyond.from_c:.0f}, is too hot; {melts}.",
        strip=(*shown, *([beyond] if beyond not in shown else [])),
    )
