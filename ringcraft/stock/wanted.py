"""What a plan takes from the drawer: each blank as it is first cut from its stock, not as it is when it is worked.

A strip that is textured is thinner and longer by the time it is cut to its length, a folded sheet is one layer before
it is folded: stock and length are those of the virtual bench's own first cut.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ringcraft.errors import CraftError
from ringcraft.planning.blank import Blank
from ringcraft.routes.steps import Step
from ringcraft.sections import PROFILES, Section, Stock, section_of
from ringcraft.stock.drawer import LONGEST_MM, SAME_MM
from ringcraft.vbench.deeds import Cut
from ringcraft.vbench.pieces import Piece
from ringcraft.work.plan import WorkPlan

INSERT = "insert"


@dataclass(frozen=True)
class StockWanted:
    """A blank as it is cut from stock: profile and measures [mm], its length [mm], how many of it.

    ``needs_mm`` is what a piece at hand is held against: an insert by what it comes to, all else by its cut.
    ``cut_steps`` are the steps that cut it from the stock, ``waits`` which measure it is planned without yet.
    """

    name: str
    title: str
    role: str
    profile: str
    width_mm: float
    thickness_mm: float
    side_mm: float | None
    length_mm: float
    needs_mm: float
    count: int
    waits: str
    cut_steps: tuple[str, ...]

    @property
    def section(self) -> Section:
        """The section of its stock; raises CraftError where no stock is like that."""
        width = None if PROFILES[self.profile].equal_sided else self.width_mm
        side = self.side_mm if self.profile in ("d", "court") else None
        return section_of(
            Stock(profile=self.profile, thickness_mm=self.thickness_mm, width_mm=width, side_mm=side or None)
        )


def stock_wanted(plan: WorkPlan) -> tuple[StockWanted, ...]:
    """What a plan takes from the drawer; what no stock is like, or an older plan does not know, is left out."""
    knows = any(step.does for step in plan.route)
    found = (_by_deeds(blank, plan) if knows else _by_words(blank, plan.route) for blank in plan.blanks)
    return tuple(one for one in found if one is not None and _is_stock(one))


def _is_stock(one: StockWanted) -> bool:
    try:
        return one.section.area_mm2 > 0 and 0 < one.length_mm <= LONGEST_MM
    except CraftError:
        return False


def _by_deeds(blank: Blank, plan: WorkPlan) -> StockWanted | None:
    """A blank as the virtual bench first cuts it."""
    stock = plan.start.get(blank.name)
    if stock is None:
        return None
    cuts = [(step.key, deed) for step in plan.route for deed in _cuts(step, blank.name)]
    along = [deed.to_mm for _, deed in cuts if deed.along == "length"]
    across = [deed.to_mm for _, deed in cuts if deed.along == "width"]
    return _wanted(
        blank,
        profile=_profile(blank.section, stock),
        width=across[0] if across else stock.width_mm,
        thickness=stock.thickness_mm,
        length=along[0] if along else blank.cut_length_mm,
        steps=tuple(key for key, _ in cuts[:1]),
    )


def _cuts(step: Step, name: str) -> list[Cut]:
    return [deed for deed in step.does if isinstance(deed, Cut) and deed.piece == name]


def _profile(section: Section, stock: Piece) -> str:
    """The profile of the stock: a round wire that is worked to an oval is round in the drawer."""
    even = abs(stock.width_mm - stock.thickness_mm) <= SAME_MM
    raw = next((key for key, one in PROFILES.items() if one.worked == section.profile and one.equal_sided), None)
    return raw if raw is not None and even and section.profile != "rectangle" else section.profile


def _by_words(blank: Blank, route: Sequence[Step]) -> StockWanted | None:
    """A blank of a plan from before the steps said what they do; one whose stock cannot be told is left out."""
    worked = any(step.key.startswith("rough") for step in route)
    if worked or abs(blank.width_mm - blank.section.width_mm) > SAME_MM:
        return None
    section = blank.section
    return _wanted(
        blank,
        profile=section.profile,
        width=section.width_mm,
        thickness=section.thickness_mm,
        length=blank.cut_length_mm,
        steps=tuple(step.key for step in route if step.station == "cut")[-1:],
    )


def _wanted(
    blank: Blank, *, profile: str, width: float, thickness: float, length: float, steps: tuple[str, ...]
) -> StockWanted:
    return StockWanted(
        name=blank.name,
        title=blank.title,
        role=blank.role,
        profile=profile,
        width_mm=width,
        thickness_mm=thickness,
        side_mm=blank.section.side_mm or None,
        length_mm=length,
        needs_mm=blank.formed_length_mm if blank.role == INSERT else length,
        count=blank.count,
        waits=blank.waits,
        cut_steps=steps,
    )
