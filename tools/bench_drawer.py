"""A large shop's drawer as ratios in one run: 5,000 pieces, 20,000 movements, 5,000 photographs, 200 open jobs."""

from __future__ import annotations

import tempfile
from typing import Any

FILL = """
import django; django.setup()
import random
from decimal import Decimal
from django.utils import timezone
from workshop.jobs.models import Job, JobPhoto
from workshop.people.models import User
from workshop.photos.models import Photo, StoredFile
from workshop.stock.demand import catch_up
from workshop.stock.models import Movement, StockItem
chance, who = random.Random(5), User.objects.get(username="wren")
now, shop = timezone.now(), who.workshop_id
metals = ["sterling", "gold-14k-yellow", "gold-18k-yellow", "gold-14k-rose", "fine-silver", "copper"]
last = StockItem.objects.order_by("-number").first().number
rows = []
for n in range({pieces}):
    kind = chance.choice(["wire", "wire", "bar", "offcut", "sheet", "scrap"])
    item = StockItem(
        workshop_id=shop, number=last + 1 + n, kind=kind, metal=chance.choice(metals), density_g_cm3=Decimal("10.4"),
        moves=4, mass_g=Decimal("9.5"), place=f"tray {{n % 40}}",
    )
    if kind != "scrap":
        item.profile = "sheet" if kind == "sheet" else chance.choice(["half-round", "rectangle", "square"])
        item.thickness_mm = Decimal(chance.randint(8, 20)) / 10
        item.width_mm = None if item.profile == "square" else Decimal(chance.randint(30, 60)) / 10
        item.length_mm = Decimal(chance.randint(100, 4000)) / 10
        if item.profile == "half-round":
            item.width_mm = item.thickness_mm * 2 + 1
    item.stock = item.stock_key()
    rows.append(item)
StockItem.objects.bulk_create(rows, batch_size=1000)
moves = [
    Movement(item=item, nth=nth, kind="in" if nth == 1 else "used", mass_g=Decimal("9.5") if nth == 1 else 0,
             length_mm=None if item.length_mm is None else (item.length_mm if nth == 1 else 0), at=now, by=who)
    for item in rows for nth in range(1, 5)
]
Movement.objects.bulk_create(moves, batch_size=2000)
jobs = list(Job.objects.filter(closed_at=None)[:200])
files = [StoredFile(name=f"photos/bench/{{n}}.jpg", content=b"x" * 20000, size=20000) for n in range({photos})]
StoredFile.objects.bulk_create(files, batch_size=500)
photos = [Photo(workshop_id=shop, file=one.name, width=80, height=60, by=who) for one in files]
Photo.objects.bulk_create(photos, batch_size=1000)
kept = [JobPhoto(job=jobs[n % len(jobs)], photo=one, side="before") for n, one in enumerate(photos)]
JobPhoto.objects.bulk_create(kept, batch_size=1000)
print(catch_up())
"""


def measure(shop: Any, say: Any) -> None:
    """Fill the drawer of a running shop with 200 open jobs, and print what is asked of it against a bare request."""
    shop.run(FILL.format(pieces=5000, photos=5000))
    groups = "/api/stock/groups"
    say("5,000 pieces: what is wanted of them", shop.against_bare(groups, rounds=30), " (wanted: at most 8)")
    say("5,000 pieces: what none serves", shop.against_bare("/api/stock/missing", rounds=10))
    say("5,000 pieces: a page", shop.against_bare("/api/stock?offset=4900", rounds=30))
    say("5,000 pieces: found by a word", shop.against_bare("/api/stock?q=tray+7", rounds=30))
    say("a card with photographs", shop.against_bare("/api/jobs/1", rounds=20))
    say("20,000 movements as CSV", shop.against_bare("/api/stock/movements.csv", rounds=3))


if __name__ == "__main__":
    from tools.bench import running, say

    with tempfile.TemporaryDirectory(prefix="ps-bench-") as folder, running(folder) as running_shop:
        running_shop.holds(200, 0)
        measure(running_shop, say)
        running_shop.holds(200, 5_000)
        deep = "/api/jobs?closed=true&offset=4900"
        say("a deep page", running_shop.against_bare(deep, rounds=20), " (wanted: at most 10)")
