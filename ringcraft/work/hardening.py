"""Work-hardening as a bar that fills: the strain of a piece since its last anneal against what its metal bears.

The strains are those of the virtual bench, step by step; poured metal fills faster than bought.
"""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.vbench.pieces import Piece
from ringcraft.work.plan import WorkPlan

POURED_SHARE = 0.9  # of what bought metal bears between two anneals; our own judgement
HAIR = 1e-6


@dataclass(frozen=True)
class Hardness:
    """How hard a piece is after a step: its strain [share], what its metal bears [share], the one over the other.

    ``due`` says that it is past that; ``says`` is what it means.
    """

    step: str
    piece: str
    strain: float
    limit: float
    filled: float
    due: bool
    says: str


def hardening(plan: WorkPlan, poured: bool = False) -> tuple[Hardness, ...]:
    """The bar after each step at which it moves; empty for a plan that does not know how its pieces stand."""
    out: list[Hardness] = []
    before: dict[str, Piece] = dict(plan.start)
    for step in plan.route:
        for name, piece in step.after.items():
            was = before.get(name)
            if was is None or (piece.strain, piece.heats, piece.hot) != (was.strain, was.heats, was.hot):
                out.append(_hardness(step.key, name, piece, was, poured))
        before = dict(step.after)
    return tuple(out)


def _hardness(step: str, name: str, piece: Piece, was: Piece | None, poured: bool) -> Hardness:
    limit = piece.of.of_family.strain_limit * (POURED_SHARE if poured else 1.0)
    filled = piece.strain / limit if limit else 0.0
    return Hardness(step, name, piece.strain, limit, filled, filled > 1 + HAIR, _says(piece, was, filled, poured))


def _says(piece: Piece, was: Piece | None, filled: float, poured: bool) -> str:
    metal = f"{'poured ' if poured else ''}{piece.of.title}"
    if piece.strain <= HAIR:
        if was is not None and piece.heats > was.heats:
            return "Empty: the soldering has annealed it."
        return "Empty: it is soft."
    if filled > 1 + HAIR:
        return f"Past what {metal} bears between two anneals: anneal before this."
    return f"{100 * filled:.0f} % of what {metal} bears between two anneals."
