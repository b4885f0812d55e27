"""Joints in their order: every later one flows below where an earlier one begins to melt."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import SOLDERS, Metal, Solder, SolderBook
from ringcraft.planning.made import SeamSolder
from ringcraft.planning.solders import OwnSolder
from ringcraft.units import capital

CHIP_SPACING_MM = 3.0  # one chip of solder for every 3 mm of joint; common practice
CHIP_MM3 = 0.25  # a chip of about 1 x 1 x 0.25 mm; common practice
GAP_MM, SPARE = 0.05, 1.3  # a joint that is closed as it should be, and a little more solder than it holds
#: Seams that the routes of rings that came in know by name: what was there, and the two of an insert.
OLD_SEAM, HEAD_SEAM, FIRST_SEAM, SECOND_SEAM = "old-seam", "head-seam", "first", "second"
CLOSE_C = 50.0  # nearer than this to another ring's melting a joint is watched; our own judgement


@dataclass(frozen=True)
class Joint:
    """One joint: what it joins, in which heat, with which solder; melts and flows [C] where the table knows them.

    ``chips`` is how many of about 1 x 1 mm it wants, ``guarded`` whether earlier seams must be coated for it.
    ``at_mm`` is where it lies along the neutral line, nought opposite the head, of a plain ring at its joint.
    """

    key: str
    title: str
    round: int
    solder: str
    solder_title: str
    melts_c: float | None
    flows_c: float | None
    length_mm: float
    chips: int
    guarded: bool
    says: str
    form: str = "chips"
    at_mm: float = 0.0


def ladder(metal: Metal, rounds: int, book: SolderBook = SOLDERS) -> tuple[Solder, ...]:
    """The solders for so many heats, each flowing below the one before; the first is the metal's own."""
    own = book[metal.solder]
    if rounds <= 1:
        return (own,)
    grades = [solder for solder in book.values() if solder.series == own.series]
    grades = grades[own.rank if metal.of_family.ladder_from == "own" else 0 :]
    return tuple(grades[min(i, len(grades) - 1)] for i in range(rounds))


@dataclass(frozen=True)
class Seam:
    """A joint as a style names it: its key, its words, its length [mm] and in which round of heat it is made.

    ``area_mm2`` is the section that meets there; ``lines`` how many seams of that length there are.
    """

    key: str
    title: str
    length_mm: float
    round: int = 1
    area_mm2: float = 0.0
    lines: int = 1

    @property
    def chips(self) -> int:
        """Chips of solder: what a closed joint holds and a little more, and one for every 3 mm of each line."""
        return chips_for(self.area_mm2, self.length_mm, GAP_MM, CHIP_MM3, self.lines)


def chips_for(area_mm2: float, length_mm: float, gap_mm: float, chip_mm3: float, lines: int = 1) -> int:
    """Chips of solder for a joint: what its gap holds and a little more, and one for every 3 mm of each line."""
    holds = math.ceil(area_mm2 * gap_mm * SPARE / chip_mm3 - 1e-9)
    return max(1, holds, lines * math.ceil(length_mm / CHIP_SPACING_MM - 1e-9))


def joints_of(
    metal: Metal, seams: Sequence[Seam], book: SolderBook = SOLDERS, chosen: Sequence[SeamSolder] = ()
) -> tuple[Joint, ...]:
    """The joints of a ring in their order, each with its solder; a shop's own stand in ``book`` over ours.

    ``chosen`` are solders that were chosen at the bench in place of the ladder's.

    Raises OutOfRangeError for one of the shop's own that flows where this metal melts.
    """
    out: list[Joint] = []
    grades = ladder(metal, max((seam.round for seam in seams), default=0), book)
    for seam in seams:
        own = next((one.solder for one in reversed(chosen) if one.joint == seam.key), "")
        solder = book[own] if own else grades[seam.round - 1]
        _check_flow(metal, solder)
        before = next((joint for joint in reversed(out) if joint.round < seam.round), None)
        coats = before is not None and not solder.stays_below(book[before.solder])
        says = _says(metal, solder, before, book)
        out.append(
            Joint(
                seam.key,
                seam.title,
                seam.round,
                solder.key,
                solder.title,
                solder.melts_c,
                solder.flows_c,
                seam.length_mm,
                seam.chips,
                coats,
                says,
                solder.form,
            )
        )
    return tuple(out)


def _check_flow(metal: Metal, solder: Solder) -> None:
    if solder.flows_c is not None and solder.flows_c >= metal.solidus_c:
        said = f"{capital(solder.title)} flows at {solder.flows_c:.0f} °C, and {metal.title} begins to melt at "
        raise OutOfRangeError("solders", f"{said}{metal.solidus_c:.0f} °C.", "It is for another metal.")


def solder_book(own: Sequence[OwnSolder]) -> SolderBook:
    """Our solders with a shop's own over them: the maker's figures go before ours. The first of a grade holds."""
    book = dict(SOLDERS)
    for one in reversed(own):
        ours = SOLDERS[one.grade]
        title = f"{ours.title} ({one.title})" if one.title else ours.title
        melts, flows = (ours.melts_c, ours.flows_c) if one.flows_c is None else (one.melts_c, one.flows_c)
        book[one.grade] = replace(
            ours,
            title=title,
            melts_c=melts,
            flows_c=flows,
            form=one.form,
            source="the maker's sheet, as the shop has it",
        )
    return book


def _says(metal: Metal, solder: Solder, before: Joint | None, book: SolderBook) -> str:
    melts = f"{metal.title} begins to melt at {metal.solidus_c:.0f} °C"
    title = capital(solder.title)
    if solder.flows_c is None:
        said = f"{title}: read its flow off the maker's sheet; {melts}."
    else:
        said = f"{title} melts and flows at {solder.flow} °C; {melts}."
    if before is None:
        return said
    if not solder.stays_below(book[before.solder]) and before.solder != solder.key:
        return f"{said} A higher grade than the joint before: coat that one, and keep the heat off it."
    if before.solder == solder.key:
        return f"{said} The same grade as the joint before: coat that one, and keep the heat off it."
    if before.melts_c is None or solder.flows_c is None:
        return f"{said} It must flow below the {before.solder_title}."
    if solder.flows_c > before.melts_c:
        said += f" The joint before begins to melt at {before.melts_c:.0f} °C: take the flame off at the flash."
    return said
