"""The facts of a ring for its route: of the whole, of each blank, of each joint."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from ringcraft.metals import ALL_METALS, BLADES, SOLDERS, fuels_for
from ringcraft.planning.blank import Blank
from ringcraft.planning.context import RingContext
from ringcraft.planning.finished_size import FinishedSize
from ringcraft.planning.joints import Joint
from ringcraft.planning.ledger import places_for
from ringcraft.planning.made import made_at
from ringcraft.planning.rolling import Stage
from ringcraft.planning.sizing import Sizing
from ringcraft.planning.surfaces import BY_HAND, schedules, surface_facts
from ringcraft.planning.terms import SQUARING_MM
from ringcraft.routes.facts import (
    BlankFacts,
    BoughtFacts,
    Fact,
    Facts,
    JointFacts,
    RingFacts,
    StageFacts,
    StyleFacts,
)
from ringcraft.routes.finishing import finish_schedule
from ringcraft.sections import PROFILES, Section
from ringcraft.units import INCH_MARK, Length, capital
from ringcraft.vbench.pieces import Piece, stock_piece

STIFF_STRAIN = 0.08  # strain of the bend from which annealing is pressed for; our own judgement
SHEAR_MM = 0.9  # sheet up to here is sheared; common practice, no published source
TEETH_BLADE_MM = 0.5  # below this even fine blades have fewer than 2.5 teeth in the metal
ROUNDNESS_MM = 0.05  # how round a band is before another is cut to go over it; our own judgement
#: A chip of solder as benches cut it; common practice, no published source.
CHIP = {"mm": "1 × 1 mm", "in": f"0.04{INCH_MARK} × 0.04{INCH_MARK}"}
_TIMES = {0: "never", 1: "once", 2: "twice"}


def times(count: int) -> str:
    """A count in words: once, twice, three times."""
    words = {3: "three", 4: "four", 5: "five"}
    return _TIMES.get(count, f"{words.get(count, str(count))} times")


def bend_strain(section: Section, inside_mm: float) -> float:
    """Strain of the outer skin when the band is bent: t / (2 x neutral radius), a share."""
    neutral_radius = inside_mm / 2 + section.neutral_mm
    return section.thickness_mm / (2 * neutral_radius)


def as_bought(context: RingContext, profile: str, thickness_mm: float, width_mm: float) -> BoughtFacts:
    """The facts of stock as it comes from the drawer [mm]: what is read on it before anything is done to it.

    They are those of the band's own section unless a style works its stock first: hammered, rolled or folded.
    """
    kind = PROFILES[profile]
    width = thickness_mm if kind.equal_sided else width_mm
    told = Length(width, context.used.units, ".2f")
    return BoughtFacts(
        stock_profile=kind.title if profile == "sheet" else f"{kind.title} wire",
        bought=Length(thickness_mm, context.used.units, ".2f"),
        bought_width=told,
        width_words="" if kind.equal_sided else f", {told} wide",
    )


def facts_of(
    context: RingContext,
    blanks: Sequence[Blank],
    joints: Sequence[Joint],
    closing: FinishedSize,
    sizing: Sizing,
    own: StyleFacts,
    textured: tuple[str, ...] = (),
    stages: tuple[StageFacts, ...] = (),
    over: Mapping[str, Mapping[str, Fact]] | None = None,
    own_mm: float = 0.0,
    times: float = 1.0,
    more_roles: Mapping[str, tuple[str, ...]] | None = None,
) -> Facts:
    """The facts of one ring; ``own_mm`` is what the shop's rings come out longer by than the neutral line says, of a
    ring that is ``times`` as long as once round; ``more_roles`` are what rows are worked for that is no blank.
    """
    roles: dict[str, tuple[str, ...]] = dict(more_roles or {})
    for blank in blanks:
        roles[blank.role] = (*roles.get(blank.role, ()), blank.name)
    ring = RingFacts(
        **metal_facts(context),
        **size_facts(context, closing, sizing, own_mm, times),
        **joining_facts(context),
        at_wheel=context.order.finish_with == "wheel",
        **surface_facts(context.order.surfaces, textured),
    )
    seams = {joint.key: seam_facts(context, joint) for joint in joints}
    first = seams[joints[0].key] if joints else _no_joint(context)
    over = dict(over or {})
    for blank in blanks if context.order.made else ():
        over[blank.name] = {**joint_facts(context, blank.name), **over.get(blank.name, {})}
    papers = papers_of(context)
    surfaces = context.order.surfaces
    return Facts(
        values={**ring.given(), **blank_facts(context, blanks[0]).given(), **first.given(), **own.given()},
        papers=papers,
        minutes=context.order.own.minutes_of(),
        told=context.target.named,
        length=context.length,
        textured=textured,
        schedules=schedules(surfaces, papers, textured) if surfaces or set(textured) - {"outside"} else {},
        finish_by=surfaces.by if surfaces else "grit",
        stages=stages,
        over=over,
        blanks={blank.name: blank_facts(context, blank) for blank in blanks},
        joints=seams,
        roles=roles,
        own_steps=() if context.order.steps_by == "ours" else context.order.own.steps_of(context.order.style),
    )


def papers_of(context: RingContext) -> tuple[str, ...]:
    """The papers and compounds of a ring: by hand, or the shop's own for its metal, or ours."""
    if context.order.finish_with == "hand":
        return BY_HAND
    return context.order.own.papers_for(context.metal) or finish_schedule(context.metal, context.is_wide)


