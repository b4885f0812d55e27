"""The facts of a ring for its route: of the whole, of each blank, of each joint."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ringcraft.metals import BLADES
from ringcraft.planning.blank import Blank, told_at
from ringcraft.planning.closing import Closing
from ringcraft.planning.frame import Frame
from ringcraft.planning.joints import Joint
from ringcraft.routes import WIDE_MM, finish_schedule
from ringcraft.routes.facts import Expected, Facts
from ringcraft.sections import Section

STIFF_STRAIN = 0.08  # strain of the bend from which annealing is pressed for; our own judgement
SHEAR_MM = 0.9  # sheet up to here is sheared; common practice, no published source
TEETH_BLADE_MM = 0.5  # below this even fine blades have fewer than 2.5 teeth in the metal
CONDUCTS_W_MK = 200.0  # from here a ring must be heated as a whole; our own reading of the craft
_TIMES = {0: "never", 1: "once", 2: "twice"}


def times(count: int) -> str:
    """A count in words: once, twice, three times."""
    words = {3: "three", 4: "four", 5: "five"}
    return _TIMES.get(count, f"{words.get(count, str(count))} times")


def bend_strain(section: Section, inside_mm: float) -> float:
    """Strain of the outer skin when the band is bent: t / (2 x neutral radius), a share."""
    neutral_radius = inside_mm / 2 + section.neutral_mm
    return section.thickness_mm / (2 * neutral_radius)


def as_bought(title: str, profile: str, thickness_mm: float, width_mm: float) -> Added:
    """The facts of stock as it comes from the drawer [mm]: what is read on it before anything is done to it.

    They are those of the band's own section unless a style works its stock first: hammered, rolled or folded.
    """
    round_or_square = profile in ("round", "square")
    words = {
        "stock_profile": title if profile == "sheet" else f"{title} wire",
        "bought": f"{thickness_mm:.2f}",
        "width_words": "" if round_or_square else f", {width_mm:.2f} wide",
    }
    width = thickness_mm if round_or_square else width_mm
    expected = {
        "bought": (thickness_mm, f"{thickness_mm:.2f}"),
        "bought-width": (width, f"{width:.2f}"),
    }
    return Added(words, {}, expected)


@dataclass(frozen=True)
class Added:
    """What a style adds to the facts of every ring."""

    words: Mapping[str, str]
    holds: Mapping[str, bool]
    expected: Mapping[str, Expected]


def facts_of(frame: Frame, blanks: Sequence[Blank], joints: Sequence[Joint], closing: Closing, added: Added) -> Facts:
    """The facts of one ring."""
    main, metal = blanks[0], frame.metal
    first = _blank_facts(frame, main)
    roles: dict[str, tuple[str, ...]] = {}
    for blank in blanks:
        roles[blank.role] = (*roles.get(blank.role, ()), blank.name)
    size = (frame.wanted.inside_mm, frame.wanted.text)
    said = {joint.key: _joint_words(frame, joint) for joint in joints}
    return Facts(
        words={
            **_common_words(frame, closing),
            **first.words,
            **(said[joints[0].key] if joints else {}),
            **added.words,
        },
        holds={**_common_holds(frame), **first.holds, **added.holds},
        expected={"size": size, "size-round": size, **first.expected, **_mass(blanks), **added.expected},
        papers=finish_schedule(metal, frame.section.width_mm >= WIDE_MM),
        blanks={blank.name: _blank_facts(frame, blank) for blank in blanks},
        joints=said,
        roles=roles,
    )


def _common_words(frame: Frame, closing: Closing) -> dict[str, str]:
    used, metal = frame.used, frame.metal
    return {
        "metal": metal.title,
        "blade": used.join.blade,
        "kerf": f"{BLADES[used.join.blade]:.2f}",
        "saw_times": times(used.join.saw_passes),
        "file_times": times(max(used.join.file_passes, 1)),
        "trim": f"{used.join.trim_mm:g}",
        "anneal_look": metal.anneal_look,
        "anneal_range": f"{metal.anneal_low_c:.0f} to {metal.anneal_high_c:.0f}",
        "quench": metal.quench,
        "fit_words": {
            "silver": "Silver forgives a hair.",
            "platinum": "Platinum: perfect, or it shows.",
        }.get(metal.family, "Tight: no light at all."),
        "target": frame.wanted.text,
        "closes": closing.text,
        "solder": metal.solder,
        "flow_words": "",
        "flow_figure": "",
        "flow_unit": "°C",
        "chips": "one chip",
    }


def _common_holds(frame: Frame) -> dict[str, bool]:
    used, metal = frame.used, frame.metal
    platinum = metal.family == "platinum"
    return {
        "trimmed": used.join.trim_mm > 0,
        "glare": metal.family in ("platinum", "palladium"),
        "sawn_joint": used.join.saw_passes > 0,
        "filed_joint": used.join.file_passes > 0 or used.join.saw_passes == 0,
        "fluxed": not platinum,
        "unfluxed": platinum,
        "conducts": metal.conductivity_w_mk >= CONDUCTS_W_MK,
        "holds_heat": metal.conductivity_w_mk < CONDUCTS_W_MK,
        "soft": metal.family in ("silver", "yellow-gold", "rose-gold", "copper"),
        "wide": frame.section.width_mm >= WIDE_MM,
        "white_gold": metal.family == "white-gold",
        "left_small": used.leave == "small",
        "left_large": used.leave == "large",
        "left_exact": used.leave == "exact",
    }


def _blank_facts(frame: Frame, blank: Blank) -> Facts:
    section, used = blank.section, frame.used
    flat = section.profile in ("sheet", "rectangle")
    sheared = flat and section.thickness_mm <= SHEAR_MM
    strain = bend_strain(section, frame.wanted.inside_mm)
    bought = as_bought(section.title, section.profile, section.thickness_mm, section.width_mm)
    words = {
        **bought.words,
        "blank": blank.title,
        "stock": blank.stock,
        "thickness": f"{section.thickness_mm:.2f}",
        "cut": blank.cut_text,
        "unit": blank.unit,
        "file_back": told_at(used, blank.cut_length_mm - used.join.trim_mm),
        "strain": f"{100 * strain:.0f}",
        "outside": f"{blank.outside_mm:.2f}",
        "count_words": "" if blank.count == 1 else f", {blank.count} of them",
        "waits": f"Planned until {blank.waits}." if blank.waits else "",
    }
    holds = {
        "sheared_blank": sheared,
        "sawn_blank": not sheared,
        "thin": section.thickness_mm < TEETH_BLADE_MM,
        "stiff": strain >= STIFF_STRAIN,
        "several": blank.count > 1,
    }
    expected: dict[str, Expected] = {
        **bought.expected,
        "thickness": (section.thickness_mm, f"{section.thickness_mm:.2f}"),
        "cut": (blank.cut_length_mm, blank.cut_text),
        "worked": (blank.cut_length_mm, blank.cut_text),
        "outside": (blank.outside_mm, f"{blank.outside_mm:.2f}"),
    }
    return Facts(words, holds, expected, ())


def _mass(blanks: Sequence[Blank]) -> dict[str, Expected]:
    mass = sum(blank.mass_g * blank.count for blank in blanks)
    return {"mass": (mass, f"{mass:.2f}")}


def _joint_words(frame: Frame, joint: Joint) -> dict[str, str]:
    chips = joint.chips
    return {
        "joint": joint.title,
        "solder": joint.solder,
        "flow_words": joint.says,
        "flow_figure": joint.flow or f"below {frame.metal.solidus_c:.0f}",
        "flow_unit": "°C",
        "chips": "one chip" if chips == 1 else f"{chips} chips",
    }
