"""What a way of resizing is: what it makes of a case in figures, and how it is done."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from ringcraft.planning.ledger import Term
from ringcraft.planning.sizing import HAIR_MM, Sizing
from ringcraft.resize.case import LEAST_WALL_MM, Case, Value

Advice = Literal["do", "possible", "avoid", "never"]
__all__ = ["ADVICE", "Advice", "Insert", "Lead", "Method", "Value", "Weighed"]
ADVICE: tuple[Advice, ...] = ("do", "possible", "avoid", "never")


@dataclass(frozen=True)
class Lead:
    """The figure that leads: as text, its unit, what it is."""

    figure: str
    unit: str
    title: str


def lead(case: Case, mm: float, word: str, title: str) -> Lead:
    """A length [mm] that leads, with what becomes of it: 4.25 mm out, 0.167″ out."""
    figure = f"{case.length(mm):.2f}"
    return Lead(figure, word if case.order.units == "in" else f"mm {word}", title)


@dataclass(frozen=True)
class Insert:
    """A piece set in: what it is called, its finished length [mm], and the terms of what it is cut to."""

    title: str
    finished_mm: float
    terms: tuple[Term, ...]


@dataclass(frozen=True, kw_only=True)
class Weighed:
    """What a way comes to for a case. ``figures`` by name [mm, share, degrees]; ``terms`` the ledger of its figure;
    ``why`` what speaks for it; ``says`` what to do; ``sizing`` how it then comes to its size; ``closes_mm`` the
    inside diameter at which it closes; ``insert`` the piece set in, if one is; ``facts`` are what rules ask for.
    """

    figures: Mapping[str, Value] = field(default_factory=dict)
    terms: tuple[Term, ...] = ()
    why: tuple[str, ...] = ()
    lead: Lead
    says: tuple[str, ...] = ()
    closes_mm: float
    sizing: Sizing
    insert: Insert | None = None
    facts: Mapping[str, bool] = field(default_factory=dict)
    words: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Method:
    """A way of resizing: ``torch`` whether it is soldered, ``gentle`` its place from the gentlest on.

    ``suits`` says whether it is asked about at all for a case; ``weigh`` what it comes to.
    """

    key: str
    title: str
    torch: bool
    gentle: int
    route: str
    suits: Callable[[Case], bool]
    weigh: Callable[[Case], Weighed]

    @property
    def doing(self) -> str:
        """The way as something that is done: to set a piece in."""
        return DOING[self.key]


DOING = {
    "stretch": "to stretch it",
    "compress": "to press it",
    "take-out": "to take a piece out",
    "add-stock": "to set a piece in",
    "reshank": "to set in a new lower part",
    "rejoin": "to join it again",
    "true-first": "to true it first",
    "refuse": "to leave it",
}


def true_up(case: Case, inside_mm: float) -> Sizing:
    """A ring that closes at its size: it is only trued."""
    text = case.context.target.named(inside_mm)
    return Sizing(inside_mm, "true", 0.0, text, f"It should read {text} already: true it lightly, no more.")


def taper_words(much: str) -> str:
    """How a ring is driven up by a length round, as text."""
    return f"Drive it down the taper in small steps, turning it, {much} more round."


def not_stretched(case: Case, strain: float, thinnest_mm: float) -> str:
    """Why a ring that was soldered is not stretched any more by a share; empty where it is."""
    if not case.is_plain:
        return "it is not stretched with what is on it"
    if case.has("cracked"):
        return "it is not stretched, its crack would run on"
    if strain > case.stretch_limits[0] + 1e-9:
        return f"a stretch of {100 * strain:.1f} % is more than it bears as it is"
    if thinnest_mm / (1 + strain) < LEAST_WALL_MM:
        return f"stretched its thinnest place would come under {case.told(LEAST_WALL_MM, '.1f mm')}"
    return ""


def bring(case: Case, closes_mm: float) -> Sizing:
    """A ring that closes at one inside diameter [mm], brought to the size that is wanted by stretch or die."""
    wanted = case.inside[1]
    change = math.pi * (wanted - closes_mm)
    text, at = case.context.target.text, case.context.target.named(closes_mm)
    if abs(change) < 0.01:
        return true_up(case, wanted)
    much = case.told(abs(change))
    strain = abs(change) / (math.pi * (closes_mm + 2 * case.section.neutral_mm))
    if change > 0:
        why = not_stretched(case, strain, case.thinnest_mm)
        if not why:
            return Sizing(wanted, "stretch", change, text, f"It closes at {at}. {taper_words(much)}")
        if abs(change) <= HAIR_MM:
            return Sizing(
                closes_mm, "left", 0.0, at, f"It closes at {at}, within a hair of {text}, and stays so: {why}."
            )
        slip = f"It stays so, or a slip of stock {much} thick goes into the joint"
        return Sizing(closes_mm, "left", 0.0, at, f"It closes at {at}, {much} round small. {slip}: {why}.")
    if case.is_plain and not case.has("cracked") and strain <= case.stretch_limits[0] + 1e-9:
        says = f"It closes at {at}, {much} round too large: a reducing die, step by step."
        return Sizing(wanted, "compress", change, text, says)
    why = "with what is on it" if not case.is_plain else "so far"
    says = f"It closes at {at}, {much} round large: it is not pressed {why}, so it stays there."
    return Sizing(closes_mm, "left", 0.0, at, says)
