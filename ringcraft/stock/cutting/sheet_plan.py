"""Blanks from sheets in two stages: strips of a width along the sheet, then lengths off each strip.

HiGHS chooses how many strips of each width each sheet gives; the fill lays the blanks of a width on its strips, and
where they do not go, more metal of that width is asked for. How many sheets are needed at least is reckoned in whole
numbers: at any whole prices of the widths a sheet is worth no more than its best choice of strips.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ringcraft.stock.cutting.fill import most_held
from ringcraft.stock.cutting.grid import PER_MM, Problem
from ringcraft.stock.cutting.highs import Column, choose_whole, price
from ringcraft.stock.cutting.packing import plan_bars
from ringcraft.stock.cutting.patterns import Few, best_pattern

TRIES, SINGLE_TRIES = 14, 40
MORE = 1.04  # of the metal of a width that the fill could not lay

Area = tuple[int, int]


@dataclass(frozen=True)
class SheetProblem:
    """Sheets and blanks as (length, width), each with one kerf in it, in thousandths of a millimetre."""

    sheets: tuple[Area, ...]
    blanks: tuple[Area, ...]
    kerf: int


@dataclass(frozen=True)
class StripOf:
    """A strip of a sheet: its width with one kerf, and the blanks that are cut from it."""

    sheet: int
    width: int
    items: tuple[int, ...]


@dataclass(frozen=True)
class SheetPlan:
    """The strips to cut, what could not be placed, and how many sheets are needed at least."""

    strips: tuple[StripOf, ...]
    unplaced: tuple[int, ...]
    bound_sheets: int

    @property
    def opened(self) -> list[int]:
        """The sheets that are cut."""
        return sorted({strip.sheet for strip in self.strips})


def plan_sheets(problem: SheetProblem, order: Sequence[int]) -> SheetPlan:
    """Place blanks on sheets; ``order`` says which go first where not all do."""
    fits = [item for item in order if any(_goes(problem.blanks[item], sheet) for sheet in problem.sheets)]
    strips = _strips(problem, fits) if fits else ()
    if strips is None:
        fits, strips = _some(problem, fits)
    bound = _bound(problem, fits) if fits else 0
    return SheetPlan(strips or (), tuple(sorted(set(order) - set(fits))), bound)


def _goes(blank: Area, sheet: Area) -> bool:
    return blank[0] <= sheet[0] and blank[1] <= sheet[1]


def _some(problem: SheetProblem, order: Sequence[int]) -> tuple[list[int], tuple[StripOf, ...]]:
    """As many blanks as go, in their order: the longest beginning that does, then single ones after it."""
    low, high = 0, len(order)
    best: tuple[StripOf, ...] = ()
    while low < high:
        middle = (low + high + 1) // 2
        strips = _strips(problem, order[:middle])
        if strips is None:
            high = middle - 1
        else:
            low, best = middle, strips
    chosen = list(order[:low])
    for item in order[low + 1 : low + 1 + SINGLE_TRIES]:
        strips = _strips(problem, [*chosen, item])
        if strips is not None:
            chosen, best = [*chosen, item], strips
    return chosen, best


def _by_width(problem: SheetProblem, items: Sequence[int]) -> dict[int, list[int]]:
    """Some blanks by their width."""
    out: dict[int, list[int]] = {}
    for item in items:
        out.setdefault(problem.blanks[item][1], []).append(item)
    return out


def _strips(problem: SheetProblem, items: Sequence[int]) -> tuple[StripOf, ...] | None:
    """Strips that hold these blanks on as few sheets as HiGHS and the fill find; None where they find no way."""
    by_width = _by_width(problem, items)
    extra = dict.fromkeys(by_width, 0)
    for _ in range(TRIES):
        counts = _choose(problem, by_width, extra)
        if counts is None:
            return None
        strips, short = _filled(problem, by_width, counts)
        if not short:
            return strips
        for width, load in short.items():
            extra[width] += max(1, round(load * (MORE - 1) + load / 4))
    return None


def _filled(
    problem: SheetProblem, by_width: Mapping[int, Sequence[int]], counts: Mapping[tuple[int, int], int]
) -> tuple[tuple[StripOf, ...], dict[int, int]]:
    """The blanks of each width on its strips, and the load that did not go on, by width."""
    strips: list[StripOf] = []
    short: dict[int, int] = {}
    for width, items in by_width.items():
        bars = [sheet for (sheet, own), count in counts.items() if own == width for _ in range(count)]
        lengths = tuple(problem.blanks[item][0] for item in items)
        rooms = Problem(tuple(problem.sheets[sheet][0] for sheet in bars), lengths, problem.kerf)
        plan = plan_bars(rooms, list(range(len(items)))) if bars else None
        if plan is None or plan.unplaced:
            left = range(len(items)) if plan is None else plan.unplaced
            short[width] = sum(lengths[place] for place in left)
            continue
        for sheet, places in zip(bars, plan.packed, strict=True):
            if places:
                strips.append(StripOf(sheet, width, tuple(items[place] for place in places)))
    return tuple(sorted(strips, key=lambda one: (one.sheet, -one.width))), short


def _held(problem: SheetProblem, items: Sequence[int], sheet: int) -> int:
    """What a strip of a sheet can hold of these blanks."""
    return most_held([problem.blanks[item][0] for item in items], problem.sheets[sheet][0])


def _model(
    problem: SheetProblem, by_width: Mapping[int, Sequence[int]], extra: Mapping[int, int]
) -> tuple[list[tuple[int, int]], list[Column], list[tuple[float, float]]]:
    """Strips of each width from each sheet, and sheets that are opened; rows: widths wanted, then sheets' widths."""
    widths = list(by_width)
    largest = max(length * width for length, width in problem.sheets) * len(problem.sheets) + 1
    strips, columns = [], []
    for sheet, (length, wide) in enumerate(problem.sheets):
        for row, width in enumerate(widths):
            items = by_width[width]
            most = min(wide // width, len(items))
            held = _held(problem, items, sheet) / PER_MM
            strips.append((sheet, width))
            entries = {row: held, len(widths) + sheet: width / PER_MM}
            columns.append(Column(1e-4 * length * width / largest, most if held else 0.0, entries))
    for sheet, (length, wide) in enumerate(problem.sheets):
        columns.append(Column(1 + length * wide / largest, 1.0, {len(widths) + sheet: -wide / PER_MM}))
    loads = [sum(problem.blanks[item][0] for item in by_width[width]) + extra[width] for width in widths]
    rows = [(load / PER_MM, math.inf) for load in loads] + [(-math.inf, 0.0)] * len(problem.sheets)
    return strips, columns, rows


def _choose(
    problem: SheetProblem, by_width: Mapping[int, Sequence[int]], extra: Mapping[int, int]
) -> dict[tuple[int, int], int] | None:
    strips, columns, rows = _model(problem, by_width, extra)
    values = choose_whole(columns, rows).values
    if not values:
        return None
    counts = {one: round(value) for one, value in zip(strips, values, strict=False)}
    for sheet, (_, wide) in enumerate(problem.sheets):
        if sum(width * count for (own, width), count in counts.items() if own == sheet) > wide:
            return None
    return counts


def _bound(problem: SheetProblem, items: Sequence[int]) -> int:
    """So many sheets are needed at least, by the area and by the prices of the relaxed choice."""
    by_width = _by_width(problem, items)
    _, columns, rows = _model(problem, by_width, dict.fromkeys(by_width, 0))
    relaxed = price(columns, rows).prices[: len(by_width)]
    choices = [list(by_width), [max(0, round(one * PER_MM * PER_MM)) for one in relaxed]]
    return max(_bound_at(problem, by_width, prices) for prices in choices if prices)


def _bound_at(problem: SheetProblem, by_width: Mapping[int, Sequence[int]], prices: Sequence[int]) -> int:
    few = Few(tuple(by_width), tuple(len(items) for items in by_width.values()), (), ())
    worths = []
    for sheet, (_, wide) in enumerate(problem.sheets):
        value = [p * _held(problem, items, sheet) for p, items in zip(prices, by_width.values(), strict=True)]
        best = best_pattern(few, wide, value)
        if best is None:
            return 1
        worths.append(best[0])
    need = sum(
        p * sum(problem.blanks[item][0] for item in items) for p, items in zip(prices, by_width.values(), strict=True)
    )
    count = 0
    for worth in sorted(worths, reverse=True):
        if need <= 0:
            break
        need, count = need - worth, count + 1
    return count
