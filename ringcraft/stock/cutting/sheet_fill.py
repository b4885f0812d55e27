"""Cutting one sheet from edge to edge: strips, blanks off each, then the rests of the strips for smaller blanks.

A strip runs along the sheet or across it. Its blanks are as wide as it; the end that they leave is ripped again, or
cut across, for narrower ones (third stage), and what is left beside the strips is cut across. A blank is turned where
it has no direction.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from random import Random

from ringcraft.stock.cutting.effort import Effort, fill_steps
from ringcraft.stock.cutting.fill import fullest

LUCK = 0.25  # of how full a strip is: so much may another way be tried for it
Area = tuple[int, int]


@dataclass(frozen=True)
class SheetProblem:
    """Sheets and blanks as (length, width), each with one kerf in it, in thousandths of a millimetre.

    ``along`` says of each blank that it has a direction: its length runs along the sheet.
    """

    sheets: tuple[Area, ...]
    blanks: tuple[Area, ...]
    kerf: int
    along: tuple[bool, ...]

    def goes(self, item: int, sheet: int) -> bool:
        """Whether a blank goes on a sheet, turned where it may be."""
        (length, width), (long, wide) = self.blanks[item], self.sheets[sheet]
        return (length <= long and width <= wide) or (not self.along[item] and length <= wide and width <= long)

    def runs(self, item: int, wide: int) -> int:
        """How far a blank runs along a strip that is as wide as one of its sides."""
        return sum(self.blanks[item]) - wide

    def widths(self, item: int, across: bool) -> tuple[int, ...]:
        """How wide a strip may be for a blank to be cut off it."""
        length, width = self.blanks[item]
        return ((length if across else width),) if self.along[item] else (length, width)

    def area(self, item: int) -> int:
        """What a blank takes of a sheet with its kerfs."""
        return self.blanks[item][0] * self.blanks[item][1]


@dataclass(frozen=True)
class Strip:
    """A strip of a sheet, with one kerf in each measure: where it begins from the left and near edge, how long it
    runs and how wide it is. ``across``: it runs across the sheet. ``items`` are cut off one after the other.

    ``stage`` 1 is of the sheet, 2 is cut across a rest, 3 is ripped from the end of another strip (``parent``).
    """

    sheet: int
    x: int
    y: int
    run: int
    width: int
    across: bool
    items: tuple[int, ...]
    stage: int = 1
    parent: int | None = None


@dataclass(frozen=True)
class Rest:
    """What is left of a sheet, with one kerf in each measure: a rectangle, beside the strips or at the end of one.

    ``open_to`` is the next stage that may be cut from it (0: none), ``across`` how the strips run that it is left of,
    ``parent`` the strip whose end it is.
    """

    sheet: int
    x: int
    y: int
    long: int
    wide: int
    open_to: int = 0
    across: bool = False
    parent: int | None = None


class Cutter:
    """Cuts one sheet after the other; the same order of blanks is always cut in the same way."""

    def __init__(self, problem: SheetProblem, effort: Effort, chance: Random | None = None) -> None:
        self.problem, self.effort, self.chance = problem, effort, chance
        self.strips: list[Strip] = []
        self.rests: list[Rest] = []
        self.left: list[int] = []
        self.shortest = min((min(one) for one in problem.blanks), default=0)
        self.least_long = min((max(one) for one in problem.blanks), default=0)

    def cut(self, sheet: int, items: Sequence[int], across: bool) -> None:
        """Cut strips that run one way from a sheet, for blanks in this order; ``left`` is what goes on no strip."""
        long, wide = self.problem.sheets[sheet]
        self.left = list(items)
        self._strips(Rest(sheet, 0, 0, long, wide), across, 1, None)

    def _strips(self, rest: Rest, across: bool, stage: int, parent: int | None) -> None:
        """Rip strips from a rectangle until none goes any more; then what is beside them is cut the other way."""
        while (made := self._next(rest, across, stage, parent)) is not None:
            strip, beside = made
            at = len(self.strips)
            self.strips.append(strip)
            taken = set(strip.items)
            self.left = [item for item in self.left if item not in taken]
            self._end(strip, at, stage)
            rest = beside
        if stage == 1 and self._any(rest):
            self._strips(rest, not across, 2, parent)
        else:
            self._keep(rest, 2 if stage == 1 else 0, across=across)

    def _end(self, strip: Strip, at: int, stage: int) -> None:
        """The end of a strip: ripped again for narrower blanks, or cut across for shorter ones, what holds more."""
        used = sum(self.problem.runs(item, strip.width) for item in strip.items)
        left = strip.run - used
        if strip.across:
            end = Rest(strip.sheet, strip.x, strip.y + used, strip.width, left)
        else:
            end = Rest(strip.sheet, strip.x + used, strip.y, left, strip.width)
        if stage != 1 or not self._any(end):
            self._keep(end, 3 if stage == 1 else 0, across=strip.across, parent=at)
            return
        self._rip(end, at, across=strip.across)

    def _rip(self, end: Rest, at: int, *, across: bool) -> None:
        """Rip the end of a strip, or cut it across, what holds more."""
        self.effort.spend(12 + (len(self.left) + len(self.strips)) // 8)
        before = (list(self.strips), list(self.rests), list(self.left))
        best: tuple[int, list[Strip], list[Rest], list[int]] | None = None
        for way in (across, not across):
            self.strips, self.rests, self.left = list(before[0]), list(before[1]), list(before[2])
            self._strips(end, way, 3 if way == across else 2, at)
            over = sum(self.problem.area(item) for item in self.left)
            if best is None or over < best[0]:
                best = (over, self.strips, self.rests, self.left)
        assert best is not None
        self.strips, self.rests, self.left = best[1:]

    def _keep(self, rest: Rest, open_to: int, *, across: bool, parent: int | None = None) -> None:
        if rest.long > self.problem.kerf and rest.wide > self.problem.kerf:
            self.rests.append(replace(rest, open_to=open_to, across=across, parent=parent))

    def cut_rests(self, strips: Sequence[Strip], rests: Sequence[Rest], items: Sequence[int]) -> None:
        """Cut what is left of sheets that are cut already for more blanks, in this order, the largest rests first."""
        self.strips, self.left = list(strips), list(items)
        for rest in sorted(rests, key=lambda one: -one.long * one.wide):
            if not rest.open_to or not self._any(rest):
                self.rests.append(rest)
            elif rest.open_to == 2:
                self._strips(rest, not rest.across, 2, None)
            else:
                assert rest.parent is not None
                self._rip(rest, rest.parent, across=rest.across)

    def _any(self, rest: Rest) -> bool:
        sides = (rest.long, rest.wide)
        if min(sides) < self.shortest or max(sides) < self.least_long:
            return False
        self.effort.spend(1 + len(self.left) // 8)
        return any(self._turns(item, rest) for item in self.left)

    def _turns(self, item: int, rest: Rest) -> list[bool]:
        """The ways a blank goes on a rectangle: with its length along the sheet, or turned."""
        length, width = self.problem.blanks[item]
        flat = length <= rest.long and width <= rest.wide
        turned = not self.problem.along[item] and length <= rest.wide and width <= rest.long
        return [*([False] if flat else []), *([True] if turned else [])]

    def _next(self, rest: Rest, across: bool, stage: int, parent: int | None) -> tuple[Strip, Rest] | None:
        """The next strip of a rectangle: as wide as the first blank that goes, turned as it fills it better."""
        room = rest.wide if across else rest.long
        self.effort.spend(8 + len(self.left) // 10)
        lead = next((item for item in self.left if self._turns(item, rest)), None)
        if lead is None:
            return None
        ways = []
        for turned in self._turns(lead, rest):
            wide = self.problem.blanks[lead][0 if turned != across else 1]
            run = self.problem.runs(lead, wide)
            items = self._run(lead, wide, room - run, across)
            load = run + sum(self.problem.runs(item, wide) for item in items)
            luck = self.chance.random() * LUCK if self.chance else 0.0
            ways.append((load / room + luck, wide, (lead, *items)))
        _, wide, chosen = max(ways, key=lambda way: way[0])
        strip = Strip(rest.sheet, rest.x, rest.y, room, wide, across, chosen, stage, parent)
        if across:
            return strip, Rest(rest.sheet, rest.x + wide, rest.y, rest.long - wide, rest.wide)
        return strip, Rest(rest.sheet, rest.x, rest.y + wide, rest.long, rest.wide - wide)

    def _run(self, lead: int, wide: int, room: int, across: bool) -> list[int]:
        """Which other blanks fill a strip of this width best beside the first."""
        found = [
            item
            for item in self.left
            if item != lead and wide in self.problem.widths(item, across) and self.problem.runs(item, wide) <= room
        ]
        loads = [self.problem.runs(item, wide) for item in found]
        self.effort.spend(fill_steps(len(found), room // 1000) // 2 + len(self.left) // 3 + 10, 1)
        return [found[place] for place in fullest(loads, room)]
