"""Speed as ratios measured in one run: planning, the bench and a search against a bare endpoint, first load."""

from __future__ import annotations

import contextlib
import gzip
import http.cookiejar
import json
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

from ringcraft.heat.answer import heat
from ringcraft.heat.asking import HeatRequest
from ringcraft.heat.picture import work
from ringcraft.schema import to_json
from ringcraft.styles import STYLES, ring
from ringcraft.styles.orders import first_order
from tools import bench_cuts, bench_day, bench_drawer, bench_keys, bench_nodes, bench_record, demo
from tools.mariadb import free_port, start

ORDER: dict[str, Any] = {
    "style": "plain-band",
    "size": "US 6 3/4",
    "metal": "sterling",
    "stock": {"profile": "half-round", "width_mm": "4.0", "thickness_mm": "1.8"},
}
#: A ring held in water, rolled, with an old seam; what a joint of it shows; a ring that came in.
HELD: dict[str, Any] = {
    "metal": "sterling",
    "ring": {"inside_diameter_mm": 16.9, "stock": {"profile": "rectangle", "width_mm": 3.1, "thickness_mm": 1.7}},
    "water_share": 0.35,
    "roll_deg": 12,
    "flow_c": 760,
    "seams": [{"key": "old", "at_mm": 11, "melts_c": 715}],
}
SEEN: dict[str, Any] = {
    "metal": "sterling",
    "ring": HELD["ring"],
    "views": {"side": "wedge-out", "other-side": "wedge-out"},
    "gap_mm": 0.3,
}
CAME_IN: dict[str, Any] = {
    "from": "US 8",
    "to": "US 9",
    "metal": "sterling",
    "shank": {"profile": "rectangle", "width_mm": 3.1, "thickness_mm": 1.7},
}
SHEETS = [
    ("a joint looked at", "/api/plan/joint", SEEN),
    ("a ring in the flame", "/api/plan/heat", HELD),
    ("a ring to resize", "/api/plan/resize", CAME_IN),
]
HEATED = TypeAdapter(HeatRequest).validate_python(HELD)
ROUNDS = 200


