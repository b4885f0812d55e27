"""The people of a workshop: invited, given a part, let go. At least one owner who has come in stays.

Who changes who is in a workshop holds its row: of two owners who let each other go at once, one
does.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.db.models import Max, QuerySet
from django_otp.plugins.otp_totp.models import TOTPDevice

from ringcraft.errors import BadRequest, CraftError, UnknownNameError
from workshop.core.history import Actor, record
from workshop.core.holding import hold_one
from workshop.people.accounts import new_person, one_time_link
from workshop.people.models import OWNER, ROLES, User, Workshop
from workshop.people.sessions import end_sessions

UNSET = "!"  # how Django begins the password of one who has none


@dataclass(frozen=True)
class Member:
    """A person of a workshop as its owners see them; ``entered`` whether a password was ever set."""

    id: int
    username: str
    name: str
    role: str
    active: bool
    entered: bool
    factor: bool
    seen_at: datetime | None


def members(shop: Workshop) -> list[Member]:
    """Everybody of a workshop, who is there first."""
    people = shop.people.annotate(seen=Max("open_sessions__seen_at")).order_by("-is_active", "username")
    factors = set(TOTPDevice.objects.filter(user__workshop=shop, confirmed=True).values_list("user_id", flat=True))
    return [
        Member(
            one.pk,
            one.username,
            str(one),
            one.role,
            one.is_active,
            not one.password.startswith(UNSET),
            one.pk in factors,
            one.seen,
        )
        for one in people
    ]


@transaction.atomic
def invite(actor: Actor, username: str, full_name: str, role: str) -> str:
    """A new person of the actor's workshop; the link with which they set a password, once. Raises BadRequest."""
    shop = _held(actor)
    return one_time_link(new_person(shop, username.strip(), full_name or username, role, actor.user_id))


@transaction.atomic
def set_role(actor: Actor, person_id: int, role: str) -> None:
    """Give a person another part; raises BadRequest where it is none, or where no owner would be left."""
    if role not in ROLES:
        raise BadRequest(
            [UnknownNameError("role", "That is no part to play here.", f"It can be {', '.join(ROLES)}.")]
        )
    user = _one(_held(actor), person_id)
    if user.role == role:
        return
    before, user.role = user.role, role
    _an_owner_stays(user)
    user.save(update_fields=["role"])
    record(actor, user, "role-set", {"role": before}, {"role": role})


@transaction.atomic
def set_active(actor: Actor, person_id: int, active: bool) -> None:
    """Let a person go, signed out everywhere at once, or take them back; raises BadRequest for the last owner."""
    user = _one(_held(actor), person_id)
    if user.is_active == active:
        return
    user.is_active = active
    _an_owner_stays(user)
    user.save(update_fields=["is_active"])
    end_sessions(user)
    record(actor, user, "back" if active else "let-go")


@transaction.atomic
def new_link(actor: Actor, person_id: int) -> str:
    """A new link with which a person sets a password, once; the password before stands until then."""
    user = _one(_held(actor), person_id)
    if not user.is_active:
        raise BadRequest([CraftError("", f"{user} is not here any more.", "Take them back first.")])
    record(actor, user, "link-made")
    return one_time_link(user)


@transaction.atomic
def sign_out_everywhere(actor: Actor, person_id: int) -> int:
    """End every session of a person; how many those were."""
    user = _one(_held(actor), person_id)
    ended = end_sessions(user)
    record(actor, user, "signed-out", after={"sessions": ended})
    return ended


def owners(shop: Workshop) -> QuerySet[User]:
    """The owners who have come in and are there."""
    return shop.people.filter(role=OWNER, is_active=True).exclude(password__startswith=UNSET)


def _an_owner_stays(changed: User) -> None:
    """Raise BadRequest where nobody would be left who may do everything."""
    shop = changed.workshop
    if shop is None or (changed.role == OWNER and changed.is_active):
        return
    if not owners(shop).exclude(pk=changed.pk).exists():
        said = "Somebody has to be the owner: no other one has come in yet."
        raise BadRequest([CraftError("role", said, "Make somebody else an owner first.")])


def _held(actor: Actor) -> Workshop:
    """The actor's workshop, whose people nobody else changes meanwhile."""
    return hold_one(Workshop.objects.filter(pk=actor.workshop_id))


def _one(shop: Workshop, person_id: int) -> User:
    return hold_one(User.objects.filter(pk=person_id, workshop=shop))
