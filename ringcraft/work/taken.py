"""What a blank is cut from: the stock as it lies in the drawer, not as it is once it is worked.

A strip that is textured is thinner by the time it is cut to its length, a folded sheet is one layer before it is
folded, a plate is as wide as it is scribed: stock and length are those of the virtual bench's own first cut.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from ringcraft.errors import CraftError
from ringcraft.planning.blank import Blank
from ringcraft.routes.steps import Step
from ringcraft.sections import PROFILES, Section, Stock, section_of
from ringcraft.vbench.deeds import Cut
from ringcraft.vbench.pieces import Piece

EVEN_MM = 0.02  # sides nearer than this are one: a hair less than a caliper tells apart


@dataclass(frozen=True)
class TakenStock:
    """The stock of a blank: its profile and measures [mm], how long it is cut, the step that cuts it first."""

    profile: str
    width_mm: float
    thickness_mm: float
    side_mm: float | None
    length_mm: float
    cut_steps: tuple[str, ...]

    @property
    def section(self) -> Section:
        """Its section; raises CraftError where no stock is like that."""
        return section_taken(self.profile, self.width_mm, self.thickness_mm, self.side_mm)


@lru_cache(maxsize=4096)
def section_taken(profile: str, width_mm: float, thickness_mm: float, side_mm: float | None) -> Section:
    """The section of stock as it is taken [mm]; raises CraftError where no stock is like that."""
    width = None if PROFILES[profile].equal_sided else width_mm
    side = side_mm if profile in ("d", "court") else None
    return section_of(Stock(profile=profile, thickness_mm=thickness_mm, width_mm=width, side_mm=side or None))


def taken_stock(blank: Blank, start: Mapping[str, Piece], route: Sequence[Step]) -> TakenStock | None:
    """A blank as the virtual bench first cuts it; None for one that it does not begin with."""
    stock = start.get(blank.name)
    if stock is None:
        return None
    cuts = [(step.key, deed) for step in route for deed in step.does if isinstance(deed, Cut)]
    mine = [(key, deed) for key, deed in cuts if deed.piece == blank.name]
    along = [deed.to_mm for _, deed in mine if deed.along == "length"]
    across = [deed.to_mm for _, deed in mine if deed.along == "width"]
    return TakenStock(
        profile=_profile(blank.section, stock),
        width_mm=across[0] if across else stock.width_mm,
        thickness_mm=stock.thickness_mm,
        side_mm=blank.section.side_mm or None,
        length_mm=along[0] if along else blank.cut_length_mm,
        cut_steps=tuple(key for key, _ in mine[:1]),
    )


def taken_section(blank: Blank, start: Mapping[str, Piece], route: Sequence[Step]) -> Section:
    """The section of a blank's stock; its own where no stock tells another."""
    try:
        taken = taken_stock(blank, start, route)
        return blank.section if taken is None else taken.section
    except CraftError:
        return blank.section


def _profile(section: Section, stock: Piece) -> str:
    """The profile of the stock: a round wire that is worked to an oval is round in the drawer."""
    even = abs(stock.width_mm - stock.thickness_mm) <= EVEN_MM
    raw = next((key for key, one in PROFILES.items() if one.worked == section.profile and one.equal_sided), None)
    return raw if raw is not None and even and section.profile != "rectangle" else section.profile
