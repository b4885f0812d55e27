"""Keeping the ways of a workshop or a person: what no plan could be made with is refused at its field."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from django.db import transaction

from ringcraft.errors import BadRequest, CraftError, OutOfRangeError, UnreadableError
from ringcraft.own_routes import refuse_breaks
from ringcraft.planning.request import COARSEST_MM
from ringcraft.planning.tolerance import Spreads, scatter_of
from ringcraft.schema import to_json
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.core.saving import refuse_stale
from workshop.people.models import User, Workshop
from workshop.people.preferences import DECLARED, SHOP_ONLY, overrides_of, texts_of


@transaction.atomic
def set_preferences(actor: Actor, owner: User | Workshop, version: int | None, level: Any, units: str = "mm") -> None:
    """Keep the preferences of a workshop or a person; raises BadRequest, or Stale where they were set meanwhile."""
    if isinstance(owner, User):
        _refuse_the_shops(level)
    try:
        _check(level, overrides_of(owner.preferences))
    except BadRequest as problem:
        raise problem.in_units(units) from None
    row = _held(owner)
    stands = overrides_of(row.preferences)
    before, said = to_json(stands), to_json(level)
    refuse_stale(
        row, version, texts_of(level, units), texts_of(stands, units), row.preferences_version, ("ways-set",)
    )
    if said == before:
        return
    _check_people(owner, level, stands)
    owner.preferences = {name: value for name, value in said.items() if value is not None}
    owner.preferences_version = row.preferences_version + 1
    owner.save(update_fields=["preferences", "preferences_version"])
    record(actor, row, "ways-set", before, said)


def _held(owner: User | Workshop) -> User | Workshop:
    if isinstance(owner, User):
        return hold_one(User.objects.filter(pk=owner.pk))
    return hold_one(Workshop.objects.filter(pk=owner.pk))


def set_some(
    actor: Actor, owner: User | Workshop, version: int | None, changed: Mapping[str, Any], units: str = "mm"
) -> None:
    """Set some ways of one level, the others as they stand; raises as :func:`set_preferences` does."""
    set_preferences(actor, owner, version, replace(overrides_of(owner.preferences), **changed), units)


def _refuse_the_shops(level: Any) -> None:
    """Refuse a price of one person's own; raises BadRequest at each."""
    said = [name for name in DECLARED if name in SHOP_ONLY and getattr(level, name) not in (None, ())]
    hint = "An owner sets it among the workshop’s ways."
    if said:
        raise BadRequest(
            [UnreadableError(name, "A price is the workshop’s, not one person’s.", hint) for name in said]
        )


def _check_people(owner: User | Workshop, level: Any, stands: Any) -> None:
    """Refuse hours of somebody who does not sign in here; raises BadRequest at their row."""
    rows = level.work_days or ()
    if rows == (stands.work_days or ()):
        return
    shop = owner if isinstance(owner, Workshop) else owner.workshop
    known = {name.lower() for name in User.objects.filter(workshop=shop).values_list("username", flat=True)}
    for place, row in enumerate(rows):
        if row.person.lower() not in known:
            said = f"Nobody here signs in as “{row.person[:40]}”."
            hint = f"It can be {', '.join(sorted(known)[:12])}."
            raise BadRequest([UnreadableError(f"work_days.{place}.person", said, hint)])


def _check(level: Any, stands: Any) -> None:
    """Refuse what no plan could be made with; raises BadRequest at its field. Steps that stand already were tried."""
    if level.round_to_mm is not None and level.round_to_mm > COARSEST_MM:
        said, hint = "That rounds a ring a size away.", "At most {most:g mm}."
        raise BadRequest([OutOfRangeError("round_to_mm", said, hint, most=COARSEST_MM)])
    quarter, half = level.wide_quarter_from_mm, level.wide_half_from_mm
    if quarter is not None and half is not None and half < quarter:
        raise BadRequest([OutOfRangeError("wide_half_from_mm", "Half a size comes after a quarter.", "")])
    for place, one in enumerate(level.solders or ()):
        if one.melts_c is not None and one.flows_c is None:
            cell = f"solders.{place}.flows_c"
            raise BadRequest([UnreadableError(cell, "And where does it flow?", "Both are on its sheet.")])
    try:
        refuse_breaks(level.own_steps or (), stands.own_steps or ())
    except BadRequest as problem:
        raise problem.under("own_steps") from None
    names = {key: f"{key}_spread_mm" for key in ("thickness", "cutting", "saw_pass", "truing")}
    spreads = Spreads(**{f"{key}_mm": getattr(level, name) for key, name in names.items()})
    try:
        scatter_of(spreads, level.costly_share)
    except CraftError as problem:
        key = problem.field.removeprefix("spread.").removesuffix("_mm")
        raise BadRequest([problem.at(names.get(key, problem.field))]) from None
