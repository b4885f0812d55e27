"""Routes: the steps of a ring in their order, from data tables, with the facts of the case filled in."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from ringcraft.metals import SOLDERS, SolderBook
from ringcraft.routes.facts import (
    BlankFacts,
    Expected,
    Facts,
    HereFacts,
    JointFacts,
    PaperFacts,
    RingFacts,
    RouteFacts,
    StageFacts,
)
from ringcraft.routes.finishing import paper_rows
from ringcraft.routes.own import changed
from ringcraft.tables import record, rows
from ringcraft.units import also_fahrenheit, fahrenheit, fill, placeholders
from ringcraft.vbench.deeds import Deed
from ringcraft.vbench.doing import Doing, check_deeds
from ringcraft.vbench.needs import Unmet
from ringcraft.vbench.pieces import AS_BOUGHT, Piece, state_words

STATIONS = ("measure", "cut", "anneal", "form", "join", "pickle", "round", "finish", "hand-over")
MEASURES = {row["key"]: row for row in rows("measures")}
CAUTIONS: dict[str, str] = {row["key"]: row["text"] for row in rows("cautions")}
#: The steps that routes are made of: those of every ring, and those of a ring that comes in.
SHARED = {step["key"]: step for table in ("steps", "resize-steps") for step in rows(table, "step")}
BLOCKS = {block["key"]: block["steps"] for table in ("steps", "resize-steps") for block in rows(table, "block")}
_LINES = ("do", "check")
_MORE = {"finish": PaperFacts.names(), "stages": StageFacts.names()}
#: Minutes of hands and of waiting by step, where a shop has its own.
Minutes = Mapping[str, tuple[float, float | None]]
_STRIP, _OPEN, _CLOSED = "strip", "open", "closed"


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
    where a ring has more than one. ``does`` is what it does in data, ``after`` how every piece stands after it and
    ``comes`` in words how they come to it; an older plan knows neither.
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
    does: tuple[Deed, ...]
    after: Mapping[str, Piece]
    comes: str

    @property
    def is_heat(self) -> bool:
        """Whether it is a heat with solder; of a step of an older plan, which knows no deeds, by where it is done."""
        return any(deed.op == "solder" for deed in self.does) if self.does else self.torch and self.station == "join"


@dataclass(frozen=True)
class _Listed:
    """A row of a route for one case: its key, its facts, the piece it is about."""

    row: Mapping[str, Any]
    key: str
    facts: Facts
    blank: str


@dataclass(frozen=True)
class Worked:
    """A route as it was worked: its steps, and the needs that were broken where it was done all the same."""

    steps: tuple[Step, ...]
    unmet: tuple[Unmet, ...]


def route(
    table: str,
    facts: Facts,
    start: Mapping[str, Piece],
    titles: Mapping[str, str],
    untouched: str = AS_BOUGHT,
    book: SolderBook = SOLDERS,
    parts: Sequence[str] = (),
) -> tuple[Step, ...]:
    """The steps of ``tables/routes/<table>.toml`` for this case, in order, worked on the virtual bench.

    A step with ``use`` is that of the shared ``tables/steps.toml``, with what the style says over it; ``blank`` and
    ``joint`` fill it with the facts of one. Steps in a row with the same ``each`` are worked blank by blank: all of
    them for the first blank of the role, then for the next, which is cut from the first as measured. Raises
    UnmetNeedError at a step that cannot be done as the pieces stand.
    """
    return worked(table, facts, Doing(start, book), titles, untouched, parts).steps


def worked(
    table: str,
    facts: Facts,
    doing: Doing,
    titles: Mapping[str, str],
    untouched: str = AS_BOUGHT,
    parts: Sequence[str] = (),
) -> Worked:
    """The same on a bench that is given: with a heat model, or with a reason to work on where a need is broken.

    ``parts`` are the routes of what is made beside it, worked before its finish.
    """
    start = dict(doing.pieces)
    main, steps = next(iter(start)), []
    doing.aside = facts.aside
    for one in _with_parts(table, facts, parts):
        named = doing.name(one.row.get("piece", one.blank)) if one.blank else ""
        blank = named if named in doing.pieces else ""
        own = doing.pieces if blank else {k: v for k, v in doing.pieces.items() if k not in facts.aside}
        comes = state_words(own, start, titles, facts.length, blank, untouched, blank in facts.aside)
        before, broken = doing.named(main), len(doing.unmet)
        about = one.row.get("piece", one.blank or main)
        does = doing.do(one.key, one.row.get("does", ()), one.facts, about)
        asks: tuple[MeasureAsk, ...] = ()
        if "measure" in one.row:
            asks = _asks(one, one.facts.with_(_here(doing.named(about), doing.pieces, one.facts).given()))
        step = _step(one, asks, does, doing, comes, _becomes(before, doing.named(main)))
        said = tuple(f"Against what this needs: {unmet.need}." for unmet in doing.unmet[broken:])
        steps.append(replace(step, caution=(*step.caution, *said)))
    return Worked(tuple(steps), tuple(doing.unmet))


def _with_parts(table: str, facts: Facts, parts: Sequence[str]) -> Iterator[_Listed]:
    """The steps of a ring, with those of the parts for its top before the step that wants them, or its finish."""
    waiting = list(parts)
    for one in _cases(changed(_listed(table), facts.own_steps), facts):
        own = one.row.get("added", False)
        if waiting and not own and (one.row.get("parts_first") or one.row["station"] == "finish"):
            for part in waiting:
                yield from _cases(_listed(part), facts)
            waiting = []
        yield one


def has_finish(table: str) -> bool:
    """Whether a route ever comes to its finish: one that refuses, or stops, does not."""
    return any(row["station"] == "finish" for row in _listed(table))


def _cases(rows: Sequence[Mapping[str, Any]], facts: Facts) -> Iterator[_Listed]:
    local: dict[tuple[str, str], Facts] = {}
    for role, group in itertools.groupby(rows, key=lambda row: str(row.get("each", ""))):
        block = list(group)
        for name in facts.roles.get(role, ()) if role else ("",):
            for row in block:
                at = (name or row.get("blank", ""), row.get("joint", ""))
                if at[1] not in ("", "own", *facts.joints) and not all(facts.holds(one) for one in row["whens"]):
                    continue  # the joint of another way to do it
                if at not in local:
                    local[at] = facts.on(*at)
                yield from _of_row(row, at[0], local[at])


def listed(table: str) -> tuple[Mapping[str, Any], ...]:
    """The rows of a route in their order, whatever the case."""
    return tuple(_listed(table))


@cache
def _listed(table: str) -> list[dict[str, Any]]:
    return [_merged(one) for row in record(f"routes/{table}")["step"] for one in _unfolded(row)]


def _unfolded(row: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    """A row that names a block is one row for each of the block's steps, what it says said over all of them.

    A block's step may go by another key there: ``round-sized as round``.
    """
    if "block" not in row:
        yield dict(row)
        return
    over = {name: value for name, value in row.items() if name not in ("block", "more_do_of")}
    for step in BLOCKS[row["block"]]:
        more = row.get("more_do_of", {}).get(step)
        use, _, key = step.partition(" as ")
        yield {"use": use, **({"key": key} if key else {}), **over, **({"more_do": more} if more else {})}


def _of_row(row: Mapping[str, Any], blank: str, local: Facts) -> Iterator[_Listed]:
    """What one row of a route comes to: nothing, a step, or one for each paper or stage."""
    if not all(local.holds(when) for when in row["whens"]):
        return
    if row.get("repeat") == "finish":
        for key, given in paper_rows(local):
            yield _Listed(row, key, local.with_(given.given()), blank)
    elif row.get("repeat") == "stages":
        for n, stage in enumerate(local.stages, start=1):
            yield _Listed(row, row["key"] if n == 1 else f"{row['key']}-{n}", local.with_(stage.given()), blank)
    else:
        yield _Listed(row, f"{row['key']}-{blank}" if blank else row["key"], local, blank)


def _here(piece: Piece, pieces: Mapping[str, Piece], facts: Facts) -> HereFacts:
    """What is measured at a step is held against the piece as it stands there."""
    inside = piece.inside_mm
    gap = piece.gap.chord_mm if piece.gap else 0.0
    mass = sum(one.mass_g * one.count for name, one in pieces.items() if name not in facts.aside)
    return HereFacts(
        size_here=Expected(inside, facts.told(inside)),
        mass_here=Expected(mass, f"{mass:.2f}"),
        length_here=Expected(piece.length_mm, f"{facts.length(piece.length_mm):.2f}"),
        gap_here=Expected(gap, f"{facts.length(gap):.2f}"),
    )


def _shape_class(piece: Piece) -> str:
    if piece.shape == "strip":
        return _STRIP
    return _CLOSED if piece.shut else _OPEN


def _becomes(before: Piece, after: Piece) -> str:
    now = _shape_class(after)
    return "" if now in (_shape_class(before), _STRIP) else now


def check_route(table: str, own: type[RouteFacts]) -> None:
    """Check every name that a route's table asks for against the facts there are; raises LookupError at the first
    placeholder, condition, expectation, measure, caution, op or field of an op that nothing gives.
    """
    known = {**RingFacts.names(), **BlankFacts.names(), **JointFacts.names(), **HereFacts.names(), **own.names()}
    for row in _listed(table):
        names = {**known, **_MORE.get(row.get("repeat", ""), {})}
        for name, kinds in (*_asked(row), *check_deeds(row.get("does", ()))):
            if not any(kind in names.get(name, "") for kind in kinds):
                raise LookupError(f"routes/{table}.toml, step {row['key']}: no {' or '.join(kinds)} is called {name}")


def _asked(row: Mapping[str, Any]) -> Iterator[tuple[str, tuple[str, ...]]]:
    """Every name that a row asks the facts for, with the types it can be."""
    texts = [str(row.get(name, "")) for name in ("title", "figure", "unit")]
    conditions = list(row["whens"])
    for line in itertools.chain(*(row.get(name, ()) for name in _LINES), row.get("caution", ())):
        if isinstance(line, str):
            texts.append(line)
        else:
            texts.append(line.get("text", ""))
            conditions.append(line["when"])
    for text in texts:
        yield from ((name, ("str", "Length")) for name in placeholders(text))
    yield from ((when, ("bool",)) for when in conditions)
    if "wait_fact" in row:
        yield row["wait_fact"], ("float", "int")
    for key in row.get("measure", ()):
        if MEASURES[key]["expect"]:
            yield MEASURES[key]["expect"], ("Length", "Expected")
    for line in row.get("caution", ()):
        CAUTIONS[line if isinstance(line, str) else line["key"]]


def _merged(row: Mapping[str, Any]) -> dict[str, Any]:
    """A style's step laid over the shared one it uses; ``more_do`` and the like are added behind.

    What must hold for either must hold for both. A step about one blank of several says which in its title.
    """
    if "use" not in row:
        return {**row, "whens": _conditions(row)}
    shared = SHARED[row["use"]]
    merged = {**shared, **{name: value for name, value in row.items() if not name.startswith("more_")}}
    for name in ("do", "check", "caution", "measure", "does"):
        if f"more_{name}" in row:
            merged[name] = [*merged.get(name, ()), *row[f"more_{name}"]]
    if ("each" in row or "blank" in row) and "title" not in row:
        merged["title"] += ", {blank}"
    return {**merged, "whens": [*_conditions(shared), *_conditions(row)]}


def _conditions(row: Mapping[str, Any]) -> list[str]:
    said = row.get("when", [])
    return [said] if isinstance(said, str) else list(said)


def _step(
    one: _Listed, asks: tuple[MeasureAsk, ...], does: Sequence[Deed], doing: Doing, comes: str, becomes: str
) -> Step:
    row, facts = one.row, one.facts
    words, bare = facts.words, facts.bare
    planned = facts.number(row["wait_fact"]) if "wait_fact" in row else None
    hands, wait = minutes_of(row, facts.minutes, planned)
    return Step(
        key=one.key,
        station=row["station"],
        title=_heats(fill(row["title"], words), facts),
        do=_lines(row.get("do", ()), facts),
        check=_lines(row.get("check", ()), facts),
        caution=(*_cautions(row.get("caution", ()), facts), *(CAUTIONS[key] for key in doing.cautions)),
        hands_min=hands,
        wait_min=wait,
        measure=asks,
        torch=bool(row.get("torch", False)),
        becomes=becomes,
        figure=fill(row.get("figure", ""), bare),
        unit=_unit(fill(row.get("figure", ""), bare), fill(row.get("unit", ""), bare), facts),
        blank=one.blank,
        does=tuple(does),
        after=doing.pieces,
        comes=comes,
    )


def minutes_of(row: Mapping[str, Any], own: Minutes, wait_min: float | None = None) -> tuple[float, float]:
    """Minutes of hands and of waiting for a row of a route: the shop's own, else the case's, else the table's."""
    hands, wait = own.get(row.get("use", row["key"])) or own.get(row["key"]) or (None, None)
    planned = float(row.get("wait_min", 0)) if wait_min is None else wait_min
    return float(row.get("hands_min", 0)) if hands is None else hands, planned if wait is None else wait


