"""Blanks from sheets: all of them placed, on the fewest sheets, of the least metal, in this order.

A few blanks are tried in every way of three stages; more are cut in one order after another, as far as the effort
goes. What is said to be the best is shown by the metal and by blanks of which no two go on one sheet, which holds for
every plan that cuts from edge to edge.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from random import Random

from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.sheet_exact import MOST_ITEMS, SheetWays
from ringcraft.stock.cutting.sheet_fill import Cutter, Rest, SheetProblem, Strip

SEED = 22
TRIES = 60  # orders that are tried for one question
SINGLE_TRIES = 6
MOST_LIKE = 120  # blanks that are held against each other
#: Shares of a request's effort: placing all, one by one, fewer, smaller sheets.
PLACE, SINGLE, FEWER, SMALLER = 0.25, 0.45, 0.25, 0.15
Laid = tuple[list[Strip], list[Rest]]


@dataclass(frozen=True)
class SheetPlan:
    """The strips to cut and what is left; ``bound_sheets`` are needed at least, ``bound_area`` of them together.

    ``proven``: what is left out was shown not to go with what is served before it. ``exhausted``: every way of three
    stages was tried.
    """

    strips: tuple[Strip, ...] = ()
    rests: tuple[Rest, ...] = ()
    unplaced: tuple[int, ...] = ()
    bound_sheets: int = 0
    bound_area: int = 0
    proven: bool = True
    exhausted: bool = False

    @property
    def opened(self) -> list[int]:
        """The sheets that are cut."""
        return sorted({strip.sheet for strip in self.strips})


def plan_sheets(problem: SheetProblem, order: Sequence[int], effort: Effort) -> SheetPlan:
    """Place blanks on sheets; ``order`` says which go first where not all do."""
    sheets = range(len(problem.sheets))
    fits = [item for item in order if any(problem.goes(item, sheet) for sheet in sheets)]
    if len(fits) <= MOST_ITEMS:
        found = _every_way(problem, fits, effort)
        if found is not None:
            return _answered(problem, order, *found, exhausted=True)
    laid = _all(problem, fits, effort.part(PLACE))
    placed = fits
    if laid is None:
        placed, laid = _some(problem, fits, effort.part(SINGLE))
    laid = _fewer(problem, placed, laid, effort)
    return _answered(problem, order, placed, laid, exhausted=False)


def _answered(
    problem: SheetProblem, order: Sequence[int], placed: Sequence[int], laid: Laid, *, exhausted: bool
) -> SheetPlan:
    opened = {strip.sheet for strip in laid[0]}
    bound = len(opened) if exhausted else bound_sheets(problem, placed)
    metal = sum(_raw(problem, sheet) for sheet in opened)
    least = sorted(_raw(problem, sheet) for sheet in range(len(problem.sheets)))
    kerf = problem.kerf
    need = sum((problem.blanks[item][0] - kerf) * (problem.blanks[item][1] - kerf) for item in placed)
    return SheetPlan(
        strips=tuple(laid[0]),
        rests=tuple(laid[1]),
        unplaced=tuple(sorted(set(order) - set(placed))),
        bound_sheets=bound,
        bound_area=metal if exhausted else max(need, sum(least[:bound])),
        proven=exhausted or _shown(problem, order, set(placed)),
        exhausted=exhausted,
    )


def _raw(problem: SheetProblem, sheet: int) -> int:
    long, wide = problem.sheets[sheet]
    return (long - problem.kerf) * (wide - problem.kerf)


def _every_way(problem: SheetProblem, order: Sequence[int], effort: Effort) -> tuple[list[int], Laid] | None:
    """The best of all plans of three stages; None where that is more than the effort pays for."""
    few = SheetProblem(
        problem.sheets,
        tuple(problem.blanks[item] for item in order),
        problem.kerf,
        tuple(problem.along[item] for item in order),
    )
    ways: dict[tuple[tuple[int, int], bool], SheetWays] = {}
    for sheet in dict.fromkeys(problem.sheets):
        for across in (False, True):
            ways[sheet, across] = made = SheetWays(few, sheet, across, effort)
            if effort.spent or (made.least and effort.spent):
                return None
    goes = {
        sheet: [ways[sheet, False].least[items] is not None or ways[sheet, True].least[items] is not None
                for items in range(1 << len(order))]
        for sheet in dict.fromkeys(problem.sheets)
    }  # fmt: skip
    reach = _reach(problem, goes, len(order), effort)
    if reach is None:
        return None
    chosen = 0
    for item in range(len(order)):
        if chosen | 1 << item in reach:
            chosen |= 1 << item
    strips: list[Strip] = []
    rests: list[Rest] = []
    for at, items in reach[chosen][2]:
        size = problem.sheets[at]
        across = ways[size, False].least[items] is None
        laid = ways[size, across].layout(at, items)
        begin = len(strips)
        for strip in laid[0]:
            parent = None if strip.parent is None else strip.parent + begin
            strips.append(replace(strip, items=tuple(order[item] for item in strip.items), parent=parent))
        rests += laid[1]
    return [order[item] for item in range(len(order)) if chosen >> item & 1], (strips, rests)


#: How many sheets, how much of them, and what goes on which.
_Reached = tuple[int, int, tuple[tuple[int, int], ...]]


def _reach(
    problem: SheetProblem, goes: dict[tuple[int, int], list[bool]], blanks: int, effort: Effort
) -> dict[int, _Reached] | None:
    """Every set that goes on the sheets, on the fewest and the smallest of them."""
    reach: dict[int, _Reached] = {0: (0, 0, ())}
    many: dict[tuple[int, int], int] = {}
    for sheet, size in enumerate(problem.sheets):
        many[size] = many.get(size, 0) + 1
        if many[size] > blanks:
            continue
        held = [items for items in range(1, 1 << blanks) if goes[size][items]]
        for before, (count, metal, how) in list(reach.items()):
            effort.spend(len(held) // 4 + 1)
            for items in held:
                if items & before:
                    continue
                made = (count + 1, metal + _raw(problem, sheet))
                old = reach.get(before | items)
                if old is None or made < old[:2]:
                    reach[before | items] = (*made, (*how, (sheet, items)))
        if effort.spent:
            return None
    return reach


def _orders(problem: SheetProblem, items: Sequence[int]) -> list[list[int]]:
    """Orders to cut in: the widest first, the largest, the longest."""
    blanks = problem.blanks
    keys = (
        lambda item: (-min(blanks[item]), -max(blanks[item])),
        lambda item: (-problem.area(item), -max(blanks[item])),
        lambda item: (-max(blanks[item]), -min(blanks[item])),
    )
    return [sorted(items, key=key) for key in keys]


def _all(
    problem: SheetProblem, items: Sequence[int], effort: Effort, sheets: Sequence[int] | None = None
) -> Laid | None:
    """All of these blanks on these sheets, the largest sheets first; None where no way was found."""
    if not items:
        return [], []
    use = list(range(len(problem.sheets))) if sheets is None else list(sheets)
    if sum(problem.area(item) for item in items) > sum(a * b for a, b in (problem.sheets[one] for one in use)):
        return None
    use.sort(key=lambda sheet: -_raw(problem, sheet))
    orders = _orders(problem, items)
    best: tuple[int, int, Laid] | None = None
    for tried in range(TRIES):
        if effort.spent:
            break
        order, chance = orders[tried % len(orders)], None
        if tried >= len(orders):  # the same with some luck
            chance = Random(SEED + tried)  # noqa: S311 - in which order blanks are tried is no secret
            order = sorted(order, key=lambda item, c=chance: -problem.area(item) * (0.6 + 0.4 * c.random()))  # type: ignore[misc]
        laid, left = _cut(problem, order, use, effort, chance)
        if left:
            continue
        opened = {strip.sheet for strip in laid[0]}
        made = (len(opened), sum(_raw(problem, sheet) for sheet in opened))
        if best is None or made < best[:2]:
            best = (*made, laid)
        if len(opened) == 1:
            break
    return None if best is None else best[2]


def _cut(
    problem: SheetProblem, order: Sequence[int], sheets: Sequence[int], effort: Effort, chance: Random | None
) -> tuple[Laid, list[int]]:
    """One sheet after the other, each along or across, what holds more; what does not go on any."""
    strips: list[Strip] = []
    rests: list[Rest] = []
    left = list(order)
    for sheet in sheets:
        if not left or effort.spent:
            break
        found = []
        effort.spend(2 * len(left))
        for across in (False, True):
            cutter = Cutter(problem, effort, chance)
            cutter.cut(sheet, left, across)
            found.append((sum(problem.area(item) for item in cutter.left), cutter))
        _, cutter = min(found, key=lambda one: one[0])
        begin = len(strips)
        strips += [one if one.parent is None else replace(one, parent=one.parent + begin) for one in cutter.strips]
        if cutter.strips:
            rests += [one if one.parent is None else replace(one, parent=one.parent + begin) for one in cutter.rests]
        left = cutter.left
    return (strips, rests), left


def _some(problem: SheetProblem, order: Sequence[int], effort: Effort) -> tuple[list[int], Laid]:
    """As many blanks as go, in their order: the longest beginning that does, then what the rests hold after it."""
    there, load, high = sum(long * wide for long, wide in problem.sheets), 0, 0
    for item in order:  # no more than the metal
        load += problem.area(item)
        high += load <= there
    first, left = _cut(problem, order, range(len(problem.sheets)), Effort(), None)
    over = set(left)
    low = next((place for place, item in enumerate(order) if item in over), len(order))
    found = [_filled_up(problem, first, order, left)]
    best: Laid | None = None
    while low < high and not effort.spent:
        middle = (low + high + 1) // 2
        laid = _all(problem, order[:middle], effort.part(SINGLE / 5))
        if laid is None:
            high = middle - 1
        else:
            low, best = middle, laid
    if best is not None:
        chosen = list(order[:low])
        for item in order[low + 1 : low + 1 + SINGLE_TRIES]:
            laid = None if effort.spent else _all(problem, [*chosen, item], effort.part(SINGLE / 15))
            if laid is not None:
                chosen, best = [*chosen, item], laid
        served = set(chosen)
        found.append(_filled_up(problem, best, order, [item for item in order if item not in served]))

    def served_first(one: tuple[list[int], Laid]) -> list[bool]:
        placed = set(one[0])
        return [item in placed for item in order]

    return max(found, key=served_first)


def _filled_up(
    problem: SheetProblem, laid: Laid, order: Sequence[int], left: Sequence[int]
) -> tuple[list[int], Laid]:
    """A plan with its rests cut for what is still left; what is placed then, in its order."""
    cutter = Cutter(problem, Effort())
    cutter.cut_rests(*laid, left)
    over = set(cutter.left)
    return [item for item in order if item not in over], (cutter.strips, cutter.rests)


def _fewer(problem: SheetProblem, placed: Sequence[int], laid: Laid, effort: Effort) -> Laid:
    """The same blanks on fewer sheets, then on smaller ones, as far as the effort goes."""
    bound = bound_sheets(problem, placed)
    biggest = sorted(range(len(problem.sheets)), key=lambda sheet: -_raw(problem, sheet))
    spend = effort.part(FEWER)
    while (count := len({strip.sheet for strip in laid[0]})) > bound and not spend.spent:
        found = _all(problem, placed, spend.part(FEWER / 2), biggest[: count - 1])
        if found is None:
            break
        laid = found
    spend = effort.part(SMALLER)
    while not spend.spent:
        opened = sorted({strip.sheet for strip in laid[0]}, key=lambda sheet: -_raw(problem, sheet))
        smaller = _smaller(problem, placed, opened, spend)
        if smaller is None:
            return laid
        laid = smaller
    return laid


def _smaller(problem: SheetProblem, placed: Sequence[int], opened: Sequence[int], effort: Effort) -> Laid | None:
    """One of the opened sheets given up for a smaller one; None where that finds no way."""
    shut = [sheet for sheet in range(len(problem.sheets)) if sheet not in set(opened)]
    seen = set()
    for old in opened:
        for new in sorted(shut, key=lambda sheet: _raw(problem, sheet)):
            pair = (problem.sheets[old], problem.sheets[new])
            if _raw(problem, new) >= _raw(problem, old) or pair in seen or effort.spent:
                continue
            seen.add(pair)
            found = _all(problem, placed, effort.part(SMALLER / 6), [new if one == old else one for one in opened])
            if found is not None:
                return found
    return None


def bound_sheets(problem: SheetProblem, items: Sequence[int]) -> int:
    """So many sheets are needed at least, however they are cut: by the metal, and by blanks that share no sheet."""
    if not items:
        return 0
    need, count = sum(problem.area(item) for item in items), 0
    for room in sorted((long * wide for long, wide in problem.sheets), reverse=True):
        if need <= 0:
            break
        need, count = need - room, count + 1
    return max(1, count, _apart(problem, items))


def _apart(problem: SheetProblem, items: Sequence[int]) -> int:
    """Some blanks of which no two go on one sheet: each wants its own."""
    chosen: list[int] = []
    for item in sorted(items, key=lambda one: -problem.area(one))[:MOST_LIKE]:
        if all(not _together(problem, item, other) for other in chosen):
            chosen.append(item)
    return len(chosen)


def _together(problem: SheetProblem, one: int, other: int) -> bool:
    """Whether two blanks go on one sheet, one beside the other."""
    for long, wide in dict.fromkeys(problem.sheets):
        for a in _lies(problem, one):
            for b in _lies(problem, other):
                beside = a[0] + b[0] <= long and max(a[1], b[1]) <= wide
                over = a[1] + b[1] <= wide and max(a[0], b[0]) <= long
                if beside or over:
                    return True
    return False


def _lies(problem: SheetProblem, item: int) -> list[tuple[int, int]]:
    length, width = problem.blanks[item]
    return [(length, width)] if problem.along[item] else [(length, width), (width, length)]


def _shown(problem: SheetProblem, order: Sequence[int], placed: set[int]) -> bool:
    """Whether each blank that is left out cannot go with those served before it, by its size or by the metal."""
    sheets = range(len(problem.sheets))
    there = sum(long * wide for long, wide in problem.sheets)
    served = 0
    for item in order:
        area = problem.area(item)
        if item in placed:
            served += area
        elif any(problem.goes(item, sheet) for sheet in sheets) and served + area <= there:
            before = [one for one in order[: order.index(item)] if one in placed]
            if _apart(problem, [*before, item]) <= len(problem.sheets):
                return False
    return True
