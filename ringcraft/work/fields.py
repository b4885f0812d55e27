"""The words of an order's sentence: how each is called and written, what it begins with, when it is asked for.

A style declares its own, a kind of work may declare them all; screen, shorthand line and history read them here.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ringcraft.sections import Stock
from ringcraft.units import INCH_MM, write_length

#: What a new order begins with in a field: a length [mm], a stock, text as typed, or fields below it by their names.
First = float | Stock | str | Mapping[str, str]


@dataclass(frozen=True)
class Option:
    """Something that a word can be set to."""

    key: str
    title: str


@dataclass(frozen=True)
class PartSpec:
    """A word inside a word that has several: see ``FieldSpec``."""

    field: str
    label: str
    before: str = ""
    after: str = ""
    kind: str = "length"
    first: First = ""
    placeholder: float | str = ""
    choices: tuple[Option, ...] = ()
    short: tuple[str, ...] = ()
    when: str = ""
    seen: str = ""
    listed: str = ""


@dataclass(frozen=True)
class FieldSpec(PartSpec):
    """A word of the order's sentence: of a style's beside every ring's own, or of a kind of work.

    ``field`` is its dotted path in the request; ``kind`` is how it is written: length, number, count, text, lines,
    choice, yes (or no), flags (a choice whose key names what is true, joined by hyphens), stock (profile, width and
    thickness at the path), one-of (exactly one of its parts is given), list (its parts, as often as there are
    entries), chosen (a list that grows as the first of its parts is chosen) or own (the screen's). ``choices`` are
    its own, or those ``listed`` in the catalogue. ``first`` is what a new order begins with, ``short`` its name on
    the shorthand line. ``when`` must hold for it to be asked: ``field=value`` or a ``field`` that is filled in,
    joined by ``&``, one of several by ``|``; a field that begins with a
    point is one of the same entry of a list. ``seen`` is a fact of the plan with which it is shown, ``!`` before one
    without which. In ``after`` the shop's unit stands as ``{mm}``, in the label of a list's part its place as
    ``{n}``; a placeholder may be a length [mm].
    """

    parts: tuple[PartSpec, ...] = ()
    most: int = 1
    least: int = 1


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


def word_begins(word: PartSpec, units: str) -> dict[str, str]:
    """What a word begins with, as fields by their dotted paths; a part of a list, by those inside its entry."""
    if word.kind in ("one-of", "list", "chosen", "own") or not word.field:
        return {}
    order: dict[str, Any] = {}
    set_path(order, word.field, begun(word.first, units))
    return fields_of(order, units)


def is_asked(word: PartSpec, order: Mapping[str, Any]) -> bool:
    """Whether a style's word is asked for, as an order's others stand: ``field=value``, one of several by ``|``."""
    ways = [one.partition("=") for one in word.when.split("|")]
    return not word.when or any(order.get(field) == value for field, _, value in ways)


def begun(first: First, units: str) -> object:
    """What a field begins with, as typed: an inch shop's stock is as near as a thousandth of an inch."""
    if isinstance(first, Stock):
        measures = {"width_mm": first.width_mm, "thickness_mm": first.thickness_mm, "side_mm": first.side_mm}
        return {"profile": first.profile} | {k: begun(v, units) for k, v in measures.items() if v is not None}
    return first if isinstance(first, Mapping) else first_text(first, units)


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
