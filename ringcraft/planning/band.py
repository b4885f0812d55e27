"""A straight blank that closes into a ring: its ledger, and where it will really close."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.errors import ImpossibleSectionError
from ringcraft.metals import BLADES, Metal
from ringcraft.planning.ledger import Mark, Stretch, Term, places_for, round_for, stretches, total, worded
from ringcraft.planning.request import RingRequest, Used
from ringcraft.planning.rules import OWN, RULES, thickness_term
from ringcraft.planning.tolerance import Spread, spread_of
from ringcraft.planning.wanted import Wanted
from ringcraft.planning.words import nearest_fraction, told
from ringcraft.sections import Section
from ringcraft.sizes import SCALES, Scale

SQUARING_MM = 0.1  # one squaring of both faces with the file; common practice, no published source
THICKEST_SHARE = 1 / 3  # of the inside diameter: beyond it stock cannot be bent round; common practice


@dataclass(frozen=True)
class Blank:
    """One piece of metal to cut. Lengths [mm], volume [mm3], mass [g] of the piece as cut."""

    name: str
    cut_length_mm: float
    cut_text: str
    unit: str
    fraction: str
    sum_text: str
    formed_length_mm: float
    terms: tuple[Term, ...]
    stretches: tuple[Stretch, ...]
    marks: tuple[Mark, ...]
    volume_mm3: float
    mass_g: float


@dataclass(frozen=True)
class Closing:
    """Where the ring closes, and between which inside diameters [mm] four in five rings do."""

    inside_diameter_mm: float
    low_mm: float
    high_mm: float
    text: str
    low_text: str
    high_text: str
    spread: Spread
    says: str


@dataclass(frozen=True)
class RuleView:
    """What one school gives for this stock, and how far off that is."""

    key: str
    title: str
    formed_length_mm: float
    text: str
    off_mm: float
    off_sizes: float
    off_text: str
    chosen: bool
    source: str


@dataclass(frozen=True)
class Sensitivity:
    """What a slip costs: US sizes, and sizes of the scale the order was read on."""

    us_sizes_per_mm_length: float
    us_sizes_per_0_1_mm_thickness: float
    says: str


def check_thickness(section: Section, wanted: Wanted, field: str = "stock") -> None:
    """Refuse stock that no bench bends round this finger."""
    most = wanted.inside_mm * THICKEST_SHARE
    if section.thickness_mm > most:
        raise ImpossibleSectionError(
            f"{field}.thickness_mm",
            f"{section.thickness_mm:.2f} thick cannot be bent round a finger of {wanted.inside_mm:.1f} mm.",
            f"At most {most:.1f} mm, a third of the inside.",
        )


def band_blank(
    order: RingRequest, used: Used, wanted: Wanted, section: Section, metal: Metal, name: str = "band"
) -> Blank:
    """The blank of a plain band with its ledger: L = pi (ID + 2e), then joint, trim, policy, rounding."""
    thickness, thickness_why = thickness_term(used.rule, section, order.own_correction_mm)
    formed = math.pi * wanted.inside_mm + thickness
    size = wanted.finger
    terms = [
        Term(
            "inside-circumference",
            "inside circumference",
            size.circumference_mm,
            f"π × {size.inside_diameter_mm:.2f} inside, {size.text}",
        ),
        *wide_terms(wanted),
        Term("thickness", "thickness", thickness, thickness_why),
    ]
    terms += joint_terms(used)
    terms += policy_terms(used, section, math.fsum(term.mm for term in terms))
    done = worded(tuple(terms), used.units)
    cut = total(done)
    volume = section.area_mm2 * cut
    return Blank(
        name=name,
        cut_length_mm=cut,
        cut_text=told(cut, used.units, places_for(used.round_to_mm)),
        unit=used.units,
        fraction=nearest_fraction(cut) if used.units == "in" else "",
        sum_text=told(cut, used.units),
        formed_length_mm=formed,
        terms=done,
        stretches=stretches(done),
        marks=_marks(used, cut),
        volume_mm3=volume,
        mass_g=metal.mass_g(volume),
    )


def wide_terms(wanted: Wanted) -> list[Term]:
    """What a wide band is cut larger by, where that was chosen."""
    wide = wanted.wide
    return [Term("wide-band", "wide band", wide.mm, wide.says)] if wide and wide.taken else []


def joint_terms(used: Used) -> list[Term]:
    """What the joint eats: the saw's kerf, the file, and the trim that is filed off before forming."""
    join, out = used.join, []
    if join.saw_passes:
        passes = {1: "one pass", 2: "two passes"}.get(join.saw_passes, f"{join.saw_passes} passes")
        kerf = BLADES[join.blade]
        out.append(
            Term(
                "saw",
                "saw through the joint",
                join.saw_passes * kerf,
                f"{passes} of {join.blade}, {kerf:.2f} each",
            )
        )
    if join.file_passes:
        squared = join.file_passes * SQUARING_MM
        out.append(Term("file", "squaring the faces", squared, f"the file takes {SQUARING_MM} each time"))
    if join.trim_mm:
        out.append(Term("trim", "trim", join.trim_mm, "added to the cut, filed off again before forming"))
    return out