def _lines(lines: Iterable[Any], facts: Facts) -> tuple[str, ...]:
    words = facts.words
    held = (line if isinstance(line, str) else line["text"] for line in lines if _said(line, facts))
    return tuple(_heats(text, facts) for text in (fill(line, words) for line in held) if text)


def _heats(text: str, facts: Facts) -> str:
    """A text with its temperatures as the shop tells them."""
    return also_fahrenheit(text) if facts.holds("fahrenheit_too") else text


def _unit(figure: str, unit: str, facts: Facts) -> str:
    """The unit of a figure: of a temperature with the same in Fahrenheit, where the shop says so."""
    found = re.findall(r"\d+(?:\.\d+)?", figure)
    if unit != "°C" or not found or not facts.holds("fahrenheit_too"):
        return unit
    return f"{unit}, {fahrenheit(*found[:2])} °F"


def _cautions(lines: Iterable[Any], facts: Facts) -> Iterator[str]:
    for line in lines:
        if _said(line, facts):
            yield CAUTIONS[line if isinstance(line, str) else line["key"]]


def _said(line: Any, facts: Facts) -> bool:
    return isinstance(line, str) or facts.holds(line["when"])


def _asks(one: _Listed, facts: Facts) -> tuple[MeasureAsk, ...]:
    return tuple(_ask(key, facts, one.blank) for key in one.row["measure"])


def _ask(key: str, facts: Facts, blank: str) -> MeasureAsk:
    row = MEASURES[key]
    title = f"{row['title']}, {facts.values['blank']}" if blank else row["title"]
    named = f"{key}@{blank}" if blank else key
    if not row["expect"]:
        return MeasureAsk(named, title, row["kind"], None, "")
    expected = facts.expected(row["expect"])
    return MeasureAsk(named, title, row["kind"], expected.value, expected.text)
