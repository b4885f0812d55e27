"""What is said of stock and of a cut plan: what it is good for, how it is marked, what becomes of the rest."""

from __future__ import annotations

from collections.abc import Sequence

from ringcraft.metals import ALL_METALS
from ringcraft.planning.context import measures_words
from ringcraft.stock.cutting.shapes import CutStrip
from ringcraft.units import Length, counted, lengths_in, words_and
from workshop.stock.cuts import Proposed, fate_of, rest_fate
from workshop.stock.demand import OpenBlank
from workshop.stock.groups import Group

NOTHING_WAITS = "nothing is waiting for it"
MOST_TOLD = 3  # rests of a sheet that are told one by one


def good_for(group: Group, wanted: Sequence[OpenBlank]) -> str:
    """What a stock is good for now, in a few words."""
    if not wanted:
        return f"only for {group.owner}" if group.owner else NOTHING_WAITS
    count = sum(blank.count for blank in wanted)
    blanks = f"{count} blank{'' if count == 1 else 's'} waiting"
    need = sum(blank.length_mm * blank.count for blank in wanted)
    if group.sheet:
        return blanks
    if need > group.sums.length_mm:
        return f"{blanks}: more than it holds"
    if any(blank.length_mm > group.sums.longest_mm for blank in wanted):
        return f"{blanks}: the longest needs a longer piece"
    return blanks


def stock_words_of(blank: OpenBlank, units: str) -> str:
    """The stock that a blank is cut from: sterling half-round 4 × 1.8."""
    metal = ALL_METALS[blank.metal].title
    return f"{metal} {blank.section.title} {measures_words(blank.section, lengths_in(units))}"


def unseen(made: Proposed) -> list[str]:
    """What a plan did not look at, and what it left for another."""
    said = []
    if made.unseen:
        said.append(f"{made.unseen} pieces more of it were not looked at: one plan has its limits.")
    if made.left_out:
        said.append(
            f"{counted(made.left_out, 'job')} more {'waits' if made.left_out == 1 else 'wait'} for a second plan."
        )
    return said


def mark_text(mm: float, units: str) -> str:
    """Where a bar is marked."""
    return f"{Length(mm, units):.1f}"


def stays(made: Proposed, item_id: str, rest_mm: float, units: str) -> str:
    """What becomes of the rest of a piece, as the booking does it."""
    return rest_words(fate_of(made.items[item_id], rest_mm), rest_mm, units)


def rest_words(fate: str, rest_mm: float, units: str) -> str:
    """What becomes of a rest [mm], by its fate."""
    if fate == "nothing":
        return "nothing is left"
    return f"{Length(rest_mm, units):.1f}{' stays' if fate == 'stays' else f', {fate}'}"


def scribe(made: Proposed) -> str:
    """How the marks are used: a saw goes right of the line and takes its kerf, shears go on it."""
    if made.kerf_mm:
        return "scribe from it, cut right of the line; the marks count that and the saw"
    return "scribe from it and shear on the line; the marks count that"


def sheet_stays(made: Proposed, item_id: str, units: str) -> str:
    """What stays of a sheet, as the booking does it: its sheets and strips by their size, the rest as scrap."""
    rests = [rest for rest in made.plan.rests if rest.sheet_id == item_id]
    sizes: dict[str, list[str]] = {"sheet": [], "strip": [], "scrap": []}
    for rest in sorted(rests, key=lambda one: -one.long_mm * one.wide_mm):
        long, wide = (Length(mm, units) for mm in (rest.long_mm, rest.wide_mm))
        sizes[rest_fate(rest.long_mm, rest.wide_mm)].append(f"{long:.1f} × {wide:.1f}")
    stays = [*sizes["sheet"][:MOST_TOLD], *(f"a strip {size}" for size in sizes["strip"][:MOST_TOLD])]
    more = sum(max(0, len(sizes[kind]) - MOST_TOLD) for kind in ("sheet", "strip"))
    said = [
        f"{words_and([*stays, *([f'{more} more'] if more else [])])} {'stay' if len(stays) + more > 1 else 'stays'}"
    ]
    if not stays:
        said = ["nothing stays"]
    if sizes["scrap"]:
        said.append(f"{counted(len(sizes['scrap']), 'sliver')} to the scrap")
    return "; ".join(said)


def strip_words(strip: CutStrip, strips: Sequence[CutStrip], units: str) -> str:
    """How a strip is cut: from which edge or from the end of which strip, how wide."""
    wide, at = f"{Length(strip.width_mm, units):.2f} wide", f"{Length(strip.at_mm, units):.2f}"
    way = f"across, {at} from the left end" if strip.turned else f"along, {at} from the near edge"
    if strip.parent is None:
        return f"{way}, {wide}"
    mine = [one for one in strips if one.sheet_id == strip.sheet_id]
    begin = f"{Length(strip.from_mm, units):.2f}"
    other = mine.index(strips[strip.parent]) + 1
    return f"from the end of strip {other}, {way}, from {begin} on, {wide}"
