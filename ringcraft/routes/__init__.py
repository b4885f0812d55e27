"""Routes: the steps of a ring in their order, from data tables, with the facts of the case filled in."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
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
    ``figure`` is the one figure that leads at this step, with its ``unit``.
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


def route(table: str, facts: Facts) -> tuple[Step, ...]:
    """The steps of ``tables/routes/<table>.toml`` for this case, in order."""
    steps: list[Step] = []
    for row in record(f"routes/{table}")["step"]:
        if not _holds(row.get("when"), facts.holds):
            continue
        if row.get("repeat") == "finish":
            steps += _finish_steps(row, facts)
        else:
            steps.append(_step(row, row["key"], facts.words, facts))
    return tuple(steps)


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
        local = Facts(
            words,
            {**facts.holds, "first_paper": not before, "later_paper": bool(before)},
            facts.expected,
            facts.papers,
        )
        key = "finish-" + re.sub(r"[^a-z0-9]+", "-", paper.lower()).strip("-")
        out.append(_step(row, key, words, local))
        before = paper
    return out


def _step(row: Mapping[str, Any], key: str, words: Mapping[str, str], facts: Facts) -> Step:
    return Step(
        key=key,
        station=row["station"],
        title=row["title"].format_map(words),
        do=_lines(row.get("do", ()), words, facts),
        check=_lines(row.get("check", ()), words, facts),
        caution=_lines(row.get("caution", ()), words, facts),
        hands_min=float(row.get("hands_min", 0)),
        wait_min=float(row.get("wait_min", 0)),
        measure=tuple(_ask(measure, facts) for measure in row.get("measure", ())),
        torch=bool(row.get("torch", False)),
        becomes=row.get("becomes", ""),
        figure=row.get("figure", "").format_map(words),
        unit=row.get("unit", "").format_map(words),
    )


def _lines(lines: Iterable[Any], words: Mapping[str, str], facts: Facts) -> tuple[str, ...]:
    out = []
    for line in lines:
        if isinstance(line, str):
            out.append(line.format_map(words))
        elif _holds(line["when"], facts.holds):
            out.append(line["text"].format_map(words))
    return tuple(line for line in out if line)


def _holds(when: str | None, conditions: Mapping[str, bool]) -> bool:
    return True if when is None else conditions[when]


def _ask(key: str, facts: Facts) -> MeasureAsk:
    row = next(row for row in rows("measures") if row["key"] == key)
    value, text = facts.expected[row["expect"]]
    return MeasureAsk(key, row["title"], row["kind"], value, text)
