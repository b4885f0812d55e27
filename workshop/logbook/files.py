"""The logbook as an open file: a row a ring, described in docs/logbook.md."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Mapping
from datetime import datetime
from typing import Any

from django.db.models import QuerySet

from workshop.core.text import defused
from workshop.logbook.models import RingRecord

AT_ONCE = 1000


#: What a ring is told by in a file, and the column that it is read from; lengths in mm.
COLUMNS = {
    "number": "number",
    "date": "at",
    "job": "job__title",
    "customer": "job__customer_name",
    "work": "work",
    "style": "style",
    "profile": "profile",
    "metal": "metal",
    "size": "size_text",
    "thickness_mm": "thickness_mm",
    "width_mm": "width_mm",
    "cut_planned_mm": "cut_planned_mm",
    "cut_measured_mm": "cut_read_mm",
    "inside_planned_mm": "size_planned_mm",
    "inside_measured_mm": "size_read_mm",
    "off_round_mm": "off_mm",
    "came_out": "verdict",
    "neutral_line_missed_mm": "z_mm",
    "residual_mm": "residual_mm",
    "correction_mm": "in_force_mm",
    "why_it_does_not_count": "why_not",
    "passes_seen": "passes_known",
    "gauge": "gauge",
    "person": "person_name",
    "minutes": "minutes",
    "came_back": "came_back",
}


def rows_of(found: QuerySet[RingRecord]) -> Iterator[dict[str, Any]]:
    """Some rings, newest first, read a thousand at a time."""
    rows = found.order_by("-number").values_list(*COLUMNS.values()).iterator(AT_ONCE)
    for row in rows:
        yield dict(zip(COLUMNS, map(_plain, row), strict=True))


def _plain(value: object) -> object:
    if isinstance(value, datetime):
        return value.date().isoformat()
    return round(value, 4) if isinstance(value, float) else value


def written(rows: Iterable[Mapping[str, Any]]) -> Iterator[str]:
    """Rows as the lines of a CSV, their names first; no cell is a formula."""
    text = io.StringIO()
    writer = csv.writer(text)
    names: list[str] = []
    for row in rows:
        if not names:
            names = list(row)
            writer.writerow(names)
        writer.writerow([defused(_cell(row[name])) for name in names])
        yield text.getvalue()
        text.seek(0)
        text.truncate()
    if not names:
        yield "number\r\n"


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value)
