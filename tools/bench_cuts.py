"""How long a cut plan takes against its size, plotted, and how far it is from its bounds."""

from __future__ import annotations

import random
import time
from typing import Any

from ringcraft.stock.cutting.answer import cut

SIZES = ((20, 4), (50, 10), (100, 20), (200, 40), (500, 80), (1000, 160), (2000, 320))
WANTED = {200: 2.0, 500: 3.0}  # seconds
FEW = [61.5, 57.2, 64.9, 53.1, 69.4]
PLOT = 40  # signs for the longest


def drawer(blanks: int, bars: int, lengths: list[float] | None) -> dict[str, Any]:
    """A drawer of bars and a list of blanks: lengths of their own, or a few that repeat."""
    chance = random.Random(blanks)  # noqa: S311 - the same drawer in every run
    wanted = [chance.choice(lengths) if lengths else chance.randint(450, 750) / 10 for _ in range(blanks)]
    return {
        "kerf_mm": 0.22,
        "stock": [{"id": f"bar {at}", "length_mm": chance.randint(2000, 6500) / 10} for at in range(bars)],
        "blanks": [{"id": str(at), "length_mm": mm} for at, mm in enumerate(wanted)],
    }


def sheets() -> dict[str, Any]:
    """Twenty blanks of five widths from four sheets."""
    chance = random.Random(4)  # noqa: S311
    return {
        "sheets": [{"id": f"sheet {at}", "length_mm": 130, "width_mm": 36 + 4 * at} for at in range(4)],
        "blanks": [
            {"id": str(at), "length_mm": chance.randint(450, 720) / 10, "width_mm": chance.choice([3, 4, 5, 6.5, 8])}
            for at in range(20)
        ],
    }


def measure() -> None:
    """Print each size with its time as a bar, its pieces against their bound and its rest against its own."""
    cut(drawer(20, 4, FEW))  # what is imported once is not measured
    rows = []
    for title, lengths in (("each its own", None), ("five repeat", FEW)):
        for blanks, bars in SIZES:
            asked = drawer(blanks, bars, lengths)
            begun = time.perf_counter()
            plan = cut(asked)
            rows.append((f"{blanks:4} blanks, {bars:3} bars, {title}", time.perf_counter() - begun, plan, blanks))
    begun = time.perf_counter()
    plan = cut(sheets())
    rows.append(("  20 blanks, 4 sheets", time.perf_counter() - begun, plan, 0))
    longest = max(seconds for _, seconds, *_ in rows)
    for what, seconds, plan, blanks in rows:
        used = len(plan.pieces) or len({strip.sheet_id for strip in plan.strips})
        bound = plan.bound_pieces or plan.bound_sheets
        gap = f"rest {plan.rest_bound_mm - plan.rest_mm:.2f} under its bound" if plan.pieces else ""
        left = f", {len(plan.unplaced)} do not fit" if plan.unplaced else ""
        wanted = f" (wanted: {WANTED[blanks]:.0f} s)" if blanks in WANTED else ""
        bar = "#" * max(1, round(PLOT * seconds / longest))
        print(f"{what:<38}{seconds:6.2f} s {bar:<{PLOT}} {used} of at least {bound}{left}; {gap}{wanted}", flush=True)


if __name__ == "__main__":
    measure()
