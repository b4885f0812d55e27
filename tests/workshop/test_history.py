"""A line of a job's history, in words."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone

from tests.orders import order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.core.models import Event
from workshop.jobs.models import Job
from workshop.jobs.telling import History, Promised, Told


def told(job: Job, what: str, after: Any, before: Any = None) -> Told:
    event = Event(what=what, after=after, before=before or {}, at=timezone.now())
    return History(job, "mm", estimates=True).told(event)


@pytest.mark.parametrize(
    ("what", "after", "said"),
    [
        ("ticked", {"step": "scribe", "title": "Scribe 60.9"}, "done: Scribe 60.9"),
        ("ticked", {"step": "scribe"}, "done: Scribe"),  # written before titles were kept: which figure is not known
        ("unticked", {"step": "gone"}, "not done after all: gone"),
        ("measured", {"measure": "cut-length", "text": "60.2"}, "cut length as measured: 60.2"),
        ("measured", {"measure": "hat", "text": ""}, "hat: nothing"),
        ("measure-removed", {"measure": "cut-length"}, "cut length as measured: does not hold any more"),
        ("placed", {"place": "setter", "note": "two"}, "with the setter, two"),
        ("placed", {"place": "", "note": ""}, "on the bench"),
        ("closed", {}, "taken off the bench"),
        ("closed", {"without": "in a hurry"}, "off the bench without being read: in a hurry"),
        ("joint-seen", {"step": "inspect", "title": "Look", "passes_made": 2}, "seen: Look"),
        ("joint-seen", {"step": "x", "title": "Solder", "solder": "s", "with": "silver easy"}, "Solder: with silver easy"),
        ("joint-seen", {"step": "x", "title": "Look"}, "Look: as planned again"),
        ("photographed", {"side": "before"}, "a photograph, before"),
        ("estimated", {"metal": "sterling", "total": "12 EUR"}, "an estimate in sterling: 12 EUR"),
        ("once-more", {"step": "solder", "title": "Solder", "heats": 2}, "once more: Solder; 2 heats so far"),
        ("something new", {}, "something new"),
        ("ticked", ["no row"], "done: nothing"),
        ("changed", {}, "saved again"),
        ("changed", {"customer_name": "Pym", "customer_id": 4}, "customer: nothing → Pym"),
    ],
)  # fmt: skip
def test_a_line_says_what_happened(ours: Shop, what: str, after: Any, said: str) -> None:
    assert told(ours.job(), what, after).says == said


def test_times_are_told_where_they_are_other_times(ours: Shop) -> None:
    job, then = ours.job(), timezone.now() - timedelta(hours=3)
    assert told(job, "ticked", {"title": "Cut", "at": timezone.now().isoformat()}).done_at is None
    assert told(job, "ticked", {"title": "Cut", "at": then.isoformat()}).done_at == then
    for bad in ("soon", "2026-05-04", 7, None):
        assert told(job, "measured", {"measure": "cut-length", "at": bad}).done_at is None
        assert told(job, "placed", {"place": "setter", "until": "when done"}).until is None
    due = told(job, "changed", {"due": then.isoformat()}, {"due": None})
    assert (due.says, due.due) == ("", Promised(None, then))


def test_an_order_is_told_in_the_words_of_its_sheet(ours: Shop) -> None:
    job = ours.job()
    gauge = {"name": "long mandrel", "readings": [{"mark": "7", "diameter_mm": 17.3}]}
    before = {**order(), "gauge": gauge}
    stock = {**before["stock"], "width_mm": 4.5}
    after = {**before, "metal": "fine-silver", "stock": stock, "gauge": None, "engine_only": 1}
    assert told(job, "changed", {"order": after}, {"order": before}).says == (
        "metal: sterling → fine silver; width: 4 mm → 4.5 mm; read on: long mandrel → nothing"
    )
    wide = told(job, "changed", {"order": {**before, "wide": True, "leave": None}}, {"order": before})
    assert wide.says == "wide band: as usual → yes"
    again = told(job, "changed", {"order": {**before, "gauge": {**gauge, "readings": []}}}, {"order": before})
    assert again.says == "saved again"
    inches = History(job, "in", estimates=True).told(Event(what="changed", at=timezone.now(), before={"order": before},
                                           after={"order": {**before, "stock": {**stock, "width_mm": 5.08}}}))  # fmt: skip
    assert inches.says == "width: 4 mm → 0.2 in"


def test_a_list_is_told_entry_by_entry(ours: Shop) -> None:
    job = ours.job()
    layers = [{"fit_mm": 0}, {"fit_mm": -0.05}]
    before = {"style": "stack", "outer": layers}
    after = {"style": "stack", "outer": [layers[0], {"fit_mm": -0.1}]}
    assert told(job, "changed", {"order": after}, {"order": before}).says == "Fit 2: -0.05 mm → -0.1 mm"


def test_a_ring_that_came_in_is_told_in_its_own_words(ours: Shop) -> None:
    body = {"work": "resize", "title": "up", "order": came_in()}
    job = ours.send("post", "/jobs", body).json()
    stones = [{"kind": "opal", "setting": "bezel"}]
    body |= {"order": came_in(to="US 7", stones=stones, features=["plated"]), "version": 1}
    assert ours.send("put", f"/jobs/{job['id']}", body).status_code == 200
    says = ours.send("get", f"/jobs/{job['id']}/history").json()["items"][0]["says"]
    for one in (
        "wanted size: US 6 1/2 → US 7",
        "stone 1: nothing → opal",
        "setting 1: nothing → a bezel",
        "feature: nothing → plated",
    ):
        assert one in says
    assert "glued" not in says  # what was not said and is not so is no change
