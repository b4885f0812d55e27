"""How a workshop does things, and how each person in it differs: units, scale, rule, policy, blade."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

from django.db import transaction
from pydantic import TypeAdapter

from ringcraft.border import Count, Mm, PositiveMm, Share, UnitKey, read_request, request, to_json
from ringcraft.errors import BadRequest, CraftError, OutOfRangeError
from ringcraft.metals import BladeKey
from ringcraft.planning.request import LeaveKey
from ringcraft.planning.rules import RuleKey
from ringcraft.planning.tolerance import Spreads, scatter_of
from ringcraft.sizes import ScaleKey
from workshop.core.history import Actor, record
from workshop.core.saving import refuse_stale
from workshop.people.models import User, Workshop

USUAL = scatter_of(None, None)  # how far a careful bench scatters, from ringcraft's own table


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
    thickness_spread_mm: Mm = USUAL.thickness_mm
    cutting_spread_mm: Mm = USUAL.cutting_mm
    saw_pass_spread_mm: Mm = USUAL.saw_pass_mm
    truing_spread_mm: Mm = USUAL.truing_mm
    costly_share: Share = USUAL.chance


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
    thickness_spread_mm: Mm | None = None
    cutting_spread_mm: Mm | None = None
    saw_pass_spread_mm: Mm | None = None
    truing_spread_mm: Mm | None = None
    costly_share: Share | None = None


_SOME: TypeAdapter[SomeWays] = TypeAdapter(SomeWays)


def kept(data: dict[str, Any]) -> SomeWays:
    """What is kept at one level; a way that is no longer known is let go."""
    known = {field.name for field in fields(SomeWays)}
    return read_request(_SOME, {name: value for name, value in data.items() if name in known})


def ways_of(user: User, workshop: Workshop) -> Ways:
    """The ways in force for a person: theirs, else the workshop's, else the default."""
    return _over(shop_ways(workshop), kept(user.ways))


def shop_ways(workshop: Workshop) -> Ways:
    """The ways of a workshop: its own, else the default."""
    return _over(Ways(), kept(workshop.ways))


def _over(ways: Ways, level: SomeWays) -> Ways:
    chosen = {f.name: getattr(level, f.name) for f in fields(level) if getattr(level, f.name) is not None}
    return replace(ways, **chosen)


@transaction.atomic
def set_ways(actor: Actor, owner: User | Workshop, version: int | None, ways: SomeWays) -> None:
    """Keep the ways of a workshop or a person; raises BadRequest, or Stale where they were set meanwhile."""
    if ways.round_to_mm is not None and ways.round_to_mm > 2:
        raise BadRequest([OutOfRangeError("round_to_mm", "That rounds a ring a size away.", "At most 2 mm.")])
    quarter, half = ways.wide_quarter_from_mm, ways.wide_half_from_mm
    if quarter is not None and half is not None and half < quarter:
        raise BadRequest([OutOfRangeError("wide_half_from_mm", "Half a size comes after a quarter.", "")])
    _check_scatter(ways)
    row = owner.__class__.objects.select_for_update().get(pk=owner.pk)
    before, said = to_json(kept(row.ways)), to_json(ways)
    refuse_stale(row, version, said, before, row.ways_version, ("ways-set",))
    if said == before:
        return
    owner.ways = {name: value for name, value in said.items() if value is not None}
    owner.ways_version = row.ways_version + 1
    owner.save(update_fields=["ways", "ways_version"])
    record(actor, row, "ways-set", before, said)


def _check_scatter(ways: SomeWays) -> None:
    """Refuse a scatter or a share that no plan could be made with; raises BadRequest at its own field."""
    names = {key: f"{key}_spread_mm" for key in ("thickness", "cutting", "saw_pass", "truing")}
    spreads = Spreads(**{f"{key}_mm": getattr(ways, name) for key, name in names.items()})
    try:
        scatter_of(spreads, ways.costly_share)
    except CraftError as problem:
        key = problem.field.removeprefix("spread.").removesuffix("_mm")
        raise BadRequest([problem.at(names.get(key, problem.field))]) from None
