"""A plan of the day: nobody in two places, nothing before its wait, vessels and torches never over what they hold."""

from __future__ import annotations

import io
import json
import random
import time
from typing import Any

import pytest

from ringcraft.__main__ import run
from ringcraft.day.answer import day
from ringcraft.errors import BadRequest
from ringcraft.schema import to_json
from tests.ringcraft.daywork import Checked, Day, random_day

SEEDS = range(40)


def planned(asked: Day) -> Day:
    out: Day = to_json(day(asked))
    return out


def step(kind: str = "work", hands: float = 10, wait: float = 0, **more: Any) -> Day:
    return {"key": kind, "kind": kind, "hands_min": hands, "wait_min": wait, **more}


def a_day(*jobs: list[Day], **more: Any) -> Day:
    return {
        "people": [{"key": "a", "hours": [[0, 240], [285, 540], [1440, 1680]]}],
        "pots": [{"key": "pot", "holds": 4, "bath": "acid"}],
        "jobs": [{"id": f"J{nth}", "steps": steps} for nth, steps in enumerate(jobs)],
        "moves": 200,
        **more,
    }


def at(out: Day, job: str, nth: int) -> float:
    return float(next(one["at_min"] for one in out["starts"] if (one["job"], one["step"]) == (job, nth)))


@pytest.mark.parametrize("seed", SEEDS)
def test_no_plan_asks_for_what_cannot_be(seed: int) -> None:
    asked = random_day(seed)
    out = planned(asked)
    assert not Checked(asked, out).wrong
    placed = {one["job"] for one in out["starts"]}
    assert placed | {one["job"] for one in out["left_out"]} == {job["id"] for job in asked["jobs"]}


@pytest.mark.parametrize("seed", SEEDS)
def test_a_pin_is_kept_or_said(seed: int) -> None:
    asked, rng = random_day(seed), random.Random(seed)
    out = planned(asked)
    if not out["starts"]:
        return
    one = rng.choice(out["starts"])
    wanted = one["at_min"] + rng.choice([0, 5, 60, 300])
    pinned = {**asked, "pinned": [{"job": one["job"], "step": one["step"], "at_min": wanted}]}
    again = planned(pinned)
    assert not Checked(pinned, again).wrong
    missed = [(pin["job"], pin["step"]) for pin in again["missed_pins"]]
    held = any((s["job"], s["step"], s["at_min"]) == (one["job"], one["step"], wanted) for s in again["starts"])
    assert held != ((one["job"], one["step"]) in missed)


def test_the_same_day_gives_the_same_plan() -> None:
    assert planned(random_day(7)) == planned(random_day(7))


def test_hands_work_while_the_pot_does() -> None:
    out = planned(a_day([step("pickle", 1, 20), step("file", 5)], [step("work", 15)]))
    assert at(out, "J1", 0) == 1
    assert at(out, "J0", 1) == 21


def test_one_lighting_does_for_several_rings() -> None:
    rings = [[step("work", 5), step("solder", 4, 3)] for _ in range(3)]
    out = planned(a_day(*rings, moves=2000))
    assert len(out["sessions"]) == 1
    only = out["sessions"][0]
    assert only["lit_min"] - only["from_min"] == 8
    assert only["to_min"] - only["lit_min"] == 12


def test_other_work_and_half_an_hour_put_the_torch_out() -> None:
    out = planned(a_day([step("solder", 4), step("file", 5), step("solder", 4)]))
    assert len(out["sessions"]) == 2
    cools = planned(a_day([step("solder", 4, 31), step("solder", 4)]))
    assert len(cools["sessions"]) == 2
    sooner = planned(a_day([step("solder", 4, 30), step("solder", 4)]))
    assert len(sooner["sessions"]) == 1


def test_a_full_pot_waits_and_nickel_has_its_own() -> None:
    one = {"pots": [{"key": "pot", "holds": 1, "bath": "acid"}, {"key": "other", "holds": 1, "bath": "nickel"}]}
    both = planned(a_day([step("pickle", 1, 20)], [step("pickle", 1, 20)], **one))
    assert sorted(s["at_min"] for s in both["starts"]) == [0, 21]
    apart = planned(a_day([step("pickle", 1, 20)], [step("pickle", 1, 20, bath="nickel")], **one))
    assert sorted(s["at_min"] for s in apart["starts"]) == [0, 1]
    none = planned(a_day([step("pickle", 1, 20, bath="nickel")]))
    assert none["left_out"] == [{"job": "J0", "why": "no pot holds the bath nickel"}]


