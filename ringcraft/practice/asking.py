"""What can be practised, and an order of it."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Annotated

from pydantic import BeforeValidator

from ringcraft.errors import OutOfRangeError
from ringcraft.measure.asking import ScaleKey
from ringcraft.metals import MetalKey
from ringcraft.planning.made import Made, SeamSolders
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.request import Join
from ringcraft.planning.solders import OwnSolders
from ringcraft.planning.ways import FromWays, WaysKey
from ringcraft.schema import DegreesKey, PositiveMm, Share, UnitKey, name_of, read_figure, request
from ringcraft.sections import Stock
from ringcraft.tables import rows

MOST_ROUNDS = 12
ROUND = "round"  # the name of a round's piece begins so


@dataclass(frozen=True)
class Exercise:
    """Something that is practised in rounds: its route, how often and how long [mm] to begin with, what it is for."""

    key: str
    title: str
    route: str
    rounds: int
    length_mm: float
    closes: bool
    says: str
    learns: str
    source: str


EXERCISES: dict[str, Exercise] = {
    row["key"]: Exercise(**{one.name: row[one.name] for one in fields(Exercise)}) for row in rows("practice")
}
ExerciseKey = name_of("exercise", EXERCISES, {one.title: key for key, one in EXERCISES.items()})


def _rounds(value: object) -> int:
    said = read_figure(value, ("rounds", "times"), "Write 10.", "That is no count of rounds.")
    if said != said // 1 or not 1 <= said <= MOST_ROUNDS:
        raise OutOfRangeError("", "Practice goes in rounds.", f"From 1 to {MOST_ROUNDS}.")
    return int(said)


Rounds = Annotated[int, BeforeValidator(_rounds)]


@request
class PracticeRequest:
    """What is practised, of which stock, how long [mm], in how many rounds; its joint as the shop makes joints.

    ``water_share`` is how much of a shank's inside stands in water. What is left out is the exercise's own.
    """

    exercise: ExerciseKey = "cuts"
    metal: MetalKey = "copper"
    stock: Stock = Stock(profile="round", thickness_mm=1.6)
    length_mm: PositiveMm | None = None
    rounds: Rounds | None = None
    water_share: Share = 0.4
    join: Join | None = None
    units: UnitKey = "mm"
    degrees: DegreesKey = "c"
    solders: OwnSolders = ()
    own: OwnFigures = OwnFigures()
    home_scale: ScaleKey = "us"
    made: Made = ()
    seam_solders: SeamSolders = ()
    ways: WaysKey = "none"
    from_ways: FromWays = ()

    @property
    def of(self) -> Exercise:
        """What is practised."""
        return EXERCISES[self.exercise]

    @property
    def long_mm(self) -> float:
        """How long each piece is [mm]."""
        return self.of.length_mm if self.length_mm is None else self.length_mm

    @property
    def times(self) -> int:
        """In how many rounds."""
        return self.rounds or self.of.rounds


def round_of(piece: str) -> int:
    """Which round a piece or a measure's piece is of; 0 where it is of none.

    >>> round_of("round-3"), round_of("band")
    (3, 0)
    """
    name, _, count = piece.rpartition("-")
    return int(count) if name == ROUND and count.isdecimal() else 0
