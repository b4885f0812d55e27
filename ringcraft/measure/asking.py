"""What is asked of sizes, as the borders read it."""

from __future__ import annotations

from ringcraft.errors import CraftError
from ringcraft.measure.sizes import SCALES, FingerSize, read_size
from ringcraft.schema import SizeText, UnitKey, name_of, request

ScaleKey = name_of("scale", SCALES)


@request
class SizeRequest:
    """A finger size to read. ``scale`` is what a bare number is on; ``home_scale`` only its first guess.

    ``units`` are those of a length that names none, and of what is said.
    """

    text: SizeText
    scale: ScaleKey | None = None
    home_scale: ScaleKey = "us"
    units: UnitKey = "mm"


def size_of(asked: SizeRequest) -> FingerSize:
    """Read a finger size; raises CraftError at ``text``."""
    try:
        return read_size(asked.text, asked.scale, asked.home_scale, asked.units)
    except CraftError as problem:
        raise problem.at("text").in_units(asked.units) from None
