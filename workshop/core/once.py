"""What was sent once is done once: a lost answer is given again, nothing is made twice."""

from __future__ import annotations

import hashlib
import re
import zlib
from collections.abc import Callable
from datetime import timedelta

from django.db import IntegrityError, transaction
from django.utils import timezone

from ringcraft.errors import UnreadableError
from workshop.core.models import Sent

KEY = re.compile(r"[A-Za-z0-9_-]{8,80}")
KEPT = timedelta(days=14)  # a device asks a person before it sends what is older (OLDEST_MS of its outbox)
OLD_AT_ONCE = 50


def fingerprint(method: str, path: str, body: bytes) -> str:
    """What a key stands for: the same key with something else is a slip, not a second try."""
    return hashlib.sha256(b"\n".join((method.encode(), path.encode(), body))).hexdigest()


class OtherSight(Exception):
    """It was carried out, and its answer was made for somebody who might see other things."""


def once(
    user_id: int, key: str, print_: str, sight: str, do: Callable[[], tuple[int, bytes]]
) -> tuple[int, bytes, bool]:
    """Carry out ``do`` under a key, or give the answer that it got before: status, answer, whether it was repeated.

    One transaction holds the key and what was done. Where the answer is no success, both are undone, so that the same
    key may come again with what was mended. Raises UnreadableError for a key that is used for something else, and
    OtherSight where the answer that was kept is not for the ``sight`` of who asks by now.
    """
    if not KEY.fullmatch(key):
        raise UnreadableError("Idempotency-Key", "That is no key for a request.", "8 to 80 letters and figures.")
    with transaction.atomic():
        try:
            with transaction.atomic():  # a second request with this key waits here until the first is through
                row = Sent.objects.create(by_id=user_id, key=key, fingerprint=print_, sight=sight)
        except IntegrityError:
            before = Sent.objects.get(by_id=user_id, key=key)
            if before.fingerprint != print_:
                raise UnreadableError(
                    "Idempotency-Key", "This key was used for something else.", "A new request has a key of its own."
                ) from None
            if before.sight != sight:
                raise OtherSight from None
            return before.status, zlib.decompress(bytes(before.answer)), True
        status, answer = do()
        if 200 <= status < 300:
            row.status, row.answer = status, zlib.compress(answer)
            row.save(update_fields=["status", "answer"])
            _forget_old(user_id, key)
        else:
            transaction.set_rollback(True)
    return status, answer, False


def _forget_old(user_id: int, key: str) -> None:
    if hashlib.sha256(key.encode()).digest()[0] % 16:
        return
    old = Sent.objects.filter(by_id=user_id, at__lt=timezone.now() - KEPT).values_list("pk", flat=True)
    Sent.objects.filter(pk__in=list(old[:OLD_AT_ONCE])).delete()
