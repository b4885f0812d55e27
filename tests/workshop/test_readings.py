"""Readings at places: beside the plan, never moving it; what came back; refused at their fields."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.workshop.conftest import Shop
from tests.workshop.test_logbook import made, one
from tests.workshop.test_measure import gauge
from workshop.jobs.files import bring_in, take_out
from workshop.jobs.models import Job


def test_readings_at_places_stand_beside_the_plan_and_never_move_it(ours: Shop) -> None:
    job = ours.job()
    cut = job.plan["blanks"][0]["cut_text"]
    for place, text in (("left-45", "1.9"), ("right-45", "1.7"), ("bottom", "1.4"), ("right-45", "1.6")):
        body = {"key": "shank-thickness", "place": place, "state": "finished", "text": text}
        answer = ours.send("put", f"/jobs/{job.pk}/readings", body)
    told = answer.json()
    assert [(row["place"], row["text"], row["readings"]) for row in told["items"]] == [
        ("left-45", "1.9", 1), ("bottom", "1.4", 1), ("right-45", "1.6", 2),
    ]  # fmt: skip
    assert told["symmetry"]["says"] == ["45° left: take 0.30."]
    now = ours.send("get", f"/jobs/{job.pk}").json()
    assert (now["now"], now["measures"], now["plan"]["blanks"][0]["cut_text"]) == (None, [], cut)
    assert "thickness, at 45° right, finished: 1.6" in [
        line["says"] for line in ours.send("get", f"/jobs/{job.pk}/history").json()["items"]
    ]
    ours.send("put", f"/jobs/{job.pk}/readings", body | {"text": ""})
    assert len(ours.send("get", f"/jobs/{job.pk}/readings").json()["items"]) == 2


def test_what_came_back_is_kept_with_its_reason(ours: Shop) -> None:
    job = made(ours)
    body = {"key": "ring-size", "state": "came-back", "text": "US 7 1/4"}
    assert ours.send("put", f"/jobs/{job}/readings", body).json()["errors"][0]["field"] == "note"
    ours.send("put", f"/jobs/{job}/readings", body | {"note": "too tight since winter"})
    assert one(ours, job)["came_back"] == "too tight since winter"
    assert ours.send("get", "/logbook?q=came%20back").json()["count"] == 1
    file = take_out(Job.objects.get(pk=job))
    again = bring_in(ours.actor, json.loads(json.dumps(file)))
    assert one(ours, again.pk)["came_back"] == "too tight since winter"


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"key": "colour", "state": "round", "text": "7"}, "key"),
        ({"key": "ring-size", "state": "lost", "text": "7"}, "state"),
        ({"key": "ring-size", "place": "moon", "state": "round", "text": "7"}, "place"),
        ({"key": "ring-size", "place": "left-45", "state": "round", "text": "7"}, "place"),
        ({"key": "shank-thickness", "place": "bottom", "state": "round", "text": "400"}, "text"),
        ({"key": "shank-thickness", "place": "bottom", "state": "round", "text": "soft"}, "text"),
    ],
)
def test_a_reading_that_cannot_be_kept_is_refused_at_its_field(ours: Shop, body: Any, field: str) -> None:
    answer = ours.send("put", f"/jobs/{ours.job().pk}/readings", body)
    assert (answer.status_code, answer.json()["errors"][0]["field"]) == (422, field)


def test_what_a_caliper_in_inches_read_is_the_same_in_every_shop(ours: Shop, theirs: Shop) -> None:
    mandrel = gauge(ours)
    job = ours.job()
    length = {"text": "2.4", "typed_in": "in", "zero_mm": "0.002"}
    assert ours.send("put", f"/jobs/{job.pk}/measures/cut-length", length).status_code == 200
    thick = {"key": "shank-thickness", "place": "bottom", "state": "cut", "text": "0.07", "typed_in": "in"}
    size = {"key": "ring-size", "state": "round", "text": "7", "gauge_id": mandrel["id"]}
    for body in (thick, size):
        assert ours.send("put", f"/jobs/{job.pk}/readings", body).status_code == 200
    file = json.loads(json.dumps(take_out(Job.objects.get(pk=job.pk))))
    before = [(row["text"], row["value"]) for row in (*file["measures"], *file["readings"])]
    assert before == [("2.4 in", 60.9092), ("0.07 in", 1.778), ("7", 17.38)]
    assert "cut length as measured: 2.4 in" in ours.send("get", f"/jobs/{job.pk}/history").content.decode()
    again = take_out(bring_in(theirs.actor, file))
    assert [(row["text"], row["value"]) for row in (*again["measures"], *again["readings"])] == before
    file["measures"][0]["text"] = "2.4"  # as a file of before has it
    assert take_out(bring_in(theirs.actor, file))["measures"][0]["value"] == 60.9092