def policy_terms(used: Used, section: Section, so_far_mm: float) -> list[Term]:
    """What the policy leaves off or adds, and the rounding of the figure itself."""
    out = []
    spread = spread_of(section, used.join.saw_passes)
    if used.leave != "exact":
        small = used.leave == "small"
        bias = -spread.bias_mm if small else spread.bias_mm
        why = (
            "so that one in ten closes too large: stretching is easy, shrinking dear"
            if small
            else "so that one in ten closes too small: taking out is one joint, adding two"
        )
        out.append(Term("leave", f"left {used.leave}", bias, why))
        so_far_mm += bias
    rounded = round_for(so_far_mm, used.round_to_mm, used.leave)
    if used.round_to_mm > 0:
        how = {"small": "down", "large": "up", "exact": "to the nearest"}[used.leave]
        out.append(Term("rounding", "rounding", rounded - so_far_mm, f"{how}, in steps of {used.round_to_mm:g}"))
    return out


def _marks(used: Used, cut: float) -> tuple[Mark, ...]:
    places = places_for(used.round_to_mm)

    def at(mm: float) -> str:
        return told(mm, used.units, places)

    marks = []
    if used.join.trim_mm:
        back = cut - used.join.trim_mm
        marks.append(Mark("trim", back, f"file back to {at(back)}"))
    marks.append(Mark("cut", cut, f"scribe {at(cut)}, cut right of the line"))
    return tuple(marks)


def closing_of(blank: Blank, used: Used, wanted: Wanted, section: Section) -> Closing:
    """Where this blank closes by the neutral line, whatever rule it was cut by."""
    eaten = math.fsum(term.mm for term in blank.terms if term.key in ("saw", "file", "trim"))
    diameter = (blank.cut_length_mm - eaten) / math.pi - 2 * section.neutral_mm
    spread = spread_of(section, used.join.saw_passes)
    reach = spread.bias_mm / math.pi
    low, high = diameter - reach, diameter + reach
    apart = (diameter - wanted.inside_mm) * math.pi
    said = f"Four in five close between {wanted.told(low)} and {wanted.told(high)}"
    if abs(apart) > 3 * spread.sd_mm:
        slip = ("long", "large") if apart > 0 else ("short", "small")
        said = f"By its neutral line that is {abs(apart):.1f} mm too {slip[0]}: {slip[1]}"
    elif used.leave == "small":
        said += f"; true it up to {wanted.told(wanted.inside_mm)}"
    elif used.leave == "large":
        said += f"; hardly any below {wanted.told(wanted.inside_mm)}"
    texts = (wanted.told(diameter), wanted.told(low), wanted.told(high))
    return Closing(diameter, low, high, *texts, spread, said + ".")


def rule_views(order: RingRequest, used: Used, wanted: Wanted, section: Section) -> tuple[RuleView, ...]:
    """What each school gives for this stock, and how far that is from the neutral line."""
    physical = RULES["centroid"].adds_mm(section)

    def view(key: str, title: str, adds: float, source: str) -> RuleView:
        formed, off = math.pi * wanted.inside_mm + adds, adds - physical
        sizes = off / wanted.scale.circumference_per_size_mm
        return RuleView(
            key=key,
            title=title,
            formed_length_mm=formed,
            text=told(formed, used.units, 1),
            off_mm=off,
            off_sizes=sizes,
            off_text=_off_text(sizes, wanted.scale),
            chosen=key == used.rule,
            source=source,
        )

    views = [view(rule.key, rule.title, rule.adds_mm(section), rule.source) for rule in RULES.values()]
    if used.rule == OWN:
        adds, _ = thickness_term(OWN, section, order.own_correction_mm)
        views.append(view(OWN, "own", adds, "given with the order"))
    return tuple(views)


def _off_text(sizes: float, scale: Scale) -> str:
    step = scale.fine_step
    count = round(abs(sizes) / step) * step
    if count == 0:
        return "the same size"
    shown = f"{count:.1f}" if step == 0.1 else _fraction_words(count)
    unit = scale.unit if count > 1 else scale.unit.removesuffix("s")
    return f"{shown} {unit} {'large' if sizes > 0 else 'small'}"


def _fraction_words(count: float) -> str:
    return SCALES["us"].label(count, 0.125)


def sensitivity_of(section: Section, wanted: Wanted, slimmer: Section) -> Sensitivity:
    """What 1 mm of length and 0.1 mm of thickness are worth. ``slimmer`` is the section a hair thinner."""
    us, scale = SCALES["us"], wanted.scale
    slope = (section.neutral_mm - slimmer.neutral_mm) / (section.thickness_mm - slimmer.thickness_mm)
    per_tenth_mm = 2 * math.pi * slope * 0.1
    says = (
        f"1 mm of length is {1 / scale.circumference_per_size_mm:.2f} {scale.unit}; "
        f"0.1 mm of thickness is {per_tenth_mm / scale.circumference_per_size_mm:.2f}."
    )
    return Sensitivity(1 / us.circumference_per_size_mm, per_tenth_mm / us.circumference_per_size_mm, says)
