"""People who work: each asks as often in a minute as a bench does, at moments of its own."""

from __future__ import annotations

import base64
import http.cookiejar
import io
import json
import random
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from PIL import Image

#: How often a person does it in a minute.
A_MINUTE = {
    "pulse": 40.0,  # what a screen asks by itself
    "bench": 6.0,
    "card": 2.0,
    "tick": 3.0,
    "measure": 1.0,
    "plan": 10.0,
    "photograph": 0.1,
}
ORDER: dict[str, Any] = {
    "style": "plain-band",
    "size": "US 7 1/4",
    "metal": "sterling",
    "stock": {"profile": "half-round", "width_mm": 3.7, "thickness_mm": 1.9},
}


#: Makes so many people of the demo's workshop; a version of before the roles has none to give.
MAKE = """
import django; django.setup()
from workshop.people.models import User
shop = User.objects.get(username='wren').workshop
for nth in range({people}):
    if not User.objects.filter(username=f'load{{nth}}').exists():
        user = User.objects.create_user(f'load{{nth}}', password={word!r}, workshop=shop)
        if hasattr(user, 'role'):
            user.role = 'owner'; user.save()
"""


@dataclass
class Measured:
    """How long each kind of request took [s], and what was not answered as it should be."""

    took: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    wrong: list[str] = field(default_factory=list)

    def p95(self, kind: str) -> float:
        """What 95 of 100 of them took at most [s]."""
        rows = sorted(self.took[kind])
        return rows[min(len(rows) - 1, int(0.95 * len(rows)))]


class Person:
    """One of them, signed in, with a ring of their own to work at."""

    def __init__(self, url: str, username: str, password: str, nth: int) -> None:
        self.url, self.nth, self.random = url, nth, random.Random(nth)  # noqa: S311 (when somebody asks)
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.ask("GET", "/api/session")
        self.ask("POST", "/api/session", {"username": username, "password": password})
        self.photograph = picture(nth)
        self.job: dict[str, Any] = {}
        self.at = 0

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """The answer, what changes something under a key of its own; raises HTTPError for anything but success."""
        return self.send(method, path, body, uuid.uuid4().hex)

    def send(self, method: str, path: str, body: Any = None, key: str = "", url: str = "") -> Any:
        """Send it once and read the answer; plans and sign-ins go without a key, as pages send them."""
        request = self.request(method, path, body, url)
        if method != "GET" and not path.startswith(("/api/session", "/api/plan")):
            request.add_header("Idempotency-Key", key)
        with self.opener.open(request, timeout=60) as answer:
            return json.loads(answer.read() or b"null")

    def request(self, method: str, path: str, body: Any = None, url: str = "") -> urllib.request.Request:
        """A request of this person's; ``url`` names another process of the same application, which knows them too."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request((url or self.url) + path, data, method=method)  # noqa: S310 (our own)
        request.add_header("Content-Type", "application/json")
        request.add_header("X-CSRFToken", next((c.value or "" for c in self.jar if c.name == "csrftoken"), ""))
        if url:  # a browser keeps a cookie for one host
            request.add_header("Cookie", "; ".join(f"{c.name}={c.value}" for c in self.jar))
        return request

    def begin(self) -> None:
        """Another ring."""
        self.job = self.ask("POST", "/api/jobs", {"title": f"load {self.nth}", "order": self.order()})
        self.at = 0

    def order(self) -> dict[str, Any]:
        """What is ordered."""
        return ORDER

    def do(self, kind: str) -> None:
        """Ask for one thing of this kind."""
        if kind == "pulse":
            self.ask("GET", "/api/day/pulse")
        elif kind == "bench":
            self.ask("GET", "/api/bench")
        elif kind == "card":
            self.ask("GET", f"/api/jobs/{self.job['id']}")
        elif kind == "tick":
            step = self.job["plan"]["route"][self.at]["key"]
            self.ask("PUT", f"/api/jobs/{self.job['id']}/steps/{step}", {"done": True})
            self.at += 1
        elif kind == "measure":
            text = f"{1.9 + self.random.randint(-4, 4) / 100:.2f}"
            self.ask("PUT", f"/api/jobs/{self.job['id']}/measures/stock-thickness", {"text": text})
        elif kind == "plan":
            size = f"US {self.random.randint(4, 12)}"
            self.ask("POST", "/api/plan/ring", {**ORDER, "size": size})
        else:
            self.ask("POST", f"/api/jobs/{self.job['id']}/photos", {"side": "before", "image": self.photograph})

    def work(self, seconds: float, faster: float, measured: Measured, lock: threading.Lock) -> None:
        """Work for so long, so much faster than a bench."""
        due = [(self.random.random() * 60 / (rate * faster), kind) for kind, rate in A_MINUTE.items()]
        begun = time.perf_counter()
        while due:
            due.sort()
            moment, kind = due.pop(0)
            if moment > seconds:
                continue
            time.sleep(max(0.0, begun + moment - time.perf_counter()))
            if self.at >= len(self.job["plan"]["route"]) - 1:
                self.begin()
            at = time.perf_counter()
            try:
                self.do(kind)
            except (OSError, ValueError) as problem:
                with lock:
                    measured.wrong.append(f"{kind}: {problem}")
            else:
                with lock:
                    measured.took[kind].append(time.perf_counter() - at)
            due.append((moment + self.random.expovariate(A_MINUTE[kind] * faster / 60), kind))


def picture(nth: int) -> str:
    """A photograph as a telephone takes it, of noise."""
    file = io.BytesIO()
    Image.effect_noise((1600, 1200 + nth), 60).convert("RGB").save(file, "JPEG", quality=90)
    return base64.b64encode(file.getvalue()).decode()


def all_at_work(people: list[Person], seconds: float, faster: float, measured: Measured) -> None:
    """All of them at once, for so long."""
    lock = threading.Lock()
    works: list[Callable[[], None]] = [
        lambda one=one: one.work(seconds, faster, measured, lock)  # type: ignore[misc]
        for one in people
    ]
    threads = [threading.Thread(target=work) for work in works]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
