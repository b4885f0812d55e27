"""A workshop, its people and their passwords: made from the command line, entered by a link that works once."""

from __future__ import annotations

import hashlib
import re
import secrets

from django.conf import settings
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core import signing
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction

from ringcraft.errors import BadRequest, CraftError, UnknownNameError, UnreadableError
from workshop.core.history import Actor, record
from workshop.core.holding import hold, hold_one
from workshop.people.models import BENCH, OWNER, ROLES, UsedLink, User, Workshop

FIRST, NEW = "workshop.people.first", "new."
USERNAME = re.compile(r"[\w.@+-]{1,60}")


@transaction.atomic
def new_shop(name: str, username: str, full_name: str) -> User:
    """A workshop and its owner, who has no password until the link is used; raises BadRequest."""
    name = " ".join(name.split())
    if not name or len(name) > 120:
        raise BadRequest([UnreadableError("name", "The workshop needs a name.", "At most 120 letters.")])
    shop = Workshop.objects.create(name=name)
    record(Actor(shop.pk), shop, "created", after={"name": name})
    return new_person(shop, username, full_name, OWNER)


@transaction.atomic
def new_person(shop: Workshop, username: str, full_name: str, role: str = BENCH, by: int | None = None) -> User:
    """A person of a workshop, who has no password until the link is used; raises BadRequest."""
    if role not in ROLES:
        raise BadRequest(
            [UnknownNameError("role", "That is no part to play here.", f"It can be {', '.join(ROLES)}.")]
        )
    if not USERNAME.fullmatch(username):
        said = UnreadableError("username", "That is no name to sign in with.", "Letters and figures, at most 60.")
        raise BadRequest([said])
    first, _, last = " ".join(full_name.split()).partition(" ")
    try:
        with transaction.atomic():  # the database lets one in by a name, whoever is made at the same time
            user = User.objects.create_user(
                username, first_name=first[:150], last_name=last[:150], workshop=shop, role=role
            )
    except IntegrityError:
        taken = UnreadableError("username", f"Somebody signs in as {username} already.", "Choose another.")
        raise BadRequest([taken]) from None
    record(Actor(shop.pk, by), user, "created", after={"username": username, "name": full_name, "role": role})
    return user


def one_time_link(user: User) -> str:
    """Where this person sets a password: good once, for as long as Django's reset links are.

    The secret stands behind the #, so no server and no log sees it.
    """
    return f"{settings.PUBLIC_URL}/welcome#{user.pk}.{default_token_generator.make_token(user)}"


def first_link() -> str:
    """Where a new workshop and its owner come in, once, within three days; the secret stands behind the #."""
    secret = signing.TimestampSigner(salt=FIRST).sign(secrets.token_urlsafe(12))
    return f"{settings.PUBLIC_URL}/welcome#{NEW}{secret}"


@transaction.atomic
def shop_by_link(link: str, name: str, username: str, full_name: str, password: str) -> User:
    """A workshop and its owner by the link of the installation; raises BadRequest, and then the link is still good.

    The link is written down as used: of two who use it at once, one comes in.
    """
    try:
        signing.TimestampSigner(salt=FIRST).unsign(link.removeprefix(NEW), max_age=settings.PASSWORD_RESET_TIMEOUT)
        with transaction.atomic():
            UsedLink.objects.create(digest=hashlib.sha256(link.encode()).hexdigest())
    except (signing.BadSignature, IntegrityError):
        used = UnreadableError("link", "This link was used already, or it is too old.", "plain-shank first-link")
        raise BadRequest([used]) from None
    try:
        owner = new_shop(name, username, full_name or username)
    except BadRequest as problem:
        raise BadRequest([error.at("shop") if error.field == "name" else error for error in problem.errors]) from None
    set_password(owner, password, "password")
    return owner


@transaction.atomic
def enter_by_link(link: str, password: str) -> User:
    """Set the password of the person whose link this is; raises BadRequest where the link is used up or too old.

    The person is held while the link is looked at: of two who use it at once, one comes in.
    """
    number, _, token = link.partition(".")
    known = re.fullmatch(r"[0-9]{1,12}", number)
    user = hold(User.objects.filter(pk=int(number))).first() if known else None
    if (
        user is None
        or user.workshop_id is None
        or not user.is_active
        or not default_token_generator.check_token(user, token[:100])
    ):
        used = UnreadableError("link", "This link was used already, or it is too old.", "Ask for a new one.")
        raise BadRequest([used])
    set_password(user, password, "password")
    return user


@transaction.atomic
def change_password(user: User, now: str, new: str) -> User | None:
    """Set one's password anew, and answer the person then; None where ``now`` is not the one that stands.

    Raises BadRequest at ``new`` with every reason why it would not do.
    """
    held = hold_one(User.objects.filter(pk=user.pk))
    if not held.check_password(now):
        return None
    set_password(held, new, "new")
    return held


@transaction.atomic
def set_password(user: User, password: str, field: str) -> None:
    """Set a person's password; raises BadRequest at the field with every reason why it would not do."""
    try:
        validate_password(password, user)
    except ValidationError as problem:
        raise BadRequest([CraftError(field, message, "") for message in problem.messages]) from None
    user.set_password(password)
    user.save(update_fields=["password"])
    if user.workshop_id is not None:
        record(Actor(user.workshop_id, user.pk), user, "password-set")
