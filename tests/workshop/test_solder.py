"""Solder that was flowed leaves the drawer: by the joint's own chips, when its step is done, asked once a job."""

from __future__ import annotations

from typing import Any

import pytest

from ringcraft.metals import METALS, SOLDERS
from ringcraft.schema import read_request
from ringcraft.stock.drawer import PIECE
from ringcraft.vbench.deeds import SolderJoint
from tests.stock import sums_hold
from tests.workshop.conftest import Shop
from workshop.jobs.plans import kept_plan
from workshop.stock.actions import ItemWords, take_in
from workshop.stock.models import Movement, StockItem

pytestmark = pytest.mark.django_db


def reel(shop: Shop, solder: str = "silver hard, sheet", mass_g: float = 11.5, **words: Any) -> StockItem:
    piece = read_request(PIECE, {"kind": "solder", "metal": "sterling", "solder": solder, "mass_g": mass_g})
    return take_in(shop.actor, piece, ItemWords(**words))


def tick(shop: Shop, job: Any, key: str, done: bool = True, **more: Any) -> Any:
    return shop.send("put", f"/jobs/{job.pk}/steps/{key}", {"done": done, **more}).json()


def way(shop: Shop, said: str) -> None:
    answer = shop.send("put", "/ways/workshop", {"takes_solder": said, "version": 1})
    assert answer.status_code == 200


def chips_g(job: Any) -> float:
    """By hand: so many chips of 1 x 1 x 0.25 mm, by the density of the grade."""
    deed = next(d for step in kept_plan(job).route for d in step.does if isinstance(d, SolderJoint))
    return deed.chips * 0.25 * (SOLDERS[deed.solder].density_g_cm3 or 0) / 1000


def test_it_is_asked_once_a_job_and_then_follows_its_steps(ours: Shop) -> None:
    job, piece = ours.job(), reel(ours)
    assert tick(ours, job, "cut")["solder"] == ""
    asked = tick(ours, job, "solder")["solder"]
    assert asked
    assert f"{chips_g(job):.3f} g of silver hard from “" in asked
    assert not Movement.objects.filter(kind="solder").exists()
    assert (
        ours.send("get", f"/jobs/{job.pk}/solder").json()["says"] == asked
    )  # a colleague who comes by is asked it too
    assert ours.send("put", f"/jobs/{job.pk}/solder", {"take": True}).status_code == 200
    assert ours.send("get", f"/jobs/{job.pk}/solder").json() == {"says": ""}
    told = ours.send("get", f"/jobs/{job.pk}/metal").json()["solder"]
    assert [(one["called"], one["mass_g"]) for one in told] == [(piece.called, pytest.approx(chips_g(job), abs=1e-4))]
    piece.refresh_from_db()
    assert float(piece.mass_g) == pytest.approx(11.5 - chips_g(job), abs=1e-4)
    again = tick(ours, job, "solder", again=True)
    assert again["solder"] == ""
    piece.refresh_from_db()
    assert float(piece.mass_g) == pytest.approx(11.5 - 2 * chips_g(job), abs=2e-4)
    tick(ours, job, "solder", done=False)
    tick(ours, job, "solder", done=False)
    piece.refresh_from_db()
    assert float(piece.mass_g) == pytest.approx(11.5, abs=1e-4)
    assert ours.send("get", f"/jobs/{job.pk}/metal").json()["solder"] == []
    sums_hold(ours)


@pytest.mark.parametrize(("said", "taken"), [("always", True), ("never", False)])
def test_a_way_answers_for_every_job(ours: Shop, said: str, taken: bool) -> None:
    job, piece = ours.job(), reel(ours)
    way(ours, said)
    assert tick(ours, job, "solder")["solder"] == ""
    piece.refresh_from_db()
    assert (piece.mass_g < 11.5) == taken


def test_a_no_is_kept_for_the_job(ours: Shop) -> None:
    job, piece = ours.job(), reel(ours)
    ours.send("put", f"/jobs/{job.pk}/solder", {"take": False})
    assert tick(ours, job, "solder")["solder"] == ""
    piece.refresh_from_db()
    assert piece.moves == 1


def test_what_is_not_there_is_not_asked_about_and_never_goes_below_nothing(ours: Shop) -> None:
    job = ours.job()
    reel(ours, "silver easy")
    assert tick(ours, job, "solder")["solder"] == ""
    way(ours, "always")
    hair = reel(ours, "silver hard", 0.001)
    tick(ours, job, "solder", again=True)
    hair.refresh_from_db()
    assert hair.mass_g == 0
    sums_hold(ours)


def test_strangers_solder_is_never_taken(ours: Shop, theirs: Shop) -> None:
    job, piece = ours.job(), reel(theirs)
    way(ours, "always")
    tick(ours, job, "solder")
    piece.refresh_from_db()
    assert piece.moves == 1
    assert theirs.send("put", f"/jobs/{job.pk}/solder", {"take": True}).status_code == 404


def test_every_solder_has_a_density_near_its_metals() -> None:
    """From memory; a hard solder is no further than a tenth from the metal that it is made for."""
    for metal in METALS.values():
        solder = SOLDERS[metal.solder]
        assert solder.density_g_cm3
        if metal.of_family.precious and metal.of_family.precious not in ("Pt", "Pd"):
            near = 0.12 if metal.key != "fine-gold" else 0.2
            assert solder.density_g_cm3 == pytest.approx(metal.density_g_cm3, rel=near)
