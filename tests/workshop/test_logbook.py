"""The logbook: what counts and what does not, found by words, out as a file; readings at places; why a ring is wrong."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

import pytest
from django.test import Client

from tests.orders import order, style_order
from tests.resizes import came_in
from tests.workshop.conftest import Shop
from workshop.jobs.models import Job
from workshop.logbook.finding import found_so_far
from workshop.logbook.models import Finding, RingRecord
from workshop.logbook.reckoning import catch_up
from workshop.people.models import User


def read(shop: Shop, job: int, **measures: str) -> Any:
    answer = None
    for key, text in measures.items():
        name = key.replace("__", "@").replace("_", "-")
        answer = shop.send("put", f"/jobs/{job}/measures/{name}", {"text": text})
        assert answer.status_code == 200, answer.content
    return answer


def made(shop: Shop, size: str = "17.75 mm ID", **changes: Any) -> int:
    """A half-round ring whose stock, length and size were read."""
    job = shop.job(leave="exact", **changes)
    cut = job.plan["blanks"][0]["cut_length_mm"]
    read(shop, job.pk, stock_thickness="1.8", cut_length=f"{cut:.2f}", daylight="no", size_rounded=size)
    return int(job.pk)


def one(shop: Shop, job: int) -> Any:
    return shop.send("get", f"/logbook/{job}").json()


def test_a_ring_counts_once_everything_was_read_before_it_was_sized(ours: Shop) -> None:
    job = ours.job(leave="exact")
    cut = job.plan["blanks"][0]["cut_length_mm"]
    whys = [one(ours, job.pk)["why_not"]]
    for key, text in (
        ("size-rounded", "17.85 mm ID"),
        ("stock-thickness", "1.8"),
        ("cut-length", f"{cut - 0.2:.3f}"),
    ):
        ours.send("put", f"/jobs/{job.pk}/measures/{key}", {"text": text})
        whys.append(one(ours, job.pk)["why_not"])
    assert whys == [
        "no size was read on the round ring", "its thickness was not read", "its length was not read", "",
    ]  # fmt: skip
    told = one(ours, job.pk)
    # pi x (17.85 - US 7 1/2 and what rounding the cut left) - (-0.2): what the neutral line alone would have missed
    closes = job.plan["closing"]["inside_diameter_mm"]
    assert told["z_mm"] == pytest.approx(3.14159265 * (17.85 - closes) + 0.2, abs=1e-3)
    assert told["residual_mm"] == told["z_mm"]
    assert (told["verdict"], told["passes_known"]) == ("large", False)
    ours.send("put", f"/jobs/{job.pk}/measures/daylight", {"text": "yes"})
    assert one(ours, job.pk)["why_not"] == "it was read with daylight under it"


def test_a_size_read_after_it_was_stretched_does_not_count(ours: Shop) -> None:
    job = ours.job(leave="exact")
    for step in ("round", "to-size"):
        for key in [one["key"] for one in job.plan["route"]]:
            ours.send("put", f"/jobs/{job.pk}/steps/{key}", {"done": True})
            if key == step:
                break
    read(ours, job.pk, size_rounded="17.8 mm ID")
    assert one(ours, job.pk)["why_not"] == "its size was read after it was brought to size"


def test_what_is_never_learnt_from_is_logged_all_the_same(ours: Shop) -> None:
    cases: dict[str, dict[str, Any]] = {
        "it is let out": style_order("adjustable"),
        "with its top on": style_order("shank"),
        "beside a finished ring": style_order("stack", arrangement="sandwich", finished_metal="gold-18k-yellow"),
    }
    for why, data in cases.items():
        job = ours.send("post", "/jobs", {"title": "ring", "order": data}).json()
        assert why in one(ours, job["id"])["why_not"]
    sized = ours.send("post", "/jobs", {"title": "up", "work": "resize", "order": came_in()}).json()
    assert "resized" in one(ours, sized["id"])["why_not"]
    tapered = ours.send("post", "/jobs", {"title": "ring", "order": style_order("tapered")}).json()
    read(ours, tapered["id"], stock_thickness="4", cut_length="40", size_rounded="17.7 mm ID")
    assert "once it was thinned" in one(ours, tapered["id"])["why_not"]
    assert RingRecord.objects.filter(z_mm__isnull=False).count() == 0


def test_a_reading_that_cannot_be_is_asked_about_not_learnt_from(ours: Shop) -> None:
    job = made(ours)
    assert one(ours, job)["z_mm"] is not None
    read(ours, job, stock_thickness="3.6")
    told = one(ours, job)
    assert (told["z_mm"], told["odd"]) == (None, "thickness as measured")


def test_a_reading_corrected_moves_the_record_and_both_stay(ours: Shop) -> None:
    job = made(ours, "17.95 mm ID")
    before = one(ours, job)["z_mm"]
    read(ours, job, size_rounded="17.75 mm ID")
    assert one(ours, job)["z_mm"] == pytest.approx(before - 3.14159 * 0.2, abs=1e-3)
    lines = [line["says"] for line in ours.send("get", f"/jobs/{job}/history").json()["items"]]
    assert sum("size after rounding" in line for line in lines) == 2


def test_a_wishbone_is_held_against_what_it_is_before_its_v(ours: Shop) -> None:
    answer = ours.send("post", "/jobs", {"title": "v", "order": style_order("wishbone", leave="exact")}).json()
    before = next(
        ask["expected"] for step in answer["plan"]["route"] for ask in step["measure"] if ask["key"] == "size-rounded"
    )
    cut = answer["plan"]["blanks"][0]["cut_length_mm"]
    stock = answer["order"]["stock"]["thickness_mm"]
    read(ours, answer["id"], stock_thickness=f"{stock}", cut_length=f"{cut:.3f}", size_rounded=f"{before:.3f} mm ID")
    assert one(ours, answer["id"])["z_mm"] == pytest.approx(0, abs=0.01)
    assert before > 18.5


def test_the_logbook_is_found_by_what_one_says_at_a_bench(ours: Shop, theirs: Shop) -> None:
    large = made(ours, "17.9 mm ID")
    made(ours, "17.73 mm ID")
    made(theirs, "17.9 mm ID")
    ours.user.first_name = "Wren"
    ours.user.save()
    read(ours, large, size_rounded="17.92 mm ID")
    year = str(Job.objects.get(pk=large).created_at.year)
    found = ours.send("get", f"/logbook?q=half-round%20sterling%20{year}%20Wren%20large").json()
    assert [(line["job_id"], line["verdict"]) for line in found["items"]] == [(large, "large")]
    assert found["count"] == 1
    assert ours.send("get", "/logbook?q=platinum").json()["count"] == 0
    assert ours.send("get", "/logbook?sort=largest").json()["items"][0]["job_id"] == large
    unread = ours.job()
    read(ours, unread.pk, cut_length="60.2")
    assert unread.pk not in [line["job_id"] for line in ours.send("get", "/logbook?sort=smallest").json()["items"]]
    assert ours.send("get", "/logbook?sort=colour").json()["errors"][0]["field"] == "sort"


def test_only_what_has_something_to_tell_is_in_it(ours: Shop) -> None:
    job = ours.job()
    assert ours.send("get", "/logbook").json()["count"] == 0
    ours.send("put", f"/jobs/{job.pk}/closed", {"closed": True})
    assert ours.send("get", "/logbook").json()["count"] == 1
    ours.send("put", f"/jobs/{job.pk}/closed", {"closed": False})
    assert ours.send("get", "/logbook").json()["count"] == 0


def test_it_goes_out_as_csv_and_json_and_no_cell_is_a_formula(ours: Shop) -> None:
    job = made(ours)
    Job.objects.filter(pk=job).update(title="=1+1")
    text = b"".join(ours.client.get("/api/logbook/rings.csv").streaming_content).decode()
    rows = list(csv.DictReader(io.StringIO(text)))
    assert (rows[0]["job"], rows[0]["came_out"], rows[0]["metal"]) == ("'=1+1", "right", "sterling")
    data = json.loads(b"".join(ours.client.get("/api/logbook/rings.json").streaming_content))
    assert data["format"] == "plain-shank-logbook"
    assert data["rings"][0]["inside_measured_mm"] == 17.75
    assert set(data["rings"][0]) == set(rows[0])
    empty = b"".join(ours.client.get("/api/logbook/rings.csv?q=nothing").streaming_content).decode()
    assert empty.startswith("number")


def test_a_wrong_ring_is_diagnosed_to_its_cause_by_one_more_measure(ours: Shop) -> None:
    job = ours.job(leave="exact")
    read(ours, job.pk, stock_thickness="1.8", daylight="no", size_rounded="16.2 mm ID")
    first = ours.send("get", f"/logbook/{job.pk}/why").json()["diagnosis"]
    assert first["causes"][0]["keys"] == ["thickness-forgotten"]
    cut = job.plan["blanks"][0]["cut_length_mm"]
    read(ours, job.pk, cut_length=f"{cut:.2f}")  # it was cut right: then it is what came after
    second = ours.send("get", f"/logbook/{job.pk}/why").json()["diagnosis"]
    assert second["by_key"]["thickness-forgotten"] < 0.01
    kept = ours.send("put", f"/logbook/{job.pk}/cause", {"keys": ["gauge-off"], "note": "the long one was bent"})
    assert kept.json()["found"] == ["gauge-off"]
    assert one(ours, job.pk)["found_titles"] == ["the gauge is off"]
    assert ours.send("get", "/logbook?q=gauge%20is%20off").json()["count"] == 1
    ours.send("put", f"/logbook/{job.pk}/cause", {"keys": []})
    assert one(ours, job.pk)["found"] == []
    assert Finding.objects.count() == 2  # rows are only ever added
    bad = ours.send("put", f"/logbook/{job.pk}/cause", {"keys": ["the weather"]})
    assert bad.json()["errors"][0]["field"] == "keys"


def test_what_it_was_moves_the_shops_own_odds(ours: Shop, theirs: Shop) -> None:
    bare = {"order": order(), "observed": {"inside_diameter_mm": 17.95}}
    before = ours.send("post", "/logbook/diagnose", bare).json()["by_key"]["gap-filled"]
    for _ in range(6):
        job = made(ours, "17.95 mm ID")
        ours.send("put", f"/logbook/{job}/cause", {"keys": ["gap-filled"]})
    assert ours.send("post", "/logbook/diagnose", bare).json()["by_key"]["gap-filled"] > 2 * before
    ours.send("put", f"/logbook/{job}/cause", {"keys": ["gauge-off"]})  # not that after all: only the newest counts
    assert found_so_far(ours.workshop.pk) == {"gap-filled": 5, "gauge-off": 1}
    assert theirs.send("post", "/logbook/diagnose", bare).json()["by_key"]["gap-filled"] == pytest.approx(before)


def test_the_passes_that_were_seen_at_the_joint_are_taken_into_account(ours: Shop) -> None:
    job = made(ours, "17.5 mm ID")
    before = one(ours, job)
    assert not before["passes_known"]
    kept = ours.send("put", f"/jobs/{job}/joints/inspect", {"seen": {"passes_made": 3}})
    assert kept.status_code == 200, kept.content
    after = one(ours, job)
    assert after["passes_known"]
    assert after["z_mm"] - before["z_mm"] == pytest.approx(
        2 * 0.22, abs=1e-3
    )  # two kerfs of its blade explain as much


def test_an_offer_that_moved_meanwhile_is_not_taken(ours: Shop) -> None:
    for _ in range(6):
        made(ours, "17.9 mm ID")
    learnt = ours.send("get", "/logbook/learnt").json()
    group = learnt["groups"][0]
    assert group["suggest"]
    stale = {"mean_mm": group["mean_mm"], "version": learnt["workshop_version"] + 1}
    assert ours.send("put", "/logbook/learnt/half-round/silver", stale).status_code == 409
    moved = {"mean_mm": group["mean_mm"] + 0.1, "version": learnt["workshop_version"]}
    assert ours.send("put", "/logbook/learnt/half-round/silver", moved).json()["errors"][0]["field"] == "group"
    yes = {"mean_mm": group["mean_mm"], "version": learnt["workshop_version"]}
    assert ours.send("put", "/logbook/learnt/half-round/silver", yes).status_code == 200
    assert ours.send("put", "/logbook/learnt/half-round/silver", yes).status_code in (409, 422)
    row = ours.send("get", "/ways").json()["workshop"]["corrections"][0]
    assert (row["group"], row["rings"]) == ("half-round/silver", "6")


def test_a_kept_plan_keeps_the_correction_it_had(ours: Shop) -> None:
    body = {"title": "band", "order": {**order(), "ways": "shop"}}
    before = ours.send("post", "/jobs", body).json()
    ways = {"corrections": [{"group": "half-round/silver", "round_mm": "0.4"}], "version": 1}
    assert ours.send("put", "/ways/workshop", ways).status_code == 200
    after = ours.send("post", "/jobs", body).json()
    assert "own" in [term["key"] for term in after["plan"]["blanks"][0]["terms"]]
    kept = ours.send("get", f"/jobs/{before['id']}").json()
    assert "own" not in [term["key"] for term in kept["plan"]["blanks"][0]["terms"]]
    assert kept["now"] is None


def test_each_look_at_the_rings_is_answered(ours: Shop) -> None:
    for _ in range(2):
        made(ours)
    for view in ("group", "thickness", "style", "person", "gauge"):
        told = ours.send("get", f"/logbook/learnt?by={view}").json()
        assert told["count"] == 2
        assert len(told["dots"]) == 2
        assert told["groups"][0]["n"] == 2
    assert ours.send("get", "/logbook/learnt?by=moon").json()["errors"][0]["field"] == "by"


def test_what_is_gross_what_scatters_and_what_drifts_is_one_fact_at_every_look(ours: Shop) -> None:
    for at in range(20):
        made(ours, f"{17.73 + 0.004 * (at % 3 - 1):.3f} mm ID")
    wild = made(ours, "18.6 mm ID", stock={"thickness_mm": 1.8, "width_mm": 5.0})
    looks = [
        ours.send("get", f"/logbook/learnt?by={view}").json() for view in ("group", "person", "gauge", "thickness")
    ]
    assert len({json.dumps(look["scatter"]) for look in looks}) == 1
    assert all([dot["job_id"] for dot in look["dots"] if dot["aside"]] == [wild] for look in looks)
    body = {"sd_mm": looks[2]["scatter"]["sd_mm"], "version": looks[2]["workshop_version"]}
    assert ours.send("put", "/logbook/spread/truing", body).status_code == 200  # offered at any look


def test_a_scatter_that_was_learnt_takes_the_place_of_ours(ours: Shop) -> None:
    for at in range(20):
        made(ours, f"{17.73 + 0.004 * (at % 3 - 1):.3f} mm ID")
    told = ours.send("get", "/logbook/learnt").json()
    assert told["scatter"]["suggest"]
    body = {"sd_mm": told["scatter"]["sd_mm"], "version": told["workshop_version"]}
    assert ours.send("put", "/logbook/spread/truing", body).status_code == 200
    ways = ours.send("get", "/ways").json()["now"]
    assert ways["truing_spread_mm"] == pytest.approx(told["scatter"]["sd_mm"], abs=1e-3)
    hand = ours.send("get", "/logbook/learnt").json()
    assert (hand["hand"]["n"], hand["hand"]["suggest"]) == (20, True)
    mine = {"sd_mm": hand["hand"]["sd_mm"], "version": hand["mine_version"]}
    assert ours.send("put", "/logbook/spread/cutting", mine).status_code == 200
    assert ours.send("get", "/ways").json()["mine"]["cutting_spread_mm"] != ""
    assert ours.send("put", "/logbook/spread/luck", mine).status_code == 422


def test_rings_of_another_shape_are_caught_up_and_said_to_wait(ours: Shop) -> None:
    job = made(ours)
    RingRecord.objects.all().delete()
    other = made(ours)
    RingRecord.objects.filter(job_id=other).update(stamp="0", z_mm=9)
    assert ours.send("get", "/logbook/learnt").json()["waiting"] == 2
    assert catch_up() == 2
    assert ours.send("get", "/logbook/learnt").json()["waiting"] == 0
    assert RingRecord.objects.get(job_id=other).z_mm != 9
    assert RingRecord.objects.filter(job_id=job).exists()
    assert catch_up() == 0


def test_a_ring_that_was_found_out_does_not_teach(ours: Shop) -> None:
    job = made(ours)
    assert ours.send("get", "/logbook/learnt").json()["count"] == 1
    ours.send("put", f"/logbook/{job}/cause", {"keys": ["over-hammered"]})
    assert ours.send("get", "/logbook/learnt").json()["count"] == 0
    assert one(ours, job)["why_not"] == "it was found out: hammered too freely"
    ours.send("put", f"/logbook/{job}/cause", {"keys": ["scatter"]})
    assert ours.send("get", "/logbook/learnt").json()["count"] == 1


def test_a_gross_miss_is_set_aside_and_said(ours: Shop) -> None:
    rings = [made(ours, f"{17.75 + 0.01 * at:.2f} mm ID") for at in range(5)]
    wild = made(ours, "18.6 mm ID")
    told = ours.send("get", "/logbook/learnt").json()
    assert [dot["job_id"] for dot in told["dots"] if dot["aside"]] == [wild]
    assert (told["groups"][0]["n"], told["groups"][0]["set_aside"]) == (5, 1)
    assert (one(ours, wild)["aside"], one(ours, rings[0])["aside"]) == (True, False)


def test_whose_hand_is_seen_is_a_way(ours: Shop) -> None:
    made(ours)
    other = Shop(ours.workshop, User.objects.create_user("linnet", workshop=ours.workshop), Client())
    other.client.force_login(other.user, backend="django.contrib.auth.backends.ModelBackend")
    made(other)
    names = {group["group"] for group in ours.send("get", "/logbook/learnt?by=person").json()["groups"]}
    assert names == {"ours", "the others"}
    assert ours.send("put", "/ways/workshop", {"see_hands": "all", "version": 1}).status_code == 200
    names = {group["group"] for group in ours.send("get", "/logbook/learnt?by=person").json()["groups"]}
    assert names == {"ours", "linnet"}
    assert len(ours.send("get", "/logbook/learnt").json()["cuts"]) == 1  # one's own, whoever is seen


def test_a_plan_that_cannot_be_read_has_nothing_to_tell_and_does_not_wait(ours: Shop) -> None:
    job = made(ours)
    Job.objects.filter(pk=job).update(plan={})
    RingRecord.objects.all().delete()
    assert catch_up() == 1
    assert ours.send("get", "/logbook/learnt").json()["waiting"] == 0
    assert ours.send("get", "/logbook").json()["count"] == 0
    assert ours.send("get", f"/logbook/{job}").status_code == 404


def test_a_resize_is_asked_about_from_its_own_readings(ours: Shop) -> None:
    answer = ours.send("post", "/jobs", {"title": "up", "work": "resize", "order": came_in()}).json()
    asked = {ask["key"]: ask for step in answer["plan"]["route"] for ask in step["measure"]}
    key = next(name for name in ("size-rounded", "size-side-a") if name in asked)
    read(ours, answer["id"], **{key.replace("-", "_"): f"{asked[key]['expected'] - 0.2:.2f} mm ID"})
    why = ours.send("get", f"/logbook/{answer['id']}/why").json()["diagnosis"]
    assert why["off_mm"] == pytest.approx(-0.63, abs=0.05)
    assert "thickness-forgotten" not in why["by_key"]
    assert one(ours, answer["id"])["verdict"] == "small"


def test_where_a_ring_was_left_small_on_purpose_it_is_right(ours: Shop) -> None:
    job = ours.job(leave="small")
    closes = job.plan["closing"]["inside_diameter_mm"]
    read(ours, job.pk, size_rounded=f"{closes:.3f} mm ID")
    told = ours.send("get", f"/logbook/{job.pk}/why").json()["diagnosis"]
    assert (told["off_text"], one(ours, job.pk)["verdict"]) == ("right", "right")
    assert told["causes"][0]["cure"]["key"] == "as-planned"
