"""The logbook of a long life as ratios in one run: 1,000 and 100,000 closed jobs, a third of which count."""

from __future__ import annotations

import tempfile
from typing import Any

FILL = """
import django; django.setup()
import random
from datetime import timedelta
from django.utils import timezone
from workshop.jobs.models import Job
from workshop.logbook.models import RingRecord
from workshop.logbook.reckoning import SHAPE
chance, now = random.Random(9), timezone.now()
groups = [(p, m) for p in ("half-round", "court", "rectangle", "d") for m in ("silver", "yellow-gold", "platinum")]
people, rows = ["Wren Ashdown", "Linnet Sorrel"], []
closed = Job.objects.filter(closed_at__isnull=False, ring_record=None).order_by("-number")
for job_id, number, shop in closed.values_list("pk", "number", "workshop_id")[:{many}].iterator(5000):
    profile, family = chance.choice(groups)
    off, counts = chance.gauss(0.1, 0.3), number % 3 == 0
    verdict = "large" if off > 0.32 else "small" if off < -0.32 else "right"
    at, who = now - timedelta(hours=number), chance.choice(people)
    rows.append(RingRecord(
        job_id=job_id, workshop_id=shop, number=number, stamp=SHAPE, listed=True, at=at, work="make",
        style="plain-band", profile=profile, family=family, metal="sterling", group=profile + "/" + family,
        thickness_class="1.2 to 1.8", thickness_mm=1.5, width_mm=4, wanted_mm=17, size_text="US 6 3/4",
        off_mm=off, counts=counts,
        size_planned_mm=17, size_read_mm=17 + off / 3.14, cut_planned_mm=58, cut_read_mm=58, cut_off_mm=0,
        z_mm=off if counts else None, residual_mm=off if counts else None, verdict=verdict, person_name=who,
        gauge="long mandrel", words=f"{{profile}} sterling {{family}} {{at.year}} {{who.lower()}} {{verdict}}",
    ))
    if len(rows) == 5000:
        RingRecord.objects.bulk_create(rows)
        rows = []
RingRecord.objects.bulk_create(rows)
"""


def measure(shop: Any, say: Any) -> None:
    """Print what a logbook is asked against a bare request, of a thousand rings and of a hundred thousand."""
    for many in (1_000, 100_000):
        shop.holds(200, many)
        shop.run(FILL.format(many=many))
        of = f"{many:,} rings"
        say(f"{of}: the logbook", shop.against_bare("/api/logbook", rounds=30))
        words = "half-round+sterling+2026+Wren+large"
        say(f"{of}: found by five words", shop.against_bare(f"/api/logbook?q={words}", rounds=10))
        say(f"{of}: the largest misses", shop.against_bare("/api/logbook?sort=largest", rounds=20))
        say(f"{of}: what is learnt of them", shop.against_bare("/api/logbook/learnt", rounds=10))
        deep = f"/api/logbook?offset={many - 60}"
        say(f"{of}: a page deep in them", shop.against_bare(deep, rounds=10))
    say("100,000 rings as CSV", shop.against_bare("/api/logbook/rings.csv", rounds=1))


if __name__ == "__main__":
    from tools.bench import running, say

    with tempfile.TemporaryDirectory(prefix="ps-bench-") as folder, running(folder) as running_shop:
        measure(running_shop, say)
