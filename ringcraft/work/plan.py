"""What every plan of a piece of work answers: a ring to make today, one to resize and trials to come."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ringcraft.drawing.shapes import Drawing
from ringcraft.planning.blank import Blank
from ringcraft.planning.joints import Joint
from ringcraft.routes.pieces import Piece
from ringcraft.routes.steps import Step

#: The shape of a plan as it is kept. Raise it with each change of the shape, and add the way up from the one before
#: to :mod:`ringcraft.work.kept` with a kept plan of each style as its fixture.
PLAN_VERSION = 4


@dataclass(frozen=True)
class MetalView:
    """The metal as a screen needs it."""

    key: str
    title: str
    family: str


@dataclass(frozen=True)
class Figure:
    """A figure of the work beside the cut length: its words, how it is told, and its reason."""

    key: str
    title: str
    value: float
    text: str
    why: str


@dataclass(frozen=True)
class OnBench:
    """What a bench draws of a piece: its metal's tone and its true proportions [mm]."""

    metal_family: str
    profile: str
    inside_mm: float
    thickness_mm: float
    width_mm: float
    cut_mm: float


@dataclass(frozen=True, kw_only=True)
class WorkPlan:
    """The plan of one piece of work: its pieces with their ledgers, its steps with their measures, its drawings.

    ``ring`` looks through the finished ring, ``across`` is a cut across it where that shows something.
    ``start`` is how the pieces stand before the first step, by name; an older plan does not know.
    ``plan_version`` is the shape that the plan was kept in (see :data:`PLAN_VERSION`), ``engine`` what worked it out.
    """

    work: str
    plan_version: int = PLAN_VERSION
    title: str
    summary: str
    metal: MetalView
    says: tuple[str, ...]
    wanted_text: str
    figures: tuple[Figure, ...]
    blanks: tuple[Blank, ...]
    joints: tuple[Joint, ...]
    warnings: tuple[str, ...]
    ring: Drawing
    across: Drawing | None
    start: Mapping[str, Piece]
    route: tuple[Step, ...]
    engine: str

    def headline(self) -> str:
        """What it is, in one line."""
        return self.summary

    def route_key(self) -> str:
        """Which route this is: steps that were done on another do not count on it."""
        return self.work

    def on_bench(self) -> OnBench:
        """What a bench draws of it; each kind of work says how."""
        raise NotImplementedError(f"{type(self).__name__} does not say what it looks like on a bench")
