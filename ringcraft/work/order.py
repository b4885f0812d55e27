"""What every order has, whatever kind of work it is, and what a kind of work answers where a sheet asks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from ringcraft.measure.gauges import GaugeRequest
from ringcraft.planning.made import Made, SeamSolders
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.solders import OwnSolders


class WorkOrder(Protocol):
    """An order of any kind of work: the shop's own figures, and what was really done at its joints."""

    @property
    def own(self) -> OwnFigures:
        """The shop's own figures, before our tables."""

    @property
    def solders(self) -> OwnSolders:
        """The shop's own solders, before our tables."""

    @property
    def made(self) -> Made:
        """What was really done at its joints."""

    @property
    def seam_solders(self) -> SeamSolders:
        """Which solders were chosen for its joints."""

    @property
    def units(self) -> str:
        """In which its lengths are told."""


@dataclass(frozen=True)
class HeatedStone:
    """The stone that a heat must be kept from most: its kind, where it sits [mm from the joint; None for one in the
    head], and whether it is kept under water.
    """

    kind: str
    at_mm: float | None
    in_water: bool
    coated: bool = False


@dataclass(frozen=True)
class AtSheet:
    """What a kind of work answers where a joint or a heat is opened: the blade its joints are planned with, the gauge
    and the scale its size is read on, the stone to be careful of, whether an inlay is in it.
    """

    blade: str
    gauge: GaugeRequest | None
    scale: str
    stone: HeatedStone | None = None
    inlay: bool = False
