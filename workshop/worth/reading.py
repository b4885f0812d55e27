"""Reading the feed of metal prices: three seconds, 64 kB, no redirect; what it says is kept for every shop."""

from __future__ import annotations

import http.client
import threading
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from ringcraft.money.feed import MOST_BYTES, TITLES, BadFeedError, FeedRead, is_absurd, read_feed
from workshop.core.models import Turn
from workshop.core.tries import run_again
from workshop.core.turns import take_turn
from workshop.people.models import Workshop
from workshop.worth.models import FeedState, SeenPrice

SECONDS = 3.0
WHAT = "prices"  # the turn that readings of one shop take
LATE = f"The feed did not answer within {SECONDS:.0f} seconds."


class _NoRedirect(urllib.request.HTTPRedirectHandler):
    """A feed that sends elsewhere is not the one that the server was given."""

    def redirect_request(self, *_: Any) -> None:
        """Follow nothing."""


def fetch(address: str) -> bytes:
    """What the feed sends, at most 64 kB and within three seconds in all; raises BadFeedError.

    It is read beside, so that one which sends a byte a second is late as a whole.
    """
    found: list[bytes | BadFeedError] = []
    reader = threading.Thread(target=_read_into, args=(address, found), daemon=True)
    reader.start()
    reader.join(SECONDS)
    if not found:
        raise _down(LATE)
    if isinstance(found[0], BadFeedError):
        raise found[0]
    return found[0]


def _read_into(address: str, found: list[bytes | BadFeedError]) -> None:
    opener = urllib.request.build_opener(_NoRedirect, urllib.request.ProxyHandler({}))
    try:
        with opener.open(address, timeout=SECONDS) as answer:
            found.append(answer.read(MOST_BYTES + 1))
    except urllib.error.HTTPError as problem:
        problem.close()
        found.append(_down(f"The feed answers with an error ({problem.code})."))
    except TimeoutError:
        found.append(_down(LATE))
    except (urllib.error.URLError, http.client.HTTPException, OSError, ValueError) as problem:
        late = isinstance(getattr(problem, "reason", None), TimeoutError)
        found.append(_down(LATE if late else "The feed cannot be reached."))


def _down(said: str) -> BadFeedError:
    return BadFeedError("feed", said, "The last good prices stay.")


def read_for_all(address: str) -> tuple[bool, str]:
    """Read the feed once and keep what it says for every shop; answers whether that went well, and what to say."""
    now = timezone.now()
    try:
        read = read_feed(fetch(address), now)
    except BadFeedError as problem:
        said = f"{problem.message} {problem.hint}"
        for workshop in Workshop.objects.order_by("pk").iterator():
            with _turn(workshop):
                _state(workshop, now, ok=False, says=said)
        return False, said
    asked = sum(keep(workshop, read, now) for workshop in Workshop.objects.order_by("pk").iterator())
    names = ", ".join(TITLES[name] for name in read.per_gram)
    return True, f"Read {names}, quoted {read.at:%Y-%m-%d %H:%M}." + (f" {asked} asked about." if asked else "")


def keep(workshop: Workshop, read: FeedRead, now: datetime) -> int:
    """Keep what a feed said for one shop: good, or asked about; answers how many are asked about.

    What was seen before, or is older than what is good, changes nothing.
    """

    def kept() -> int:
        with _turn(workshop):
            return _keep(workshop, read, now)

    return run_again(kept)


@contextmanager
def _turn(workshop: Workshop) -> Iterator[None]:
    """One reading of a shop's prices at a time. The row that is locked is there before anybody locks it."""
    Turn.objects.get_or_create(workshop=workshop, what=WHAT)
    with transaction.atomic():
        take_turn(workshop.pk, WHAT)
        yield


def _keep(workshop: Workshop, read: FeedRead, now: datetime) -> int:
    state = _state(workshop, now, ok=True, says="read")
    asked = old = 0
    for metal, price in read.per_gram.items():
        good = SeenPrice.objects.filter(workshop=workshop, metal=metal, state="good").order_by("-at").first()
        if good is not None and good.at >= read.at:
            old += good.at > read.at
            continue
        days = (read.at - good.at).total_seconds() / 86400 if good else 1.0
        same = good is not None and good.currency == read.currency
        absurd = good is not None and same and is_absurd(good.per_gram, price, days)
        row, made = SeenPrice.objects.get_or_create(
            workshop=workshop, metal=metal, at=read.at,
            defaults={"per_gram": price, "currency": read.currency, "state": "asked" if absurd else "good"},
        )  # fmt: skip
        asked += made and row.state == "asked"
    state.says = "Its prices are older than those that stand: they stay." if old else "Read, and up to date."
    if asked:
        state.says = "Read; what is far from the last good price is asked about."
    state.save(update_fields=["says"])
    return asked


def _state(workshop: Workshop, now: datetime, *, ok: bool, says: str) -> FeedState:
    state, _ = FeedState.objects.update_or_create(
        workshop=workshop, defaults={"at": now, "ok": ok, "says": says[:300]}
    )
    return state
