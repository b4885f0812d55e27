"""What a job should have lost on its way, against what it weighs: kerfs, faces, papers, and what is missing."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ringcraft.vbench.pieces import Piece
from ringcraft.work.plan import WorkPlan

GOOD, NOTE = 0.03, 0.08  # of the mass; common practice
PAPERS = 0.01  # of the mass: what papers and compounds take; our own judgement
LEAST_G = 0.005
_TITLES = {
    "trim": "trim filed off",
    "saw-joint": "sawn through the joint",
    "file-joint": "filed true",
    "cut": "cut to length",
    "file-solder": "solder filed off",
}
#: What is cut before the ring begins does not count as lost from it.
_BEFORE = ("cut", "square", "measure")


@dataclass(frozen=True)
class LossLine:
    """One line of what becomes of the metal [g]: less than nothing where it is lost."""

    key: str
    title: str
    mass_g: float


@dataclass(frozen=True)
class Losses:
    """The metal of a job [g]: its blanks as cut, what it loses, what it should weigh, weighs, what is missing.

    ``should_g`` is what the card expects of it; ``papers_g`` is what papers take beside, well within what counts as
    good. ``weighs_g`` is None until it is weighed. ``verdict``: good within 3 %, note within 8 %, look beyond.
    """

    lines: tuple[LossLine, ...]
    should_g: float
    papers_g: float
    weighs_g: float | None
    missing_g: float
    verdict: Literal["", "good", "note", "look"]
    says: str


def losses(plan: WorkPlan, weighs_g: float | None = None) -> Losses | None:
    """What becomes of a job's metal; None for a plan that does not know how its pieces stand, or asks for no weight:
    of a ring that came in nobody knows what its head weighs.
    """
    if not plan.start or not weighed_by(plan) or not any(step.after for step in plan.route):
        return None
    before = dict(plan.start)
    began, lines = _mass(before), dict[str, float]()
    cut = True
    for step in plan.route:
        change = _mass(step.after) - _mass(before)
        ops = [deed.op for deed in step.does]
        before = dict(step.after)
        if cut and all(op in _BEFORE for op in ops):
            began += change
            continue
        cut = cut and not ops
        if abs(change) > 1e-9:
            key = next((op for op in _TITLES if op in ops), ops[0] if ops else "work")
            lines[key] = lines.get(key, 0.0) + change
    if began <= 0:
        return None
    told = [LossLine("blank", "blanks as cut", began)]
    told += [LossLine(key, _TITLES.get(key, key), mass) for key, mass in lines.items() if abs(mass) >= LEAST_G]
    should = math.fsum(line.mass_g for line in told)
    return _judged(tuple(told), should, weighs_g)


def weighed_by(plan: WorkPlan) -> str:
    """The measure that weighs the finished metal; empty where none is asked."""
    asks = [ask.key for step in plan.route for ask in step.measure if ask.key.startswith("mass-")]
    return asks[-1] if asks else ""


def _mass(pieces: Mapping[str, Piece]) -> float:
    return math.fsum(piece.mass_g * piece.count for piece in pieces.values())


def _judged(lines: tuple[LossLine, ...], should: float, weighs: float | None) -> Losses:
    papers = PAPERS * should
    if weighs is None:
        told = f"Papers take about {papers:.2f} g of that."
        return Losses(lines, should, papers, None, 0.0, "", told)
    missing = should - weighs
    verdict = _verdict(abs(missing) / should)
    return Losses(lines, should, papers, weighs, missing, verdict, _says(verdict, should, weighs))


def _verdict(share: float) -> Literal["good", "note", "look"]:
    return "good" if share <= GOOD else "note" if share <= NOTE else "look"


def _says(verdict: str, should: float, weighs: float) -> str:
    missing = should - weighs
    if verdict == "good":
        return f"{weighs:.2f} g of {should:.2f}: nothing is missing."
    if missing < 0:
        return f"{-missing:.2f} g more than it should be: solder left on, or other stock than was planned."
    if verdict == "note":
        return f"{missing:.2f} g less than it should be: in the filings, most likely."
    return f"{missing:.2f} g are in the drawer or on the floor: look before you sweep."