def metal_facts(context: RingContext) -> dict[str, Any]:
    """The facts of a metal for the steps that heat it."""
    metal, family = context.metal, context.metal.of_family
    return {
        "metal": metal.title,
        "anneal_look": metal.anneal_look,
        "anneal_range": f"{metal.anneal_low_c:.0f} to {metal.anneal_high_c:.0f}",
        "quench": metal.quenching.annealed,
        "quench_soldered": metal.quenching.soldered,
        "quench_key": metal.quench,
        "cool_op": metal.quenching.op,
        "fit_words": family.fit_words,
        "flame_words": _flame_words(family.key, family.flame),
        "slumps": family.key == "silver",
        "fahrenheit_too": context.order.degrees == "f",
        "binding": family.binding,
        "glare": family.glare,
        "fluxed": family.fluxed,
        "unfluxed": not family.fluxed,
        "oxidises": metal.oxidises,
        "conducts": metal.conducts,
        "holds_heat": not metal.conducts and metal.is_known,
        "soft": family.soft,
        "white_gold": family.plated,
    }


def _flame_words(family: str, flame: str) -> str:
    """Which flame a family wants, and where not every gas does it which ones do."""
    fuels = fuels_for(family)
    if not flame or not fuels or len(fuels) > 3:
        return flame
    return f"{flame} {capital(' or '.join(one.title for one in fuels))}."


def size_facts(
    context: RingContext, closing: FinishedSize, sizing: Sizing, own_mm: float = 0.0, times: float = 1.0
) -> dict[str, Any]:
    """The facts of where a band closes and how it comes to its size."""
    left = sizing.by == "left"
    kept = left and context.used.leave == "large" and closing.inside_diameter_mm > context.target.inside_mm
    much, how = context.length(abs(own_mm) / times), "longer" if own_mm > 0 else "shorter"
    return {
        "target": context.target.text,
        "closes": closing.text,
        "reads": closing.text,
        "size_title": f"Leave it at {sizing.text}" if left else f"Bring it to {sizing.text}",
        "size_text": sizing.text,
        "size_words": sizing.says,
        "size_by": sizing.by,
        "size_mm": sizing.to_mm,
        "to_size": not left or (sizing.text == context.target.text and not kept),
        "not_to_size": left and sizing.text != context.target.text and not kept,
        "kept_large": kept,
        "own_mm": own_mm,
        "own_words": f"Rings come out {much:.2f} {how} round here than the neutral line says: that is in the length.",
        "own_rule": abs(own_mm) > 1e-9,
        "wide": context.is_wide,
    }


def joining_facts(context: RingContext) -> dict[str, Any]:
    """The facts of how joints are made here: the blade, the trim, the chips."""
    used, join = context.used, context.used.join
    return {
        **joint_facts(context),
        "mm": used.units,
        "blade": join.blade,
        "kerf": Length(BLADES[join.blade], used.units, ".2f"),
        "trim": context.length(join.trim_mm),
        "chip": CHIP[used.units],
        "roundness": context.length(ROUNDNESS_MM),
        "untouched_joint": not join.saw_passes and not join.file_passes,
    }


def joint_facts(context: RingContext, piece: str = "") -> dict[str, Any]:
    """What saw and file do at the joint of a piece: as it was really made, or as planned where nobody said."""
    join, made = context.used.join, made_at(context.order.made, piece)
    passes = join.saw_passes if made.passes is None else made.passes
    filed = max(join.file_passes, 1) if made.filed_mm else join.file_passes
    return {
        "saw_times": times(passes),
        "saw_mm": passes * BLADES[join.blade],
        "saw_passes": passes,
        "sawn_joint": passes > 0,
        "file_times": times(filed),
        "file_mm": join.file_passes * SQUARING_MM + made.filed_mm,
        "file_passes": filed,
        "filed_joint": filed > 0,
    }


def stage_facts(stages: Sequence[Stage], units: str) -> tuple[StageFacts, ...]:
    """The facts of the stages in which a bar is thinned."""
    return tuple(
        StageFacts(
            stage_t=Length(one.thickness_mm, units, ".2f"),
            stage_w=Length(one.width_mm, units, ".2f"),
            stage_length=Length(one.length_mm, units, ".2f"),
            stage_grows=one.grows_mm,
            stage_strain=one.strain,
            reduction=f"{100 * one.reduced:.0f}",
            again=one.again,
            more_follow=one.more_follow,
        )
        for one in stages
    )


