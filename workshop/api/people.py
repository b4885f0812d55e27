"""The people of a workshop, for its owners: invited, given a part, let go, signed out."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.responses import Status
from pydantic import Field

from ringcraft.work.fields import Option
from workshop.api.signed_in import actor, shop, who_may
from workshop.people import team
from workshop.people.models import ROLES
from workshop.people.roles import ACTS, MAY, MONEY, SAYS
from workshop.safekeeping.erasing import erase_person

router = Router(auth=who_may("invite"))


class ActRow(Schema):
    """What can be done, and which roles do it; ``let`` those that do where an owner lets them."""

    key: str
    title: str
    roles: list[str]
    let: list[str]


class PeopleOut(Schema):
    """Everybody of the workshop, the roles with what they say, the table of who may do what."""

    people: list[team.Member]
    roles: list[Option]
    says: dict[str, str]
    acts: list[ActRow]
    link: str = ""


class Invitation(Schema):
    """Who is invited: the name to sign in with, the name, the role."""

    username: str = Field(max_length=150)
    name: str = Field(default="", max_length=200)
    role: str = Field(default="bench", max_length=12)


class RoleIn(Schema):
    """Another role."""

    role: str = Field(max_length=12)


class ActiveIn(Schema):
    """Whether a person is here."""

    active: bool


def _acts() -> list[ActRow]:
    return [
        ActRow(
            key=key,
            title=title,
            roles=[role for role in ROLES if key in MAY[role]],
            let=["bench"] if key in MONEY else [],
        )
        for key, title in ACTS.items()
    ]


def _people(request: HttpRequest, link: str = "") -> PeopleOut:
    roles = [Option(key, title) for key, title in ROLES.items()]
    return PeopleOut(people=team.members(shop(request)), roles=roles, says=SAYS, acts=_acts(), link=link)


@router.get("", response=PeopleOut, operation_id="people")
def people(request: HttpRequest) -> PeopleOut:
    """Who is in the workshop, and what each role may do."""
    return _people(request)


@router.post("", response={201: PeopleOut}, operation_id="invite")
def invite(request: HttpRequest, body: Invitation) -> Status[Any]:
    """Invite a person; the answer has the link with which they set a password, shown this once."""
    return Status(201, _people(request, team.invite(actor(request), body.username, body.name, body.role)))


@router.put("/{int:person_id}/role", response=PeopleOut, operation_id="set_role")
def set_role(request: HttpRequest, person_id: int, body: RoleIn) -> PeopleOut:
    """Give a person another role; it holds from their next request on."""
    team.set_role(actor(request), person_id, body.role)
    return _people(request)


@router.put("/{int:person_id}/active", response=PeopleOut, operation_id="set_active")
def set_active(request: HttpRequest, person_id: int, body: ActiveIn) -> PeopleOut:
    """Let a person go, or take them back."""
    team.set_active(actor(request), person_id, body.active)
    return _people(request)


@router.post("/{int:person_id}/link", response=PeopleOut, operation_id="new_link")
def new_link(request: HttpRequest, person_id: int) -> PeopleOut:
    """A new link with which a person sets a password, once."""
    return _people(request, team.new_link(actor(request), person_id))


@router.delete("/{int:person_id}", auth=who_may("erase"), response=PeopleOut, operation_id="erase_person")
def erase(request: HttpRequest, person_id: int) -> PeopleOut:
    """Erase a colleague: a token in the place of the name, everywhere; what they did stays."""
    erase_person(actor(request), person_id)
    return _people(request)


@router.delete("/{int:person_id}/sessions", response=PeopleOut, operation_id="sign_out_person")
def sign_out_person(request: HttpRequest, person_id: int) -> PeopleOut:
    """Sign a person out everywhere."""
    team.sign_out_everywhere(actor(request), person_id)
    return _people(request)
