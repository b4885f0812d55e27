"""A style's route as a shop changes it: its list of steps, and what the changes break, before they are kept.

The changed route is worked on the virtual bench for the first order of its style in every family of metals, with
every way to make the joint and with every surface, each beside ours.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from types import MappingProxyType
from typing import Any

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError
from ringcraft.metals import METALS
from ringcraft.planning.own import OwnFigures
from ringcraft.planning.own_steps import ADDED, DEED_TITLES, OUT, STATIONS, OwnStep, OwnSteps, steps_of
from ringcraft.planning.request import Join, RingRequest
from ringcraft.planning.surfaces import SURFACES, Surfaces
from ringcraft.routes.own import Row, changed, row_key, unknown, why_it_stays
from ringcraft.routes.sense import step_name
from ringcraft.routes.steps import Minutes, listed, minutes_of
from ringcraft.schema import name_of, request
from ringcraft.styles import STYLES, plan_ring, read_ring
from ringcraft.styles.orders import first_order
from ringcraft.styles.own_route import BrokenRouteError
from ringcraft.work.fields import Option

JOINTS = {
    "sawn once": Join(saw_passes=1, file_passes=0),
    "sawn twice and filed": Join(saw_passes=2, file_passes=1),
    "neither sawn nor filed": Join(saw_passes=0, file_passes=0),
}
NO_MINUTES: Minutes = MappingProxyType({})
StyleKey = name_of("style", STYLES, {style.title: key for key, style in STYLES.items()})


@request
class RouteRequest:
    """A style and the changes that a shop makes to its route."""

    style: StyleKey
    steps: OwnSteps = ()


@dataclass(frozen=True)
class RouteStep:
    """A step of the list. ``change``: added, moved or left out.

    ``stays`` is why it cannot be left out, ``when`` whether not every ring of the style has it,
    ``untried`` that none of the rings tried has it: it is worked at the first that does.
    """

    key: str
    title: str
    station: str
    change: str
    stays: str
    when: bool
    untried: bool
    hands_min: float
    wait_min: float
    says: str
    deed: str


@dataclass(frozen=True)
class Break:
    """What a change breaks: at which step, in words, of which rings first and of how many of those tried."""

    step: str
    says: str
    first: str
    of: int


@dataclass(frozen=True)
class OwnRoute:
    """A route as a shop changes it: what is done in its order, what is left out, what breaks, of so many rings
    ``tried``.

    ``ours`` is the order of our own steps, ``stations`` and ``deeds`` are what an added step can be.
    """

    style: str
    title: str
    ours: tuple[str, ...]
    steps: tuple[RouteStep, ...]
    left_out: tuple[RouteStep, ...]
    breaks: tuple[Break, ...]
    tried: int
    stations: tuple[str, ...]
    deeds: tuple[Option, ...]


def try_route(asked: RouteRequest, minutes: Minutes = NO_MINUTES) -> OwnRoute:
    """A style's route with a shop's changes, and what they break; raises BadRequest where one is about nothing.

    ``minutes`` are the shop's own of hands and of waiting, by step.
    """
    steps = tuple(replace(one, style=asked.style) for one in asked.steps)
    rows = listed(STYLES[asked.style].route)
    refuse_unknown(asked.style, rows, steps)
    breaks, tried = _tried(asked.style, steps)
    of = {one.key: one for one in steps}
    out = {one.key for one in steps if one.change == OUT}
    return OwnRoute(
        style=asked.style,
        title=STYLES[asked.style].title,
        ours=tuple(row_key(row) for row in rows),
        steps=tuple(_step(row, of, minutes) for row in changed(rows, steps)),
        left_out=tuple(_step(row, of, minutes) for row in rows if row_key(row) in out),
        breaks=breaks,
        tried=tried,
        stations=STATIONS,
        deeds=tuple(Option(key, title) for key, title in DEED_TITLES.items()),
    )


def _step(row: Row, of: Mapping[str, OwnStep], minutes: Minutes) -> RouteStep:
    own = of.get(row_key(row))
    about = row.get("blank") or row.get("each") or row.get("joint") or ""
    title = step_name(row)
    hands, wait = minutes_of(row, minutes)
    return RouteStep(
        key=row_key(row),
        title=f"{title}, {str(about).replace('-', ' ')}" if about else title,
        station=row["station"],
        change=own.change if own else "",
        stays=why_it_stays(row),
        when=bool(row["whens"]) or row.get("repeat") == "stages",
        untried=own is not None and own.change != ADDED and not _reached(own),
        hands_min=hands,
        wait_min=wait,
        says=own.says if own else "",
        deed=own.deed if own and own.change == ADDED else "",
    )


def refuse_unknown(style: str, rows: Sequence[Row], steps: Sequence[OwnStep]) -> None:
    """Refuse changes that are about no step of the style; raises BadRequest at their cells."""
    problems: list[CraftError] = [
        OutOfRangeError(f"steps.{place}.{field}", said, f"See the steps of {STYLES[style].title}.")
        for place, field, said in unknown(rows, steps)
    ]
    if problems:
        raise BadRequest(problems)


def refuse_breaks(changes: Sequence[OwnStep], stands: Sequence[OwnStep] = ()) -> None:
    """Refuse changes that break any ring of those tried; raises BadRequest at the change, its field its place.

    A style whose changes are as they stand is not tried anew.
    """
    problems: list[CraftError] = []
    for style in dict.fromkeys(one.style for one in changes):
        places = [place for place, one in enumerate(changes) if one.style == style]
        if style not in STYLES:
            problems.append(OutOfRangeError(f"{places[0]}.style", "No style is called so here.", ""))
            continue
        steps = steps_of(changes, style)
        if steps == steps_of(stands, style):
            continue
        for place, field, said in unknown(listed(STYLES[style].route), steps):
            problems.append(OutOfRangeError(f"{places[place]}.{field}", f"{STYLES[style].title}: {said}", ""))
        if problems:
            continue
        for one in _tried(style, steps)[0]:
            at = next((n for n, step in zip(places, steps, strict=True) if step.key == one.step), places[0])
            problems.append(
                OutOfRangeError(f"{at}.step", f"{STYLES[style].title}, {one.first}: {one.says}", "Change it there.")
            )
    if problems:
        raise BadRequest(problems)


@lru_cache(maxsize=64)
def _tried(style: str, steps: tuple[OwnStep, ...]) -> tuple[tuple[Break, ...], int]:
    if not steps:
        return (), 0
    found: dict[tuple[str, str], list[tuple[str, str]]] = {}
    for words, order in _cases(style):
        own = replace(order, steps_by="shop", own=OwnFigures(steps=steps))
        try:
            plan_ring(own)
        except BrokenRouteError as problem:
            step = str(problem.words["step"]) or _at_fault(order, steps)
            said = (words, str(problem.words["needs"]))
            found.setdefault((step, str(problem.words["need"])), []).append(said)
    breaks = (Break(step, cases[0][1], cases[0][0], len(cases)) for (step, _), cases in found.items())
    return tuple(breaks), len(_cases(style))


@lru_cache(maxsize=256)
def _reached(one: OwnStep) -> bool:
    """Whether a change changes anything at any of the rings tried."""
    for _, order in _cases(one.style):
        try:
            own = plan_ring(replace(order, own=OwnFigures(steps=(one,))))
        except BrokenRouteError:
            return True
        if [step.key for step in own.route] != [step.key for step in plan_ring(order).route]:
            return True
    return False


def _at_fault(order: RingRequest, steps: Sequence[OwnStep]) -> str:
    """The change that breaks a ring all by itself; the first where none does."""
    for one in steps:
        try:
            plan_ring(replace(order, own=OwnFigures(steps=(one,))))
        except CraftError:
            return one.key
    return steps[0].key


@lru_cache(maxsize=len(STYLES))
def _cases(style: str) -> tuple[tuple[str, RingRequest], ...]:
    """The orders that a route is tried with, each with its words: those that can be planned by ours."""
    return tuple(_all_cases(style))


def _metals() -> tuple[str, ...]:
    """The first metal of every family, and of each way in which metals of one family come out of the fire."""
    kinds: dict[tuple[object, ...], str] = {}
    for key, one in METALS.items():
        kinds.setdefault((one.family, one.oxidises, one.quenching.op, one.conducts, one.of_family.fluxed), key)
    return tuple(kinds.values())


def _all_cases(style: str) -> Iterator[tuple[str, RingRequest]]:
    first = read_ring(first_order(STYLES[style]))
    joints = JOINTS if STYLES[style].joined else {"no joint": first.join}
    for metal in _metals():
        base = replace(first, metal=metal)
        others: Iterator[tuple[str, dict[str, Any]]] = itertools.chain(
            ((words, {"join": join}) for words, join in joints.items()),
            ((f"{one.title} outside", {"surfaces": Surfaces(outside=key)}) for key, one in SURFACES.items()),
        )
        for words, changes in others:
            order = replace(base, **changes)
            try:
                plan_ring(order)
            except CraftError:
                continue  # such a ring cannot be made by anybody's steps
            yield f"{METALS[metal].title}, {words}", order
