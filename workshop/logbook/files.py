"""The logbook as an open file: a row a ring, described in docs/logbook.md."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from django.db.models import QuerySet

from workshop.core.text import defused
from workshop.logbook.models import RingRecord

AT_ONCE = 1000


def plain(row: RingRecord) -> dict[str, Any]:
    """A ring as a file tells it; lengths in mm."""
    return {
        "number": row.number,
        "date": row.at.date().isoformat(),
        "job": row.job.title,
        "customer": row.job.customer_name,
        "work": row.work,
        "style": row.style,
        "profile": row.profile,
        "metal": row.metal,
        "size": row.size_text,
        "thickness_mm": row.thickness_mm,
        "width_mm": row.width_mm,
        "cut_planned_mm": row.cut_planned_mm,
        "cut_measured_mm": row.cut_read_mm,
        "inside_planned_mm": row.size_planned_mm,
        "inside_measured_mm": row.size_read_mm,
        "off_round_mm": row.off_mm,
        "came_out": row.verdict,
        "neutral_line_missed_mm": row.z_mm,
        "residual_mm": row.residual_mm,
        "correction_mm": row.in_force_mm,
        "why_it_does_not_count": row.why_not,
        "passes_seen": row.passes_known,
        "gauge": row.gauge,
        "person": row.person_name,
        "minutes": row.minutes,
        "came_back": row.came_back,
    }


def rows_of(found: QuerySet[RingRecord]) -> Iterator[dict[str, Any]]:
    """Some rings, newest first, read a thousand at a time."""
    for row in found.select_related("job").order_by("-number").iterator(AT_ONCE):
        yield {name: round(value, 4) if isinstance(value, float) else value for name, value in plain(row).items()}


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