def test_hands_stop_at_closing_and_waits_go_on_through_the_night() -> None:
    out = planned(a_day([step("work", 230), step("tumble", 5, 600), step("file", 5)]))
    assert at(out, "J0", 1) == 230
    assert at(out, "J0", 2) == 1440
    late = planned(a_day([step("work", 236), step("file", 5)]))
    assert at(late, "J0", 1) == 285


def test_what_waits_over_night_is_begun_before_closing() -> None:
    out = planned(a_day([step("work", 60)] * 9, [step("glue", 5, 720), step("file", 5)], moves=2000))
    assert at(out, "J1", 0) < 540


def test_what_is_late_says_what_would_save_it() -> None:
    asked = a_day([step("work", 60)], [step("work", 60)])
    asked["jobs"][0]["due_min"], asked["jobs"][1]["due_min"] = 60, 60
    out = planned(asked)
    assert out["weighted_late_min"] == 60
    assert len(out["late"]) == 1
    saving = out["savings"][0]
    other = "J0" if saving["job"] == "J1" else "J1"
    assert (saving["first_late_min"], saving["late_min"]) == (0, 60)
    assert [(one["job"], one["min"], one["ends_min"]) for one in saving["others"]] == [(other, 60, 120)]


def test_a_weight_decides_who_comes_late() -> None:
    asked = a_day([step("work", 60)], [step("work", 60)])
    asked["jobs"][0] |= {"due_min": 60}
    asked["jobs"][1] |= {"due_min": 60, "weight": 3}
    assert [one["job"] for one in planned(asked)["late"]] == ["J0"]


def test_a_step_that_has_begun_runs_on() -> None:
    asked = a_day([step("work", 30), step("work", 5)], now_min=20)
    asked["begun"] = [{"job": "J0", "step": 0, "at_min": 0, "person": "a"}]
    assert at(planned(asked), "J0", 1) == 30
    asked["now_min"] = 45
    out = planned(asked)
    assert (at(out, "J0", 0), at(out, "J0", 1)) == (0, 46)


def test_what_is_away_is_not_before_its_date() -> None:
    asked = a_day([step("work", 5)], [step("work", 5)])
    asked["jobs"][0]["from_min"] = 300
    out = planned(asked)
    assert (at(out, "J0", 0), at(out, "J1", 0)) == (300, 0)


@pytest.mark.parametrize(
    ("changes", "why"),
    [
        ({"people": [{"key": "a", "hours": []}]}, "nobody works in these hours"),
        ({"torches": 0}, "there is no torch for it"),
        ({"people": [{"key": "a", "from_min": 0, "to_min": 500, "torch": False}]}, "nobody here uses the torch"),
        ({"people": [{"key": "a", "from_min": 0, "to_min": 9}]}, "longer than any of the hours"),
        ({"people": [{"key": "a", "from_min": -50, "to_min": 0}]}, "nobody works in these hours"),
        ({"pots": [], "pot_holds": 0}, "no pot holds anything"),
        ({"tumblers": [{"key": "t", "holds": 0}]}, "no tumbler holds anything"),
    ],
)
def test_what_cannot_be_planned_is_said(changes: Day, why: str) -> None:
    out = planned(a_day([step("solder", 10), step("pickle", 1, 10), step("tumble", 5, 60)], **changes))
    assert not out["starts"]
    assert why in out["left_out"][0]["why"]
    assert any("is not planned" in said for said in out["says"])


