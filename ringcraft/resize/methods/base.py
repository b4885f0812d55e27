"""What a way of resizing is: what it makes of a case in figures, and how it is done."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from ringcraft.planning.ledger import Term
from ringcraft.planning.sizing import Sizing
from ringcraft.resize.case import Case

Advice = Literal["do", "possible", "avoid", "never"]
ADVICE: tuple[Advice, ...] = ("do", "possible", "avoid", "never")
Value = float | int | None


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


def true_up(case: Case, inside_mm: float) -> Sizing:
    """A ring that closes at its size: it is only trued."""
    text = case.context.target.named(inside_mm)
    return Sizing(inside_mm, "true", 0.0, text, f"It should read {text} already: true it lightly, no more.")


def taper_words(much: str) -> str:
    """How a ring is driven up by a length round, as text."""
    return f"Drive it down the taper in small steps, turning it, {much} more round."


def bring(case: Case, closes_mm: float) -> Sizing:
    """A ring that closes at one inside diameter [mm], brought to the size that is wanted by stretch or die."""
    wanted = case.inside[1]
    change = math.pi * (wanted - closes_mm)
    text, at = case.context.target.text, case.context.target.named(closes_mm)
    if abs(change) < 0.01:
        return true_up(case, wanted)
    much = case.told(abs(change))
    if change > 0:
        says = f"It closes at {at}. {taper_words(much)}"
        return Sizing(wanted, "stretch", change, text, says)
    if case.is_plain:
        says = f"It closes at {at}, {much} round too large: a reducing die, step by step."
        return Sizing(wanted, "compress", change, text, says)
    says = f"It closes at {at}, {much} round large: it is not pressed with what is on it, so it stays there."
    return Sizing(closes_mm, "left", 0.0, at, says)
