"""What a style is, and what every plan of a ring answers."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Generic, Literal, TypeVar

from ringcraft.planning.finished_size import FinishedSize, RuleView, Sensitivity, WhatIf
from ringcraft.planning.request import Used
from ringcraft.planning.sizing import Can
from ringcraft.planning.target_size import GaugeUsed, WideAdvice
from ringcraft.routes.facts import StyleFacts
from ringcraft.sections import Stock
from ringcraft.work.fields import FieldSpec
from ringcraft.work.plan import Figure, MetalView, OnBench, WorkPlan

__all__ = ["Figure", "MetalView", "RingPlan", "Style", "Target"]


@dataclass(frozen=True)
class Target:
    """The finger: inside diameter and circumference [mm], the size as read and on every scale."""

    inside_diameter_mm: float
    circumference_mm: float
    sizes: dict[str, str]
    numbers: dict[str, float]
    read_as: str
    text: str


@dataclass(frozen=True)
class TaperMark:
    """A mark on the mandrel: its label (empty for a half) and inside diameter [mm]."""

    label: str
    diameter_mm: float


@dataclass(frozen=True)
class Taper:
    """The stretch of the mandrel round the wanted size, on the scale the order was read on."""

    title: str
    marks: tuple[TaperMark, ...]


@dataclass(frozen=True)
class Thumb:
    """The trade's rule of thumb for a figure [mm], what it is exactly here, and the difference in words."""

    title: str
    thumb_mm: float
    exact_mm: float
    off_mm: float
    says: str


@dataclass(frozen=True)
class Choice:
    """One way to make it fit: choosing it sets ``field`` of the order to ``value``."""

    field: str
    value: str
    cells: tuple[str, ...]
    chosen: bool


@dataclass(frozen=True)
class Choices:
    """The ways to make it fit, as a table."""

    title: str
    columns: tuple[str, ...]
    rows: tuple[Choice, ...]


@dataclass(frozen=True)
class FinishedRing:
    """The ring that is promised: its inside diameter [mm] and size, and how it comes to it from where it closes."""

    inside_diameter_mm: float
    text: str
    by: str
    says: str


@dataclass(frozen=True, kw_only=True)
class RingPlan(WorkPlan):
    """The answer to an order of a ring to make: blanks with their ledgers, where it closes, what to do."""

    work: Literal["make"] = "make"
    style: str
    target: Target
    used: Used
    by_rule: dict[str, float]
    rules: tuple[RuleView, ...]
    sensitivity: Sensitivity
    closing: FinishedSize
    finished: FinishedRing | None
    taper: Taper
    gauge: GaugeUsed | None
    wide: WideAdvice | None
    wanted_fine_text: str
    thumbs: tuple[Thumb, ...]
    fit_table: Choices | None = None
    what_if: tuple[WhatIf, ...]

    def closes_to_mm(self) -> float | None:
        """The inside diameter [mm] that it closes at by the neutral line."""
        return self.closing.inside_diameter_mm

    def order_names(self, piece: str) -> tuple[str, ...]:
        """An order knows the piece that sets the size by no name too."""
        return ("", piece) if self.sets_size(piece) else (piece,)

    def headline(self) -> str:
        """What it is made of and for which finger."""
        return f"{self.summary}, {self.target.text}"

    def route_key(self) -> str:
        """Each style has a route of its own."""
        return f"{self.work}/{self.style}"

    def is_whole(self) -> bool:
        """A ring is made of something."""
        return bool(self.blanks) and super().is_whole()

    def on_bench(self) -> OnBench:
        """The band that sets the size, in its metal and proportions."""
        section = self.section
        return OnBench(
            metal_family=self.metal.family,
            profile=section.profile,
            inside_mm=self.target.inside_diameter_mm,
            thickness_mm=section.thickness_mm,
            width_mm=section.width_mm,
            cut_mm=self.blanks[0].cut_length_mm,
        )


@dataclass(frozen=True, kw_only=True)
class OwnFields:
    """What the answer of a style has beside every plan's: each style with such fields derives its own from this."""


P = TypeVar("P", bound=RingPlan)


@dataclass(frozen=True)
class Style(Generic[P]):
    """One style of ring: its key, its words, the request it takes and the function that plans it.

    ``first`` is the stock that a new order begins with, ``stock_says`` how the sentence comes to it, ``profiles``
    what it can be made from (empty: all). ``overrides_from_measures`` says which measure takes the place of which
    field of the order, as dotted paths; ``{n}`` stands for the place in a list, as in the blank's name. ``closes`` is
    false for a ring that nothing ever closes; ``sizing`` is how it can be brought to its size. ``glued``:
    something is glued in, which bears no bath. ``facts`` are what its route's lines can say beside every ring's.
    """

    key: str
    title: str
    request: type[Any]
    plan: Callable[[Any], P]
    answer: type[P]
    leave: str
    route: str
    first: Stock
    words: tuple[FieldSpec, ...] = ()
    stock_says: str = "from"
    profiles: tuple[str, ...] = ()
    aliases: tuple[str, ...] = ()
    overrides_from_measures: Mapping[str, str] = field(default_factory=dict)
    closes: bool = True
    joined: bool = True
    sizing: Can = "stretch"
    glued: bool = False
    facts: type[StyleFacts] = StyleFacts


STOCK_OVERRIDES = {"stock-thickness": "stock.thickness_mm", "stock-width": "stock.width_mm"}
