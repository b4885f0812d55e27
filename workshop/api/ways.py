"""The workshop's ways and one's own."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from django.http import HttpRequest
from ninja import Body, Router, Schema

from ringcraft.border import request as a_request
from workshop.api.signed_in import actor, person, shop
from workshop.people.ways import SomeWays, Ways, kept, set_ways, shop_ways, ways_of

router = Router()


@a_request
class WaysIn(SomeWays):
    """The ways of one level, and the version of them that was read."""

    version: int | None = None

    def some(self) -> SomeWays:
        """The ways alone."""
        return SomeWays(**{field.name: getattr(self, field.name) for field in fields(SomeWays)})


class AllWays(Schema):
    """What the workshop set, what this person set, what is in force for them, and what holds above each."""

    workshop: SomeWays
    workshop_version: int
    mine: SomeWays
    mine_version: int
    now: Ways
    usual: Ways
    shop: Ways


def _all(request: HttpRequest) -> dict[str, Any]:
    user, where = person(request), shop(request)
    return {
        "workshop": kept(where.ways),
        "workshop_version": where.ways_version,
        "mine": kept(user.ways),
        "mine_version": user.ways_version,
        "now": ways_of(user, where),
        "usual": Ways(),
        "shop": shop_ways(where),
    }


@router.get("", response=AllWays, operation_id="ways")
def ways(request: HttpRequest) -> dict[str, Any]:
    """The ways."""
    return _all(request)


@router.put("/workshop", response=AllWays, operation_id="set_workshop_ways")
def set_workshop_ways(request: HttpRequest, body: Body[WaysIn]) -> dict[str, Any]:
    """Set the workshop's ways; a stale version is refused with theirs."""
    set_ways(actor(request), shop(request), body.version, body.some())
    return _all(request)


@router.put("/mine", response=AllWays, operation_id="set_my_ways")
def set_my_ways(request: HttpRequest, body: Body[WaysIn]) -> dict[str, Any]:
    """Set one's own ways; a stale version is refused with theirs."""
    set_ways(actor(request), person(request), body.version, body.some())
    return _all(request)
