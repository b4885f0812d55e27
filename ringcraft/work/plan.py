"""What every plan of a piece of work answers: a ring to make today, one to resize and trials to come."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ringcraft.drawing.shapes import Drawing
from ringcraft.metals import METALS
from ringcraft.planning.blank import Blank
from ringcraft.planning.joints import Joint
from ringcraft.planning.ledger import Term
from ringcraft.routes.steps import Step
from ringcraft.sections import Section
from ringcraft.vbench.needs import Unmet
from ringcraft.vbench.pieces import Piece

#: The shape of a plan as it is kept. Raise it with each change of the shape, and add the way up from the one before
#: to :mod:`ringcraft.work.kept` with a kept plan of each style as its fixture.
PLAN_VERSION = 5


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


@dataclass(frozen=True)
class Ledger:
    """A ledger as a paper prints it: what it is of, its terms, their sum [mm] and its words."""

    title: str
    about: str
    terms: tuple[Term, ...]
    sum_mm: float
    sum_title: str
    says: str
    waits: str


@dataclass(frozen=True, kw_only=True)
class WorkPlan:
    """The plan of one piece of work: its pieces with their ledgers, its steps with their measures, its drawings.

    ``ring`` looks through the finished ring, ``across`` is a cut across it where that shows something.
    ``section`` is the stock that meets at its joint, ``wanted_mm`` the inside diameter [mm] that is wanted.
    ``start`` is how the pieces stand before the first step, by name; an older plan does not know.
    ``unmet`` are the needs that its route breaks where it is done all the same, with a reason.
    ``plan_version`` is the shape that the plan was kept in (see :data:`PLAN_VERSION`), ``engine`` what worked it out.
    """

    work: str
    plan_version: int = PLAN_VERSION
    title: str
    summary: str
    metal: MetalView
    says: tuple[str, ...]
    section: Section
    wanted_mm: float
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
    unmet: tuple[Unmet, ...] = ()

    def headline(self) -> str:
        """What it is, in one line."""
        return self.summary

    def route_key(self) -> str:
        """Which route this is: steps that were done on another do not count on it."""
        return self.work

    def runs_along(self) -> bool:
        """Whether its blanks have a direction: cut across a sheet their pattern would run the wrong way."""
        return False

    @property
    def main_blank(self) -> Blank | None:
        """The piece that the work is about; none where nothing but parts for its top is cut."""
        first = next(iter(self.blanks), None)
        return None if first is None or first.role == "part" else first

    def sets_size(self, piece: str) -> bool:
        """Whether it is this piece that the size is read on."""
        return self.main_blank is not None and piece == self.main_blank.name

    def order_names(self, piece: str) -> tuple[str, ...]:
        """By which names an order knows a piece."""
        return (piece,)

    def main_figure(self) -> tuple[str, str]:
        """The figure that leads, and its unit."""
        return self.blanks[0].cut_text, self.blanks[0].unit

    def ledgers(self) -> tuple[Ledger, ...]:
        """The ledgers that a paper prints: one of each piece that is cut."""
        return tuple(
            Ledger(
                blank.title,
                f"{blank.stock}{f', {blank.count} of them' if blank.count > 1 else ''}",
                blank.terms,
                blank.cut_length_mm,
                "cut length",
                f"{blank.mass_g:.2f} g of {self.metal_of(blank)}",
                blank.waits,
            )
            for blank in self.blanks
        )

    def metal_of(self, blank: Blank) -> str:
        """The metal of a piece, in words: its own where it is not the ring's."""
        return METALS[blank.metal].title if blank.metal in METALS else self.metal.title

    def is_whole(self) -> bool:
        """Whether nothing is missing of it that a bench needs."""
        return bool(self.route)

    def does(self, op: str) -> bool:
        """Whether any of its steps does this on the bench."""
        return any(deed.op == op for step in self.route for deed in step.does)

    def to_close(self) -> tuple[str, ...]:
        """The measures that are taken before it can be closed."""
        return ()

    def stones_set(self) -> int:
        """How many stones are set again by its route."""
        return 0

    def closes_to_mm(self) -> float | None:
        """The inside diameter [mm] that it closes at, its later shaping counted; None where nobody knows."""
        return None

    def is_plated(self) -> bool:
        """Whether it is plated in the end."""
        return self.does("plate") or (self.metal.key in METALS and METALS[self.metal.key].of_family.plated)

    def credited_g(self) -> float:
        """Metal [g] that comes out of it and stays with the shop, which credits it."""
        return 0.0

    def stops(self) -> str:
        """What it stops with, where a reading left it no sense to go on; empty where it goes on."""
        return ""

    def begins_as(self) -> str:
        """The shape it has before its first step: a strip, or a ring that came in closed or open."""
        first = next(iter(self.start.values()), None)
        if first is None or first.shape == "strip":
            return "strip"
        return "closed" if first.shut else "open"

    def on_bench(self) -> OnBench:
        """What a bench draws of it; each kind of work says how."""
        raise NotImplementedError(f"{type(self).__name__} does not say what it looks like on a bench")
