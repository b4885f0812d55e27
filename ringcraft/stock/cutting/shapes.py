"""What a cut plan answers: pieces with their scribe marks, strips of sheets, what is left, what is proven of it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class CutPiece:
    """A piece of stock that is opened: its blanks in the order of their cuts from the left end, where to scribe each
    [mm from the left end as it lies in the drawer], how often the saw goes through, what is left [mm].
    """

    stock_id: str
    length_mm: float
    cuts: tuple[str, ...]
    lengths_mm: tuple[float, ...]
    marks_mm: tuple[float, ...]
    sawn: int
    offcut_mm: float


@dataclass(frozen=True)
class CutPlace:
    """Where a blank lies on its sheet [mm]: from the left end and the near edge, how far it runs along and across."""

    id: str
    x_mm: float
    y_mm: float
    long_mm: float
    wide_mm: float


@dataclass(frozen=True)
class CutStrip:
    """A strip of a sheet [mm]: how far its near side lies from the edge that it is measured from, where it begins,
    how wide it is; its blanks with their marks from its own beginning.

    ``turned``: it runs across the sheet and is measured from its left end. ``stage`` 1 is cut from the sheet, 2
    across a rest, 3 from the end of the strip ``parent`` (its place in the list). ``places`` are on the whole sheet.
    """

    sheet_id: str
    at_mm: float
    from_mm: float
    width_mm: float
    length_mm: float
    cuts: tuple[str, ...]
    lengths_mm: tuple[float, ...]
    marks_mm: tuple[float, ...]
    offcut_mm: float
    turned: bool
    stage: int
    parent: int | None
    places: tuple[CutPlace, ...]


@dataclass(frozen=True)
class SheetRest:
    """What is left of a sheet: where it lies on it, how far it runs along and across [mm]."""

    sheet_id: str
    x_mm: float
    y_mm: float
    long_mm: float
    wide_mm: float


@dataclass(frozen=True)
class LookedAt:
    """How many ways were looked at, and whether those were all there are."""

    count: int
    exhausted: bool


@dataclass(frozen=True)
class CutPlan:
    """Which blanks from which pieces. ``used_mm`` are the blanks, ``opened_mm`` the pieces that are cut; a bound is
    proven: no plan opens fewer pieces, and none of these pieces leaves a longer single rest than ``rest_bound_mm``.

    ``optimal``: the whole order is met, placing first, then the pieces, their length (of sheets their metal), of bars
    the rest. ``unplaced_proven``: what is left out was shown not to go with what is served before it.
    """

    pieces: tuple[CutPiece, ...]
    strips: tuple[CutStrip, ...]
    rests: tuple[SheetRest, ...]
    unplaced: tuple[str, ...]
    unplaced_proven: bool
    looked_at: LookedAt
    used_mm: float
    kerf_total_mm: float
    opened_mm: float
    opened_bound_mm: float
    bound_pieces: int
    bound_sheets: int
    optimal: bool
    rest_mm: float
    rest_bound_mm: float
    rest_optimal: bool
    says: tuple[str, ...]