def needs_mm(context: RingContext, blank: Blank) -> float:
    """The least length of stock [mm] that a blank is cut from: itself, the cut beside its line, one end squared."""
    return blank.cut_length_mm + BLADES[context.used.join.blade] + SQUARING_MM


def start_of(context: RingContext, blanks: Sequence[Blank]) -> dict[str, Piece]:
    """Every piece as the stock it is cut from, as measured."""
    return {
        blank.name: stock_piece(context.metal.key, blank.section, needs_mm(context, blank), blank.count)
        for blank in blanks
    }


def as_own(context: RingContext, start: Mapping[str, Piece]) -> dict[str, Piece]:
    """The pieces with the shop's own figures of their metal, where it has them."""
    ours, own = ALL_METALS[context.metal.key], context.metal
    if own == ours:
        return dict(start)
    return {
        name: piece.with_(density_g_cm3=own.density_g_cm3, solidus_c=own.solidus_c)
        if piece.metal == own.key
        else piece
        for name, piece in start.items()
    }


def blank_facts(context: RingContext, blank: Blank) -> BlankFacts:
    """The facts of one piece to cut, bent to the inside that its context has."""
    section, used = blank.section, context.used
    sheared = section.flat and section.thickness_mm <= SHEAR_MM
    strain = bend_strain(section, context.target.inside_mm)
    cut = Length(blank.cut_length_mm, used.units, f".{places_for(used.round_to_mm)}f")
    trim = math.fsum(term.mm for term in blank.terms if term.key == "trim")
    kept = blank.cut_length_mm - trim
    # a flat blank is as wide as it is scribed: a plate is wider than the band that it sits on
    wide = blank.width_mm if section.flat else section.width_mm
    return BlankFacts(
        **vars(as_bought(context, section.profile, section.thickness_mm, wide)),
        blank=blank.title,
        piece=blank.name,
        stock=blank.stock,
        unit=blank.unit,
        needs=Length(math.ceil(10 * needs_mm(context, blank)) / 10, used.units, ".1f"),
        cut_mm=blank.cut_length_mm,
        trim_mm=trim,
        trimmed=trim > 0,
        kept_mm=kept,
        width_mm=blank.width_mm,
        neutral_mm=section.neutral_mm,
        bend_strain=strain,
        thickness=Length(section.thickness_mm, used.units, ".2f"),
        cut=cut,
        file_back=Length(kept, used.units, cut.spec),
        outside=Length(blank.outside_mm, used.units, ".2f"),
        inside=Length(blank.outside_mm - 2 * section.thickness_mm, used.units, ".2f"),
        strain=f"{100 * strain:.0f}",
        count_words="" if blank.count == 1 else f", {blank.count} of them",
        waits=f"Planned until {blank.waits}." if blank.waits else "",
        sheared_blank=sheared,
        sawn_blank=not sheared,
        thin=section.thickness_mm < TEETH_BLADE_MM,
        stiff=strain >= STIFF_STRAIN,
        several=blank.count > 1,
    )


def _no_joint(context: RingContext) -> JointFacts:
    solder = SOLDERS[context.metal.solder]
    return JointFacts("", "", solder.title, solder.key, "", "", "°C", "one chip", "", "", 1, False)


def lay_words(form: str, chips: str, chip: str) -> tuple[str, str]:
    """How solder of a form is put to a joint: as a thing, and as what is done."""
    if form == "paste":
        return "a thin line of paste", "draw a thin line of paste along the joint: its flux is in it"
    if form == "wire":
        return (
            "wire, fed once it is hot",
            "touch the wire to the joint once it is hot enough to take it",
        )
    what = f"{chips} of about {chip}"
    cut = ", cut from sheet" if form == "sheet" else ""
    return what, f"lay {what}{cut} across the joint"


def seam_facts(context: RingContext, joint: Joint) -> JointFacts:
    """The facts of one joint."""
    chips = "one chip" if joint.chips == 1 else f"{joint.chips} chips"
    lay, words = lay_words(joint.form, chips, CHIP[context.used.units])
    return JointFacts(
        joint=joint.title,
        joint_key=joint.key,
        solder=joint.solder_title,
        solder_key=joint.solder,
        flow_words=joint.says,
        flow_figure=f"{joint.flows_c:.0f}" if joint.flows_c else f"below {context.metal.solidus_c:.0f}",
        flow_unit="°C",
        chips=chips,
        lay=lay,
        lay_words=words,
        chips_n=joint.chips,
        guarded=joint.guarded,
        at_mm=joint.at_mm,
    )
