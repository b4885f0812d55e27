"""A second factor: codes of an app (TOTP, RFC 6238, by django-otp) and ten recovery codes, each good once.

Wrong codes are counted on the row of the device; its person is held meanwhile: of two tries at once the second waits.
"""

from __future__ import annotations

import re
from base64 import b32encode
from dataclasses import dataclass

import segno
from django.db import transaction
from django.utils import timezone
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from ringcraft.errors import BadRequest, UnreadableError
from workshop.core.history import Actor, record
from workshop.core.holding import hold
from workshop.people.models import User

NAME, ISSUER = "app", "Plain Shank"
CODES = 10
_APP = re.compile(r"[0-9]{6}")


@dataclass(frozen=True)
class FactorOut:
    """Whether a second factor is on, and how many recovery codes are left."""

    on: bool
    codes_left: int


@dataclass(frozen=True)
class NewFactor:
    """What an app has to read: its picture, as a data address of an SVG, and the same secret in letters."""

    picture: str
    secret: str


def has_factor(user: User) -> bool:
    """Whether a person signs in with a code beside the password."""
    return bool(TOTPDevice.objects.filter(user=user, confirmed=True).exists())


def factor_of(user: User) -> FactorOut:
    """A person's second factor as it stands."""
    return FactorOut(has_factor(user), StaticToken.objects.filter(device__user=user).count())


@transaction.atomic
def begin(user: User) -> NewFactor:
    """A new secret for an app, in force once a code of it was typed; one that was begun before is void."""
    hold(User.objects.filter(pk=user.pk))
    TOTPDevice.objects.filter(user=user, confirmed=False).delete()
    made = TOTPDevice.objects.create(user=user, name=NAME, confirmed=False)
    secret = b32encode(made.bin_key).decode()
    label = f"{ISSUER}:{user.username}".replace(" ", "%20")
    uri = f"otpauth://totp/{label}?secret={secret}&issuer={ISSUER.replace(' ', '%20')}&digits=6&period=30"
    picture = segno.make(uri, error="m", micro=False).svg_data_uri(scale=5, border=3, dark="#22272b", light="#fff")
    return NewFactor(picture, " ".join(re.findall("....?", secret)))


@transaction.atomic
def confirm(user: User, code: str) -> list[str]:
    """Put the secret that was begun in force by a code of it, and answer ten recovery codes.

    Raises BadRequest where the code is not one of it, TooSoon a moment after a wrong one.
    """
    hold(User.objects.filter(pk=user.pk))
    begun = TOTPDevice.objects.filter(user=user, confirmed=False).first()
    if begun is None:
        raise BadRequest(
            [UnreadableError("code", "Nothing was begun here.", "Begin again, and let the app read it.")]
        )
    if not _verified(begun, _tidy(code)):
        hint = "Six figures, as the app shows them now; its clock must be right."
        raise BadRequest([UnreadableError("code", "That is not the code.", hint)])
    TOTPDevice.objects.filter(user=user, confirmed=True).delete()
    TOTPDevice.objects.filter(pk=begun.pk).update(confirmed=True)
    _record(user, "factor-set")
    return new_codes(user)


@transaction.atomic
def new_codes(user: User) -> list[str]:
    """Ten recovery codes in place of those before."""
    StaticDevice.objects.filter(user=user).delete()
    device = StaticDevice.objects.create(user=user, name="recovery")
    codes = [StaticToken.random_token() for _ in range(CODES)]
    StaticToken.objects.bulk_create([StaticToken(device=device, token=one) for one in codes])
    return [f"{one[:4]} {one[4:]}" for one in codes]


@transaction.atomic
def remove(user: User, by: Actor | None = None) -> bool:
    """Take a person's second factor away; whether there was one."""
    there = TOTPDevice.objects.filter(user=user).delete()[0] + StaticDevice.objects.filter(user=user).delete()[0]
    if there:
        _record(user, "factor-removed", by)
    return bool(there)


@transaction.atomic
def passes(user: User, code: str) -> bool:
    """Whether this is a code of the app, or a recovery code, which is used up by it; raises TooSoon.

    Each of the two is counted by itself: who spoils the one with guesses does not close the other.
    """
    said = _tidy(code)
    kind = TOTPDevice if _APP.fullmatch(said) else StaticDevice
    hold(User.objects.filter(pk=user.pk))
    device = kind.objects.filter(user=user, confirmed=True).first()
    return device is not None and _verified(device, said)


class TooSoon(Exception):
    """A wrong code was given a moment ago: no code is looked at until that moment is over, longer each time."""


def _verified(device: TOTPDevice | StaticDevice, code: str) -> bool:
    if device.throttling_failure_timestamp is not None and device.throttling_failure_timestamp > timezone.now():
        device.throttle_reset(commit=False)  # the clock was set back: nobody waits for a time that was already
    if not device.verify_is_allowed()[0]:
        raise TooSoon
    return bool(device.verify_token(code))


def _tidy(code: str) -> str:
    return "".join(code.split()).lower()[:16]


def _record(user: User, what: str, by: Actor | None = None) -> None:
    if user.workshop_id is not None:
        record(by or Actor(user.workshop_id, user.pk), user, what)
