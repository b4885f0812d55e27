"""The cut plan as it is answered: pieces with their scribe marks, what is left, whether it could be better."""

from __future__ import annotations

from ringcraft.schema import read_request
from ringcraft.stock.cutting.asking import CUT, CutRequest
from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import PER_MM, Problem, down, up
from ringcraft.stock.cutting.packing import BarPlan, plan_bars
from ringcraft.stock.cutting.shapes import CutPiece, CutPlan, LookedAt
from ringcraft.stock.cutting.sheets import from_sheets
from ringcraft.stock.cutting.wanting import marks, order_of, wanted_of
from ringcraft.stock.cutting.words import BEST_REST_MM, rest_said, said_of

__all__ = ["answer_cut", "cut"]


def cut(data: object) -> CutPlan:
    """Which blanks from which pieces of stock, from plain JSON data; raises BadRequest."""
    return answer_cut(read_request(CUT, data))


def answer_cut(asked: CutRequest) -> CutPlan:
    """Which blanks from which pieces of stock."""
    return from_sheets(asked) if asked.sheets else _from_bars(asked)


def _from_bars(asked: CutRequest) -> CutPlan:
    wanted, kerf, effort = wanted_of(asked), up(asked.kerf_mm), Effort()
    bars = sorted((bar for bar in asked.stock for _ in range(bar.count)), key=lambda bar: bar.cost)
    rooms = tuple(max(0, down(bar.length_mm) - up(asked.end_trim_mm)) + kerf for bar in bars)
    problem = Problem(rooms, tuple(up(one.length_mm) + kerf for one in wanted), kerf)
    plan = plan_bars(problem, order_of(wanted), effort) if wanted else BarPlan([[] for _ in rooms], [], 0, 0, 0)
    pieces = []
    for bar in plan.opened:
        items = sorted(plan.packed[bar], key=lambda at: (-wanted[at].length_mm, not wanted[at].due, wanted[at].due))
        lengths = [wanted[at].length_mm for at in items]
        pieces.append(
            CutPiece(
                stock_id=bars[bar].id,
                length_mm=bars[bar].length_mm,
                cuts=tuple(wanted[at].id for at in items),
                lengths_mm=tuple(lengths),
                marks_mm=marks(asked.end_trim_mm, lengths, asked.kerf_mm),
                sawn=problem.cuts(bar, items),
                offcut_mm=problem.rest(bar, items) / PER_MM,
            )
        )
    placed = [at for bar in plan.opened for at in plan.packed[bar]]
    opened, rest = problem.total(plan.opened), max((piece.offcut_mm for piece in pieces), default=0.0)
    bound = plan.bound_rest / PER_MM
    fewest = len(pieces) == plan.bound_pieces
    counts = (len(placed), len(plan.unplaced))
    said = said_of(len(pieces), plan.bound_pieces, counts, plan.proven, LookedAt(effort.looked, plan.exhausted))
    return CutPlan(
        pieces=tuple(pieces),
        strips=(),
        rests=(),
        unplaced=tuple(wanted[at].id for at in plan.unplaced),
        unplaced_proven=plan.proven,
        looked_at=LookedAt(effort.looked, plan.exhausted),
        used_mm=sum(wanted[at].length_mm for at in placed),
        kerf_total_mm=asked.kerf_mm * sum(piece.sawn for piece in pieces),
        opened_mm=sum(piece.length_mm for piece in pieces),
        opened_bound_mm=min(
            plan.bound_opened / PER_MM + plan.bound_pieces * asked.end_trim_mm, sum(one.length_mm for one in pieces)
        ),
        bound_pieces=plan.bound_pieces,
        bound_sheets=0,
        optimal=plan.proven and fewest and opened <= plan.bound_opened and rest >= bound - 0.5 / PER_MM,
        rest_mm=rest,
        rest_bound_mm=max(bound, rest),
        rest_optimal=rest >= bound - BEST_REST_MM,
        says=(*said, *rest_said(rest, bound, asked.units)) if pieces else said,
    )
