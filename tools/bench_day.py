"""The day as ratios in one run: plans of 12, 40 and 200 open jobs, and what twenty open screens hear."""

from __future__ import annotations

import statistics
import tempfile
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from typing import Any

PLANS = """
import django; django.setup()
import time
from dataclasses import replace
from django.utils import timezone
from ringcraft.day.answer import plan_of
from workshop.day.bench import bench_of
from workshop.jobs.models import Job
from workshop.jobs.progress import place_on_bench
from workshop.people.models import Workshop
for job in Job.objects.filter(closed_at=None, left={}):
    place_on_bench(job); job.save()
shop = Workshop.objects.order_by("pk").first()
begun = time.perf_counter(); bench, asked = bench_of(shop, timezone.now()); read = time.perf_counter() - begun
steps = sum(len(rows) for rows in bench.steps.values())
begun = time.perf_counter(); plan_of(replace(asked, moves=0)); first = time.perf_counter() - begun
begun = time.perf_counter(); made = plan_of(asked); whole = time.perf_counter() - begun
print(f"{len(bench.steps)} jobs planned, {bench.not_planned} by order, {steps} steps: read in {read * 1000:.0f} ms, "
      f"first plan {first * 1000:.0f} ms, searched {whole:.2f} s ({made.moves} moves)")
"""
SCREENS, ROUNDS = 20, 15


def measure(shop: Any, say: Any) -> None:
    """Print the plans and what a pulse costs, alone and with twenty screens open."""
    for open_jobs in (12, 40, 200):
        shop.holds(open_jobs, 0)
        print(f"the day, {open_jobs} open: {shop.run(PLANS)}", flush=True)
        say(f"the day, {open_jobs} open: drawn", shop.against_bare("/api/day", rounds=20))
    say("a pulse that has something to tell", shop.against_bare("/api/day/pulse", rounds=60))
    alone, together = _screens(shop.client, 1), _screens(shop.client, SCREENS)
    print(
        f"a silent pulse: {alone:.1f} ms alone, {together:.1f} ms median with {SCREENS} screens that ask every "
        f"1.5 s ({together / alone:.1f} times)",
        flush=True,
    )


def _screens(client: Any, count: int) -> float:
    """Median time [ms] of a pulse that nothing changed for, of so many screens for some rounds."""
    cookies = "; ".join(f"{one.name}={one.value}" for one in client.jar)
    first = urllib.request.Request(client.url + "/api/day/pulse", headers={"Cookie": cookies})  # noqa: S310
    with urllib.request.urlopen(first, timeout=10) as answer:  # noqa: S310 - our own loopback server
        tag = answer.headers["ETag"]

    def screen(nth: int) -> list[float]:
        time.sleep(nth * 1.5 / count)
        times = []
        for _ in range(ROUNDS):
            asked = urllib.request.Request(  # noqa: S310
                client.url + "/api/day/pulse", headers={"Cookie": cookies, "If-None-Match": tag}
            )
            begun = time.perf_counter()
            try:
                urllib.request.urlopen(asked, timeout=10).close()  # noqa: S310
            except urllib.error.HTTPError as silent:
                if silent.code != 304:
                    raise
            times.append((time.perf_counter() - begun) * 1000)
            time.sleep(max(0.0, 1.5 - times[-1] / 1000))
        return times

    with ThreadPoolExecutor(count) as pool:
        return statistics.median(one for times in pool.map(screen, range(count)) for one in times)


if __name__ == "__main__":
    from tools.bench import running, say

    with tempfile.TemporaryDirectory(prefix="ps-bench-") as folder, running(folder) as running_shop:
        measure(running_shop, say)
