"""Speed as ratios measured in one run: planning in process, the plan endpoint against a bare one, first load."""

from __future__ import annotations

import gzip
import http.cookiejar
import json
import statistics
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ringcraft.border import to_json
from ringcraft.styles import ring
from tools import demo
from tools.mariadb import free_port, start

ORDER: dict[str, Any] = {
    "style": "plain-band",
    "size": "US 7 1/2",
    "metal": "sterling",
    "stock": {"profile": "half-round", "width_mm": "4.0", "thickness_mm": "1.8"},
}
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
    """Gzipped size [kB] of the page, its scripts and styles, without fonts."""
    dist = demo.ROOT / "web" / "dist"
    files = [dist / "index.html", *dist.glob("assets/*.js"), *dist.glob("assets/*.css")]
    return sum(len(gzip.compress(path.read_bytes(), 6)) for path in files) / 1000


def endpoints(folder: str) -> tuple[float, float]:
    """Median times [ms] of the bare authenticated endpoint and of the plan endpoint."""
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
        client = Client(f"http://127.0.0.1:{port}", "only for the bench")
        return (
            median_ms(lambda: client.ask("/api/session")),
            median_ms(lambda: client.ask("/api/plan/ring", ORDER)),
        )
    finally:
        demo.stop(server)
        database.stop()


def main() -> None:
    """Measure and print."""
    planning = median_ms(lambda: ring(ORDER))
    whole = median_ms(lambda: to_json(ring(ORDER)))
    print(f"plan in process           {planning:6.2f} ms median, {whole:.2f} with its JSON")
    with tempfile.TemporaryDirectory(prefix="ps-bench-") as folder:
        bare, plan = endpoints(folder)
    print(f"bare endpoint, signed in  {bare:6.2f} ms median")
    print(
        f"plan endpoint             {plan:6.2f} ms median, {plan / bare:.2f} times the bare one (wanted: at most 3)"
    )
    print(f"first load without fonts  {first_load_kb():6.1f} kB gzipped (wanted: under 120)")


if __name__ == "__main__":
    main()
