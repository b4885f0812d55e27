"""The facts of a band that closes with one soldered joint."""

from __future__ import annotations

import math

from ringcraft.metals import BLADES, SOLDERS, Metal
from ringcraft.planning.band import Blank, Closing
from ringcraft.planning.ledger import places_for
from ringcraft.planning.request import Used
from ringcraft.planning.wanted import Wanted
from ringcraft.planning.words import told
from ringcraft.routes import WIDE_MM, finish_schedule
from ringcraft.routes.facts import Facts
from ringcraft.sections import Section

STIFF_STRAIN = 0.08  # strain of the bend from which annealing is pressed for; our own judgement
SHEAR_MM = 0.9  # sheet up to here is sheared; common practice, no published source
TEETH_BLADE_MM = 0.5  # below this even fine blades have fewer than 2.5 teeth in the metal
CONDUCTS_W_MK = 200.0  # from here a ring must be heated as a whole; our own reading of the craft
CHIP_SPACING_MM = 3.0  # one chip of solder for every 3 mm of joint; common practice
_TIMES = {0: "never", 1: "once", 2: "twice"}


def times(count: int) -> str:
    """A count in words: once, twice, three times."""
    words = {3: "three", 4: "four", 5: "five"}
    return _TIMES.get(count, f"{words.get(count, str(count))} times")


def bend_strain(section: Section, inside_mm: float) -> float:
    """Strain of the outer skin when the band is bent: t / (2 x neutral radius), a share."""
    neutral_radius = inside_mm / 2 + section.neutral_mm
    return section.thickness_mm / (2 * neutral_radius)


def flow_range(metal: Metal) -> str:
    """Where this metal's solder flows, in words; empty where only the maker's sheet knows."""
    solder = SOLDERS.get(metal.solder)
    if solder is None:
        return ""
    low, high = f"{solder.flow_low_c:.0f}", f"{solder.flow_high_c:.0f}"
    return low if low == high else f"{low} to {high}"


def flow_words(metal: Metal) -> str:
    """What to know of this metal's solder: its flow, and how far below the metal's melting it is."""
    solder = SOLDERS.get(metal.solder)
    if solder is None:
        return (
            f"{metal.solder.capitalize()}: read its flow off the maker's sheet; {metal.title} "
            f"begins to melt at {metal.solidus_c:.0f} °C."
        )
    margin = metal.solidus_c - solder.flow_high_c
    close = f" Only {margin:.0f} degrees between: watch it." if margin < 50 else ""
    return f"It flows at {flow_range(metal)} °C; {metal.title} begins to melt at {metal.solidus_c:.0f}.{close}"


def band_facts(used: Used, wanted: Wanted, section: Section, metal: Metal, blank: Blank, closing: Closing) -> Facts:
    """The facts of one plain band."""
    places = places_for(used.round_to_mm)
    chips = max(1, math.ceil(section.width_mm / CHIP_SPACING_MM))
    strain = bend_strain(section, wanted.inside_mm)
    wide = section.width_mm >= WIDE_MM
    flat = section.profile in ("sheet", "rectangle")
    words = {
        "profile": section.title if section.profile == "sheet" else f"{section.title} wire",
        "thickness": f"{section.thickness_mm:.2f}",
        "width_words": "" if section.profile in ("round", "square") else f", {section.width_mm:.2f} wide",
        "cut": blank.cut_text,
        "unit": blank.unit,
        "trim": f"{used.join.trim_mm:g}",
        "file_back": told(blank.cut_length_mm - used.join.trim_mm, used.units, places),
        "metal": metal.title,
        "blade": used.join.blade,
        "kerf": f"{BLADES[used.join.blade]:.2f}",
        "saw_times": times(used.join.saw_passes),
        "file_times": times(max(used.join.file_passes, 1)),
        "anneal_look": metal.anneal_look,
        "anneal_range": f"{metal.anneal_low_c:.0f} to {metal.anneal_high_c:.0f}",
        "quench": metal.quench,
        "strain": f"{100 * strain:.0f}",
        "solder": metal.solder,
        "flow_words": flow_words(metal),
        "flow_figure": flow_range(metal) or f"below {metal.solidus_c:.0f}",
        "flow_unit": "°C",
        "chips": "one chip" if chips == 1 else f"{chips} chips",
        "fit_words": {
            "silver": "Silver forgives a hair.",
            "platinum": "Platinum: perfect, or it shows.",
        }.get(metal.family, "Tight: no light at all."),
        "target": wanted.text,
        "closes": closing.text,
    }
    platinum = metal.family == "platinum"
    holds = {
        "trimmed": used.join.trim_mm > 0,
        "sheared_blank": flat and section.thickness_mm <= SHEAR_MM,
        "sawn_blank": not (flat and section.thickness_mm <= SHEAR_MM),
        "thin": section.thickness_mm < TEETH_BLADE_MM,
        "stiff": strain >= STIFF_STRAIN,
        "glare": metal.family in ("platinum", "palladium"),
        "sawn_joint": used.join.saw_passes > 0,
        "filed_joint": used.join.file_passes > 0 or used.join.saw_passes == 0,
        "fluxed": not platinum,
        "unfluxed": platinum,
        "conducts": metal.conductivity_w_mk >= CONDUCTS_W_MK,
        "holds_heat": metal.conductivity_w_mk < CONDUCTS_W_MK,
        "soft": metal.family in ("silver", "yellow-gold", "rose-gold", "copper"),
        "wide": wide,
        "white_gold": metal.family == "white-gold",
        "left_small": used.leave == "small",
        "left_large": used.leave == "large",
        "left_exact": used.leave == "exact",
    }
    expected: dict[str, tuple[float | None, str]] = {
        "thickness": (section.thickness_mm, f"{section.thickness_mm:.2f}"),
        "width": (section.width_mm, f"{section.width_mm:.2f}"),
        "cut": (blank.cut_length_mm, blank.cut_text),
        "size": (wanted.inside_mm, wanted.text),
        "mass": (blank.mass_g, f"{blank.mass_g:.2f}"),
    }
    return Facts(words, holds, expected, finish_schedule(metal, wide))
