"""A few blanks tried in every way of three stages: strips, lengths off a strip, and each length ripped once more.

Of the last stage a blank may be shorter than its length: it is cut to it after. What is found there is the best of
all those plans, and what is not found there is in none of them.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.sheet_fill import Area, Rest, SheetProblem, Strip

T = TypeVar("T")
MOST_ITEMS = 7
STEPS = 14  # of a pair of sets

#: A length of a strip, or a strip of lengths: its run, its width, and of which two sets it is put together.
_Made = tuple[int, int, int, int]


def parts(items: int) -> Iterator[int]:
    """The sets of a set, as bits, that hold its lowest one; the small ones first."""
    low, rest = items & -items, items & (items - 1)
    sub = 0
    while True:
        yield sub | low
        if sub == rest:
            return
        sub = (sub - rest) & rest


@dataclass
class SheetWays:
    """Which sets of blanks go on one sheet, and how; sets are bits."""

    problem: SheetProblem
    sheet: Area
    across: bool
    effort: Effort

    @property
    def room(self) -> int:
        """How far a strip runs."""
        return self.sheet[1] if self.across else self.sheet[0]

    @property
    def over(self) -> int:
        """How wide all strips may be together."""
        return self.sheet[0] if self.across else self.sheet[1]

    @cached_property
    def lengths(self) -> list[list[tuple[int, int, tuple[int, ...]]]]:
        """Of each set: the lengths of a strip that it makes ripped side by side: run, width, which way each lies."""
        out: list[list[tuple[int, int, tuple[int, ...]]]] = [[] for _ in range(1 << len(self.problem.blanks))]
        out[0] = [(0, 0, ())]
        for items in range(1, len(out)):
            item = items.bit_length() - 1
            found: dict[tuple[int, int], tuple[int, ...]] = {}
            for run, wide, widths in out[items & ~(1 << item)]:
                for own in self.problem.widths(item, self.across):
                    made = (max(run, self.problem.runs(item, own)), wide + own)
                    if made[0] <= self.room and made[1] <= self.over:
                        found.setdefault(made, (*widths, own))
            out[items] = [(*made, widths) for made, widths in _least(found)]
            self.effort.spend(6 * len(found) + 2, 1)
        return out

    @cached_property
    def strips(self) -> list[list[_Made]]:
        """Of each set: the strips that it makes, run and width, and which of it is the last length."""
        out: list[list[_Made]] = [[] for _ in self.lengths]
        out[0] = [(0, 0, 0, 0)]
        for items in range(1, len(out)):
            found: dict[tuple[int, int], tuple[int, int]] = {}
            for part in parts(items):
                for at, (run, wide, _) in enumerate(self.lengths[part]):
                    for before, width, *_ in out[items & ~part]:
                        if run + before <= self.room:
                            found.setdefault((run + before, max(wide, width)), (part, at))
                self.effort.spend(STEPS, 1)
            out[items] = [(*made, *how) for made, how in _least(found)]
        return out

    @cached_property
    def least(self) -> list[tuple[int, int] | None]:
        """Of each set: how wide its strips are together at least, and which of it is the last strip."""
        out: list[tuple[int, int] | None] = [(0, 0)] + [None] * (len(self.lengths) - 1)
        for items in range(1, len(out)):
            for part in parts(items):
                before, made = out[items & ~part], self.strips[part]
                if before is None or not made:
                    continue
                wide = before[0] + min(one[1] for one in made)
                if wide <= self.over and (out[items] is None or wide < (out[items] or (0, 0))[0]):
                    out[items] = (wide, part)
            self.effort.spend(STEPS * 2, 1)
        return out

    def layout(self, sheet: int, items: int) -> tuple[list[Strip], list[Rest]]:
        """The strips of a set that goes on the sheet, and what is left of it."""
        strips: list[Strip] = []
        rests: list[Rest] = []
        over = 0
        while items:
            made = self.least[items]
            assert made is not None
            part = made[1]
            wide = min(one[1] for one in self.strips[part])
            self._strip(sheet, part, wide, over, strips, rests)
            over, items = over + wide, items & ~part
        self._rest(sheet, 0, over, self.room, self.over - over, rests)
        return strips, rests

    def _strip(self, sheet: int, items: int, wide: int, over: int, strips: list[Strip], rests: list[Rest]) -> None:
        """One strip: first the blanks as wide as it, then its other lengths, each ripped."""
        whole: list[int] = []
        ripped: list[tuple[int, list[tuple[int, int]]]] = []
        width = wide
        while items:
            made = next(one for one in self.strips[items] if one[1] <= width)
            run, own, widths = self.lengths[made[2]][made[3]]
            held = [item for item in range(len(self.problem.blanks)) if made[2] >> item & 1]
            if len(held) == 1 and own == wide:
                whole.append(held[0])
            else:
                ripped.append((run, list(zip(held, widths, strict=True))))
            items &= ~made[2]
        at = len(strips)
        x, y = (over, 0) if self.across else (0, over)
        strips.append(Strip(sheet, x, y, self.room, wide, self.across, tuple(whole)))
        begin = sum(self.problem.runs(item, wide) for item in whole)
        for run, side_by_side in ripped:
            beside = over
            for item, own in side_by_side:
                x, y = (beside, begin) if self.across else (begin, beside)
                strips.append(Strip(sheet, x, y, run, own, self.across, (item,), 3, at))
                self._rest(
                    sheet,
                    begin + self.problem.runs(item, own),
                    beside,
                    run - self.problem.runs(item, own),
                    own,
                    rests,
                )
                beside += own
            self._rest(sheet, begin, beside, run, wide - (beside - over), rests)
            begin += run
        self._rest(sheet, begin, over, self.room - begin, wide, rests)

    def _rest(self, sheet: int, along: int, over: int, run: int, wide: int, rests: list[Rest]) -> None:
        kerf = self.problem.kerf
        if run > kerf and wide > kerf:
            rests.append(Rest(sheet, over, along, wide, run) if self.across else Rest(sheet, along, over, run, wide))


def _least(found: Mapping[tuple[int, int], T]) -> list[tuple[tuple[int, int], T]]:
    """Those that no other undercuts in both measures, the shortest first."""
    out: list[tuple[tuple[int, int], T]] = []
    for made in sorted(found):
        if not out or made[1] < out[-1][0][1]:
            out.append((made, found[made]))
    return out
