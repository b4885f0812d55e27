"""The plan of bars: all blanks placed, the fewest pieces opened, the least length, the longest rest, in this order.

What is said to be the best is proven in whole numbers: by trying every way, by the metal that the bars can hold, or
by prices of patterns. The search itself only proposes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ringcraft.stock.cutting import exact, patterns
from ringcraft.stock.cutting.completing import complete
from ringcraft.stock.cutting.effort import Effort
from ringcraft.stock.cutting.fill import Filler, most_held_each
from ringcraft.stock.cutting.grid import Packed, Problem
from ringcraft.stock.cutting.pattern_rest import RestByPatterns
from ringcraft.stock.cutting.rest import rest_bounds
from ringcraft.stock.cutting.serving import in_order, shown

ROUNDS, SHORT_ROUNDS, REST_ROUNDS = 400, 60, 900
MOST_SWAPS = 60
MOST_PRICED, MOST_SEARCHES, MOST_PRICED_BARS = 4, 4, 90
FITS_ROUNDS = 3000
#: Shares of a request's effort: placing all, the nearly full, who is served, every way, fewer, patterns, shorter,
#: the rest.
PLACE, FULL, SERVED, EVERY, FEWER, PRICED, SHORTER, RESTS = 0.2, 0.2, 0.45, 0.3, 0.25, 0.3, 0.2, 0.25


@dataclass(frozen=True)
class BarPlan:
    """Items of each bar and what could not be placed; bounds are proven, lengths in thousandths of a millimetre.

    ``bound_pieces`` and ``bound_opened`` cannot be undercut by any plan of what is placed, ``bound_rest`` not passed
    by any that opens these bars. ``proven``: what is left out was shown not to go with what is served before it.
    ``exhausted``: every way was tried.
    """

    packed: Packed
    unplaced: list[int]
    bound_pieces: int
    bound_opened: int
    bound_rest: int
    proven: bool = True
    exhausted: bool = False

    @property
    def opened(self) -> list[int]:
        """The bars that are cut."""
        return [bar for bar, items in enumerate(self.packed) if items]


def plan_bars(problem: Problem, order: Sequence[int], effort: Effort) -> BarPlan:
    """Place blanks on bars; ``order`` says which go first where not all do (items by their place)."""
    placed, packed, proven = _placed(problem, order, effort)
    if not placed:
        return BarPlan([[] for _ in problem.rooms], sorted(order), 0, 0, 0, proven, proven)
    if len(placed) < len(order):
        within = {item: place for place, item in enumerate(placed)}
        begun = [[within[item] for item in items] for items in packed]
        plan = _all(problem.with_items(placed), begun, effort)
        back = [[placed[place] for place in items] for items in plan.packed]
        return replace(plan, packed=back, unplaced=sorted(set(order) - set(placed)), proven=proven)
    return _all(problem, packed, effort)


def _placed(problem: Problem, order: Sequence[int], effort: Effort) -> tuple[list[int], Packed, bool]:
    """Which blanks can be placed, one way of placing them, and whether what is left out was shown impossible."""
    roomy = max(problem.rooms, default=0)
    fits = [item for item in order if problem.weights[item] <= roomy]
    bars = list(range(len(problem.rooms)))
    if len(fits) == len(order) and sum(problem.rooms) >= sum(problem.weights):
        packed = Filler(problem, effort.part(PLACE)).pack(bars, FITS_ROUNDS)
        if packed is None and not _is_small(problem):
            packed = complete(problem, bars, effort.part(FULL))
        if packed is not None:
            return list(order), packed, True
    if _is_small(problem):
        return *exact.placeable(problem, order, effort), True
    placed, found = in_order(problem, fits, effort.part(SERVED))
    return placed, found, shown(problem, order, set(placed), effort)


def _is_small(problem: Problem) -> bool:
    return len(problem.weights) <= exact.MOST_ITEMS and len(problem.rooms) <= exact.MOST_BARS


def _all(problem: Problem, begun: Packed, effort: Effort) -> BarPlan:
    """Place all blanks of a problem that is known to go on its bars."""
    best = exact.best(problem, effort.part(EVERY))
    if best is not None:
        opened = [bar for bar, items in enumerate(best) if items]
        rest = exact.longest_rest(problem, best)
        return BarPlan(best, [], len(opened), problem.total(opened), rest, exhausted=True)
    held = most_held_each(problem.weights, problem.rooms, effort)
    bound = _by_metal(held, sum(problem.weights))
    filler = Filler(problem, effort.part(FEWER))
    packed = _on_fewest(problem, filler, bound, begun)
    few = patterns.few_of(problem)
    if few is not None and _count(packed) > bound:
        packed, bound = _by_patterns(problem, few, packed, bound, effort.part(PRICED))
    packed = _shorter(problem, Filler(problem, effort.part(SHORTER)), packed)
    spend = effort.part(RESTS)
    sinks = _sinks(problem, [bar for bar, items in enumerate(packed) if items], held, spend)
    rounds = REST_ROUNDS if few is None else SHORT_ROUNDS
    packed = _gathered(problem, Filler(problem, spend.part(RESTS / 2)), packed, sinks, rounds)
    rest = sinks[0][0]
    if few is not None and len(sinks) <= MOST_PRICED_BARS and exact.longest_rest(problem, packed) < rest:
        packed, rest = _gathered_by_patterns(problem, few, packed, sinks, spend)
    return BarPlan(packed, [], bound, _least_length(problem, bound), rest)


def _count(packed: Packed) -> int:
    return sum(bool(items) for items in packed)


def _by_metal(held: Sequence[int], need: int) -> int:
    """So many bars are needed at least: the fullest that all could be hold no more."""
    count = 0
    for most in sorted(held, reverse=True):
        if need <= 0:
            break
        need, count = need - most, count + 1
    return count


def _least_length(problem: Problem, bound: int) -> int:
    """No plan opens less: the blanks and their cuts, less one kerf a bar where none is needed; nor the shortest."""
    shortest = sorted(room - problem.kerf for room in problem.rooms)
    return max(sum(problem.weights) - problem.kerf * len(problem.rooms), sum(shortest[:bound]))


def _on_fewest(problem: Problem, filler: Filler, bound: int, begun: Packed) -> Packed:
    """All blanks on as few of the roomiest bars as the fill finds, beginning at what is needed."""
    roomiest = sorted(range(len(problem.rooms)), key=lambda bar: -problem.rooms[bar])
    for count in range(bound, _count(begun)):
        rounds = ROUNDS if count < bound + 2 else SHORT_ROUNDS
        packed = filler.pack(roomiest[:count], rounds)
        if packed is None and count < bound + 2:
            packed = complete(problem, roomiest[:count], filler.effort.part(FULL / 2))
        if packed is not None:
            return packed
        if filler.effort.spent:
            break
    return begun


def _by_patterns(
    problem: Problem, few: patterns.Few, packed: Packed, bound: int, effort: Effort
) -> tuple[Packed, int]:
    """A better bound from prices of patterns, and a plan from patterns where that has fewer pieces."""
    found, priced = patterns.generate(few, effort)
    bound = max(bound, priced)
    if _count(packed) <= bound:
        return packed, bound
    chosen = patterns.choose(few, found, problem.kerf, effort)
    laid = patterns.lay(problem, few, patterns_without_spare(few, chosen)) if chosen else None
    if laid is not None and _count(laid) < _count(packed):
        packed = laid
    return packed, bound


def patterns_without_spare(
    few: patterns.Few, chosen: Sequence[tuple[int, patterns.Pattern]]
) -> list[tuple[int, patterns.Pattern]]:
    """Chosen patterns with what is more than wanted taken out of the last ones."""
    left, out = list(few.wanted), []
    for kind, pattern in chosen:
        cut = tuple(min(n, rest) for n, rest in zip(pattern, left, strict=True))
        left = [rest - n for rest, n in zip(left, cut, strict=True)]
        if any(cut):
            out.append((kind, cut))
    return out


def _shorter(problem: Problem, filler: Filler, packed: Packed) -> Packed:
    """The same number of bars, shorter ones where the blanks still go: offcuts before whole bars."""
    tries = 0
    while tries < MOST_SWAPS and not filler.effort.spent:
        opened = [bar for bar, items in enumerate(packed) if items]
        shut = [bar for bar, items in enumerate(packed) if not items]
        spare = sum(problem.rooms[bar] for bar in opened) - sum(problem.weights)
        swaps = sorted(
            ((problem.rooms[old] - problem.rooms[new], old, new) for old in opened for new in shut),
            key=lambda swap: -swap[0],
        )
        for saved, old, new in swaps:
            if not 0 < saved <= spare:
                continue
            tries += 1
            bars = [new if bar == old else bar for bar in opened]
            begun = [[] if bar == old else list(items) for bar, items in enumerate(packed)]
            begun[new] = _kept(problem, packed[old], new)
            found = filler.pack(bars, SHORT_ROUNDS, begun)
            if found is not None and all(found[bar] for bar in bars):
                packed = found
                break
            if tries >= MOST_SWAPS or filler.effort.spent:
                return packed
        else:
            return packed
    return packed


def _kept(problem: Problem, items: Sequence[int], bar: int) -> list[int]:
    kept: list[int] = []
    for item in sorted(items, key=lambda one: -problem.weights[one]):
        if problem.load([*kept, item]) <= problem.rooms[bar]:
            kept.append(item)
    return kept


def _sinks(problem: Problem, opened: Sequence[int], held: Sequence[int], effort: Effort) -> list[tuple[int, int]]:
    """The opened bars that the rests can be gathered on: the longest rest each can come to, and the bar."""
    exactly = rest_bounds(problem, opened, effort)
    if exactly is not None:
        return sorted(zip(exactly, opened, strict=True), reverse=True)
    need, least = sum(problem.weights), min(problem.weights)
    most = sum(held[bar] for bar in opened)
    out = []
    for bar in opened:
        load = max(least, need - (most - held[bar]))
        out.append((max(0, problem.rooms[bar] - problem.kerf - load), bar))
    return sorted(out, reverse=True)


def _gathered(
    problem: Problem, filler: Filler, packed: Packed, sinks: Sequence[tuple[int, int]], rounds: int
) -> Packed:
    """The same bars with their rests gathered on one of them, as far as the fill can."""
    opened = [bar for bar, items in enumerate(packed) if items]
    best = packed
    for reach, sink in sinks[:4]:
        if exact.longest_rest(problem, best) >= reach:
            break
        least = problem.rooms[sink] - problem.kerf - reach
        trial = filler.gather(opened, packed, sink, least, rounds)
        if exact.longest_rest(problem, trial) > exact.longest_rest(problem, best):
            best = trial
    return best


def _gathered_by_patterns(
    problem: Problem, few: patterns.Few, packed: Packed, sinks: Sequence[tuple[int, int]], effort: Effort
) -> tuple[Packed, int]:
    """The same where few lengths repeat: the rest from chosen patterns, and a bound of it from their prices."""
    rests = RestByPatterns(problem, few, [bar for _, bar in sinks], effort)
    reach = {sink: most for most, sink in sinks}
    asked: set[int] = set()
    for _ in range(MOST_PRICED):
        first = max(reach, key=lambda sink: reach[sink])
        if first in asked:
            break
        asked.add(first)
        least = rests.least_load(first)
        for sink, most in reach.items():
            known = least if sink == first else rests.at_last_prices(sink)
            if known is not None:
                reach[sink] = min(most, max(0, problem.rooms[sink] - problem.kerf - known))
    best = packed
    for sink in sorted(asked, key=lambda one: -reach[one])[:MOST_SEARCHES]:
        longest = exact.longest_rest(problem, best)
        laid = rests.plan(sink) if reach[sink] > longest else None
        if laid is not None and exact.longest_rest(problem, laid) > longest:
            best = laid
    return best, max(*reach.values(), exact.longest_rest(problem, best))
