"""Lengths in words, in millimetres or in inches with the nearest fraction beside them."""

from __future__ import annotations

from fractions import Fraction

from ringcraft.border import name_of
from ringcraft.reading import INCH_MM

UNITS = {"mm": "millimetres", "in": "inches"}
UnitKey = name_of("unit", UNITS, {"inch": "in", "inches": "in", "millimetres": "mm"})
FINEST = 64  # of an inch: the finest a steel rule is cut to


def told(length_mm: float, units: str, places: int = 2) -> str:
    """A length [mm] in figures: millimetres to ``places``, inches always to a thousandth.

    >>> told(60.3, "mm", 1), told(60.3, "in")
    ('60.3', '2.374')
    """
    return f"{length_mm / INCH_MM:.3f}" if units == "in" else f"{length_mm:.{places}f}"


def nearest_fraction(length_mm: float) -> str:
    """The nearest sixty-fourth of an inch, and how far the length is from it.

    >>> nearest_fraction(60.3)
    '2 3/8 in less 0.001'
    """
    inches = length_mm / INCH_MM
    near = Fraction(round(inches * FINEST), FINEST)
    whole, part = divmod(near, 1)
    said = " ".join(str(piece) for piece in (whole, part) if piece) or "0"
    off = inches - float(near)
    if abs(off) < 0.0005:
        return f"{said} in"
    return f"{said} in {'and' if off > 0 else 'less'} {abs(off):.3f}"
