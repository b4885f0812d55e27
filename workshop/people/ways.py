"""How a workshop does things, and how each person in it differs: units, scale, rule, policy, blade."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

from pydantic import TypeAdapter

from ringcraft.border import Count, Mm, PositiveMm, read_request, request, to_json
from ringcraft.errors import BadRequest, OutOfRangeError
from ringcraft.metals import BladeKey
from ringcraft.planning.request import LeaveKey
from ringcraft.planning.rules import RuleKey
from ringcraft.planning.words import UnitKey
from ringcraft.sizes import ScaleKey
from workshop.people.models import User, Workshop


@request
class Ways:
    """The ways in force; every one has a default with its reason in the docs."""

    home_scale: ScaleKey = "us"
    units: UnitKey = "mm"
    caliper_units: UnitKey = "mm"
    rule: RuleKey = "centroid"
    leave: LeaveKey = "small"
    blade: BladeKey = "4/0"
    saw_passes: Count = 1
    round_to_mm: Mm = 0.1
    wide: bool = False
    wide_quarter_from_mm: PositiveMm = 6.0
    wide_half_from_mm: PositiveMm = 8.0


@request
class SomeWays:
    """What one level sets itself; None follows the level above."""

    home_scale: ScaleKey | None = None
    units: UnitKey | None = None
    caliper_units: UnitKey | None = None
    rule: RuleKey | None = None
    leave: LeaveKey | None = None
    blade: BladeKey | None = None
    saw_passes: Count | None = None
    round_to_mm: Mm | None = None
    wide: bool | None = None
    wide_quarter_from_mm: PositiveMm | None = None
    wide_half_from_mm: PositiveMm | None = None


_SOME: TypeAdapter[SomeWays] = TypeAdapter(SomeWays)


def kept(data: dict[str, Any]) -> SomeWays:
    """What is kept at one level; a way that is no longer known is let go."""
    known = {field.name for field in fields(SomeWays)}
    return read_request(_SOME, {name: value for name, value in data.items() if name in known})


def ways_of(user: User, workshop: Workshop) -> Ways:
    """The ways in force for a person: theirs, else the workshop's, else the default."""
    ways = Ways()
    for level in (kept(workshop.ways), kept(user.ways)):
        chosen = {f.name: getattr(level, f.name) for f in fields(level) if getattr(level, f.name) is not None}
        ways = replace(ways, **chosen)
    return ways


def set_ways(owner: User | Workshop, ways: SomeWays) -> None:
    """Keep the ways of a workshop or a person; raises BadRequest."""
    if ways.round_to_mm is not None and ways.round_to_mm > 2:
        raise BadRequest([OutOfRangeError("round_to_mm", "That rounds a ring a size away.", "At most 2 mm.")])
    quarter, half = ways.wide_quarter_from_mm, ways.wide_half_from_mm
    if quarter is not None and half is not None and half < quarter:
        raise BadRequest([OutOfRangeError("wide_half_from_mm", "Half a size comes after a quarter.", "")])
    owner.ways = {name: value for name, value in to_json(ways).items() if value is not None}
    owner.save(update_fields=["ways"])
