"""Eight people on the drawer, the cards, the photographs and a file at once: nobody is turned away, the sums are exact."""

from __future__ import annotations

import json
import random
import uuid
from collections import Counter
from dataclasses import dataclass
from typing import Any

import pytest
from django.test import Client

from tests.resizes import picture
from tests.stock import key_of, put_in, scrap, sums_hold
from tests.workshop.conftest import Shop
from tests.workshop.test_at_once import PEOPLE, at_once
from workshop.jobs.models import JobPhoto
from workshop.people.models import User
from workshop.stock.models import Movement, StockItem, TakenBack

pytestmark = pytest.mark.django_db(transaction=True)
TURNS = 14  # of each person
FILE = "kind,metal,mass_g\n" + "scrap,sterling,2\n" * 120


@dataclass
class Scene:
    """What the eight work on."""

    shop: Shop
    jobs: list[Any]
    coil: StockItem
    lot: StockItem
    image: str
    came_in: Counter[int]


class Person:
    """One of the eight: what comes of each thing that is done."""

    def __init__(self, scene: Scene, n: int) -> None:
        user = User.objects.create_user(f"person{n}", password="a long enough word", workshop=scene.shop.workshop)
        self.client = Client(raise_request_exception=False)
        self.client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        self.scene, self.n, self.chance, self.seen = scene, n, random.Random(n), list[int]()

    def send(self, method: str, path: str, body: Any) -> int:
        answer = self.client.generic(
            method, f"/api{path}", json.dumps(body), content_type="application/json",
            headers={"Idempotency-Key": uuid.uuid4().hex},
        )  # fmt: skip
        self.seen.append(answer.status_code)
        return int(answer.status_code)

    def work(self) -> list[int]:
        deeds = [self.cut, self.tick, self.measure, self.photo, self.use, self.melt, self.back, self.look]
        for turn in range(TURNS):
            deed = self.file if turn == TURNS // 2 and self.n < 3 else self.chance.choice(deeds)
            deed(self.chance.choice(self.scene.jobs))
        return self.seen

    def cut(self, job: Any) -> None:
        chosen = {"group": key_of(self.scene.coil), "jobs": [job.pk]}
        made = self.client.post("/api/stock/plan", chosen, "application/json").json()
        if made["blanks"]:
            self.send("POST", "/stock/cuts", {**chosen, "key": made["key"]})

    def tick(self, job: Any) -> None:
        self.send("PUT", f"/jobs/{job.pk}/steps/square-end", {"done": self.chance.random() < 0.6})

    def measure(self, job: Any) -> None:
        body = {"text": f"{1.78 + self.chance.randint(0, 9) / 200:.3f}"}
        self.send("PUT", f"/jobs/{job.pk}/measures/stock-thickness", body)

    def photo(self, job: Any) -> None:
        self.send("POST", f"/jobs/{job.pk}/photos", {"side": "before", "image": self.scene.image})

    def use(self, _: Any) -> None:
        kind = self.chance.choice(["used", "scrap", "filings"])
        self.send("POST", f"/stock/{self.scene.coil.pk}/moves", {"kind": kind, "length_mm": 3})

    def melt(self, _: Any) -> None:
        bar = {"kind": "bar", "metal": "sterling", "profile": "square", "thickness_mm": 4, "mass_g": 3}
        body = {"into": [{"item_id": self.scene.lot.pk, "mass_g": 3.1}], "poured": [bar]}
        self.send("POST", "/stock/melts", body)

    def file(self, _: Any) -> None:
        self.scene.came_in[self.n] += self.send("POST", "/stock/items.csv", {"text": FILE}) == 201

    def back(self, _: Any) -> None:
        cuts = Movement.objects.filter(kind="cut", mass_g__lt=0).order_by("?")
        if batch := cuts.values_list("batch", flat=True).first():
            self.send("POST", f"/stock/back/{batch}", {})

    def look(self, _: Any) -> None:
        self.seen.append(self.client.get("/api/stock/groups").status_code)


def test_eight_people_work_at_once_and_every_gram_is_accounted_for(ours: Shop) -> None:
    jobs = [ours.job(f"job {n}") for n in range(PEOPLE)]
    coil, lot = put_in(ours.actor, length_mm=9000), scrap(ours.actor, 500)
    scene = Scene(ours, jobs, coil, lot, picture(), Counter())
    people = [Person(scene, n) for n in range(PEOPLE)]
    before = sums_hold(ours)
    answers = at_once(lambda n: people[n].work())
    assert not [one for one in answers if isinstance(one, Exception)]
    said = Counter(status for one in answers for status in one)
    assert set(said) <= {200, 201, 422}, said
    left, files = sums_hold(ours), sum(scene.came_in.values())
    gone = -sum(row.mass_g for row in Movement.objects.filter(kind__in=("cut", "used", "melt")))
    assert left + gone == before + 240 * files
    assert TakenBack.objects.count() == len(set(TakenBack.objects.values_list("batch", flat=True)))
    numbers = list(StockItem.objects.values_list("number", flat=True))
    assert len(numbers) == len(set(numbers))
    cuts = Movement.objects.filter(kind="cut", mass_g__lt=0).values("batch").distinct().count()
    melts = Movement.objects.filter(kind="melt", item=lot).count()
    assert JobPhoto.objects.count() == said[201] - cuts - melts - files
