"""Who does it, and the line of history that every change leaves."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import Model

from workshop.core.models import Event


@dataclass(frozen=True)
class Actor:
    """Who does it, and in which workshop. No ``user_id``: the demo's loader, an import, the shell."""

    workshop_id: int
    user_id: int | None = None


def kind_of(thing: Model) -> str:
    """How the history calls a kind of thing."""
    return str(thing._meta.model_name)


def record(
    actor: Actor, thing: Model, what: str, before: dict[str, Any] | None = None, after: dict[str, Any] | None = None
) -> None:
    """Keep one change of a thing: only the fields that differ are kept, as they were and as they are."""
    event(actor, thing, what, before, after).save()


def event(
    actor: Actor, thing: Model, what: str, before: dict[str, Any] | None = None, after: dict[str, Any] | None = None
) -> Event:
    """One change of a thing as it would be kept, for what is kept in many rows at once."""
    old, new = before or {}, after or {}
    names = [name for name in {**old, **new} if old.get(name) != new.get(name) or name not in old or name not in new]
    return Event(
        workshop_id=actor.workshop_id,
        by_id=actor.user_id,
        kind=kind_of(thing),
        thing_id=thing.pk,
        what=what,
        before={name: old[name] for name in names if name in old},
        after={name: new[name] for name in names if name in new},
    )
