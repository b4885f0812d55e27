"""What is said of stock and of a cut plan: what it is good for, how it is marked, what becomes of the rest."""

from __future__ import annotations

from collections.abc import Sequence

from ringcraft.metals import ALL_METALS
from ringcraft.planning.context import measures_words
from ringcraft.units import Length, lengths_in
from workshop.stock.cuts import SCRAP_MM, Proposed, beside_strips, fate_of
from workshop.stock.demand import OpenBlank
from workshop.stock.groups import Group


def good_for(group: Group, wanted: Sequence[OpenBlank], length: float) -> str:
    """What stock of this length [mm] is good for now, in a few words."""
    if not wanted:
        return f"only for {group.owner}" if group.owner else "nothing is waiting for it"
    count = sum(blank.count for blank in wanted)
    blanks = f"{count} blank{'' if count == 1 else 's'} waiting"
    need = sum(blank.length_mm * blank.count for blank in wanted)
    longest = max((float(item.length_mm or 0) for item in group.items), default=0.0)
    if group.sheet:
        return blanks
    if need > length:
        return f"{blanks}: more than it holds"
    if any(blank.length_mm > longest for blank in wanted):
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
        said.append(f"{made.left_out} jobs more wait for a second plan.")
    return said


def mark_text(mm: float, units: str) -> str:
    """Where a bar is marked."""
    return f"{Length(mm, units):.1f}"


def stays(made: Proposed, item_id: str, rest_mm: float, units: str) -> str:
    """What becomes of the rest of a piece, as the booking does it."""
    item = next(one for one in made.group.items if str(one.pk) == item_id)
    return rest_words(fate_of(item, rest_mm), rest_mm, units)


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
    """What stays of a sheet beside the strips that are cut from it."""
    item = next(one for one in made.group.items if str(one.pk) == item_id)
    strips = [strip for strip in made.plan.strips if strip.sheet_id == item_id]
    rest = beside_strips(item, strips, made.kerf_mm)
    return f"a sheet {Length(rest, units):.1f} wide stays" if rest >= SCRAP_MM else "nothing stays beside them"
