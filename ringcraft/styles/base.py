"""What a style is, and what every plan of a ring answers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ringcraft.planning.band import Blank, Closing, RuleView, Sensitivity
from ringcraft.planning.request import Used
from ringcraft.planning.wanted import GaugeUsed, WideAdvice
from ringcraft.routes import Step
from ringcraft.sections import Section


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
class MetalView:
    """The metal as a screen needs it."""

    key: str
    title: str
    family: str


@dataclass(frozen=True)
class RingPlan:
    """The answer to an order: blanks with their ledgers, where it closes, what to do."""

    style: str
    title: str
    target: Target
    metal: MetalView
    section: Section
    used: Used
    blanks: tuple[Blank, ...]
    by_rule: dict[str, float]
    rules: tuple[RuleView, ...]
    sensitivity: Sensitivity
    closing: Closing
    taper: Taper
    gauge: GaugeUsed | None
    wide: WideAdvice | None
    wanted_mm: float
    wanted_text: str
    wanted_fine_text: str
    says: tuple[str, ...]
    summary: str
    route: tuple[Step, ...]
    engine: str


@dataclass(frozen=True)
class Style:
    """One style of ring: its key, its words, the request it takes and the function that plans it."""

    key: str
    title: str
    request: type[Any]
    plan: Callable[[Any], RingPlan]
    leave: str
    route: str
