"""The facts of a ring for its route: of the whole, of each blank, of each joint."""

from __future__ import annotations

from collections.abc import Sequence

from ringcraft.metals import BLADES
from ringcraft.planning.blank import Blank
from ringcraft.planning.context import RingContext
from ringcraft.planning.finished_size import FinishedSize
from ringcraft.planning.joints import Joint
from ringcraft.planning.ledger import places_for
from ringcraft.routes.facts import BlankFacts, BoughtFacts, Expected, Facts, JointFacts, RingFacts, StyleFacts
from ringcraft.routes.steps import finish_schedule
from ringcraft.sections import PROFILES, Section
from ringcraft.units import INCH_MARK, Length

STIFF_STRAIN = 0.08  # strain of the bend from which annealing is pressed for; our own judgement
SHEAR_MM = 0.9  # sheet up to here is sheared; common practice, no published source
TEETH_BLADE_MM = 0.5  # below this even fine blades have fewer than 2.5 teeth in the metal
CONDUCTS_W_MK = 200.0  # from here a ring must be heated as a whole; our own reading of the craft
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
    context: RingContext, blanks: Sequence[Blank], joints: Sequence[Joint], closing: FinishedSize, own: StyleFacts
) -> Facts:
    """The facts of one ring."""
    roles: dict[str, tuple[str, ...]] = {}
    for blank in blanks:
        roles[blank.role] = (*roles.get(blank.role, ()), blank.name)
    ring = _ring_facts(context, blanks, closing)
    seams = {joint.key: _joint_facts(context, joint) for joint in joints}
    first = seams[joints[0].key] if joints else _no_joint(context)
    return Facts(
        values={**ring.given(), **_blank_facts(context, blanks[0]).given(), **first.given(), **own.given()},
        papers=finish_schedule(context.metal, ring.wide),
        blanks={blank.name: _blank_facts(context, blank) for blank in blanks},
        joints=seams,
        roles=roles,
    )


def _ring_facts(context: RingContext, blanks: Sequence[Blank], closing: FinishedSize) -> RingFacts:
    used, metal, family = context.used, context.metal, context.metal.of_family
    size = Expected(context.target.inside_mm, context.target.text)
    mass = sum(blank.mass_g * blank.count for blank in blanks)
    conducts = metal.conductivity_w_mk >= CONDUCTS_W_MK
    return RingFacts(
        metal=metal.title,
        mm=used.units,
        blade=used.join.blade,
        kerf=Length(BLADES[used.join.blade], used.units, ".2f"),
        saw_times=times(used.join.saw_passes),
        file_times=times(max(used.join.file_passes, 1)),
        trim=context.length(used.join.trim_mm),
        chip=CHIP[used.units],
        roundness=context.length(ROUNDNESS_MM),
        anneal_look=metal.anneal_look,
        anneal_range=f"{metal.anneal_low_c:.0f} to {metal.anneal_high_c:.0f}",
        quench=metal.quench,
        fit_words=family.fit_words,
        target=context.target.text,
        closes=closing.text,
        size=size,
        size_round=size,
        mass=Expected(mass, f"{mass:.2f}"),
        trimmed=used.join.trim_mm > 0,
        glare=family.glare,
        sawn_joint=used.join.saw_passes > 0,
        filed_joint=used.join.file_passes > 0 or used.join.saw_passes == 0,
        fluxed=family.fluxed,
        unfluxed=not family.fluxed,
        conducts=conducts,
        holds_heat=not conducts,
        soft=family.soft,
        wide=context.is_wide,
        white_gold=family.plated,
        left_small=used.leave == "small",
        left_large=used.leave == "large",
        left_exact=used.leave == "exact",
    )


def _blank_facts(context: RingContext, blank: Blank) -> BlankFacts:
    section, used = blank.section, context.used
    sheared = section.flat and section.thickness_mm <= SHEAR_MM
    strain = bend_strain(section, context.target.inside_mm)
    cut = Length(blank.cut_length_mm, used.units, f".{places_for(used.round_to_mm)}f")
    return BlankFacts(
        **vars(as_bought(context, section.profile, section.thickness_mm, section.width_mm)),
        blank=blank.title,
        stock=blank.stock,
        unit=blank.unit,
        thickness=Length(section.thickness_mm, used.units, ".2f"),
        cut=cut,
        worked=cut,
        file_back=Length(blank.cut_length_mm - used.join.trim_mm, used.units, cut.spec),
        outside=Length(blank.outside_mm, used.units, ".2f"),
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
    return JointFacts("", context.metal.solder, "", "", "°C", "one chip")


def _joint_facts(context: RingContext, joint: Joint) -> JointFacts:
    return JointFacts(
        joint=joint.title,
        solder=joint.solder,
        flow_words=joint.says,
        flow_figure=joint.flow or f"below {context.metal.solidus_c:.0f}",
        flow_unit="°C",
        chips="one chip" if joint.chips == 1 else f"{joint.chips} chips",
    )
