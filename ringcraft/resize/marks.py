"""What the mark in a ring says of its metal, held against what it is said to be."""

from __future__ import annotations

import re

from ringcraft.resize.case import Case

PRECIOUS = ("Au", "Pt", "Pd", "Ag")
KARATS = 24
APART = 25.0  # thousandths, beyond which a mark and a metal do not belong together; our own judgement


def fineness_of(mark: str) -> float | None:
    """The fineness [thousandths] that a mark gives; None for one that gives none.

    >>> fineness_of("750"), fineness_of("14 k"), fineness_of("a crown")
    (750.0, 583.3, None)
    """
    text = mark.lower()
    karat = re.search(r"(?<!\d)(\d{1,2}) ?(?:k|kt|ct|karat|carat)\b", text)
    if karat and 0 < int(karat[1]) <= KARATS:
        return round(1000 * int(karat[1]) / KARATS, 1)
    parts = re.search(r"(?<!\d)(\d{3})(?!\d)", text)
    return float(parts[1]) if parts and int(parts[1]) >= 300 else None


def mark_warnings(case: Case) -> tuple[str, ...]:
    """What the tests of its metal contradict."""
    test = case.order.tested
    if test is None:
        return ()
    out = []
    fine = fineness_of(test.mark)
    shares = [case.metal.composition.get(one, 0.0) for one in PRECIOUS]
    share = 1000 * max(shares, default=0.0)
    if fine is not None and case.metal.composition and abs(fine - share) > APART:
        out.append(f"A mark of {test.mark.strip()} and {case.metal.title} do not belong together: test it again.")
    if test.magnet == "yes" and case.metal.composition:
        out.append("A magnet pulls it: there is steel in it, a spring or a core, or it is not what it is said to be.")
    return tuple(out)
