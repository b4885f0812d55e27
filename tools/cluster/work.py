"""People who work on while machines die: each change has a key, and is sent until it is answered, as a page does."""

from __future__ import annotations

import http.client
import time
import urllib.error
import uuid
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from tools.load.people import Person

PAUSE_S, GIVEN_UP_S = 0.25, 60.0
#: What is sent again: nobody answered, or who did could not.
AGAIN = (500, 502, 503, 504)


@dataclass(frozen=True)
class Asked:
    """One thing that was asked: from when until it was answered [s], and how often it was sent."""

    begun: float
    ended: float
    times: int


class Worker(Person):
    """A person whose device sends again what was not answered; what was acknowledged is counted."""

    def __init__(self, url: str, username: str, password: str, nth: int) -> None:
        self.asked: list[Asked] = []
        self.done: Counter[str] = Counter()
        self.titles: list[str] = []
        self.refusals: Counter[str] = Counter()
        self.waits_since: float | None = None
        super().__init__(url, username, password, nth)

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """The answer, however often it has to be asked for; raises HTTPError for a refusal."""
        key, begun, times = uuid.uuid4().hex, time.monotonic(), 0
        self.waits_since = begun
        while True:
            times += 1
            try:
                said = self.send(method, path, body, key)
            except urllib.error.HTTPError as problem:
                if problem.code not in AGAIN or time.monotonic() - begun > GIVEN_UP_S:
                    raise
                self.refusals[f"{problem.code} {problem.read()[:120].decode(errors='replace')}"] += 1
            except (OSError, http.client.HTTPException) as problem:
                if time.monotonic() - begun > GIVEN_UP_S:
                    raise
                self.refusals[type(problem).__name__] += 1
            else:
                self.asked.append(Asked(begun, time.monotonic(), times))
                self.waits_since = None
                return said
            time.sleep(PAUSE_S)

    def raw(self, path: str, url: str, seen: str = "") -> Any:
        """What one process answers, as it is; ``seen`` is the mark of what was seen before."""
        request = self.request("GET", path, url=url)
        if seen:
            request.add_header("If-None-Match", seen)
        return self.opener.open(request, timeout=45)

    def begin(self) -> None:
        """Another ring, of a name of its own."""
        title = f"load {self.nth} {uuid.uuid4().hex[:12]}"
        self.job = self.ask("POST", "/api/jobs", {"title": title, "order": self.order()})
        self.titles.append(title)
        self.at = 0

    def do(self, kind: str) -> None:
        """Ask for one thing of this kind, and count it once it is acknowledged."""
        super().do(kind)
        self.done[kind] += 1


def longest_wait(workers: Sequence[Worker], since: float) -> float:
    """How long anybody waited after a moment for an answer that came since, or is waited for still [s]."""
    now = time.monotonic()
    waits = [one.ended - max(one.begun, since) for worker in workers for one in worker.asked if one.ended >= since]
    waits += [now - max(begun, since) for worker in workers if (begun := worker.waits_since) is not None]
    return max(waits, default=0.0)
