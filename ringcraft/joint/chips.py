"""How much solder a joint wants, in each form that it comes in."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ringcraft.joint.asking import Chip
from ringcraft.planning.joints import GAP_MM, SPARE, chips_for
from ringcraft.sections import Section
from ringcraft.units import LengthFormat, lengths_in

WIRE_MM = 0.5  # of a thin solder wire; common practice, no published source
PIECE_MM = 0.2  # of a piece that is flattened and slipped in; common practice, no published source
BEYOND_MM = 1.0  # that a slipped-in piece stands wider than the band; common practice, no published source
HALF_METAL = 0.5  # how much of a paste is solder, by volume, the rest its flux; from memory
MANY = 6  # chips at one joint from which the gap is better closed; our own judgement


@dataclass(frozen=True)
class Amount:
    """How much solder, in one form, and where it lies."""

    form: str
    title: str
    says: str


def joint_mm3(section: Section, gap_mm: float) -> float:
    """What a joint holds and a little more [mm3]; one with no gap that can be seen as if it were GAP_MM wide."""
    return section.area_mm2 * (gap_mm or GAP_MM) * SPARE


def chip_count(section: Section, gap_mm: float, chip: Chip) -> int:
    """How many chips: what the joint holds and a little more, and one for every 3 mm of its length.

    >>> from ringcraft.sections import Stock, section_of
    >>> chip_count(section_of(Stock(profile="square", thickness_mm=3.0)), 0.05, Chip())
    3
    """
    return chips_for(section.area_mm2, section.width_mm, gap_mm or GAP_MM, chip.mm3)


def chip_reason(
    section: Section, gap_mm: float, chip: Chip, count: int, length: LengthFormat, limit_mm: float
) -> str:
    """Why so many."""
    holds = math.ceil(joint_mm3(section, gap_mm) / chip.mm3 - 1e-9)
    gap = f"a gap of {length(gap_mm):.2f}" if gap_mm else f"a closed joint, reckoned as {length(GAP_MM):.2f} wide"
    if gap_mm > limit_mm and count > chip_count(section, 0.0, chip):
        return f"{gap} would take {count}: close it instead, solder fills no gap"
    if count > holds:
        return f"{gap} holds {holds}; one for every {length(3.0):g} of its {length(section.width_mm):g}"
    return f"{gap}, {length(section.width_mm):g} long, and a little more"


#: Where chips lie, by the side that a deed names, and where the flame is then.
LIE = {
    "inside": "inside, the flame outside",
    "top": "on top, the flame from below",
    "outside": "on the outer side, the heat from the other",
}


def amounts(
    section: Section, gap_mm: float, chip: Chip, units: str, side: str = "inside", fluxed: bool = True
) -> tuple[Amount, ...]:
    """The solder of a plain joint as chips, as a piece slipped in, as wire and as paste."""
    volume, count = joint_mm3(section, gap_mm), chip_count(section, gap_mm, chip)
    return amounts_of(volume, count, chip, section, units, side, fluxed)


def amounts_of(
    volume_mm3: float, count: int, chip: Chip, section: Section | None, units: str, side: str, fluxed: bool
) -> tuple[Amount, ...]:
    """So much solder in every form; a piece is slipped in only where one ``section`` meets itself, and paste, which
    has its flux in it, is for a metal that is ``fluxed``.
    """
    length = lengths_in(units)
    wire = volume_mm3 / (math.pi / 4 * WIRE_MM**2)
    size = f"{length(chip.length_mm):g} × {length(chip.width_mm):g} × {length(chip.thickness_mm):g}"
    chips = "1 chip" if count == 1 else f"{count} chips"
    across = "across the seam" if section is not None else "along the seam"
    out = [Amount("chips", f"{chips} of {size}", f"{across}, touching both faces, {LIE[side]}")]
    if section is not None:
        wide, high = section.width_mm + BEYOND_MM, section.thickness_mm + BEYOND_MM
        piece = f"a piece {length(wide):.1f} × {length(high):.1f}, rolled to {length(PIECE_MM):g}"
        out.append(Amount("sheet", piece, "slipped into the sprung gap; what stands out is filed off"))
    wire_text = f"{length(wire):.1f} of wire {length(WIRE_MM):g} thick"
    out.append(Amount("wire", wire_text, "touched on once the joint takes it"))
    if not fluxed:
        return tuple(out)
    paste = f"{volume_mm3 / HALF_METAL:.1f} mm³ of paste"
    out.append(Amount("paste", paste, "a thin line along the joint: its flux is in it"))
    return tuple(out)
