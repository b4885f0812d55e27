"""The cut plan as it is answered: pieces with their scribe marks, what is left, whether it could be better."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.schema import read_request
from ringcraft.stock.cutting.asking import CUT, CutRequest
from ringcraft.stock.cutting.grid import PER_MM, Problem, down, up
from ringcraft.stock.cutting.packing import BarPlan, plan_bars
from ringcraft.stock.cutting.sheet_plan import SheetPlan, SheetProblem, StripOf, plan_sheets
from ringcraft.units import Length, counted

BEST_REST_MM = 0.5  # a rest this near to its bound is as long as it can be at a bench


@dataclass(frozen=True)
class CutPiece:
    """A piece of stock that is opened: its blanks in the order of their cuts from the left end, where to scribe each
    [mm from the left end as it lies in the drawer], how often the saw goes through, what is left [mm].
    """

    stock_id: str
    length_mm: float
    cuts: tuple[str, ...]
    lengths_mm: tuple[float, ...]
    marks_mm: tuple[float, ...]
    sawn: int
    offcut_mm: float


@dataclass(frozen=True)
class CutStrip:
    """A strip of a sheet: from which edge its near side lies how far [mm], its width, its blanks with their marks."""

    sheet_id: str
    at_mm: float
    width_mm: float
    length_mm: float
    cuts: tuple[str, ...]
    lengths_mm: tuple[float, ...]
    marks_mm: tuple[float, ...]
    offcut_mm: float


@dataclass(frozen=True)
class CutPlan:
    """Which blanks from which pieces. ``used_mm`` are the blanks, ``opened_mm`` the pieces that are cut; a bound is
    proven: no plan opens fewer pieces, and none of these pieces leaves a longer single rest than ``rest_bound_mm``.
    """

    pieces: tuple[CutPiece, ...]
    strips: tuple[CutStrip, ...]
    unplaced: tuple[str, ...]
    used_mm: float
    kerf_total_mm: float
    opened_mm: float
    opened_bound_mm: float
    bound_pieces: int
    bound_sheets: int
    optimal: bool
    rest_mm: float
    rest_bound_mm: float
    rest_optimal: bool
    says: tuple[str, ...]


def cut(data: object) -> CutPlan:
    """Which blanks from which pieces of stock, from plain JSON data; raises BadRequest."""
    return answer_cut(read_request(CUT, data))


def answer_cut(asked: CutRequest) -> CutPlan:
    """Which blanks from which pieces of stock."""
    return _from_sheets(asked) if asked.sheets else _from_bars(asked)


@dataclass(frozen=True)
class _Wanted:
    """A blank that is wanted, one of its count."""

    id: str
    length_mm: float
    width_mm: float
    due: str


def _wanted(asked: CutRequest) -> list[_Wanted]:
    return [
        _Wanted(one.id, one.length_mm, one.width_mm or 0.0, one.due) for one in asked.blanks for _ in range(one.count)
    ]


def _order(wanted: Sequence[_Wanted]) -> list[int]:
    """Who is served first where not all go: what is due first, then the longest; what has no day comes last."""
    return sorted(range(len(wanted)), key=lambda at: (not wanted[at].due, wanted[at].due, -wanted[at].length_mm, at))


def _from_bars(asked: CutRequest) -> CutPlan:
    wanted, kerf = _wanted(asked), up(asked.kerf_mm)
    bars = sorted((bar for bar in asked.stock for _ in range(bar.count)), key=lambda bar: bar.cost)
    rooms = tuple(max(0, down(bar.length_mm) - up(asked.end_trim_mm)) + kerf for bar in bars)
    problem = Problem(rooms, tuple(up(one.length_mm) + kerf for one in wanted), kerf)
    plan = plan_bars(problem, _order(wanted)) if wanted else BarPlan([[] for _ in rooms], [], 0, 0, 0)
    pieces = []
    for bar in plan.opened:
        items = sorted(plan.packed[bar], key=lambda at: (-wanted[at].length_mm, not wanted[at].due, wanted[at].due))
        pieces.append(
            CutPiece(
                stock_id=bars[bar].id,
                length_mm=bars[bar].length_mm,
                cuts=tuple(wanted[at].id for at in items),
                lengths_mm=tuple(wanted[at].length_mm for at in items),
                marks_mm=_marks(asked.end_trim_mm, [wanted[at].length_mm for at in items], asked.kerf_mm),
                sawn=problem.cuts(bar, items),
                offcut_mm=problem.rest(bar, items) / PER_MM,
            )
        )
    placed = [at for bar in plan.opened for at in plan.packed[bar]]
    rest = max((piece.offcut_mm for piece in pieces), default=0.0)
    optimal = len(pieces) == plan.bound_pieces
    bound = plan.bound_rest / PER_MM
    return CutPlan(
        pieces=tuple(pieces),
        strips=(),
        unplaced=tuple(wanted[at].id for at in plan.unplaced),
        used_mm=sum(wanted[at].length_mm for at in placed),
        kerf_total_mm=asked.kerf_mm * sum(piece.sawn for piece in pieces),
        opened_mm=sum(piece.length_mm for piece in pieces),
        opened_bound_mm=min(plan.bound_opened / PER_MM, sum(piece.length_mm for piece in pieces)),
        bound_pieces=plan.bound_pieces,
        bound_sheets=0,
        optimal=optimal,
        rest_mm=rest,
        rest_bound_mm=max(bound, rest),
        rest_optimal=rest >= bound - BEST_REST_MM,
        says=_says(asked, len(pieces), plan.bound_pieces, rest, bound, len(plan.unplaced)),
    )


def _marks(begin_mm: float, lengths: Sequence[float], kerf_mm: float) -> tuple[float, ...]:
    """Where each blank ends, from the left end: the saw goes on the right of the line and takes one kerf."""
    out, at = [], begin_mm
    for length in lengths:
        at += length
        out.append(round(at, 6))
        at += kerf_mm
    return tuple(out)


def _says(
    asked: CutRequest, pieces: int, bound: int, rest: float, rest_bound: float, unplaced: int, what: str = "piece"
) -> tuple[str, ...]:
    """Whether it is the best possible, in words that are true of this plan."""
    said = []
    if unplaced:
        said.append(f"{counted(unplaced, 'blank')} cannot be cut from what is there.")
    if not pieces:
        return tuple(said or ["Nothing is to be cut."])
    if pieces == bound == 1:
        said.append(f"One {what} is enough.")
    elif pieces == bound:
        said.append(f"It cannot be done from fewer than {counted(pieces, what)}.")
    else:
        said.append(
            f"{counted(pieces, what)}; fewer than {bound} is impossible, whether {bound} would do is not known."
        )
    if what == "piece" and rest_bound > 0:
        if rest >= rest_bound - BEST_REST_MM:
            said.append("The longest rest is as long as it can be.")
        else:
            more = Length(rest_bound - rest, asked.units)
            said.append(f"The longest rest could be {more:.1f mm} longer at most.")
    return tuple(said)


def _from_sheets(asked: CutRequest) -> CutPlan:
    wanted, kerf = _wanted(asked), up(asked.kerf_mm)
    sheets = [sheet for sheet in asked.sheets for _ in range(sheet.count)]
    trim = up(asked.end_trim_mm)
    problem = SheetProblem(
        tuple((max(0, down(one.length_mm) - trim) + kerf, down(one.width_mm) + kerf) for one in sheets),
        tuple((up(one.length_mm) + kerf, up(one.width_mm) + kerf) for one in wanted),
        kerf,
    )
    plan = plan_sheets(problem, _order(wanted)) if wanted else SheetPlan((), (), 0)
    strips, at = [], dict.fromkeys(range(len(sheets)), 0.0)
    for strip in plan.strips:
        made = _strip(asked, strip, wanted, sheets[strip.sheet].id, sheets[strip.sheet].length_mm, at[strip.sheet])
        strips.append(made)
        at[strip.sheet] += made.width_mm + asked.kerf_mm
    opened, placed = plan.opened, [item for strip in plan.strips for item in strip.items]
    across = sum(
        len([one for one in plan.strips if one.sheet == sheet]) - (down(sheets[sheet].width_mm) - up(at[sheet]) < 0)
        for sheet in opened
    )
    cuts = sum(problem_cuts(problem, strip) for strip in plan.strips)
    return CutPlan(
        pieces=(),
        strips=tuple(strips),
        unplaced=tuple(wanted[item].id for item in plan.unplaced),
        used_mm=sum(wanted[item].length_mm for item in placed),
        kerf_total_mm=asked.kerf_mm * (across + cuts),
        opened_mm=sum(sheets[sheet].length_mm for sheet in opened),
        opened_bound_mm=0.0,
        bound_pieces=0,
        bound_sheets=plan.bound_sheets,
        optimal=len(opened) == plan.bound_sheets,
        rest_mm=max((strip.offcut_mm for strip in strips), default=0.0),
        rest_bound_mm=max((sheets[sheet].length_mm for sheet in opened), default=0.0),
        rest_optimal=False,
        says=_says(asked, len(opened), plan.bound_sheets, 0.0, 0.0, len(plan.unplaced), "sheet"),
    )


def problem_cuts(problem: SheetProblem, strip: StripOf) -> int:
    """How often a strip is cut across."""
    bar = Problem((problem.sheets[strip.sheet][0],), tuple(problem.blanks[i][0] for i in strip.items), problem.kerf)
    return bar.cuts(0, range(len(strip.items)))


def _strip(
    asked: CutRequest, strip: StripOf, wanted: Sequence[_Wanted], sheet: str, long_mm: float, at_mm: float
) -> CutStrip:
    items = sorted(strip.items, key=lambda at: -wanted[at].length_mm)
    lengths = [wanted[item].length_mm for item in items]
    marks = _marks(asked.end_trim_mm, lengths, asked.kerf_mm)
    return CutStrip(
        sheet_id=sheet,
        at_mm=round(at_mm, 6),
        width_mm=wanted[items[0]].width_mm,
        length_mm=long_mm,
        cuts=tuple(wanted[item].id for item in items),
        lengths_mm=tuple(lengths),
        marks_mm=marks,
        offcut_mm=max(0.0, round(long_mm - marks[-1] - asked.kerf_mm, 6)),
    )
