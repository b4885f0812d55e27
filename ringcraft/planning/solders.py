"""A shop's own solders: which grade each is, and what its maker's sheet says."""

from __future__ import annotations

import re
from typing import Annotated

from pydantic import BeforeValidator, Field, WithJsonSchema

from ringcraft.errors import OutOfRangeError
from ringcraft.metals import SOLDERS, FormKey, SolderKey
from ringcraft.reading import entries, tidy
from ringcraft.schema import read_figure, request


def _temperature(value: object) -> float:
    hint, message = "Write it in °C, as the maker's sheet does.", "That is not a temperature."
    said = read_figure(value, ("c", "°"), hint, message)
    if not COLDEST_C <= said <= HOTTEST_C:
        raise OutOfRangeError("", f"No solder flows at {said:g} °C.", f"From {COLDEST_C:g} to {HOTTEST_C:g} °C.")
    return said


COLDEST_C, HOTTEST_C = 300.0, 1900.0  # below is soft solder, above is platinum itself
MOST_SOLDERS = 60
Celsius = Annotated[
    float,
    BeforeValidator(_temperature),
    WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}]}, mode="validation"),
]


@request
class OwnSolder:
    """A solder of the shop's own: its grade, its name, its form, and by its maker's sheet where it begins to melt and
    where it flows [C].
    """

    grade: SolderKey
    title: Annotated[str, Field(max_length=60)] = ""
    melts_c: Celsius | None = None
    flows_c: Celsius | None = None
    form: FormKey = "chips"

    def __post_init__(self) -> None:
        """Refuse a solder that flows before it melts."""
        if self.melts_c is not None and self.flows_c is not None and self.melts_c > self.flows_c:
            raise OutOfRangeError(
                "flows_c", "It cannot flow before it begins to melt.", "Read both off the sheet again."
            )


ENTRY = re.compile(
    r"(?P<grade>.+?)(?: ?\((?P<title>[^()]{1,60})\))?(?: (?P<melts>\d{3,4}))?(?: (?P<flows>\d{3,4}))?"
    r"(?: (?P<form>chips|sheet|wire|paste))?"
)


def read_solders(text: str) -> list[dict[str, object]]:
    """A shop's solders as typed, apart by semicolons or lines: grade, name, where it melts and flows [C], form.

    >>> read_solders("silver hard (blue reel) 740 785 wire")[0]["flows_c"]
    '785'
    """
    out: list[dict[str, object]] = []
    titles = {tidy(one.title): key for key, one in SOLDERS.items()}
    for said in map(tidy, entries(text)):
        match = ENTRY.fullmatch(said)
        grade = match["grade"] if match else said
        melts, flows = (match["melts"], match["flows"]) if match else (None, None)
        if flows is None:  # one figure alone is where it flows
            melts, flows = None, melts
        row: dict[str, object] = {"grade": titles.get(grade, grade), "title": (match and match["title"]) or ""}
        row |= {name: value for name, value in (("melts_c", melts), ("flows_c", flows)) if value}
        out.append(row | ({"form": match["form"]} if match and match["form"] else {}))
    return out


def _few(value: object) -> object:
    if isinstance(value, str):
        value = read_solders(value)
    if isinstance(value, (list, tuple)) and len(value) > MOST_SOLDERS:
        raise OutOfRangeError("", "More solders than a shop has.", f"At most {MOST_SOLDERS}.")
    return value


OwnSolders = Annotated[
    tuple[OwnSolder, ...],
    BeforeValidator(_few),
]
