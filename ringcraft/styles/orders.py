"""Orders as plain data: what a style's order begins with, and how a field is set by its dotted path."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from ringcraft.styles.base import Style
from ringcraft.work.fields import FieldSpec, begun, fields_of, is_asked, set_path

FIRST_SIZE, FIRST_METAL = "US 6 3/4", "sterling"


def first_order(style: Style[Any], units: str = "mm") -> dict[str, Any]:
    """The order that a style begins with, as a person in a shop of these units would type it."""
    order: dict[str, Any] = {"style": style.key, "size": FIRST_SIZE, "metal": FIRST_METAL, "units": units}
    set_path(order, "stock", begun(style.first, units))
    for word in style.words:
        _begin(order, word, units)
    return order


def _begin(order: dict[str, Any], word: FieldSpec, units: str) -> None:
    if not is_asked(word, order):
        return
    if word.kind == "one-of":
        part = next(part for part in word.parts if part.field == word.first)
        set_path(order, part.field, begun(part.first, units))
    elif word.kind == "list":
        for part in word.parts:
            set_path(order, f"{word.field}.0.{part.field}", begun(part.first, units))
    elif word.first != "":
        set_path(order, word.field, begun(word.first, units))


def begins(style: Style[Any], units: str) -> dict[str, str]:
    """The stock, the size and the metal that a style's order begins with, as fields by their dotted paths."""
    order = {"size": FIRST_SIZE, "metal": FIRST_METAL, "stock": begun(style.first, units)}
    return fields_of(order, units)


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
