"""A practice is a job of its own: its rounds, one's own hand taken from it, nothing of it in the record of rings."""

from __future__ import annotations

import math
from typing import Any

import pytest
from django.test import Client

from ringcraft.practice.asking import EXERCISES
from tests.workshop.conftest import PASSWORD, Shop
from tests.workshop.test_who import TABLE
from workshop.jobs.models import Job
from workshop.logbook.models import RingRecord
from workshop.people.models import User
from workshop.people.preferences import preferences_of

pytestmark = pytest.mark.django_db

CUTS = {"work": "practice", "title": "Monday", "order": {"exercise": "cuts", "length_mm": 34, "ways": "shop"}}


def begun(shop: Shop, **more: Any) -> int:
    answer = shop.send("post", "/jobs", {**CUTS, **more})
    assert answer.status_code == 201, answer.json()
    return int(answer.json()["id"])


def read(shop: Shop, job: int, *offs: float, first: int = 1) -> Any:
    for n, off in enumerate(offs, start=first):
        answer = shop.send("put", f"/jobs/{job}/measures/cut-length@round-{n}", {"text": f"{34 + off:.2f}"})
        assert answer.status_code == 200
    return shop.send("get", f"/jobs/{job}/practice").json()


def take(shop: Shop, job: int, said: Any, **more: Any) -> Any:
    body = {"sd_mm": said["so_far"]["hand"]["sd_mm"], "version": said["mine_version"], **more}
    return shop.send("put", f"/jobs/{job}/practice/hand", body)


def test_ten_cuts_become_ones_own_setting_and_the_next_plan_reckons_with_it(ours: Shop) -> None:
    job = begun(ours)
    assert read(ours, job)["so_far"]["says"] == ["Nothing read yet."]
    said = read(ours, job, *[0.3, -0.3] * 5)
    wanted = math.sqrt((10 * 0.15**2 + 10 * 0.09) / 20)
    assert said["so_far"]["offered"] == f"{wanted:.2f} from ten cuts, not 0.15"
    assert take(ours, job, said, version=said["mine_version"] + 5).status_code == 409
    assert take(ours, job, said, sd_mm=0.5).status_code == 422
    done = take(ours, job, said)
    assert done.status_code == 200
    assert done.json()["so_far"]["offered"] == ""
    me = User.objects.get(pk=ours.user.pk)
    assert preferences_of(me, ours.workshop).cutting_spread_mm == pytest.approx(wanted, abs=0.001)
    assert take(ours, job, done.json()).status_code == 422  # offered once


def test_a_colleagues_rounds_are_theirs(ours: Shop) -> None:
    job = begun(ours)
    read(ours, job, *[0.3] * 5)
    other = Client()
    colleague = User.objects.create_user("wick", password=PASSWORD, workshop=ours.workshop)
    other.force_login(colleague, backend="django.contrib.auth.backends.ModelBackend")
    seen = other.get(f"/api/jobs/{job}/practice").json()["so_far"]
    assert [dot["mine"] for dot in seen["dots"]] == [False] * 5
    assert seen["hand"] is None


def test_what_was_read_at_another_length_says_nothing_of_this_one(ours: Shop) -> None:
    job = begun(ours)
    assert read(ours, job, 0.3, 0.2)["so_far"]["read"] == 2
    version = Job.objects.get(pk=job).version
    other = {**CUTS, "order": {**CUTS["order"], "length_mm": 30}, "version": version}
    assert ours.send("put", f"/jobs/{job}", other).status_code == 200
    assert ours.send("get", f"/jobs/{job}/practice").json()["so_far"]["read"] == 0
    back = {**CUTS, "version": Job.objects.get(pk=job).version}
    assert ours.send("put", f"/jobs/{job}", back).status_code == 200
    assert ours.send("get", f"/jobs/{job}/practice").json()["so_far"]["read"] == 2


