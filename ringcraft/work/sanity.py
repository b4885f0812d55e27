"""Is it a ring? Every answer is looked at once more before it leaves, as a jeweler looks at a figure before cutting.

An order can be readable word by word and still ask for nothing that metal can be. What is found here is said at the
field that most likely did it; it is the last of the checks, not the first.
"""

from __future__ import annotations

import math

from ringcraft.errors import CraftError, OutOfRangeError
from ringcraft.work.plan import WorkPlan

SHORTEST_MM, LONGEST_MM = 2.0, 400.0  # of a blank: a plate on the smallest top, twice round the largest finger
WIDEST_MM = 100.0  # of a blank: a sheet that is folded in six
HEAVIEST_G = 250.0  # of a ring, all its pieces together: a heavy platinum signet weighs a fifth of it
SMALLEST_INSIDE_MM, LARGEST_INSIDE_MM = 9.0, 32.0  # a child's smallest and the largest finger, and some more


def check_plan(plan: WorkPlan, inside_mm: float) -> None:
    """Refuse a plan that no metal can follow; raises OutOfRangeError naming a field.

    ``inside_mm`` is the inside diameter at which the ring closes.
    """
    for blank in plan.blanks:
        sizes = (blank.cut_length_mm, blank.formed_length_mm, blank.width_mm, blank.volume_mm3, blank.mass_g)
        if not all(math.isfinite(size) and size > 0 for size in sizes):
            raise _no_ring("size", "That leaves nothing of the {title}.", title=blank.title)
        if not SHORTEST_MM <= blank.cut_length_mm <= LONGEST_MM:
            raise _no_ring("size", "A {title} {long:.1f mm} long makes no ring.", title=blank.title,
                           long=blank.cut_length_mm)  # fmt: skip
        if blank.width_mm > WIDEST_MM:
            raise _no_ring("stock.width_mm", "A {title} {wide:.1f mm} wide makes no ring.", title=blank.title,
                           wide=blank.width_mm)  # fmt: skip
    grams = math.fsum(blank.mass_g * blank.count for blank in plan.blanks)
    if grams > HEAVIEST_G:
        raise _no_ring("stock", f"{grams:.0f} g is a bar, not a ring.")
    if not SMALLEST_INSIDE_MM <= inside_mm <= LARGEST_INSIDE_MM:
        raise _no_ring("size", "It would close at {inside:.1f mm} inside: that is no finger.", inside=inside_mm)
    for step in plan.route:
        for piece in step.after.values():
            if min(piece.length_mm, piece.width_mm, piece.thickness_mm, piece.volume_mm3) <= 0:
                raise _no_ring("size", f"At “{step.title}” nothing is left of it.")


def _no_ring(field: str, said: str, **figures: float | str) -> CraftError:
    return OutOfRangeError(field, said, "Look for the figure that is far from usual.", **figures)
