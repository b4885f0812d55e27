"""What an outer band goes over: the inner band as measured, or as planned until it is."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.errors import ImpossibleSectionError

MOST_OFF_SHARE = 0.1  # of the planned outside: a measure further off is of another ring


@dataclass(frozen=True)
class InnerBand:
    """What an outer band goes over: its outside diameter [mm], and whether that was measured."""

    outside_mm: float
    measured: bool

    def waits(self, what: str) -> str:
        """What the band over it still waits for, in words; empty once it was measured."""
        return "" if self.measured else f"the outside of {what} is measured"


def inner_band(planned_mm: float, measured_mm: float | None, field: str = "inner_measured_od_mm") -> InnerBand:
    """A band's outside [mm] as measured, else as planned; raises ImpossibleSectionError at ``field``."""
    if measured_mm is None:
        return InnerBand(planned_mm, False)
    if abs(measured_mm - planned_mm) > MOST_OFF_SHARE * planned_mm:
        raise ImpossibleSectionError(
            field,
            "{measured:.2f} over it cannot be: it was planned at {planned:.2f}.",
            "Measure across the outside.",
            measured=measured_mm,
            planned=planned_mm,
        )
    return InnerBand(measured_mm, True)
