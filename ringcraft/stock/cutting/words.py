"""Whether a cut plan is the best possible, in words that are true of it: what is shown, what was only looked at."""

from __future__ import annotations

from ringcraft.stock.cutting.shapes import LookedAt
from ringcraft.units import Length, counted

BEST_REST_MM = 0.5  # a rest this near to its bound is as long as it can be at a bench


def said_of(
    pieces: int, bound: int, counts: tuple[int, int], proven: bool, looked: LookedAt, what: str = "piece"
) -> tuple[str, ...]:
    """What is cut from how many pieces, and how sure it is that it takes so many; what could not be placed.

    ``counts`` of blanks that are placed and that are not.
    """
    (placed, unplaced), said = counts, []
    if unplaced and proven:
        said.append(f"{counted(unplaced, 'blank')} cannot be cut from what is there.")
    elif unplaced:
        said.append(
            f"No way was found to cut {counted(unplaced, 'blank')} more from what is there; "
            f"{looked.count:,} ways were looked at, which are not all."
        )
    if not pieces:
        return tuple(said or ["Nothing is to be cut."])
    if unplaced:
        others = "The other goes" if placed == 1 else "The others go"
        rest = f"{others} on {'one ' + what if pieces == 1 else counted(pieces, what)}"
        return (*said, f"{rest}." if pieces == 1 else f"{rest}, {_fewer(pieces, bound)}.")
    if pieces == 1:
        said.append(f"One {what} is enough.")
    elif pieces == bound:
        said.append(f"It cannot be done from fewer than {counted(pieces, what)}.")
    else:
        said.append(f"{counted(pieces, what)}: {_fewer(pieces, bound)}.")
    return tuple(said)


def _fewer(pieces: int, bound: int) -> str:
    if pieces == bound:
        return "and not on fewer"
    least = f"fewer than {bound} is impossible, " if bound > 1 else ""
    return f"{least}whether {f'{bound} would' if pieces == bound + 1 else 'fewer would'} do is not known"


def rest_said(rest_mm: float, bound_mm: float, units: str) -> tuple[str, ...]:
    """How the longest rest stands to the longest there can be."""
    if bound_mm <= 0:
        return ()
    if rest_mm >= bound_mm - BEST_REST_MM:
        near = "" if rest_mm >= bound_mm - 0.0005 else f", to {Length(BEST_REST_MM, units):.1f mm}"
        return (f"The longest rest is as long as it can be{near}.",)
    return (f"The longest rest could be {Length(bound_mm - rest_mm, units):.1f mm} longer at most.",)