def median_ms(call: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Median time [ms] of a call, after a few to warm up."""
    times = []
    for turn in range(rounds + 10):
        begun = time.perf_counter()
        call()
        if turn >= 10:
            times.append((time.perf_counter() - begun) * 1000)
    return statistics.median(times)


class Client:
    """A signed-in HTTP client with one cookie jar."""

    def __init__(self, url: str, password: str) -> None:
        self.url = url
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.ask("/api/session")
        self.ask("/api/session", {"username": "wren", "password": password})

    def ask(self, path: str, body: object = None) -> bytes:
        """One request; a body makes it a POST with the CSRF token."""
        request = urllib.request.Request(self.url + path)  # noqa: S310 (our own loopback server)
        if body is not None:
            request.data = json.dumps(body).encode()
            token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "")
            request.add_header("Content-Type", "application/json")
            request.add_header("X-CSRFToken", token or "")
        with self.opener.open(request, timeout=10) as answer:
            content: bytes = answer.read()
        return content


def first_load_kb() -> float:
    """Gzipped size [kB] of the page and of the scripts and styles that it names, without fonts."""
    dist = demo.ROOT / "web" / "dist"
    page = dist / "index.html"
    named = re.findall(r"/static/(assets/[^\"]+\.(?:js|css))", page.read_text())
    files = [page, *(dist / name for name in named)]
    return sum(len(gzip.compress(path.read_bytes(), 6)) for path in files) / 1000


FILL = """
import django; django.setup()
from django.utils import timezone
from workshop.jobs.models import Job
open_jobs, closed_jobs = {open}, {closed}
first = Job.objects.order_by("pk").first()
names = [f.name for f in Job._meta.concrete_fields if f.name not in ("id", "number", "closed_at")]
fields = {{name: getattr(first, name) for name in names}}
last = Job.objects.order_by("-number").first().number
extra = list(Job.objects.filter(closed_at=None).order_by("number").values_list("pk", flat=True)[open_jobs:])
Job.objects.filter(pk__in=extra).update(closed_at=timezone.now())
more = open_jobs - Job.objects.filter(closed_at=None).count()
rows = [Job(**fields, number=last + 1 + n) for n in range(max(0, more))]
Job.objects.bulk_create(rows, batch_size=100)
last, fields["plan"], fields["order"] = last + len(rows), {{}}, {{}}  # a closed job's plan is never read by the bench
have = Job.objects.exclude(closed_at=None).count()
for begin in range(0, max(0, closed_jobs - have), 5000):
    numbers = range(last + 1 + begin, last + 1 + min(begin + 5000, closed_jobs - have))
    who = [dict(fields, words=f"customer {{n % 977}} of {{n % 31}} band {{n}}") for n in numbers]
    rows = [Job(**w, number=n, closed_at=timezone.now()) for w, n in zip(who, numbers)]
    Job.objects.bulk_create(rows, batch_size=2000)
"""
QUERIES = """
import django; django.setup()
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from workshop.people.models import User
client = Client(SERVER_NAME="127.0.0.1")
client.force_login(User.objects.get(username="wren"), backend="django.contrib.auth.backends.ModelBackend")
client.get("/api/bench")
with CaptureQueriesContext(connection) as seen:
    assert client.get("/api/bench").status_code == 200
print(len(seen))
"""


@dataclass
class Shop:
    """The demo workshop, running, with a client at its door."""

    environment: dict[str, str]
    client: Client

    def run(self, code: str) -> str:
        """Run Python over the application's models, in a process of its own."""
        patient = {"DJANGO_SETTINGS_MODULE": "workshop.settings", "PLAIN_SHANK_DB_TIMEOUT": "3600"}
        done = subprocess.run(
            [sys.executable, "-c", code],
            env={**self.environment, **patient},
            capture_output=True,
            text=True,
            check=True,
        )
        return done.stdout.strip()

    def holds(self, open_jobs: int, closed_jobs: int) -> None:
        """Bring the workshop to so many open and so many closed jobs."""
        self.run(FILL.format(open=open_jobs, closed=closed_jobs))

    def against_bare(self, path: str, body: object = None, rounds: int = ROUNDS) -> tuple[float, float]:
        """Median times [ms] of the bare endpoint and of another, asked in turns on the same machine."""
        bare: list[float] = []
        other: list[float] = []
        for turn in range(rounds + 10):
            for times, ask in ((bare, ("/api/session", None)), (other, (path, body))):
                begun = time.perf_counter()
                self.client.ask(*ask)
                if turn >= 10:
                    times.append((time.perf_counter() - begun) * 1000)
        return statistics.median(bare), statistics.median(other)


@contextlib.contextmanager
def running(folder: str) -> Iterator[Shop]:
    """The demo workshop on a database of its own."""
    database = start(Path(folder) / "db", for_tests=True)
    environment = demo.application(
        database, PLAIN_SHANK_DEMO="wren:only for the bench", PLAIN_SHANK_STATIC_ROOT=f"{folder}/static"
    )
    server = None
    try:
        demo.prepare(environment)
        port = free_port()
        server = demo.serve(environment, port)
        demo.wait_for(port, server)
        yield Shop(environment, Client(f"http://127.0.0.1:{port}", "only for the bench"))
    finally:
        demo.stop(server)
        database.stop()


def say(what: str, times: tuple[float, float], wanted: str = "") -> None:
    """Print a median and its ratio to the bare endpoint."""
    bare, other = times
    print(f"{what:<44}{other:7.2f} ms median, {other / bare:5.2f} times the bare {bare:.2f}{wanted}", flush=True)


def main() -> None:
    """Measure and print."""
    planning = median_ms(lambda: ring(ORDER))
    whole = median_ms(lambda: to_json(ring(ORDER)))
    print(f"plan in process {planning:.2f} ms median, {whole:.2f} with its JSON")
    state = median_ms(lambda: work(HEATED).state)
    flame = median_ms(lambda: heat(HELD))
    print(f"in the flame, in process: {state:.2f} ms the steady state, {flame:.2f} all (wanted: 10 and 50)")
    bench_cuts.measure()
    with tempfile.TemporaryDirectory(prefix="ps-bench-") as folder, running(folder) as shop:
        bench_keys.measure(shop.client.url, "wren", "only for the bench")
        for style in STYLES.values():
            times = shop.against_bare("/api/plan/ring", first_order(style), rounds=60)
            say(f"plan of a {style.title}", times, " (wanted: at most 3)")
        for what, path, body in SHEETS:
            say(what, shop.against_bare(path, body, rounds=60), " (wanted: at most 50 ms)")
        for open_jobs, closed_jobs, most in ((12, 0, 3), (200, 0, 6), (200, 100_000, 6)):
            shop.holds(open_jobs, closed_jobs)
            what = f"bench, {open_jobs} open, {closed_jobs:,} closed"
            say(what, shop.against_bare("/api/bench"), f" (wanted: at most {most}); {shop.run(QUERIES)} queries")
        say("search, one name of 100,000 jobs", shop.against_bare("/api/jobs/find?q=customer+801+of", rounds=40))
        say("search, nothing found", shop.against_bare("/api/jobs/find?q=nobody", rounds=40))
        say("a page of 100,000 closed jobs", shop.against_bare("/api/jobs?closed=true", rounds=40))
        deep = "/api/jobs?closed=true&offset=99000"
        say("a page deep in 100,000", shop.against_bare(deep, rounds=20), " (wanted: at most 10)")
        bench_day.measure(shop, say)
        bench_drawer.measure(shop, say)
        bench_record.measure(shop, say)
        say("a card", shop.against_bare("/api/jobs/1", rounds=40))
    bench_nodes.measure()
    print(f"first load without fonts {first_load_kb():.1f} kB gzipped (wanted: under 100)")


if __name__ == "__main__":
    main()
