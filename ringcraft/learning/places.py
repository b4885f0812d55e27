"""Readings at places: what is read of a ring beside its route, where round it, and in which state it was."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ringcraft.errors import CraftError, OutOfRangeError
from ringcraft.following.inspection import Reading, with_unit
from ringcraft.measure.sizes import FingerSize, read_size
from ringcraft.reading import read_length

#: Where a reading was taken: from a side of the mandrel, or at an angle round the shank, from the bottom [degrees].
PLACES = {
    "": "",
    "side-a": "from one side",
    "side-b": "from the other side",
    "left-end": "at the left end",
    "left-90": "at 90° left",
    "left-45": "at 45° left",
    "bottom": "at the bottom",
    "right-45": "at 45° right",
    "right-90": "at 90° right",
    "right-end": "at the right end",
}
SIDES = ("", "side-a", "side-b")
ROUND = ("left-end", "left-90", "left-45", "bottom", "right-45", "right-90", "right-end")
CAME_BACK = "came-back"
STATES = {
    "cut": "cut",
    "bent": "bent",
    "soldered": "soldered",
    "daylight": "with daylight under it",
    "round": "round, no daylight",
    "stretched": "stretched",
    "finished": "finished",
    CAME_BACK: "came back",
}
LEAST_MM, MOST_MM = 0.05, 60.0


@dataclass(frozen=True)
class PlaceReading:
    """What is read at places: its title, its kind, and where it can be read."""

    title: str
    kind: str
    places: tuple[str, ...]


READINGS = {
    "ring-size": PlaceReading("size", "size", SIDES),
    "shank-thickness": PlaceReading("thickness", "length", ROUND),
    "shank-width": PlaceReading("width", "length", ROUND),
}


def read_at_place(
    key: str, text: str, home: str, zero_mm: float, on: Callable[[str], FingerSize] | None, bare: str
) -> Reading:
    """A reading at a place as typed, as a route's own measures are read; raises CraftError at ``text``."""
    try:
        if READINGS[key].kind == "size":
            size = on(text) if on else read_size(text, home=home, units=bare)
            return Reading(key, size.inside_diameter_mm, with_unit("size", text, size.inside_diameter_mm))
        value = read_length(text, bare=bare) - zero_mm
    except CraftError as problem:
        raise problem.at("text").in_units(bare) from None
    if not LEAST_MM <= value <= MOST_MM:
        said, hint = "{read:g mm} is no measure of a shank.", "In which unit is it?"
        raise OutOfRangeError("text", said, hint, read=value).in_units(bare)
    return Reading(key, value, with_unit("length", text, value, zero_mm))
