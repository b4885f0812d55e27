"""Joints in their order: every later one flows below where an earlier one begins to melt."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.metals import SOLDERS, Metal
from ringcraft.units import fill

CHIP_SPACING_MM = 3.0  # one chip of solder for every 3 mm of joint; common practice
CLOSE_C = 50.0  # nearer than this to melting a joint is watched; our own judgement


@dataclass(frozen=True)
class Joint:
    """One joint: what it joins, in which heat, with which solder; flows [C] where the table knows them."""

    key: str
    title: str
    round: int
    solder: str
    flow_low_c: float | None
    flow_high_c: float | None
    length_mm: float
    says: str

    @property
    def chips(self) -> int:
        """How many chips of about 1 x 1 mm it wants: one for every 3 mm."""
        return max(1, math.ceil(self.length_mm / CHIP_SPACING_MM))

    @property
    def flow(self) -> str:
        """Where the solder flows, in words; empty where only the maker's sheet knows."""
        if self.flow_low_c is None or self.flow_high_c is None:
            return ""
        low, high = f"{self.flow_low_c:.0f}", f"{self.flow_high_c:.0f}"
        return low if low == high else f"{low} to {high}"


def ladder(metal: Metal, rounds: int) -> tuple[str, ...]:
    """The solders for so many heats, each flowing below the one before; the first is the metal's own."""
    if rounds <= 1:
        return (metal.solder,)
    colour = metal.solder.rpartition(" ")[0]
    listed = [fill(solder, {"colour": colour}) for solder in metal.of_family.solders]
    grades = listed[listed.index(metal.solder) if metal.of_family.ladder_from == "own" else 0 :]
    return tuple(grades[min(i, len(grades) - 1)] for i in range(rounds))


@dataclass(frozen=True)
class Seam:
    """A joint as a style names it: its key, its words, its length [mm] and in which round of heat it is made."""

    key: str
    title: str
    length_mm: float
    round: int = 1


def joints_of(metal: Metal, seams: Sequence[Seam]) -> tuple[Joint, ...]:
    """The joints of a ring in their order, each with its solder."""
    out: list[Joint] = []
    grades = ladder(metal, max((seam.round for seam in seams), default=0))
    for seam in seams:
        solder = grades[seam.round - 1]
        row = SOLDERS.get(solder)
        low, high = (row.flow_low_c, row.flow_high_c) if row else (None, None)
        before = next((joint for joint in reversed(out) if joint.round < seam.round), None)
        says = _says(metal, solder, high, before)
        out.append(Joint(seam.key, seam.title, seam.round, solder, low, high, seam.length_mm, says))
    return tuple(out)


def _says(metal: Metal, solder: str, high: float | None, before: Joint | None) -> str:
    melts = f"{metal.title} begins to melt at {metal.solidus_c:.0f}"
    if high is None:
        said = f"{solder[0].upper()}{solder[1:]}: read its flow off the maker's sheet; {melts} °C."
        return said + (f" It must flow below the {before.solder}." if before else "")
    row = SOLDERS[solder]
    flows = f"{row.flow_low_c:.0f}" if row.flow_low_c == high else f"{row.flow_low_c:.0f} to {high:.0f}"
    said = f"It flows at {flows} °C; {melts}."
    if metal.solidus_c - high < CLOSE_C:
        said += f" Only {metal.solidus_c - high:.0f} degrees between: watch it."
    if before and before.solder == solder:
        said += " The same grade as the joint before: keep the heat off that one, coated or shielded."
    elif before and before.flow_low_c is not None and high > before.flow_low_c:
        said += f" The joint before begins to flow at {before.flow_low_c:.0f}: take the flame off at the flash."
    return said
