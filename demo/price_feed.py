"""A made-up feed of metal prices, as a small local service: days, delays, outages, absurd and stale values.

``python -m demo.price_feed --port 8499`` answers ``/prices``; every fault has its own address, so that it can be
seen: ``/late`` (after the three seconds that anybody waits), ``/down``, ``/absurd``, ``/stale``, ``/huge``,
``/no-currency``, ``/no-unit``, ``/elsewhere`` (a redirect), ``/ounces``. Nothing in it is any market's price.
"""

from __future__ import annotations

import argparse
import json
import math
import random
import time
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from ringcraft.money.feed import TROY_OUNCE_G

#: Where each made-up walk begins [EUR a gram], and how far it goes in a day.
BEGINS = {"silver": 0.88, "gold": 71.0, "platinum": 29.4, "palladium": 33.2}
STEP = {"silver": 0.012, "gold": 0.006, "platinum": 0.009, "palladium": 0.014}
FIRST_DAY = datetime(2026, 1, 1, tzinfo=UTC)
LATE_SECONDS = 8.0


def walk(metal: str, day: datetime) -> float:
    """A made-up price of a day [EUR a gram]: the same on every machine."""
    draw = random.Random(f"plain shank {metal}")  # noqa: S311 - a demo, the same on every machine
    price = BEGINS[metal]
    for _ in range(max(0, (day - FIRST_DAY).days)):
        price *= math.exp(draw.gauss(0, STEP[metal]))
    return round(price, 4)


def quoted(day: datetime, *, times: float = 1.0, ounces: bool = False) -> dict[str, object]:
    """What the feed says of a day."""
    unit = float(TROY_OUNCE_G) if ounces else 1.0
    prices = {metal: f"{walk(metal, day) * times * unit:.4f}" for metal in BEGINS}
    return {"currency": "EUR", "unit": "ozt" if ounces else "g", "at": day.isoformat(), "prices": prices}


def answer(path: str, now: datetime) -> tuple[int, bytes, dict[str, str]]:
    """The status, the body and more headers for an address."""
    day = now.replace(hour=9, minute=0, second=0, microsecond=0)
    if day > now:
        day -= timedelta(days=1)
    plain = quoted(day)
    faults: dict[str, object] = {
        "/prices": plain,
        "/late": plain,
        "/ounces": quoted(day, ounces=True),
        "/absurd": quoted(day, times=3.7),
        "/stale": quoted(day - timedelta(days=40)),
        "/no-currency": {k: v for k, v in plain.items() if k != "currency"},
        "/no-unit": {k: v for k, v in plain.items() if k != "unit"},
    }
    if path == "/down":
        return 503, b"out of order", {}
    if path == "/elsewhere":
        return 302, b"", {"Location": "/prices"}
    if path == "/huge":
        return 200, b" " * (80 * 1024), {}
    if path not in faults:
        return 404, b"no such address", {}
    return 200, json.dumps(faults[path]).encode(), {"Content-Type": "application/json"}


class Feed(BaseHTTPRequestHandler):
    """One request of the feed."""

    def do_GET(self) -> None:
        """Answer, late where that is asked for."""
        if self.path == "/late":
            time.sleep(LATE_SECONDS)
        status, body, more = answer(self.path, datetime.now(UTC))
        self.send_response(status)
        for name, value in more.items():
            self.send_header(name, value)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *_: object) -> None:
        """Say nothing."""


def serve(port: int) -> ThreadingHTTPServer:
    """The feed on a loopback port."""
    return ThreadingHTTPServer(("127.0.0.1", port), Feed)


def main() -> None:
    """Serve until it is ended."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8499)
    with serve(parser.parse_args().port) as server:
        server.serve_forever()


if __name__ == "__main__":
    main()
