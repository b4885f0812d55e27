"""Routes: the steps of a ring in their order, from data tables, with the facts of the case filled in."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from ringcraft.metals import Metal
from ringcraft.routes.facts import Facts
from ringcraft.tables import record, rows

STATIONS = ("measure", "cut", "anneal", "form", "join", "pickle", "round", "finish", "hand-over")
WIDE_MM = 6.0  # from here a band counts as wide; common practice, no published source


@dataclass(frozen=True)
class MeasureAsk:
    """A measure to take at a step. ``expected`` is the plan's figure [mm or g] it is held against."""

    key: str
    title: str
    kind: str
    expected: float | None
    expected_text: str


@dataclass(frozen=True)
class Step:
    """One step: what to do, what to check, cautions, minutes of hands and of waiting, measures.

    ``torch`` steps can share one lighting; ``becomes`` names the shape after it: open or closed.
    ``figure`` is the one figure that leads at this step, with its ``unit``; ``blank`` is the piece it is about,
    where a ring has more than one.
    """

    key: str
    station: str
    title: str
    do: tuple[str, ...]
    check: tuple[str, ...]
    caution: tuple[str, ...]
    hands_min: float
    wait_min: float
    measure: tuple[MeasureAsk, ...]
    torch: bool
    becomes: str
    figure: str
    unit: str
    blank: str


def route(table: str, facts: Facts) -> tuple[Step, ...]:
    """The steps of ``tables/routes/<table>.toml`` for this case, in order.

    A step with ``use`` is that of the shared ``tables/steps.toml``, with what the style says over it; ``blank`` and
    ``joint`` fill it with the facts of one. Steps in a row with the same ``each`` are worked blank by blank: all of
    them for the first blank of the role, then for the next, which is cut from the first as measured.
    """
    steps: list[Step] = []
    listed = [_merged(row) for row in record(f"routes/{table}")["step"]]
    for role, group in itertools.groupby(listed, key=lambda row: str(row.get("each", ""))):
        block = list(group)
        for name in facts.roles.get(role, ()) if role else ("",):
            for row in block:
                steps += _steps(row, name or row.get("blank", ""), facts)
    return tuple(steps)


def _steps(row: Mapping[str, Any], blank: str, facts: Facts) -> list[Step]:
    """What one row of a route comes to: nothing, a step, or one for each paper."""
    local = facts.on(blank, row.get("joint", ""))
    if not _holds(row.get("when"), local.holds):
        return []
    if row.get("repeat") == "finish":
        return _finish_steps(row, local)
    return [_step(row, f"{row['key']}-{blank}" if blank else row["key"], local, blank)]


def _merged(row: Mapping[str, Any]) -> dict[str, Any]:
    """A style's step laid over the shared one it uses; ``more_do`` and the like are added behind."""
    if "use" not in row:
        return dict(row)
    shared = next(step for step in rows("steps", "step") if step["key"] == row["use"])
    merged = {**shared, **{name: value for name, value in row.items() if not name.startswith("more_")}}
    for name in ("do", "check", "caution", "measure"):
        if f"more_{name}" in row:
            merged[name] = [*merged.get(name, ()), *row[f"more_{name}"]]
    return merged


def finish_schedule(metal: Metal, wide: bool) -> tuple[str, ...]:
    """The papers and compounds for a metal, in order; a wide band gets one more paper."""
    for row in rows("finishes"):
        if metal.family in row["families"]:
            return tuple(row["wide_steps"] if wide else row["steps"])
    raise LookupError(f"no finish for {metal.family}")


def _finish_steps(row: Mapping[str, Any], facts: Facts) -> list[Step]:
    out, before = [], ""
    for paper in facts.papers:
        words = {**facts.words, "paper": paper[0].upper() + paper[1:], "before": before}
        holds = {**facts.holds, "first_paper": not before, "later_paper": bool(before)}
        key = "finish-" + re.sub(r"[^a-z0-9]+", "-", paper.lower()).strip("-")
        out.append(_step(row, key, replace(facts, words=words, holds=holds)))
        before = paper
    return out


def _step(row: Mapping[str, Any], key: str, facts: Facts, blank: str = "") -> Step:
    words = facts.words
    return Step(
        key=key,
        station=row["station"],
        title=row["title"].format_map(words),
        do=_lines(row.get("do", ()), facts),
        check=_lines(row.get("check", ()), facts),
        caution=_lines(row.get("caution", ()), facts),
        hands_min=float(row.get("hands_min", 0)),
        wait_min=float(row.get("wait_min", 0)),
        measure=tuple(_ask(measure, facts, blank) for measure in row.get("measure", ())),
        torch=bool(row.get("torch", False)),
        becomes="" if blank else row.get("becomes", ""),
        figure=row.get("figure", "").format_map(words),
        unit=row.get("unit", "").format_map(words),
        blank=blank,
    )


def _lines(lines: Iterable[Any], facts: Facts) -> tuple[str, ...]:
    out = []
    for line in lines:
        if isinstance(line, str):
            out.append(line.format_map(facts.words))
        elif _holds(line["when"], facts.holds):
            out.append(line["text"].format_map(facts.words))
    return tuple(line for line in out if line)


def _holds(when: str | None, conditions: Mapping[str, bool]) -> bool:
    return True if when is None else conditions[when]


def _ask(key: str, facts: Facts, blank: str) -> MeasureAsk:
    row = next(row for row in rows("measures") if row["key"] == key)
    value, text = facts.expected[row["expect"]]
    title = f"{row['title']}, {facts.words['blank']}" if blank else row["title"]
    return MeasureAsk(f"{key}@{blank}" if blank else key, title, row["kind"], value, text)
