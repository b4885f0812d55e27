"""What must stay whole while the next joint flows: every other seam of the work against its flow, and the metal."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ringcraft.errors import OutOfRangeError
from ringcraft.joint.asking import OtherSeam
from ringcraft.metals import METALS, SOLDERS, UNKNOWN_SOLDER, Metal, Solder, SolderBook
from ringcraft.planning.joints import CLOSE_C, solder_book
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.solders import OwnSolder
from ringcraft.units import capital, words_and

Holds = Literal["yes", "unsure", "no"]


@dataclass(frozen=True)
class SeamView:
    """One seam that is there already: its solder, and how far above this flow it begins to melt [K].

    ``margin_c`` is None where only a maker's sheet knows. ``holds`` is what that makes of it if it comes to the same
    heat: unless it is a yes, it wants coating with anti-flux. ``known``: somebody has said which solder it is of.
    """

    key: str
    title: str
    solder: str
    known: bool
    melts_c: float | None
    margin_c: float | None
    holds: Holds
    guarded: bool
    says: str


def seam_views(seams: Sequence[OtherSeam], solder: Solder, metal: Metal, book: SolderBook) -> tuple[SeamView, ...]:
    """Each earlier seam against the flow of the next one."""
    return tuple(_view(seam, solder, metal, book) for seam in seams)


def _view(seam: OtherSeam, solder: Solder, metal: Metal, book: SolderBook) -> SeamView:
    old = book[seam.solder]
    melts = seam.melts_c if seam.melts_c is not None else old.melts_c
    margin = None if melts is None or solder.flows_c is None else melts - solder.flows_c
    lower_grade = old.series == solder.series and solder.rank > old.rank
    holds: Holds = "unsure"
    if margin is not None:
        holds = "yes" if margin >= CLOSE_C else "unsure" if margin > 0 else "no"
    says = _says(margin, lower_grade, solder, metal, melts, book)
    if seam.guarded and holds != "yes":
        says += "; it is coated"
    title = seam.title or seam.key
    known = seam.solder != UNKNOWN_SOLDER
    return SeamView(seam.key, title, old.title, known, melts, margin, holds, seam.guarded, says)


def _says(
    margin: float | None, lower_grade: bool, solder: Solder, metal: Metal, melts: float | None, book: SolderBook
) -> str:
    if margin is None:
        if lower_grade:
            return f"by its grade it stays: {solder.title} flows below it; how far, the maker's sheet says"
        return "nobody knows where it begins to melt: coat it as if it opened first"
    if margin >= CLOSE_C:
        return f"begins to melt {margin:.0f} above this flow: it stays whole"
    instead = _lower(melts or 0.0, solder, metal, book)
    or_take = f", or take {instead.title}" if instead else ""
    if margin > 0:
        return f"begins to melt only {margin:.0f} above this flow: flame off at the flash, or coat it{or_take}"
    how = "just where this flows" if margin == 0 else f"{-margin:.0f} below this flow"
    return f"begins to melt {how}: paint it with anti-flux and keep the heat off it{or_take}"


def _lower(melts_c: float, solder: Solder, metal: Metal, book: SolderBook) -> Solder | None:
    """The highest grade of the same series that flows below where a seam begins to melt."""
    fits = [
        one
        for one in book.values()
        if one.series == solder.series
        and one.rank > solder.rank
        and one.flows_c is not None
        and one.flows_c < melts_c
    ]
    return min(fits, key=lambda one: one.rank, default=None)


def solidus_margin_c(metal: Metal, solder: Solder) -> float | None:
    """How far above a solder's flow its metal begins to melt [K]; raises OutOfRangeError where it does not."""
    if solder.flows_c is None or not metal.is_known:
        return None
    margin = metal.solidus_c - solder.flows_c
    if margin <= 0:
        said = f"{capital(solder.title)} flows at {solder.flows_c:.0f} °C, and {metal.title} begins to melt at "
        raise OutOfRangeError("solder", f"{said}{metal.solidus_c:.0f} °C.", "It is for another metal.")
    return margin


def solder_cautions(own: Sequence[OwnSolder], figures: OwnFigures) -> tuple[str, ...]:
    """What the flow of a shop's own solders leaves to the metals of their series, where that is little or nothing: a
    line for each solder.
    """
    out = []
    for key in dict.fromkeys(one.grade for one in own if one.flows_c is not None):
        solder = solder_book(own)[key]
        flows = solder.flows_c or 0.0
        metals = [figures.metal(one) for one in METALS.values() if SOLDERS[one.solder].series == solder.series]
        gone = [f"{one.title} ({one.solidus_c:.0f})" for one in metals if one.solidus_c <= flows]
        near = [f"{one.title} {one.solidus_c - flows:.0f}" for one in metals if 0 < one.solidus_c - flows < CLOSE_C]
        told = [f"not below where {words_and(gone)} begin{'s' if len(gone) == 1 else ''} to melt"] if gone else []
        told += [f"{words_and(near)} above it: flame off at the flash"] if near else []
        if told:
            out.append(f"{capital(solder.title)} flows at {flows:.0f}, {'; '.join(told)}.")
    return tuple(out)


def metal_words(metal: Metal, solder: Solder, margin_c: float | None) -> str:
    """What the flow leaves to the metal itself."""
    if not metal.is_known:
        return "what it is made of is not known: nothing hotter than the test allows"
    if margin_c is None:
        return f"read its flow off the maker's sheet: it must stay well below {metal.solidus_c:.0f}"
    if margin_c < CLOSE_C:
        return f"{metal.title} itself begins to melt {margin_c:.0f} above this flow: flame off at the flash"
    return f"{metal.title} itself begins to melt {margin_c:.0f} above this flow"