def test_it_is_nobodys_ring(ours: Shop) -> None:
    answer = ours.send("post", "/jobs", {**CUTS, "customer_name": "Half Said"})
    assert answer.status_code == 422
    assert [one["field"] for one in answer.json()["errors"]] == ["customer_name"]
    job = begun(ours)
    version = Job.objects.get(pk=job).version
    answer = ours.send("put", f"/jobs/{job}", {**CUTS, "customer_name": "Half Said", "version": version})
    assert answer.status_code == 422
    assert ours.send("get", f"/jobs/{job}").json()["for_customer"] is False


def test_nothing_of_it_is_in_the_record_of_rings(ours: Shop) -> None:
    job = begun(ours)
    read(ours, job, *[0.3] * 10)
    for step in Job.objects.get(pk=job).plan["route"]:
        ours.send("put", f"/jobs/{job}/steps/{step['key']}", {"done": True})
    ours.send("put", f"/jobs/{job}/closed", {"closed": True})
    learnt = ours.send("get", "/logbook/learnt").json()
    assert learnt["cuts"] == []
    assert learnt["hand"]["n"] == 0
    assert learnt["groups"] == []
    assert ours.send("get", "/logbook").json()["items"] == []
    record = RingRecord.objects.get(job_id=job)
    assert (record.listed, record.counts, record.cut_off_mm) == (False, False, None)


def test_it_stands_on_the_bench_and_goes_out_and_in_as_a_file(ours: Shop) -> None:
    job = begun(ours, order={"exercise": "joint", "rounds": 2})
    ring = next(one for one in ours.send("get", "/bench").json()["rings"] if one["id"] == job)
    assert ring["standing"]["next_title"] == "Cut and anneal, round 1"
    ours.send("put", f"/jobs/{job}/measures/light-seen@round-1", {"text": "no"})
    ours.send("put", f"/jobs/{job}/measures/closed-round@round-1", {"text": "yes"})
    file = ours.send("get", f"/jobs/{job}/file").json()
    again = ours.send("post", "/jobs/import", file)
    assert again.status_code == 201, again.json()
    so_far = ours.send("get", f"/jobs/{again.json()['id']}/practice").json()["so_far"]
    assert [dot["good"] for dot in so_far["dots"]] == [True]
    for name in ("blank.pdf", "blank.svg", "blank.dxf", "ticket.pdf"):
        assert ours.send("get", f"/jobs/{job}/{name}").status_code == 200


@pytest.mark.parametrize("exercise", list(EXERCISES))
def test_its_joint_and_its_heat_open_their_sheets(ours: Shop, exercise: str) -> None:
    job = begun(ours, order={"exercise": exercise, "rounds": 1})
    for step in Job.objects.get(pk=job).plan["route"]:
        answer = ours.send("get", f"/jobs/{job}/joints/{step['key']}")
        opens = any(deed["op"] in ("solder", "anneal") or deed.get("key") == "joint" for deed in step["does"])
        assert answer.status_code == 200 or not opens, (step["key"], answer.json())


@pytest.mark.parametrize("exercise", list(EXERCISES))
def test_every_door_of_a_job_answers_for_a_practice_too(ours: Shop, exercise: str) -> None:
    """Whatever is asked of a job: it is answered or refused, never broken."""
    asked = [(method, path, sent) for method, path, sent, *_ in TABLE if "{job_id}" in path and "photo" not in path]
    assert len(asked) > 20
    for method, path, sent in asked:
        job = begun(ours, order={"exercise": exercise, "rounds": 2})
        step = Job.objects.get(pk=job).plan["route"][0]
        named = {"steps": step["key"], "measures": "cut-length@round-1", "joints": step["key"]}
        key = next((one for name, one in named.items() if f"/{name}/" in path), "")
        address = path.format(job_id=job, key=key, nth=1)
        answer = ours.send(method, address, None if sent is None else sent)
        assert answer.status_code < 500, (method, address)
        assert Job.objects.get(pk=job).work == "practice"


def test_another_job_is_no_practice_and_strangers_get_nothing(ours: Shop, theirs: Shop) -> None:
    job = begun(ours)
    assert theirs.send("get", f"/jobs/{job}/practice").status_code == 404
    assert theirs.send("put", f"/jobs/{job}/practice/hand", {"sd_mm": 0.1}).status_code == 404
