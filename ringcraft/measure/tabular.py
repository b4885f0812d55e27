"""A printed chart as people paste it: CSV or columns, any separator, decimal commas, with or without a head."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.reading import read_length

MOST_LINES = 2000
LONGEST = 200_000
_HEADS = {
    "size": ("size", "us", "uk", "mark", "letter", "iso", "number"),
    "inside_diameter_mm": ("diameter", "id", "inside diameter", "dia", "inside_diameter_mm", "mm"),
    "circumference_mm": ("circumference", "circ", "inside circumference", "circumference_mm", "length"),
}


@dataclass(frozen=True)
class ChartLine:
    """A line of a pasted chart: its row number in the text, and its three figures where they are given."""

    size: str
    inside_diameter_mm: float | None
    circumference_mm: float | None


def read_chart(text: str, units: str = "mm") -> tuple[ChartLine, ...]:
    """The lines of a pasted chart; raises BadRequest with one error for each row that cannot be read.

    Bare figures are in ``units``, or in the unit that their column's head names.
    """
    if len(text) > LONGEST:
        raise BadRequest([OutOfRangeError("text", "No chart is that long.", f"At most {MOST_LINES} rows.")])
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip(" \t,;")]
    if not lines:
        raise BadRequest([UnreadableError("text", "There is nothing to read.", "Size, diameter, circumference.")])
    if len(lines) > MOST_LINES:
        raise BadRequest([OutOfRangeError("text", f"{len(lines)} rows are no ring chart.", f"At most {MOST_LINES}.")])
    rows = [
        [cell.strip() for cell in row]
        for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=_separator(lines))
    ]
    columns, rest = _columns(rows)
    bare = {
        name: _unit_of(rows[0][i], units) if len(rest) < len(rows) else units
        for name, i in columns.items()
        if i < len(rows[0])
    }
    errors: list[CraftError] = []
    out = []
    for number, row in enumerate(rest, start=len(rows) - len(rest) + 1):
        try:
            out.append(_line(row, columns, bare))
        except CraftError as problem:
            errors.append(problem.at(f"row {number}").in_units(units))
    if errors:
        raise BadRequest(errors[:50])
    return tuple(out)


def _separator(lines: list[str]) -> str:
    """The separator that splits every line alike; a comma counts only where it is no decimal comma."""
    for separator in ("\t", ";", "|"):
        if separator in lines[0]:
            return separator
    commas = [len(re.findall(r",(?!\d)|(?<!\d),|,(?=\d+[.,])", line)) for line in lines]
    if max(commas) or "," in lines[0]:
        return ","
    return " "


def _columns(rows: list[list[str]]) -> tuple[dict[str, int], list[list[str]]]:
    """Which column holds what: from the head if there is one, else in the order of the contract."""
    head = [
        re.sub(r"\s*\(?(?:in )?(?:mm|in|inch|inches)\)?\s*$", "", cell.lower()).strip() or cell.lower()
        for cell in rows[0]
    ]
    found = {name: next((i for i, cell in enumerate(head) if cell in words), None) for name, words in _HEADS.items()}
    if found["size"] is not None:
        columns = {name: i for name, i in found.items() if i is not None}
        if len(columns) < 2:
            raise BadRequest(
                [UnreadableError("row 1", "The head names no diameter and no circumference.", "Name one of them.")]
            )
        return columns, rows[1:]
    if not any(re.search(r"\d", cell) for cell in rows[0]):
        raise BadRequest([UnreadableError("row 1", "These columns are not known.", "Size, diameter, circumference.")])
    return {"size": 0, "inside_diameter_mm": 1, "circumference_mm": 2}, rows


def _unit_of(head: str, units: str) -> str:
    """The unit that a column's head names, else the shop's."""
    if re.search(r"\bmm\b|_mm$", head.lower()):
        return "mm"
    return "in" if re.search(r"\b(in|inch|inches)\b|\"", head.lower()) else units


def _line(row: list[str], columns: dict[str, int], bare: dict[str, str]) -> ChartLine:
    if len(row) < 2:
        raise UnreadableError("", "The row has one column.", "Size, then diameter or circumference.")

    def figure(name: str) -> float | None:
        i = columns.get(name)
        if i is None or i >= len(row) or not row[i]:
            return None
        return read_length(row[i], bare=bare.get(name, "mm"))

    size = row[columns["size"]] if columns["size"] < len(row) else ""
    if not size:
        raise UnreadableError("", "The row has no size.", "Size first.")
    return ChartLine(size, figure("inside_diameter_mm"), figure("circumference_mm"))
