"""Orders as plain data: what a style's order begins with, and how a field is set by its dotted path."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from typing import Any

from ringcraft.sections import Stock
from ringcraft.styles.base import FieldSpec, First, PartSpec, Style
from ringcraft.units import INCH_MM, write_length

FIRST_SIZE, FIRST_METAL = "US 6 3/4", "sterling"


def set_path(data: dict[str, Any], path: str, value: object) -> None:
    """Set a field by its dotted path; numbers are places in a list, which grows by one at most."""
    at: Any = data
    steps = path.split(".")
    for step, after in itertools.pairwise(steps):
        empty: Any = [] if after.isdecimal() else {}
        if isinstance(at, list):
            if int(step) == len(at):
                at.append(empty)
            at = at[int(step)]
        else:
            at[step] = at[step] if at.get(step) is not None else empty
            at = at[step]
    if isinstance(at, list):
        at.insert(int(steps[-1]), value)
    else:
        at[steps[-1]] = value


def first_order(style: Style[Any], units: str = "mm") -> dict[str, Any]:
    """The order that a style begins with, as a person in a shop of these units would type it."""
    order: dict[str, Any] = {"style": style.key, "size": FIRST_SIZE, "metal": FIRST_METAL, "units": units}
    set_path(order, "stock", _begun(style.first, units))
    for word in style.words:
        _begin(order, word, units)
    return order


def _begin(order: dict[str, Any], word: FieldSpec, units: str) -> None:
    if not is_asked(word, order):
        return
    if word.kind == "one-of":
        part = next(part for part in word.parts if part.field == word.first)
        set_path(order, part.field, _begun(part.first, units))
    elif word.kind == "list":
        for part in word.parts:
            set_path(order, f"{word.field}.0.{part.field}", _begun(part.first, units))
    elif word.first != "":
        set_path(order, word.field, _begun(word.first, units))


def begins(style: Style[Any], units: str) -> dict[str, str]:
    """The stock, the size and the metal that a style's order begins with, as fields by their dotted paths."""
    order = {"size": FIRST_SIZE, "metal": FIRST_METAL, "stock": _begun(style.first, units)}
    return fields_of(order, units)


def word_begins(word: FieldSpec | PartSpec, units: str) -> dict[str, str]:
    """What a word begins with, as fields by their dotted paths; a part of a list, by those inside its entry."""
    if word.kind in ("one-of", "list"):
        return {}
    begun: dict[str, Any] = {}
    set_path(begun, word.field, _begun(word.first, units))
    return fields_of(begun, units)


def is_asked(word: FieldSpec | PartSpec, order: Mapping[str, Any]) -> bool:
    """Whether a word is asked for at all, as the others of an order stand."""
    field, _, value = word.when.partition("=")
    return not word.when or order.get(field) == value


def _begun(first: First, units: str) -> object:
    """What a field begins with, as typed: an inch shop's stock is as near as a thousandth of an inch."""
    if isinstance(first, Stock):
        measures = {"width_mm": first.width_mm, "thickness_mm": first.thickness_mm, "side_mm": first.side_mm}
        return {"profile": first.profile} | {k: _begun(v, units) for k, v in measures.items() if v is not None}
    return first_text(first, units)


def first_text(first: float | str, units: str) -> str:
    """A first length [mm] or text as it stands in its field."""
    if isinstance(first, str):
        return first
    return f"{round(first / INCH_MM, 3):g}" if units == "in" else f"{first:g}"


def fields_of(order: Mapping[str, Any], units: str) -> dict[str, str]:
    """A kept order as a person in a shop of these units would type it: texts by their dotted paths.

    What is empty, the gauge and the scatter are left out; a list of texts is one text of lines.
    """
    out: dict[str, str] = {}
    _flatten({k: v for k, v in order.items() if k not in ("gauge", "spread", "units")}, "", units, out)
    return out


def _flatten(data: Any, path: str, units: str, out: dict[str, str]) -> None:
    if isinstance(data, Mapping):
        for name, part in data.items():
            _flatten(part, f"{path}.{name}" if path else str(name), units, out)
    elif isinstance(data, (list, tuple)) and all(isinstance(one, str) for one in data):
        if data:
            out[path] = " / ".join(data)
    elif isinstance(data, (list, tuple)):
        for place, part in enumerate(data):
            _flatten(part, f"{path}.{place}", units, out)
    elif isinstance(data, bool):
        out[path] = "yes" if data else "no"
    elif isinstance(data, (int, float)):
        out[path] = write_length(data, units) if path.endswith("_mm") else write_length(data, "mm")
    elif data is not None:
        out[path] = str(data)


def overridden(overrides_from_measures: Mapping[str, str], measured: Mapping[str, float]) -> dict[str, float]:
    """Which fields of an order the measures override, by dotted path, for the measures that override any."""
    out: dict[str, float] = {}
    for key, value in measured.items():
        for pattern, path in overrides_from_measures.items():
            match = re.fullmatch(re.escape(pattern).replace(r"\{n\}", r"(\d+)"), key)
            if match:
                place = str(int(match.group(1)) - 1) if match.groups() else ""
                out[path.replace("{n}", place)] = value
    return out
