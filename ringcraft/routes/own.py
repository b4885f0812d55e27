"""A route with a shop's own changes made to it: steps added, left out, done elsewhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from ringcraft.planning.own_steps import ADDED, MOVED, OUT, OWN_DEEDS, OwnStep

Row = Mapping[str, Any]
#: Why a step stays, by what is done at it; what else stays says so in its table.
MEASURED = "What is read here is held against the plan, and the record learns from it."
HANDED_OVER = "It ends with the hand-over."


def why_it_stays(row: Row) -> str:
    """Why a step is in every route of its style; empty where it can be left out."""
    if row.get("stays"):
        return str(row["stays"])
    if row.get("measure"):
        return MEASURED
    return HANDED_OVER if _hands_over(row) else ""


def row_key(row: Row) -> str:
    """The name of a row within its route: the key of its step, with the piece or the joint that it is about."""
    about = row.get("blank") or row.get("each") or row.get("joint") or ""
    return f"{row['key']}-{about}" if about else str(row["key"])


def changed(rows: Sequence[Row], steps: Sequence[OwnStep]) -> list[Row]:
    """The rows of a route with a shop's changes made to them, one after another.

    A change about a step that is not in this route, or that stays in it, changes nothing; what comes after a step
    that is not there keeps its place, or is done at the end. The hand-over stays the last.
    """
    last = [row for row in rows if _hands_over(row)]
    rows = [row for row in rows if not _hands_over(row)]
    out = list(rows)
    for one in steps:
        mine = [row for row in out if row_key(row) == one.step] if one.change != ADDED else [added(one)]
        rest = [row for row in out if row_key(row) != one.step] if one.change != ADDED else out
        if not mine or (one.change == ADDED and any(row_key(row) == one.key for row in out)):
            continue
        if one.change == OUT:
            out = rest if not any(map(why_it_stays, mine)) else out
            continue
        place = _after(rest, one.after)
        if place is None and one.change != ADDED:
            continue
        out = [*rest[:place], *mine, *([] if place is None else rest[place:])]
    return [*out, *last]


def _hands_over(row: Row) -> bool:
    return any(deed["op"] == "hand-over" for deed in row.get("does", ()))


def _after(rows: Sequence[Row], key: str) -> int | None:
    if not key:
        return 0
    places = [place for place, row in enumerate(rows) if row_key(row) == key]
    return places[-1] + 1 if places else None


def added(one: OwnStep) -> dict[str, Any]:
    """A step that a shop adds, as a row of a route."""
    deed = OWN_DEEDS[one.deed]
    return {
        "key": one.key,
        "station": one.station,
        "title": one.title,
        "do": [one.says] if one.says else [],
        "hands_min": one.hands_min,
        "wait_min": one.wait_min,
        "does": deed["does"],
        "caution": deed.get("caution", []),
        "torch": deed.get("torch", False),
        "whens": [],
        "added": True,
    }


def unknown(rows: Sequence[Row], steps: Sequence[OwnStep]) -> Iterator[tuple[int, str, str]]:
    """What of a shop's changes is about no step of the route: its place in the list, the field, why in words."""
    keys = {row_key(row): row for row in rows}
    seen: set[str] = set()
    gone: set[str] = set()
    for place, one in enumerate(steps):
        if one.change != ADDED and one.step not in keys:
            yield place, "step", f"“{one.step}” is no step of this style."
        elif one.change == OUT and why_it_stays(keys[one.step]):
            yield place, "step", why_it_stays(keys[one.step])
        elif one.change == MOVED and _hands_over(keys[one.step]):
            yield place, "step", HANDED_OVER
        elif one.change == ADDED and (one.key in keys or one.key in seen):
            yield place, "title", f"There is a step called “{one.title}” already."
        if one.change != OUT and one.after and one.after not in {*keys, *seen}:
            yield place, "after", f"“{one.after}” is no step of this style."
        elif one.change != OUT and one.after in gone:
            yield place, "after", f"“{one.after}” is left out: say after which other."
        elif one.change != OUT and one.after in keys and _hands_over(keys[one.after]):
            yield place, "after", HANDED_OVER
        (seen if one.change == ADDED else gone if one.change == OUT else set()).add(one.key)
