"""One's own sign-in: where one is signed in, the second factor."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from workshop.api.session import own_password
from workshop.api.signed_in import person
from workshop.people import factor
from workshop.people.sessions import SignedInAt, end_sessions, sessions_of

router = Router()


class AccountOut(Schema):
    """Where one is signed in, and one's second factor."""

    sessions: list[SignedInAt]
    factor: factor.FactorOut


class OwnPassword(Schema):
    """One's own password, asked again before a second factor is touched."""

    password: str = Field(max_length=400)


class FirstCode(Schema):
    """The first code that the app shows."""

    code: str = Field(max_length=40)


class Codes(Schema):
    """Ten recovery codes, shown this once."""

    codes: list[str]


def _here(request: HttpRequest) -> str:
    return request.session.session_key or ""


def _account(request: HttpRequest) -> AccountOut:
    user = person(request)
    return AccountOut(sessions=sessions_of(user, _here(request)), factor=factor.factor_of(user))


@router.get("", response=AccountOut, operation_id="account")
def account(request: HttpRequest) -> AccountOut:
    """Where one is signed in, and one's second factor."""
    return _account(request)


@router.delete("/sessions", response=AccountOut, operation_id="end_other_sessions")
def end_others(request: HttpRequest) -> AccountOut:
    """Sign out everywhere but here."""
    end_sessions(person(request), but=_here(request))
    return _account(request)


@router.delete("/sessions/{int:session_id}", response=AccountOut, operation_id="end_session")
def end_one(request: HttpRequest, session_id: int) -> AccountOut:
    """Sign out at one place."""
    if not end_sessions(person(request), but=_here(request), only=session_id):
        raise HttpError(404, "There is no such session.")
    return _account(request)


@router.post("/factor", response=factor.NewFactor, operation_id="begin_factor")
def begin_factor(request: HttpRequest, body: OwnPassword) -> factor.NewFactor:
    """Begin a second factor: what an app has to read. It is in force once a code of it was typed."""
    own_password(request, "password", body.password)
    return factor.begin(person(request))


@router.put("/factor", response=Codes, operation_id="confirm_factor")
def confirm_factor(request: HttpRequest, body: FirstCode) -> Codes:
    """Put the second factor in force by a code of the app; answers the recovery codes."""
    codes = factor.confirm(person(request), body.code)
    end_sessions(person(request), but=_here(request))
    return Codes(codes=codes)


@router.post("/factor/codes", response=Codes, operation_id="new_codes")
def new_codes(request: HttpRequest, body: OwnPassword) -> Codes:
    """Ten recovery codes in place of those before; raises HttpError where there is no second factor."""
    own_password(request, "password", body.password)
    if not factor.has_factor(person(request)):
        raise HttpError(404, "There is no second factor.")
    return Codes(codes=factor.new_codes(person(request)))


@router.post("/factor/off", response=AccountOut, operation_id="remove_factor")
def remove_factor(request: HttpRequest, body: OwnPassword) -> AccountOut:
    """Take one's second factor away."""
    own_password(request, "password", body.password)
    factor.remove(person(request))
    return _account(request)
