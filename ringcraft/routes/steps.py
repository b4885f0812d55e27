"""Routes: the steps of a ring in their order, from data tables, with the facts of the case filled in."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ringcraft.metals import Metal
from ringcraft.routes.facts import BlankFacts, Facts, JointFacts, PaperFacts, RingFacts, StyleFacts
from ringcraft.tables import record, rows
from ringcraft.units import fill, placeholders

STATIONS = ("measure", "cut", "anneal", "form", "join", "pickle", "round", "finish", "hand-over")
MEASURES = {row["key"]: row for row in rows("measures")}
CAUTIONS: dict[str, str] = {row["key"]: row["text"] for row in rows("cautions")}
_LINES = ("do", "check")


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
    for role, group in itertools.groupby(_listed(table), key=lambda row: str(row.get("each", ""))):
        block = list(group)
        for name in facts.roles.get(role, ()) if role else ("",):
            for row in block:
                steps += _steps(row, name or row.get("blank", ""), facts)
    return tuple(steps)


def _listed(table: str) -> list[dict[str, Any]]:
    return [_merged(row) for row in record(f"routes/{table}")["step"]]


def check_route(table: str, own: type[StyleFacts]) -> None:
    """Check every name that a route's table asks for against the facts there are; raises LookupError at the first
    placeholder, condition, expectation, measure or caution that nothing gives.
    """
    known = {**RingFacts.names(), **BlankFacts.names(), **JointFacts.names(), **own.names()}
    for row in _listed(table):
        names = {**known, **PaperFacts.names()} if row.get("repeat") == "finish" else known
        for name, kinds in _asked(row):
            if not any(kind in names.get(name, "") for kind in kinds):
                raise LookupError(f"routes/{table}.toml, step {row['key']}: no {' or '.join(kinds)} is called {name}")


def _asked(row: Mapping[str, Any]) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Every name that a row asks the facts for, with the types it can be."""
    texts = [str(row.get(name, "")) for name in ("title", "figure", "unit")]
    conditions = [row.get("when")]
    for line in itertools.chain(*(row.get(name, ()) for name in _LINES), row.get("caution", ())):
        if isinstance(line, str):
            texts.append(line)
        else:
            texts.append(line.get("text", ""))
            conditions.append(line["when"])
    for text in texts:
        yield from ((name, ("str", "Length")) for name in placeholders(text))
    yield from ((when, ("bool",)) for when in conditions if when is not None)
    for key in row.get("measure", ()):
        yield MEASURES[key]["expect"], ("Length", "Expected")
    for line in row.get("caution", ()):
        CAUTIONS[line if isinstance(line, str) else line["key"]]


def _steps(row: Mapping[str, Any], blank: str, facts: Facts) -> list[Step]:
    """What one row of a route comes to: nothing, a step, or one for each paper."""
    local = facts.on(blank, row.get("joint", ""))
    if not local.holds(row.get("when")):
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
    return metal.of_family.wide_papers if wide else metal.of_family.papers


def _finish_steps(row: Mapping[str, Any], facts: Facts) -> list[Step]:
    out, before = [], ""
    for paper in facts.papers:
        local = PaperFacts(paper[0].upper() + paper[1:], before, not before, bool(before))
        key = "finish-" + re.sub(r"[^a-z0-9]+", "-", paper.lower()).strip("-")
        out.append(_step(row, key, facts.with_(local.given())))
        before = paper
    return out


def _step(row: Mapping[str, Any], key: str, facts: Facts, blank: str = "") -> Step:
    words = facts.words
    bare = facts.bare
    return Step(
        key=key,
        station=row["station"],
        title=fill(row["title"], words),
        do=_lines(row.get("do", ()), facts),
        check=_lines(row.get("check", ()), facts),
        caution=tuple(_cautions(row.get("caution", ()), facts)),
        hands_min=float(row.get("hands_min", 0)),
        wait_min=float(row.get("wait_min", 0)),
        measure=tuple(_ask(measure, facts, blank) for measure in row.get("measure", ())),
        torch=bool(row.get("torch", False)),
        becomes="" if blank else row.get("becomes", ""),
        figure=fill(row.get("figure", ""), bare),
        unit=fill(row.get("unit", ""), bare),
        blank=blank,
    )


def _lines(lines: Iterable[Any], facts: Facts) -> tuple[str, ...]:
    words = facts.words
    held = (line if isinstance(line, str) else line["text"] for line in lines if _said(line, facts))
    return tuple(text for text in (fill(line, words) for line in held) if text)


def _cautions(lines: Iterable[Any], facts: Facts) -> Iterator[str]:
    for line in lines:
        if _said(line, facts):
            yield CAUTIONS[line if isinstance(line, str) else line["key"]]


def _said(line: Any, facts: Facts) -> bool:
    return isinstance(line, str) or facts.holds(line["when"])


def _ask(key: str, facts: Facts, blank: str) -> MeasureAsk:
    row = MEASURES[key]
    expected = facts.expected(row["expect"])
    title = f"{row['title']}, {facts.values['blank']}" if blank else row["title"]
    return MeasureAsk(f"{key}@{blank}" if blank else key, title, row["kind"], expected.value, expected.text)
