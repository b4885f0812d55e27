"""The workshop's preferences and one's own: the ways of the bench, as its screen calls them."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Body, Router, Schema

from ringcraft.joint.seams import solder_cautions
from ringcraft.planning.own import OwnFigures
from ringcraft.work.fields import Option
from workshop.api.signed_in import actor, person, shop, typed_in, who_may
from workshop.people.asking import SECTIONS, WaysPart
from workshop.people.keeping import set_preferences
from workshop.people.models import User, Workshop
from workshop.people.preferences import (
    DECLARED,
    SHOP_ONLY,
    Preferences,
    Texts,
    overrides_of,
    preferences_of,
    read_overrides,
    shop_preferences,
    texts_of,
    ways_seen,
)
from workshop.people.roles import sees_prices
from workshop.people.tables import TABLES, Table

router = Router()
Level = dict[str, Texts]


class PreferenceField(Schema):
    """How the form asks for a preference: the words round it, what it can be set to, its table where it is a list."""

    field: str
    label: str
    before: str
    after: str
    choices: list[Option]
    group: str
    shop_only: bool
    table: Table | None


class AllPreferences(Schema):
    """What the workshop set, what this person set, what is in force for them, and what holds above each.

    ``sections`` are the parts of the form, ``form`` is how each way is asked for, in order; the levels are texts as
    the shop writes them, of a list its rows. ``says`` is what follows from what is in force, by its way.
    """

    sections: list[WaysPart]
    form: list[PreferenceField]
    workshop: Level
    workshop_version: int
    mine: Level
    mine_version: int
    now: Preferences
    usual: Level
    shop: Level
    says: dict[str, list[str]]


def _form(units: str) -> list[PreferenceField]:
    return [
        PreferenceField(
            field=name,
            label=asked.label,
            before=asked.before,
            after=asked.after.replace("{mm}", units),
            choices=list(asked.choices),
            group=asked.group,
            shop_only=name in SHOP_ONLY,
            table=TABLES.get(name),
        )
        for name, (_, asked) in DECLARED.items()
    ]


def _all(request: HttpRequest) -> AllPreferences:
    user, where = person(request), shop(request)
    now = ways_seen(user, where)
    hidden = frozenset[str]() if sees_prices(user) else SHOP_ONLY

    def seen(texts: Level) -> Level:
        return {name: text for name, text in texts.items() if name not in hidden}

    return AllPreferences(
        sections=[part for part in SECTIONS if not hidden or part.key != "prices"],
        form=[one for one in _form(now.units) if one.field not in hidden],
        workshop=seen(texts_of(overrides_of(where.preferences), now.units)),
        workshop_version=where.preferences_version,
        mine=seen(texts_of(overrides_of(user.preferences), now.units)),
        mine_version=user.preferences_version,
        now=now,
        usual=seen(_open(texts_of(Preferences(), now.units, exact=False))),
        shop=seen(_open(texts_of(shop_preferences(where), now.units, exact=False))),
        says={"solders": list(solder_cautions(now.solders, OwnFigures(metals=now.metal_figures)))},
    )


def _open(texts: Level) -> Level:
    """The texts of a level, with what holds where none is said in so many words."""
    return {**texts, "time_zone": texts["time_zone"] or "this device"}


def _set(request: HttpRequest, owner: User | Workshop, body: dict[str, Any]) -> AllPreferences:
    now = preferences_of(person(request), shop(request))
    version = body.pop("version", None)
    if not isinstance(version, int) or isinstance(version, bool):
        version = None
    units = typed_in(body.pop("typed_in", None), now.units)
    set_preferences(actor(request), owner, version, read_overrides(body, units), units)
    return _all(request)


@router.get("", response=AllPreferences, operation_id="preferences")
def preferences(request: HttpRequest) -> AllPreferences:
    """The preferences."""
    return _all(request)


@router.put("/workshop", auth=who_may("ways"), response=AllPreferences, operation_id="set_workshop_preferences")
def set_workshop_preferences(request: HttpRequest, body: Body[dict[str, Any]]) -> AllPreferences:
    """Set the workshop's preferences, each as typed, empty to leave it open; a stale one is refused."""
    return _set(request, shop(request), body)


@router.put("/mine", response=AllPreferences, operation_id="set_my_preferences")
def set_my_preferences(request: HttpRequest, body: Body[dict[str, Any]]) -> AllPreferences:
    """Set one's own preferences, each as typed, empty to leave it open; a stale version is refused with theirs."""
    return _set(request, person(request), body)
