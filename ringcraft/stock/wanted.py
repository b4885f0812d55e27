"""What a plan takes from the drawer: each blank as it is first cut from its stock, not as it is when it is worked.

Stock and length are those of the virtual bench's own first cut (:mod:`ringcraft.work.taken`).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ringcraft.errors import CraftError
from ringcraft.planning.blank import Blank
from ringcraft.routes.steps import Step
from ringcraft.stock.drawer import LONGEST_MM, SAME_MM
from ringcraft.work.plan import WorkPlan
from ringcraft.work.taken import TakenStock, taken_stock

INSERT = "insert"


@dataclass(frozen=True)
class StockWanted(TakenStock):
    """A blank as it is cut from stock: how it is called, how many of it, which measure it is planned without yet.

    ``needs_mm`` is what a piece at hand is held against: an insert by what it comes to, all else by its cut.
    ``along``: it has a direction, so it is not turned on a sheet; ``metal`` is its own where it is not its job's.
    """

    name: str
    title: str
    role: str
    needs_mm: float
    count: int
    waits: str
    along: bool = False
    metal: str = ""


def stock_wanted(plan: WorkPlan) -> tuple[StockWanted, ...]:
    """What a plan takes from the drawer; what no stock is like, or an older plan does not know, is left out."""
    knows = any(step.does for step in plan.route)
    found = (_by_deeds(blank, plan) if knows else _by_words(blank, plan.route) for blank in plan.blanks)
    along = plan.runs_along()
    return tuple(replace(one, along=along) for one in found if one is not None and _is_stock(one))


def _is_stock(one: StockWanted) -> bool:
    try:
        return one.section.area_mm2 > 0 and 0 < one.length_mm <= LONGEST_MM
    except CraftError:
        return False


def _by_deeds(blank: Blank, plan: WorkPlan) -> StockWanted | None:
    """A blank as the virtual bench first cuts it; one that is cut already takes nothing from the drawer."""
    taken = taken_stock(blank, plan.start, plan.route)
    return None if taken is None or not taken.cut_steps else _wanted(blank, taken)


def _by_words(blank: Blank, route: Sequence[Step]) -> StockWanted | None:
    """A blank of a plan from before the steps said what they do; one whose stock cannot be told is left out."""
    worked = any(step.key.startswith("rough") for step in route)
    if worked or abs(blank.width_mm - blank.section.width_mm) > SAME_MM:
        return None
    section = blank.section
    steps = tuple(step.key for step in route if step.station == "cut")[-1:]
    taken = TakenStock(
        section.profile, section.width_mm, section.thickness_mm, section.side_mm or None, blank.cut_length_mm, steps
    )
    return _wanted(blank, taken)


def _wanted(blank: Blank, taken: TakenStock) -> StockWanted:
    return StockWanted(
        **vars(taken),
        name=blank.name,
        title=blank.title,
        role=blank.role,
        needs_mm=blank.formed_length_mm if blank.role == INSERT else taken.length_mm,
        count=blank.count,
        waits=blank.waits,
        metal=blank.metal,
    )
