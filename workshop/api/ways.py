"""The workshop's ways and one's own."""

from __future__ import annotations

from typing import Any, cast

from django.http import HttpRequest
from ninja import Body, Router, Schema

from workshop.api.problems import Problem
from workshop.api.signed_in import doer
from workshop.people.models import User
from workshop.people.ways import SomeWays, Ways, kept, set_ways, shop_ways, ways_of

router = Router()


class AllWays(Schema):
    """What the workshop set, what this person set, what is in force for them, and what holds above each."""

    workshop: SomeWays
    mine: SomeWays
    now: Ways
    usual: Ways
    shop: Ways


def _all(request: HttpRequest) -> dict[str, Any]:
    who = doer(request)
    user = cast(User, who.user)
    return {
        "workshop": kept(who.workshop.ways),
        "mine": kept(user.ways),
        "now": ways_of(user, who.workshop),
        "usual": Ways(),
        "shop": shop_ways(who.workshop),
    }


@router.get("", response=AllWays, operation_id="ways")
def ways(request: HttpRequest) -> dict[str, Any]:
    """The ways."""
    return _all(request)


@router.put("/workshop", response={200: AllWays, 401: Problem, 422: Problem}, operation_id="set_workshop_ways")
def set_workshop_ways(request: HttpRequest, body: Body[SomeWays]) -> dict[str, Any]:
    """Set the workshop's ways."""
    set_ways(doer(request).workshop, body)
    return _all(request)


@router.put("/mine", response={200: AllWays, 401: Problem, 422: Problem}, operation_id="set_my_ways")
def set_my_ways(request: HttpRequest, body: Body[SomeWays]) -> dict[str, Any]:
    """Set one's own ways."""
    set_ways(cast(User, doer(request).user), body)
    return _all(request)
