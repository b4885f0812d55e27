"""Orders as plain data: what a style's order begins with, and how a field is set by its dotted path."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from typing import Any

from ringcraft.styles.base import Part, Style, Word

FIRST_SIZE, FIRST_METAL = "US 7 1/2", "sterling"


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


def stock_words(text: str) -> dict[str, str]:
    """A stock from a word's first text: profile, then width where it has one, then thickness.

    >>> stock_words("rectangle 3 1.2")
    {'profile': 'rectangle', 'width_mm': '3', 'thickness_mm': '1.2'}
    """
    profile, *figures = text.split()
    names = ("thickness_mm",) if len(figures) == 1 else ("width_mm", "thickness_mm")
    return {"profile": profile, **dict(zip(names, figures, strict=True))}


def first_order(style: Style) -> dict[str, Any]:
    """The order that a style begins with, as plain data."""
    first = {"profile": style.first["profile"], "thickness_mm": style.first["thickness"]}
    if style.first.get("width"):
        first["width_mm"] = style.first["width"]
    order: dict[str, Any] = {"style": style.key, "size": FIRST_SIZE, "metal": FIRST_METAL, "stock": first}
    for word in style.words:
        _begin(order, word)
    return order


def _begin(order: dict[str, Any], word: Word) -> None:
    if word.when:
        field, _, value = word.when.partition("=")
        if order.get(field) != value:
            return
    if word.kind == "one-of":
        part = next(part for part in word.parts if part.field == word.first)
        set_path(order, part.field, part.first)
    elif word.kind == "list":
        for part in word.parts:
            set_path(order, f"{word.field}.0.{part.field}", _value(part))
    elif word.first:
        set_path(order, word.field, _value(word))


def _value(word: Word | Part) -> object:
    return stock_words(word.first) if word.kind == "stock" else word.first


def taken(takes: Mapping[str, str], measured: Mapping[str, float]) -> dict[str, float]:
    """Which fields of an order the measures override, by dotted path, for the measures that override any."""
    out: dict[str, float] = {}
    for key, value in measured.items():
        for pattern, path in takes.items():
            match = re.fullmatch(re.escape(pattern).replace(r"\{n\}", r"(\d+)"), key)
            if match:
                place = str(int(match.group(1)) - 1) if match.groups() else ""
                out[path.replace("{n}", place)] = value
    return out
