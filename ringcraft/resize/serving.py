"""Whether a piece of metal serves as an insert, and what comes of one that is short: for rings and drawer alike."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.resize.case import US_MM
from ringcraft.sections import Section
from ringcraft.units import Length

SAME_SECTION_MM = 0.1  # a piece this much narrower or thinner than the shank still serves; our own judgement
CLOSE_MM = 0.01


def serves(piece: Section, shank: Section) -> bool:
    """Whether a piece can be shaped to a shank: of its profile, no narrower and no thinner."""
    return (
        piece.profile == shank.profile
        and piece.width_mm >= shank.width_mm - SAME_SECTION_MM
        and piece.thickness_mm >= shank.thickness_mm - SAME_SECTION_MM
    )


@dataclass(frozen=True)
class HeldAgainst:
    """A piece against the length that is wanted: what it is short [mm, US sizes], and what that means."""

    short_mm: float
    short_us: float
    says: str

    @property
    def enough(self) -> bool:
        """Whether it is long enough."""
        return self.short_mm <= CLOSE_MM


def held_against(piece_mm: float, need_mm: float, units: str) -> HeldAgainst:
    """Hold a piece against what is wanted, both along the neutral line [mm]."""
    short = max(need_mm - piece_mm, 0.0)
    much = f"{Length(short, units):.2f mm} short: the ring would come out {short / US_MM:.2f} US sizes small"
    return HeldAgainst(short, short / US_MM, "long enough" if short <= CLOSE_MM else much)