def test_no_hour_left_is_said_of_the_job() -> None:
    out = planned(a_day(*[[step("work", 200)] for _ in range(5)]))
    assert len(out["left_out"]) == 2
    assert out["left_out"][0]["why"] == "no hour is left for it"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"jobs": [{"id": "J0", "steps": [{"key": "s", "hands_min": -1}]}]}, "jobs.0.steps.0.hands_min"),
        ({"jobs": [{"id": "J0", "steps": []}, {"id": "J0", "steps": []}]}, "jobs.1"),
        ({"people": [{"key": "a", "hours": [[9, 3]]}]}, "people.0.hours.0"),
        ({"people": [{"key": "a", "from_min": 9}]}, "people.0.to_min"),
        ({"begun": [{"job": "J9", "step": 0, "at_min": 0}]}, "begun.0.job"),
        ({"pinned": [{"job": "J0", "step": 7, "at_min": 0}]}, "pinned.0.step"),
        ({"begun": [{"job": "J0", "step": 0, "at_min": 0, "person": "z"}]}, "begun.0.person"),
        ({"moves": 10**9}, "moves"),
        ({"now_min": 1e300}, "now_min"),
        ({"torches": 1.5}, "torches"),
    ],
)
def test_what_cannot_be_read_is_refused_at_its_field(changes: Day, field: str) -> None:
    with pytest.raises(BadRequest) as problem:
        day(a_day([step()], **changes))
    assert problem.value.errors[0].field == field


def test_the_rule_presses_what_leads_to_a_pin_and_no_more_than_it_must() -> None:
    leads = a_day([step("work", 30), step("file", 30), step("polish", 10)], [step("work", 60)], moves=0)
    leads["jobs"][1]["due_min"] = 200
    leads["pinned"] = [{"job": "J0", "step": 2, "at_min": 60, "person": "a"}]
    assert not planned(leads)["missed_pins"]
    later = a_day([step("work", 100), step("file", 40)], [step("work", 60)], moves=0)
    later["jobs"][1]["due_min"] = 150
    later["pinned"] = [{"job": "J0", "step": 0, "at_min": 100, "person": "a"}]
    out = planned(later)
    assert (at(out, "J1", 0), at(out, "J0", 0), out["late"]) == (0, 100, [])


@pytest.mark.parametrize("pot", ["first", "second"])
def test_what_has_begun_stays_in_its_vessel_and_starts_are_understood_again(pot: str) -> None:
    asked = a_day([step("pickle", 0, 30)], [step("pickle", 0, 30)], [step("pickle", 0, 30)], now_min=5)
    asked["pots"] = [{"key": key, "holds": 1, "bath": "acid"} for key in ("first", "second")]
    asked["begun"] = [{"job": "J1", "step": 0, "at_min": 0, "person": "a", "vessel": pot}]
    out = planned(asked)
    inside = {one["job"]: one["vessel"] for one in out["starts"]}
    assert inside["J1"] == pot
    assert planned({**asked, "before": out["starts"]})["starts"] == out["starts"]
    assert not Checked(asked, out).wrong


def test_the_command_line_answers_the_day() -> None:
    status, out = run("day", io.StringIO(json.dumps(a_day([step()]))))
    assert (status, out["starts"]) == (0, [{"job": "J0", "step": 0, "at_min": 0, "person": "a", "vessel": ""}])
    status, out = run("day", io.StringIO(json.dumps(a_day([step(hands=-1)]))))
    assert (status, out["error"]["field"]) == (2, "jobs.0.steps.0.hands_min")


def test_two_hundred_jobs_are_planned_as_far_as_they_press_and_the_rest_by_order() -> None:
    asked = a_day(*[[step("work", 2), step("solder", 2, 3), step("pickle", 1, 15), step("file", 3)] * 4] * 200)
    asked["people"] = [{"key": "a", "hours": [[d * 1440, d * 1440 + 500] for d in range(60)]}]
    for nth, job in enumerate(asked["jobs"]):
        job["due_min"] = 5000 - nth
    out = planned({**asked, "moves": 20})
    assert len(out["by_order"]) == 200 - 1200 // 16
    assert "J0" in out["by_order"]
    assert f"the other {len(out['by_order'])} follow by their order" in out["says"][-1]
    assert len(out["starts"]) == 200 * 16
    assert not Checked({**asked, "torches": 1}, out).wrong


def test_moves_are_counted_and_the_clock_is_never_read(monkeypatch: pytest.MonkeyPatch) -> None:
    def never() -> float:
        raise AssertionError("a plan must not look at the clock")

    for name in ("time", "monotonic", "perf_counter"):
        monkeypatch.setattr(time, name, never)
    assert planned(random_day(3, moves=7))["moves"] <= 7
