"""How the form asks for a preference: its words, its part of the form, and readers of what is typed into it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated

from pydantic import BeforeValidator

from ringcraft.errors import CraftError, OutOfRangeError, UnreadableError
from ringcraft.reading import read_length
from ringcraft.schema import bare_unit
from ringcraft.work.fields import Option

MOST_GAPS = 12


_BEFORE_UNIT = re.compile(r"(?<=\d) +(?=(?:mm|in|inch|inches)\b)")


def _gaps(value: object) -> object:
    """Fixed gaps of cutters [mm] as typed, apart by blanks or commas."""
    if isinstance(value, str):
        value = [one for one in re.split(r"[\s,;]+", _BEFORE_UNIT.sub("", value[:200])) if one]
    if not isinstance(value, (list, tuple)) or len(value) > MOST_GAPS:
        raise UnreadableError("", "These are not the gaps of cutters.", "Such as: 2 2.5 4 mm.")
    bare, out = bare_unit(), []
    for one in value:
        try:
            gap = read_length(one, bare=bare)
        except CraftError as problem:
            raise problem.at("").in_units(bare) from None
        if not 0.5 <= gap <= 12:
            raise OutOfRangeError("", "No cutter opens {gap:g mm}.", "From 0.5 to 12 mm.", gap=gap).in_units(bare)
        out.append(gap)
    return tuple(out)


#: Lengths [mm] of fixed gaps.
Gaps = Annotated[tuple[float, ...], BeforeValidator(_gaps)]


@dataclass(frozen=True)
class Asked:
    """How the form asks for a preference: its label, and the words of the sentence before and after it.

    ``choices`` are what it can be set to, empty where it is typed; ``group`` is the sentence it stands in. ``fills``
    is the field of an order that it fills: its own name where nothing is said, None where it is no order's matter.
    """

    label: str
    before: str
    after: str = ""
    choices: tuple[Option, ...] = ()
    group: str = "ways"
    fills: str | None = ""


@dataclass(frozen=True)
class WaysPart:
    """A part of the ways that one can link to: the sentences and the tables that stand in it."""

    key: str
    title: str
    groups: tuple[str, ...]


SECTIONS = (
    WaysPart("lengths", "sizes and lengths", ("lengths",)),
    WaysPart("cutting", "cutting", ("ways", "hand")),
    WaysPart("learnt", "learnt", ("learnt",)),
    WaysPart("resizing", "resizing", ("repairs",)),
    WaysPart("day", "the day", ("day", "opening", "closed", "works", "pots", "tumblers")),
    *(WaysPart(key, key, (key,)) for key in ("solders", "metals", "torches", "stones", "papers", "minutes", "steps")),
    WaysPart("prices", "prices", ("prices", "gram")),
)
