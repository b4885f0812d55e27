"""A sweep runs one case over many: an eighth of them at each ``make test``, all of them at ``make test-all``.

``SLICE`` (0 to 7) chooses which eighth, by a hash of the test's id, so that a case stays in its slice whatever else is
added; eight landings see all. One case of every sweep at least is in each slice, and over all sweeps every style and
every family of metals. Races, outages and kills are no sweeps: they always run.
"""

from __future__ import annotations

import os
import zlib
from collections.abc import Callable, Iterable, Sequence
from typing import TypeVar

from ringcraft.metals import METALS
from ringcraft.styles import STYLES

PARTS = 8
_SAID = os.environ.get("SLICE", "")
#: Which eighth runs; None where all do.
SLICE: int | None = int(_SAID) % PARTS if _SAID.isdecimal() else None
Case = TypeVar("Case")


def _hash(text: str) -> int:
    return zlib.crc32(text.encode("utf8", "surrogatepass"))


def names_in(text: str) -> set[str]:
    """The styles and the families of metals that an id names."""
    families = {f"family of {metal.family}" for key, metal in METALS.items() if key in text}
    return families | {key for key in STYLES if key in text}


def chosen(ids: Sequence[str], part: int | None) -> set[str]:
    """Which of these run in a slice: those whose hash falls in it, and the first by hash of every name that none has."""
    if part is None:
        return set(ids)
    taken = {one for one in ids if _hash(one) % PARTS == part}
    holders: dict[str, list[str]] = {}
    for one in ids:
        for name in (one.partition("[")[0], *sorted(names_in(one))):
            holders.setdefault(name, []).append(one)
    for having in holders.values():
        if not taken.intersection(having):
            taken.add(min(having, key=lambda one: _hash(f"{part} {one}")))
    return taken


def share(cases: Iterable[Case], named: Callable[[Case], str] = str) -> list[Case]:
    """The slice's part of the cases of one test that goes through many itself."""
    listed = [(f"[{named(case)}", case) for case in cases]
    taken = chosen([name for name, _ in listed], SLICE)
    return [case for name, case in listed if name in taken]


def tries(most: int) -> int:
    """How often chance is asked: as often as said where all sweeps run, a third of that in a slice."""
    return most if SLICE is None else max(most // 3, 5)
