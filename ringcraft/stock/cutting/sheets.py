"""The cut plan of sheets as it is answered: strips in the order of their cuts, where each blank lies, the rests."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ringcraft.stock.cutting.asking import CutRequest, StockSheet
from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.grid import PER_MM, down, up
from ringcraft.stock.cutting.shapes import CutPlace, CutPlan, CutStrip, LookedAt, SheetRest
from ringcraft.stock.cutting.sheet_fill import Rest, SheetProblem, Strip
from ringcraft.stock.cutting.sheet_plan import SheetPlan, plan_sheets
from ringcraft.stock.cutting.wanting import Wanted, marks, order_of, wanted_of
from ringcraft.stock.cutting.words import said_of


def from_sheets(asked: CutRequest) -> CutPlan:
    """Which blanks from which sheets."""
    wanted, kerf, effort = wanted_of(asked), up(asked.kerf_mm), Effort()
    sheets = [sheet for sheet in asked.sheets for _ in range(sheet.count)]
    trim = up(asked.end_trim_mm)
    problem = SheetProblem(
        tuple((max(0, down(one.length_mm) - trim) + kerf, down(one.width_mm) + kerf) for one in sheets),
        tuple((up(one.length_mm) + kerf, up(one.width_mm) + kerf) for one in wanted),
        kerf,
        tuple(one.along for one in wanted),
    )
    plan = plan_sheets(problem, order_of(wanted), effort) if wanted else SheetPlan()
    plan = replace(plan, strips=tuple(_lengthwise(problem, plan.strips)))
    opened, looked = plan.opened, LookedAt(effort.looked, plan.exhausted)
    strips = tuple(_strip(asked, problem, strip, plan, wanted, sheets) for strip in plan.strips)
    rests = tuple(_rest(asked, problem, rest, sheets[rest.sheet]) for rest in plan.rests)
    metal = sum((problem.sheets[one][0] - kerf) * (problem.sheets[one][1] - kerf) for one in opened)
    fewest, left = len(opened) == plan.bound_sheets, len(plan.unplaced)
    counts = (len(wanted) - left, left)
    return CutPlan(
        pieces=(),
        strips=strips,
        rests=rests,
        unplaced=tuple(wanted[item].id for item in plan.unplaced),
        unplaced_proven=plan.proven,
        looked_at=looked,
        used_mm=sum(wanted[item].length_mm for strip in plan.strips for item in strip.items),
        kerf_total_mm=asked.kerf_mm * sum(_cuts(problem, strip, plan) for strip in plan.strips),
        opened_mm=sum(sheets[sheet].length_mm for sheet in opened),
        opened_bound_mm=0.0,
        bound_pieces=0,
        bound_sheets=plan.bound_sheets,
        optimal=plan.proven and fewest and metal <= plan.bound_area,
        rest_mm=max((max(rest.long_mm, rest.wide_mm) for rest in rests), default=0.0),
        rest_bound_mm=max((sheets[sheet].length_mm for sheet in opened), default=0.0),
        rest_optimal=False,
        says=said_of(len(opened), plan.bound_sheets, counts, plan.proven, looked, "sheet"),
    )


def _lengthwise(problem: SheetProblem, strips: Sequence[Strip]) -> list[Strip]:
    """The same cuts told so that every blank lies along its strip: one that lies across it is a strip of its own."""
    out: list[Strip] = []
    new: dict[int, int] = {}
    for old, strip in enumerate(strips):
        at = new[old] = len(out)
        wide = [problem.blanks[item][1] for item in strip.items]
        stays = tuple(item for item, own in zip(strip.items, wide, strict=True) if own == strip.width)
        parent = None if strip.parent is None else new[strip.parent]
        out.append(replace(strip, items=stays, parent=parent))
        begin = sum(problem.runs(item, strip.width) for item in stays)
        for item, own in zip(strip.items, wide, strict=True):
            if own != strip.width:
                x, y = (strip.x, strip.y + begin) if strip.across else (strip.x + begin, strip.y)
                turned = not strip.across
                stage = min(3, strip.stage + 1)
                out.append(Strip(strip.sheet, x, y, strip.width, own, turned, (item,), stage, at))
                begin += own
    return out


def _ends(problem: SheetProblem, strip: Strip, plan: SheetPlan) -> tuple[int, int]:
    """How far a strip could run, and how far strips beside it could reach, before what it is cut from ends."""
    long, wide = problem.sheets[strip.sheet]
    if strip.parent is not None:
        other = plan.strips[strip.parent]
        long = other.x + (other.width if other.across else other.run)
        wide = other.y + (other.run if other.across else other.width)
    return (wide, long) if strip.across else (long, wide)


def _cuts(problem: SheetProblem, strip: Strip, plan: SheetPlan) -> int:
    """How often the saw goes for a strip: along its far side, and across it, where metal stays beyond."""
    over = (strip.x if strip.across else strip.y) + strip.width
    _, reach = _ends(problem, strip, plan)
    along = int(reach - over > 0)
    used = sum(problem.runs(item, strip.width) for item in strip.items)
    return along + len(strip.items) - int(bool(strip.items) and strip.run - used <= 0)


def _strip(
    asked: CutRequest,
    problem: SheetProblem,
    strip: Strip,
    plan: SheetPlan,
    wanted: Sequence[Wanted],
    sheets: Sequence[StockSheet],
) -> CutStrip:
    trim = asked.end_trim_mm
    sizes = [_size(problem, item, strip, wanted[item]) for item in strip.items]
    runs = [wide if strip.across else long for long, wide in sizes]
    begins = strip.x == 0 and not strip.across and strip.stage == 1
    at, over = (strip.y, strip.x) if strip.across else (strip.x, strip.y)
    places, along = [], at
    for item, (long, wide) in zip(strip.items, sizes, strict=True):
        x, y = (over, along) if strip.across else (along, over)
        places.append(CutPlace(wanted[item].id, round(x / PER_MM + trim, 6), y / PER_MM, long, wide))
        along += problem.runs(item, strip.width)
    ripped = any(other.parent is not None and plan.strips[other.parent] is strip for other in plan.strips)
    left = 0 if ripped else max(0, strip.run - problem.kerf - (along - at))
    whole = sizes[0][0 if strip.across else 1] if sizes else (strip.width - problem.kerf) / PER_MM
    return CutStrip(
        sheet_id=sheets[strip.sheet].id,
        at_mm=round(over / PER_MM + (trim if strip.across else 0.0), 6),
        from_mm=round(at / PER_MM + (0.0 if strip.across or begins else trim), 6),
        width_mm=whole,
        length_mm=round((strip.run - problem.kerf) / PER_MM + (trim if begins else 0.0), 6),
        cuts=tuple(wanted[item].id for item in strip.items),
        lengths_mm=tuple(runs),
        marks_mm=marks(trim if begins else 0.0, runs, asked.kerf_mm),
        offcut_mm=left / PER_MM,
        turned=strip.across,
        stage=strip.stage,
        parent=strip.parent,
        places=tuple(places),
    )


def _size(problem: SheetProblem, item: int, strip: Strip, blank: Wanted) -> tuple[float, float]:
    """How far a blank runs along the sheet and across it."""
    length, width = problem.blanks[item]
    flat = strip.width == (length if strip.across else width)
    return (blank.length_mm, blank.width_mm) if flat else (blank.width_mm, blank.length_mm)


def _rest(asked: CutRequest, problem: SheetProblem, rest: Rest, sheet: StockSheet) -> SheetRest:
    kerf = problem.kerf
    return SheetRest(
        sheet_id=sheet.id,
        x_mm=round(rest.x / PER_MM + asked.end_trim_mm, 6),
        y_mm=round(rest.y / PER_MM, 6),
        long_mm=round((rest.long - kerf) / PER_MM, 6),
        wide_mm=round((rest.wide - kerf) / PER_MM, 6),
    )
